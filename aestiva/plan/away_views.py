"""Days away: what they would move is listed before they are kept."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import redirect, render

from aestiva.course.state import SeasonState, load
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.gardens.posting import actor_of, kept, posts
from aestiva.gardens.providers import link
from aestiva.plan.commands import Away, HomeAfterAll
from aestiva.season.models import Absence
from growing.calendar import Window, joined
from growing.chain.choice import Problem


class AwayShift(NamedTuple):
    """A planting that days away would move: its days before and after, and what it then cannot have."""

    name: str
    sow: tuple[date, date]
    out: tuple[date, date]
    problems: list[Problem]


def shifts(now: SeasonState, gone: Window) -> list[AwayShift]:
    """What would move if nobody were there on those days."""
    ahead = replace(now.place, away=joined([*now.place.away, gone]))
    after = {i.raised.ref: i for i in load(now.garden, now.today, place=ahead, like=now, rows=now.rows).items}
    found = []
    for item in now.items:
        old, new = item.raised.dates, after[item.raised.ref].raised.dates
        known = {p.code for p in old.problems}
        problems = [p for p in new.problems if p.code not in known]
        if (old.sow_on, old.out_on) != (new.sow_on, new.out_on) or problems:
            name = item.full_name
            found.append(AwayShift(name, (old.sow_on, new.sow_on), (old.out_on, new.out_on), problems))
    return found


@garden_view(back="away")
def away(request: Any) -> HttpResponse:
    """The days away there are, and new ones: looked at first, then kept."""
    data = request.POST if request.method == "POST" else request.GET if "since" in request.GET else None
    form = Away(actor_of(request), data)
    found: list[AwayShift] | None = None
    if data is not None and form.is_valid():
        if request.method == "POST":
            kept(request, form)
            return redirect("away", request.garden.pk)
        try:
            found = shifts(load(request.garden, clock.today(request.garden)), form.row().window)
        except NoFrostDate:
            found = []
    absences = list(Absence.objects.filter(garden=request.garden).order_by("since"))
    context = {
        "view": "plan",
        "form": form,
        "shifts": found,
        "absences": absences,
        "sheets": {a.pk: link("away_sheet", request.garden.pk, a.pk) for a in absences},
    }
    return render(request, "plan/away.html", context, status=422 if form.errors and data is not None else 200)


home = posts(HomeAfterAll, back="away")
