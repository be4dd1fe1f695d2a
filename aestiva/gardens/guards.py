"""What must hold of a garden's rows after every change, and after every undo and redo.

A stage registers a guard for a model; it is asked once per entry, inside the transaction, about the rows touched.  What a
change brings about by itself is registered as closing it: it writes into the same entry, before the guards look.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, NamedTuple

from django.db import models

from aestiva.gardens.models import Garden


class BrokenRow(NamedTuple):
    """A row that does not hold: its model's label, its key, and what is wrong in words."""

    model: str
    pk: int
    words: str


Check = Callable[[Garden, set[int]], list[BrokenRow]]


class Guard(NamedTuple):
    """check: of the rows with these keys (some may be gone) those that do not hold.

    via: label of another model -> its columns that name rows of this one.
    """

    label: str
    check: Check
    via: Mapping[str, tuple[str, ...]]


_guards: dict[str, Guard] = {}


def register_guard(
    name: str, model: type[models.Model], check: Check, via: Mapping[str, tuple[str, ...]] | None = None
) -> None:
    """Ask `check` after every entry that touches `model`, or another model that leads to it by columns."""
    _guards[name] = Guard(model._meta.label, check, via or {})


_closings: list[Callable[[Any], None]] = []


def register_closing(close: Callable[[Any], None]) -> None:
    """Have `close(write)` write what follows from every change, at its end."""
    if close not in _closings:
        _closings.append(close)


def close(write: Any) -> None:
    """Write what follows from a change."""
    for one in _closings:
        one(write)


def wrong(garden: Garden, changes: Iterable[Mapping[str, Any]]) -> list[BrokenRow]:
    """Everything that does not hold after these changes."""
    touched: dict[str, set[int]] = {name: set() for name in _guards}
    for one in changes:
        for name, guard in _guards.items():
            if one["model"] == guard.label:
                touched[name].add(one["pk"])
            for column in guard.via.get(one["model"], ()):
                touched[name] |= {row[column] for row in (one["before"], one["after"]) if row and row.get(column)}
    return [found for name, pks in touched.items() if pks for found in _guards[name].check(garden, pks)]
