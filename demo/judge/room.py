"""More is wanted than fits under the lamps: what becomes of it?  Our repairs against squeezing, sowing less of everything, and giving
away what comes last.

The same grower, days, seeds, care and hardening for all; what differs is what is done where room lacks.  A garden's wishes are half as
many again as its lamps hold at the worst; the frame holds a third of that.  Judged by the plants that were wanted, not by those raised.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, timedelta
from math import ceil, floor
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.judge.climates import CLIMATES, Where, place_year, world
from demo.nature import habits
from demo.nature.grower import Minutes
from demo.nature.kinds import kind
from demo.nature.rooms import World
from demo.nature.season import Run, Score, Wish
from growing.bench.ahead import RoomAhead, Stay, Zone, overflows, room_over
from growing.bench.mending import Repair, cheapest
from growing.chain.choice import Choice
from growing.chain.course import course
from growing.chain.dates import PlantingDates, date_planting
from growing.crops import Crop, library
from growing.ladders.ladder import ladders
from growing.shelves.room import trays_in_cells, trays_in_pots

WANTED: dict[str, int] = {
    "tomato": 24, "pepper": 24, "zinnia": 60, "cosmos": 48, "cabbage": 24, "broccoli": 30, "kale": 24, "lettuce": 48, "onion": 120,
    "leek": 100, "celery": 24, "snapdragon": 60,
}  # fmt: skip
SEASONS, SEED, SEEDS = 200, 1, 1.4  # sown for each plant wanted
FITS = 2 / 3  # of what is wanted, at the worst
LATER = (4, 7, 14, 21)
STURDY_DAYS = 14  # after half are up
HARDY = ("hardy", "half-hardy")
ROUNDS = 30


class Lot(NamedTuple):
    """One sowing: its crop, plants, dates, and the day from which it stands in the frame."""

    crop: str
    plants: int
    dates: PlantingDates
    frame_from: date | None = None

    @property
    def of(self) -> Crop:
        return library()[self.crop]


class RoomLine(NamedTuple):
    """Shares of what was wanted: set out, alive after four weeks, and harvest against the same garden with room for all; with its error,
    and ours less it, paired."""

    climate: str
    policy: str
    set_out: float
    alive: float
    harvest: float
    se: float
    ours: float
    ours_se: float
    over: float

    def __str__(self) -> str:
        ours = "" if self.policy == "aestiva" else f"aestiva {self.ours:+.3f} ± {self.ours_se:.3f}; "
        return (
            f"SIMULATE room {self.climate} {self.policy} harvest={self.harvest:.3f} se={self.se:.3f}"
            f"  # {ours}set out {self.set_out:.3f}, alive {self.alive:.3f} of those wanted; most over {self.over:.1f} flats"
        )


def ideal(where: Where) -> list[Lot]:
    """Every crop on the day that the plan proposes."""
    place = place_year(where)
    return [Lot(key, n, date_planting(library()[key], place, Choice())) for key, n in WANTED.items()]


def stays(lots: Sequence[Lot]) -> list[Stay]:
    """Cells under the lamps, pots after them, the frame from its day on, until it is out for good."""
    found = []
    for n, lot in enumerate(lots):
        steps = course(lot.of, lot.dates, ladders()["seven"])
        sow, out, pot = lot.dates.sow_on.toordinal(), lot.dates.out_on.toordinal(), steps.day("pot")
        potted = out if pot is None else min(out, pot.toordinal())
        frame = out if lot.frame_from is None else lot.frame_from.toordinal()
        cells = trays_in_cells(lot.of, ceil(lot.plants * SEEDS))
        pots = trays_in_pots(lot.of, lot.plants)
        for since, until, flats in ((sow, potted, cells), (potted, out, pots)):
            for a, b, zone in ((since, min(until, frame), "lamp"), (max(since, frame), until, "frame")):
                if a < b and lot.plants:
                    found.append(Stay(n, zone, a, b, flats, "grown"))
    return found


class Bench(NamedTuple):
    """What there is, and the first day looked at."""

    zones: tuple[Zone, ...]
    start: date
    days: int

    def room(self, lots: Sequence[Lot]) -> RoomAhead:
        return room_over(self.zones, stays(lots), self.start, self.days)

    def over(self, lots: Sequence[Lot]) -> float:
        """Flats without room at the worst."""
        return max((o.most for o in overflows(self.room(lots))), default=0.0)


def bench_for(lots: Sequence[Lot]) -> Bench:
    """Two thirds of what is wanted at the worst, and a frame a third as large."""
    start = min(lot.dates.sow_on for lot in lots)
    days = max((lot.dates.out_on - start).days for lot in lots) + 60
    whole = float(room_over((Zone("lamp", "lamps", None),), stays(lots), start, days).used.max())
    lamp = float(floor(whole * FITS))
    return Bench((Zone("lamp", "lamps", lamp), Zone("frame", "frame", float(floor(lamp / 3)))), start, days)


def mended(where: Where, lots: list[Lot], bench: Bench) -> list[Lot]:
    """One lack of room after another mended by the cheapest set of repairs."""
    for _ in range(ROUNDS):
        room = bench.room(lots)
        lacks = overflows(room)
        if not lacks:
            break
        over = lacks[0]
        aim = np.zeros_like(room.used, dtype=bool)
        first, last = ((d - bench.start).days for d in (over.since, over.until))
        aim[room.row(over.zone.key), first : last + 1] = True
        others = _others(where, lots, bench, room, over.since, over.until)
        found = cheapest(room.used, room.holds, aim, [r for r, _ in others][:18])
        if not found.repairs:
            break
        instead = {r.key: lot for r, lot in others}
        for repair in found.repairs:
            lots = [instead[repair.key] if n == repair.batch else lot for n, lot in enumerate(lots)]
    return lots


def _others(
    where: Where, lots: Sequence[Lot], bench: Bench, room: RoomAhead, since: date, until: date
) -> list[tuple[Repair, Lot]]:
    """What each lot might be instead: later inside its window, in the frame, fewer; the cheapest for what it frees first."""
    found: list[tuple[Repair, Lot]] = []
    place, used = place_year(where), room.used

    def offer(n: int, kind_: str, lot: Lot, days: float = 0.0, minutes: float = 0.0, plants: float = 0.0) -> None:
        changed = [lot if k == n else one for k, one in enumerate(lots)]
        change = bench.room(changed).used - used
        lost = lots[n].plants * days / max(1.0, lots[n].of.number("yield_days")) if days > 0 else 0.0
        found.append((Repair(f"{kind_}-{n}-{len(found)}", kind_, n, change, days, lost, minutes, plants), lot))

    for n, lot in enumerate(lots):
        if not lot.plants:
            continue
        for days in LATER:
            day = lot.dates.sow_on + timedelta(days=days)
            if day <= lot.dates.sow.end:
                dates = date_planting(lot.of, place, Choice(sow_on=day))
                offer(n, "later", lot._replace(dates=dates), (dates.first.start - lot.dates.first.start).days)
        up = course(lot.of, lot.dates, ladders()["seven"]).day("up")
        sturdy = None if up is None else up + timedelta(days=STURDY_DAYS)
        if lot.of.hardiness in HARDY and sturdy is not None and lot.frame_from is None:
            if (begins := max(since, sturdy)) < min(lot.dates.out_on, until + timedelta(days=1)):
                offer(n, "frame", lot._replace(frame_from=begins), minutes=40)
        for share in (0.25, 0.5):
            fewer = ceil(lot.plants * share)
            if fewer < lot.plants:
                offer(n, "fewer", lot._replace(plants=lot.plants - fewer), plants=fewer)
    row = room.row("lamp")
    first, last = ((d - bench.start).days for d in (since, until))

    def frees(repair: Repair) -> float:
        return max(1e-3, float(-repair.change[row, first : last + 1].mean()))

    return sorted(found, key=lambda one: one[0].cost / frees(one[0]))


def fewer_of_all(lots: Sequence[Lot], bench: Bench) -> list[Lot]:
    """Everything cut by the same share, until it fits."""
    for percent in range(100, 0, -1):
        found = [lot._replace(plants=max(1, floor(lot.plants * percent / 100))) for lot in lots]
        if bench.over(found) <= 0:
            return found
    return found


def without_the_last(lots: Sequence[Lot], bench: Bench) -> list[Lot]:
    """As sown, until there is no room: then what was sown last of those that stand there is given away."""
    found = list(lots)
    while lacks := overflows(bench.room(found)):
        day, zone = lacks[0].since.toordinal(), lacks[0].zone.key
        there = {s.batch for s in stays(found) if s.zone == zone and s.since <= day < s.until}
        last = max(there, key=lambda n: (found[n].dates.sow_on, n))
        found[last] = found[last]._replace(plants=0)
    return found


class Standing(Run):
    """A run in which some stand in the frame from a day on, and all as close as they are squeezed."""

    def __init__(self, *args: object, frame_from: NDArray[np.int32], close: float = 1.0) -> None:
        super().__init__(*args)  # type: ignore[arg-type]
        self.frame_from = frame_from
        self.plants.cell_cm2 = (self.plants.cell_cm2 * close).astype(np.float32)
        self.pot_cm2 = (self.pot_cm2 * close).astype(np.float32)

    def _carried(self, t: int) -> tuple[NDArray[np.float32], NDArray[np.intp]]:
        self.place = np.where(t >= self.frame_from, self.frame, self.shelf)
        return super()._carried(t)


def grown(here: World, lots: Sequence[Lot], close: float = 1.0) -> Score:
    """What became of it; lots of no plants are left out and give nothing."""
    seasons, some = len(here.weather.tmin), [lot for lot in lots if lot.plants]

    def days(given: list[date]) -> NDArray[np.int32]:
        return np.tile([here.weather.index(d) for d in given], seasons).astype(np.int32)

    sow, out = days([lot.dates.sow_on for lot in some]), days([lot.dates.out_on for lot in some])
    far = date(2027, 6, 1)
    frame = np.tile(
        [here.weather.index(lot.frame_from) if lot.frame_from else here.weather.index(far) for lot in some], seasons
    ).astype(np.int32)
    ways = habits.Ways(habits.on(sow), habits.on(out), habits.by_heft, habits.weekly_feed, seeds=SEEDS, out_on=out)
    wishes = [Wish(lot.crop, kind(lot.crop), lot.plants) for lot in some]
    return Standing(here, wishes, ways, SEED, Minutes(a_day=np.inf), frame_from=frame, close=close).score()


def _shares(lots: Sequence[Lot], score: Score, full: Score) -> tuple[NDArray[np.float64], ...]:
    """Set out, alive and harvest of each crop against what was wanted, (seasons, crops)."""
    seasons = len(full.set_out)
    shares = [np.zeros((seasons, len(WANTED))) for _ in range(3)]
    whole = np.array(list(WANTED.values()), float)
    gives = full.harvest.mean(axis=0) > 0
    shares[2][:, ~gives] = np.nan  # a crop that gives nothing here even with room tells nothing
    k = 0
    for n, lot in enumerate(lots):
        if not lot.plants:
            continue
        shares[0][:, n] = score.set_out[:, k] / whole[n]
        shares[1][:, n] = score.alive[:, k] / whole[n]
        if gives[n]:
            shares[2][:, n] = score.harvest[:, k] * lot.plants / (full.harvest[:, n].mean() * whole[n])
        k += 1
    return tuple(shares)


def compare(seasons: int = SEASONS, climates: Sequence[Where] = CLIMATES) -> Iterator[RoomLine]:
    """One line a climate and policy."""
    for where in climates:
        here, lots = world(where, seasons), ideal(where)
        bench = bench_for(lots)
        need = bench.room(lots).used[0].max() / (bench.zones[0].holds or 1.0)
        full = grown(here, lots)
        policies = {
            "aestiva": (mended(where, lots, bench), 1.0),
            "squeeze": (lots, float(1 / need)),
            "less-of-everything": (fewer_of_all(lots, bench), 1.0),
            "give-away-the-last": (without_the_last(lots, bench), 1.0),
            "room-for-all": (lots, 1.0),
        }
        found = {name: _shares(given, grown(here, given, close), full) for name, (given, close) in policies.items()}
        own = np.nanmean(found["aestiva"][2], axis=1)
        for name, (set_out, alive, harvest) in found.items():
            each = np.nanmean(harvest, axis=1)
            less, root = own - each, np.sqrt(len(each))
            yield RoomLine(
                where.name, name, float(set_out.mean()), float(alive.mean()), float(each.mean()), float(each.std(ddof=1) / root),
                float(less.mean()), float(less.std(ddof=1) / root), bench.over(policies[name][0]),
            )  # fmt: skip
