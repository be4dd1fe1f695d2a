"""How well do so many years know a frost date?  The years drawn again with replacement, a thousand times, and smoothed.

A set drawn again repeats the few days on record, and is too sure of the outer dates; each drawn day is moved by a
little of the years' own spread, more for outer dates (tried on records of 12, 20 and 30 seasons, even and skewed: the
band of four in five then holds the true date in 72–88 of 100 cases).
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import real
from growing.place.frost import EventDates
from growing.place.quantile import position
from growing.working import Value, Working

DRAWS = 1000
SMOOTH_MIDDLE = real("place.sureness.SMOOTH_MIDDLE")
SMOOTH_OUTER = real("place.sureness.SMOOTH_OUTER")
INSIDE = 0.8  # of the drawn sets give a date between low and high: "four times in five"


class Sureness(NamedTuple):
    """low, high: the middle four fifths of the dates that sets of as many years give; give_or_take: half their distance
    in days.  None where fewer than half of the sets give a date at all.  undated: share of the sets that give none.
    """

    low: date | None
    high: date | None
    give_or_take: float | None
    undated: float
    working: Working


def bandwidth(days: Sequence[float], risk: float) -> float:
    """How far a drawn day is moved [days, standard deviation] for the date of that risk."""
    if len(days) < 2:
        return 0.0
    share = SMOOTH_MIDDLE + SMOOTH_OUTER * abs(2 * risk - 1)
    return share * float(np.std(days, ddof=1)) * float(len(days) ** -0.2)


@lru_cache(maxsize=32)
def _drawn(seasons: int, seed: int) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """A thousand sets of as many seasons, by their places, and a normal error for each: the same for every question."""
    random = np.random.default_rng(seed)
    picks = random.integers(0, seasons, (DRAWS, seasons))
    return picks, random.standard_normal(picks.shape, np.float32)


def drawn_dates(
    days: Sequence[float], seasons: int, event: str, risk: float, seed: int = 1, moved: float | None = None
) -> NDArray[np.float64]:
    """Dates for `risk` (days from season start) from a thousand sets of `seasons` drawn with replacement.

    days: the frost seasons' days; the other seasons are frost-free.  moved: each drawn day by so much [days, standard
    deviation]; None: by `bandwidth`.  NaN where a set never reaches the risk.  Returns (1000,), by the quantile of type 8,
    held at the outermost day of the set.
    """
    picks, errors = _drawn(seasons, seed)
    pool = np.full(seasons, np.inf, np.float32)
    pool[: len(days)] = sorted(days)
    drawn = pool[picks]
    moved = bandwidth(days, risk) if moved is None else moved
    if moved:
        drawn += np.float32(moved) * errors
    drawn.sort(axis=1)
    frosts = np.isfinite(drawn).sum(axis=1)
    q = frosts / seasons
    with np.errstate(divide="ignore", invalid="ignore"):
        p = 1 - risk / q if event == "last" else risk / q
    reached = risk < q
    h = position(np.where(reached, p, 0.0), frosts)
    low = np.floor(h).astype(int)
    rows = np.arange(DRAWS)
    below = drawn[rows, low - 1]
    above = drawn[rows, np.minimum(low, np.maximum(frosts, 1) - 1)]
    with np.errstate(invalid="ignore"):
        return np.where(reached, below + (h - low) * (above - below), np.nan)


def how_sure(dates: EventDates, seasons: int, risk: float) -> Sureness:
    """How far the date for `risk` would move had other years of the same climate been recorded.

    dates: from observed days (a typed date has no sureness: ValueError).  seasons: usable ones behind it.
    """
    if dates.n is None:
        raise ValueError("a typed date has no years behind it")
    found = drawn_dates(dates.days, seasons, dates.event, risk) if dates.n else np.full(DRAWS, np.nan)
    known = found[~np.isnan(found)]
    undated = 1 - len(known) / DRAWS
    low = high = half = None
    if undated < 0.5:
        a, b = np.quantile(known, ((1 - INSIDE) / 2, (1 + INSIDE) / 2))
        half = float(b - a) / 2
        low, high = (date.fromordinal(dates.start.toordinal() + round(float(x))) for x in (a, b))
    inputs = (
        Value("seasons", seasons, "", dates.source),
        Value("risk", risk, "share", "setting"),
        Value("low", low),
        Value("high", high),
        Value("undated", undated, "share", "working"),
    )
    return Sureness(
        low, high, half, undated, Working("place.sureness", inputs, (), Value("give or take", half, "days"))
    )


def risk_band(dates: EventDates, seasons: int, days: NDArray[np.float64], seed: int = 1) -> NDArray[np.float64]:
    """The middle four fifths of the drawn risks on each of `days` (from season start): (2, days), low and high."""
    observed = np.array(dates.days)
    after = observed[:, None] > days if dates.event == "last" else observed[:, None] <= days
    counts = np.random.default_rng(seed).multinomial(seasons, np.full(seasons, 1 / seasons), DRAWS)
    shares = counts[:, : len(observed)] @ after / seasons
    ordered = np.sort(shares, axis=0)
    outside = round(DRAWS * (1 - INSIDE) / 2)
    return ordered[[outside, DRAWS - 1 - outside]]
