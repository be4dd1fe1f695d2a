"""What can they stand?  Tolerance of cold, sun and wind follows what plants meet; harm is a dose beyond it.

All three are shares from 0 (raised under glass) to 1 (as hard as that kind gets).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from demo.nature.chance import within
from demo.nature.kinds import Kinds

Array = NDArray[np.float32]
GAINS, LOSES = (0.15, 0.25), 0.10
LETHAL_DEGREE_HOURS = 3.0
CHILL_HOURS_A_DAY = 14.0  # degree-hours below its chill that cost a tender plant a day
CHILL_HARM = 0.02  # of its leaf for each such day


def towards(now: Array, met: Array, quick: Array) -> Array:
    """A tolerance after a day: 15–25 % (`quick`) of the way up to what it met, or 10 % of the way down."""
    return np.asarray(now + np.where(met > now, quick, LOSES) * (met - now))


def met(low_c: Array, sun_h: Array, gust_kmh: Array) -> Array:
    """How much of the utmost a day brought, (3, groups): cold (12 °C nothing, 1 °C all), sun (8 h), gusts (45 km/h)."""
    brought = np.empty((3, len(low_c)), np.float32)
    np.divide(12 - low_c, 11, out=brought[0])
    np.divide(sun_h, 8, out=brought[1])
    np.divide(gust_kmh, 45, out=brought[2])
    return within(brought, 0, 1)


def tolerance_c(k: Kinds, hard: Array) -> Array:
    """The temperature below which it is harmed [°C], (groups,)."""
    return np.asarray(k.soft_c + (k.hard_c - k.soft_c) * hard)


def cold_dose(night: Array, tolerance: Array) -> Array:
    """Degree-hours of a night (groups × hours) below the tolerance, (groups,)."""
    return np.asarray(np.maximum(tolerance[:, None] - night, 0).sum(axis=1))


def burnt(sun_h: Array, hard: Array) -> Array:
    """Share of the leaf that the sun burns in a day: 2.5 % for each hour of full sun beyond 4 h unhardened, 18 h hardened."""
    return np.asarray(0.025 * np.maximum(sun_h - 4 - 14 * hard, 0))


def torn(gust_kmh: Array, hard: Array) -> Array:
    """Share that wind tears in a day: 1 % for each km/h of gust beyond 20 unhardened, 80 hardened."""
    return np.asarray(0.01 * np.maximum(gust_kmh - 20 - 60 * hard, 0))
