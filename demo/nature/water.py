"""Is there water and food in the cell?  A bucket that empties in two phases, a store of nitrogen, and salts."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float32]
HOLDS = 0.85  # of a cell's volume is water when it has drained
BARE_ML_CM2, LEAF_ML_CM2 = 0.14, 0.09  # a day at 20 °C by day under 12 mol m⁻²
EDGE, TRAY_SD = 1.3, 0.25
FREE, WILTS, ENOUGH, SOAKED = 0.5, 0.12, 0.32, 0.85
MOISTENED = 0.8  # mix as it is filled in
WILTED_KILLS, SOAKED_DAYS = 3, 4
FLUSHED = 0.05  # of the salts that a watering washes out
MIX_N_MG_ML, LEAF_N_MG_CM2 = 0.12, 0.10


def demand(day_c: Array, dli: Array, gust_kmh: Array, lid: NDArray[np.bool_]) -> Array:
    """How thirsty the air is against 20 °C under 12 mol m⁻² in still air, (groups,); a tenth under a lid."""
    thirst = 2.0 ** ((day_c - 20) / 11) * (0.35 + 0.65 * dli / 12) * (1 + gust_kmh / 40)
    return np.asarray(np.where(lid, 0.1, 1.0) * thirst, np.float32)


def left(wet: Array, leaf_cm2: Array, cell_cm2: Array, cell_ml: Array, thirst: Array, dries: Array) -> Array:
    """What is left in the cells after a day, as a share of what they hold: it goes at the full rate while they have half, then in
    proportion to what is left.

    thirst (groups,): of the air.  dries: how much faster than the mean this cell dries (edge 1.3, its tray log-N(0, 0.25)).
    """
    unit = thirst / (HOLDS * cell_ml)
    out = leaf_cm2 * (LEAF_ML_CM2 * unit)
    out += BARE_ML_CM2 * cell_cm2 * unit
    out *= dries
    free = wet - np.float32(FREE)
    np.maximum(free, 0, out=free)
    np.minimum(free, out, out=free)
    out -= free
    out *= np.float32(-1 / FREE)
    np.exp(out, out=out)
    out *= np.subtract(wet, free, out=free)
    return np.asarray(out)


def growth_share(wet: Array) -> Array:
    """How much of their growth the water allows, 0–1: none below 12 %, all from 32 %."""
    share = wet - np.float32(WILTS)
    share *= 5
    return np.asarray(np.clip(share, 0, 1, out=share))


def fed_share(nitrogen: Array, leaf_cm2: Array) -> Array:
    """How much of their growth the store of nitrogen [mg] allows: half of it when half a day's need of the leaves is left."""
    want = leaf_cm2 * np.float32(0.03 * LEAF_N_MG_CM2)
    want += nitrogen
    want += np.float32(1e-6)
    return np.asarray(np.divide(nitrogen, want, out=want))


def salted_share(salts: Array) -> Array:
    """Growth in a mix with salts [mS/cm in what it holds]: all up to 3, half at 6."""
    return np.asarray(1 / (1 + np.maximum(salts - 3, 0) / 3))
