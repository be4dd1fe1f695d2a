"""Every batch under the mix: its clock by the warmth it had, what was counted, the verdict, and what is expected from here on."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.course.outlook import look_over
from aestiva.course.state import Item, SeasonState
from aestiva.course.warmth import Had
from growing.batch.posterior import SPEED_SD
from growing.batch.verdict import CHECK_X, ENDS_X, EmergenceCase, EmergenceVerdict
from growing.emergence.triggers import triggers
from growing.seeds.clock import share_up

AHEAD_DAYS = 16
BAND = 1.28  # of the speed's spread on each side: eight in ten


@dataclass
class SowingComing:
    """One batch: the warmth it had, what is known and said of it, and the counts."""

    item: Item
    had: Had
    case: EmergenceCase
    verdict: EmergenceVerdict
    counts: tuple[tuple[date, int], ...]

    @cached_property
    def line(self) -> ComingLine:
        """Only drawn for those that are shown."""
        return _line(self.had, self.case)

    @property
    def batch(self) -> int:
        return self.item.batch_pk

    @property
    def name(self) -> str:
        return self.item.name

    @property
    def spot_code(self) -> str:
        return self.item.spot_code

    @property
    def up(self) -> int:
        return self.counts[-1][1] if self.counts else 0

    @property
    def seeds(self) -> int:
        return self.case.batch.seeds

    @property
    def day(self) -> int:
        """Days since it was sown."""
        return len(self.had.days) - 1

    @property
    def whole_days(self) -> float:
        """Days from its sowing until half are up."""
        return self.item.raised.course.emergence_days

    def expected_by(self, day: date) -> tuple[int, int]:
        """From and to, of eight in ten, on a day."""
        k = min(len(self.line.low) - 1, max(0, (day - self.had.start).days))
        return math.floor(self.line.low[k]), math.ceil(self.line.high[k])


def coming(now: SeasonState) -> list[SowingComing]:
    """Every batch under the mix, the most pressing first."""
    found = [SowingComing(*one) for one in look_over(now).values()]
    return sorted((c for c in found if not _is_over(c)), key=lambda c: (c.verdict.pressing, c.name))


def _is_over(one: SowingComing) -> bool:
    """Enough are up and the clock has run long, or half are up and no more are counted, and nothing is left to be done around them:
    they are seedlings now."""
    half = one.item.raised.facts.half_up is not None and one.case.x >= ENDS_X
    enough = one.verdict.kind == "enough" and (one.case.x >= CHECK_X or one.up >= one.seeds)
    if not half and not enough:
        return False
    return not any(t.now for t in triggers(one.item.raised, one.case.today))


class ComingLine(NamedTuple):
    """What is expected up, from and to, a point a day from the sowing."""

    expected: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]


def _line(had: Had, case: EmergenceCase) -> ComingLine:
    """By the warmth had, then as the mix is taken to stay; eight batches in ten lie between."""
    x = np.array([*had.of.by_day, *(had.of.by_day[-1] + had.of.rate * np.arange(1, AHEAD_DAYS + 1))])
    share, seeds, sigma = case.mean, case.batch.seeds, case.batch.sigma
    middle = share_up(x, sigma) * share * seeds
    spread = np.sqrt(np.maximum(middle * (1 - middle / seeds), 0.0) + (0.1 * middle) ** 2)
    low = np.maximum(0.0, share_up(x * math.exp(-BAND * SPEED_SD), sigma) * share * seeds - spread)
    high = np.minimum(seeds, share_up(x * math.exp(BAND * SPEED_SD), sigma) * share * seeds + spread)
    return ComingLine(middle, low, high)
