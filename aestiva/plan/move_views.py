"""Moving sowing days in the picture: each try is answered with the rows it changes and a list; keeping them is one entry."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse, JsonResponse, QueryDict
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.course.state import SeasonState, load
from aestiva.frame import say
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.plan import actions, overview
from aestiva.plan.look import PlanLook
from aestiva.plan.moving import Change, changes, read_moves
from aestiva.plan.picture import Scale
from aestiva.plan.picture.row import inside
from aestiva.plan.picture.scale import read_scale


@garden_view()
def tried(request: Any) -> HttpResponse:
    """What the moves would change: rows of the picture as SVG, and the list as HTML; writes nothing.

    back: moves that were taken back, for their rows to be drawn as they are.
    """
    text = request.GET.get("moves", "")
    now = load(request.garden, clock.today(request.garden))
    try:
        found = changes(now, read_moves(text))
        back = changes(now, read_moves(request.GET.get("back", "")))
    except Refused as refused:
        return JsonResponse({"rows": {}, "said": str(refused), "panel": _panel(request, now, [], text, str(refused))})
    scale, asked = read_scale(request.GET.get("scale", "")), set(request.GET.get("draw", "").split(","))
    rows = {} if scale is None else _rows(now, [*back, *found], scale, asked, request.role != "reader")
    said = say.listed([c.name for c in found], 3)
    return JsonResponse({"rows": rows, "said": said, "panel": _panel(request, now, found, text)})


def _rows(now: SeasonState, found: list[Change], scale: Scale, asked: set[str], writes: bool) -> dict[str, str]:
    """The rows that are asked for or follow, drawn anew."""
    some = [c for c in found if c.follows or str(c.item.planting.pk) in asked]
    lines = overview.some_lines(now, [c.item for c in some])
    drawn = (overview.row(one, now.today, may_write=writes) for one in lines)
    return {one.key: inside(one, scale) for one in drawn}


def _panel(request: Any, now: SeasonState, found: list[Change], text: str, wrong: str = "") -> str:
    context = {
        "changes": found,
        "moves": text,
        "seen": ",".join(c.seen for c in found if not c.follows),
        "wrong": wrong,
        "garden": request.garden,
        "may_write": request.role != "reader",
        "kept_as": actions.moves_said([c for c in found if not c.follows]),
    }
    return render_to_string("plan/_moves.html", context, request=request)


@garden_view()
def moves(request: Any) -> HttpResponse:
    """The same list as a page of its own, where no script runs or a link leads to it."""
    now = load(request.garden, clock.today(request.garden))
    text = ",".join(filter(None, [request.GET.get("moves", ""), *request.GET.getlist("m")]))
    found = changes(now, read_moves(text))
    return render(request, "plan/moves.html", {"view": "plan", "panel": _panel(request, now, found, text)})


@garden_view("grower", back="plan")
@require_POST
def keep(request: Any) -> HttpResponse:
    """Keep every day that was tried, as one entry."""
    now = load(request.garden, clock.today(request.garden))
    wanted = read_moves(request.POST.get("moves", ""))
    found = [c for c in changes(now, wanted) if not c.follows]
    if not found:
        raise Refused("moves", "nothing of it can be moved any more: what is sown stays as it was sown")
    actions.keep_moves(request.garden, request.user, found, wanted, request.POST)
    messages.success(request, f"{actions.moves_said(found)}.")
    look = PlanLook.of(QueryDict(request.POST.get("look", "")[:2000].lstrip("?")).dict())
    return redirect(reverse("plan", args=[request.garden.pk]) + look.address().removesuffix("?"))
