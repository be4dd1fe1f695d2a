"""How far are they?  The rate of emergence summed over the temperatures that the mix really had, hour by hour."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

from growing.assumptions import real
from growing.crops import Crop
from growing.seeds.thermal_time import _points

Array = NDArray[np.float64]
HOURS = 24
WARMEST_HOUR, COLDEST_HOUR = 15, 6  # of a day that is only known by its extremes
SWING_C = real("seeds.clock.SWING_C")
SOURCES = ("assumed", "one reading", "least and most", "probe")


class RateCurve(NamedTuple):
    """Rate of a crop by temperature: corners [°C] and rates there [1/day], a line between, 0 outside and below 0 °C."""

    corners_c: tuple[float, ...]
    rates: tuple[float, ...]


def curve(crop: Crop) -> RateCurve:
    """The crop's rate by temperature: from the table of days, otherwise from its cardinal temperatures."""
    if crop.table_row:
        xs, ys = _points(crop.table_row, crop.number("min_c"), crop.number("max_c"))
        return RateCurve(xs, tuple(y / crop.number("proxy_factor") for y in ys))
    low, best, high, top = (crop.number(f) for f in ("min_c", "germinate_c", "high_c", "max_c"))
    top = high + 3 if top <= high else top
    fast = 1 / crop.number("best_days")
    return RateCurve((min(low, best - 0.1), best, max(high, best), top), (0.0, fast, fast, 0.0))


def rates(of: RateCurve, celsius: Array) -> Array:
    """Rate of emergence [1/day] at each temperature [°C], any shape; NaN (not known) counts as none."""
    found = np.interp(celsius, of.corners_c, of.rates, left=0.0, right=0.0)
    return np.where(celsius >= 0, found, 0.0)


def progress(of: RateCurve, hourly_c: Array) -> Array:
    """Thermal clock x at the end of each hour.  hourly_c: (…, hours) [°C] from the start of warmth; half are up at x = 1."""
    found: Array = np.cumsum(rates(of, hourly_c), axis=-1)
    found /= HOURS
    return found


class Advance(NamedTuple):
    """How the clock of a sowing ran, and will run.

    by_day: x at the noon of each day since it was sown, the first 0.  rate: [1/day] from the last of them on.  ahead_c: what the
    mix is taken to have from there on [°C].  mean_c: of the warmth had, first_c: of its first two days, None: none yet.  measured:
    did anybody measure it on most days?  share: of what comes at the best warmth, what comes at that it had, each hour weighed by
    how far the clock ran in it.  cold_days: spent under the least at which it moves.
    """

    by_day: tuple[float, ...]
    rate: float
    ahead_c: float
    mean_c: float | None = None
    first_c: float | None = None
    measured: bool = False
    share: float = 1.0
    cold_days: float = 0.0

    @classmethod
    def steady(cls, rate: float, days: int, celsius: float) -> Advance:
        """As fast from first to last."""
        return cls(tuple(rate * k for k in range(days + 1)), rate, celsius, celsius if days else None)

    def days_at(self, x: float) -> float:
        """Days from the sowing until the clock stands there; infinite where it never does."""
        if x > self.by_day[-1]:
            return len(self.by_day) - 1 + (x - self.by_day[-1]) / self.rate if self.rate > 0 else float("inf")
        k = bisect_left(self.by_day, x)
        if k == 0:
            return 0.0
        before, after = self.by_day[k - 1], self.by_day[k]
        return k - 1 + (x - before) / (after - before)

    def x_at(self, day: int) -> float:
        """The clock so many days after the sowing."""
        if day < len(self.by_day):
            return self.by_day[max(0, day)]
        return self.by_day[-1] + (day - len(self.by_day) + 1) * self.rate


STEP_C, LOWEST_C, HIGHEST_C = 0.02, -5.0, 60.0  # of the table that many hours are looked up in


def _table(of: RateCurve) -> Array:
    """Rates an hour at every fiftieth of a degree."""
    return rates(of, np.arange(LOWEST_C, HIGHEST_C + STEP_C, STEP_C)) / HOURS


def clocks(curves: Sequence[RateCurve], kinds: NDArray[np.int64], hourly_c: Array) -> Array:
    """The same of many batches, to a fiftieth of a degree.

    curves: of each kind of crop.  kinds: of each batch, (batches,).  hourly_c: (batches, hours).
    """
    tables = np.stack([_table(of) for of in curves]).ravel()
    width = len(tables) // len(curves)
    at = np.clip(hourly_c, LOWEST_C, HIGHEST_C - STEP_C)
    at -= LOWEST_C - STEP_C / 2
    at *= 1 / STEP_C
    index = at.astype(np.int32)
    index += (kinds * width).astype(np.int32)[:, None]
    np.take(tables, index, out=at, mode="clip")
    found: Array = np.cumsum(at, axis=1, out=at)
    return found


def day_between(low_c: float, high_c: float) -> Array:
    """24 hourly means of a day known by its least and most [°C]: a sine, coldest at 6, warmest at 15."""
    hours = np.arange(HOURS) + 0.5
    rising = (hours >= COLDEST_HOUR) & (hours < WARMEST_HOUR)
    up = (hours - COLDEST_HOUR) / (WARMEST_HOUR - COLDEST_HOUR)
    down = ((hours - WARMEST_HOUR) % HOURS) / (HOURS - (WARMEST_HOUR - COLDEST_HOUR))
    share = np.where(rising, (1 - np.cos(np.pi * up)) / 2, (1 + np.cos(np.pi * down)) / 2)
    return low_c + (high_c - low_c) * share


def day_by_one(celsius: float, hour: float) -> Array:
    """24 hourly means of a day of which one reading is known: the usual swing, put through it."""
    usual = day_between(0.0, SWING_C)
    return celsius - usual[int(hour) % HOURS] + usual


def share_up(x: Array, sigma: float | Array) -> Array:
    """Of those that will come, the share up at clock x."""
    with np.errstate(divide="ignore"):
        found: Array = ndtr(np.log(np.maximum(x, 0.0)) / sigma)
    return found


def x_for(share: float, sigma: float) -> float:
    """The clock at which that share of those that will come is up."""
    return float(np.exp(sigma * ndtri(share)))


def hours_until(of: RateCurve, x_now: float, x_then: float, ahead_c: float, rate: float | None = None) -> float:
    """Hours until the clock stands at x_then if the mix stays at ahead_c, or runs at that rate [1/day]; infinite where it does not move."""
    if x_then <= x_now:
        return 0.0
    rate = float(rates(of, np.array([ahead_c]))[0]) if rate is None else rate
    return float("inf") if rate <= 0 else (x_then - x_now) / rate * HOURS
