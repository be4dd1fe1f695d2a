"""By when is a ladder climbed?  In how many of the springs on record, each begun with the forecast."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np

from growing.ladders.ahead import LadderCase, climbers, seen_by, sky_of, ways_of
from growing.ladders.climbing import Sky, climb
from growing.place.growth import SPAN_DAYS, Daily
from growing.place.nights import BETWEEN_C, SHELTER_C

LOOKED_AT_DAYS = 60
SURE = 0.8  # of springs


class InSprings(NamedTuple):
    """For each spring on record, in their order, the day from which it may be planted; None where that is after `until`."""

    days: tuple[date | None, ...]
    until: date

    @property
    def sure(self) -> tuple[float, date]:
        """The first day by which eight springs of ten are ready, and their share, 0–1; that of the last day looked at where none is."""
        ready = sorted(day for day in self.days if day is not None)
        need = int(np.ceil(SURE * len(self.days) - 1e-9))
        day = ready[need - 1] if len(ready) >= need else self.until
        return sum(one <= day for one in ready) / len(self.days), day


def in_springs(cases: Sequence[LadderCase], daily: Daily, begin: int) -> list[InSprings]:
    """One answer a batch, in their order.

    daily: every year on record, of the open garden.  begin: today's number in their span of days, 0 to SPAN_DAYS − 1.  After the
    forecast each year brings its own warmth by day and by night; wind, rain and cloud are not on record and forbid nothing there.
    """
    groups: dict[tuple[object, ...], list[int]] = {}
    for n, case in enumerate(cases):
        groups.setdefault(seen_by(case), []).append(n)
    found: dict[int, InSprings] = {}
    for numbers in groups.values():
        found |= zip(numbers, _together([cases[n] for n in numbers], daily, begin), strict=True)
    return [found[n] for n in range(len(cases))]


def _together(cases: list[LadderCase], daily: Daily, begin: int) -> list[InSprings]:
    """Batches that see the same days, from the same day on."""
    case = cases[0]
    first = begin + (case.since - case.today).days
    days = min(LOOKED_AT_DAYS, SPAN_DAYS - first)
    until = case.since + timedelta(days=days)
    if days <= 0:
        return [InSprings((None,) * daily.years, case.since) for _ in cases]
    home = [case.door.at_home(case.since + timedelta(days=d)) for d in range(days)]
    ways, can, numbers = ways_of(cases, home)
    who = climbers(cases, numbers)
    ready = climb(ways, who, _sky(case, daily, first, days), case.door.ground, can).ready
    return [
        InSprings(tuple(None if d >= days else case.since + timedelta(days=d) for d in row), until)
        for row in ready.tolist()
    ]


def _sky(case: LadderCase, daily: Daily, first: int, days: int) -> Sky:
    """The forecast as far as it reaches, then the years."""
    known, there = sky_of(case, days), slice(first, first + days)
    plant = daily.minima[:, there] - BETWEEN_C + SHELTER_C.get(case.stands, 0.0)
    return known._replace(
        tmax_c=np.where(np.isnan(known.tmax_c), daily.maxima[:, there], known.tmax_c),
        plant_c=np.where(np.isnan(known.plant_c), plant, known.plant_c),
    )
