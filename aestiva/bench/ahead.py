"""The room that the season will take: every stay of every planting, in its kind of place and on its place, day by day."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from aestiva.bench.supplies import begins_of, standing_in, taken_by
from aestiva.bench.things import DEPTH_CM, Bench, PartOf, Standing, Thing, footprint, growth_of, lay_out
from aestiva.course.state import Item, SeasonState, moved
from aestiva.season.models import Spot, TrayStand
from aestiva.season.things import own_vessels
from growing.bench import shelf
from growing.bench.ahead import Floats, Overflow, Room, Stay, Zone, overflows, room_over
from growing.bench.how import ROOM_C, laying
from growing.bench.room import TRAY_CM2
from growing.bench.settling import Piece, Place, settle
from growing.chain.path import Vessel
from growing.plantingout.steps import SPARE_DAYS
from growing.steps import GoesTo

LEAST_DAYS, MOST_DAYS, BACK_DAYS = 60, 400, 120
NAMES = {
    "mat": "On mats", "lamp": "Under lamps", "shelf": "On shelves", "sill": "Sill", "porch": "Porch", "frame": "Cold frame",
    "tunnel": "Tunnel",
}  # fmt: skip
ORDER = ("frame", "tunnel", "porch", "sill", "shelf", "lamp", "mat")
NOWHERE = ""


def zone_of(spot: Spot) -> str:
    """The kind of room that a place is; empty where no room is counted there: racks and rooms are what carries places."""
    if spot.kind == "mat":
        return "mat"
    if spot.lit == "lamp":
        return "lamp"
    if spot.kind in ("sill", "porch", "frame", "tunnel"):
        return spot.kind
    if spot.kind == "shelf":
        return "sill" if spot.lit == "window" else "shelf"
    return NOWHERE


@dataclass
class Ahead:
    """The season's room: zones with what they hold, places, every stay with whose it is; from a day on."""

    now: SeasonState
    bench: Bench
    zones: list[Zone]
    places: list[Place]
    stays: list[Stay]
    items: dict[int, Item]
    days: int
    idle: dict[int, Thing]
    unsized: list[Spot]
    nowhere: list[Item]

    @cached_property
    def room(self) -> Room:
        return room_over(self.zones, self.stays, self.now.today, self.days)

    @cached_property
    def overflows(self) -> list[Overflow]:
        return overflows(self.room)

    @cached_property
    def pieces(self) -> list[Piece]:
        return settle(self.stays, self.places, self.now.today.toordinal(), self.days)

    @property
    def within(self) -> dict[str, str]:
        return {z.key: z.within for z in self.zones if z.within}

    def zone(self, key: str) -> Zone | None:
        return next((z for z in self.zones if z.key == key), None)

    def name_of(self, batch: int) -> str:
        item = self.items.get(batch)
        return f"{item.name} {item.variety}".strip() if item is not None else self.idle[batch].name

    @cached_property
    def by_place(self) -> dict[int, Floats]:
        """Flats taken on each place on each day, (days,)."""
        start = self.now.today.toordinal()
        found = {p.key: np.zeros(self.days) for p in self.places}
        for piece in self.pieces:
            if piece.place in found:
                stay = self.stays[piece.stay]
                found[piece.place][max(0, stay.since - start) : max(0, stay.until - start)] += piece.flats
        return found

    def free(self, place: Place, since: date, until: date) -> float:
        """Flats that are free on a place on every day from one until another."""
        first, last = ((d - self.now.today).days for d in (since, until))
        span = self.by_place[place.key][max(0, first) : max(1, last)]
        return place.holds - float(span.max(initial=0.0))

    def with_room(self, room: Room) -> Ahead:
        """The same season with another room taken."""
        other = replace(self)
        other.__dict__["room"] = room
        return other

    def with_stays(self, batch: int, instead: Iterable[Stay]) -> Room:
        """The room if one batch stood otherwise."""
        rest = [s for s in self.stays if s.batch != batch]
        return room_over(self.zones, [*rest, *instead], self.now.today, self.days)

    def on(self, day: date) -> list[tuple[Piece, Stay]]:
        """What stands where on a day."""
        at = day.toordinal()
        return [
            (p, self.stays[p.stay]) for p in self.pieces if self.stays[p.stay].since <= at < self.stays[p.stay].until
        ]


class _Ground(NamedTuple):
    """What all plantings share while their stays are worked out."""

    vessels: list[Vessel]
    stands_in: dict[int, Vessel]
    spots: dict[int, Spot]
    here: dict[int, list[tuple[int, float]]]  # batch → (place, flats) today
    zones: frozenset[str]


def ref_of(item: Item) -> int:
    """A batch by its key, a planting of which nothing is sown by its key, negative."""
    return item.batch.pk if item.batch is not None else -item.planting.pk


def look_ahead(now: SeasonState, bench: Bench) -> Ahead:
    """Everything that will take room from today to the last planting out, as far as it is known."""
    spots = {pk: one.spot for pk, one in bench.places.items()}
    zones, places, unsized = _zones(bench)
    found = Ahead(now, bench, zones, places, [], {}, LEAST_DAYS, {}, unsized, [])
    at = _ground(now, bench, spots, frozenset(z.key for z in zones))
    for item in now.items:
        stays = stays_of(now, item, at)
        if stays:
            found.items[ref_of(item)] = item
            found.stays += stays
            if item.raised.dates.method == "raised" and all(s.zone == NOWHERE for s in stays):
                found.nowhere.append(item)
    found.stays += _idle(found)
    last = max((s.until for s in found.stays if s.stage != "stands"), default=0)
    found.days = min(MOST_DAYS, max(LEAST_DAYS, last - now.today.toordinal() + 7))
    return found


def ground_for(now: SeasonState, bench: Bench) -> _Ground:
    """What stays are worked out from, for one planting that might stand otherwise."""
    spots = {pk: one.spot for pk, one in bench.places.items()}
    return _ground(now, bench, spots, frozenset(z.key for z in _zones(bench)[0]))


def _ground(now: SeasonState, bench: Bench, spots: dict[int, Spot], zones: frozenset[str]) -> _Ground:
    here: dict[int, list[tuple[int, float]]] = defaultdict(list)
    for pk, one in bench.places.items():
        for thing in one.things:
            live = [p for p in thing.parts if p.item is not None]
            whole = sum(len(p.cells) or 1 for p in live)
            for part in live:
                here[part.batch].append((pk, flats_of(thing) * (len(part.cells) or 1) / max(1, whole)))
    return _Ground(own_vessels(now.garden), standing_in(now.garden), spots, here, zones)


def flats_of(thing: Thing) -> float:
    """Ground that a thing takes, in full flats."""
    return thing.length_cm * thing.width_cm / TRAY_CM2


def _zones(bench: Bench) -> tuple[list[Zone], list[Place], list[Spot]]:
    """Kinds of place with what they hold, and the places; of those without a size nobody can say it."""
    own: dict[str, list[Standing]] = defaultdict(list)
    for pk in bench.order:
        one = bench.places[pk]
        if key := zone_of(one.spot):
            own[key].append(one)
    lit = sum(m.holds for m in own["mat"] if _lies_under_lamp(bench, m)) * 2 >= sum(m.holds for m in own["mat"])
    zones, places, unsized = [], [], []
    for key in ORDER:
        here = own[key]
        if not here:
            continue
        sized = [one for one in here if one.size_said]
        unsized += [one.spot for one in here if not one.size_said]
        name = (
            NAMES[key] if len(here) > 1 or key in ("mat", "lamp", "shelf") else here[0].spot.name or here[0].spot.code
        )
        holds = float(sum(one.holds for one in sized)) if len(sized) == len(here) else None
        within = "lamp" if key == "mat" and own["lamp"] and lit else ""
        zones.append(Zone(key, name, holds, within))
        for one in sized:
            mats = sum(m.holds for m in one.mats)
            kinds = (key, "lamp") if key == "mat" and within else (key,)
            clear = one.spot.clear_cm or (None if key != "mat" else _above(bench, one))
            places.append(Place(one.spot.pk, kinds, float(max(0, one.holds - mats)), clear))
    return zones, places, unsized


def _lies_under_lamp(bench: Bench, mat: Standing) -> bool:
    parent = bench.places.get(mat.spot.parent_id or 0)
    return parent is not None and parent.spot.lit == "lamp"


def _above(bench: Bench, mat: Standing) -> float | None:
    parent = bench.places.get(mat.spot.parent_id or 0)
    return None if parent is None else parent.spot.clear_cm


def _idle(found: Ahead) -> list[Stay]:
    """Trays that stand there and hold nothing that lives: they take room until somebody puts them away."""
    stays = []
    begin = found.now.today.toordinal()
    for n, thing in enumerate(found.bench.things):
        if thing.spot is None or any(p.item is not None for p in thing.parts):
            continue
        key = -1_000_000_000 - n
        found.idle[key] = thing
        zone = zone_of(thing.spot)
        stays.append(Stay(key, zone, begin, begin + MOST_DAYS, flats_of(thing), "stands", thing.spot.pk))
    return stays


def stays_of(
    now: SeasonState, item: Item, at: _Ground, goes: Sequence[GoesTo] | None = None, put_off: date | None = None
) -> list[Stay]:
    """Where one planting or batch stands and how much ground it takes, from today or its sowing until it is out for good.

    goes: the places it might be carried to, None: as somebody named them.  put_off: the day to which its next potting might be
    put off.
    """
    raised, dates = item.raised, item.raised.dates
    here = at.here.get(item.batch.pk, []) if item.batch is not None else []
    if raised.facts.planted_on is not None and not here:
        return []
    if item.batch is not None and not raised.growing and not here:
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
    at: _Ground,
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
        move = spans[0][1] if spans and item.raised.growing else until
        if not item.raised.growing:
            move = until = max(today + SPARE_DAYS, until)  # what is over fills gaps for some days yet
        stage = "potted" if item.raised.facts.first("potted") else "grown"
        depth = spans[0][4] if spans else DEPTH_CM
        return [(today, move, flats, stage, depth), *[s for s in spans if s[0] >= move]]
    return spans


def homes(item: Item, at: _Ground) -> tuple[tuple[str, int], tuple[str, int]]:
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
    at: _Ground,
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


def moved_ahead(found: Ahead, chosen: Mapping[int, date | None]) -> Ahead:
    """The same with other sowing days tried, by planting; None lets one follow the rules again."""
    if not chosen:
        return found
    at = ground_for(found.now, found.bench)
    changed = moved(found.now, chosen)
    gone = {ref_of(one.before) for one in changed}
    stays = [s for s in found.stays if s.batch not in gone]
    stays += [s for one in changed for s in stays_of(found.now, one.after, at)]
    return replace(found, stays=stays)


def history(now: SeasonState, bench: Bench, zones: Sequence[Zone], back: int = BACK_DAYS) -> Room:
    """The room that was taken on the days before today, by where trays stood."""
    start = now.today - timedelta(days=back)
    rows = TrayStand.objects.filter(tray__garden=now.garden, since__lt=now.today).exclude(until__lte=start)
    stays = []
    for row in rows.select_related("tray__container", "spot"):
        wide, deep = footprint(row.tray)
        until = min(row.until or now.today, now.today).toordinal()
        stays.append(
            Stay(row.tray_id, zone_of(row.spot), row.since.toordinal(), until, wide * deep / TRAY_CM2, "stands")
        )
    return room_over(zones, stays, start, back)


def bench_on(ahead: Ahead, day: date) -> Bench:
    """The bench as it would stand on a day to come: what stands today in its own tray, the rest as so many flats or pots."""
    if day <= ahead.now.today:
        return ahead.bench
    places = {pk: Standing(one.spot) for pk, one in ahead.bench.places.items()}
    nowhere: list[Thing] = []
    own = _own_trays(ahead)
    today = ahead.now.today.toordinal()
    for piece, stay in ahead.on(day):
        item = ahead.items.get(stay.batch)
        if item is None:
            continue
        trays = own.get((stay.batch, stay.place), []) if stay.since <= today else []
        things = [replace(t, spot=None, rect=None, headroom=None) for t in trays] or list(
            _as_flats(item, stay, piece.flats, day)
        )
        for thing in things:
            thing.parts = [p._replace(growth=_grown(p.item, day)) for p in thing.parts]
            if piece.place in places:
                if all(
                    t.tray is None or thing.tray is None or t.tray.pk != thing.tray.pk
                    for t in places[piece.place].things
                ):
                    thing.spot = places[piece.place].spot
                    places[piece.place].things.append(thing)
            elif stay.zone and piece.place is None:
                nowhere.append(thing)
    for one in places.values():
        one.things.sort(key=lambda t: -t.length_cm * t.width_cm)  # the small ones fill what is left
    lay_out(places)
    return Bench(places, ahead.bench.order, nowhere)


def _own_trays(ahead: Ahead) -> dict[tuple[int, int], list[Thing]]:
    found: dict[tuple[int, int], list[Thing]] = defaultdict(list)
    for thing in ahead.bench.things:
        for part in thing.parts:
            if thing.tray is not None and part.item is not None and thing.spot is not None:
                found[part.batch, thing.spot.pk].append(thing)
    return found


def _grown(item: Item | None, day: date) -> shelf.Growth:
    """How high it will be, counted from the day half are expected to be up."""
    if item is None:
        return shelf.Growth(0.0, 0.0, 0.0)
    if (
        item.raised.facts.half_up
        or item.raised.facts.first_up
        or (item.batch is not None and item.raised.facts.first("received"))
    ):
        return growth_of(item, day)
    return shelf.growth(item.crop, begins_of(item)[1], day)


PLANNED = 1_000_000_000


def part_key(batch: int) -> int:
    """The key of a part in a picture: of a batch its own, of a planting that has none yet far below every other."""
    return batch if batch > 0 else batch - PLANNED


def _as_flats(item: Item, stay: Stay, flats: float, day: date) -> Iterable[Thing]:
    """So many flats, one of them perhaps in part."""
    length, width = 54.0, 28.0
    depth = item.crop.number("pot_cm") if stay.stage == "potted" else DEPTH_CM
    part = PartOf(item, part_key(stay.batch), (), item.raised.wanted, _grown(item, day))
    left = flats
    while left > 1e-6:
        share = min(1.0, left)
        yield Thing(None, [part], {}, length, max(4.0, width * share), depth or DEPTH_CM)
        left -= share
