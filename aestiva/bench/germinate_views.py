"""Where one sowing comes up best: every place there is beside the others, chosen with one tap; a reading where nobody has taken one."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from aestiva.bench.ahead import BenchAhead, look_ahead
from aestiva.bench.commands.plants import ComesUpAt, MonthMeasured
from aestiva.bench.stays import ref_of
from aestiva.bench.things import load_bench
from aestiva.course.state import Item, load
from aestiva.frame import say, wording
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.posting import actor_of, carry_out
from aestiva.plan.choosing import prices_for
from aestiva.season.models import Planting
from growing.bench.germinating import LONGEST_DAYS, Comes, GerminatingSite, alike, best_first, comes_up
from growing.place.kinds import CARRIERS, HOLDS
from growing.shelves.room import trays_in_cells

ENOUGH = 0.6  # of what could come, from which nobody asks again


def sites(ahead: BenchAhead, item: Item) -> list[Comes]:
    """Every place in which it could come up, the best first."""
    assert ahead.now.shared is not None
    dating, sow = ahead.now.shared.dating, item.raised.dates.sow_on
    own = [s for s in ahead.stays if s.batch == ref_of(item)]
    flats = max((s.flats for s in own if s.stage == "seed"), default=trays_in_cells(item.crop, item.raised.wanted))
    held = {p.key: p for p in ahead.places}
    found = []
    for pk in ahead.bench.order:
        one = ahead.bench.places[pk]
        if one.spot.kind not in HOLDS or (one.spot.kind in CARRIERS and not one.things):
            continue
        room, place = dating.room_at(pk), held.get(pk)
        mine = sum(s.flats for s in own if s.place == pk and s.stage == "seed")
        free = float(one.holds) if place is None else ahead.free(place, sow, sow + timedelta(days=10)) + mine
        site = GerminatingSite(
            pk, one.spot.code, room, float(one.holds), free if free >= min(flats, 1.0) - 1e-6 else 0.0, one.spot.watts
        )
        found.append(comes_up(item.crop, site, max(sow, ahead.now.today), flats))
    chosen = item.planting.germinates_at_id
    return sorted(best_first(found), key=lambda c: c.site.key != chosen) if chosen else best_first(found)


@garden_view(no_frost="bench", back="germinate")
def germinate(request: Any, planting_id: int) -> HttpResponse:
    garden = request.garden
    planting = get_object_or_404(Planting.objects.select_related("season"), pk=planting_id, season__garden=garden)
    today = clock.today(garden)
    if request.method == "POST":
        if (question := _asked(request, planting, today)) is not None:
            return question
        command = MonthMeasured if request.POST.get("do") == "read" else ComesUpAt
        carry_out(command, request, {"planting": planting.pk} if command is ComesUpAt else {})
        return redirect("germinate", garden.pk, planting.pk)
    now = load(garden, today)
    item = next((i for i in now.items if i.planting.pk == planting.pk and i.batch is None), None)
    context: dict[str, Any] = {"view": "bench", "planting": planting, "item": item}
    if item is None or item.raised.dates.method != "raised":
        return render(request, "bench/germinate.html", context)
    ahead = look_ahead(now, load_bench(now))
    found = sites(ahead, item)
    price = prices_for(garden, item.crop, None).kwh
    longest = max((c.days for c in found if c.comes), default=1.0)
    context |= {
        "found": [
            (c, bar(c, longest), None if price is None or not c.kwh else c.kwh * price, [o.site for o in others])
            for c, others in alike(found)
        ],
        "chosen": planting.germinates_at_id,
        "best": next((c for c in best_first(found) if c.comes), None),
        "sow": max(item.raised.dates.sow_on, today),
        "asked": whole_number(request.GET.get("read")),
        "form": MonthMeasured(actor_of(request)),
    }
    return render(request, "bench/germinate.html", context)


def _asked(request: Any, planting: Planting, today: date) -> HttpResponse | None:
    """A place in which nothing, or little, would come is asked about once."""
    spot = whole_number(request.POST.get("spot"))
    if request.POST.get("do") == "read" or not spot or is_sure(request):
        return None
    now = load(request.garden, today)
    item = next((i for i in now.items if i.planting.pk == planting.pk and i.batch is None), None)
    if item is None:
        raise Refused("spot", "all of it is sown already: what is sown stays where it stands")
    one = next((c for c in sites(look_ahead(now, load_bench(now)), item) if c.site.key == spot), None)
    if one is None or one.verdict in ("well", "slow") or (one.verdict == "short" and one.share >= ENOUGH):
        return None
    against = [wording.headline(one.working, request.reader) + ": " + SAID[one.verdict]]
    return ask(request, f"{planting} on {one.site.name}?", against, "Choose it all the same", "germinate", planting.pk)


SAID = {
    "hot": "warmer than it bears, seed may fall asleep or die.",
    "cold": "too cold, seed lies and rots.",
    "short": "only a part of it comes at that warmth.",
    "unknown": "nobody has said how warm it is there: take a reading first.",
}


def bar(one: Comes, longest: float) -> str:
    """From sowing to half up, on one scale for all; dotted until the first may be up."""
    wide = 190.0
    if not one.comes:
        return ""
    per = (wide - 24) / max(1.0, min(longest, LONGEST_DAYS))
    x, first = 6 + one.days * per, 6 + one.first * per
    high = max(4.0, 14.0 * one.share)
    label = f"half up after {say.number(one.days, 0)} days"
    return (
        f'<svg class="comesbar" viewBox="0 0 {wide:.0f} 26" width="{wide:.0f}" height="26" role="img" aria-label="{label}">'
        f'<path class="soil" d="M0 20H{wide:.0f}"/><path class="lies" d="M6 22H{first:.1f}"/>'
        f'<path class="up" d="M{first:.1f} 20Q{x:.1f} 20 {x:.1f} {20 - high:.1f}L{x:.1f} 20Z"/>'
        f'<path class="up" d="M{x:.1f} {20 - high:.1f}q6-3 9 1q-5 3-9-1q-5-3-9 1q4 3 9-1"/></svg>'
    )
