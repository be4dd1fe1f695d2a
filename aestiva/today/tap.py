"""What a tap changed: the rows of its plantings, the minutes of their places, the sentence above; not the whole page.

The rest of the day is taken from the list kept for the revision before.  Where that is gone, or where more than rows has
changed (what stands outdoors, the last task of a place), the page is asked for anew.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.course.state import SeasonState, load
from aestiva.frame import wording
from aestiva.gardens import clock
from aestiva.gardens.access import again
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.today.listing import Line, Listing, keep, kept, listing, states
from aestiva.today.queries import Bundle, groups, headline, note, sub

MOST_DONE = 8
Rows = Mapping[str, Mapping[str, tuple[Line, ...]]]  # place -> row -> its lines, in the order of the page


def done_today(garden: Garden, today: Any) -> Any:
    """The last things written down today."""
    entries = JournalEntry.objects.filter(garden=garden, day=today, undoes=None, undone_by=None)
    return entries.select_related("undone_by").defer("changes").order_by("-pk")[:MOST_DONE]


def answer(request: Any, written: SeasonState) -> HttpResponse:
    """The parts of the page of Today that are others now that these tasks were written about.

    written: the season in which they were found."""
    garden, today = request.garden, clock.today(request.garden)
    is_, was_ = states(garden, today)
    before = kept(was_, "today") if was_.revision == garden.revision else None
    if before is None:
        return again()
    plantings = {item.planting.pk for item in written.items}
    now = load(garden, today, plantings, like=written)
    if now.troubles:
        return again()
    fresh = listing(now, now.todos(today))
    after = before.patched(plantings, fresh)
    keep(is_, "today", after)
    was, are = _rows(before.lines), _rows(after.lines)
    if set(before.outdoors) != set(after.outdoors) or set(was) != set(are):
        return again()
    return _render(request, now, plantings, after, was, are)


def _render(request: Any, now: SeasonState, plantings: set[int], after: Listing, was: Rows, are: Rows) -> HttpResponse:
    old = {row: lines for place in was.values() for row, lines in place.items()}
    new = {row: lines for place in are.values() for row, lines in place.items()}
    changed = {row for row, lines in new.items() if old.get(row) != lines}
    beside = {one.planting for row in changed for one in new[row]} - plantings
    if beside:
        now = load(request.garden, now.today, plantings | beside, like=now)
    found = _bundles(now, changed, new)
    context = {
        "gone": [row for row in old if row not in new],
        "changed": [found[row] for row in changed if row in old],
        "new": [
            (_place(where, row, list(rows)), found[row])
            for where, rows in are.items()
            for row in rows
            if row not in old
        ],
        "notes": [(where, note(where, _flat(rows))) for where, rows in are.items() if rows != was[where]],
        "headline": headline(after.lines, now.today),
        "sub": sub(now, after),
        "said": "Written down.",
        "done": done_today(request.garden, now.today),
        "words": wording.STEPS,
        "today": now.today,
    }
    return render(request, "today/_tap.html", context)


def _rows(lines: Iterable[Line]) -> Rows:
    """Rows of the page by place: errands together under the key of their first."""
    places: dict[str, dict[object, list[Line]]] = {}
    for one in sorted(lines, key=lambda one: (-one.urgent, one.due, one.key)):
        places.setdefault(one.where, {}).setdefault(one.together, []).append(one)
    return {where: {lines[0].anchor: tuple(lines) for lines in rows.values()} for where, rows in sorted(places.items())}


def _flat(rows: Mapping[str, tuple[Line, ...]]) -> list[Line]:
    return [one for lines in rows.values() for one in lines]


def _bundles(now: SeasonState, changed: set[str], new: Mapping[str, tuple[Line, ...]]) -> dict[str, Bundle]:
    """The rows to draw, with their tasks in full."""
    wanted = {one.key for row in changed for one in new[row]}
    todos = [t for t in now.todos(now.today) if t.task.key in wanted]
    return {bundle.key: bundle for group in groups(todos) for bundle in group.bundles}


def _place(where: str, row: str, rows: list[str]) -> str:
    """Where a row that was not there goes: before the one that follows it, or to the end of its place."""
    following = rows[rows.index(row) + 1 :]
    return f"beforebegin:#t-{following[0]}" if following else f"beforeend:#rows-{where}"
