"""How much colder is my garden than the station?  From nights on which both were read.

Cold air gathers on clear calm nights, and those are the nights that matter: they weigh double.  Under fourteen nights
the difference is drawn toward 0.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

import numpy as np

from growing.assumptions import real
from growing.working import Value, Working

ENOUGH_NIGHTS = 14
CLEAR_WEIGHT = 2.0
CLEAR_RANGE_C = real("place.shift.CLEAR_RANGE_C")
ALONE_SPREAD_C = real("place.shift.ALONE_SPREAD_C")


class Pair(NamedTuple):
    """One night: the minimum at the station and in the garden [°C]; clear: clear and calm, None where not known."""

    day: date
    station_c: float
    garden_c: float
    clear: bool | None = None


class Shift(NamedTuple):
    """Garden minus station on minima [°C], its standard error, and the nights and clear nights behind it."""

    shift_c: float
    error_c: float
    nights: int
    clear: int
    working: Working


class Remote(NamedTuple):
    """How far the station stands from the garden [km] and how much higher the garden lies [m, None: not known].

    far: over 30 km.  high: over 100 m; by_height_c: the garden against the station by height alone.
    """

    distance_km: float
    climb_m: float | None
    far: bool
    high: bool
    by_height_c: float

    @property
    def rise_m(self) -> float:
        """The difference in height, either way."""
        return abs(self.climb_m or 0.0)


FAR_KM = real("place.shift.FAR_KM")
HIGH_M = real("place.shift.HIGH_M")
COOLING_C_PER_M = -0.0065  # of free air with height; on clear nights a valley can be colder than its slopes
EARTH_KM = 6371.0
Spot = tuple[float, float, float | None]


def remote(garden: Spot, station: Spot) -> Remote:
    """The garden against its station; both as latitude, longitude [°] and height [m]."""
    la, lb = math.radians(garden[0]), math.radians(station[0])
    half = math.sin((lb - la) / 2) ** 2
    half += math.cos(la) * math.cos(lb) * math.sin(math.radians(station[1] - garden[1]) / 2) ** 2
    distance = 2 * EARTH_KM * math.asin(math.sqrt(half))
    climb = None if garden[2] is None or station[2] is None else garden[2] - station[2]
    high = climb is not None and abs(climb) > HIGH_M
    return Remote(distance, climb, distance > FAR_KM, high, 0.0 if climb is None else climb * COOLING_C_PER_M)


def was_clear(tmin_c: float, tmax_c: float) -> bool | None:
    """Whether the station's day looks clear and calm by its range; None where one of the two is missing."""
    spread = tmax_c - tmin_c
    return None if math.isnan(spread) else spread >= CLEAR_RANGE_C


def garden_shift(pairs: Sequence[Pair]) -> Shift | None:
    """The weighted median of the paired differences; None without a pair."""
    if not pairs:
        return None
    difference = np.array([p.garden_c - p.station_c for p in pairs])
    weight = np.array([CLEAR_WEIGHT if p.clear else 1.0 for p in pairs])
    n, clear = len(pairs), sum(bool(p.clear) for p in pairs)
    median = _weighted_median(difference, weight)
    spread = 1.4826 * float(np.median(np.abs(difference - median))) if n > 2 else ALONE_SPREAD_C
    effective = float(weight.sum() ** 2 / (weight**2).sum())
    standard_error = 1.2533 * max(spread, 0.05) / math.sqrt(effective)  # of a median, under a normal spread
    kept = min(1.0, n / ENOUGH_NIGHTS)
    shift, error = median * kept, math.hypot(standard_error, median * (1 - kept))
    inputs = (
        Value("nights", n, "", "readings"),
        Value("clear nights", clear, "", "readings"),
        Value("median difference", median, "Δ°C", "readings"),
        Value("weight", kept, "share", "working"),
        Value("error", error, "Δ°C", "working"),
    )
    return Shift(
        shift, error, n, clear, Working("place.garden_shift", inputs, (), Value("shift", shift, "Δ°C", "readings"))
    )


def _weighted_median(values: np.ndarray, weights: np.ndarray) -> float:
    """The value at which half of the weight lies to either side; the mean of two where it falls between them."""
    order = np.argsort(values)
    values, passed = values[order], np.cumsum(weights[order])
    half = passed[-1] / 2
    i = int(np.searchsorted(passed, half))
    if passed[i] == half and i + 1 < len(values):
        return float((values[i] + values[i + 1]) / 2)
    return float(values[i])
