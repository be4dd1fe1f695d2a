"""Where one planting or batch stands from today until it is out for good, and how much ground it takes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import date, timedelta
from itertools import pairwise
from typing import NamedTuple

from aestiva.bench.supplies import begins_of, standing_in, taken_by
from aestiva.bench.things import DEPTH_CM, Bench, Thing
from aestiva.course.state import Item, SeasonState
from aestiva.season.models import Spot
from aestiva.season.things import own_vessels
from growing.batch.facts import GoesTo
from growing.bench.ahead import Stay
from growing.chain.path import Vessel
from growing.place.kinds import DAYLIT
from growing.plantingout.steps import SPARE_DAYS
from growing.shelves import shelf
from growing.shelves.laying import ROOM_C, laying
from growing.shelves.room import TRAY_CM2

NOWHERE = ""


def zone_of(spot: Spot) -> str:
    """The kind of room that a place is; empty where no room is counted there: racks and rooms are what carries places."""
    if spot.kind == "mat":
        return "mat"
    if spot.lit == "lamp":
        return "lamp"
    if spot.kind in DAYLIT:
        return spot.kind
    if spot.kind == "shelf":
        return "sill" if spot.lit == "window" else "shelf"
    return NOWHERE


def flats_of(thing: Thing) -> float:
    """Ground that a thing takes, in full flats."""
    return thing.length_cm * thing.width_cm / TRAY_CM2


class RoomContext(NamedTuple):
    """What all plantings share while their stays are worked out."""

    vessels: list[Vessel]
    stands_in: dict[int, Vessel]
    spots: dict[int, Spot]
    here: dict[int, list[tuple[int, float]]]  # batch → (place, flats) today
    zones: frozenset[str]


def ref_of(item: Item) -> int:
    """A batch by its key, a planting of which nothing is sown by its key, negative."""
    return item.batch.pk if item.batch is not None else -item.planting.pk


def ground_of(now: SeasonState, bench: Bench, zones: Iterable[str]) -> RoomContext:
    """What is read once for all plantings.  zones: the kinds of place there are."""
    here: dict[int, list[tuple[int, float]]] = defaultdict(list)
    for pk, one in bench.places.items():
        for thing in one.things:
            live = [p for p in thing.parts if p.item is not None]
            whole = sum(len(p.cells) or 1 for p in live)
            for part in live:
                here[part.batch].append((pk, flats_of(thing) * (len(part.cells) or 1) / max(1, whole)))
    spots = {pk: one.spot for pk, one in bench.places.items()}
    return RoomContext(own_vessels(now.garden), standing_in(now.garden), spots, here, frozenset(zones))


def stays_of(
    now: SeasonState, item: Item, at: RoomContext, goes: Sequence[GoesTo] | None = None, put_off: date | None = None
) -> list[Stay]:
    """Where one planting or batch stands and how much ground it takes, from today or its sowing until it is out for good.

    goes: the places it might be carried to, None: as somebody named them.  put_off: the day to which its next potting might be
    put off.
    """
    raised, dates = item.raised, item.raised.dates
    here = at.here.get(item.batch.pk, []) if item.batch is not None else []
    if raised.facts.planted_on is not None and not here:
        return []
    if item.batch is not None and not raised.alive and not here:
        return []
    if item.batch is None and dates.method != "raised":
        return []
    today, ref = now.today.toordinal(), ref_of(item)
    until = max(_out_for_good(item), today + 1)
    up = begins_of(item)[1].toordinal()
    lid = raised.course.steps.get("lid")
    ready = max(up, lid.day.toordinal()) if lid is not None else up
    pieces = _grounds(now, item, at, here, today, until, put_off)
    warm, light = homes(item, at)
    named = now.rows.goes.get(item.planting.pk, []) if goes is None else goes
    found: list[Stay] = []
    for since, end, flats, stage, depth in pieces:
        for a, b, zone, place, share in _whereabouts(named, at, here, since, end, ready, today, warm, light):
            kind = "seed" if b <= ready else stage
            high = shelf.growth(item.crop, date.fromordinal(up), date.fromordinal(b - 1)).height_cm + depth
            found.append(Stay(ref, zone, a, b, flats * share, kind, place, round(high, 1)))
    return [s for s in found if s.since < s.until and s.flats > 0]


def _out_for_good(item: Item) -> int:
    """The day from which it stands out by day and night, or is planted: until then its room is kept."""
    out = item.raised.dates.out_on
    nights = 0
    if item.raised.hardens:
        for rung in reversed(item.raised.ladder.rungs):
            if not rung.night:
                break
            nights += 1
    return (out - timedelta(days=nights)).toordinal()


def _grounds(
    now: SeasonState,
    item: Item,
    at: RoomContext,
    here: Sequence[tuple[int, float]],
    today: int,
    until: int,
    put_off: date | None = None,
) -> list[tuple[int, int, float, str, float]]:
    """(from, until, flats, stage, depth of what it stands in): what stands today as it stands, then as its containers follow."""
    taken = taken_by(now, item, at.vessels, at.stands_in, put_off)
    spans = []
    for n, one in enumerate(taken):
        last = n + 1 == len(taken)
        end = until if last else min(until, one.until.toordinal())
        spans.append((max(today, one.since.toordinal()), end, one.flats, "potted" if n else "grown", one.depth_cm))
    spans = [s for s in spans if s[0] < s[1]]
    if here:
        flats = sum(f for _, f in here)
        move = spans[0][1] if spans and item.raised.alive else until
        if not item.raised.alive:
            move = until = max(today + SPARE_DAYS, until)  # what is over fills gaps for some days yet
        stage = "potted" if item.raised.facts.first("potted") else "grown"
        depth = spans[0][4] if spans else DEPTH_CM
        return [(today, move, flats, stage, depth), *[s for s in spans if s[0] >= move]]
    return spans


def homes(item: Item, at: RoomContext) -> tuple[tuple[str, int], tuple[str, int]]:
    """Zone and place (0: any) until it is up, and after that: as somebody chose, else a mat for what likes it warm, then lamps."""
    planting = item.planting
    light: tuple[str, int] = (next((z for z in ("lamp", "shelf", "sill") if z in at.zones), NOWHERE), 0)
    spot = at.spots.get(planting.raised_at_id or 0)
    if spot is not None and zone_of(spot):
        light = (zone_of(spot), spot.pk)
    warm = light
    lay = laying(item.crop)
    chosen = at.spots.get(planting.germinates_at_id or 0)
    if chosen is not None and zone_of(chosen):
        warm = (zone_of(chosen), chosen.pk)
    elif "mat" in at.zones and lay.mat and lay.low_c > ROOM_C and light[0] in ("lamp", "shelf", NOWHERE):
        warm = ("mat", 0)
    return warm, light


def _whereabouts(
    goes: Sequence[GoesTo],
    at: RoomContext,
    here: Sequence[tuple[int, float]],
    since: int,
    until: int,
    ready: int,
    today: int,
    warm: tuple[str, int],
    light: tuple[str, int],
) -> list[tuple[int, int, str, int, float]]:
    """One stretch parted by where it stands: (from, until, zone, place, share of its ground)."""
    moves = [(max(to.since.toordinal(), today), to.spot) for to in goes if to.spot in at.spots]
    stands = [(pk, flats) for pk, flats in here if pk in at.spots]
    whole = sum(f for _, f in stands) or 1.0
    cuts = sorted(
        {since, until, *(d for d, _ in moves if since < d < until), *([ready] if since < ready < until else [])}
    )
    found: list[tuple[int, int, str, int, float]] = []
    for a, b in pairwise(cuts):
        gone = [spot for day, spot in moves if day <= a]
        if gone and (a > today or not stands):
            spot = at.spots[gone[-1]]
            found.append((a, b, zone_of(spot), spot.pk, 1.0))
        elif stands:
            for pk, flats in stands:
                zone = zone_of(at.spots[pk])
                if zone == "mat" and a >= ready and a > today:
                    found.append((a, b, *light, flats / whole))
                else:
                    found.append((a, b, zone, pk, flats / whole))
        else:
            found.append((a, b, *(warm if a < ready else light), 1.0))
    return found
