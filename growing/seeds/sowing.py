"""How many do I sow?  Exact binomial odds for cells and communal boxes, averaged over what is not known of the seed."""

from __future__ import annotations

from functools import lru_cache
from math import ceil, sqrt
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.special import bdtrc, betaincinv, gammaln, xlog1py, xlogy

from growing.working import Value, Working

CONFIDENCE = 0.9
MOST_WANTED = 20_000
SOWN_IN = ("cells", "blocks", "box")  # a box is sown communally and pricked out
NODES = 32  # equally likely values that stand for a Beta distribution
MOST_AT_ONCE = 150  # odds that are worked out in one go: beyond, halving is quicker
LEAST_CHANCE = 0.01
THIN_MINUTES = 0.05  # per seedling snipped: estimate
PRICK_MINUTES = 0.25  # per seedling pricked out: estimate


class NoCount(ValueError):
    """No number of seeds gives the odds wanted: the seed is too poor, or the place too cold or too hot for it."""


class SowingCount(NamedTuple):
    """What to sow: places (cells, or seeds when communal), seeds, the odds of enough, and the arithmetic."""

    places: int
    seeds: int
    odds: float
    unit: str  # what the places are: cells, blocks or seeds
    working: Working


class Seed(NamedTuple):
    """What is known of a lot's emergence at the warmth it will have.

    mean: share.  beta: (a, b) where it is uncertain, at the best warmth.  ratio: this warmth against the best.
    """

    mean: float
    beta: tuple[float, float] | None = None
    ratio: float = 1.0

    @property
    def nodes(self) -> NDArray[np.float64]:
        """Equally likely emergences, (1,) or (32,)."""
        return np.array([self.mean]) if self.beta is None else nodes(*self.beta) * self.ratio


@lru_cache(maxsize=4096)
def nodes(a: float, b: float) -> NDArray[np.float64]:
    """32 equally likely values of a Beta(a, b)."""
    return np.asarray(betaincinv(a, b, (np.arange(NODES) + 0.5) / NODES))


def smallest_counts(
    wanted: ArrayLike, chances: NDArray[np.float64], confidence: float = CONFIDENCE
) -> NDArray[np.int64]:
    """For each case the smallest C with mean over nodes of P[Binomial(C, p) ≥ wanted] ≥ confidence.

    wanted: (n,), 1–20 000.  chances: (n, nodes), shares in (0, 1].  Returns (n,).  NoCount where fewer than one
    place in a hundred would give a plant, or no count is enough.
    """
    need = np.asarray(wanted, dtype=np.int64)
    if need.size and not (need.min() >= 1 and need.max() <= MOST_WANTED):
        raise ValueError(f"plants wanted must lie between 1 and {MOST_WANTED}")
    mean = chances.mean(axis=1)
    if need.size and mean.min() < LEAST_CHANCE:
        raise NoCount("fewer than one place in a hundred would give a plant: use other seed")

    def enough(count: NDArray[np.int64], which: NDArray[np.int64]) -> NDArray[np.bool_]:
        odds = bdtrc((need[which] - 1)[:, None], count[:, None], chances[which]).mean(axis=1)
        return np.asarray(odds >= confidence)

    low = need - 1  # one too few is never enough
    spread = np.sqrt(need) / mean + need * chances.std(axis=1) / mean**2
    high = np.ceil(need / mean + 1.6 * spread).astype(np.int64) + 1
    open_ = np.arange(len(need))
    for _ in range(40):
        short = ~enough(high[open_], open_)
        open_ = open_[short]
        if not open_.size:
            break
        low[open_] = high[open_]
        high[open_] = high[open_] * 2
        if (high[open_] > 2_000_000).any():
            raise NoCount("no count gives these odds: use other seed or accept lower odds")
    open_ = np.flatnonzero(high - low > 1)
    while open_.size:  # each case is halved until its own answer is found
        middle = (low[open_] + high[open_]) // 2
        good = enough(middle, open_)
        high[open_[good]], low[open_[~good]] = middle[good], middle[~good]
        open_ = open_[high[open_] - low[open_] > 1]
    return high


def _smallest(wanted: int, p: NDArray[np.float64], mean: float, confidence: float) -> int:
    """`smallest_counts` of one case: where the answer is near, all counts up to where it is expected at once."""
    if 1 <= wanted <= MOST_WANTED and mean >= LEAST_CHANCE:
        most = _expected(wanted, mean, float(p.std()))
        if (most - wanted) * len(p) <= MOST_AT_ONCE:
            counts = np.arange(wanted, most + 1)
            good = bdtrc(wanted - 1, counts[:, None], p).mean(axis=1) >= confidence
            if good[-1]:
                return int(counts[good.argmax()])
    return int(smallest_counts([wanted], p[None, :], confidence)[0])


def _expected(wanted: int, mean: float, sd: float) -> int:
    """A count that is likely to be enough."""
    spread = sqrt(wanted) / mean + wanted * sd / mean**2
    return ceil(wanted / mean + 1.6 * spread) + 1


@lru_cache(maxsize=4096)
def cells_to_sow(
    wanted: int, seed: Seed, survival: float, per_cell: int, confidence: float = CONFIDENCE, unit: str = "cells"
) -> SowingCount:
    """Smallest number of cells C with P[Binomial(C, p) ≥ wanted] ≥ confidence, p = (1 − (1 − g)^m)·s.

    wanted: 1–20 000 plants.  survival s: share in (0, 1].  per_cell m: seeds per cell, thinned to one.  Where g is
    uncertain the odds are averaged over its distribution.  Raises ValueError outside those ranges or where no count
    could be enough.
    """
    _check(seed, survival)
    p = (1 - (1 - seed.nodes) ** per_cell) * survival
    return _count("seeds.cells_to_sow", wanted, seed, survival, per_cell, confidence, p, unit)


@lru_cache(maxsize=4096)
def seeds_for(wanted: int, seed: Seed, survival: float, confidence: float = CONFIDENCE) -> SowingCount:
    """Communal sowing, or in place: smallest n with P[Binomial(n, g·s) ≥ wanted] ≥ confidence."""
    _check(seed, survival)
    return _count("seeds.seeds_to_sow", wanted, seed, survival, 1, confidence, seed.nodes * survival, "seeds")


def _check(seed: Seed, survival: float) -> None:
    if seed.mean <= 0 < survival <= 1:
        raise NoCount("nothing comes at this warmth: sow it warmer or cooler")
    if not seed.mean <= 1 or not 0 < survival <= 1:
        raise ValueError("emergence and survival are shares above 0 and up to 1")


def _count(
    rule: str,
    wanted: int,
    seed: Seed,
    survival: float,
    per_cell: int,
    confidence: float,
    p: NDArray[np.float64],
    unit: str,
) -> SowingCount:
    mean = float(p.mean())
    places = _smallest(wanted, p, mean, confidence)
    odds = float(bdtrc(wanted - 1, places, p).mean())
    working = Working(
        rule,
        (
            Value("wanted", wanted, "plants"),
            Value("emergence", seed.mean, "share"),
            Value("survival", survival, "share"),
            Value("seeds per cell", per_cell, "seeds"),
            Value("chance per place", mean, "share"),
            Value("confidence", confidence, "share"),
            Value("odds", odds, "share"),
            Value("even odds", round(wanted / mean), unit),
        ),
        (),
        Value("places", places, unit),
    )
    return SowingCount(places, places * per_cell, odds, unit, working)


class Way(NamedTuple):
    """One way to sow: its count, seedlings to snip or to prick out, and the minutes that takes."""

    sown_in: str
    per_cell: int
    sowing: SowingCount
    handled: int
    minutes: int


@lru_cache(maxsize=1024)
def ways(
    wanted: int, seed: Seed, survival: float, transplants: str = "easy", confidence: float = CONFIDENCE
) -> tuple[Way, ...]:
    """The ways side by side: one, two or three seeds a cell, soil blocks with one, communal sowing pricked out.

    Communal sowing only where roots stand disturbing (`transplants` "easy"); nothing where only sowing in place goes.
    """
    if transplants == "direct":
        return ()
    found = []
    for sown_in, per_cell in (("cells", 1), ("cells", 2), ("cells", 3), ("blocks", 1)):
        count = cells_to_sow(wanted, seed, survival, per_cell, confidence, sown_in)
        filled = float((1 - (1 - seed.nodes) ** per_cell).mean())
        snipped = max(0, round(count.seeds * float(seed.nodes.mean()) - count.places * filled))
        found.append(Way(sown_in, per_cell, count, snipped, round(snipped * THIN_MINUTES)))
    if transplants == "easy":
        count = seeds_for(wanted, seed, survival, confidence)
        pricked = to_prick(wanted, survival)
        found.append(Way("box", 1, count, pricked, round(pricked * PRICK_MINUTES)))
    return tuple(found)


def to_prick(wanted: int, survival: float) -> int:
    """Seedlings to prick out of a box so that `wanted` remain at the survival a kept seedling has."""
    return ceil(round(wanted / survival, 6))


def plants_odds(places: int, chances: NDArray[np.float64]) -> NDArray[np.float64]:
    """Chance of exactly 0, 1, … `places` plants from so many places: (places + 1,), averaged over the nodes."""
    k = np.arange(places + 1)[:, None]
    choose = gammaln(places + 1) - gammaln(k + 1) - gammaln(places - k + 1)
    p = np.clip(chances, 1e-12, 1 - 1e-12)[None, :]
    return np.asarray(np.exp(choose + xlogy(k, p) + xlog1py(places - k, -p)).mean(axis=1))
