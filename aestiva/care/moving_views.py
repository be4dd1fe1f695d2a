"""Moving on: how far they are, into a bigger pot or not, what is over, what is drawn."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.care.commands.moving import OVER
from aestiva.care.draw import leaf_figure
from aestiva.care.draw_moving import row_svg
from aestiva.care.moving import MoveRow, rows
from aestiva.course.state import SeasonState, load
from aestiva.frame import say
from aestiva.frame.say import Reader, shown
from aestiva.frame.wording import STEPS, how
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused

MOST = 30


@garden_view(no_frost="care")
def moving(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, batch_id: int | None = None) -> HttpResponse:
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found = rows(now)
    asked = request.GET.get("batch", "")
    if asked.isdigit():
        found = [r for r in found if r.batch == int(asked)] or found
    every = request.GET.get("all") == "1"
    shown_rows = found if every else found[:MOST]
    context = {
        "view": "care",
        "headline": headline(found, now),
        "rows": [_shown(r, now, request.reader) for r in shown_rows],
        "more": len(found) - len(shown_rows),
        "length": shown(1, "cm", request.reader)[1],
        "refused": refused,
        "troubles": now.troubles,
    }
    return render(request, "care/moving.html", context, status=422 if refused else 200)


def headline(found: list[MoveRow], now: SeasonState) -> str:
    """“3 move on today: thin Lettuce, pot up Tomato and 1 more”"""
    if not found:
        return "Nothing is up that could move on"
    due = [r for r in found if r.due(now.today)]
    if due:
        names = [f"{STEPS[t.task.kind].act} {r.item.full_name}" for r in due for t in r.todos if t.due <= now.today]
        return f"{say.plural(len(due), 'batch moves', 'batches move')} on today: {say.listed(names, 2)}"
    looks = sum(r.ask.due for r in found)
    coming = min((c.on for r in found for c in r.coming if c.on > now.today), default=None)
    next_ = f"; the next {say.day(coming)}" if coming is not None else ""
    asked = f", {say.plural(looks, 'batch wants', 'batches want')} a look at the leaves" if looks else ""
    return f"Nobody moves on today{next_}{asked}"


def _shown(row: MoveRow, now: SeasonState, units: Reader) -> dict[str, Any]:
    return {
        "row": row,
        "svg": row_svg(row, now),
        "choices": [(n, name, leaf_figure(n)) for n, name in row.ask.choices],
        "heights": row.ask.heights(units),
        "works": [(t, t.due <= now.today, STEPS[t.task.kind], how(t.task, t.crop, units)) for t in row.todos],
        "ways": [(w, OVER[w.key], say.number(w.flats)) for w in row.over.ways] if row.over is not None else [],
    }
