"""The round: every tray in walking order, how much of its water is left, what will most likely be found, when it is dry."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from itertools import pairwise
from math import ceil, sqrt
from statistics import median
from types import MappingProxyType
from typing import NamedTuple

from django.core.cache import cache

from aestiva.bench.things import Bench, PartOf, Thing, grid, load_bench
from aestiva.care.air import Air, airs
from aestiva.care.models import PotLook, TrayLook
from aestiva.course.item import Lit
from aestiva.course.light import lights, range_c
from aestiva.course.state import Item, SeasonState
from aestiva.frame import say
from aestiva.gardens import clock
from aestiva.gardens.cache_keys import kept_key
from aestiva.gardens.models import Garden
from aestiva.season.models import Spot
from growing.bench.cells import lopsided
from growing.care.water import UNDER_LID_DAYS, USUAL_RH, WANTS, NextLook, TrayWater, WateringLook, next_look, takes
from growing.light.window import extraterrestrial
from growing.place.kinds import SHELTERED

MEMORY_DAYS = 30  # looks that speak of a tray's thirst
NOT_SAID = "place not said"
MOIST = ("never dry", "even", "dry between")  # the one that wants it wettest speaks for a tray
MINUTES_A_TRAY, MINUTES_TO_WATER = 0.3, 1.0  # of the round: estimates
LEAST_TRAYS, LEAST_ROUNDS = 4, 2
LEAST_MINUTES, MOST_MINUTES = 0.05, 6.0  # a tray, of a round that was walked in one go
LEAST_LOOKS, WORTH_SAYING = 4, 0.1
KEPT_S = 3600
DAYS_AHEAD = 14
MJ_A_MM = 0.408  # mm of water that a MJ m⁻² takes up


class Stop(NamedTuple):
    """One tray on the round, or pots by themselves: its key ("t7", "b3"), its place (None: nobody said where it stands), its names, its
    water, and today's look if there was one."""

    key: str
    spot: Spot | None
    thing: Thing
    names: tuple[str, ...]
    tray: TrayWater
    looks: tuple[WateringLook, ...]
    next: NextLook
    today: Looked | None
    lying: bool
    under_lid_days: int | None
    since: date | None
    at: date

    @property
    def code(self) -> str:
        return self.thing.tray.code if self.thing.tray is not None else ""

    @property
    def place(self) -> str:
        """The code of its place, in words where nobody said it."""
        return NOT_SAID if self.spot is None else self.spot.code

    @property
    def batches(self) -> set[int]:
        return {p.batch for p in self.thing.parts}

    @property
    def who(self) -> str:
        return ", ".join(self.names)

    @property
    def due(self) -> bool:
        """Is it to be looked at today?"""
        return self.today is None and not self.rests and (self.next.left is None or self.next.due)

    @property
    def rests(self) -> bool:
        """Sown lately and under a lid: nothing is given for the first days."""
        return (
            self.lying
            and self.thing.lidded
            and self.under_lid_days is not None
            and self.under_lid_days < UNDER_LID_DAYS
        )

    @property
    def again_on(self) -> date:
        """The day of its next look; once it was seen today, not before tomorrow."""
        if self.rests:
            return self.next.look_on + timedelta(days=UNDER_LID_DAYS - (self.under_lid_days or 0))
        return self.next.look_on if self.today is None else max(self.next.look_on, self.today.day + timedelta(days=1))

    @property
    def thirsty(self) -> bool:
        """Will it most likely be found dry?"""
        return self.due and self.next.left is not None and self.next.expects in WANTS

    @property
    def unseen(self) -> bool:
        """Has nobody ever looked?"""
        return self.due and self.next.left is None

    @property
    def learned(self) -> str:
        """How much thirstier it is than the balance has it, where its own looks say so: “1.3 ×”; empty where not."""
        times = self.next.thirst
        told = len(self.looks) >= LEAST_LOOKS and abs(times - 1) >= WORTH_SAYING
        return f"{say.number(times)}\u00a0×" if told else ""

    @property
    def drier(self) -> bool:
        """Is it kept drier because it hardens off?"""
        live = [p.item for p in self.thing.parts if p.item is not None]
        usual = any(item.crop.word("moisture") == "even" and hardens_now(item, self.at) for item in live)
        return usual and self.tray.moisture == "dry between"

    @property
    def left_said(self) -> str:
        return "" if self.next.left is None else say.percent(self.next.left)

    @property
    def litres(self) -> float:
        return self.next.litres


class Round(NamedTuple):
    """All stops in walking order; today's, the done ones, and those that wait."""

    stops: list[Stop]
    a_tray: float | None = None  # minutes, as the last rounds took; None: nobody walked one yet
    air: Mapping[int, Air] = MappingProxyType({})  # of the places of which anybody said something

    @property
    def due(self) -> list[Stop]:
        return [s for s in self.stops if s.due]

    @property
    def done(self) -> list[Stop]:
        return [s for s in self.stops if s.today is not None]

    @property
    def waiting(self) -> list[Stop]:
        return sorted((s for s in self.stops if not s.due and s.today is None), key=lambda s: s.next.days)

    @property
    def thirsty(self) -> list[Stop]:
        return [s for s in self.stops if s.thirsty]

    @property
    def unseen(self) -> list[Stop]:
        return [s for s in self.stops if s.unseen]

    @property
    def litres(self) -> float:
        """What those that are likely thirsty take together: the can to fill."""
        return sum(s.litres for s in self.thirsty)

    @property
    def minutes(self) -> int:
        """Of today's."""
        return self._minutes([(s, s.thirsty or s.unseen) for s in self.due])

    def minutes_on(self, day: date) -> int:
        """Of a day: today's, or of those that are to be looked at on a day ahead, as if all wanted water then."""
        today = self.stops[0].at if self.stops else day
        return self.minutes if day <= today else self._minutes([(s, True) for s in self.stops if s.again_on == day])

    def _minutes(self, stops: Sequence[tuple[Stop, bool]]) -> int:
        if self.a_tray is not None:
            return ceil(self.a_tray * len(stops))
        return ceil(sum(MINUTES_A_TRAY + MINUTES_TO_WATER * waters for _, waters in stops))


def learned(looks: Mapping[str, list[Looked]]) -> float | None:
    """Minutes a tray of the rounds of late, by the times from one look to the next; the middle one, None of fewer than two rounds.

    What lies longer between two looks was no walk from one tray to the next: a round in two goes is two.
    """
    hours: dict[date, list[float]] = defaultdict(list)
    for rows in looks.values():
        for row in rows:
            hours[row.day].append(row.hour)
    found = []
    for times in hours.values():
        times.sort()
        steps = [60 * (b - a) for a, b in pairwise(times) if 60 * (b - a) <= MOST_MINUTES]
        if (
            len(times) >= LEAST_TRAYS
            and 2 * len(steps) >= len(times) - 1
            and (each := sum(steps) / len(steps)) >= LEAST_MINUTES
        ):
            found.append(each)
    return float(median(found)) if len(found) >= LEAST_ROUNDS else None


def headline(found: Round) -> str:
    """“8 trays, 6 minutes: 3 want water”"""
    due, thirsty, unseen = len(found.due), len(found.thirsty), len(found.unseen)
    if not found.stops:
        return "Nothing stands here that wants water"
    if not due:
        when = f"; next {say.day(min(s.again_on for s in found.stops))}"
        return f"The round is done{when}" if found.done else f"No tray wants water today{when}"
    wants = {0: "none is likely to want water", 1: "one wants water"}.get(thirsty, f"{thirsty} want water")
    if unseen:
        never = "nobody has looked at them yet" if unseen == due else f"nobody has looked at {unseen} yet"
        wants = f"{wants}, {never}" if thirsty else never
    return f"{say.plural(due, 'tray')}, {say.plural(found.minutes, 'minute')}: {wants}"


class RoundKept(NamedTuple):
    """The round in short, as Today shows it: its line, and its minutes today and on the days ahead."""

    said: str
    minutes: Mapping[date, int]


def in_short(now: SeasonState) -> RoundKept:
    """The round in short, reckoned once an hour and revision."""
    found = kept(now)
    if found is None:
        here = the_round(now)
        days = (now.today + timedelta(days=k) for k in range(DAYS_AHEAD))
        found = RoundKept(headline(here), {day: here.minutes_on(day) for day in days})
        cache.set(_key(now), found, KEPT_S)
    return found


def kept(now: SeasonState) -> RoundKept | None:
    """The same where it was reckoned within the hour."""
    found = cache.get(_key(now))
    return found if isinstance(found, RoundKept) else None


def _key(now: SeasonState) -> str:
    return kept_key("round", now.garden, now.today, int(moment(now.garden) * 24))


def upkeep(now: SeasonState, day: date) -> int:
    """Minutes of the round on a day."""
    return in_short(now).minutes.get(day, 0) if now.whole else 0


def moment(garden: Garden) -> float:
    """Now, in days as looks count them."""
    return clock.today(garden).toordinal() + clock.hour(garden) / 24


def the_round(now: SeasonState, bench: Bench | None = None) -> Round:
    """Every tray that holds something alive, in the order of places and then from the left; last what stands nobody said where."""
    bench = load_bench(now) if bench is None else bench
    looks, air = looks_of(now.garden, now.today), airs(now.garden, now.today)
    lit, at = lights(now), moment(now.garden)
    found = []
    for pk in bench.order:
        one = bench.places[pk]
        here = sorted(
            one.things, key=lambda t: (t.rect is None, t.rect.x if t.rect else 0.0, t.rect.y if t.rect else 0.0)
        )
        for thing in here:
            stop = _stop(now, one.spot, thing, looks, lit, at, air.get(one.spot.pk))
            if stop is not None:
                found.append(stop)
    for thing in bench.nowhere:
        stop = _stop(now, None, thing, looks, lit, at)
        if stop is not None:
            found.append(stop)
    return Round(found, learned(looks), air)


def _stop(
    now: SeasonState,
    spot: Spot | None,
    thing: Thing,
    looks: Mapping[str, list[Looked]],
    lit: Mapping[int, Lit],
    at: float,
    air: Air | None = None,
) -> Stop | None:
    live = [p for p in thing.parts if p.item is not None]
    if not live or thing.boxed:  # boxes are left to the weather, and looked into by a task of their own
        return None
    key = key_of(thing)
    mine = looks.get(key, [])
    tray = tray_of(now, spot, thing, lit, air)._replace(takes=takes([row.over for row in mine if row.over is not None]))
    told = tuple(_look(row) for row in mine)
    later = all(p.item is not None and p.item.crop.word("water_way") == "later" for p in live)
    names = tuple(dict.fromkeys(p.item.full_name for p in live if p.item is not None))
    sown = [p.item.raised.facts.sown_on for p in live if p.item is not None and p.item.raised.facts.sown_on]
    return Stop(
        key, spot, thing, names, tray, told, next_look(", ".join(names), tray, told, at, now.today, later),
        next((row for row in reversed(mine) if row.day == now.today and not _left_dry(row)), None),
        all(p.growth.height_cm == 0 for p in live), (now.today - max(sown)).days if sown else None,
        max(sown, default=None), now.today,
    )  # fmt: skip


def _look(row: Looked) -> WateringLook:
    """A row as the balance reads it: what was weighed and found watered had been watered before."""
    since = row.watered and row.left is not None
    return WateringLook(row.day.toordinal() + row.hour / 24, row.found, row.watered and not since, row.left, since)


def _left_dry(row: Looked) -> bool:
    """Did a scale find it dry, and has nobody watered it?  Then somebody is still to come."""
    return row.left is not None and row.found in WANTS and not row.watered


def key_of(thing: Thing) -> str:
    """How a tray, or pots by themselves, is named in addresses."""
    return f"t{thing.tray.pk}" if thing.tray is not None else f"b{thing.parts[0].batch}"


def hardens_now(item: Item, today: date) -> bool:
    """Is it out on its ladder, or due to begin?"""
    step = item.raised.course.steps.get("harden")
    return step is not None and step.day <= today


def tray_of(
    now: SeasonState, spot: Spot | None, thing: Thing, lit: Mapping[int, Lit], air: Air | None = None
) -> TrayWater:
    """What the balance needs to know of it."""
    live = [p for p in thing.parts if p.item is not None]
    leading = max(live, key=lambda p: p.growth.leaves)
    assert leading.item is not None
    crop = leading.item.crop
    container = None if thing.tray is None else thing.tray.container
    if container is not None:
        ml, cells = container.cell_ml, thing.tray.cells if thing.tray is not None else container.cells
        ground = container.length_cm * container.width_cm / max(1, container.cells)
    else:
        cells = thing.tray.cells if thing.tray is not None else max(1, sum(_cells(p) for p in live))
        ml = crop.number("cell_ml")
        ground = thing.length_cm * thing.width_cm / max(1, cells)
    filled = sum(len(p.cells) for p in live) or cells
    assert now.shared is not None
    dating = now.shared.dating
    room = dating.room(leading.item.planting) if spot is None else dating.room_at(spot.pk)
    mean = None if room is None else room.air_c(now.today)
    given = lit.get(leading.batch)
    moist = min((p.item.crop.word("moisture") for p in live if p.item is not None), key=MOIST.index)
    if moist == "even" and all(hardens_now(p.item, now.today) for p in live if p.item is not None):
        moist = "dry between"  # drying out goes with hardening off
    ready = crop.number("ready_leaves_max")
    return TrayWater(
        ml, ground, min(cells, filled), leading.growth.leaves, ready, moist, mean, None if given is None else given.last,
        "lid" if thing.lidded else "", air is not None and air.fan, _evaporation(now, spot, mean),
        USUAL_RH if air is None or air.humidity is None else air.humidity / 100,
        container is None or container.drains, container is not None and container.kind.startswith("block"),
    )  # fmt: skip


def _cells(part: PartOf) -> int:
    """Cells of what stands in no tray that anybody named: those it was sown in, or a pot a plant once it was potted."""
    one = None if part.item is None else part.item.raised
    return part.standing if one is None or one.cells is None or one.facts.first("potted") is not None else one.cells


def _evaporation(now: SeasonState, spot: Spot | None, mean: float | None) -> float | None:
    """What the air outdoors takes in a day [mm], by the usual range of temperatures (Hargreaves); None indoors, or where nobody knows."""
    wide = range_c(now, now.today)
    if spot is None or spot.kind not in SHELTERED or wide is None or mean is None:
        return None
    above = extraterrestrial(now.garden.latitude, now.today)
    return max(0.2, 0.0023 * (mean + 17.8) * sqrt(wide) * above * MJ_A_MM)


def corner_lost(stop: Stop) -> str:
    """The corner in which most of a tray's losses sit, in words; empty where they are few or everywhere."""
    found = None if stop.thing.tray is None else lopsided(grid(stop.thing.tray), stop.thing.contents)
    if found is None:
        return ""
    return f"at its {'marked' if found[0] else 'far'} end, {'left' if found[1] else 'right'}"


class Looked(NamedTuple):
    """A look at the water as it was written down: left: by weight; over: of the dose, poured off."""

    day: date
    hour: float
    found: str
    watered: bool
    left: float | None
    over: float | None


def looks_of(garden: Garden, today: date) -> dict[str, list[Looked]]:
    """What was found lately, by the key of what it is of, in order."""
    lately = {"day__gte": today - timedelta(days=MEMORY_DAYS), "day__lte": today}
    found: dict[str, list[Looked]] = defaultdict(list)
    trays = TrayLook.objects.filter(tray__garden=garden, **lately)
    pots = PotLook.objects.filter(batch__planting__season__garden=garden, **lately)
    for kind, rows, of in (("t", trays, "tray_id"), ("b", pots, "batch_id")):
        for pk, *look in rows.values_list(of, *Looked._fields):
            found[f"{kind}{pk}"].append(Looked(*look))
    return found
