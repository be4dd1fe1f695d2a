"""Which lamp hangs there, and what current costs."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.light.forms import LampForm, TariffForm
from aestiva.season.models import Lamp, Spot, Tariff
from growing.light.lamps import kinds
from growing.place.kinds import LAMPS


def _back(request: Any, spot: Spot) -> HttpResponse:
    return redirect(f"{reverse('light', args=[request.garden.pk])}?shelf={spot.pk}#lamps")


@garden_view(back="light")
def lamp_new(request: Any, spot_id: int) -> HttpResponse:
    spot = get_object_or_404(Spot, pk=spot_id, garden=request.garden, kind__in=LAMPS)
    initial = {"new_on": clock.today(request.garden), "kind": "strip"}
    return _lamp(request, spot, LampForm(request.POST or None, spot=spot, units=request.reader, initial=initial), None)


@garden_view(back="light")
def lamp_change(request: Any, lamp_id: int) -> HttpResponse:
    row = get_object_or_404(Lamp, pk=lamp_id, spot__garden=request.garden)
    form = LampForm(request.POST or None, instance=row, spot=row.spot, units=request.reader)
    return _lamp(request, row.spot, form, Lamp.objects.get(pk=lamp_id))


def _lamp(request: Any, spot: Spot, form: LampForm, row: Lamp | None) -> HttpResponse:
    """The form of a lamp, kept where it is as it can be."""
    if request.method == "POST" and form.is_valid():
        lamp = form.lamp()
        said = f"{spot.code}: {'changed' if row else 'hung'} {lamp.number} × {kinds()[lamp.kind].name}"
        with journal.change(request.garden, request.user, said, request.POST.get("key", "")) as write:
            write.save(lamp, request.POST.get("revision") if row else None)
            if spot.lit != "lamp":
                spot = write.fresh(spot)
                spot.lit = "lamp"
                write.save(spot)
        messages.success(request, f"{said}.")
        return _back(request, spot)
    context = {
        "view": "light",
        "form": form,
        "row": row,
        "spot": spot,
        "kinds": [k for k in kinds().values() if not k.mostly_heat],
    }
    return render(request, "light/lamp_form.html", context, status=422 if request.method == "POST" else 200)


@garden_view("grower", back="light")
@require_POST
def lamp_down(request: Any, lamp_id: int) -> HttpResponse:
    """It is taken down: it lights nothing from today on; what it gave before stays true."""
    row, today = get_object_or_404(Lamp, pk=lamp_id, spot__garden=request.garden), clock.today(request.garden)
    if row.until is not None:
        raise Refused("", "it was taken down already")
    with journal.change(
        request.garden, request.user, f"{row.spot.code}: took down {row}", request.POST.get("key", "")
    ) as write:
        row = write.touch(row, request.POST.get("revision"))
        row.until = today
        write.save(row)
    messages.success(request, f"{row} is taken down.")
    return _back(request, row.spot)


@garden_view(back="light")
def current(request: Any) -> HttpResponse:
    """What a kilowatt hour costs, and when it costs less."""
    row = Tariff.objects.filter(garden=request.garden).first()
    form = TariffForm(request.POST or None, instance=row)
    if request.method == "POST" and form.is_valid():
        tariff: Tariff = form.save(commit=False)
        tariff.garden, tariff.spans = request.garden, form.cleaned_data["cheap"]
        try:
            tariff.full_clean(exclude=["garden"])
        except ValidationError as error:
            raise Refused("cheap", "; ".join(error.messages)) from error
        with journal.change(request.garden, request.user, "What current costs", request.POST.get("key", "")) as write:
            write.save(tariff, request.POST.get("revision") if row else None)
        messages.success(request, "Kept: weeks are priced by it, and timers proposed in the cheap hours.")
        return redirect("light", request.garden.pk)
    context = {"view": "light", "form": form, "row": row}
    return render(request, "light/current.html", context, status=422 if request.method == "POST" else 200)
