"""The room that the season will take: every stay of every planting, in its kind of place and on its place, day by day."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property

import numpy as np

from aestiva.bench.stays import NOWHERE, RoomContext, flats_of, ground_of, ref_of, stays_of, zone_of
from aestiva.bench.things import Bench, PlaceStanding, Thing, footprint
from aestiva.course.state import Item, SeasonState, moved
from aestiva.season.models import Spot, TrayStand
from growing.bench.ahead import Floats, Overflow, RoomAhead, Stay, Zone, overflows, room_over
from growing.bench.settling import Piece, SettlingPlace, settle
from growing.shelves.room import TRAY_CM2

LEAST_DAYS, MOST_DAYS, BACK_DAYS = 60, 400, 120
NAMES = {
    "mat": "On mats", "lamp": "Under lamps", "shelf": "On shelves", "sill": "Sill", "porch": "Porch", "frame": "Cold frame",
    "tunnel": "Tunnel",
}  # fmt: skip
ORDER = ("frame", "tunnel", "porch", "sill", "shelf", "lamp", "mat")


@dataclass
class BenchAhead:
    """The season's room: zones with what they hold, places, every stay with whose it is; from a day on."""

    now: SeasonState
    bench: Bench
    ground: RoomContext
    zones: list[Zone]
    places: list[SettlingPlace]
    stays: list[Stay]
    items: dict[int, Item]
    days: int
    idle: dict[int, Thing]
    unsized: list[Spot]
    nowhere: list[Item]

    @cached_property
    def room(self) -> RoomAhead:
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
        return item.full_name if item is not None else self.idle[batch].name

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

    def free(self, place: SettlingPlace, since: date, until: date) -> float:
        """Flats that are free on a place on every day from one until another."""
        first, last = ((d - self.now.today).days for d in (since, until))
        span = self.by_place[place.key][max(0, first) : max(1, last)]
        return place.holds - float(span.max(initial=0.0))

    def with_room(self, room: RoomAhead) -> BenchAhead:
        """The same season with another room taken."""
        other = replace(self)
        other.__dict__["room"] = room
        return other

    def with_stays(self, batch: int, instead: Iterable[Stay]) -> RoomAhead:
        """The room if one batch stood otherwise."""
        rest = [s for s in self.stays if s.batch != batch]
        return room_over(self.zones, [*rest, *instead], self.now.today, self.days)

    def flats_on(self, day: date) -> float:
        """Full flats of all that grows indoors on a day."""
        at = day.toordinal()
        return sum(s.flats for s in self.stays if s.stage != "stands" and s.since <= at < s.until)

    def on(self, day: date) -> list[tuple[Piece, Stay]]:
        """What stands where on a day."""
        at = day.toordinal()
        return [
            (p, self.stays[p.stay]) for p in self.pieces if self.stays[p.stay].since <= at < self.stays[p.stay].until
        ]


def look_ahead(now: SeasonState, bench: Bench) -> BenchAhead:
    """Everything that will take room from today to the last planting out, as far as it is known."""
    zones, places, unsized = _zones(bench)
    ground = ground_of(now, bench, (z.key for z in zones))
    found = BenchAhead(now, bench, ground, zones, places, [], {}, LEAST_DAYS, {}, unsized, [])
    for item in now.items:
        stays = stays_of(now, item, ground)
        if stays:
            found.items[ref_of(item)] = item
            found.stays += stays
            if item.raised.dates.method == "raised" and all(s.zone == NOWHERE for s in stays):
                found.nowhere.append(item)
    found.stays += _idle(found)
    last = max((s.until for s in found.stays if s.stage != "stands"), default=0)
    found.days = min(MOST_DAYS, max(LEAST_DAYS, last - now.today.toordinal() + 7))
    return found


def _zones(bench: Bench) -> tuple[list[Zone], list[SettlingPlace], list[Spot]]:
    """Kinds of place with what they hold, and the places; of those without a size nobody can say it."""
    own: dict[str, list[PlaceStanding]] = defaultdict(list)
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
            places.append(SettlingPlace(one.spot.pk, kinds, float(max(0, one.holds - mats)), clear))
    return zones, places, unsized


def _lies_under_lamp(bench: Bench, mat: PlaceStanding) -> bool:
    parent = bench.places.get(mat.spot.parent_id or 0)
    return parent is not None and parent.spot.lit == "lamp"


def _above(bench: Bench, mat: PlaceStanding) -> float | None:
    parent = bench.places.get(mat.spot.parent_id or 0)
    return None if parent is None else parent.spot.clear_cm


def _idle(found: BenchAhead) -> list[Stay]:
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


def moved_ahead(found: BenchAhead, chosen: Mapping[int, date | None]) -> BenchAhead:
    """The same with other sowing days tried, by planting; None lets one follow the rules again."""
    if not chosen:
        return found
    changed = moved(found.now, chosen)
    gone = {ref_of(one.before) for one in changed}
    stays = [s for s in found.stays if s.batch not in gone]
    stays += [s for one in changed for s in stays_of(found.now, one.after, found.ground)]
    return replace(found, stays=stays)


def history(now: SeasonState, bench: Bench, zones: Sequence[Zone], back: int = BACK_DAYS) -> RoomAhead:
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
