"""What would mend it, and at what price?  Repairs of a lack of room, and the cheapest set of them that does."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import real, shown
from growing.bench.ahead import SLACK, Floats
from growing.working import Value, Working

MINUTES_A_PLANT = real("bench.mending.MINUTES_A_PLANT")


class Repair(NamedTuple):
    """One thing that can be done.

    key: names it.  batch: of one batch or planting only one is done.  change: what it adds to the room taken, (zones, days)
    [flats].  days: by which its first harvest or bloom comes later.  lost: plants that this delay is worth.  minutes: of work more.
    plants: fewer than without it.
    """

    key: str
    kind: str
    batch: int
    change: Floats
    days: float = 0.0
    lost: float = 0.0
    minutes: float = 0.0
    plants: float = 0.0

    @property
    def cost(self) -> float:
        """Its price in plants: those it costs, those its delay is worth, and its minutes."""
        return self.plants + self.lost + self.minutes / MINUTES_A_PLANT

    @property
    def working(self) -> Working:
        inputs = (
            Value("plants", round(self.plants, 1), "plants"),
            Value("days", round(self.days, 1), "days"),
            Value("delay", round(self.lost, 1), "plants", "estimate"),
            Value("minutes", round(self.minutes), "min", "estimate"),
            shown("minutes a plant", "bench.mending.MINUTES_A_PLANT"),
        )
        return Working("bench.repair", inputs, (), Value("price", round(self.cost, 2), "plants"))


class Mended(NamedTuple):
    """The cheapest set: its repairs in order of price, what it costs, and flats still over at the worst (0: it mends it)."""

    repairs: tuple[Repair, ...]
    cost: float
    left: float


def relief(used: Floats, holds: Floats, aim: NDArray[np.bool_], change: Floats) -> float:
    """Flats by which a change lowers the worst of the days aimed at; negative where it makes it worse.

    used, change: (zones, days).  holds: (zones, 1).  aim: the zone's days to be mended, (zones, days).
    """
    over = (used - holds)[aim]
    after = (used + change - holds)[aim]
    return float(np.maximum(over, 0).max(initial=0.0) - np.maximum(after, 0).max(initial=0.0))


def harms(used: Floats, holds: Floats, change: Floats) -> bool:
    """Does it make another day too full, or a full one worse?"""
    return bool(np.any(used + change > np.maximum(holds, used) + SLACK))


def cheapest(used: Floats, holds: Floats, aim: NDArray[np.bool_], repairs: Sequence[Repair]) -> Mended:
    """The set that leaves least over on the days aimed at and harms no other day; of those the cheapest, then the smallest.

    Exact: every set with at most one repair a batch is looked at, but for those that cannot come out better than one in hand.
    A set may hold a repair that alone would harm, where another of the set makes up for it.
    """
    own: dict[int, list[Repair]] = defaultdict(list)
    for repair in repairs:
        own[repair.batch].append(repair)
    groups = sorted(own.values(), key=lambda g: min(r.cost for r in g))
    many, which = _columns(used, aim, repairs)
    base, limit, target = used[:, which], np.broadcast_to(holds, used.shape)[:, which], aim[:, which]
    cap = np.maximum(limit, base) + SLACK
    changes = {id(r): r.change[:, which] for r in many}
    can: list[Floats] = [np.zeros_like(base)]  # the most that the groups from k on can take away, day by day
    for group in reversed(groups):
        can.append(can[-1] + np.minimum(0.0, np.min([changes[id(r)] for r in group], axis=0)))
    can.reverse()
    best: list[Mended] = [Mended((), 0.0, _left(base, limit, target))]

    def search(k: int, taken: tuple[Repair, ...], at: Floats, cost: float) -> None:
        lowest = at + can[k]
        found = best[0]
        hope = _left(lowest, limit, target)
        if np.any(lowest > cap) or hope > found.left + SLACK:
            return
        if cost > found.cost + SLACK and hope > found.left - SLACK:
            return
        if np.all(at <= cap):
            here = Mended(taken, cost, _left(at, limit, target))
            if _better(here, found):
                best[0] = here
        if k == len(groups):
            return
        for repair in sorted(groups[k], key=lambda r: r.cost):
            search(k + 1, (*taken, repair), at + changes[id(repair)], cost + repair.cost)
        search(k + 1, taken, at, cost)

    search(0, (), base, 0.0)
    one = best[0]
    return Mended(tuple(sorted(one.repairs, key=lambda r: (r.cost, r.key))), one.cost, one.left)


def _better(here: Mended, than: Mended) -> bool:
    if abs(here.left - than.left) > SLACK:
        return here.left < than.left
    if abs(here.cost - than.cost) > SLACK:
        return here.cost < than.cost
    return len(here.repairs) < len(than.repairs)


def _left(at: Floats, limit: Floats, target: NDArray[np.bool_]) -> float:
    return max(0.0, float((at - limit)[target].max(initial=0.0)))


def _columns(
    used: Floats, aim: NDArray[np.bool_], repairs: Sequence[Repair]
) -> tuple[Sequence[Repair], NDArray[np.intp]]:
    """The days that tell: of days that are alike in all that is looked at, one."""
    rows = np.vstack([used, aim.astype(float), *(r.change for r in repairs)])
    _, which = np.unique(rows.round(6), axis=1, return_index=True)
    return repairs, np.sort(which)


RULES = {"bench.repair": ("plants", "days", "delay", "minutes", "minutes a plant")}
