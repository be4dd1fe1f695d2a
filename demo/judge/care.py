"""When is it watered, and what is it fed?  Each tray's own balance against habits; weak feeds by leaves against a strong one by the week.

The same sowings, rooms, seeds and hands for all: seventy days on a shelf under lamps, potted up at three leaves.  Nature's trays dry by laws of
their own, at the edges faster, each by a factor that nobody is told.  Judged by days on which plants hang limp, days on which roots stand in
water, seedlings that fall over, leaf that has grown, and minutes at the tray.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.judge.climates import CLIMATES, YEAR, world
from demo.nature.grower import DRY, FAIR
from demo.nature.habits import Groups, Script, Seen, Ways, by_heft, every_third_day, weekly_feed
from demo.nature.kinds import kind
from demo.nature.rooms import World
from demo.nature.season import ACROSS, CELL_CM2, CELL_ML, FEED_N_MG_L, Run, Wish
from growing.care.feeding import next_feed
from growing.care.water import WANTS, TrayWater, WateringLook, next_look
from growing.crops import library

Numbers = NDArray[np.float64]
KINDS = ("tomato", "pepper", "lettuce", "cabbage", "celery", "snapdragon")
WANTED, SEASONS, SEED = 12, 200, 1
SOWN, DAYS = date(YEAR, 3, 1), 70
LIFT_MIN = 0.3  # to lift a tray and look at it (estimate)
MEMORY = 30  # looks
LITTLE = 0.8  # how full a little every day keeps it
STANDS = 2  # days full of water from which roots want air
LABEL_N = 300.0  # what a label's spoon makes of a small can (estimate)


class CareLine(NamedTuple):
    """What a policy came to: of a hundred wanted, plants alive; leaf area a living plant [cm²] with its error, and ours less it, paired; days a plant
    hung limp; days a tray stood in water; of a hundred that were up, fallen over; salts in the mix; minutes a tray."""

    comparison: str
    policy: str
    plants: float
    area: float
    se: float
    ours: float
    ours_se: float
    limp: float
    soaked: float
    fallen: float
    salts: float
    minutes: float

    def __str__(self) -> str:
        ours = "" if self.policy == "aestiva" else f"  # aestiva {self.ours:+.1f} ± {self.ours_se:.1f} cm²"
        return (
            f"SIMULATE {self.comparison} {self.policy} plants={self.plants:.1f} leaf={self.area:.1f} se={self.se:.1f} limp={self.limp:.2f} "
            f"soaked={self.soaked:.2f} fallen={self.fallen:.1f} salts={self.salts:.1f} minutes={self.minutes:.0f}{ours}"
        )


class Shelf(Run):
    """A run that ends on the shelf, and counts what the water did."""

    def __init__(self, here: World, wishes: list[Wish], ways: Ways, first: int) -> None:
        super().__init__(here, wishes, ways, SEED, ends=first + DAYS)
        groups = len(self.season)
        self.limp, self.stood, self.lifts = np.zeros(groups), np.zeros(groups), np.zeros(groups)

    def _day(self, t: int) -> None:
        super()._day(t)
        plants, there = self.plants, self.sown_on >= 0
        self.limp += there * ((plants.wilted > 0) & (plants.living > 0)).sum(axis=0) / WANTED
        self.stood += there * (plants.soaked >= STANDS)

    def result(self) -> dict[str, Numbers]:
        """By season: plants of a hundred wanted, leaf area, limp and soaked days, the fallen, salts, minutes a tray."""
        for t in range(self.ends):
            self._day(t)
        plants, shape = self.plants, (self.seasons, len(self.wishes))
        alive = plants.living.sum(axis=0)
        up = plants.up.sum(axis=0)
        fell = ((plants.damp_dose > plants.grit_damp) & plants.up).sum(axis=0)
        area = (plants.area * plants.living).sum(axis=0) / np.maximum(alive, 1)
        named = {
            "plants": 100 * np.minimum(1, alive / WANTED),
            "area": area,
            "limp": self.limp,
            "soaked": self.stood,
            "fallen": 100 * fell / np.maximum(1, up),
            "salts": (plants.salts if plants.salts.ndim == 1 else plants.salts.mean(axis=0)) + np.zeros(len(alive)),
            "minutes": LIFT_MIN * self.lifts,
        }
        found = {name: np.asarray(value, float).reshape(shape).mean(axis=1) for name, value in named.items()}
        found["minutes"] += self.time / len(self.wishes)
        return found


class Balance:
    """Our round: a tray is looked at when its balance says so, and watered if it is then found dry.  It knows the cell, the leaves and the crop;
    of warmth and light nothing but what is usual.  learns: each tray's own thirst from what was found."""

    def __init__(self, run: Shelf, learns: bool) -> None:
        self.run, self.learns = run, learns
        crops = [library()[w.kind.key] for w in run.wishes] * run.seasons
        self.moist = [c.word("moisture") for c in crops]
        self.ready = [c.number("ready_leaves_max") for c in crops]
        self.looks: list[list[WateringLook]] = [[] for _ in crops]
        self.due = np.zeros(len(crops), int)

    def __call__(self, seen: Seen) -> Groups:
        give = np.zeros(len(seen.heft), bool)
        for g in np.flatnonzero((seen.sown_days >= 0) & (self.due <= seen.t) & (seen.heft >= 0)):
            found = (
                "limp"
                if seen.limp[g] > 0
                else "pale"
                if seen.heft[g] == DRY
                else "fair"
                if seen.heft[g] == FAIR
                else "wet"
            )
            give[g] = found in WANTS
            self.run.lifts[g] += 1
            looks = self.looks[g] = [*self.looks[g][-MEMORY:], WateringLook(float(seen.t), found, bool(give[g]))]
            potted = bool(self.run.potted[g])
            ml, cm2 = (self.run.pot_ml[g], self.run.pot_cm2[g]) if potted else (CELL_ML, CELL_CM2)
            leaves = 0.0 if np.isnan(seen.leaves[g]) else float(seen.leaves[g])
            tray = TrayWater(float(ml), float(cm2), ACROSS, leaves, self.ready[g], self.moist[g])
            told = looks if self.learns else looks[-1:]
            today = SOWN + timedelta(days=int(seen.t))
            on = next_look("", tray, told, float(seen.t), today).look_on
            self.due[g] = seen.t + max(1, (on - today).days)
        return give


class Lifts:
    """Lifts every tray every morning and waters what is light or limp; later: on the day after."""

    def __init__(self, run: Shelf, later: bool) -> None:
        self.run, self.later = run, later
        self.light = np.zeros(len(run.season), bool)

    def __call__(self, seen: Seen) -> Groups:
        self.run.lifts += seen.sown_days >= 0
        before, self.light = self.light, by_heft(seen)
        give = (before | (seen.limp > 0)) if self.later else self.light
        self.light = self.light & ~give
        return np.asarray(give)


class ByLeaves:
    """Our feeds: weak, from the crop's leaves on, each after its interval; potting begins it anew."""

    def __init__(self, run: Shelf) -> None:
        self.run = run
        self.crops = [library()[w.kind.key] for w in run.wishes] * run.seasons
        self.fed: list[date | None] = [None] * len(self.crops)
        self.potted: list[date | None] = [None] * len(self.crops)

    def __call__(self, seen: Seen) -> Groups:
        today, give = SOWN + timedelta(days=int(seen.t)), np.zeros(len(seen.leaves), bool)
        for g in np.flatnonzero(seen.leaves >= 1):
            if self.run.potted[g] and self.potted[g] is None:
                self.potted[g] = today
            said = next_feed(self.crops[g], float(seen.leaves[g]), today, self.fed[g], self.potted[g], None).on
            if said is not None and said <= today:
                give[g], self.fed[g] = True, today
        return give


def every_day(seen: Seen) -> Groups:
    """Water every day."""
    return np.full(len(seen.heft), True)


def never(seen: Seen) -> Groups:
    """Not at all."""
    return np.zeros(len(seen.heft), bool)


Made = Callable[[Shelf], Script]
WATERS: dict[str, tuple[Made, float]] = {
    "aestiva": (lambda run: Balance(run, True), 1.0),
    "aestiva-never-learns": (lambda run: Balance(run, False), 1.0),
    "every-third-day": (lambda run: every_third_day, 1.0),
    "lifted-daily": (lambda run: Lifts(run, False), 1.0),
    "a-day-after-light": (lambda run: Lifts(run, True), 1.0),
    "a-little-daily": (lambda run: every_day, LITTLE),
    "daily": (lambda run: every_day, 1.0),
}


def _targets(run: Shelf) -> Numbers:
    return np.array([library()[w.kind.key].number("feed_n_mg_l") for w in run.wishes] * run.seasons)


FEEDS: dict[str, tuple[Made, Callable[[Shelf], float | Numbers]]] = {
    "aestiva": (ByLeaves, _targets),
    "weekly-150": (lambda run: weekly_feed, lambda run: FEED_N_MG_L),
    "weekly-by-label": (lambda run: weekly_feed, lambda run: LABEL_N),
    "never": (lambda run: never, lambda run: 0.0),
}


def shelf(here: World, seasons: int) -> tuple[Shelf, Ways]:
    """A run as all make it, before anybody waters."""
    first = here.weather.index(SOWN)
    wishes = [Wish(key, kind(key), WANTED) for key in KINDS]
    sown = np.full(len(wishes) * seasons, first, np.int32)
    ways = Ways(lambda seen: seen.t >= sown, never, by_heft, weekly_feed)
    return Shelf(here, wishes, ways, first), ways


def waters(seasons: int = SEASONS) -> Iterator[CareLine]:
    """Watering, with one weekly feed for all."""

    def run(made: Made, fills: float) -> dict[str, Numbers]:
        one, ways = shelf(world(CLIMATES[0], seasons), seasons)
        one.ways = ways._replace(water=made(one), fills=fills)
        return one.result()

    yield from _lines("water", {name: run(*how) for name, how in WATERS.items()})


def feeds(seasons: int = SEASONS) -> Iterator[CareLine]:
    """Feeding, watered for all by daily lifting."""

    def run(made: Made, strength: Callable[[Shelf], float | Numbers]) -> dict[str, Numbers]:
        one, ways = shelf(world(CLIMATES[0], seasons), seasons)
        one.ways = ways._replace(water=Lifts(one, False), feed=made(one), feed_n_mg_l=strength(one))
        return one.result()

    yield from _lines("feed", {name: run(*how) for name, how in FEEDS.items()})


def _lines(comparison: str, runs: dict[str, dict[str, Numbers]]) -> Iterator[CareLine]:
    def error(values: Numbers) -> float:
        return float(values.std(ddof=1) / np.sqrt(len(values)))

    for policy, found in runs.items():
        mean = {name: float(values.mean()) for name, values in found.items()}
        less = runs["aestiva"]["area"] - found["area"]
        yield CareLine(
            comparison, policy, mean["plants"], mean["area"], error(found["area"]), float(less.mean()), error(less), mean["limp"],
            mean["soaked"], mean["fallen"], mean["salts"], mean["minutes"],
        )  # fmt: skip
