"""Nothing lost: every change of a garden's rows runs through here and can be taken back.

    with journal.change(garden, user, "Sowed 20 cells of Cosmos", key) as write:
        write.save(batch)

The rows' fields before and after are stored with the change in one transaction.  Undo writes *before* back if the
rows still equal *after*; otherwise it refuses and names the later entry.  An undo is an entry too, so it can be undone.
"""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, TypeVar

from django.apps import apps
from django.core.serializers.json import DjangoJSONEncoder
from django.db import IntegrityError, models, transaction
from django.db.models import F

from aestiva.accounts.models import User
from aestiva.gardens import clock
from aestiva.gardens.models import NOTE, Garden, JournalEntry

SIMULATION = "simulation"


class Repeated(Exception):
    """This post was already carried out (its one-use key is known): nothing more to do."""


class Stale(Exception):
    """The row changed since the page was read: carries the row as it is now."""

    def __init__(self, row: models.Model) -> None:
        self.row = row
        super().__init__(f"{row} was changed in the meantime")


class CannotUndo(Exception):
    """A later entry changed the same rows: carries it, None when the row is gone otherwise."""

    def __init__(self, later: JournalEntry | None) -> None:
        self.later = later
        super().__init__(
            f"“{later.summary}” came later and changed the same thing: undo that first"
            if later
            else "something later hangs on what it made: undo that first"
        )


def fields(row: models.Model) -> dict[str, Any]:
    """The row's stored fields as JSON values."""
    plain = {f.attname: f.get_prep_value(getattr(row, f.attname)) for f in row._meta.concrete_fields}
    return json.loads(json.dumps(plain, cls=DjangoJSONEncoder))


Row = TypeVar("Row", bound=models.Model)


class Write:
    """Collects the changes of one entry."""

    def __init__(self, garden: Garden) -> None:
        self.garden = garden
        self.changes: list[dict[str, Any]] = []

    def _note(self, row: models.Model, before: Any, after: Any) -> None:
        self.changes.append({"model": row._meta.label, "pk": row.pk, "before": before, "after": after})

    def save(self, row: Row) -> Row:
        """Insert or update one row; its revision, where it has one, is raised."""
        before = _stored(row)
        if before is not None and hasattr(row, "revision"):
            row.revision = before["revision"] + 1
        row.save()
        after = fields(row)
        if before != after:
            self._note(row, before, after)
        return row

    def insert(self, rows: list[Row]) -> list[Row]:
        """Insert many new rows of one model at once."""
        if rows:
            type(rows[0])._base_manager.bulk_create(rows)
            for row in rows:
                self._note(row, None, fields(row))
        return rows

    def delete(self, row: models.Model) -> None:
        """Delete one row that nothing else hangs on."""
        self._note(row, _stored(row), None)
        row.delete()


def _stored(row: models.Model) -> dict[str, Any] | None:
    """The row as the database has it, None when it is new."""
    if row.pk is None:
        return None
    old = type(row)._base_manager.filter(pk=row.pk).first()
    return None if old is None else fields(old)


@contextmanager
def change(garden: Garden, user: User | None, summary: str, key: str = "", by: str = SIMULATION) -> Iterator[Write]:
    """One journal entry in one transaction; raises Repeated when the one-use key was used before.

    by: who did it where no user did.
    """
    key = key or uuid.uuid4().hex
    if JournalEntry.objects.filter(garden=garden, key=key).exists():
        raise Repeated
    with transaction.atomic():
        write = Write(garden)
        yield write
        if not write.changes:
            return
        try:
            with transaction.atomic():
                _enter(garden, user, summary, key, write.changes, by=by)
        except IntegrityError as error:
            raise Repeated from error


def _enter(
    garden: Garden,
    user: User | None,
    summary: str,
    key: str,
    changes: list[dict[str, Any]],
    undoes: JournalEntry | None = None,
    by: str = SIMULATION,
) -> JournalEntry:
    Garden.objects.filter(pk=garden.pk).update(revision=F("revision") + 1)
    return JournalEntry.objects.create(
        garden=garden,
        user=user,
        by=(user.name if user else by)[:80],
        at=clock.instant(),
        day=clock.today(garden),
        summary=summary[:250],
        changes=changes,
        key=key,
        undoes=undoes,
    )


def heard(garden: Garden, by: str, summary: str, key: str) -> None:
    """Write down what a device did that is not taken back; raises Repeated for a key used before."""
    key = f"{NOTE}{key}"
    if JournalEntry.objects.filter(garden=garden, key=key).exists():
        raise Repeated
    _enter(garden, None, summary, key, [], by=by)


def note(garden: Garden, user: User, summary: str) -> None:
    """Write down who did something that is not taken back by the journal, such as changing members."""
    _enter(garden, user, summary, f"{NOTE}{uuid.uuid4().hex}", [])


def check_revision(row: models.Model, seen: str | int | None) -> None:
    """Raise Stale when the reader's page showed an older revision of the row."""
    if seen not in (None, "") and str(seen) != str(row.revision):  # type: ignore[attr-defined]
        raise Stale(row)


def latest(garden: Garden, user: User | None) -> JournalEntry | None:
    """The newest entry of this person that still stands."""
    mine = JournalEntry.objects.filter(garden=garden, user=user, undoes=None, undone_by=None)
    return mine.exclude(key__startswith=NOTE).defer("changes").first()


def undo(entry: JournalEntry, user: User | None, key: str = "") -> JournalEntry:
    """Write back what the entry changed; raises CannotUndo when a later entry changed the same rows."""
    with transaction.atomic():
        swapped = []
        for one in reversed(entry.changes):
            model = apps.get_model(one["model"])
            row = model._base_manager.filter(pk=one["pk"]).first()
            now = None if row is None else fields(row)
            if not _same(now, one["after"]):
                raise CannotUndo(_later(entry, one))
            after = _write_back(model, row, one["before"], now)
            swapped.append({"model": one["model"], "pk": one["pk"], "before": now, "after": after})
        verb = "Redid" if entry.undoes_id else "Took back"
        summary = f"{verb}: {entry.summary.removeprefix('Took back: ')}"
        return _enter(entry.garden, user, summary, key or uuid.uuid4().hex, swapped, undoes=entry)


def _same(now: dict[str, Any] | None, after: dict[str, Any] | None) -> bool:
    if now is None or after is None:
        return now is after
    return {**now, "revision": 0} == {**after, "revision": 0}


def _write_back(
    model: type[models.Model], row: models.Model | None, before: dict[str, Any] | None, now: dict[str, Any] | None
) -> dict[str, Any] | None:
    if before is None:
        assert row is not None
        try:
            row.delete()
        except models.RestrictedError as error:  # something later hangs on it
            raise CannotUndo(None) from error
        return None
    values = dict(before)
    if now is not None and "revision" in values:
        values["revision"] = now["revision"] + 1
    restored = model(
        **{f.attname: f.to_python(values[f.attname]) for f in model._meta.concrete_fields if f.attname in values}
    )
    restored.save(force_insert=row is None)
    return fields(restored)


def _later(entry: JournalEntry, one: dict[str, Any]) -> JournalEntry | None:
    """The newest entry after `entry` that touched the same row."""
    for later in JournalEntry.objects.filter(garden=entry.garden, pk__gt=entry.pk):
        if any(c["model"] == one["model"] and c["pk"] == one["pk"] for c in later.changes):
            return later
    return None
