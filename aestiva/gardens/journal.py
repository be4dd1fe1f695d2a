"""Nothing lost: every change of a garden's rows runs through here and can be taken back (`undo.py`).

    with journal.change(garden, user, "Sowed 20 cells of Cosmos", key) as write:
        batch = write.touch(batch, seen=revision)
        write.save(BatchEvent(batch=batch, …))

One change is one transaction, and of one garden only one at a time: what is read inside it stays true until it is
written.  The rows' fields before and after are stored with it, and what the stages guard is checked at its end.
"""

from __future__ import annotations

import uuid
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from hashlib import sha256
from typing import Any

from django.db import connection, models, transaction
from django.db.models import F

from aestiva.accounts.models import User
from aestiva.gardens import clock, guards
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.models import Garden, JournalEntry, JournalTouch
from aestiva.gardens.outcomes import CannotUndo, Refused, Repeated, Stale

__all__ = ["CannotUndo", "ChangeSet", "Refused", "Repeated", "Stale", "change", "note"]

SIMULATION = "simulation"
KEY_LENGTH = 64
FORMER = "a former member"


def _lock(garden: Garden) -> None:
    """Of one garden one change at a time; where the whole database has one pen, whoever is in a transaction holds it."""
    if connection.features.has_select_for_update:
        Garden.objects.select_for_update().filter(pk=garden.pk).values_list("pk").first()


def stored_key(kind: str, key: str) -> str:
    """A one-use key as the journal keeps it: by kind of entry, and never longer than its column."""
    key = key or uuid.uuid4().hex
    room = KEY_LENGTH - len(kind) - 1
    return f"{kind}.{key if len(key) <= room and key.isprintable() else sha256(key.encode('utf-8', 'replace')).hexdigest()[:40]}"


def once(garden: Garden, kind: str, key: str) -> str:
    """A one-use key as the journal keeps it; raises Repeated where it was used before."""
    kept = stored_key(kind, key)
    if key and JournalEntry.objects.filter(garden=garden, key=kept).exists():
        raise Repeated
    return kept


def done_before(garden: Garden, key: str) -> bool:
    """Was the post with that one-use key carried out already?"""
    kept = [stored_key(kind, key) for kind in ("change", "note", "device")]
    return bool(key) and JournalEntry.objects.filter(garden=garden, key__in=kept).exists()


@contextmanager
def change(
    garden: Garden, user: User | None, summary: str = "", key: str = "", by: str = SIMULATION, kind: str = "change"
) -> Iterator[ChangeSet]:
    """One journal entry in one transaction; raises Repeated when the one-use key was used before.

    by: who did it where no user did.  kind: "change", or "device" for what a device did.  What nobody did is the passing
    of simulated days.
    """
    kind = "days" if user is None and kind == "change" else kind
    with noted(garden):
        kept = once(garden, kind, key)
        write = ChangeSet(garden, summary)
        yield write
        if not write.changes:
            return
        guards.close(write)
        if found := guards.wrong(garden, write.changes):
            raise Refused("", found[0].words)
        of = (write.action, write.facts)
        write.entry = enter(garden, user, write.summary, kept, write.changes, by=by, kind=kind, of=of)


def enter(
    garden: Garden,
    user: User | None,
    summary: str,
    key: str,
    changes: list[dict[str, Any]],
    undoes: JournalEntry | None = None,
    by: str = SIMULATION,
    kind: str = "change",
    about: User | None = None,
    moves: bool = True,
    of: tuple[str, dict[str, Any]] = ("", {}),
) -> JournalEntry:
    """Write the entry itself, with the rows it touched.  moves: whether what is planned may be another by it.  of: the
    command, and the facts that its sentence is made of."""
    raise_revision(garden, moves)
    entry = JournalEntry.objects.create(
        garden=garden,
        user=user,
        by=(user.name if user else by)[:80],
        at=clock.instant(),
        day=clock.today(garden),
        summary=summary[:250],
        action=of[0],
        facts=of[1],
        changes=changes,
        key=key,
        undoes=undoes,
        kind=kind,
        about=about,
    )
    note_touched(entry, changes)
    return entry


def note_touched(entry: JournalEntry, changes: Sequence[dict[str, Any]]) -> None:
    """Which rows an entry wrote, for those that come later."""
    touched = dict.fromkeys((one["model"], one["pk"]) for one in changes)
    JournalTouch.objects.bulk_create(
        [JournalTouch(entry=entry, model=model, row=pk) for model, pk in touched], batch_size=500
    )


def raise_revision(garden: Garden, moves: bool = True) -> None:
    """Something of the garden was written.  moves: whether what is planned may be another by it."""
    name = "revision" if moves else "readings_revision"
    Garden.objects.filter(pk=garden.pk).update(**{name: F(name) + 1})


def note(garden: Garden, user: User, summary: str, key: str = "", about: User | None = None) -> None:
    """Write down who did something that the journal does not take back, such as changing members.

    about: the person it was done to, whose name `forget` can find.  Raises Repeated for a key used before.
    """
    enter(garden, user, summary, once(garden, "note", key), [], kind="note", about=about)


@contextmanager
def noted(garden: Garden) -> Iterator[None]:
    """One transaction of one garden, of which there is one at a time: around every change, also those only noted."""
    with transaction.atomic():
        _lock(garden)
        yield


def forget(user: User) -> None:
    """Take a person's name out of every entry, as they end their account."""
    mine = JournalEntry.objects.filter(user=user)
    gardens = set(mine.values_list("garden_id", flat=True)) | set(user.memberships.values_list("garden_id", flat=True))
    mine.update(by=FORMER)
    JournalEntry.objects.filter(garden_id__in=gardens, user=None, by=user.name).exclude(kind="device").update(by=FORMER)
    named = JournalEntry.objects.filter(about=user)
    said = [f"{verb}{user.name}" for verb in ("Removed ", "Made ")]  # before entries said whom they are about
    older = JournalEntry.objects.filter(garden_id__in=gardens, kind="note", about=None)
    older = older.filter(models.Q(summary=said[0]) | models.Q(summary__startswith=f"{said[1]} "))
    for entry in [*named.defer("changes"), *older.defer("changes")]:
        entry.summary = entry.summary.replace(user.name, FORMER)
        entry.save(update_fields=["summary"])


def entry_of(row: models.Model) -> JournalEntry | None:
    """The newest entry that wrote this row and still stands: the one to correct when it is wrong."""
    touches = JournalTouch.objects.filter(model=row._meta.label, row=row.pk)
    found = JournalEntry.objects.filter(pk__in=touches.values("entry"), undoes=None, undone_by=None)
    return found.defer("changes").first()


def latest(garden: Garden, user: User | None) -> JournalEntry | None:
    """The newest entry of this person that still stands."""
    mine = JournalEntry.objects.filter(garden=garden, user=user, undoes=None, undone_by=None, kind="change")
    return mine.defer("changes").first()


_readers: set[str] = set()


def open_to_readers(model: type[models.Model]) -> None:
    """Rows of that model a reader may write, and take back."""
    _readers.add(model._meta.label)


def is_readers(entry: JournalEntry) -> bool:
    """Did it touch nothing but what a reader may write?"""
    return not JournalTouch.objects.filter(entry=entry).exclude(model__in=_readers).exists()
