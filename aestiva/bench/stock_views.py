"""What there is: containers, lids, mix and labels; mixes and what they are made of; plants that came from elsewhere."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from aestiva.bench.commands.plants import CAME, STOOD, Received
from aestiva.bench.commands.stock import CountStore
from aestiva.bench.models import THINGS, Recipe, Store
from aestiva.bench.supplies import SupplyNeed, needs, preparing
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.say import Reader, shown, stored
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.posting import carry_out
from aestiva.season.crops import Crops
from aestiva.season.models import Spot
from growing.bench.mix import SAFE_C, SAFE_MINUTES, TOO_HOT_C, weighed_out


def stock_page(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden = request.garden
    if request.method == "POST" and refused is None:
        carry_out(CountStore, request, {})
        return redirect("stock", garden.pk)
    now = load(garden, clock.today(garden))
    found = needs(now)
    short = [n for n in found if n.supply.short_from is not None]
    context = {
        "view": "bench",
        "needs": found,
        "headline": headline(found, request.reader),
        "short": min(short, key=lambda n: n.supply.short_from or date.max) if short else None,
        "preparing": preparing(now, found, request.reader),
        "stores": {s.thing: s for s in Store.objects.filter(garden=garden)},
        "things": [(v, f"{_volume(request.reader)} of mix" if v == "mix" else w) for v, w in THINGS],
        "refused": refused,
        "typed": request.POST,
        "today": now.today,
    }
    return render(request, "bench/stock.html", context, status=422 if refused else 200)


stock = garden_view(no_frost="bench", back="stock", page=stock_page)(stock_page)


def headline(found: Sequence[SupplyNeed], reader: Reader) -> str:
    """What is short first, and from when; otherwise what was counted, and how much of what is needed was not."""
    short = [n for n in found if n.supply.short_from is not None]
    if short:
        one = min(short, key=lambda n: n.supply.short_from or date.max)
        lacks = one.supply.short or 0.0
        amount = say.amount(lacks, one.unit, reader) if one.unit else f"{math.ceil(lacks)}"
        when = "" if one.supply.short_from is None else say.day(one.supply.short_from)
        return f"{say.thing(one.name, reader)}: {amount} short from {when}"
    wanted = [n for n in found if n.supply.most]
    unknown = [n for n in wanted if n.supply.owned is None]
    if not wanted:
        return "Nothing planned takes anything from here"
    if not unknown:
        return "What was counted is enough for the season"
    if len(unknown) == len(wanted):
        return f"Nobody has counted yet: {say.plural(len(unknown), 'thing')} will be needed"
    rest = "one that is needed was" if len(unknown) == 1 else f"{len(unknown)} that are needed were"
    return f"What was counted is enough; {rest} not counted"


@garden_view()
def mixes(request: Any) -> HttpResponse:
    found = Recipe.objects.filter(garden=request.garden)
    return render(request, "bench/mixes.html", {"view": "bench", "mixes": found})


def _volume(reader: Reader) -> str:
    """In what a volume is typed: “litres”, “US gal”."""
    unit = shown(1.0, "l", reader)[1]
    return "litres" if unit == "l" else unit


@garden_view()
def mix(request: Any, recipe_id: int) -> HttpResponse:
    """A mix weighed out for so many litres."""
    recipe = get_object_or_404(Recipe, pk=recipe_id, garden=request.garden)
    typed = request.GET.get("litres", "").strip().replace(",", ".") or "10"
    problem, found = "", []
    try:
        litres = stored(float(typed), "l", request.reader)
        found = weighed_out(recipe.parts, recipe.grams, recipe.millilitres, recipe.water_ml, litres)
    except ValueError as wrong:
        problem = str(wrong) if "litres" in str(wrong) else f"“{typed[:20]}” is not a number: give more than 0"
    context = {
        "view": "bench",
        "recipe": recipe,
        "measures": found,
        "typed": typed,
        "unit": _volume(request.reader),
        "problem": problem,
        "used": recipe.filled.select_related("batch__planting").order_by("-on", "-pk")[:12],
        "safe": (SAFE_C, SAFE_MINUTES, TOO_HOT_C),
    }
    return render(request, "bench/mix.html", context, status=422 if problem else 200)


@garden_view(back="received")
def received(request: Any) -> HttpResponse:
    """Plants that were not sown here: what, how many, where they stood, what they cost."""
    garden = request.garden
    refused: Refused | None = None
    if request.method == "POST":
        try:
            done = carry_out(Received, request, {})
            return redirect("batch", garden.pk, done.batch.pk)
        except Refused as wrong:
            refused = wrong
    context = {
        "view": "bench",
        "crops": sorted(((crop.key, crop.name) for crop in Crops(garden)), key=lambda one: one[1]),
        "came": CAME,
        "stood": STOOD,
        "spots": Spot.objects.filter(garden=garden),
        "refused": refused,
        "typed": request.POST,
    }
    return render(request, "bench/received.html", context, status=422 if refused else 200)
