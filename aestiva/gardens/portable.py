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

from django.core.exceptions import ValidationError
from django.db import DataError, IntegrityError, models, transaction

from aestiva.accounts.models import User
from aestiva.gardens.models import Garden, JournalEntry, Member
from growing.files.jsonfile import BadJson, read_json

FORMAT, VERSION = "aestiva-garden", 3
MOST_BYTES, MOST_OBJECTS, MOST_VALUES = 16 * 1024 * 1024, 120_000, 2_000_000
MOST_ROWS = 40_000  # of one part: ten years of a large garden
MOST_PROBLEMS = 20
EARLIEST, LATEST = date(1700, 1, 1), date(2200, 12, 31)
_GARDEN = ("name", "town", "latitude", "longitude", "elevation_m", "timezone", "units", "sowing_days", "accepted_risk",
           "ladder", "year", "simulated_on", "seed")  # fmt: skip
_KEY = re.compile(r"^([pb])(\d+)\.")


@dataclass(frozen=True)
class Part:
    """One model's rows in the document.

    garden: look-up path from a row to its garden.  fields: plain fields.  refs: field -> part it refers to ("self"
    for its own).  codecs: field -> (to JSON, from JSON).  key: a field holding task keys.  added: fields of a later
    version -> (that version, the value for older documents).
    """

    name: str
    model: type[models.Model]
    garden: str
    fields: tuple[str, ...]
    refs: Mapping[str, str] = field(default_factory=dict)
    codecs: Mapping[str, tuple[Callable[[Any], Any], Callable[[Any], Any]]] = field(default_factory=dict)
    key: str = ""
    added: Mapping[str, tuple[int, Any]] = field(default_factory=dict)


_parts: dict[str, Part] = {}


def register_part(part: Part) -> None:
    _parts[part.name] = part


def _column(model: type[models.Model], name: str) -> models.Field[Any, Any]:
    found = model._meta.get_field(name)
    assert isinstance(found, models.Field)
    return found


_checks: list[Callable[[Garden], list[str]]] = []


def register_check(check: Callable[[Garden], list[str]]) -> None:
    """A stage's own look at a garden just brought in: what does not hold together, in words."""
    _checks.append(check)


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
        "garden": {name: _plain(getattr(garden, name)) for name in _GARDEN},
    }
    for part in parts():
        columns = ("pk", *part.fields, *(f"{ref}_id" for ref in part.refs))
        rows = list(part.model._base_manager.filter(**{part.garden: garden}).order_by("pk").values_list(*columns))
        numbers[part.name] = {row[0]: n for n, row in enumerate(rows, 1)}
        found = [_row_out(part, row, numbers) for row in rows]
        # a key whose planting or batch was taken back would come in as another's: it stays behind
        document[part.name] = [row for row in found if not part.key or row[part.key] is not None]
    entries = JournalEntry.objects.filter(garden=garden).order_by("pk").values_list("day", "by", "summary", "at")
    document["journal"] = [{"day": d.isoformat(), "by": b, "summary": s, "at": a.isoformat()} for d, b, s, a in entries]
    return document


def _row_out(part: Part, row: tuple[Any, ...], numbers: dict[str, dict[int, int]]) -> dict[str, Any]:
    values = dict(zip(part.fields, row[1:], strict=False))
    found: dict[str, Any] = {}
    for name, value in values.items():
        found[name] = part.codecs[name][0](value) if name in part.codecs else _plain(value)
    for (name, target), value in zip(part.refs.items(), row[1 + len(part.fields) :], strict=True):
        found[name] = None if value is None else numbers[part.name if target == "self" else target].get(value)
    if part.key:
        found[part.key] = _renumber(found[part.key], numbers)
    return found


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date | datetime) else value


def _renumber(key: str, numbers: Mapping[str, Mapping[int, int]]) -> str | None:
    """A task key with its row's number exchanged; None for a key of a row that is gone."""
    found = _KEY.match(key)
    if found is None or len(found[2]) > 18:
        return None
    table = numbers["plantings" if found[1] == "p" else "batches"]
    number = table.get(int(found[2]))
    return None if number is None else f"{found[1]}{number}.{key[found.end() :]}"


# ---------------------------------------------------------------- in


def read(data: bytes) -> dict[str, Any]:
    """A document from bytes, checked as a whole; raises BadDocument."""
    try:
        document = read_json(data, MOST_BYTES, MOST_OBJECTS, MOST_VALUES)
    except BadJson as error:
        said = str(error)
        raise BadDocument([f"{said[0].upper()}{said[1:]}."]) from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise BadDocument([f"This is not a garden: “format” must be “{FORMAT}”."])
    version = document.get("version")
    if not isinstance(version, int) or not 1 <= version <= VERSION:
        raise BadDocument(
            [
                f"Version {version} is not known here; this program reads versions 1 to {VERSION}. Update it, or export from an older one."
            ]
        )
    problems: list[str] = []
    _check_garden(document, problems)
    sizes: dict[str, int] = {}
    for part in parts():
        rows = document.setdefault(part.name, [])
        if not isinstance(rows, list):
            problems.append(f"{part.name}: must be a list.")
            continue
        if len(rows) > MOST_ROWS:
            problems.append(f"{part.name}: {len(rows):,} rows; up to {MOST_ROWS:,} are read.")
            continue
        sizes[part.name] = len(rows)
        _bring_up(part, rows, version)
        for number, row in enumerate(rows, 1):
            if len(problems) < MOST_PROBLEMS:
                _check_row(part, number, row, sizes, problems)
        if not problems:
            _check_unique(part, rows, problems)
    _check_journal(document.setdefault("journal", []), problems)
    unknown = set(document) - {"format", "version", "garden", "journal", *_parts}
    if unknown:
        problems.append(
            f"Unknown parts: {', '.join(sorted(map(str, unknown)))[:120]}. Is the file from a newer version?"
        )
    if problems:
        raise BadDocument(problems)
    return document


def _bring_up(part: Part, rows: list[Any], version: int) -> None:
    """Give rows of an older version the fields that came since."""
    newer = {name: value for name, (since, value) in part.added.items() if since > version}
    for row in rows if newer else ():
        if isinstance(row, dict):
            for name, value in newer.items():
                row.setdefault(name, value)


def _check_unique(part: Part, rows: list[dict[str, Any]], problems: list[str]) -> None:
    """No two rows of the same name, where the database wants one."""
    columns = {*part.fields, *part.refs}
    for names in unique_together(part.model):
        together = [n for n in names if n in columns]
        first: dict[tuple[Any, ...], int] = {}
        for number, row in enumerate(rows, 1):
            key = tuple(str(row[n]) for n in together)
            if any(row[n] is None for n in together):
                continue
            if (other := first.setdefault(key, number)) != number:
                said = ", ".join(f"{n} {row[n]}" for n in together) or "there can be only one"
                problems.append(f"{part.name} {number}: is there already as number {other} ({said[:80]}).")
                return


def unique_together(model: type[models.Model]) -> list[tuple[str, ...]]:
    """The sets of fields that name one row of a model."""
    own = [(f.name,) for f in model._meta.concrete_fields if f.unique and not f.primary_key]
    return [*own, *(tuple(c.fields) for c in model._meta.constraints if isinstance(c, models.UniqueConstraint))]


def _check_garden(document: dict[str, Any], problems: list[str]) -> None:
    row = document.get("garden")
    if not isinstance(row, dict):
        problems.append("garden: is missing.")
        return
    for name in _GARDEN:
        if name not in row:
            problems.append(f"garden.{name}: is missing.")
            continue
        _clean(Garden, name, row[name], f"garden.{name}", problems)
    for name in set(row) - set(_GARDEN):
        problems.append(f"garden.{name}: there is no such field.")


def _check_journal(rows: Any, problems: list[str]) -> None:
    if not isinstance(rows, list):
        problems.append("journal: must be a list.")
        return
    for number, row in enumerate(rows, 1):
        if len(problems) >= MOST_PROBLEMS:
            return
        if not isinstance(row, dict) or not {"day", "by", "summary", "at"} <= set(row):
            problems.append(f"journal {number}: day, by, summary and at are needed.")
            continue
        for name in ("day", "at"):
            _clean(JournalEntry, name, row[name], f"journal {number}, {name}", problems)


def _check_row(part: Part, number: int, row: Any, sizes: Mapping[str, int], problems: list[str]) -> None:
    place = f"{part.name} {number}"
    if not isinstance(row, dict):
        problems.append(f"{place}: must be an object.")
        return
    expected = {*part.fields, *part.refs}
    if set(row) != expected:
        missing, extra = expected - set(row), set(row) - expected
        what = (
            f"{', '.join(sorted(missing))} missing"
            if missing
            else f"{', '.join(sorted(map(str, extra)))[:120]} not known"
        )
        problems.append(f"{place}: {what}.")
        return
    for name in part.fields:
        if name in part.codecs:
            try:
                part.codecs[name][1](row[name])
            except (TypeError, ValueError, OverflowError) as error:
                problems.append(f"{place}, {name}: {error}.")
        else:
            _clean(part.model, name, row[name], f"{place}, {name}", problems)
    for name, target in part.refs.items():
        value = row[name]
        limit = number - 1 if target == "self" else sizes.get(target, 0)
        if value is None:
            if not _column(part.model, name).null:
                problems.append(f"{place}, {name}: refers to nothing.")
        elif not isinstance(value, int) or isinstance(value, bool) or not 1 <= value <= limit:
            problems.append(
                f"{place}, {name}: {str(value)[:40]} points to nowhere; there are {limit} {part.name if target == 'self' else target} before it."
            )


def _clean(model: type[models.Model], name: str, value: Any, place: str, problems: list[str]) -> None:
    field = _column(model, name)
    try:
        if value is None and field.null:
            return
        if isinstance(value, list | dict) and not isinstance(field, models.JSONField):
            raise ValidationError("must be one value")
        if isinstance(value, bool) and not isinstance(field, models.BooleanField | models.JSONField):
            raise ValidationError("must not be true or false")
        if isinstance(field, models.CharField) and not isinstance(value, str):
            raise ValidationError("must be a text")
        clean = field.clean(value, None)
        if isinstance(clean, date) and not EARLIEST.year <= clean.year <= LATEST.year:
            raise ValidationError(f"give a year from {EARLIEST.year} to {LATEST.year}")
    except ValidationError as error:
        problems.append(f"{place}: {repr(value)[:60]} cannot be: {' '.join(error.messages)}")
    except (TypeError, ValueError, OverflowError) as error:
        problems.append(f"{place}: {repr(value)[:60]} cannot be: {str(error)[:120]}")


@transaction.atomic
def bring_in(document: dict[str, Any], owner: User, begun_with: str | None = None) -> Garden:
    """A new garden from a checked document, owned by one person; all of it or nothing (BadDocument).

    begun_with: the one-use key of the post; where it was used already, the garden that it made.
    """
    values = {n: _column(Garden, n).to_python(v) for n, v in document["garden"].items()}
    try:
        with transaction.atomic():
            garden = Garden.objects.create(**values, begun_with=begun_with)
    except IntegrityError:
        return Garden.objects.get(begun_with=begun_with)
    Member.objects.create(garden=garden, user=owner, role="owner")
    made: dict[str, list[Any]] = {}
    for part in parts():
        made[part.name] = _rows_in(part, document[part.name], garden, made)
    entries = [
        JournalEntry(garden=garden, by=str(e["by"])[:80], day=date.fromisoformat(e["day"]), summary=str(e["summary"])[:250],
                     at=datetime.fromisoformat(e["at"]), key=f"import-{n}", kind="imported")
        for n, e in enumerate(document["journal"])
    ]  # fmt: skip
    JournalEntry.objects.bulk_create(entries, batch_size=500)
    problems = [problem for check in _checks for problem in check(garden)]
    if problems:
        raise BadDocument(problems)  # and nothing stays
    return garden


def rehearse(document: dict[str, Any], owner: User) -> None:
    """Bring the document in and let it go again: BadDocument comes before anybody is asked to keep it."""
    with transaction.atomic():
        bring_in(document, owner)
        transaction.set_rollback(True)


def _rows_in(part: Part, rows: list[dict[str, Any]], garden: Garden, made: dict[str, list[Any]]) -> list[Any]:
    own = part.garden == "garden"
    plain = [(n, _column(part.model, n)) for n in part.fields if n not in part.codecs]
    numbers = (
        {n: {k: row.pk for k, row in enumerate(made.get(n, []), 1)} for n in ("plantings", "batches")}
        if part.key
        else {}
    )
    fresh = []
    for row in rows:
        values: dict[str, Any] = {n: f.to_python(row[n]) for n, f in plain}
        for name, codec in part.codecs.items():
            values[name] = codec[1](row[name])
        for name, target in part.refs.items():
            if target != "self" and row[name] is not None:
                values[f"{name}_id"] = made[target][row[name] - 1].pk
        if part.key:
            values[part.key] = _renumber(row[part.key], numbers)
            if values[part.key] is None:
                continue
        if own:
            values["garden"] = garden
        elif part.garden == "owner":
            values["owner"] = garden
        fresh.append(part.model(**values))
    try:
        with transaction.atomic():
            part.model._base_manager.bulk_create(fresh, batch_size=500)
    except (IntegrityError, DataError) as error:
        raise BadDocument([f"{part.name}: the rows cannot be kept together ({str(error)[:120]})."]) from error
    loops = [name for name, target in part.refs.items() if target == "self"]
    for name in loops:
        changed = []
        for row, one in zip(rows, fresh, strict=True):
            if row[name] is not None:
                setattr(one, f"{name}_id", fresh[row[name] - 1].pk)
                changed.append(one)
        part.model._base_manager.bulk_update(changed, [name], batch_size=500)
    return fresh


# ---------------------------------------------------------------- schema


def schema() -> dict[str, Any]:
    """The document as JSON Schema, from the same parts that write it."""
    properties: dict[str, Any] = {
        "format": {"const": FORMAT},
        "version": {"const": VERSION},
        "garden": _object(Garden, _GARDEN, (), {}),
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
        column = _column(model, name)
        if name in codecs:
            properties[name] = {"type": "array", "items": {"type": ["integer", "null"]}}
        elif isinstance(column, models.JSONField):
            properties[name] = {}
        else:
            kind = next((k for t, k in _TYPES if isinstance(column, t)), "string")
            properties[name] = {"type": [kind, "null"] if column.null else kind}
            if isinstance(column, models.DateField):
                properties[name]["format"] = "date"
    for name in refs:
        properties[name] = {"type": ["integer", "null"], "minimum": 1}
    return {"type": "object", "required": [*fields, *refs], "properties": properties, "additionalProperties": False}
