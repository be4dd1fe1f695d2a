"""What becomes of them in the ground?  Bolting, bulbs, fruit set, the harvest a day at a time, and what eats them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from demo.nature.chance import within
from demo.nature.kinds import GIVES, Kinds

Array = NDArray[np.float32]
SOIL_SHARE = 0.3  # of the temperature that growth in the ground goes by; the air has the rest
GOOD_SUMMER = 0.64  # of the best day's growth, in the mean of a summer day: what first_days is reckoned in
COLD_FROM_C, COLD_TO_C, UNDONE_C = 2.0, 12.0, 16.0
BOLT_SPREAD, BULB_DAYS = 0.12, 38.0
SLUG, BIRD, HAIL_HARM = 0.012, 0.0015, 0.3
HEAD, BULB = GIVES.index("head"), GIVES.index("bulb")


def leaves_at_first(k: Kinds) -> Array:
    """Leaves at the first harvest, (groups,)."""
    return np.asarray(k.ready + k.first_days * GOOD_SUMMER / k.leaf_days)


def cold_hours(day_c: Array, night: Array) -> Array:
    """Hours of a day between 2 and 12 °C that lead to flower, most at 7, less those above 16 °C that undo as many, (groups,)."""
    half = (COLD_TO_C - COLD_FROM_C) / 2
    weight = lambda t: np.maximum(1 - np.abs(t - COLD_FROM_C - half) / half, 0) - (t > UNDONE_C)  # noqa: E731
    return np.asarray(weight(night).sum(axis=1) + 10 * weight(day_c), np.float32)


def bolts_after(k: Kinds, chance: NDArray[np.float64]) -> Array:
    """Cold hours past juvenile size after which each plant bolts: logistic around its kind's; never where that is 0."""
    spread = 1 + BOLT_SPREAD * np.log(chance / (1 - chance))
    return np.asarray(np.where(k.bolt_hours > 0, k.bolt_hours * spread, np.inf), np.float32)


def sets_fruit(k: Kinds, high_c: Array) -> Array:
    """Does fruit set, does quality hold on such a day?  1, falling to 0 over four degrees above its heat."""
    return within(np.asarray(1 - (high_c - k.heat_c) / 4), 0, 1)


def eaten(rain_mm: Array, low_c: Array) -> Array:
    """A day's hazard of slugs (wet, mild nights) and birds for a plant without leaves, (groups,); a large one hardly meets it."""
    wet = np.minimum(rain_mm / 4, 1) * within(np.asarray((low_c - 2) / 6), 0, 1)
    return np.asarray(SLUG * wet + BIRD)
