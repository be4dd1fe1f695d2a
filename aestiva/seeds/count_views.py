"""How many do I sow?  The ways side by side with their odds, and the one that feeds the planting."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from aestiva.frame.forms import whole_number
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.providers import link
from aestiva.place.dating import Dating, dating_of
from aestiva.season.crops import how_of
from aestiva.season.models import Lot, Planting
from aestiva.season.trouble import CANNOT, words_of
from aestiva.seeds import actions, picture, queries
from aestiva.seeds.forms import AskForm
from growing.crops import Crop
from growing.seeds.shortfall import Stake, top_up
from growing.seeds.sowing import (
    MOST_A_CELL,
    SOWN_IN,
    SURPLUS,
    How,
    NoCount,
    Seed,
    case_for,
    count_for,
    how_for,
    place_chances,
    plants_odds,
    surplus_for,
)
from growing.seeds.testing import plan_test
from growing.seeds.ways import SowingWay, a_plant_more, fine, way, ways


@garden_view(no_frost="seeds", back="seed_count")
def count(request: Any, planting_id: int) -> HttpResponse:
    """How many to sow: the ways side by side with their odds; the chosen one feeds the planting."""
    garden = request.garden
    planting = get_object_or_404(Planting, pk=planting_id, season__garden=garden)
    dating = dating_of(garden, waits=False)
    try:
        crop = dating.crop(planting)
    except CANNOT as error:
        raise Http404(f"Nothing can be counted for {planting}: {words_of(error)}.") from error
    sown = planting.batches.exists()
    if request.method == "POST" and not sown:
        return _settle(request, planting, crop)
    return render(request, "seeds/count.html", _counted(request, planting, crop, dating, sown))


def _settle(request: Any, planting: Planting, crop: Crop) -> HttpResponse:
    """Another packet, or another way of sowing, for the planting."""
    garden, key, seen = request.garden, request.POST.get("key", ""), request.POST.get("revision")
    back = redirect("seed_count", garden.pk, planting.pk)
    if "lot" in request.POST:
        typed = request.POST["lot"]
        there = Lot.objects.filter(garden=garden, crop_key=planting.crop_key)
        packet = there.filter(pk=whole_number(typed) or 0).first()
        if typed and packet is None:
            messages.error(request, "That packet is not in the box for this crop: choose another.")
            return back
        actions.sow_from(garden, request.user, planting, packet, crop.name, key, seen)
        return back
    how = _how(request.POST.get("way", ""), crop)
    if how is None:
        messages.error(request, "That way of sowing does not suit it: choose another.")
        return back
    said = f"{crop.name} {planting.variety}".strip() + f": {way_name(how)}"
    actions.sow_so(garden, request.user, planting, how, said, key, seen)
    messages.success(request, "Kept: the plan and the sowing task count with it.")
    return back


def _counted(request: Any, planting: Planting, crop: Crop, dating: Dating, sown: bool) -> dict[str, Any]:
    """What the calculator shows: the ways, the odds of the one looked at, what a plant more costs; before it is sown also
    a test or a top-up."""
    garden, today = request.garden, clock.today(request.garden)
    at = queries.stake_of(planting, crop, dating) if dating.knows_frost else Stake()
    ask = AskForm(request.GET, units=request.reader, warmth_c=crop.number("germinate_c"), sure=at.confidence)
    warmth, sure = ask.said("warmth"), ask.said("sure")
    lot = dating.lot(planting)
    found = queries.lot_known(planting, dating, crop, today, garden.year)
    seed = queries.seed_of(crop, found, warmth)
    mine, wanted = how_of(planting, crop), planting.wanted
    problem, offered = "", []
    try:
        offered = list(ways(crop, wanted, seed, sure))
        if not mine.together and not any(w.how == mine for w in offered):
            offered.insert(0, way(crop, wanted, mine, seed, count_for(crop, wanted, mine, seed, sure)))
    except NoCount as error:
        problem = f"There is no count for this: {error}."
    had = None if lot is None else queries.had(lot)
    asked = _how(request.GET.get("way", ""), crop) or mine
    shown = next((w for w in offered if w.how == asked), offered[0] if offered else None)
    context: dict[str, Any] = {
        "view": "seeds",
        "sown": sown,
        "planting": planting,
        "crop": crop,
        "lot": lot,
        "found": found,
        "seed": seed,
        "warmth": warmth,
        "ask": ask,
        "asked": urlencode(ask.data),
        "had": had,
        "packets": Lot.objects.filter(garden=garden, crop_key=planting.crop_key, used_up=False).order_by("pk"),
        "direct": crop.method == "direct" or planting.method == "direct",
        "plugs": crop.word("transplants") == "plug",
        "ways": [
            (w, way_name(w.how), way_code(w.how), None if had is None else had - w.sowing.seeds, w.how == mine)
            for w in offered
        ],
        "shown": shown,
        "problem": problem,
        "address": link("planting", garden.pk, planting.pk),
        "clumps": None if shown is None or shown.how.clump == 1 else shown.how.need(wanted),
    }
    if shown is None:
        return context
    extra, care = a_plant_more(crop, wanted, shown.how, seed, sure)
    context |= {
        "picture": _odds(shown, seed, crop, wanted),
        "extra": extra,
        "care": care,
        "fine": fine(crop, shown.sowing),
        "code": way_code(shown.how),
    }
    if sown:
        return context
    more = top_up(crop, wanted, shown.how, seed, at, shown.sowing) if sure == at.confidence else None
    context |= {"more": more, "stake": at}
    if found is not None and dating.knows_frost:
        ratio = seed.ratio
        context["plan"] = plan_test(
            found, ratio, case_for(crop, wanted, shown.how, seed, sure), dating.dates(planting, crop).sow_on, today,
            queries.days_up(crop), had,
        )  # fmt: skip
    return context


def way_code(how: How) -> str:
    """A way of sowing in an address: “cells-thin-2”."""
    return f"{how.sown_in}-{how.surplus}" + ("" if how.together or how.per_cell is None else f"-{how.per_cell}")


def way_name(how: How) -> str:
    """A way of sowing in words."""
    inside = "soil blocks" if how.sown_in == "blocks" else "cells"
    if how.surplus == "clump":
        each = "" if how.per_cell is None else f", {how.per_cell} seeds each"
        return f"{inside}, left in clumps of {how.clump}{each}"
    if how.surplus == "divide":
        return "together in a box, divided at planting out"
    if how.surplus == "prick":
        return "together in a box, pricked out"
    if how.surplus == "keep":
        return f"{_NUMBERS.get(how.per_cell or 2, str(how.per_cell))} in {inside}, separated, all kept"
    each = _NUMBERS.get(how.per_cell or 0, "")
    if how.per_cell == 1:
        return f"{inside}, one each"
    return f"{inside}, {each or 'as many as the seed asks for'} each, thinned to one".replace("  ", " ")


_NUMBERS = {1: "one", 2: "two", 3: "three", 4: "four", 5: "five", 6: "six"}


def _how(code: str, crop: Crop) -> How | None:
    """The way an address names, where the crop bears it."""
    sown_in, surplus, each = ([*code.split("-"), "", "", ""])[:3]
    if sown_in not in SOWN_IN or surplus not in SURPLUS:
        return None
    per_cell = whole_number(each)
    if per_cell is not None and not 1 <= per_cell <= MOST_A_CELL:
        return None
    if surplus_for(crop, sown_in, surplus) != surplus or (sown_in == "box" and crop.word("transplants") != "easy"):
        return None
    return how_for(crop, sown_in, surplus, per_cell)


def _odds(way: SowingWay, seed: Seed, crop: Crop, wanted: int) -> str:
    """The odds of each number of plants, or of clumps."""
    how, sowing = way.how, way.sowing
    chances = place_chances(
        how, sowing.per_cell, seed.nodes, crop.number("survival"), crop.number("seedlings_per_seed")
    )
    places = sowing.seeds if how.surplus == "keep" else sowing.places
    return picture.odds(plants_odds(places, chances), how.need(wanted), "clumps" if how.clump > 1 else "plants")
