"""Room over the season: will it fit, where does it run out, what would mend it; and the bench as it will stand on any day."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any, NamedTuple

import numpy as np
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from aestiva.bench import repair_acts
from aestiva.bench.ahead import BenchAhead, history, look_ahead, moved_ahead
from aestiva.bench.repairs import Mending, RepairOffer
from aestiva.bench.roomdraw import FRAME, PHONE, cause_words, over_words, scale_of, strips_svg
from aestiva.bench.things import Bench, load_bench
from aestiva.course.state import SeasonState, load
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.plan.moving import read_moves
from aestiva.plan.picture.scale import Frame, read_scale
from aestiva.season.models import Spot
from growing.bench.ahead import Overflow, overflows


def asked_at(request: Any, now: SeasonState) -> date:
    """The day that is drawn; today where none, or none that can be, was asked for."""
    try:
        day = date.fromisoformat(request.GET.get("at", ""))
    except ValueError:
        return now.today
    return min(max(day, now.today), now.today + timedelta(days=400))


def headline(over: Overflow) -> str:
    """“Room in the cold frame runs out on Thu 16 April, by 2 trays”"""
    name = over.zone.name
    where = name[0].lower() + name[1:]
    at = where if where.startswith(("on ", "under ")) else f"in the {where}"
    return f"Room {at} runs out {'today' if over.zone.holds == 0 else 'on ' + say.day(over.since)}, by {say.plural(over.trays, 'tray')}"


def ahead_of(request: Any, now: SeasonState, found: Bench, frame: Frame = FRAME) -> dict[str, Any]:
    """What the bench's page shows of the season's room: strips, slider, and what would mend the first lack."""
    ahead = look_ahead(now, found)
    back = history(now, found, ahead.zones)
    at = asked_at(request, now)
    scale = scale_of(ahead, back, frame)
    over = ahead.overflows[0] if ahead.overflows else None
    mending = None if over is None else Mending(ahead, over, request.reader)
    return {
        "ahead": ahead,
        "strips": strips_svg(ahead, back, scale, at, request.reader),
        "phone_strips": strips_svg(ahead, back, scale_of(ahead, back, PHONE), at, request.reader),
        "at": at,
        "first_day": scale.start,
        "from_day": now.today,
        "last_day": scale.end,
        "wide_edges": f"{frame.labels} {frame.right}",
        "slide_days": ahead.days - 1,
        "before_share": round(100 * (now.today - scale.start).days / scale.days, 2),
        "over": over,
        "over_head": None if over is None else headline(over),
        "mending": mending,
        "offers": [] if mending is None else mending.shown[:3],
        "best": None if mending is None else mending.best,
        "mend_page": "" if over is None else f"{reverse('room_mend', args=[now.garden.pk])}?over={key_of(over)}",
    }


def key_of(over: Overflow) -> str:
    return f"{over.zone.key}.{over.since.isoformat()}"


SOON_DAYS = 14


@garden_view()
def soon(request: Any) -> HttpResponse:
    """A line for Today where room runs out within a fortnight; nothing otherwise."""
    try:
        now = load(request.garden, clock.today(request.garden))
    except NoFrostDate:
        return HttpResponse("")
    lacks = look_ahead(now, load_bench(now)).overflows
    if not lacks or (lacks[0].since - now.today).days > SOON_DAYS:
        return HttpResponse("")
    return render(request, "bench/_soon.html", {"head": headline(lacks[0]), "key": key_of(lacks[0])})


@garden_view(no_frost="bench")
def strip(request: Any) -> HttpResponse:
    """The strips alone on the axis of the plan's picture, with moves that were only tried."""
    now = load(request.garden, clock.today(request.garden))
    scale = read_scale(request.GET.get("scale", ""))
    ahead = look_ahead(now, load_bench(now))
    if scale is None:
        return HttpResponse("")
    try:
        ahead = moved_ahead(ahead, read_moves(request.GET.get("moves", "")))
    except Refused:
        pass  # the list beside it says what was wrong
    back = history(now, ahead.bench, ahead.zones)
    return HttpResponse(strips_svg(ahead, back, scale, now.today, request.reader, axis=False))


class PlaceLine(NamedTuple):
    """A place over the season: what it holds, what is on it on the day looked at, the most and when, and its first full day."""

    spot: Spot
    holds: float
    on_day: float
    most: float
    most_on: date
    full_from: date | None
    low: list[str]

    @property
    def free(self) -> float:
        return max(0.0, self.holds - self.on_day)


def place_lines(ahead: BenchAhead, day: date) -> list[PlaceLine]:
    """Every place with a size, in the bench's order."""
    low: dict[int, list[str]] = {}
    for piece in ahead.pieces:
        if piece.low and piece.place is not None:
            low.setdefault(piece.place, []).append(ahead.name_of(ahead.stays[piece.stay].batch))
    start, k = ahead.now.today, (day - ahead.now.today).days
    found = []
    for place in sorted(ahead.places, key=lambda p: ahead.bench.order.index(p.key)):
        used = ahead.by_place[place.key]
        full = next((n for n, v in enumerate(used) if v >= place.holds - 1e-6 and place.holds), None)
        most = int(used.argmax())
        found.append(
            PlaceLine(
                ahead.bench.places[place.key].spot, place.holds, float(used[k]) if 0 <= k < len(used) else 0.0, float(used[most]),
                start + timedelta(days=most), None if full is None else start + timedelta(days=full), list(dict.fromkeys(low.get(place.key, []))),
            )
        )  # fmt: skip
    return found


@garden_view(no_frost="bench")
def room(request: Any) -> HttpResponse:
    """Every day of the season, place by place, and each lack of room."""
    now = load(request.garden, clock.today(request.garden))
    found = load_bench(now)
    context = ahead_of(request, now, found)
    ahead: BenchAhead = context["ahead"]
    at: date = context["at"]
    context |= {
        "view": "bench",
        "lines": place_lines(ahead, at),
        "overs": [(o, over_words(o), cause_words(ahead, o), key_of(o)) for o in ahead.overflows],
        "zones": [(z, ahead.room.on(z.key, at)) for z in ahead.zones],
        "low": [p for p in ahead.pieces if p.low],
    }
    return render(request, "bench/room.html", context)


@garden_view(no_frost="bench")
def room_csv(request: Any) -> HttpResponse:
    """A line a day and kind of place, from today on."""
    now = load(request.garden, clock.today(request.garden))
    ahead = look_ahead(now, load_bench(now))
    rows = [
        [(now.today + timedelta(days=k)).isoformat(), zone.name, zone.holds, round(float(ahead.room.used[z, k]), 2)]
        for k in range(ahead.days)
        for z, zone in enumerate(ahead.zones)
    ]
    return csv_response(f"room-{request.garden.year}.csv", ["day", "place", "holds flats", "taken flats"], rows)


def _over_asked(ahead: BenchAhead, text: str) -> Overflow:
    """The lack of room that is named, else the first."""
    return next((o for o in ahead.overflows if key_of(o) == text), ahead.overflows[0])


@garden_view(no_frost="bench", back="room")
def mend(request: Any) -> HttpResponse:
    """Repairs ticked: what they change, first; kept only then, as one entry."""
    garden, post = request.garden, request.POST
    today = clock.today(garden)
    now = load(garden, today)
    bench = load_bench(now)
    ahead = look_ahead(now, bench)
    asked = post if request.method == "POST" else request.GET
    keys = asked.getlist("take")
    mending = Mending(ahead, _over_asked(ahead, asked.get("over", "")), request.reader) if ahead.overflows else None
    found = [] if mending is None else mending.find(keys)
    if request.method == "POST":
        said = repair_acts.keep(garden, request.user, found, len(set(keys)), today, post.get("key", ""))
        messages.success(request, f"{said}. It can be taken back.")
        return redirect("bench", garden.pk)
    if mending is None:
        return render(request, "bench/mend.html", {"view": "bench"})
    context = {
        "view": "bench",
        "mending": mending,
        "over": mending.over,
        "over_head": headline(mending.over),
        "key": key_of(mending.over),
    }
    if found or not keys:
        context |= _differences(mending, found)
    return render(request, "bench/mend.html", context | {"keys": keys, "gone": len(keys) - len(found)})


def _differences(mending: Mending, found: list[RepairOffer]) -> dict[str, Any]:
    """The room with them, what is left over, and what else they would change."""
    ahead = mending.ahead
    used = ahead.room.used.copy()
    batches: set[int] = set()
    twice = False
    for one in found:
        twice = twice or one.repair.batch in batches
        batches.add(one.repair.batch)
        used = used + one.repair.change
    after = ahead.room._replace(used=used)
    overs = overflows(after)
    before = {(o.zone.key, o.since) for o in ahead.overflows}
    same = [
        o
        for o in overs
        if o.zone.key == mending.over.zone.key and o.since <= mending.over.until and o.until >= mending.over.since
    ]
    then = ahead.with_room(after)
    scale = scale_of(ahead, None)
    moving = np.abs(used - ahead.room.used).max(axis=1) > 1e-6
    changed = {z.key for k, z in enumerate(ahead.zones) if moving[k]} | {mending.over.zone.key}
    return {
        "found": found,
        "twice": twice,
        "left": max((o.trays for o in same), default=0),
        "new": [o for o in overs if (o.zone.key, o.since) not in before and o not in same],
        "before": strips_svg(ahead, None, scale, None, mending.reader, axis=False, only=changed),
        "after": strips_svg(then, None, scale, None, mending.reader, axis=False, only=changed),
        "cost": sum(o.repair.cost for o in found),
        "totals": [sum(getattr(o.repair, name) for o in found) for name in ("days", "minutes", "plants")],
        "best": mending.best,
        "offers": mending.offers[:24],
    }
