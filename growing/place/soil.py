"""How warm is the soil, and from when will it be warm enough?  A smoothing model of the daily mean air.

T += k (T_air − T), k = 0.2 a day, spun up over thirty days and held at 0 °C or above under snow.  Growers read soil in
the morning: 1.5 °C under the day's mean (bare soil, spring).  Beds and covers add their own difference, and the
garden's probe readings set the rest right.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solve_banded

from growing.assumptions import by_kind
from growing.place.minima import DailySeries
from growing.working import Value, Working

SMOOTHING = 0.2
SPIN_UP_DAYS = 30
MORNING_C = -1.5
MORNING_HOUR = 8.0
READINGS_FOR_FULL_WEIGHT = 5
COVERS = by_kind("place.soil.COVERS")


class ProbeReading(NamedTuple):
    """What a probe 5–10 cm deep said: day, hour (0–24), °C."""

    day: date
    hour: float
    celsius: float


class Calibration(NamedTuple):
    """What is added to the modelled soil [°C], from how many readings, and how far they scatter (None under three)."""

    offset_c: float
    readings: int
    scatter_c: float | None
    working: Working


def soil_mean(air_c: NDArray[np.float64], snow: NDArray[np.bool_] | None = None) -> NDArray[np.float64]:
    """Daily mean soil [°C] for a run of daily mean air [°C], any length.

    Missing air holds the soil where it is.  The first thirty known days are spin-up and NaN; after more than thirty
    running days of unknown air it settles anew.  snow: days under snow, on which soil stays at 0 °C or above.
    """
    known = np.flatnonzero(~np.isnan(air_c))
    soil = np.full(len(air_c), np.nan)
    if not known.size:
        return soil
    air = air_c[known]
    followed = _under_snow(air, snow[known]) if snow is not None else _follow(air)
    gaps = np.diff(known, prepend=known[0]) > SPIN_UP_DAYS + 1
    begun = np.maximum.accumulate(np.where(gaps, np.arange(len(known)), 0))
    followed[np.arange(len(known)) - begun < SPIN_UP_DAYS] = np.nan
    # every day takes the soil of the last known day, up to thirty days back
    before = np.searchsorted(known, np.arange(len(air_c)), side="right") - 1
    held = (before >= 0) & (np.arange(len(air_c)) - known[before] <= SPIN_UP_DAYS)
    soil[held] = followed[before[held]]
    return soil


def _follow(air: NDArray[np.float64]) -> NDArray[np.float64]:
    """T += k (air − T), from the first day's air."""
    # all days at once: T[n] − (1 − k) T[n−1] = k air[n]
    bands = np.array([np.ones(len(air)), np.full(len(air), SMOOTHING - 1)])
    moved = SMOOTHING * air
    moved[0] = air[0]
    return np.asarray(solve_banded((1, 0), bands, moved))


def _under_snow(air: NDArray[np.float64], snow: NDArray[np.bool_]) -> NDArray[np.float64]:
    """The same day by day, as a floor of 0 °C under snow makes it no longer linear."""
    found, last = [], float(air[0])
    for value, covered in zip(air.tolist(), snow.tolist(), strict=True):
        last += SMOOTHING * (value - last)
        last = max(last, 0.0) if covered else last
        found.append(last)
    return np.array(found)


def morning_part(hour: float) -> float:
    """How far soil stands from its daily mean at that hour [°C]: −1.5 at eight in the morning, +1.5 at eight at night.

    An estimate: half a day's swing of bare soil in spring, as one sine.
    """
    return MORNING_C * math.cos(2 * math.pi * (hour - MORNING_HOUR) / 24)


def calibrate(soil: DailySeries, readings: Sequence[ProbeReading]) -> Calibration:
    """What the garden's probe says against the model: the median difference, less weight under five readings.

    soil: modelled daily means; readings on days it does not know are passed over.
    """
    differences = []
    for reading in readings:
        modelled = float(soil.between(reading.day, reading.day)[0])
        if modelled == modelled:
            differences.append(reading.celsius - (modelled + morning_part(reading.hour)))
    n = len(differences)
    median = float(np.median(differences)) if n else 0.0
    weight = min(1.0, n / READINGS_FOR_FULL_WEIGHT)
    scatter = float(np.std(differences, ddof=1)) if n > 2 else None
    inputs = (
        Value("readings", n, "", "probe"),
        Value("median difference", median, "Δ°C", "probe"),
        Value("weight", weight, "share", "working"),
        Value("scatter", scatter, "Δ°C", "probe"),
    )
    result = Value("calibration", median * weight, "Δ°C")
    return Calibration(median * weight, n, scatter, Working("place.soil_calibration", inputs, (), result))


def warm_from(soil: NDArray[np.float64], ends: NDArray[np.int64], celsius: float) -> NDArray[np.float64]:
    """Per spring, the first day after the last run of three days or more below `celsius`.

    soil: (springs, days) from midwinter on; ends: (springs,) index of midsummer.  Returns (springs,) indices: 0 where
    it was never so cold, inf where it is still so cold at midsummer.  A warm spell in March does not count.
    """
    below = soil < celsius
    below &= np.arange(soil.shape[1]) <= ends[:, None]
    runs = below[:, 2:] & below[:, 1:-1] & below[:, :-2]
    any_run = runs.any(axis=1)
    last = runs.shape[1] - 1 - runs[:, ::-1].argmax(axis=1) + 2
    found = np.where(any_run, last + 1, 0).astype(float)
    found[any_run & (last >= ends)] = np.inf
    return found
