"""From when are nights warm enough?  The mean of the nights ahead with credit for warm days, and the single cold night."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import real
from growing.place.growth import AHEAD_DAYS, fortnight_ahead

CREDIT_FROM_C = real("place.nightgate.CREDIT_FROM_C")
CREDIT_PER_C = real("place.nightgate.CREDIT_PER_C")
MOST_CREDIT_C = real("place.nightgate.MOST_CREDIT_C")
CHILL_CREDIT_C = 3.0  # of that, as much for a single night
RUN_DAYS = 21
CHILL_NIGHTS = 7
CHILL_CHANCE = 0.25
NEAR_LOWEST, LOWEST_COUNTS_TO = 0.05, 0.5

Array = NDArray[np.float64]


class NightsAhead(NamedTuple):
    """Nights with the credit of warm days, from each day on: the mean of fourteen, and the coldest of seven [°C].

    Both (springs, days), NaN and inf where unknown.
    """

    mean_c: Array
    coldest_c: Array


def nights_ahead(minima: Array, maxima: Array) -> NightsAhead:
    """The nights ahead of each day.  minima, maxima: (springs, days) [°C], NaN where unknown.

    Credit: (fortnight's mean maximum − 20)/3, kept in 0–4 °C; a single cold night has up to 3 of it.
    """
    given = np.clip((fortnight_ahead(maxima, AHEAD_DAYS) - CREDIT_FROM_C) / CREDIT_PER_C, 0.0, MOST_CREDIT_C)
    given = np.nan_to_num(given)
    known = np.nan_to_num(minima, nan=np.inf)
    coldest = known.copy()
    for night in range(1, CHILL_NIGHTS):  # the last six days look no further than the end
        np.minimum(coldest[:, :-night], known[:, night:], out=coldest[:, :-night])
    return NightsAhead(fortnight_ahead(minima, AHEAD_DAYS) + given, coldest + np.minimum(given, CHILL_CREDIT_C))


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
