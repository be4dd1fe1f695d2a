"""So many a week: are they there?  Our succession against all sown at once and a sowing every two weeks, with as many plants.

The same grower and garden; only how the plants are spread over sowings differs.  A week is met where what is wanted is there:
heads stand in the garden for as long as nature lets them, stems are good for a week.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.judge.climates import CLIMATES, YEAR, Where, last_frost, place_year, world
from demo.nature import habits
from demo.nature.grower import Minutes
from demo.nature.kinds import kind
from demo.nature.rooms import World
from demo.nature.season import Run, Wish
from growing.chain.choice import Choice
from growing.crops import library
from growing.plan.succession import by_need, candidates

CROPS: dict[str, tuple[float, float]] = {  # wanted a week; what a plant gives over its harvest, as growers reckon it
    "lettuce": (4, 1),
    "cabbage": (2, 1),
    "basil": (20, 40),
    "snapdragon": (30, 30),
    "zinnia": (30, 40),
}
SEASONS, SEED = 200, 1
FIRST, LAST = date(YEAR, 6, 29), date(YEAR, 10, 4)
WEEKS = [FIRST + timedelta(days=7 * k) for k in range((LAST - FIRST).days // 7 + 1)]
FORTNIGHT, LAST_SOWING = 14, date(YEAR, 8, 10)
VASE_DAYS = 7
HEADS = "head"


class Lot(NamedTuple):
    """One sowing of a crop: its days and plants."""

    crop: str
    sow: date
    out: date
    plants: int


class SuccessionsLine(NamedTuple):
    """Share of weeks met, over crops and seasons, with its error; ours less it, paired by season; sowings and plants a crop."""

    climate: str
    policy: str
    met: float
    se: float
    ours: float
    ours_se: float
    sowings: float
    plants: float
    by_crop: tuple[float, ...]

    def __str__(self) -> str:
        ours = "" if self.policy == "aestiva" else f"aestiva {self.ours:+.3f} ± {self.ours_se:.3f}; "
        crops = ", ".join(f"{c} {m:.2f}" for c, m in zip(CROPS, self.by_crop, strict=True))
        return (
            f"SIMULATE successions {self.climate} {self.policy} met={self.met:.3f} se={self.se:.3f}"
            f"  # {ours}{self.sowings:.1f} sowings and {self.plants:.0f} plants a crop; {crops}"
        )


def ours(where: Where) -> list[Lot]:
    """The fewest sowings that serve the weeks, as the plan proposes them."""
    place, found = place_year(where), []
    start = date(YEAR, 2, 1).toordinal()
    for key, (per_week, each) in CROPS.items():
        crop = library()[key]
        days = candidates(crop, place, Choice(), range(start, LAST.toordinal()))
        plan = by_need(days, [w.toordinal() for w in WEEKS], per_week, each, crop.word("picked") == "once")
        found += [Lot(key, date.fromordinal(s.at.sow), date.fromordinal(s.at.out), s.plants) for s in plan.sowings]
    return found


def habit(lots: Sequence[Lot], where: Where, every: int | None) -> list[Lot]:
    """As many plants of each crop from the packet's day on, all at once or every so many days; where we sow none of it, as many as
    would do."""
    keys = list(CROPS)
    kinds = [kind(key) for key in keys]
    sow, _ = habits.by_the_packet(kinds, last_frost(where))
    found = []
    for key, of, first in zip(keys, kinds, sow, strict=True):
        per_week, each = CROPS[key]
        total = sum(lot.plants for lot in lots if lot.crop == key) or ceil(per_week * len(WEEKS) / each)
        days = [first]
        while every is not None and days[-1] + timedelta(days=every) <= LAST_SOWING:
            days.append(days[-1] + timedelta(days=every))
        shares = [total // len(days) + (k < total % len(days)) for k in range(len(days))]
        book = timedelta(days=habits.book_days(of))
        found += [Lot(key, day, day + book, n) for day, n in zip(days, shares, strict=True) if n]
    return found


class Gathering(Run):
    """A run of which each day's harvest is kept: heads as whole ones, everything else as picked, (days, groups)."""

    def gather(self) -> NDArray[np.float64]:
        before = np.zeros(len(self.wanted))
        heads = np.array([w.kind.gives == HEADS for _ in range(self.seasons) for w in self.wishes])
        ready = np.zeros((self.ends, len(before)))
        for t in range(self.ends):
            self._day(t)
            now = np.where(heads, (self.plants.harvest > 0).sum(axis=0), self.plants.harvest.sum(axis=0))
            ready[t], before = now - before, now
        return ready


def met(here: World, lots: Sequence[Lot]) -> NDArray[np.float64]:
    """Share of the weeks with what is wanted, (seasons, crops)."""
    seasons = len(here.weather.tmin)
    wishes = [Wish(f"{lot.crop}-{lot.sow.isoformat()}", kind(lot.crop), lot.plants) for lot in lots]

    def days(given: list[date]) -> NDArray[np.int32]:
        return np.tile([here.weather.index(d) for d in given], seasons).astype(np.int32)

    sow, out = days([lot.sow for lot in lots]), days([lot.out for lot in lots])
    ways = habits.Ways(habits.on(sow), habits.on(out), habits.by_heft, habits.weekly_feed, out_on=out)
    ready = Gathering(here, wishes, ways, SEED, Minutes(a_day=np.inf)).gather().reshape(-1, seasons, len(lots))
    found = np.zeros((seasons, len(CROPS)))
    first = here.weather.index(FIRST)
    for c, (key, (per_week, _)) in enumerate(CROPS.items()):
        of = kind(key)
        here_ = ready[:, :, [k for k, lot in enumerate(lots) if lot.crop == key]].sum(axis=2)
        good = int(of.lasts_days) if of.gives == HEADS else VASE_DAYS
        found[:, c] = _weeks(here_, first, per_week, good) / len(WEEKS)
    return found


def _weeks(ready: NDArray[np.float64], first: int, per_week: float, good: int) -> NDArray[np.float64]:
    """Weeks met in each season: what comes ready each day is good for so many days, the oldest is used first."""
    days, seasons = ready.shape
    stock = np.zeros((good, seasons))  # by days left, the oldest first
    count = np.zeros(seasons)
    for t in range(days):
        stock = np.vstack([stock[1:], np.zeros((1, seasons))])
        stock[-1] += ready[t]
        week, day = divmod(t - first, 7)
        if 0 <= week < len(WEEKS) and day == 6:
            count += stock.sum(axis=0) >= per_week
            left = np.full(seasons, float(per_week))
            for k in range(good):
                take = np.minimum(stock[k], left)
                stock[k] -= take
                left -= take
    return count


def compare(seasons: int = SEASONS, climates: Sequence[Where] = CLIMATES) -> Iterator[SuccessionsLine]:
    """One line a climate and policy."""
    for where in climates:
        here, own = world(where, seasons), ours(where)
        policies = {
            "aestiva": own,
            "all-at-once": habit(own, where, None),
            "every-two-weeks": habit(own, where, FORTNIGHT),
        }
        share = {name: met(here, lots) for name, lots in policies.items()}
        for name, lots in policies.items():
            each = share[name].mean(axis=1)
            less = share["aestiva"].mean(axis=1) - each
            root = np.sqrt(len(each))
            yield SuccessionsLine(
                where.name,
                name,
                float(each.mean()),
                float(each.std(ddof=1) / root),
                float(less.mean()),
                float(less.std(ddof=1) / root),
                len(lots) / len(CROPS),
                sum(lot.plants for lot in lots) / len(CROPS),
                tuple(float(x) for x in share[name].mean(axis=0)),
            )
