"""The rows that one change writes: held while it writes them, noted as they were and as they are.

Who writes opens a change (`journal.change`); what has come between raises Stale, what cannot be is Refused.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from functools import cache
from typing import Any, TypeVar

from django.core.serializers.json import DjangoJSONEncoder
from django.db import IntegrityError, models
from django.db.models import F
from django.db.models.deletion import Collector

from aestiva.frame.forms import one_line
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.gardens.outcomes import Refused, Repeated, Stale, gone

# what counts changes and is no fact: of a garden's settings; of any other row that people edit; of what devices read
REVISIONS = ("settings_revision", "revision", "readings_revision")
FEW = 20  # different values that are written one by one

Row = TypeVar("Row", bound=models.Model)


_PLAIN = (str, int, float, bool, type(None))


def fields(row: models.Model) -> dict[str, Any]:
    """The row's stored fields as JSON values."""
    return _of(row, row._meta.concrete_fields)


def column(model: type[models.Model], name: str) -> models.Field[Any, Any]:
    found = model._meta.get_field(name)
    assert isinstance(found, models.Field)
    return found


def _of(row: models.Model, columns: Sequence[models.Field[Any, Any]]) -> dict[str, Any]:
    """Some of the row's stored fields as JSON values."""
    found = {}
    for one in columns:
        value = one.get_prep_value(getattr(row, one.attname))
        plain = type(value) in _PLAIN
        found[one.attname] = value if plain else json.loads(json.dumps(value, cls=DjangoJSONEncoder))
    return found


@cache
def revision_of(model: type[models.Model]) -> str:
    """The column that counts the changes of such rows; empty where none does."""
    names = {f.attname for f in model._meta.concrete_fields}
    return next((name for name in REVISIONS if name in names), "")


def held(row: models.Model) -> models.Model | None:
    """The row as the database has it, held until this change is written; None when it is new or gone."""
    if row.pk is None:
        return None
    return next(iter(type(row)._base_manager.select_for_update().filter(pk=row.pk).order_by()), None)


class ChangeSet:
    """Collects the changes of one entry; `summary` may still be put into words while it is open."""

    def __init__(self, garden: Garden, summary: str) -> None:
        self.garden, self.summary = garden, summary
        self.action, self.facts = "", dict[str, Any]()  # of the command that it is of
        self.changes: list[dict[str, Any]] = []
        self.entry: JournalEntry | None = None  # once it is written
        self._mine: set[tuple[str, Any]] = set()  # rows this entry has written: it need not fear itself

    def wrote(self, row: models.Model) -> bool:
        """Has this entry written the row already, and so holds it?"""
        return (row._meta.label, row.pk) in self._mine

    def made(self, row: models.Model) -> bool:
        """Has this entry made the row, and written nothing of it since?"""
        last = self.changes[-1] if self.changes else None
        return last is not None and last["before"] is None and (last["model"], last["pk"]) == (row._meta.label, row.pk)

    def _note(self, row: models.Model, before: Any, after: Any) -> None:
        self.changes.append({"model": row._meta.label, "pk": row.pk, "before": before, "after": after})
        self._mine.add((row._meta.label, row.pk))

    def save(self, row: Row, seen: str | int | None = None) -> Row:
        """Insert or update one row; its revision, where it has one, is raised.

        seen: the revision that the reader's page showed.  Raises Stale when the row is another by now, and Refused
        where there is one of its name already.
        """
        _in_one_line(row)
        stored = held(row)
        if stored is None:
            if gone(row):
                raise Stale(row, row)
            _only_one(row)
            with _alone(row):
                row.save(force_insert=True)
            self._note(row, None, fields(row))
            return row
        self._still(stored, row, seen)
        before, wanted = fields(stored), fields(row)
        changed = [n for n, value in wanted.items() if value != before[n] and n not in REVISIONS]
        if changed:
            self._raise(stored, row)
            with _alone(row):
                row.save(update_fields=[*changed, *filter(None, [revision_of(type(row))])])
            self._note(row, before, fields(row))
        return row

    def fresh(self, row: Row) -> Row:
        """The row as it is now, held until this is written; raises Stale where it is gone."""
        stored = held(row)
        if stored is None:
            raise Stale(row)
        assert isinstance(stored, type(row))
        return stored

    def touch(self, row: Row, seen: str | int | None = None) -> Row:
        """The row as it is now, held and with its revision raised: what follows is written about it.

        seen: the revision that the reader's page showed; raises Stale when the row is another by now.
        """
        name, now = revision_of(type(row)), row
        if not self._swap(row, name):  # it changed since it was read
            now = self.fresh(row)
            if seen not in (None, ""):
                raise Stale(now, row)
            self._swap(now, name)
        elif seen not in (None, "") and str(seen) != str(getattr(row, name)):
            raise Stale(row)
        before = fields(now)
        setattr(now, name, before[name] + 1)
        self._note(now, before, before | {name: before[name] + 1})
        return now

    def touch_many(self, rows: Sequence[Row]) -> list[Row]:
        """Rows of one model as they are now, held and with their revision raised, as `touch` does with one."""
        if not rows:
            return []
        model, name = type(rows[0]), revision_of(type(rows[0]))
        stored = model._base_manager.select_for_update().in_bulk([row.pk for row in rows])
        for row in rows:
            if row.pk not in stored:
                raise Stale(row)
            now = stored[row.pk]
            before = fields(now)
            setattr(now, name, before[name] + 1)
            self._note(now, before, before | {name: before[name] + 1})
        model._base_manager.filter(pk__in=list(stored)).update(**{name: F(name) + 1})
        return [stored[row.pk] for row in rows]

    @staticmethod
    def _swap(row: models.Model, name: str) -> int:
        """Raise the revision of a row that is as it was read; 0 where it is not."""
        revision = getattr(row, name)
        same = type(row)._base_manager.filter(**{"pk": row.pk, name: revision}).order_by()
        return same.update(**{name: revision + 1})

    def insert(self, rows: Sequence[Row]) -> None:
        """Insert many new rows of one model at once."""
        if rows:
            for row in rows:
                _in_one_line(row)
            with _alone("one of these"):
                type(rows[0])._base_manager.bulk_create(rows, batch_size=500)
            for row in rows:
                self._note(row, None, fields(row))

    def update_many(self, rows: Sequence[Row], names: Sequence[str]) -> None:
        """Update many rows of one model at once, each as it was read; raises Stale for one that changed since.

        The entry keeps of each what is written: those columns and its revision.
        """
        if not rows:
            return
        model = type(rows[0])
        counts = [*names, *filter(None, [revision_of(model)])]
        columns = [column(model, name) for name in counts]
        stored = model._base_manager.select_for_update().in_bulk([row.pk for row in rows])
        alike: dict[tuple[Any, ...], list[Any]] = {}
        for row in rows:
            _in_one_line(row)
            if row.pk not in stored:
                raise Stale(row, row)
            self._still(stored[row.pk], row, None)
            before = _of(stored[row.pk], columns)
            self._raise(stored[row.pk], row)
            alike.setdefault(tuple(getattr(row, c.attname) for c in columns[: len(names)]), []).append(row.pk)
            self._note(row, before, _of(row, columns))
        revision: dict[str, Any] = {name: F(name) + 1 for name in counts[len(names) :]}
        if len(alike) > FEW:
            model._base_manager.bulk_update(rows, counts, batch_size=200)
            return
        for values, keys in alike.items():  # rows that get the same are one statement
            wanted = dict(zip((c.attname for c in columns), values, strict=False))
            for k in range(0, len(keys), 500):
                model._base_manager.filter(pk__in=keys[k : k + 500]).update(**wanted, **revision)

    def delete(self, row: models.Model, seen: str | int | None = None) -> None:
        """Delete one row that nothing hangs on; Refused where something does, Repeated where it is gone already."""
        stored = held(row)
        if stored is None:
            raise Repeated
        self._still(stored, row, seen)
        if (hangs := hanging([stored])) is not None:
            raise Refused("", f"{stored} cannot be removed: {named(hangs)} hangs on it")
        self._note(row, fields(stored), None)
        stored.delete()

    def _still(self, stored: models.Model, row: models.Model, seen: str | int | None) -> None:
        """Raise Stale unless the row is the one that was read."""
        name = revision_of(type(row))
        if not name or self.wrote(row):
            return
        now = getattr(stored, name)
        if getattr(row, name) != now or (seen not in (None, "") and str(seen) != str(now)):
            raise Stale(stored, row)

    @staticmethod
    def _raise(stored: models.Model, row: models.Model) -> None:
        if name := revision_of(type(row)):
            setattr(row, name, getattr(stored, name) + 1)


@cache
def _texts(model: type[models.Model]) -> tuple[str, ...]:
    """The columns of text, all of which are lines: names, words, notes."""
    return tuple(f.attname for f in model._meta.concrete_fields if isinstance(f, models.CharField))


def _in_one_line(row: models.Model) -> None:
    """No name has a line break, whoever sent it."""
    for name in _texts(type(row)):
        if isinstance(text := getattr(row, name), str) and not text.isprintable():
            setattr(row, name, one_line(text))


def _only_one(row: models.Model) -> None:
    """Raise Stale where a garden has a row already of which there can be only one: another was quicker to begin it."""
    for column in _singles(type(row)):
        other = type(row)._base_manager.filter(**{column: getattr(row, column)}).first()
        if other is not None:
            raise Stale(other, row)


@cache
def _singles(model: type[models.Model]) -> tuple[str, ...]:
    """Columns of which each value has one row."""
    return tuple(f.attname for f in model._meta.concrete_fields if isinstance(f, models.OneToOneField))


@contextmanager
def _alone(what: object) -> Iterator[None]:
    """Around a write: another row of the same name is said, and the whole change is off."""
    try:
        yield
    except IntegrityError as error:
        if "unique" not in str(error).lower():
            raise
        raise Refused("", f"{what} is there already: look at it, or give another name") from error


def hanging(rows: Sequence[models.Model]) -> models.Model | None:
    """A row that deleting these, all of one model, would take along or cut off; None when nothing hangs on them."""
    collector = Collector(using=rows[0]._state.db or "default", origin=rows[0])
    try:
        collector.collect(rows)
    except (models.RestrictedError, models.ProtectedError) as error:
        found: Any = getattr(error, "restricted_objects", ()) or getattr(error, "protected_objects", ())
        return next(iter(found), rows[0])
    along = [one for several in collector.data.values() for one in several]
    along += [one for several in collector.fast_deletes for one in several[:1]]
    updates: Any = collector.field_updates.values()
    along += [one for lists in updates for several in lists for one in several]
    own = {row.pk for row in rows}
    return next((one for one in along if type(one) is not type(rows[0]) or one.pk not in own), None)


def named(row: models.Model) -> str:
    return f"{row._meta.verbose_name} “{row}”"
