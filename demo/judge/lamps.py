"""How high, how long?  Lamps hung and timed as Light says against "5 cm above", "a hand feels warm", and "16 hours, never moved".

One shelf, one crop, a tray in the middle and one at the end, from coming up until six weeks after sowing; the same sowings, room, water and
feed for all.  Looked at every third day, tips measured by eye.  Judged by plants that are drawn, plants that the lamp has burnt, true leaves
at the end, and kilowatt hours.  Light believes what is printed on the lamp, or what a meter said once.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.judge.climates import CLIMATES, YEAR, world
from demo.nature import grower
from demo.nature.chance import stream
from demo.nature.kinds import kind
from demo.nature.lamps import UMOL_H, Drawn, Lights, draw, ppfd
from demo.nature.plants import Care, Plants, Sowing
from demo.nature.rooms import Air, Airs, Place, Room, World
from demo.nature.season import FEED_N_MG_L
from growing.beds.bedplan import Rect
from growing.crops import library
from growing.light.advice import advise
from growing.light.hours import CurrentPrice, LampTimer, Wants, wanted
from growing.light.plane import Hung
from growing.light.shelf import Board, LampAsSet, LampReach, Stand
from growing.light.targets import band
from growing.shelves.company import hours_wanted

Numbers = NDArray[np.float64]
CROPS = ("tomato", "pepper", "lettuce", "cabbage", "onion", "cosmos")
LAMPS = (
    Lights("strips", 4, 115, 4 * 36.0, 4 * 20, 2.0),
    Lights("strong-tubes", 3, 115, 3 * 95.0, 3 * 42, 4.0),
    Lights("weak-bulbs", 2, 60, 2 * 25.0, 2 * 16, 3.0),
)
SEASONS, SEED, SEEDS, DAYS, LOOK_DAYS = 200, 7, 12, 42, 3
PLACES = (Place("shelf", "shelf", Room(19.0, 2.5, 99.0), fan=True),)
TRAYS = ((47.0, 75.0), (0.0, 28.0))  # from where to where they stand: in the middle, at the end
SOW = date(YEAR, 3, 1)
TOP_CM, TRAY_CM, START_CM, FIXED_CM = 50.0, 6.0, 20.0, 30.0
ABOVE_CM, WARM_TIMES = 5.0, 1.5  # a hand feels it warm at so many times as far as it burns
SEEN_WRONG, METER_WRONG = 0.1, 0.05
DRAWN = 0.25  # of as leggy as can be


class LampPolicy(NamedTuple):
    """How the lamp is hung.  says: "light", "above", "warm" or "never"; meter: its light was measured once."""

    name: str
    says: str
    meter: bool = False


POLICIES = (
    LampPolicy("aestiva", "light"),
    LampPolicy("aestiva-with-meter", "light", True),
    LampPolicy("5-cm-above", "above"),
    LampPolicy("hand-warm", "warm"),
    LampPolicy("16-h-never-moved", "never"),
)


class LampsLine(NamedTuple):
    """Of a hundred plants that live, those drawn and those burnt; true leaves; kilowatt hours of a shelf; ours less it, drawn, paired."""

    lamp: str
    policy: str
    drawn: float
    se: float
    burnt: float
    leaves: float
    kwh: float
    ours: float
    ours_se: float

    def __str__(self) -> str:
        ours = "" if self.policy == "aestiva" else f"  # aestiva {self.ours:+.1f} ± {self.ours_se:.1f} drawn"
        return (
            f"SIMULATE lamps {self.lamp} {self.policy} drawn={self.drawn:.1f} se={self.se:.1f} burnt={self.burnt:.1f}"
            f" leaves={self.leaves:.2f} kwh={self.kwh:.1f}{ours}"
        )


class Lit:
    """The air of the shelf with the light of each tray's own."""

    def __init__(self, airs: Airs, dli: Numbers, hours: Numbers) -> None:
        self.airs, self.dli, self.hours = airs, dli.astype(np.float32), hours.astype(np.float32)

    def at(self, place: NDArray[np.intp], season: NDArray[np.intp]) -> Air:
        return self.airs.at(place, season)._replace(dli=self.dli, light_h=self.hours)


@lru_cache(maxsize=100_000)
def asked(lamp: int, crop: str, leaves: int, tip: int, lowest: int, hours: float, times: float) -> tuple[float, float]:
    """What Light asks for: height and hours, of tips at so many cm, with a lamp that gives so many times what is printed."""
    lights, of = LAMPS[lamp], library()[crop]
    least, most = hours_wanted(of)
    wants = Wants(of.name, least, most, wanted(of, 10), None, SEEDS, crop)
    stands = tuple(
        Stand(
            str(n),
            of.name,
            Rect(x, 0.0, x2 - x, lights.deep_cm),
            TRAY_CM,
            tip - TRAY_CM,
            0.4,
            band(of, leaves),
            wants,
            SEEDS,
            n,
        )
        for n, (x, x2) in enumerate(TRAYS)
    )
    hung = tuple(
        Hung(
            lights.umol * times / lights.lines,
            lights.length_cm,
            2.0,
            lights.wide_cm / 2,
            (k + 0.5) / lights.lines * lights.deep_cm,
            0,
            0,
        )
        for k in range(lights.lines)
    )
    limits = LampReach(TOP_CM, 1.0, "cord", lights.burns_cm)
    board = Board(lights.wide_cm, lights.deep_cm, hung, lights.watts, limits, stands)
    setting = LampAsSet(float(lowest), float(lowest), 100.0, LampTimer(5.0, hours))
    found = advise(board, setting, CurrentPrice(), SOW)
    to = found.first.setting if found.first.kind in ("raise", "lower", "longer", "shorter") else setting
    burns = to.timer.hours if found.first.kind in ("longer", "shorter") else min(hours, most) if hours > most else hours
    return to.lowest_cm, burns


class LampTrial:
    """One policy under one kind of lamp: (seasons × crops × trays) groups."""

    def __init__(self, here: World, lamp: int, policy: LampPolicy, seasons: int) -> None:
        self.world, self.lamp, self.policy, self.seasons = here, lamp, policy, seasons
        lights = LAMPS[lamp]
        keys = [(s, c, n) for s in range(seasons) for c in CROPS for n in range(len(TRAYS))]
        self.plants = Plants([Sowing(s, f"{c} {n}", kind(c), SEEDS, cell_ml=60.0) for s, c, n in keys], SEED)
        self.plants.sown[:] = True
        self.season, self.crop = np.array([s for s, _, _ in keys]), [c for _, c, _ in keys]
        self.tray = np.array([n for _, _, n in keys])
        self.drawn: Drawn = draw(lights, SEED, seasons)
        shelves = len(keys) // len(TRAYS)
        self.cm, self.hours, self.kwh = np.full(shelves, START_CM), np.full(shelves, 16.0), np.zeros(shelves)
        self.burnt = np.zeros((SEEDS, len(keys)), bool)
        meters = [stream(SEED, "meter", s).normal(0, METER_WRONG) for s in range(seasons)]
        self.believed = self.drawn.times * np.exp(meters) if policy.meter else np.ones(seasons)
        self.eye = stream(SEED, "eye").normal(0, SEEN_WRONG, (DAYS + 1, shelves))
        if policy.says == "never":
            self.cm[:] = FIXED_CM

    @property
    def tips(self) -> Numbers:
        """Of the tallest of each shelf, above the board [cm]."""
        high = (self.plants.height * (self.plants.living > 0)).max(axis=0).astype(float)
        return TRAY_CM + np.asarray(high.reshape(-1, len(TRAYS)).max(axis=1))

    def _look(self, day: int) -> None:
        """Tips by eye, and the lamp as the policy has it; never into the leaves, nor higher than there is room."""
        seen = TRAY_CM + (self.tips - TRAY_CM) * (1 + self.eye[day])
        season = self.season[:: len(TRAYS)]
        if self.policy.says == "above":
            self.cm = seen + ABOVE_CM
        elif self.policy.says == "warm":
            self.cm = seen + WARM_TIMES * self.drawn.burns_cm[season]
        elif self.policy.says == "light":
            leaves = self.plants.of_living(self.plants.leaves).reshape(-1, len(TRAYS)).max(axis=1)
            for n in range(len(self.cm)):
                times = float(np.round(self.believed[season[n]] * 20) / 20)
                key = (
                    self.lamp,
                    self.crop[n * len(TRAYS)],
                    int(leaves[n] >= 2) * 2,
                    round(seen[n]),
                    round(self.cm[n]),
                    float(self.hours[n]),
                    times,
                )
                self.cm[n], self.hours[n] = asked(*key)
        self.cm = np.minimum(np.maximum(self.cm, seen + 0.5), TOP_CM)

    def run(self) -> tuple[Numbers, Numbers, Numbers, Numbers]:
        """Of each season and crop: plants drawn, plants burnt, true leaves, kilowatt hours."""
        start, plants = self.world.weather.index(SOW), self.plants
        lights, none = LAMPS[self.lamp], np.zeros(len(self.season), bool)
        zeros, place = np.zeros(len(none), np.float32), np.zeros(len(none), int)
        for day in range(DAYS):
            up = plants.up.any(axis=0)
            if day % LOOK_DAYS == 0:
                self._look(day)
            lit = up.reshape(-1, len(TRAYS)).any(axis=1)
            tall = (plants.height * (plants.living > 0)).max(axis=0)
            gap = np.repeat(self.cm, len(TRAYS)) - TRAY_CM - tall
            light = np.empty(len(none))
            for n, ground in enumerate(TRAYS):
                mine = self.tray == n
                light[mine] = ppfd(lights, gap[mine], ground)
            hours = np.repeat(self.hours * lit, len(TRAYS))
            dli = light * self.drawn.times[self.season] * hours * UMOL_H * (gap > 0)
            self.kwh += self.hours * lit * lights.watts / 1000
            near = np.repeat(self.cm, len(TRAYS)) - TRAY_CM - plants.height < self.drawn.burns_cm[self.season]
            self.burnt |= near & (plants.living > 0) & np.repeat(lit, len(TRAYS))
            self._tend(day)
            care = Care(place, ~up & (plants.k.ceiling_c > 27), none, zeros, place, none)
            plants.day(Lit(self.world.air(start + day), dli, np.maximum(hours, 8)), care, start + day)  # type: ignore[arg-type]
        alive = np.maximum((plants.living > 0).sum(axis=0), 1)
        drawn = (plants.leggy > DRAWN) * 1.0
        burnt = (self.burnt & (plants.living > 0)).sum(axis=0) / alive
        shape = (self.seasons, len(CROPS), len(TRAYS))
        of = lambda values: np.asarray(values, float).reshape(shape).mean(axis=2)  # noqa: E731
        return of(drawn), of(burnt), of(plants.of_living(plants.leaves)), self.kwh.reshape(self.seasons, len(CROPS))

    def _tend(self, day: int) -> None:
        """Water by heft, a feed a week from the first true leaf on: the same for all."""
        plants = self.plants
        plants.give_water(grower.lifted(plants.felt()) == grower.DRY)
        if day % 7 == 0:
            plants.give_food(plants.of_living(plants.leaves) >= 1, FEED_N_MG_L)


def compare(seasons: int = SEASONS) -> Iterator[LampsLine]:
    """One line a lamp and policy."""
    here = world(CLIMATES[0], seasons, SEED, PLACES)
    for lamp, lights in enumerate(LAMPS):
        ours: Numbers | None = None
        for policy in POLICIES:
            drawn, burnt, leaves, kwh = LampTrial(here, lamp, policy, seasons).run()
            share = 100 * drawn.mean(axis=1)
            ours = share if ours is None else ours
            root = np.sqrt(seasons)
            yield LampsLine(
                lights.name, policy.name, float(share.mean()), float(share.std(ddof=1) / root), 100 * float(burnt.mean()), float(leaves.mean()),
                float(kwh.mean()), float((ours - share).mean()), float((ours - share).std(ddof=1) / root),
            )  # fmt: skip
