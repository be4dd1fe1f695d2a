"""Scale, sprayer, fan, brush, hygrometer: what is measured once, and what is done with one tap."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.care.models import Sprayer, TrayWeight
from aestiva.care.round import the_round
from aestiva.course.state import load
from aestiva.frame.say import shown
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from growing.care.spray import seconds

EXAMPLES_ML = (1.0, 2.5, 5.0, 10.0)


@garden_view(no_frost="care")
def tools(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden, units = request.garden, request.reader
    found = the_round(load(garden, clock.today(garden)))
    trays = [s.thing.tray for s in found.stops if s.thing.tray is not None]
    weights = {w.tray_id: w for w in TrayWeight.objects.filter(tray__garden=garden)}
    sprayer = Sprayer.objects.filter(garden=garden).first()
    spots = {s.spot.pk: s.spot for s in found.stops if s.spot is not None}
    context = {
        "view": "care",
        "refused": refused,
        "typed": request.POST if refused else {},
        "trays": [(t, weights.get(t.pk)) for t in trays],
        "sprayer": sprayer,
        "examples": []
        if sprayer is None
        else [(ml, round(seconds(ml, sprayer.ml, sprayer.seconds), 1)) for ml in EXAMPLES_ML],
        "airs": [(spot, found.air.get(pk)) for pk, spot in spots.items()],
        "gram": shown(1, "g", units)[1],
        "ml": shown(1, "ml", units)[1],
    }
    return render(request, "care/tools.html", context, status=422 if refused else 200)
