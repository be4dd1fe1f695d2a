"""Bench: what stands where, how high it is, and what to see to; and the places themselves."""

from __future__ import annotations

from collections.abc import Sequence
from math import isfinite
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench import days, tray_actions
from aestiva.bench.bench_then import PLANNED, bench_on
from aestiva.bench.commands.stock import MONTHS
from aestiva.bench.company import against_place, clashes_on, said
from aestiva.bench.front import front_svg
from aestiva.bench.placing import put_down
from aestiva.bench.room_views import ahead_of
from aestiva.bench.roomdraw import BENCH
from aestiva.bench.seeing import MOST, concerns
from aestiva.bench.things import Bench, Thing, load_bench
from aestiva.bench.traymap import map_svg, symbols
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Spot, Tray
from growing.bench.cells import CellShift
from growing.place.kinds import CARRIERS, HOLDS


def _addresses(garden: int, bench: Bench) -> dict[int, str]:
    """Where each thing is told about: trays by their number, pots by themselves by their batch's, negative."""
    found = {t.tray.pk: reverse("tray", args=[garden, t.tray.pk]) for t in bench.things if t.tray is not None}
    loose = {p.batch for t in bench.things if t.tray is None for p in t.parts}
    planned = {-pk: reverse("planting", args=[garden, -pk - PLANNED]) for pk in loose if pk < 0}
    return found | planned | {-pk: reverse("batch", args=[garden, pk]) for pk in loose if pk > 0}


@garden_view(no_frost="bench")
def bench(request: Any) -> HttpResponse:
    return _bench(request)


def _bench(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden = request.garden
    now = load(garden, clock.today(garden))
    found = load_bench(now)
    seen = concerns(now, found, request.reader)
    places = [found.places[pk] for pk in found.order]
    lit = [p for p in places if p.spot.lit == "lamp"]
    room = ahead_of(request, now, found, BENCH)
    at = room["at"]
    drawn = found if at == now.today else bench_on(room["ahead"], at)
    context = {
        **room,
        "view": "bench",
        "drawn": drawn,
        "picture": front_svg(drawn, request.reader, _addresses(garden.pk, drawn)),
        "places": [p for p in places if p.spot.kind not in CARRIERS or p.things],
        "concerns": seen[:MOST],
        "more": max(0, len(seen) - MOST),
        "first": seen[0] if seen else None,
        "lamps": sum(p.holds for p in lit),
        "taken": sum(len(p.here) for p in lit),
        "standing": sum(len(p.things) for p in places),
        "unsized": sum(not p.size_said and bool(p.here) for p in places),
        "nowhere": found.nowhere,
        "nowhere_head": _where(found.nowhere),
        "spots": [p.spot for p in places if p.spot.kind != "rack"],
        "coming": days.coming(now),
        "refused": refused,
        "troubles": now.troubles,
    }
    return render(request, "bench/bench.html", context, status=422 if refused else 200)


def _where(nowhere: Sequence[Thing]) -> str:
    """What stands where nobody said, as a question; "" where there is nothing of it."""
    names = list(dict.fromkeys(name for thing in nowhere if not thing.boxed for name in thing.names))
    return f"Where {'does' if len(names) == 1 else 'do'} {say.listed(names, 2)} stand?" if names else ""


@garden_view("grower", back="bench", page=_bench)
@require_POST
def put(request: Any) -> HttpResponse:
    """A tray put down somewhere."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    found = load_bench(load(garden, today))
    tray, spot = whole_number(post.get("tray")), whole_number(post.get("spot"))
    thing = found.thing(get_object_or_404(Tray.objects.select_related("container"), pk=tray or 0, garden=garden))
    if spot not in found.places:
        raise Refused("spot", "choose where it goes")
    x = _typed_cm(post.get("x", ""))
    one = found.places[spot]
    if not is_sure(request) and (against := said(against_place(thing, one, found, today), request.reader)):
        return ask(request, f"Put {thing.name} on {one.spot.code}?", against, "Put it there all the same", "bench")
    assert thing.tray is not None
    put_down(garden, request.user, thing.tray, one.spot, x, today, post.get("key", ""), post.get("revision"))
    messages.success(request, f"{thing.name} stands on {one.spot.code}.")
    return redirect("bench", garden.pk)


def _typed_cm(text: str) -> float | None:
    text = text.strip()
    if not text:
        return None
    try:
        found = float(text)
    except ValueError:
        raise Refused("x", f"“{text[:20]}” is not a number: give it from the left, or nothing") from None
    if not isfinite(found) or not -1e5 < found < 1e5:
        raise Refused("x", f"“{text[:20]}” cannot be: give it from the left, or nothing")
    return found


@garden_view("grower", back="bench", page=_bench)
@require_POST
def set_together(request: Any) -> HttpResponse:
    """Half-empty trays of one place set together, as the page proposed."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    now = load(garden, today)
    wanted = {whole_number(one) for one in post.getlist("tray")}
    seen = [c for c in concerns(now, load_bench(now), request.reader) if c.kind == "together"]
    offer = next((c for c in seen if {m.tray for m in c.shifts} | {m.to_tray for m in c.shifts} == wanted), None)
    if offer is None:
        raise Refused("", "these trays are no longer as they were: look again")
    moves: list[CellShift] = offer.shifts
    tray_actions.shift(garden, request.user, moves, today, post.get("key", ""), {}, offer.words[:250])
    messages.success(request, f"{offer.more} It can be taken back.")
    return redirect("bench", garden.pk)


@garden_view(no_frost="bench")
def place(request: Any, spot_id: int) -> HttpResponse:
    """One place: every tray on it with its cells, how warm it is, who harms whom."""
    garden, today = request.garden, clock.today(request.garden)
    spot = get_object_or_404(Spot.objects.select_related("parent"), pk=spot_id, garden=garden, kind__in=HOLDS)
    now = load(garden, today)
    found = load_bench(now)
    one = found.places[spot.pk]
    warmth = None if now.shared is None else now.shared.dating.room_at(spot.pk)
    context = {
        "view": "bench",
        "spot": spot,
        "one": one,
        "maps": [(t, map_svg(t)) for t in one.here if t.tray is not None],
        "symbols": symbols(),
        "loose": [t for t in one.here if t.tray is None],
        "clashes": clashes_on(one, found, today),
        "warmth": warmth,
        "months": [] if warmth is None else list(zip(MONTHS, warmth.months_c, strict=True)),
        "children": [found.places[pk] for pk in found.order if found.places[pk].spot.parent_id == spot.pk],
    }
    return render(request, "bench/place.html", context)


@garden_view()
def places(request: Any) -> HttpResponse:
    """Everywhere that things stand and plants grow."""
    spots = list(Spot.objects.filter(garden=request.garden).select_related("parent"))
    return render(request, "bench/places.html", {"view": "bench", "spots": spots, "stands": HOLDS})
