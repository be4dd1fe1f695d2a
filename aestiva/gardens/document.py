"""A garden's document from bytes: every row looked at, older versions brought up, and what is wrong named by its place."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

from django.core.exceptions import ValidationError
from django.db import models

from aestiva.gardens.models import Garden, JournalEntry
from aestiva.gardens.portable import (
    FORMAT,
    GARDEN,
    GARDEN_ADDED,
    MOST_PROBLEMS,
    VERSION,
    BadDocument,
    Part,
    Upgrade,
    column,
    parts,
    upgrades,
)  # fmt: skip
from growing.files.jsonfile import BadJson, read_json

MOST_BYTES, MOST_OBJECTS, MOST_VALUES = 16 * 1024 * 1024, 120_000, 2_000_000
TELL_EVERY = 500  # rows
MOST_ROWS = 40_000  # of one part: ten years of a large garden
EARLIEST, LATEST = date(1700, 1, 1), date(2200, 12, 31)


def read_document(data: bytes, tell: Callable[[float, str], None] = lambda share, part: None) -> dict[str, Any]:
    """A document from bytes, checked as a whole; raises BadDocument.

    tell: hears how far it is, as a share, and at which part.
    """
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
    for upgrade in upgrades(version):
        _upgrade(document, upgrade)
    problems: list[str] = []
    _check_garden(document, problems)
    sizes: dict[str, int] = {}
    rows_in_all = sum(len(document[p.name]) for p in parts() if isinstance(document.get(p.name), list)) or 1
    done = 0
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
            done += 1
            if done % TELL_EVERY == 0:
                tell(done / rows_in_all, part.name.replace("_", " "))
            if len(problems) < MOST_PROBLEMS:
                _check_row(part, number, row, sizes, problems)
        if not problems:
            _check_unique(part, rows, problems)
    _check_journal(document.setdefault("journal", []), problems)
    unknown = set(document) - {"format", "version", "garden", "journal", *(part.name for part in parts())}
    if unknown:
        problems.append(
            f"Unknown parts: {', '.join(sorted(map(str, unknown)))[:120]}. Is the file from a newer version?"
        )
    if problems:
        raise BadDocument(problems)
    return document


def _upgrade(document: dict[str, Any], upgrade: Upgrade) -> None:
    """One step up for a document of which nothing is checked yet; what it cannot read the checks will name."""
    try:
        upgrade(document)
    except (ValueError, TypeError, KeyError, AttributeError, IndexError) as error:
        raise BadDocument(
            [f"This is a document of an older version, and its batches cannot be read ({str(error)[:120]})."]
        ) from error


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
    always = (c for c in model._meta.constraints if isinstance(c, models.UniqueConstraint) and c.condition is None)
    return [*own, *(tuple(c.fields) for c in always)]


def _check_garden(document: dict[str, Any], problems: list[str]) -> None:
    row = document.get("garden")
    if not isinstance(row, dict):
        problems.append("garden: is missing.")
        return
    version = document.get("version", 0)
    for name, (since, value) in GARDEN_ADDED.items():
        if since > version:
            row.setdefault(name, value)
    for name in GARDEN:
        if name not in row:
            problems.append(f"garden.{name}: is missing.")
            continue
        _clean(Garden, name, row[name], f"garden.{name}", problems)
    for name in set(row) - set(GARDEN):
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
        if "action" in row:
            _clean(JournalEntry, "action", row["action"], f"journal {number}, action", problems)
        if not isinstance(row.get("facts", {}), dict):
            problems.append(f"journal {number}, facts: must be an object.")


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
    if part.check is not None and len(problems) < MOST_PROBLEMS and (wrong := part.check(row)):
        problems.append(f"{place}: {wrong}.")
    for name, target in part.refs.items():
        value = row[name]
        limit = number - 1 if target == "self" else sizes.get(target, 0)
        if value is None:
            if not column(part.model, name).null:
                problems.append(f"{place}, {name}: refers to nothing.")
        elif not isinstance(value, int) or isinstance(value, bool) or not 1 <= value <= limit:
            problems.append(
                f"{place}, {name}: {str(value)[:40]} points to nowhere; there are {limit} {part.name if target == 'self' else target} before it."
            )


def _clean(model: type[models.Model], name: str, value: Any, place: str, problems: list[str]) -> None:
    field = column(model, name)
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
