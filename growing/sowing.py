"""How many do I sow?  Exact binomial odds for cells and communal boxes."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np
from scipy.special import bdtrc, betaincinv

from growing.working import Value, Working

CONFIDENCE = 0.9
MOST_WANTED = 20_000
_BETA_NODES = 64


class SowingCount(NamedTuple):
    """What to sow: places (cells, or seeds when communal), seeds, the odds of enough, and the arithmetic."""

    places: int
    seeds: int
    odds: float
    working: Working


@lru_cache(maxsize=4096)
def cells_to_sow(
    wanted: int,
    emergence: float,
    survival: float,
    per_cell: int,
    confidence: float = CONFIDENCE,
    beta: tuple[float, float] | None = None,
) -> SowingCount:
    """Smallest number of cells C with P[Binomial(C, p) ≥ wanted] ≥ confidence, p = (1 − (1 − g)^m)·s.

    wanted: 1–20 000 plants.  emergence g and survival s: shares in (0, 1].  per_cell m: seeds per cell, thinned to
    one.  beta: (a, b) of g when it is uncertain; the odds are then averaged over that distribution.
    Raises ValueError outside those ranges or where no count could be enough.
    """
    p = 1 - (1 - _probabilities(wanted, emergence, survival, beta)) ** per_cell
    return _count("cells_to_sow", wanted, emergence, survival, per_cell, confidence, p * survival)


@lru_cache(maxsize=4096)
def seeds_to_sow(
    wanted: int,
    emergence: float,
    survival: float,
    confidence: float = CONFIDENCE,
    beta: tuple[float, float] | None = None,
) -> SowingCount:
    """Communal sowing: smallest n with P[Binomial(n, g·s) ≥ wanted] ≥ confidence."""
    p = _probabilities(wanted, emergence, survival, beta) * survival
    return _count("seeds_to_sow", wanted, emergence, survival, 1, confidence, p)


def _probabilities(wanted: int, emergence: float, survival: float, beta: tuple[float, float] | None) -> np.ndarray:
    if not 1 <= wanted <= MOST_WANTED:
        raise ValueError(f"plants wanted must lie between 1 and {MOST_WANTED}, not {wanted}")
    if not 0 < emergence <= 1 or not 0 < survival <= 1:
        raise ValueError("emergence and survival are shares above 0 and up to 1")
    if beta is None:
        return np.array([emergence])
    return np.asarray(betaincinv(beta[0], beta[1], (np.arange(_BETA_NODES) + 0.5) / _BETA_NODES))


def _count(
    rule: str, wanted: int, emergence: float, survival: float, per_cell: int, confidence: float, p: np.ndarray
) -> SowingCount:
    mean = float(p.mean())
    if mean < 0.01:
        raise ValueError("fewer than one place in a hundred would give a plant: use other seed")
    low, span = wanted, max(32, int((wanted / mean - wanted) * 1.5 + 12 * np.sqrt(wanted) / mean))
    while True:
        tried = np.arange(low, low + span + 1)
        odds = bdtrc(wanted - 1, tried[:, None], p[None, :]).mean(axis=1) if wanted else np.ones(len(tried))
        enough = np.flatnonzero(odds >= confidence)
        if enough.size:
            break
        if span > 200 * wanted + 100_000:
            raise ValueError("no count gives these odds: use other seed or accept lower odds")
        span *= 2
    unit = "cells" if rule == "cells_to_sow" else "seeds"
    places, chance = int(tried[enough[0]]), float(odds[enough[0]])
    seeds = places * per_cell
    working = Working(
        rule,
        (
            Value("wanted", wanted, "plants"),
            Value("emergence", emergence, "share"),
            Value("survival", survival, "share"),
            Value("seeds per cell", per_cell, "seeds"),
            Value("chance per place", mean, "share"),
            Value("confidence", confidence, "share"),
            Value("odds", chance, "share"),
            Value("even odds", round(wanted / mean), unit),
        ),
        (),
        Value("places", places, unit),
    )
    return SowingCount(places, seeds, chance, working)
