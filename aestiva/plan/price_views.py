"""Prices: typed once, so that ways can be compared in money."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import redirect, render

from aestiva.frame.forms import own_page
from aestiva.gardens.access import garden_view
from aestiva.gardens.posting import actor_of, kept
from aestiva.plan.commands import SetPrices


@garden_view(back="prices")
def prices(request: Any) -> HttpResponse:
    """What mix, current and plants cost; empty: not known, and said so."""
    data = request.POST.copy() if request.method == "POST" else None
    if data is not None:
        data["crop"] = request.GET.get("crop", "")
    form = SetPrices(actor_of(request), data, initial={"crop": request.GET.get("crop", "")})
    rows = form.rows()
    form.initial = {**form.initial} | {
        name: rows[place].amount for name, place in form.places().items() if place in rows
    }
    if data is not None and kept(request, form):
        return redirect(own_page(data.get("next", "")) or request.get_full_path())
    context = {"view": "plan", "form": form, "crop": form.of, "next": own_page(request.GET.get("next", ""))}
    return render(request, "plan/prices.html", context, status=422 if form.errors else 200)
