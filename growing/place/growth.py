"""How fast does it grow here?  Years of daily weather as growth in standard days, and as warm and cold spells.

A standard day is a day at the warmth at which a crop's days to harvest are reckoned: Σ clip((T − base)/(std − base), 0, 1.3).
Days are counted from half a year before the spring that names the year (`span_start`); growth is kept in whole tenths of a
standard day, so that a day is looked up and not searched.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

FASTEST = 1.3
TENTHS = 10
MIDWINTER = 158  # days from the start of a span to its midwinter
SPAN_DAYS = 530  # from about the start of a cold season to the next midwinter
NEVER = 2**30  # a day that does not come
AHEAD_DAYS = 14  # what a fortnight's mean looks at

Days = NDArray[np.int32]


def midwinter(year: int, southern: bool) -> date:
    """The shortest day before the spring of `year`."""
    return date(year, 6, 21) if southern else date(year - 1, 12, 21)


def midsummer(year: int, southern: bool) -> date:
    """The longest day after the spring of `year`."""
    return date(year, 12, 21) if southern else date(year, 6, 21)


def span_start(year: int, southern: bool) -> date:
    """The day from which days of that growing year are counted, the same distance from midwinter every year."""
    return midwinter(year, southern) - timedelta(days=MIDWINTER)


@dataclass(frozen=True, eq=False)
class Growth:
    """Growth of one kind of crop in a number of years.

    units: (years, SPAN_DAYS + 1) tenths of standard days had before each day, rising.
    """

    units: NDArray[np.int32]

    @cached_property
    def day_of(self) -> NDArray[np.int32]:
        """(years, most units + 2): the first day before which so many tenths were had; NEVER where they never are."""
        had = self.units[:, -1]
        found = np.full((len(had), int(had.max(initial=0)) + 2), NEVER, np.int32)
        gained = np.diff(self.units, axis=1, prepend=np.int32(-1))  # every tenth belongs to the day that brought it
        days = np.broadcast_to(np.arange(self.units.shape[1], dtype=np.int32), self.units.shape)
        found[np.arange(found.shape[1]) <= had[:, None]] = np.repeat(days.ravel(), gained.ravel())
        return found


def standard_days(tmean_c: NDArray[np.float64], base_c: float, std_c: float) -> NDArray[np.int32]:
    """Growth had before each day, in tenths of standard days.

    tmean_c: (years, days) [°C] without gaps; base_c < std_c [°C].  Returns (years, days + 1).
    """
    rate = np.clip((tmean_c - base_c) / (std_c - base_c), 0.0, FASTEST)
    had = np.zeros((tmean_c.shape[0], tmean_c.shape[1] + 1))
    np.cumsum(rate, axis=1, out=had[:, 1:])
    return np.asarray(np.floor(had * TENTHS + 1e-6), dtype=np.int32)


def grown_by(growth: Growth, year: Days, start: Days | int, tenths: Days | int) -> Days:
    """The day by which so many tenths of standard days were had from the start of day `start` on; NEVER if not in the span.

    year: rows of `growth`; start: days; tenths: broadcast against each other.
    """
    at = growth.units[year, _in_span(start)] + tenths
    return np.asarray(growth.day_of[year, np.minimum(at, growth.day_of.shape[1] - 1)])


def _in_span(day: Days | int) -> Days | int:
    return min(max(day, 0), SPAN_DAYS) if isinstance(day, int) else np.clip(day, 0, SPAN_DAYS)


def latest_start(growth: Growth, year: Days, end: Days | int, tenths: Days | int) -> Days:
    """The last day from whose start on so many tenths are had by `end`; −1 where there is none.  Inverse of `grown_by`."""
    left = growth.units[year, _in_span(end)] - tenths
    found = growth.day_of[year, np.clip(left + 1, 0, growth.day_of.shape[1] - 1)] - 1
    return np.asarray(np.where(left < 0, -1, np.minimum(found, SPAN_DAYS)))


def fortnight_ahead(values: NDArray[np.float64], nights: int = AHEAD_DAYS) -> NDArray[np.float64]:
    """Mean of each day and those after it, `nights` in all, over what is known of them; NaN past the end.

    values: (years, days), NaN where unknown.  Returns the same shape.
    """
    known = ~np.isnan(values)
    sums, counts = (
        np.concatenate([np.zeros((len(values), 1)), np.cumsum(a, axis=1)], axis=1)
        for a in (np.where(known, values, 0.0), known.astype(float))
    )
    found = np.full(values.shape, np.nan)
    with np.errstate(invalid="ignore", divide="ignore"):
        mean = (sums[:, nights:] - sums[:, :-nights]) / (counts[:, nights:] - counts[:, :-nights])
    found[:, : mean.shape[1]] = mean
    return found


class Normals(NamedTuple):
    """Means over the years of the fortnight that begins on each day [°C], of whole days and of nights; and the mean of the
    nights of the warmest month."""

    day_c: NDArray[np.float64]
    night_c: NDArray[np.float64]
    summer_night_c: float

    @property
    def summer_day_c(self) -> float:
        """The mean, day and night, of the warmest fortnight."""
        return float(np.nanmax(self.day_c))


class Daily(NamedTuple):
    """Growing years day by day from the start of their span, without gaps, under their cover: minima and maxima at screen height,
    morning soil, (years, SPAN_DAYS) [°C]."""

    minima: NDArray[np.float64]
    maxima: NDArray[np.float64]
    soil: NDArray[np.float64]

    @property
    def years(self) -> int:
        return len(self.minima)


def filled(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Gaps filled with what is usual on that day over the years, or near it."""
    there = ~np.isnan(values)
    if there.all():
        return values
    count = there.sum(axis=0)
    known = np.flatnonzero(count)
    if not known.size:
        return values
    usual = np.where(there, values, 0.0).sum(axis=0)[known] / count[known]
    return np.where(there, values, np.interp(np.arange(values.shape[1]), known, usual))
