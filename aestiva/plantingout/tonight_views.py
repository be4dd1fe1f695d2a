"""Tonight: what to cover with what, how long and with how many pegs; uncovering; covers at hand; losses and what fills the gaps."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.bench.hands_views import turns_on
from aestiva.course.state import Item, SeasonState, load
from aestiva.frame import say
from aestiva.frame.say import shown
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.hardening.tonight import pots_tonight
from aestiva.plantingout.draw_tonight import beds_svg
from aestiva.plantingout.models import CoverAtHand
from aestiva.plantingout.tonight import Tonight, tonight
from growing.place.covers import COVERS
from growing.plantingout.steps import CARRY_IN, COVER, UNCOVER

TONIGHT = (COVER.kind, UNCOVER.kind, CARRY_IN.kind)


@garden_view(no_frost="plan")
def beds_tonight(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, **kwargs: Any) -> HttpResponse:
    """Everything that is outdoors this evening."""
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found, pots = tonight(now), pots_tonight(now)
    todos = now.todos(today, TONIGHT)
    context = {
        "view": "plantingout",
        "headline": headline(found, len(pots.must_in)),
        "tonight": found,
        "pots": pots,
        "svg": beds_svg(found, request.reader),
        "cover": [t for t in todos if t.task.kind == "cover" and t.task.due == today],
        "uncover": [t for t in todos if t.task.kind == "uncover"],
        "carry": [t for t in todos if t.task.kind == "carry_in" and t.task.due == today],
        "kinds": COVERS.items(),
        "rows": CoverAtHand.objects.filter(garden=garden),
        "metre": shown(1, "m", request.reader)[1],
        "gaps": gaps(now),
        "steps": STEPS,
        "refused": refused,
        "typed": request.POST if refused else {},
        "troubles": now.troubles,
        **turns_on(garden, today),
    }
    return render(request, "plantingout/tonight.html", context, status=422 if refused else 200)


def headline(found: Tonight, pots_in: int) -> str:
    """“Cover tonight: 16 plants under 8 m of fleece”."""
    if found.night is None:
        return "No forecast reaches tonight: nothing watches for frost"
    if found.to_cover:
        return f"Cover {say.plural(found.plants, 'plant')} tonight"
    if pots_in:
        return f"Carry in {say.plural(pots_in, 'batch', 'batches')} tonight"
    return "Nothing outdoors needs you tonight" if found.lines else "Nothing stands in the beds tonight"


def gaps(now: SeasonState) -> list[tuple[Item, int, list[Item]]]:
    """Plantings outdoors that have lost some, how many are missing, and batches with plants to fill the gaps."""
    found = []
    for item in now.items:
        accounts = item.raised.accounts
        if item.batch is None or accounts is None or not accounts.planted:
            continue
        missing = min(accounts.planted - (accounts.outdoors or 0), accounts.planted)
        if missing <= 0:
            continue
        spares = [
            o
            for o in now.items
            if o.batch is not None
            and o.batch != item.batch
            and o.crop.key == item.crop.key
            and o.raised.growing
            and o.raised.plants
        ]
        found.append((item, missing, spares))
    return found
