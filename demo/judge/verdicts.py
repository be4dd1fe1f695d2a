"""Is it coming, what now?  Following the verdicts against never sowing again, sowing again when late by the packet, and sowing double.

Three places to come up in: a steady warm room, a room whose heating stops on mild days, a cold porch.  The same sowing days, packets,
seeds, looks and hands for all; what is up goes under lamps.  Judged by the plants that are ready on planting day, of those wanted, and
by the seed used.  Verdicts meet true beliefs about the seed, and beliefs that are 0.15 too high or too low.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.judge.climates import CLIMATES, YEAR, place_year, world
from demo.nature import grower
from demo.nature.chance import stream
from demo.nature.kinds import kind
from demo.nature.plants import Care, Plants, Sowing
from demo.nature.rooms import NUMBERS, Place, Room, World
from demo.nature.season import FEED_N_MG_L, POT_ON_LEAVES, pot_ml, top_cm2
from growing.batch.posterior import CountLook, Lifted, SowingSoFar, priors
from growing.batch.verdict import LIFT_DAYS, EmergenceCase, EmergenceVerdict, verdicts
from growing.chain.choice import Choice
from growing.chain.dates import PlantingDates, date_planting
from growing.crops import Crop, library
from growing.seeds.clock import curve, rates
from growing.seeds.thermal_time import relative_share
from growing.seeds.viability import Packet, germination
from growing.shelves.laying import laying

Numbers = NDArray[np.float64]
CROPS = ("tomato", "pepper", "lettuce", "cabbage", "celery", "zinnia")
AGES = ("fresh", "old")
WANTED, SEASONS, SEED = 12, 200, 1
SPARE = 1.15  # sown over what the belief in the packet asks for
MOST_AGAIN = 2
READY = 0.6  # of the leaves at which it is ready, from which a plant counts on planting day
PROBE_SD_C = 0.3
LID_FROM_C = 27.0  # seed that goes dormant in the heat lies under no lid in lamplight
PACKET_TIMES, PACKET_DAYS = (
    1.6,
    3,
)  # a packet's longest days to emergence: so many times its best, and some more (estimates)
WARM, MILD, PORCH, GROW = range(4)
PLACES = (
    Place("warm", "shelf", Room(20.0, 1.0, 99.0), fan=True),
    Place("mild", "shelf", Room(20.0, 2.5, 9.0), fan=True),
    Place("porch", "porch"),
    Place("grow", "shelf", fan=True),
)
ROOMS = {"warm-room": WARM, "mild-spell-room": MILD, "cold-porch": PORCH}


class VerdictPolicy(NamedTuple):
    """How it goes on after the first sowing.  follows: the verdicts; moves: what lies too cold goes where it is warm; belief: how far off
    is what is believed of the seed; times: of the seeds that others sow; packet: sows again when late by the packet."""

    name: str
    follows: bool = False
    moves: bool = False
    belief: float = 0.0
    times: int = 1
    packet: bool = False


POLICIES = (
    VerdictPolicy("aestiva", True, True),
    VerdictPolicy("aestiva-stays", True),
    VerdictPolicy("aestiva-believes-too-much", True, True, 0.15),
    VerdictPolicy("aestiva-believes-too-little", True, True, -0.15),
    VerdictPolicy("never"),
    VerdictPolicy("late-by-packet", packet=True),
    VerdictPolicy("double", times=2),
)


class VerdictWish(NamedTuple):
    """One sowing that all make: its crop, what its packet is believed to give, its dates."""

    name: str
    crop: Crop
    age: float
    mean: float
    dates: PlantingDates

    @property
    def need(self) -> int:
        return ceil(WANTED / self.crop.number("survival"))

    @property
    def seeds(self) -> int:
        return ceil(SPARE * WANTED / self.crop.number("survival") / max(0.2, self.mean))


class VerdictsLine(NamedTuple):
    """Of a hundred wanted, plants ready on planting day, with its error, and ours less it, paired; seeds a wanted plant; of a hundred
    sowings, those sown again, and those of them that would have been enough without; of what was said to come, eight in ten, what did."""

    room: str
    policy: str
    plants: float
    se: float
    ours: float
    ours_se: float
    seeds: float
    again: float
    needless: float
    covered: float

    def __str__(self) -> str:
        ours = "" if self.policy == "aestiva" else f"aestiva {self.ours:+.1f} ± {self.ours_se:.1f}; "
        return (
            f"SIMULATE verdicts {self.room} {self.policy} plants={self.plants:.1f} se={self.se:.1f} seeds={self.seeds:.2f}"
            f"  # {ours}sown again {self.again:.0f} of 100, {self.needless:.0f} of them needlessly"
            + ("" if np.isnan(self.covered) else f"; 80 % intervals hold {self.covered:.0%}")
        )


def wishes() -> list[VerdictWish]:
    """Every crop from a fresh packet and from an old one, on the day that the plan proposes."""
    here, found = place_year(CLIMATES[0]), []
    for key in CROPS:
        crop, of = library()[key], kind(key)
        dates = date_planting(crop, here, Choice())
        for age in AGES:
            years = float(round(of.life_years)) if age == "old" else 0.0
            found.append(
                VerdictWish(
                    f"{key} {age}", crop, years, germination(crop, Packet(years), [], date(YEAR, 1, 1)).mean, dates
                )
            )
    return found


class VerdictTrial:
    """One policy in one room: first sowings and up to two more of each, season by season."""

    def __init__(
        self, world: World, policy: VerdictPolicy, room: int, all_of_them: list[VerdictWish], seasons: int
    ) -> None:
        self.world, self.policy, self.room, self.wishes, self.seasons = world, policy, room, all_of_them, seasons
        wide, self.each = len(all_of_them), seasons * len(all_of_them)
        most = [MOST_AGAIN * w.seeds for w in all_of_them]
        sowings = [
            Sowing(s, f"{w.name} {n}", kind(w.crop.key), most[k], w.age, 1.0)
            for n in range(1 + MOST_AGAIN)
            for s in range(seasons)
            for k, w in enumerate(all_of_them)
        ]
        self.plants, groups = Plants(sowings, SEED), len(sowings)
        self.wish = np.tile(np.arange(wide), seasons * (1 + MOST_AGAIN))
        self.chances = grower.chances(SEED, [(s.season, s.name) for s in sowings], world.weather.days)
        self.seeds, self.sown_on = np.zeros(groups, int), np.full(groups, -1)
        self.place, self.need = np.full(groups, room), np.zeros(groups, int)
        self.x, self.last_c, self.had = np.zeros(groups), np.full(groups, np.nan), np.zeros(groups)
        self.looks: list[list[CountLook]] = [[] for _ in range(groups)]
        self.lifted, self.lifted_on, self.lifted_x = [Lifted()] * groups, np.full(groups, -99), np.zeros(groups)
        self.ready = np.zeros(groups)
        self.promised: dict[int, tuple[float, float]] = {}
        self.takes_lid, self.pot_ml = self.plants.k.ceiling_c > LID_FROM_C, pot_ml(self.plants.k)
        self.curves = [curve(w.crop) for w in all_of_them]
        self.read = stream(SEED, "probe").normal(0, PROBE_SD_C, (world.weather.days, groups)).astype(np.float32)
        self.index = world.weather.index

    def run(self) -> tuple[Numbers, Numbers, Numbers, Numbers]:
        """Plants ready, at most as many as wanted; seeds; sown again; and needlessly: (seasons, wishes) each."""
        first, last = (
            f(self.index(d) for w in self.wishes for d in (w.dates.sow_on, w.dates.out_on)) for f in (min, max)
        )
        for t in range(first, last + 1):
            self._day(t)
        by = self.ready.reshape(1 + MOST_AGAIN, self.seasons, -1)
        sown = self.seeds.reshape(by.shape)
        again = (sown[1:] > 0).any(axis=0)
        needless = again & (by[0] >= WANTED)
        return (
            np.minimum(by.sum(axis=0), WANTED),
            sown.sum(axis=0).astype(float),
            again.astype(float),
            needless.astype(float),
        )

    def _day(self, t: int) -> None:
        plants = self.plants
        for g in range(self.each):
            wish = self.wishes[self.wish[g]]
            if self.sown_on[g] < 0 and t >= self.index(wish.dates.sow_on):
                self._sow(g, wish.seeds * self.policy.times, t, wish.need)
        up = self._up()
        self._look(t, up)
        if self.policy.follows:
            self._promise(t)
            self._follow(t)
        elif self.policy.packet:
            self._by_packet(t)
        self.place = np.where(up > 0, GROW, self.place)
        self._tend(t)
        none = np.zeros(len(self.place), bool)
        care = Care(
            self.place,
            (up == 0) & (self.sown_on >= 0) & self.takes_lid,
            none,
            np.zeros(len(none), np.float32),
            self.place,
            none,
        )
        self._warm(t)
        plants.day(self.world.air(t), care, t)
        for g in np.flatnonzero(self.sown_on >= 0).tolist():
            wish = self.wishes[self.wish[g]]
            if t == self.index(wish.dates.out_on):
                mine = slice(0, self.seeds[g])
                big = plants.leaves[mine, g] >= READY * plants.k.ready[g]
                self.ready[g] = int((big & (plants.living[mine, g] > 0)).sum())

    def _tend(self, t: int) -> None:
        """Water by heft, a feed a week from the first true leaf on, a pot at the third: the same for all."""
        plants = self.plants
        leaves = plants.of_living(plants.leaves)
        plants.give_water((self.sown_on >= 0) & (grower.lifted(plants.felt()) == grower.DRY))
        if t % 7 == 0:
            plants.give_food(leaves >= 1, FEED_N_MG_L)
        pot = (leaves >= POT_ON_LEAVES) & (self.pot_ml > plants.cell_ml)
        if pot.any():
            plants.pot_on(pot, self.pot_ml, top_cm2(self.pot_ml))

    def _sow(self, g: int, seeds: int, t: int, need: int) -> None:
        self.seeds[g], self.sown_on[g], self.need[g] = min(seeds, len(self.plants.up)), t, need
        self.plants.sown[g] = True
        self.plants.will_come[self.seeds[g] :, g] = False

    def _up(self) -> NDArray[np.int64]:
        return np.asarray(self.plants.up.sum(axis=0))

    def _warm(self, t: int) -> None:
        """What the probe says of the day, and the clock by it."""
        numbers = self.world.air(t).numbers[NUMBERS.index("soil_c")]
        lid = self.world.air(t).numbers[NUMBERS.index("lid_c")]
        under = ~self.plants.up.any(axis=0) & self.takes_lid
        mix = numbers[self.place, self.plants.season] + under * lid[self.place, self.plants.season] + self.read[t]
        sown = self.sown_on >= 0
        self.last_c = np.where(sown, mix, self.last_c)
        self.had += np.where(sown, mix, 0.0)
        for k, of in enumerate(self.curves):
            mine = sown & (self.wish == k)
            self.x[mine] += rates(of, mix[mine].astype(float))

    def _look(self, t: int, up: NDArray[np.int64]) -> None:
        """A look a day from the first that may be up on, unless it is skipped."""
        for g in np.flatnonzero((self.sown_on >= 0) & (self.sown_on < t) & ~self.chances.skips[t]).tolist():
            sigma = self.wishes[self.wish[g]].crop.number("sigma")
            if self.x[g] < np.exp(-2 * sigma):
                continue
            told = round(float(up[g]) * (1 + float(self.chances.wrong[t, g])))
            known = self.looks[g][-1].up if self.looks[g] else 0
            self.looks[g].append(CountLook(float(self.x[g]), max(known, min(told, int(self.seeds[g])))))

    def _promise(self, t: int) -> None:
        """What is said to come in the end, from and to, of each first sowing once half should be up."""
        groups = [
            g
            for g in range(self.each)
            if self.sown_on[g] >= 0 and g not in self.promised and self.x[g] >= 1 and self.looks[g]
        ]
        for g, verdict in zip(groups, verdicts([self._case(g, t) for g in groups]), strict=True):
            self.promised[g] = verdict.low, verdict.high

    def covered(self) -> float:
        """Of those promises (eight in ten), the share that came true."""
        up = self._up()
        kept = [low - 0.5 <= up[g] <= high + 0.5 for g, (low, high) in self.promised.items()]
        return float(np.mean(kept)) if kept else float("nan")

    def _follow(self, t: int) -> None:
        """Verdicts on all that lies there and is not enough yet; what they say is done."""
        groups = [
            int(g) for g in np.flatnonzero(self.sown_on >= 0)
            if t <= self.index(self.wishes[self.wish[g]].dates.out_on) and (not self.looks[g] or self.looks[g][-1].up < self.need[g])
        ]  # fmt: skip
        for g, verdict in zip(groups, verdicts([self._case(g, t) for g in groups]), strict=True):
            self._do(g, verdict, t)

    def _case(self, g: int, t: int) -> EmergenceCase:
        wish, days = self.wishes[self.wish[g]], t - self.sown_on[g]
        crop, last = wish.crop, float(self.last_c[g])
        ahead = last if np.isfinite(last) else crop.number("germinate_c")
        had = float(self.had[g] / days) if days else ahead
        best = relative_share(crop, crop.number("germinate_c"))
        mean = float(
            np.clip((wish.mean + self.policy.belief) * relative_share(crop, had) / max(best, 1e-6), 0.02, 0.98)
        )
        batch = SowingSoFar(
            int(self.seeds[g]),
            crop.number("sigma"),
            *priors(mean),
            tuple(self.looks[g]),
            self.lifted[g],
            float(self.lifted_x[g]),
        )
        return EmergenceCase(
            batch, float(self.x[g]), int(self.need[g]), self._date(t), self.curves[self.wish[g]], ahead, True, wish.dates.sow_closes,
            mean, low_c=laying(crop).low_c, high_c=crop.number("high_c"), had_c=had,
        )  # fmt: skip

    def _date(self, t: int) -> date:
        return self.world.weather.start + timedelta(days=t)

    def _do(self, g: int, verdict: EmergenceVerdict, t: int) -> None:
        if verdict.kind == "warm" and self.policy.moves:
            self.place[g] = WARM
        elif verdict.kind == "check" and t >= self.lifted_on[g] + LIFT_DAYS:
            self._lift(g, t)
        elif verdict.sows:
            short = ceil(verdict.short)
            if self._again(g, t, verdict.sow, short):
                self.need[g] = max(1, self.need[g] - short)

    def _again(self, g: int, t: int, seeds: int, need: int) -> bool:
        """Sow once more, where that is still to be had."""
        first = g % self.each
        free = next((n for n in range(first + self.each, len(self.seeds), self.each) if self.sown_on[n] < 0), None)
        if free is None:
            return False
        self._sow(free, seeds, t, need)
        self.place[free] = WARM if self.policy.moves else self.room
        return True

    def _lift(self, g: int, t: int) -> None:
        """Two that are not up: a root, swollen, or soft, as anybody sees."""
        plants, mine = self.plants, np.flatnonzero(~self.plants.up[: self.seeds[g], g])[:2]
        firm, far = plants.firm(g), plants.heat[g] / np.maximum(plants.need[:, g], 1e-6)
        found = self.lifted[g]
        for k in mine:
            if not firm[k]:
                found = found._replace(soft=found.soft + 1)
            elif far[k] >= 0.75:
                found = found._replace(root=found.root + 1)
            elif far[k] >= 0.3:
                found = found._replace(swollen=found.swollen + 1)
        self.lifted[g], self.lifted_on[g], self.lifted_x[g] = found, t, self.x[g]

    def _by_packet(self, t: int) -> None:
        """Fewer than half of those wanted by the last day that the packet names: the same again, once."""
        for g in range(self.each):
            wish = self.wishes[self.wish[g]]
            days = round(PACKET_TIMES * wish.crop.number("best_days")) + PACKET_DAYS
            told = self.looks[g][-1].up if self.looks[g] else 0
            if self.sown_on[g] == t - days and told < WANTED / 2 and self._date(t) <= wish.dates.sow_closes:
                self._again(g, t, wish.seeds, wish.need)


def compare(seasons: int = SEASONS) -> Iterator[VerdictsLine]:
    """One line a room and policy."""
    all_of_them = wishes()
    here = world(CLIMATES[0], seasons, SEED, PLACES)
    for room, place in ROOMS.items():
        ours: Numbers | None = None
        for policy in POLICIES:
            if policy.name == "aestiva-stays" and place != PORCH:
                continue
            trial = VerdictTrial(here, policy, place, all_of_them, seasons)
            plants, seeds, again, needless = trial.run()
            share = 100 * plants.mean(axis=1) / WANTED
            ours = share if ours is None else ours
            yield VerdictsLine(
                room, policy.name, float(share.mean()), float(share.std(ddof=1) / np.sqrt(seasons)), float((ours - share).mean()),
                float((ours - share).std(ddof=1) / np.sqrt(seasons)), float(seeds.mean() / WANTED), 100 * float(again.mean()),
                100 * float(needless.sum() / max(1.0, again.sum())), trial.covered(),
            )  # fmt: skip
