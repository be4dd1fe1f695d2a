"""Hardened and set out by our ladders and gates, or by a habit: which garden has more of its season, and carries less?

The same grower, bench, seeds and care for all; the outings and the day of planting out differ, and as little else as can be.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date, timedelta
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.judge.climates import CLIMATES, Where, last_frost, place_year, world
from demo.judge.dates import best, plan, ways
from demo.judge.lines import Line
from demo.nature import habits
from demo.nature.habits import Seen
from demo.nature.kinds import kind
from demo.nature.rooms import World
from demo.nature.season import Run, Wish
from growing.chain.ripening import ends_at_c
from growing.crops import Crop, library
from growing.ladders.ahead import limits_of
from growing.ladders.climbing import GOES_OUT, NIGHT, Climbers, LadderColumns, Sky, WindShelter, climb
from growing.ladders.ladder import ladders
from growing.place.growth import NEVER
from growing.place.nights import Night
from growing.plantingout.gates import Asked, Bed, gates
from growing.plantingout.springs import SpringsAhead, springs
from growing.plantingout.worth import NEAR_BEST, Sort, worth
from growing.waiting import over_age

CROPS = (
    *("tomato", "pepper", "cucumber", "basil", "zinnia", "cosmos", "cabbage", "broccoli"),
    *("kale", "lettuce", "onion", "leek", "celery", "snapdragon"),
)
WANTED, SEASONS, SEED = 12, 200, 1
WINDY_TIMES = 2.2  # of the wind of the other climates
PLAIN = Where("windy-plain", CLIMATES[2].latitude, CLIMATES[2].climate, 14)
HOME = 0.4
EARLIER, LATEST = 10, 45  # days before and after the planned day within which gates are asked
CARRY_HOURS = 8.0
DAY_H = 10.0


def here(where: Where, seasons: int) -> World:
    """Its seasons; the plain has more wind."""
    made = world(where, seasons)
    if where.name != PLAIN.name:
        return made
    return World(replace(made.weather, wind=np.round(made.weather.wind * WINDY_TIMES)), made.places)


class Choice(NamedTuple):
    """Which parts of our rules are followed: gates, worth, or both."""

    gates: bool = True
    worth: bool = False


class Ours:
    """Our ladders and gates, day by day, from nothing but what a grower sees and the station's record."""

    def __init__(self, where: Where, world_: World, sow: Sequence[date], out: Sequence[date], choice: Choice) -> None:
        self.place, self.world, self.choice = place_year(where), world_, choice
        self.crops: list[Crop] = [library()[key] for key in CROPS]
        self.seasons = len(world_.weather.tmin)
        shape = (len(CROPS), self.seasons)
        self.sow, self.out = sow, out
        self.begin = np.array([(d - timedelta(days=ladders()["seven"].days) - world_.weather.start).days for d in out])
        self.state = tuple(np.zeros(shape, np.int64) for _ in range(6))
        self.hardened = np.zeros(shape, bool)
        self.begun = np.zeros(shape, bool)
        self.gone = np.zeros(shape, bool)
        self.ordered = np.zeros(shape[::-1], bool)
        normals = self.place.normals
        night_c, day_c = (None, None) if normals is None else (normals.summer_night_c, normals.summer_day_c)
        self.limits = [limits_of(c, night_c, day_c, self.place.risk_for(c.hardiness), True) for c in self.crops]
        self.soils: list[NDArray[np.float32]] = []
        self.sort_of = [self._sort(c) for c in self.crops]
        self.today: Any = None

    def _sort(self, c: Crop) -> Sort | None:
        growth, ends = self.place.growth(c.number("base_c"), c.number("std_c")), self.place.year_ends(ends_at_c(c))
        mature = (c.number("mature_min") + c.number("mature_max")) / 2
        if growth is None or ends is None or mature > 250:
            return None
        usual = 0.0 if c.word("picked") == "once" else c.number("yield_days")
        equinox = (self.place.equinox - self.place.span_start).days
        return Sort(
            c.number("damage_c"), c.hardiness, 0.0, c.maybe("chill_c"), c.number("soil_c"), growth, mature, 0.0, 99, over_age(c), usual,
            ends.clip(max=NEVER - 1), equinox,
        )  # fmt: skip

    def outings(self, t: int, forecast: Any) -> tuple[NDArray[np.float32], NDArray[np.bool_]]:
        """Hours out and nights out of each group today, (seasons × crops,): the rung that the forecast allows."""
        ladder = ladders()["seven"]
        ways_ = LadderColumns.of([ladder])
        shape = (len(CROPS), self.seasons)
        sky = self._sky(forecast)
        active = (t >= self.begin[:, None]) & ~self.gone & ~self.hardened
        whole = lambda a: np.asarray(a, np.int64)  # noqa: E731
        real = lambda name: np.array([getattr(lim, name) for lim in self.limits])  # noqa: E731
        z = np.array([1.2816 if lim.risk <= 0.1 else 1.0364 if lim.risk <= 0.15 else 0.6745 for lim in self.limits])
        begins = np.where(active, np.where(self.begun, -1, 0), 99)
        who = Climbers(
            whole([0] * len(CROPS)), self.state[0], self.state[1], self.state[2], self.state[3], self.state[4], self.state[5], begins,
            real("day_c"), real("night_c"), real("least_c"), real("colder_c"), z,
        )  # fmt: skip
        hours = np.array([[r.hours for r in ladder.rungs], [DAY_H if r.night else r.hours for r in ladder.rungs]])
        found = climb(ways_, who, sky, WindShelter(HOME, True), np.repeat(hours[:, None, None, :], 1, axis=2))
        code = found.code[:, :, 0]
        went = (code > 0) & (code <= GOES_OUT) & active
        self.begun |= went
        ended = [np.where(active, new, old) for new, old in zip(found.end, self.state, strict=True)]
        self.state = tuple(ended)
        self.hardened |= (self.state[0] >= len(ladder.rungs)) & active
        night = (code == NIGHT) & went
        given = np.where(went, np.minimum(found.hours[:, :, 0], DAY_H), 0.0)
        keeps = self.hardened & ~self.gone & ~went  # hardened, they stand in the frame where that bears it
        frame = sky.plant_c[:, 0][None, :] + 2.0
        told = np.array([c.number("damage_c") + 1 for c in self.crops])[:, None]
        stays = keeps & (frame > told)
        given = np.where(keeps & (sky.tmax_c[:, 0][None, :] >= real("day_c")[:, None]), CARRY_HOURS, given)
        assert given.shape == shape
        return given.T.reshape(-1).astype(np.float32), (night | stays).T.reshape(-1)

    def _sky(self, said: Any) -> Sky:
        """The forecast of today, (seasons, 1)."""
        clear, calm = said.cloud[:, 0] < 0.3, said.wind[:, 0] < 7.2
        dull = (said.cloud[:, 0] > 0.8) | (said.wind[:, 0] > 18)
        loss = np.where(clear & calm, 3.0, np.where(dull, 0.0, 1.0))
        column = lambda a: np.asarray(a, float)[:, None]  # noqa: E731
        nothing = np.full((self.seasons, 1), np.nan)
        wind = column(said.wind[:, 0])
        plant = column(said.tmin[:, 0] - loss + 2.0)  # nights out are in the frame
        return Sky(
            column(said.tmax[:, 0]),
            plant,
            np.full_like(wind, 1.5),
            column(said.cloud[:, 0]),
            wind,
            wind * 1.6,
            nothing,
            nothing,
        )

    def go(self, seen: Seen) -> NDArray[np.bool_]:
        """Which groups may go today, (seasons × crops,)."""
        t, start = seen.t, self.world.weather.start
        day = start + timedelta(days=t)
        self.today = seen.forecast()
        self.soils = [*self.soils[-2:], seen.soil_c]
        found = np.zeros((self.seasons, len(CROPS)), bool)
        near = np.array([abs((day - d).days) <= LATEST and (day - d).days >= -EARLIER for d in self.out])
        leaves = seen.leaves.reshape(self.seasons, -1)
        soil = np.mean(self.soils, axis=0).reshape(self.seasons, -1)[:, 0]
        said = self.today
        for s in range(self.seasons):
            asks = [n for n in range(len(CROPS)) if near[n] and not self.ordered[s, n] and leaves[s, n] >= 1]
            asks = [n for n in asks if self.hardened[n, s] or (day - self.out[n]).days > LATEST - 10]
            if not asks:
                continue
            nights = tuple(self._night(said, s * len(CROPS), k, day) for k in range(said.tmin.shape[1]))
            years = springs(self.place, day, nights)
            if years is None:
                continue
            for n in asks:
                late = (day - self.out[n]).days >= LATEST - 3
                found[s, n] = late or self._may(n, s, day, years, nights[0], float(leaves[s, n]), float(soil[s]))
        self.ordered |= found
        return self.ordered.reshape(-1)

    def _night(self, said: Any, g: int, k: int, day: date) -> Night:
        wind = float(said.wind[g, k])
        return Night(
            day + timedelta(days=k),
            float(said.tmin[g, k]),
            float(said.cloud[g, k]),
            wind,
            float(said.tmax[g, k]),
            wind * 1.6,
        )

    def _may(self, n: int, s: int, day: date, years: SpringsAhead, night: Night, leaves: float, soil: float) -> bool:
        crop = self.crops[n]
        asked = Asked(
            crop, day, 7 if self.hardened[n, s] else 0, 7, None, leaves, True, (soil,), night, Bed("A"),
            self.place.risk_for(crop.hardiness), None, None, None, covers=(),
        )  # fmt: skip
        passed = not any(g.holds or g.state == "covered" for g in gates(asked, years))
        if not self.choice.worth:
            return passed
        sort = self.sort_of[n]
        if sort is None:
            return passed
        value = worth([sort._replace(hardened=1.0, limit=self._limit(n, day), ahead=self._ahead(n, day))], years).value[
            0
        ]
        best_now = bool(value[0] >= value.max() - NEAR_BEST)
        return best_now and (passed if self.choice.gates else asked.climbed == 7)

    def _limit(self, n: int, day: date) -> int:
        return (self.sow[n] + timedelta(weeks=self.crops[n].number("hold")) - day).days

    def _ahead(self, n: int, day: date) -> float:
        crop = self.crops[n]
        usual = 3.5 * (crop.number("raise_min") + crop.number("raise_max"))
        age = min((day - self.sow[n]).days, 7 * crop.number("hold"))
        return float(age - usual)


class OurRun(Run):
    """A run whose outings are ours."""

    def __init__(self, world_: World, wishes: Sequence[Wish], ways_: habits.Ways, ours: Ours) -> None:
        super().__init__(world_, wishes, ways_, SEED)
        self.ours = ours
        self.outings = 0.0

    def _carried(self, t: int) -> tuple[NDArray[np.float32], NDArray[np.intp]]:
        place = np.where(self.out_on >= 0, self.bed, self.place)
        self.ours.gone |= (self.out_on >= 0).reshape(self.seasons, -1).T
        said = self.ours.today
        each = type(said)(*(a[:: len(CROPS)] for a in said))
        hours, nights = self.ours.outings(t, each)
        inside = (self.sown_on >= 0) & (self.out_on < 0)
        hours = np.where(inside, hours, 0).astype(np.float32)
        return hours, np.where(inside & nights, self.frame, place)


def policies(where: Where, here_: World) -> dict[str, Run]:
    """Our ladders and gates, and those of each habit.

    All are sown by the packet's weeks, but the two that count from last frost, which sow for their own day; and ours once more on
    the days of our own plan.
    """
    kinds, frost = [kind(key) for key in CROPS], last_frost(where)
    wishes, seasons = [Wish(key, kind(key), WANTED) for key in CROPS], len(here_.weather.tmin)
    sow, out = habits.by_the_packet(kinds, frost)
    earliest = np.tile([here_.weather.index(d) for d in out], seasons).astype(np.int32) - 21
    looks = habits.soil_and_forecast(kinds, list(range(len(kinds))) * seasons, earliest)
    packet = ways(here_, sow, out)

    def ours(days: tuple[list[date], list[date]]) -> Run:
        own = Ours(where, here_, *days, Choice())
        return OurRun(here_, wishes, ways(here_, *days)._replace(out=own.go), own)

    return {
        "aestiva": ours((sow, out)),
        "aestiva-own-days": ours(plan(where)),
        "at-last-frost": Run(here_, wishes, ways(here_, *habits.at_last_frost(kinds, frost)), SEED),
        "two-weeks-after": Run(here_, wishes, ways(here_, *habits.weeks_after(kinds, frost, 2)), SEED),
        "soil-and-forecast": Run(here_, wishes, packet._replace(out=looks), SEED),
        "no-hardening": Run(here_, wishes, packet._replace(hardens=0), SEED),
        "ten-days-by-the-book": Run(here_, wishes, packet._replace(hardens=10), SEED),
    }


def compare(seasons: int = SEASONS, climates: Sequence[Where] = (CLIMATES[0], CLIMATES[1], PLAIN)) -> Iterator[Line]:
    """One line a climate and policy."""
    wishes = [Wish(key, kind(key), WANTED) for key in CROPS]
    for where in climates:
        here_ = here(where, seasons)
        run = {name: one.score() for name, one in policies(where, here_).items()}
        yield from Line.all_of("out", where.name, run, best(here_, [w.kind for w in wishes]))
