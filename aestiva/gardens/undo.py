"""Taking back: *before* is written back if the rows still equal *after*, and if everything guarded still holds.

It starts from the rows as they are and sets only what the entry stored: a column added since keeps its value.  An undo
is an entry too, so it can be undone.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from itertools import groupby
from operator import itemgetter
from typing import Any

from django.apps import apps
from django.db import IntegrityError, models, transaction

from aestiva.accounts.models import User
from aestiva.gardens import changeset, guards, journal
from aestiva.gardens.models import JournalEntry, JournalTouch
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
        swapped = [done for run in _runs(entry) for done in _swap(entry, *run)]
        if found := guards.wrong(garden, swapped):
            raise CannotUndo(_later(entry, found[0].model, found[0].pk), "needs") from None
        redoes = entry.undoes is not None and entry.undoes.undoes_id is None  # of a redo it is a taking back again
        said = entry.summary.removeprefix("Took back: ").removeprefix("Redid: ") if entry.undoes_id else entry.summary
        summary = f"{'Redid' if redoes else 'Took back'}: {said}"
        of = taken_back(entry.action), entry.facts
        return journal.enter(garden, user, summary, journal.once(garden, "change", key), swapped, undoes=entry, of=of)


UNDONE, REDONE = "undone:", "redone:"


def taken_back(action: str) -> str:
    """The action of taking that one back, which may be a taking back itself."""
    for prefix, other in ((UNDONE, REDONE), (REDONE, UNDONE)):
        if action.startswith(prefix):
            return f"{other}{action.removeprefix(prefix)}"
    return f"{UNDONE}{action}" if action else ""


Run = tuple[type[models.Model], list[dict[str, Any]]]
_CHUNK = 500


def _runs(entry: JournalEntry) -> Iterator[Run]:
    """The entry's changes, last first, those of one model in a row together."""
    for _, run in groupby(reversed(entry.changes), key=itemgetter("model")):
        changes = list(run)
        yield _model(changes), changes


def _swap(entry: JournalEntry, model: type[models.Model], changes: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Write rows of one model back; what was done."""
    rows: dict[int, models.Model] = model._base_manager.select_for_update().in_bulk([one["pk"] for one in changes])
    _nothing_since(entry, model, changes)
    done: list[dict[str, Any]] = []
    made: dict[int, models.Model] = {}
    unmade: list[models.Model] = []
    for one in changes:
        row, before = rows.get(one["pk"]), one["before"]
        if not getattr(model, "journalled", True) and (row is not None or before is None):
            continue  # scaffolding that stays
        now = None if row is None else changeset.fields(row)
        if (others := _others(model, now, one["after"])) is not None:
            raise CannotUndo(_changed(entry, one["model"], one["pk"], others))
        if row is None:
            rows[one["pk"]] = row = _set(entry, model(), before)  # an entry may have written one row twice
            made[one["pk"]] = row
        elif one["pk"] in made:  # the entry had written it before it removed it
            if before is None:
                del made[one["pk"]]
            else:
                _set(entry, row, before)
        elif before is None:
            unmade.append(row)
        else:
            _change(entry, row, before)
        after = None if before is None else changeset.fields(row)
        done.append({"model": one["model"], "pk": one["pk"], "before": now, "after": after})
    _delete(entry, model, unmade)
    if made:
        with _free_names():
            model._base_manager.bulk_create(made.values(), batch_size=_CHUNK)
    return done


def _nothing_since(entry: JournalEntry, model: type[models.Model], changes: list[dict[str, Any]]) -> None:
    """Of rows of which only some columns were stored: raise CannotUndo where a later entry that is in force changed others.

    Rows stored whole say that by themselves.  What was undone since, and what came before and is back as it was, counts for
    nothing.
    """
    columns = len(model._meta.concrete_fields)
    part = [one["pk"] for one in changes if one["before"] and one["after"] and len(one["after"]) < columns]
    for k in range(0, len(part), _CHUNK):
        touching = JournalTouch.objects.filter(
            entry__garden=entry.garden_id, entry__gt=entry.pk, model=changes[0]["model"], row__in=part[k : k + _CHUNK]
        )
        since = JournalEntry.objects.filter(pk__in=touching.values("entry"), undone_by=None).defer("changes")
        for last in since:
            base, undone = last, False
            while base.undoes is not None:
                base, undone = base.undoes, not undone
            if base.pk != entry.pk and (base.pk > entry.pk) != undone:
                raise CannotUndo(last)


def _set(entry: JournalEntry, row: models.Model, values: dict[str, Any]) -> models.Model:
    """The row with the stored values on it; columns that were not stored keep theirs."""
    for field in row._meta.concrete_fields:
        if field.attname in values:
            setattr(row, field.attname, _reachable(entry, field, field.to_python(values[field.attname])))
    return row


def _change(entry: JournalEntry, row: models.Model, before: dict[str, Any]) -> None:
    """Set the stored fields of a row that is there; its revision only ever rises."""
    name = changeset.revision_of(type(row))
    revision = getattr(row, name) + 1 if name else 0
    before = {column: value for column, value in before.items() if column not in changeset.REVISIONS}
    _set(entry, row, before)
    if name:
        setattr(row, name, revision)
    keys = {f.attname for f in row._meta.concrete_fields if f.primary_key}
    with _free_names():
        row.save(update_fields=[*(set(before) - keys), *([name] if name else [])])


@contextmanager
def _free_names() -> Iterator[None]:
    """Around writing rows back: a name that was given anew in the meantime refuses."""
    try:
        with transaction.atomic():
            yield
    except IntegrityError as error:
        raise CannotUndo(None, "something of the same name is there by now: rename that first") from error


def _delete(entry: JournalEntry, model: type[models.Model], rows: list[models.Model]) -> None:
    """Delete what the entry made, unless something hangs on it."""
    for k in range(0, len(rows), _CHUNK):
        some = rows[k : k + _CHUNK]
        if (hangs := changeset.hanging(some)) is not None:
            why = f"{changeset.named(hangs)} hangs on what it made: remove that first"
            raise CannotUndo(_later(entry, hangs._meta.label, hangs.pk), why)
        model._base_manager.filter(pk__in=[row.pk for row in some]).delete()


def _model(changes: list[dict[str, Any]]) -> type[models.Model]:
    """The model of stored changes, if it still keeps what was stored of it."""
    try:
        model = apps.get_model(changes[0]["model"])
    except (LookupError, ValueError) as error:
        raise CannotUndo(None, _TOO_OLD) from error
    kept = {f.attname for f in model._meta.concrete_fields}
    if any(side and not kept >= set(side) for one in changes for side in (one["before"], one["after"])):
        raise CannotUndo(None, _TOO_OLD)
    return model


@cache
def _people(model: type[models.Model]) -> set[str]:
    """Columns that name a person: emptied when an account ends."""
    return {f.attname for f in model._meta.concrete_fields if f.is_relation and f.related_model is User}


def _others(model: type[models.Model], now: dict[str, Any] | None, after: dict[str, Any] | None) -> set[str] | None:
    """Columns in which the row is not as the entry left it, of those that it stored; empty where it came or went since, None where all are as
    they were.  Revisions and persons who have left aside."""
    if now is None or after is None:
        return None if now is after else set()
    aside = {*changeset.REVISIONS, *(n for n in _people(model) if now.get(n) is None)}
    return {name for name, value in after.items() if name not in aside and now[name] != value} or None


def _changed(entry: JournalEntry, model: str, pk: int, names: set[str]) -> JournalEntry | None:
    """The newest entry after `entry` that changed one of those columns of a row, an undo among them; else the newest that touched it."""
    touching = JournalTouch.objects.filter(entry__garden=entry.garden_id, entry__gt=entry.pk, model=model, row=pk)
    for later in JournalEntry.objects.filter(pk__in=touching.values("entry"), undone_by=None) if names else ():
        for one in later.changes:
            before, after = one["before"] or {}, one["after"] or {}
            if one["model"] == model and one["pk"] == pk and any(before.get(n) != after.get(n) for n in names):
                return later
    return _later(entry, model, pk)


def _reachable(entry: JournalEntry, field: models.Field[Any, Any], value: Any) -> Any:
    """The value of a column, unless it points to a row that is gone: a person becomes nobody, all else is refused."""
    if value is None or not field.is_relation or field.primary_key:
        return value
    target = field.related_model
    assert isinstance(target, type)
    if target._base_manager.filter(pk=value).exists():
        return value
    if target is User and field.null:
        return None
    taken = _later(entry, target._meta.label, value)
    raise CannotUndo(taken, "belongs" if taken else f"the {target._meta.verbose_name} it belongs to is gone")


def _later(entry: JournalEntry, model: str, pk: int) -> JournalEntry | None:
    """The newest entry after `entry` that touched the same row and still stands, else the newest that touched it."""
    touching = JournalTouch.objects.filter(entry__garden=entry.garden_id, entry__gt=entry.pk, model=model, row=pk)
    found = JournalEntry.objects.filter(pk__in=touching.values("entry")).defer("changes")
    return found.filter(undone_by=None, undoes=None).first() or found.first()
