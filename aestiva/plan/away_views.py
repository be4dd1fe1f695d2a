"""Days away: what they would move is listed before they are kept."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any, NamedTuple

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.course.state import SeasonState, load
from aestiva.frame.forms import DayField
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.gardens.providers import link
from aestiva.season.models import Absence
from growing.calendar import Window, joined
from growing.chain.choice import Problem


class AbsenceForm(forms.ModelForm):
    since = DayField(label="Away from")
    until = DayField(label="until, that day included")

    class Meta:
        model = Absence
        fields = ("since", "until", "note")


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
    form = AbsenceForm(data)
    found: list[AwayShift] | None = None
    if data is not None and form.is_valid():
        one: Absence = form.save(commit=False)
        one.garden = request.garden
        if request.method == "POST":
            said = f"Away {one.since:%-d %B} to {one.until:%-d %B}"
            with journal.change(request.garden, request.user, said, request.POST.get("key", "")) as write:
                write.save(one)
            messages.success(request, f"{said}: nothing is to be sown or set out on those days.")
            return redirect("away", request.garden.pk)
        try:
            found = shifts(load(request.garden, clock.today(request.garden)), one.window)
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


@garden_view("grower", back="away")
@require_POST
def home(request: Any, absence_id: int) -> HttpResponse:
    """Take days away off again."""
    one = get_object_or_404(Absence, pk=absence_id, garden=request.garden)
    said = f"Not away {one.since:%-d %B} to {one.until:%-d %B} after all"
    with journal.change(request.garden, request.user, said, request.POST.get("key", "")) as write:
        write.delete(one, request.POST.get("revision"))
    messages.success(request, f"{said}.")
    return redirect("away", request.garden.pk)
