"""What do the weather records say?  Last and first frosts per cold season from daily minima."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.calendar import cold_season_of, cold_season_start
from growing.frost import FrostDates, frost_dates

MINIMUM_SEASONS = 10
USED_SEASONS = 30
MISSING_SHARE = 0.10
MISSING_RUN = 3
NEAR_MEDIAN_DAYS = 30


class TooFewSeasons(ValueError):
    """Fewer usable cold seasons than a distribution needs."""


class ColdSeason(NamedTuple):
    """One cold season: its frosts as days from its start (None: no frost), and whether it is used.

    left_out: "" or the reason ("missing": more than a tenth of its days; "gap": a run missing near the median).
    """

    year: int
    last: int | None
    last_c: float | None
    first: int | None
    first_c: float | None
    missing: int
    left_out: str


@dataclass(frozen=True, eq=False)
class DailyMinima:
    """Daily minimum temperatures without holes in the calendar.

    start: the first day.  tmin: [°C], one value a day, NaN where missing.
    """

    start: date
    tmin: NDArray[np.float64]

    def season(self, year: int, southern: bool) -> NDArray[np.float64]:
        """The minima of one cold season, NaN outside the record; 365 or 366 long."""
        first = cold_season_start(year, southern)
        length = (cold_season_start(year + 1, southern) - first).days
        out = np.full(length, np.nan)
        offset = (first - self.start).days
        a, b = max(0, offset), min(len(self.tmin), offset + length)
        if b > a:
            out[a - offset : b - offset] = self.tmin[a:b]
        return out


def cold_seasons(record: DailyMinima, southern: bool, threshold_c: float, shift_c: float = 0.0) -> list[ColdSeason]:
    """Every cold season the record touches, oldest first, with the reasons for leaving any out.

    shift_c: garden minus station on daily minima [°C].  A season without a night ≤ threshold counts as frost-free.
    """
    last_day = record.start + timedelta(days=len(record.tmin) - 1)
    years = range(cold_season_of(record.start, southern), cold_season_of(last_day, southern) + 1)
    found = []
    for year in years:
        tmin = record.season(year, southern) + shift_c
        frost = np.flatnonzero(tmin <= threshold_c)
        missing = np.isnan(tmin)
        found.append((year, tmin, frost, missing))
    complete = [f for f in found if f[3].mean() <= MISSING_SHARE]
    medians = [
        float(np.median([f[2][end] for f in complete if f[2].size])) if any(f[2].size for f in complete) else None
        for end in (-1, 0)
    ]
    seasons = []
    for year, tmin, frost, missing in found:
        why = ""
        if missing.mean() > MISSING_SHARE:
            why = "missing"
        elif any(m is not None and _run_near(missing, m) for m in medians):
            why = "gap"
        last, first = (int(frost[-1]), int(frost[0])) if frost.size else (None, None)
        seasons.append(
            ColdSeason(
                year,
                last,
                None if last is None else float(tmin[last]),
                first,
                None if first is None else float(tmin[first]),
                int(missing.sum()),
                why,
            )
        )
    return seasons


def _run_near(missing: NDArray[np.bool_], median: float) -> bool:
    """More than three running days missing within a month of the event's median day?"""
    near = missing[max(0, int(median) - NEAR_MEDIAN_DAYS) : int(median) + NEAR_MEDIAN_DAYS + 1]
    run = 0
    for gone in near:
        run = run + 1 if gone else 0
        if run > MISSING_RUN:
            return True
    return False


@dataclass(frozen=True, eq=False)
class ComputedFrost:
    """Frost dates from a station's record, moved to the garden by `shift_c` [°C]."""

    southern: bool
    record: DailyMinima
    shift_c: float = 0.0
    source: str = "station"

    def seasons(self, threshold_c: float = 0.0) -> list[ColdSeason]:
        """All seasons, left-out ones included and named."""
        return _seasons(self, threshold_c)

    def used(self, threshold_c: float = 0.0) -> list[ColdSeason]:
        """The latest 30 usable seasons; raises TooFewSeasons under 10."""
        usable = [s for s in self.seasons(threshold_c) if not s.left_out][-USED_SEASONS:]
        if len(usable) < MINIMUM_SEASONS:
            raise TooFewSeasons(f"{len(usable)} usable cold seasons; at least {MINIMUM_SEASONS} are needed")
        return usable

    def last(self, year: int, threshold_c: float = 0.0) -> FrostDates:
        return self._dates("last", year, threshold_c)

    def first(self, year: int, threshold_c: float = 0.0) -> FrostDates:
        return self._dates("first", year + 1, threshold_c)

    def _dates(self, event: str, year: int, threshold_c: float) -> FrostDates:
        used = self.used(threshold_c)
        days = [d for s in used if (d := s.last if event == "last" else s.first) is not None]
        start = cold_season_start(year, self.southern)
        return frost_dates(start, event, threshold_c, days, len(used), self.source)


@lru_cache(maxsize=256)
def _seasons(climate: ComputedFrost, threshold_c: float) -> list[ColdSeason]:
    return cold_seasons(climate.record, climate.southern, threshold_c, climate.shift_c)
