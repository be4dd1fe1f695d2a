"""A checked document becomes a new garden: all of it, or nothing."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from django.db import DataError, IntegrityError, transaction

from aestiva.accounts.models import User
from aestiva.frame.forms import one_line
from aestiva.gardens.models import Garden, JournalEntry, Member
from aestiva.gardens.portable import KEYED, BadDocument, Part, checks, column, parts, renumber, settlings


@transaction.atomic
def bring_in(document: dict[str, Any], owner: User, begun_with: str | None = None) -> Garden:
    """A new garden from a checked document, owned by one person; all of it or nothing (BadDocument).

    begun_with: the one-use key of the post; where it was used already, the garden that it made.
    """
    values = {n: _plain(column(Garden, n).to_python(v)) for n, v in document["garden"].items()}
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
                     at=datetime.fromisoformat(e["at"]), key=f"import-{n}", kind="imported",
                     action=e.get("action", ""), facts=e.get("facts", {}))
        for n, e in enumerate(document["journal"])
    ]  # fmt: skip
    JournalEntry.objects.bulk_create(entries, batch_size=500)
    for settle in settlings():
        settle(garden)
    problems = [problem for check in checks() for problem in check(garden)]
    if problems:
        raise BadDocument(problems)  # and nothing stays
    return garden


def rehearse(document: dict[str, Any], owner: User) -> None:
    """Bring the document in and let it go again: BadDocument comes before anybody is asked to keep it."""
    with transaction.atomic():
        bring_in(document, owner)
        transaction.set_rollback(True)


def _plain(value: Any) -> Any:
    """As a journal's change would write it: names are of one line."""
    return one_line(value) if isinstance(value, str) else value


def _rows_in(part: Part, rows: list[dict[str, Any]], garden: Garden, made: dict[str, list[Any]]) -> list[Any]:
    own = part.garden == "garden"
    plain = [(n, column(part.model, n)) for n in part.fields if n not in part.codecs]
    numbers = {n: {k: row.pk for k, row in enumerate(made.get(n, []), 1)} for n in KEYED.values()} if part.key else {}
    fresh = []
    for row in rows:
        values: dict[str, Any] = {n: _plain(f.to_python(row[n])) for n, f in plain}
        for name, codec in part.codecs.items():
            values[name] = codec[1](row[name])
        for name, target in part.refs.items():
            if target != "self" and row[name] is not None:
                values[f"{name}_id"] = made[target][row[name] - 1].pk
        if part.key:
            values[part.key] = renumber(row[part.key], numbers)
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
