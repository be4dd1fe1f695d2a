"""Taking back: *before* is written back if the rows still equal *after*, and if everything guarded still holds.

It starts from the rows as they are and sets only what the entry stored: a column added since keeps its value.  An undo
is an entry too, so it can be undone.
"""

from __future__ import annotations

from typing import Any

from django.apps import apps
from django.db import IntegrityError, models, transaction

from aestiva.accounts.models import User
from aestiva.gardens import guards, journal
from aestiva.gardens.models import Garden, JournalEntry, JournalTouch
from aestiva.gardens.outcomes import CannotUndo, Repeated

_TOO_OLD = "it was written by an older program, in a form that this one no longer keeps"


def undo(entry: JournalEntry, user: User | None, key: str = "") -> JournalEntry:
    """Write back what the entry changed.

    Raises CannotUndo, naming a later entry that is in the way; Repeated when it was taken back already.
    """
    garden = entry.garden
    with journal.noted(garden):
        entry = JournalEntry.objects.select_for_update().get(pk=entry.pk)
        if JournalEntry.objects.filter(undoes=entry).exists():
            raise Repeated
        swapped = [done for one in reversed(entry.changes) if (done := _swap(entry, one)) is not None]
        if found := guards.wrong(garden, swapped):
            raise CannotUndo(_later(entry, found[0].model, found[0].pk), "needs") from None
        verb = "Redid" if entry.undoes_id else "Took back"
        summary = f"{verb}: {entry.summary.removeprefix('Took back: ')}"
        kept = journal.stored_key("change", key)
        if JournalEntry.objects.filter(garden=garden, key=kept).exists():
            raise Repeated
        return journal.enter(garden, user, summary, kept, swapped, undoes=entry)


def _swap(entry: JournalEntry, one: dict[str, Any]) -> dict[str, Any] | None:
    """Write one row back; what was done, None where it is scaffolding that stays."""
    model = _model(one)
    row = model._base_manager.select_for_update().filter(pk=one["pk"]).first()
    if not getattr(model, "journalled", True) and (row is not None or one["before"] is None):
        return None
    now = None if row is None else journal.fields(row)
    if not _same(model, now, one["after"]):
        raise CannotUndo(_later(entry, one["model"], one["pk"]))
    try:
        with transaction.atomic():
            after = _write_back(model, row, one["before"], entry, one["pk"])
    except IntegrityError as error:
        raise CannotUndo(None, "something of the same name is there by now: rename that first") from error
    return {"model": one["model"], "pk": one["pk"], "before": now, "after": after}


def _model(one: dict[str, Any]) -> type[models.Model]:
    """The model of a stored change, if it still keeps what was stored of it."""
    try:
        model = apps.get_model(one["model"])
    except (LookupError, ValueError) as error:
        raise CannotUndo(None, _TOO_OLD) from error
    kept = {f.attname for f in model._meta.concrete_fields}
    if any(side and not kept >= set(side) for side in (one["before"], one["after"])):
        raise CannotUndo(None, _TOO_OLD)
    return model


def _people(model: type[models.Model]) -> set[str]:
    """Columns that name a person: emptied when an account ends."""
    return {f.attname for f in model._meta.concrete_fields if f.is_relation and f.related_model is User}


def _same(model: type[models.Model], now: dict[str, Any] | None, after: dict[str, Any] | None) -> bool:
    """Is the row as the entry left it, in what the entry stored?  Revisions and persons who have left aside."""
    if now is None or after is None:
        return now is after
    aside = {*journal.REVISIONS, *(n for n in _people(model) if now.get(n) is None)}
    return all(now[name] == value for name, value in after.items() if name not in aside)


def _write_back(
    model: type[models.Model], row: models.Model | None, before: dict[str, Any] | None, entry: JournalEntry, pk: int
) -> dict[str, Any] | None:
    if before is None:
        assert row is not None
        if (hangs := journal.hanging(row)) is not None:
            why = f"{journal.named(hangs)} hangs on what it made: remove that first"
            raise CannotUndo(_later(entry, hangs._meta.label, hangs.pk), why)
        row.delete()
        return None
    values = {f: before[f.attname] for f in model._meta.concrete_fields if f.attname in before}
    new = row is None
    made = model() if row is None else row
    for field, stored in values.items():
        setattr(made, field.attname, _reachable(field, field.to_python(stored)))
    if row is not None:
        for name in journal.REVISIONS:
            if name in before:
                setattr(made, name, getattr(model._base_manager.get(pk=pk), name) + 1)
    made.save(force_insert=new, update_fields=None if new else [f.attname for f in values if not f.primary_key])
    return journal.fields(made)


def _reachable(field: models.Field[Any, Any], value: Any) -> Any:
    """The value of a column, unless it points to a row that is gone: a person becomes nobody, all else is refused."""
    if value is None or not field.is_relation or field.primary_key:
        return value
    target = field.related_model
    assert isinstance(target, type)
    if target._base_manager.filter(pk=value).exists():
        return value
    if target is User and field.null:
        return None
    raise CannotUndo(None, f"the {target._meta.verbose_name} it belongs to is gone")


def _later(entry: JournalEntry, model: str, pk: int) -> JournalEntry | None:
    """The newest entry after `entry` that touched the same row and still stands, else the newest that touched it."""
    touching = JournalTouch.objects.filter(entry__garden=entry.garden_id, entry__gt=entry.pk, model=model, row=pk)
    found = JournalEntry.objects.filter(pk__in=touching.values("entry")).defer("changes")
    return found.filter(undone_by=None, undoes=None).first() or found.first()


def can_take_back(garden: Garden, entry: JournalEntry, user: User, role: str) -> bool:
    """May this person take this entry back: anyone their own, an owner any."""
    return entry.can_be_taken_back and (entry.user_id == user.pk or role == "owner")
