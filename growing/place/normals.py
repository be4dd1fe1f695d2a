"""What is usual here at this time of the year?  Means and ranges of a record by month and by day."""

from __future__ import annotations

from datetime import date

import numpy as np
from numpy.typing import NDArray

from growing.place.minima import DailySeries

WINDOW_DAYS = 7
INSIDE = (0.1, 0.9)  # eight days in ten
_EPOCH = date(1970, 1, 1).toordinal()


def monthly_mean(series: DailySeries, month: int) -> float | None:
    """The mean of a month, 1 to 12, over all years [°C]; None where nothing was read in it."""
    days = np.arange(len(series.values)) + series.start.toordinal() - _EPOCH
    months = days.astype("datetime64[D]").astype("datetime64[M]").astype(int) % 12
    values = series.values[months == month - 1]
    return None if np.isnan(values).all() else float(np.nanmean(values))


def usual_range(series: DailySeries) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """One day in ten is colder, one in ten warmer, over all years within a week of the day: two arrays (366,) [°C]."""
    by_day = _by_day(series)
    around = np.concatenate([by_day[:, -WINDOW_DAYS:], by_day, by_day[:, :WINDOW_DAYS]], axis=1)
    spread = np.lib.stride_tricks.sliding_window_view(around, 2 * WINDOW_DAYS + 1, axis=1)
    low, high = np.nanquantile(spread.transpose(1, 0, 2).reshape(366, -1), INSIDE, axis=1)
    return low, high


def _by_day(series: DailySeries) -> NDArray[np.float64]:
    """(years, 366): each calendar year as a row, 29 February a day of its own."""
    rows = []
    for year in range(series.start.year, series.end.year + 1):
        row = series.between(date(year, 1, 1), date(year, 12, 31))
        rows.append(row if len(row) == 366 else np.insert(row, 59, np.nan))
    return np.array(rows)
