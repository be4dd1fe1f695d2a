"""What is nobody's measurement: the estimates that rules reckon with, in `assumptions.toml`, each with its range and what it moves.

A rule takes its estimate from here by the name of the module it stands in and its own; a test moves each within its range and sees
the result that it names answer.  Where a page shows one, it shows the range with it.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

from growing.working import Value

FILE = Path(__file__).with_suffix(".toml")


class AssumptionError(ValueError):
    """An estimate that is not there, or of another kind than the rule takes."""


class Assumption(NamedTuple):
    """One estimate.  value: a number, or numbers by kind or in order.  low, high: its range; of several numbers, each may be as much
    less or more as `low` and `high` say (low < 0 < high).  source: who says so.  what: it is; moves: the result that answers to it."""

    name: str
    value: Any
    unit: str
    low: float
    high: float
    source: str
    what: str
    moves: str

    @property
    def single(self) -> bool:
        return isinstance(self.value, int | float)

    def moved(self, up: bool) -> Any:
        """The same at an end of its range."""
        by = self.high if up else self.low
        if self.single:
            return int(by) if isinstance(self.value, int) else float(by)
        return _each(self.value, by)


def _each(value: Any, by: float) -> Any:
    if isinstance(value, dict):
        return {key: _each(one, by) for key, one in value.items()}
    if isinstance(value, tuple):
        return tuple(_each(one, by) for one in value)
    return value + by


@cache
def assumptions() -> dict[str, Assumption]:
    """All of them by module and name, "place.frost.TYPED_SPREAD_DAYS"."""
    return {one.name: one for one in _read(tomllib.loads(FILE.read_text(encoding="utf-8")), "")}


def _read(table: dict[str, Any], path: str) -> Iterator[Assumption]:
    if "moves" in table:
        low, high = table["range"]
        source = table.get("source", "the authors")
        yield Assumption(path, _frozen(table["value"]), table["unit"], low, high, source, table["what"], table["moves"])
        return
    for key, inner in table.items():
        yield from _read(inner, f"{path}.{key}" if path else key)


def _frozen(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _frozen(one) for key, one in value.items()}
    return tuple(map(_frozen, value)) if isinstance(value, list) else value


def _of(name: str, kind: type) -> Any:
    found = assumptions().get(name)
    if found is None or not isinstance(found.value, kind):
        raise AssumptionError(f"{name} is no {kind.__name__} in {FILE.name}")
    return found.value


def whole(name: str) -> int:
    """An estimate that is a whole number."""
    return int(_of(name, int))


def real(name: str) -> float:
    """An estimate that is a number."""
    return float(_of(name, float))


def by_kind(name: str) -> dict[str, float]:
    """Numbers by kind."""
    return dict(_of(name, dict))


def pairs(name: str) -> dict[str, tuple[float, float]]:
    """Two numbers by kind."""
    return dict(_of(name, dict))


def in_order(name: str) -> tuple[float, ...]:
    """Numbers in order."""
    return tuple(_of(name, tuple))


def shown(label: str, name: str) -> Value:
    """An estimate as an input of a rule: the page says its range beside it."""
    one = assumptions()[name]
    return Value(label, one.value, one.unit, f"estimate:{name}")
