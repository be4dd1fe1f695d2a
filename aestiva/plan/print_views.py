"""The plan on paper: a page a month, a calendar for the wall, or a list."""

from __future__ import annotations

from calendar import Calendar
from datetime import date, timedelta
from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.frame import say
from aestiva.frame.wording import COURSE
from aestiva.gardens.access import garden_view
from aestiva.plan import overview
from aestiva.plan.picture import WIDE, FurrowRow, close_scale, season_svg
from aestiva.plan.season_views import SeasonSeen, seen
from growing.chain.kinds import ON_PLANTS

KINDS = {"months": "a page a month", "wall": "for the wall", "list": "a list"}
ROWS_A_PAGE = 12
MOST_MONTHS = 16


class Page(NamedTuple):
    """A page of a month: its picture, and the days of work in it; part: of so many pages of that month."""

    first: date
    picture: str
    work: list[tuple[date, list[str]]]
    part: int
    parts: int


class WallDay(NamedTuple):
    """A day of the wall calendar; not of that month: only its number, pale."""

    day: date
    here: bool
    work: list[str]


def work_by_day(found: SeasonSeen) -> dict[date, list[str]]:
    """What is to be done on each day, in words: “☐ sow Tomato Old Ferry, 7 cells”."""
    days: dict[date, list[str]] = {}
    for one in found.lines:
        course = one.item.raised.course
        for kind in ON_PLANTS:
            step = course.steps.get(kind)
            if step is None or (kind == "sow" and one.days["sow"] is None):
                continue
            amount = f", {one.places} {one.unit}" if kind == "sow" and one.places else ""
            mark = "✓" if step.happened else "☐"
            days.setdefault(step.day, []).append(f"{mark} {COURSE[kind].lower()} {one.name}{amount}")
        first = one.days["first"]
        if first is not None:
            days.setdefault(first, []).append(f"· first {one.item.crop.word('yields')} of {one.name}")
    return days


def months_of(found: SeasonSeen) -> list[date]:
    """The months from the first sowing to the last harvest."""
    if not found.lines:
        return []
    spans = [(one.days["sow"] or one.days["out"], one.days["last"]) for one in found.lines]
    day = min(s for s, _ in spans if s is not None).replace(day=1)
    end = max(e for _, e in spans if e is not None)
    months: list[date] = []
    while day <= end and len(months) < MOST_MONTHS:
        months.append(day)
        day = (day + timedelta(days=32)).replace(day=1)
    return months


def pages(found: SeasonSeen) -> list[Page]:
    """A page a month with what is under the mix, on the bench or in the garden then; many rows go on over more pages."""
    rows, days = [overview.row(one, found.now.today, may_write=False) for one in found.lines], work_by_day(found)
    result = []
    for first in months_of(found):
        scale = close_scale("month", first, found.now.garden.week_starts, WIDE)
        here = [r for r in rows if _is_in(r, scale.start, scale.end)]
        work = sorted((d, w) for d, w in days.items() if scale.start <= d < scale.end)
        chunks = [here[k : k + ROWS_A_PAGE] for k in range(0, len(here), ROWS_A_PAGE)] or [[]]
        for part, chunk in enumerate(chunks, 1):
            svg = season_svg(chunk, found.now.place, found.now.today, scale=scale, reader=found.reader, plain=True)
            result.append(Page(first, svg, work if part == 1 else [], part, len(chunks)))
    return result


def _is_in(r: FurrowRow, start: date, end: date) -> bool:
    return min(r.window.start, r.sow) < end and r.last >= start


def wall(found: SeasonSeen) -> list[tuple[date, list[list[WallDay]]]]:
    """Month by month, weeks of days with their work."""
    days = work_by_day(found)
    weeks = Calendar(found.now.garden.week_starts)
    return [
        (
            first,
            [
                [WallDay(d, d.month == first.month, days.get(d, []) if d.month == first.month else []) for d in week]
                for week in weeks.monthdatescalendar(first.year, first.month)
            ],
        )
        for first in months_of(found)
    ]


@garden_view(no_frost="plan")
def on_paper(request: Any) -> HttpResponse:
    """One of the ways to print the plan, filtered and ordered as the address says."""
    found = seen(request)
    kind = request.GET.get("as", "months")
    kind = kind if kind in KINDS else "months"
    context = {
        "view": "plan",
        "kind": kind,
        "kinds": KINDS,
        "lines": found.lines,
        "states": overview.STATES,
        "pages": pages(found) if kind == "months" else [],
        "wall": wall(found) if kind == "wall" else [],
        "names": [say.WEEKDAYS[(request.garden.week_starts + k) % 7][:3] for k in range(7)],
        "look": found.look,
    }
    return render(request, "plan/print.html", context)
