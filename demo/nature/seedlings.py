"""How do they grow on the bench?  Leaves by warmth and light, height by what stretches them, and damping-off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from demo.nature.chance import within
from demo.nature.kinds import Kinds

Array = NDArray[np.float32]
HALF_LIGHT = 4.0
LEGGY_FULL_H = 150.0  # hours of having no light at all that make a plant as leggy as it can be
YOUNG_LEAVES = 2.5
DAMP_FROM, DAMP_A_DAY, BESIDE = np.float32(0.85), np.float32(0.15), 8.0
UNDER_LID = 0.95  # how still the air is


def beta(k: Kinds, celsius: Array) -> Array:
    """Growth at a temperature against that at the best one, 0–1: the beta function of three cardinal temperatures."""
    t = within(celsius, k.grow_base_c, k.grow_max_c)
    fall = (k.grow_max_c - t) * k.per_fall
    return np.asarray(fall * ((t - k.grow_base_c) * k.per_rise) ** k.rise_power)


def leaf_rate(k: Kinds, day_c: Array, night_c: Array, light_h: Array, dli: Array) -> Array:
    """Leaves a day of a plant that lacks nothing else, (groups,): beta of the temperature by day and night × DLI/(DLI + 4)."""
    by_day, by_night = beta(k, day_c), beta(k, night_c)
    day = within(light_h, 8, 20) * np.float32(1 / 24)
    return np.asarray((by_night + day * (by_day - by_night)) * dli / ((dli + HALF_LIGHT) * k.leaf_days))


def stretch(k: Kinds, dli: Array) -> Array:
    """How far the light falls short of what keeps them stocky, 0–1 (DLI 5; 7 for fruiting crops)."""
    return np.asarray(np.maximum(1 - dli / k.leggy_dli, 0))


def taller(k: Kinds, day_c: Array, night_c: Array, short: Array, layers: Array) -> Array:
    """Height that a new leaf adds [cm], (groups,): more where days are warmer than nights, light is short, and neighbours shade.

    layers: leaf area over the area of the cells; each beyond the first adds 0.4, up to two.
    """
    difference = 1 + 0.05 * within(day_c - night_c, -4, 8)
    return np.asarray(k.cm * difference * (1 + 1.2 * short) * (1 + 0.4 * within(layers - 1, 0, 2)))


def drawn(k: Kinds, day_c: Array, short: Array) -> Array:
    """Height that a day adds without any leaf, where light is short [cm], (groups,)."""
    return np.asarray(0.18 * k.cm * short * beta(k, day_c))


def damping(wet: Array, still: Array, leaves: Array, sick: NDArray[np.bool_], across: int) -> Array:
    """A day's hazard of damping-off: wet and still, young, and more beside a cell that fell in the last days.

    wet (plants × groups) 0–1 of what the mix holds, still (groups,); sick: a seedling fell there lately; across: cells in a
    row of the tray.  Nothing below 0.85 wet, nor in air that moves.
    """
    danger = wet - DAMP_FROM
    np.maximum(danger, 0, out=danger)
    danger *= np.maximum(still - 0.3, 0) * DAMP_A_DAY
    danger *= leaves < YOUNG_LEAVES
    if not sick.any():
        return np.asarray(danger)
    near = np.zeros_like(wet)
    for step in (1, across):
        near[step:] += sick[:-step]
        near[:-step] += sick[step:]
    return np.asarray(danger * (1 + BESIDE * near))
