"""How did it end?  One run: nature × grower × a way of growing → plants, harvest, minutes and worth, season by season.

Runs with the same seed meet the same weather, seeds and mistakes, so that two ways are compared in pairs.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature import grower
from demo.nature.habits import Seen, Ways
from demo.nature.kinds import Kind, Kinds
from demo.nature.plants import Care, Plants, Sowing
from demo.nature.rooms import World
from demo.nature.weather import Forecast, forecast

Numbers = NDArray[np.float64]
FOUR_WEEKS = 28
POT_ON_LEAVES, POT_FILLED, POT_CM2 = 3.0, 0.8, 1.7  # cm² of a pot's top: 1.7 × ml^⅔
CELL_ML, CELL_CM2, ACROSS = 40.0, 21.0, 12
FEED_N_MG_L = 150.0  # what the grower usually mixes
LADDER_H = (2, 3, 4, 5, 6, 8, 10)
NIGHTS_OUT, NOON_H = 2, 5  # what is out for so long is watered at noon again
NEVER = 10**6
MAT_FROM_C = 30.0  # what germinates up to here at least goes on the mat, as packets say; cool seed does not
SEED_PRICE, CELL_PRICE = 0.05, 0.06


class Wish(NamedTuple):
    """So many plants of a kind, by its name (which names its chance); age of the lot in years."""

    name: str
    kind: Kind
    wanted: int
    age_years: float = 0.0


class Score(NamedTuple):
    """What became of it, (seasons, wishes): plants set out, alive after four weeks, harvest (days, or heads) a wanted plant, seeds,
    minutes (seasons,), money."""

    wanted: Numbers
    set_out: Numbers
    alive: Numbers
    harvest: Numbers
    seeds: Numbers
    minutes: Numbers
    money: Numbers

    def worth(self, best: Numbers) -> Numbers:
        """Harvest of a wanted plant against that of an unharmed one on the season's best day (seasons, wishes), 0–1 and a little over."""
        return np.divide(self.harvest, best, out=np.zeros_like(best), where=best > 0)


def mean_and_error(values: Numbers) -> tuple[float, float]:
    """Mean over seasons and wishes, and its standard error with seasons as the independent cases."""
    each = values.mean(axis=1) if values.ndim == 2 else values
    return float(each.mean()), float(each.std(ddof=1) / np.sqrt(len(each))) if len(each) > 1 else float("nan")


def pot_ml(k: Kinds) -> NDArray[np.float32]:
    """The pot that roots of a plant ready to go out fill to four fifths [ml]."""
    return np.asarray(k.root_ml * k.ready**1.5 / POT_FILLED, np.float32)


def top_cm2(ml: NDArray[np.float32]) -> NDArray[np.float32]:
    """The open surface of a pot of so many ml [cm²]."""
    return np.asarray(POT_CM2 * ml ** (2 / 3), np.float32)


class Run:
    """One run; `places` of the world: a shelf, a porch, a frame and a bed."""

    def __init__(
        self, world: World, wishes: Sequence[Wish], ways: Ways, seed: int, minutes: grower.Minutes = grower.Minutes(),
        unharmed_until: int | None = None, ends: int | None = None,
    ) -> None:  # fmt: skip
        self.world, self.wishes, self.ways, self.minutes = world, wishes, ways, minutes
        self.seasons, self.ends = len(world.weather.tmin), ends or world.weather.days - 1
        seeds, cells = ways.seeds, ways.per_cell
        each = [max(1, round(w.wanted * seeds)) for w in wishes] if isinstance(seeds, float) else list(seeds)
        self.per_cell = np.tile([cells] * len(wishes) if isinstance(cells, int) else list(cells), self.seasons)
        self.thinned = self.per_cell == 1
        sowings = [
            Sowing(s, w.name, w.kind, n, w.age_years, 1.0, CELL_ML, CELL_CM2, ACROSS)
            for s in range(self.seasons)
            for w, n in zip(wishes, each, strict=True)
        ]
        self.plants = Plants(sowings, seed, unharmed_until is not None)
        self.unharmed_until, self.season = unharmed_until, self.plants.season
        self.seeds = np.array([s.seeds for s in sowings], np.float32)
        self.wanted = np.array([w.wanted for _ in range(self.seasons) for w in wishes])
        names = [(s.season, s.name) for s in sowings]
        self.chances = grower.chances(seed, names, self.ends)
        groups = len(sowings)
        code = world.code
        self.shelf, self.porch, self.frame, self.bed = (code[c] for c in ("shelf", "porch", "frame", "bed"))
        self.place = np.full(groups, self.shelf)
        self.sown_on, self.out_on = np.full(groups, -1, np.int32), np.full(groups, -1, np.int32)
        self.up = np.full(groups, np.nan, np.float32)
        self.set_out, self.alive = np.zeros(groups), np.zeros(groups)
        self.time, self.potted = np.zeros(self.seasons), np.zeros(groups, bool)
        k = self.plants.k
        self.takes_mat = k.ceiling_c > MAT_FROM_C
        self.pot_ml = pot_ml(k)
        self.pot_cm2 = top_cm2(self.pot_ml)
        self.wants_sow, self.wants_out = np.full(groups, NEVER), np.full(groups, NEVER)

    def score(self) -> Score:
        """Run to the end."""
        for t in range(self.ends):
            self._day(t)
        shape = (self.seasons, len(self.wishes))
        harvest = self.plants.harvest.sum(axis=0) / self.wanted
        money = self.seeds * SEED_PRICE + self.seeds * CELL_PRICE
        grids = (self.wanted, self.set_out, self.alive, harvest, self.seeds * (self.sown_on >= 0), money)
        wanted, set_out, alive, harvest, seeds, money = (np.asarray(a, float).reshape(shape) for a in grids)
        return Score(wanted, set_out, alive, harvest, seeds, self.time, money)

    def seen(self, t: int) -> Seen:
        """What the grower sees of it on the morning of day t."""
        plants, season, on_bench = self.plants, self.season, (self.sown_on >= 0) & (self.out_on < 0)
        look, number = ~self.chances.skips[t], (plants.living > 0).sum(axis=0).astype(np.float32)

        count = grower.counted(number, self.chances.wrong[t], self.seeds)
        self.up = np.where(look & (self.sown_on >= 0), count, self.up)
        return Seen(
            t=t,
            sown_days=np.where(self.sown_on >= 0, t - self.sown_on, -1),
            up=self.up,
            leaves=np.floor(plants.of_living(plants.leaves)),
            heft=np.where(look & on_bench, grower.lifted(plants.felt()), np.int8(-1)),
            limp=np.round(plants.of_living(plants.wilted > 0), 2),
            harmed=np.round(plants.of_living(plants.health < 0.8), 1),
            lowest_c=np.round(self.world.weather.night_here(t), 1)[season].astype(np.float32),
            soil_c=np.round(self.world.soil[season, max(t - 1, 0)] - 1.0, 1).astype(np.float32),
            forecast=lambda: Forecast(*(said[season] for said in forecast(self.world.weather, t))),
        )

    def _day(self, t: int) -> None:
        plants, ways, cost = self.plants, self.ways, self.minutes
        sown, out = self.sown_on >= 0, self.out_on >= 0
        seen = self.seen(t)
        with hidden(plants):
            sow, go, water, feed = ways.sow(seen), ways.out(seen), ways.water(seen), ways.feed(seen)
        sow, go, water, feed = sow & ~sown, go & ~out & sown, water & sown & ~out, feed & sown & ~out
        for wish, order, late in ((self.wants_sow, sow, 0), (self.wants_out, go, 1)):
            np.minimum(wish, np.where(order, t, NEVER), out=wish)
            order &= t >= wish + self.chances.late[:, late]
        thin = sown & ~out & ~self.thinned & (seen.leaves >= 1)
        if thin.any():
            self._thin(thin)
        pot = sown & ~out & ~self.potted & (seen.leaves >= POT_ON_LEAVES) & (self.pot_ml > plants.cell_ml)
        each = (
            sow * self.seeds * cost.seed,
            (water | feed) * cost.tray,
            pot * self.wanted * cost.potted,
            go * self.wanted * cost.set_out,
        )
        take = np.sum(each, axis=0)
        done = grower.within(take, self.season, cost.a_day)
        sow, go, water, feed, pot = (order & done for order in (sow, go, water, feed, pot))
        self.sown_on[sow], plants.sown[sow] = t, True
        plants.give_water(water, ways.fills)
        plants.give_food(feed, ways.feed_n_mg_l)
        if pot.any():
            self._choose(np.flatnonzero(pot), 1.25)
            plants.pot_on(pot, self.pot_ml, self.pot_cm2)
            self.potted |= pot
        if go.any():
            self._choose(np.flatnonzero(go), 1.0)
            plants.plant_out(go)
            self.out_on[go] = t
            self.set_out[go] = plants.living.sum(axis=0)[go]
        hours, place = self._carried(t)
        self.time += np.bincount(self.season, take * done + (hours > 0) * cost.carried, self.seasons)
        stands_out = (hours >= NOON_H) | (place == self.frame)
        noon = ways.noon & stands_out & (self.sown_on >= 0) & (self.out_on < 0) & ~self.chances.skips[t]
        rising = (self.sown_on >= 0) & ~plants.up.any(axis=0)
        plants.day(
            self.world.air(t),
            Care(place, rising, rising & self.takes_mat, hours, np.full(len(place), self.porch), noon),
            t,
        )
        if t == self.unharmed_until:
            plants.unharmed = False
        four = (self.out_on >= 0) & (t == self.out_on + FOUR_WEEKS)
        self.alive[four] = plants.living.sum(axis=0)[four]

    def _thin(self, thin: NDArray[np.bool_]) -> None:
        """Each cell of these groups keeps its largest."""
        plants, self.thinned = self.plants, self.thinned | thin
        gone = np.zeros(plants.living.shape, bool)
        for m in np.unique(self.per_cell[thin]):
            groups = np.flatnonzero(thin & (self.per_cell == m))
            size = ((plants.leaves + 1) * plants.living)[:, groups]
            rows = -(-len(size) // m) * m
            size = np.concatenate([size, np.zeros((rows - len(size), len(groups)))]).reshape(rows // m, m, len(groups))
            kept = np.arange(m)[None, :, None] == size.argmax(axis=1)[:, None, :]
            gone[:, groups] = ~kept.reshape(rows, len(groups))[: len(gone)]
        plants.remove(gone)

    def _choose(self, groups: NDArray[np.intp], times: float) -> None:
        """The grower keeps the best of them: so many times what is wanted."""
        plants = self.plants
        size = ((plants.leaves + 1) * plants.living)[:, groups]
        rank = np.argsort(np.argsort(-size, axis=0, kind="stable"), axis=0)
        gone = np.zeros(plants.living.shape, bool)
        gone[:, groups] = rank >= np.ceil(self.wanted[groups] * times)
        plants.remove(gone)

    def _carried(self, t: int) -> tuple[NDArray[np.float32], NDArray[np.intp]]:
        """Hours out today, and where everything stands tonight: on the ladder the last nights are in the frame."""
        hours, place = np.zeros(len(self.place), np.float32), np.where(self.out_on >= 0, self.bed, self.place)
        if self.ways.out_on is not None and self.ways.hardens:
            left = self.ways.out_on + self.chances.late[:, 1] - t
            climbs = (left > 0) & (left <= self.ways.hardens) & (self.out_on < 0) & (self.sown_on >= 0)
            rung = np.clip(self.ways.hardens - left, 0, len(LADDER_H) - 1)
            hours = np.where(climbs, np.array(LADDER_H, np.float32)[rung], 0).astype(np.float32)
            place = np.where(climbs & (left <= NIGHTS_OUT), self.frame, place)
        return hours, place


class hidden:
    """While a rule decides, the truth is not there to be read: its arrays hold nothing but NaN (when `poison` is set)."""

    poison = False

    def __init__(self, plants: Plants) -> None:
        self.plants = plants
        self.kept: dict[str, NDArray[np.generic]] = {}

    def __enter__(self) -> None:
        if hidden.poison:
            truth = vars(self.plants)
            self.kept = {n: a for n, a in truth.items() if isinstance(a, np.ndarray)}
            truth.update({n: np.full(a.shape, np.nan) for n, a in self.kept.items()})

    def __exit__(self, *why: object) -> None:
        vars(self.plants).update(self.kept)
