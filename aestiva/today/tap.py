"""What a tap changed: the rows of its plantings, the minutes of their places, the sentence above; not the whole page.

The rest of the day is taken from the list kept for the revision before.  Where that is gone, or where more than rows has
changed (what stands outdoors, the last task of a place), the page is asked for anew.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from copy import copy
from datetime import date, timedelta
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.course.kept import carry
from aestiva.course.state import SeasonState, load
from aestiva.frame import wording
from aestiva.gardens import clock
from aestiva.gardens.access import refresh_page
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.today.listing import Listing, TaskLine, keep, kept, listing, states
from aestiva.today.notes import notes_of
from aestiva.today.order import Fold, Rows, fold, rows_of
from aestiva.today.queries import bundle, folded, headline, note, sub

MOST_DONE = 8


def done_today(garden: Garden, today: Any) -> Any:
    """The last things written down today."""
    entries = JournalEntry.objects.filter(garden=garden, day=today, undoes=None, undone_by=None)
    return entries.select_related("undone_by").defer("changes").order_by("-pk")[:MOST_DONE]


def answer(request: Any, written: SeasonState) -> HttpResponse:
    """The parts of the page of Today that are others now that these tasks were written about.

    written: the season in which they were found."""
    if not written.items:  # work of a place: what stands there decides it, so all of it is asked for anew
        return refresh_page()
    garden, today = request.garden, clock.today(request.garden)
    is_, was_ = states(garden, today)
    before = kept(was_, "today") if was_.revision == garden.revision else None
    if before is None:
        return refresh_page()
    plantings = {item.planting.pk for item in written.items}
    now = load(garden, today, plantings, like=written)
    if now.troubles:
        return refresh_page()
    if written.wrote is not None and (is_.revision, is_.readings) == (garden.revision + 1, garden.readings_revision):
        here = copy(garden)
        here.revision = is_.revision
        carry(here, today, now, written.of_seed)
    fresh = listing(now, now.todos(today))
    after = before.patched(plantings, fresh)
    keep(is_, "today", after)
    was, are = rows_of(before.lines), rows_of(after.lines)
    was_in, are_in = fold(was), fold(are)
    same_shape = set(was) == set(are) and _shape(was, was_in) == _shape(are, are_in)
    if set(before.outdoors) != set(after.outdoors) or not same_shape:
        return refresh_page()
    return _render(request, now, plantings, after, (was, was_in), (are, are_in))


def _shape(rows: Rows, folds: Mapping[str, Fold]) -> set[tuple[str, Fold | None]]:
    """The folds of each place, and whether rows stand beside them."""
    return {(where, folds.get(row[0].anchor)) for where, here in rows.items() for row in here}


def _render(
    request: Any,
    now: SeasonState,
    plantings: set[int],
    after: Listing,
    before: tuple[Rows, Mapping[str, Fold]],
    here: tuple[Rows, Mapping[str, Fold]],
) -> HttpResponse:
    (was, was_in), (are, folds) = before, here
    old = {row[0].anchor: row for rows in was.values() for row in rows}
    new = {row[0].anchor: row for rows in are.values() for row in rows}
    changed = {anchor for anchor, row in new.items() if old.get(anchor) != row}
    gone = [anchor for anchor in old if anchor not in new]
    beside = {one.planting for anchor in changed for one in new[anchor] if one.planting is not None} - plantings
    if beside:
        now = load(request.garden, now.today, plantings | beside, like=now)
    todos = {t.task.key: t for t in now.todos(now.today)}
    found = {anchor: bundle(new[anchor], todos) for anchor in changed}
    touched = {folds.get(anchor) for anchor in changed} | {was_in.get(anchor) for anchor in gone}
    context = {
        "gone": gone,
        "changed": [found[anchor] for anchor in changed if anchor in old],
        "new": [
            (_place(where, anchor, rows, folds), found[anchor])
            for where, rows in are.items()
            for anchor in (row[0].anchor for row in rows)
            if anchor not in old
        ],
        "folds": [one for inside, one in folded(are, folds).items() if inside in touched],
        "notes": [(where, note(where, _flat(rows))) for where, rows in are.items() if rows != was[where]],
        "headline": headline(after.lines, now.today),
        "sub": sub(now, after),  # the round as it is now was not reckoned
        "said": "Written down.",
        "done": done_today(request.garden, now.today),
        **beside_rows(request.garden, now.today),
        "today": now.today,
    }
    return render(request, "today/_tap.html", context)


def beside_rows(garden: Garden, today: date) -> dict[str, Any]:
    """What every row of tasks is drawn with: the words of each kind of work, the notes beside tasks, the day after."""
    return {"words": wording.STEPS, "beside": notes_of(garden, today), "tomorrow": today + timedelta(days=1)}


def _flat(rows: Iterable[tuple[TaskLine, ...]]) -> list[TaskLine]:
    return [one for row in rows for one in row]


def _place(where: str, anchor: str, rows: list[tuple[TaskLine, ...]], folds: Mapping[str, Fold]) -> str:
    """Where a row that was not there goes: before the one that follows it in its fold or place, or to the end of it."""
    inside = folds.get(anchor)
    beside = [row[0].anchor for row in rows if folds.get(row[0].anchor) == inside]
    following = beside[beside.index(anchor) + 1 :]
    if following:
        return f"beforebegin:#t-{following[0]}"
    return f"beforeend:#rows-{where if inside is None else inside.anchor}"
