"""Replanning: what facts have overtaken, accepted in whole, in part or not at all; and the next season from this one."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render

from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.plan import actions, nextyear
from aestiva.plan.replan import WHYS, proposals


@garden_view(back="plan", no_frost="plan")
def replan(request: Any) -> HttpResponse:
    """Each proposal with its reason and both days; the ticked ones are kept as one entry."""
    found = proposals(load(request.garden, clock.today(request.garden)))
    if request.method == "POST":
        seen = dict(one.rsplit(":", 1) for one in request.POST.getlist("seen") if ":" in one)
        chosen = set(request.POST.getlist("take"))
        count = actions.accept(
            request.garden, request.user, _as_shown(found, chosen, request), seen, request.POST.get("key", "")
        )
        messages.success(request, f"{say.plural(count, 'day')} moved." if count else "Everything stays as it is.")
        return redirect("plan", request.garden.pk)
    groups = [(WHYS[kind], [p for p in found if p.kind == kind]) for kind in WHYS]
    context = {
        "view": "plan",
        "groups": [(w, ps) for w, ps in groups if ps],
        "count": sum(p.kind != "surplus" for p in found),
        "moving": any(p.after for p in found),
    }
    return render(request, "plan/replan.html", context)


def _as_shown(found: list[Any], chosen: set[str], request: Any) -> list[Any]:
    """The ticked proposals, if they still say what the page showed."""
    taken = []
    for one in found:
        if one.key not in chosen or one.after is None:
            continue
        shown = request.POST.get(f"to.{one.key}", "")
        if shown and shown != one.after.isoformat():
            raise Refused("take", f"{one.name} would go to {say.day(one.after)} by now: look at the list anew")
        taken.append(one)
    return taken


@garden_view(back="plan", no_frost="plan")
def next_season(request: Any) -> HttpResponse:
    """What is grown again next year, its dates reckoned anew; what is not, with why."""
    asked = whole_number((request.POST or request.GET).get("year")) or request.garden.year + 1
    if request.method == "POST":
        found = nextyear.again(request.garden, asked)
        chosen = {pk for text in request.POST.getlist("again") if (pk := whole_number(text)) is not None}
        reasons = {one.old.pk: request.POST.get(f"why.{one.old.pk}", one.old.not_again) for one in found}
        go_on = request.POST.get("go") == "yes"
        count = actions.make_next(
            request.garden, request.user, asked, found, chosen, reasons, go_on, request.POST.get("key", "")
        )
        messages.success(
            request, f"{say.plural(count, 'planting')} in {asked}." + ("" if go_on else " This season goes on here.")
        )
        return redirect("plan", request.garden.pk)
    try:
        found = nextyear.again(request.garden, asked)
    except Refused as refused:
        return render(request, "plan/next.html", {"view": "plan", "refused": refused, "year": asked}, status=422)
    context = {
        "view": "plan",
        "year": asked,
        "found": [one for one in found if not one.old.not_again],
        "left_out": [one for one in found if one.old.not_again],
    }
    return render(request, "plan/next.html", context)
