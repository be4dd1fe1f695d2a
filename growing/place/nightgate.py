"""From when are nights warm enough?  The mean of the nights ahead with credit for warm days, and the single cold night."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from growing.place.growth import AHEAD_DAYS, fortnight_ahead

CREDIT_FROM_C, CREDIT_PER_C, MOST_CREDIT_C = 20.0, 3.0, 4.0  # warm days forgive cool nights: estimates
CHILL_CREDIT_C = 3.0  # of that, as much for a single night
RUN_DAYS = 21
CHILL_NIGHTS = 7
CHILL_CHANCE = 0.25
NEAR_LOWEST, LOWEST_COUNTS_TO = 0.05, 0.5

Array = NDArray[np.float64]


def credit(maxima: Array) -> Array:
    """What warm days add to the nights ahead [°C]: (fortnight's mean maximum − 20)/3, kept in 0–4.  (springs, days)."""
    return np.clip((fortnight_ahead(maxima, AHEAD_DAYS) - CREDIT_FROM_C) / CREDIT_PER_C, 0.0, MOST_CREDIT_C)


def warm_share(minima: Array, maxima: Array, celsius: float) -> Array:
    """Share of springs in which, on each day, the mean of the fourteen nights ahead plus the credit is at least `celsius`.

    minima, maxima: (springs, days) [°C], NaN where unknown.  Returns (days,).
    """
    with np.errstate(invalid="ignore"):
        warm = fortnight_ahead(minima, AHEAD_DAYS) + np.nan_to_num(credit(maxima)) >= celsius
    return np.asarray(warm.mean(axis=0))


def chill_chance(minima: Array, maxima: Array, chill_c: float) -> Array:
    """Chance, on each day, that any of the seven nights ahead is under `chill_c`, less the credit of warm days up to 3 °C.

    minima, maxima: (springs, days) [°C].  Returns (days,), over the springs; the last six days look no further than the end.
    """
    limit = chill_c - np.minimum(np.nan_to_num(credit(maxima)), CHILL_CREDIT_C)
    ahead = np.lib.stride_tricks.sliding_window_view(
        np.pad(np.nan_to_num(minima, nan=np.inf), ((0, 0), (0, CHILL_NIGHTS - 1)), constant_values=np.inf),
        CHILL_NIGHTS,
        axis=1,
    )
    return np.asarray((ahead.min(axis=2) < limit).mean(axis=0))


def first_run(good: NDArray[np.bool_], days: int = RUN_DAYS) -> int | None:
    """The first day of so many good days running; None where there is no such run."""
    counts = np.concatenate([[0], np.cumsum(good)])
    runs = np.flatnonzero(counts[days:] - counts[:-days] == days)
    return int(runs[0]) if runs.size else None


def seldom_chilled(chance: Array) -> NDArray[np.bool_]:
    """Days on which a chill is seldom: under one in four, or near the summer's lowest where that is no more than even."""
    lowest = float(chance.min())
    near = chance <= lowest + NEAR_LOWEST if lowest <= LOWEST_COUNTS_TO else np.zeros(len(chance), bool)
    return np.asarray((chance < CHILL_CHANCE) | near)
