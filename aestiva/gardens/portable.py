"""The whole garden as one JSON document: out, and in again as a new garden.

Each stage registers its parts (`register_part`) in the order in which they refer to each other.  Rows are numbered
1, 2, … within their part, so that the same garden always gives the same document; references are such numbers, and
task keys ("b7.count.2") are renumbered with them.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from django.db import models

from aestiva.gardens.models import Garden, JournalEntry

FORMAT, VERSION = "aestiva-garden", 14
MOST_PROBLEMS = 20
GARDEN = ("name", "town", "latitude", "longitude", "elevation_m", "timezone", "units", "week_starts", "clock", "currency",
           "sowing_days", "accepted_risk", "risk_scale", "follow_asked", "ladder", "shelter", "sells", "schools",
           "year", "simulated_on", "seed")  # fmt: skip
GARDEN_ADDED: dict[str, tuple[int, Any]] = {
    "risk_scale": (5, {}),
    "follow_asked": (5, False),
    "week_starts": (7, 0),
    "clock": (7, "24"),
    "currency": (7, ""),
    "schools": (8, {}),
    "shelter": (13, ""),
    "sells": (13, False),
}  # as Part.added has it
_KEY = re.compile(r"^([pbs])(\d+)\.")
KEYED = {"p": "plantings", "b": "batches", "s": "spots"}


@dataclass(frozen=True)
class Part:
    """One model's rows in the document.

    garden: look-up path from a row to its garden.  fields: plain fields.  refs: field -> part it refers to ("self"
    for its own).  codecs: field -> (to JSON, from JSON).  key: a field holding task keys.  added: fields of a later
    version -> (that version, the value for older documents).  check: of a row's values what is wrong with them together.
    """

    name: str
    model: type[models.Model]
    garden: str
    fields: tuple[str, ...]
    refs: Mapping[str, str] = field(default_factory=dict)
    codecs: Mapping[str, tuple[Callable[[Any], Any], Callable[[Any], Any]]] = field(default_factory=dict)
    key: str = ""
    added: Mapping[str, tuple[int, Any]] = field(default_factory=dict)
    check: Callable[[Mapping[str, Any]], str] | None = None


_parts: dict[str, Part] = {}


def register_part(part: Part) -> None:
    _parts[part.name] = part


def column(model: type[models.Model], name: str) -> models.Field[Any, Any]:
    found = model._meta.get_field(name)
    assert isinstance(found, models.Field)
    return found


_checks: list[Callable[[Garden], list[str]]] = []


def register_check(check: Callable[[Garden], list[str]]) -> None:
    """A stage's own look at a garden just brought in: what does not hold together, in words."""
    _checks.append(check)


_settle: list[Callable[[Garden], None]] = []


def register_settling(settle: Callable[[Garden], None]) -> None:
    """What a garden from an older document is put right by, once its rows are in."""
    _settle.append(settle)


def settlings() -> list[Callable[[Garden], None]]:
    return _settle


def checks() -> list[Callable[[Garden], list[str]]]:
    return _checks


Upgrade = Callable[[dict[str, Any]], None]
_upgrades: list[tuple[int, Upgrade]] = []


def register_upgrade(version: int, upgrade: Upgrade) -> None:
    """A stage's own way to bring a document of before that version up to it; it may meet anything, and raises ValueError."""
    _upgrades.append((version, upgrade))


def upgrades(version: int) -> list[Upgrade]:
    """What a document of that version still wants, in order."""
    return [upgrade for since, upgrade in sorted(_upgrades, key=lambda one: one[0]) if since > version]


def parts() -> tuple[Part, ...]:
    return tuple(_parts.values())


class BadDocument(Exception):
    """A document that cannot come in; `problems` names place, value and mend."""

    def __init__(self, problems: list[str]) -> None:
        self.problems = problems[:MOST_PROBLEMS]
        super().__init__("; ".join(self.problems))


# ---------------------------------------------------------------- out


def export(garden: Garden) -> dict[str, Any]:
    """The garden as plain JSON values; the same garden gives the same document."""
    numbers: dict[str, dict[int, int]] = {}
    document: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "garden": {name: _plain(getattr(garden, name)) for name in GARDEN},
    }
    for part in parts():
        columns = ("pk", *part.fields, *(f"{ref}_id" for ref in part.refs))
        rows = list(part.model._base_manager.filter(**{part.garden: garden}).order_by("pk").values_list(*columns))
        numbers[part.name] = {row[0]: n for n, row in enumerate(rows, 1)}
        found = [_row_out(part, row, numbers) for row in rows]
        # a key whose planting or batch was taken back would come in as another's: it stays behind
        document[part.name] = [row for row in found if not part.key or row[part.key] is not None]
    document["journal"] = [
        _entry_out(entry) for entry in JournalEntry.objects.filter(garden=garden).order_by("pk").values(*JOURNAL)
    ]
    return document


JOURNAL = ("day", "by", "summary", "at", "action", "facts")  # the last two where a command wrote it


def _entry_out(entry: Mapping[str, Any]) -> dict[str, Any]:
    found = {name: _plain(value) for name, value in entry.items()}
    return found if entry["action"] else {name: found[name] for name in JOURNAL[:4]}


def _row_out(part: Part, row: tuple[Any, ...], numbers: dict[str, dict[int, int]]) -> dict[str, Any]:
    values = dict(zip(part.fields, row[1:], strict=False))
    found: dict[str, Any] = {}
    for name, value in values.items():
        found[name] = part.codecs[name][0](value) if name in part.codecs else _plain(value)
    for (name, target), value in zip(part.refs.items(), row[1 + len(part.fields) :], strict=True):
        found[name] = None if value is None else numbers[part.name if target == "self" else target].get(value)
    if part.key:
        found[part.key] = renumber(found[part.key], numbers)
    return found


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date | datetime) else value


def renumber(key: str, numbers: Mapping[str, Mapping[int, int]]) -> str | None:
    """A task key with its row's number exchanged; None for a key of a row that is gone."""
    found = _KEY.match(key)
    if found is None or len(found[2]) > 18:
        return None
    table = numbers[KEYED[found[1]]]
    number = table.get(int(found[2]))
    return None if number is None else f"{found[1]}{number}.{key[found.end() :]}"


# ---------------------------------------------------------------- schema


def schema() -> dict[str, Any]:
    """The document as JSON Schema, from the same parts that write it."""
    properties: dict[str, Any] = {
        "format": {"const": FORMAT},
        "version": {"const": VERSION},
        "garden": _object(Garden, GARDEN, (), {}),
        "journal": {"type": "array", "items": {"type": "object", "required": ["day", "by", "summary", "at"]}},
    }
    for part in parts():
        rows = _object(part.model, part.fields, tuple(part.refs), part.codecs)
        properties[part.name] = {"type": "array", "items": rows}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A garden of Aestiva",
        "description": "References are the number of a row in the part they name, from 1.",
        "type": "object",
        "required": ["format", "version", "garden"],
        "properties": properties,
        "additionalProperties": False,
    }


_TYPES: tuple[tuple[type[models.Field[Any, Any]], str], ...] = (
    (models.BooleanField, "boolean"),
    (models.IntegerField, "integer"),
    (models.FloatField, "number"),
)


def _object(
    model: type[models.Model], fields: tuple[str, ...], refs: tuple[str, ...], codecs: Mapping[str, Any]
) -> dict[str, Any]:
    properties: dict[str, Any] = {}
    for name in fields:
        stored = column(model, name)
        if name in codecs:
            properties[name] = {"type": "array", "items": {"type": ["integer", "null"]}}
        elif isinstance(stored, models.JSONField):
            properties[name] = {}
        else:
            kind = next((k for t, k in _TYPES if isinstance(stored, t)), "string")
            properties[name] = {"type": [kind, "null"] if stored.null else kind}
            if isinstance(stored, models.DateField):
                properties[name]["format"] = "date"
    for name in refs:
        properties[name] = {"type": ["integer", "null"], "minimum": 1}
    return {"type": "object", "required": [*fields, *refs], "properties": properties, "additionalProperties": False}
