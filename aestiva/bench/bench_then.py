"""The bench as it would stand on a day to come, and the marks of what stands there by plan only."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date

from aestiva.bench.ahead import BenchAhead
from aestiva.bench.supplies import begins_of
from aestiva.bench.things import DEPTH_CM, Bench, PartOf, PlaceStanding, Thing, lay_out
from aestiva.course.item import Lit
from aestiva.course.light import growth_of, lights
from aestiva.course.state import Item
from growing.bench.ahead import Stay
from growing.shelves import shelf


def bench_on(ahead: BenchAhead, day: date) -> Bench:
    """The bench as it would stand on a day to come: what stands today in its own tray, the rest as so many flats or pots."""
    if day <= ahead.now.today:
        return ahead.bench
    places = {pk: PlaceStanding(one.spot) for pk, one in ahead.bench.places.items()}
    nowhere: list[Thing] = []
    own, lit = _own_trays(ahead), lights(ahead.now)
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
            thing.parts = [p._replace(growth=_grown(p.item, day, lit)) for p in thing.parts]
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


def _own_trays(ahead: BenchAhead) -> dict[tuple[int, int], list[Thing]]:
    found: dict[tuple[int, int], list[Thing]] = defaultdict(list)
    for thing in ahead.bench.things:
        for part in thing.parts:
            if thing.tray is not None and part.item is not None and thing.spot is not None:
                found[part.batch, thing.spot.pk].append(thing)
    return found


def _grown(item: Item | None, day: date, lit: Mapping[int, Lit]) -> shelf.Grown:
    """How high it will be, counted from the day half are expected to be up."""
    if item is None:
        return shelf.Grown(0.0, 0.0, 0.0)
    if (
        item.raised.facts.half_up
        or item.raised.facts.first_up
        or (item.batch is not None and item.raised.facts.first("received"))
    ):
        return growth_of(item, day, lit)
    return shelf.growth(item.crop, begins_of(item)[1], day)


PLANNED = 1_000_000_000


def part_key(batch: int) -> int:
    """The key of a part in a picture: of a batch its own, of a planting that has none yet far below every other."""
    return batch if batch > 0 else batch - PLANNED


def _as_flats(item: Item, stay: Stay, flats: float, day: date) -> Iterable[Thing]:
    """So many flats, one of them perhaps in part."""
    length, width = 54.0, 28.0
    depth = item.crop.number("pot_cm") if stay.stage == "potted" else DEPTH_CM
    part = PartOf(item, part_key(stay.batch), (), item.raised.wanted, _grown(item, day, {}))
    left = flats
    while left > 1e-6:
        share = min(1.0, left)
        yield Thing(None, [part], {}, length, max(4.0, width * share), depth or DEPTH_CM)
        left -= share
