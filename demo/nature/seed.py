"""Will it come, and when?  Every seed by itself, in hydrothermal time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from demo.nature.kinds import Kind, Kinds

Array = NDArray[np.float32]
LOT_SD, BADLY_STORED, BADLY_LOGIT = 0.35, 0.05, 1.5
LOT_BASE_SD_C = 1.0
WRONG_LIGHT = 0.25
KEPT = {
    "cool": 1.8,
    "fridge": 4.0,
    "opened": 0.4,
    "kitchen": 0.35,
    "shed": 0.3,
}  # times its life in a living room: estimates
COLD_OVER_BASE_C, COLD_A_DEGREE = 2.0, 0.03


def lot_share(kind: Kind, age_years: float, keeping: float, chance: np.random.Generator) -> float:
    """The true share of a lot's seeds that are alive.

    fresh · 0.8^((age / (life · keeping))^1.7) on average, the lot's own logit N(0, 0.35) from it; one lot in twenty was badly stored
    (− 1.5).  keeping: how much longer it lives than in a living room (1).
    """
    mean = kind.fresh * 0.8 ** ((max(age_years, 0.0) / (kind.life_years * keeping)) ** 1.7)
    mean = float(np.clip(mean, 0.01, 0.99))
    logit = (
        np.log(mean / (1 - mean)) + chance.normal(0, LOT_SD) - (BADLY_LOGIT if chance.random() < BADLY_STORED else 0.0)
    )
    return float(1 / (1 + np.exp(-logit)))


def needs(spread: Array, chance: NDArray[np.float64]) -> Array:
    """What each seed needs, as a multiple of its lot's median: log-logistic of shape `spread` (groups,), by the seeds' chances (seeds × groups)."""
    chance = np.clip(chance, 1e-4, 1 - 1e-4)
    return np.asarray((chance / (1 - chance)) ** (1 / spread), np.float32)


def rate(k: Kinds, mix_c: Array, wet: Array, own_base_c: Array) -> Array:
    """Share of the median seed's need that a day of mix at mix_c gives, (groups,).

    (T − T_base)^power / need, less a parabola above the best temperature, and less in dry mix: nothing below 0.25 of what it
    holds, all from 0.55.
    """
    above = np.maximum(mix_c - k.base_c - own_base_c, 0) ** k.power
    over = np.clip((mix_c - k.best_c) / (k.ceiling_c - k.best_c), 0, 1)
    return np.asarray(above * (1 - over * over) / k.need * np.clip((wet - 0.25) / 0.3, 0, 1))


def cold_dose(k: Kinds, mix_c: Array, wet: Array) -> Array:
    """Hazard of dying in wet cold on such a day: 3 % for each degree below its base + 2 °C, for seed of warm countries."""
    warm = k.base_c > 6
    return np.asarray(warm * (wet > 0.5) * COLD_A_DEGREE * np.maximum(k.base_c + COLD_OVER_BASE_C - mix_c, 0))
