"""Prices: typed once, so that ways can be compared in money."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render

from aestiva.frame.forms import own_page
from aestiva.gardens import journal
from aestiva.gardens.access import garden_view
from aestiva.plan.models import Price
from aestiva.season.crops import Crops


class PriceForm(forms.Form):
    """Mix, current, and a bought plant: of any crop, and of one."""

    mix = forms.FloatField(required=False, min_value=0, max_value=100_000, label="A litre of mix")
    kwh = forms.FloatField(required=False, min_value=0, max_value=100_000, label="A kWh of current")
    plant = forms.FloatField(required=False, min_value=0, max_value=100_000, label="A bought plant, usually")
    own = forms.FloatField(required=False, min_value=0, max_value=100_000, label="A bought plant of this crop")


@garden_view(back="prices")
def prices(request: Any) -> HttpResponse:
    """What mix, current and plants cost; empty: not known, and said so."""
    crops = Crops(request.garden)
    key = request.GET.get("crop", "")
    crop = crops[key] if key and key in crops else None
    rows = {(p.kind, p.crop_key): p for p in Price.objects.filter(garden=request.garden)}
    places = {"mix": ("mix", ""), "kwh": ("kwh", ""), "plant": ("plant", "")}
    if crop is not None:
        places["own"] = ("plant", crop.key)
    initial = {name: rows[place].amount for name, place in places.items() if place in rows}
    form = PriceForm(request.POST or None, initial=initial)
    if crop is None:
        del form.fields["own"]
    if request.method == "POST" and form.is_valid():
        with journal.change(request.garden, request.user, "Changed prices", request.POST.get("key", "")) as write:
            for name, place in places.items():
                amount, row = form.cleaned_data.get(name), rows.get(place)
                if amount is None and row is not None:
                    write.delete(row)
                elif amount is not None:
                    row = row or Price(garden=request.garden, kind=place[0], crop_key=place[1])
                    row.amount = amount
                    write.save(row)
        messages.success(request, "Prices are kept.")
        return redirect(own_page(request.POST.get("next", "")) or request.get_full_path())
    back = own_page(request.GET.get("next", ""))
    context = {"view": "plan", "form": form, "crop": crop, "next": back}
    return render(request, "plan/prices.html", context, status=422 if form.errors else 200)
