"""What do the weather records say?  Last and first frosts per cold season from daily minima."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from growing.calendar import cold_season_of, cold_season_start
from growing.place.frost import EventDates, frost_dates
from growing.place.trend import Trend, trend_of

MINIMUM_SEASONS = 10
USED_SEASONS = 30
RECENT_SEASONS = 15
MISSING_SHARE = 0.10
MISSING_RUN = 3
NEAR_MEDIAN_DAYS = 30
LONGEST = 366
BASES = ("all", "recent", "adjusted")

T = TypeVar("T")


class TooFewSeasons(ValueError):
    """Fewer usable cold seasons than a distribution needs; `usable` says how many there are."""

    def __init__(self, usable: int) -> None:
        self.usable = usable
        super().__init__(f"{usable} usable cold seasons; at least {MINIMUM_SEASONS} are needed")


class ColdSeason(NamedTuple):
    """One cold season: its frosts as days from its start (None: no frost), and whether it is used.

    left_out: "" or why neither of its frosts is known ("edge": the record begins or ends within it; "missing": more than a
    tenth of its days).  gaps: events ("last", "first") near whose median a run of days is missing: these alone are unknown.
    """

    year: int
    last: int | None
    last_c: float | None
    first: int | None
    first_c: float | None
    missing: int
    left_out: str
    gaps: tuple[str, ...] = ()

    def unknown(self, event: str) -> str:
        """Why the season does not say when that event came: "" where it does, otherwise "edge", "missing" or "gap"."""
        return self.left_out or ("gap" if event in self.gaps else "")


class SeasonGrid(NamedTuple):
    """A record cut into cold seasons: years (n,), lengths (n,), values (n, 366) with NaN where nothing is known.

    runs: (n, 363) where more than three running days begin that are not there; absent: (n,) how many are not.
    """

    years: NDArray[np.int64]
    lengths: NDArray[np.int64]
    values: NDArray[np.float64]
    runs: NDArray[np.bool_]
    absent: NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class DailySeries:
    """Daily values without holes in the calendar.

    start: the first day.  values: [°C], one a day, NaN where missing.
    """

    start: date
    values: NDArray[np.float64]

    @property
    def end(self) -> date:
        """The last day of the record."""
        return self.start + timedelta(days=len(self.values) - 1)

    def between(self, first: date, last: date) -> NDArray[np.float64]:
        """The values from `first` to `last`, both included; NaN outside the record."""
        out = np.full((last - first).days + 1, np.nan)
        offset = (first - self.start).days
        a, b = max(0, offset), min(len(self.values), offset + len(out))
        if b > a:
            out[a - offset : b - offset] = self.values[a:b]
        return out

    def rows(self, starts: Sequence[date], days: int) -> NDArray[np.float64]:
        """The values of so many days from each start on: (starts, days), NaN outside the record."""
        known = np.concatenate([self.values, [np.nan]])
        first = np.array([day.toordinal() for day in starts], dtype=np.int64) - self.start.toordinal()
        place = first[:, None] + np.arange(days)
        inside = (place >= 0) & (place < len(self.values))
        return np.asarray(known[np.where(inside, place, len(self.values))])

    def grid(self, southern: bool) -> SeasonGrid:
        """Every cold season the record touches as a row; worked out once."""
        if southern not in self._grids:
            self._grids[southern] = _grid(self, southern)
        return self._grids[southern]

    @cached_property
    def _grids(self) -> dict[bool, SeasonGrid]:
        return {}


def _grid(record: DailySeries, southern: bool) -> SeasonGrid:
    years = np.arange(cold_season_of(record.start, southern), cold_season_of(record.end, southern) + 1)
    starts = [cold_season_start(int(y), southern).toordinal() for y in (*years, years[-1] + 1)]
    lengths = np.diff(starts)
    values = np.full((len(years), LONGEST), np.nan)
    zero = record.start.toordinal()
    for row, begin, end in zip(values, starts, starts[1:], strict=False):
        a, b = max(begin, zero), min(end, zero + len(record.values))
        row[a - begin : b - begin] = record.values[a - zero : b - zero]
    missing = np.isnan(values) & (np.arange(LONGEST) < lengths[:, None])
    runs = missing[:, MISSING_RUN:].copy()
    for day in range(MISSING_RUN):
        runs &= missing[:, day : day - MISSING_RUN]
    return SeasonGrid(years, lengths, values, runs, missing.sum(axis=1))


def cold_seasons(record: DailySeries, southern: bool, threshold_c: float, shift_c: float = 0.0) -> list[ColdSeason]:
    """Every cold season the record touches, oldest first, with the reasons for leaving any out.

    shift_c: garden minus station on daily minima [°C].  A season without a night ≤ threshold counts as frost-free.
    """
    years, lengths, values, runs, absent = record.grid(southern)
    frost = values <= threshold_c - shift_c + 1e-9  # a tenth too much is a matter of rounding
    has_frost = frost.any(axis=1)
    first = frost.argmax(axis=1)
    last = LONGEST - 1 - frost[:, ::-1].argmax(axis=1)
    sparse = absent > MISSING_SHARE * lengths
    gap = np.zeros((2, len(years)), bool)
    whole = has_frost & ~sparse
    if whole.any() and runs[~sparse].any():  # what misses a tenth is left out for that already
        for near, days in zip(gap, (last, first), strict=True):
            near[:] = _run_near(runs, float(np.median(days[whole])))
    edge = np.zeros(len(years), bool)
    edge[0] |= record.start > cold_season_start(int(years[0]), southern)
    edge[-1] |= record.end < cold_season_start(int(years[-1]) + 1, southern) - timedelta(days=1)
    rows = np.arange(len(years))
    why = np.select([sparse & edge, sparse], ["edge", "missing"], "")
    known = (last, values[rows, last] + shift_c, first, values[rows, first] + shift_c)
    columns = (years, has_frost, *known, absent, why, gap[0], gap[1])
    found = []
    for y, any_frost, a, ac, b, bc, gone, reason, near_last, near_first in zip(
        *(c.tolist() for c in columns), strict=True
    ):
        gaps = (*(["last"] if near_last else []), *(["first"] if near_first else []))
        if not any_frost:
            a = ac = b = bc = None
        found.append(ColdSeason(y, a, ac, b, bc, gone, reason, gaps))
    return found


def _run_near(runs: NDArray[np.bool_], median: float) -> NDArray[np.bool_]:
    """Seasons (n,) with more than three running days missing within a month of the event's median day."""
    first = max(0, int(median) - NEAR_MEDIAN_DAYS)
    last = int(median) + NEAR_MEDIAN_DAYS - MISSING_RUN
    return np.asarray(runs[:, first : last + 1].any(axis=1))


@dataclass(frozen=True, eq=False)
class ComputedFrost:
    """Frost dates from a station's record, moved to the garden by `shift_c` [°C].

    basis: which seasons speak: "all" (the latest 30), "recent" (the latest 15), or "adjusted" (each year's day moved
    along the trend to the latest year).  least: usable seasons below which nothing is said.
    """

    southern: bool
    record: DailySeries
    shift_c: float = 0.0
    source: str = "station"
    basis: str = "all"
    least: int = MINIMUM_SEASONS

    @cached_property
    def _seasons(self) -> dict[float, list[ColdSeason]]:
        return {}

    def seasons(self, threshold_c: float = 0.0) -> list[ColdSeason]:
        """All seasons, left-out ones included and named."""
        if threshold_c not in self._seasons:
            self._seasons[threshold_c] = cold_seasons(self.record, self.southern, threshold_c, self.shift_c)
        return self._seasons[threshold_c]

    def used(self, threshold_c: float = 0.0, event: str = "last") -> list[ColdSeason]:
        """The latest 30 seasons that know the event (15 for "recent"); raises TooFewSeasons under 10."""
        usable = [s for s in self.seasons(threshold_c) if not s.unknown(event)]
        if len(usable) < self.least:
            raise TooFewSeasons(len(usable))
        return usable[-(RECENT_SEASONS if self.basis == "recent" else USED_SEASONS) :]

    def event_days(self, event: str, threshold_c: float = 0.0) -> tuple[list[int], list[float]]:
        """Years and days (from season start) of the last or first frosts that speak, as observed."""
        pairs = [(s.year, s.last if event == "last" else s.first) for s in self.used(threshold_c, event)]
        known = [(y, float(d)) for y, d in pairs if d is not None]
        return [y for y, _ in known], [d for _, d in known]

    def kept(self, question: Hashable, work_out: Callable[[], T]) -> T:
        """The answer to a question about this climate; here it is worked out each time."""
        return work_out()

    def trend(self, event: str, threshold_c: float = 0.0) -> Trend:
        """Whether the days have been moving over the seasons used."""
        return trend_of(*self.event_days(event, threshold_c))

    def last(self, year: int, threshold_c: float = 0.0) -> EventDates:
        return self._dates("last", year, threshold_c)

    def first(self, year: int, threshold_c: float = 0.0) -> EventDates:
        return self._dates("first", year + 1, threshold_c)

    def _dates(self, event: str, year: int, threshold_c: float) -> EventDates:
        years, days = self.event_days(event, threshold_c)
        if self.basis == "adjusted" and days:
            days = trend_of(years, days).moved(years, days, self.used(threshold_c, event)[-1].year)
        start = cold_season_start(year, self.southern)
        return frost_dates(start, event, threshold_c, days, len(self.used(threshold_c, event)), self.source)
