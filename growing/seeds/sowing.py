"""How many do I sow?  Exact binomial odds by what happens to the surplus, averaged over what is not known of the seed.

Thinned to one, separated and all kept, left in clumps, sown together and pricked out, or divided at planting out: each
asks for another count.
"""

from __future__ import annotations

from functools import lru_cache
from math import ceil, floor, sqrt
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.special import bdtrc, betaincinv, gammaln, xlog1py, xlogy

from growing.crops import Crop
from growing.working import Value, Working

CONFIDENCE = 0.9
MOST_WANTED = 20_000
SOWN_IN = ("cells", "blocks", "box")
SURPLUS = ("thin", "keep", "clump", "prick", "divide")  # of a box: pricked out, or divided at planting out
DIVIDED = "onion family"  # stands being divided bare-rooted at planting out
ONE_A_CELL_FROM = 0.8  # emergence from which one seed a cell is usual; two below
MOST_A_CELL = 12
NODES = 32  # equally likely values that stand for a Beta distribution
MOST_AT_ONCE = 150  # odds that are worked out in one go: beyond, halving is quicker
LEAST_CHANCE = 0.01


class NoCount(ValueError):
    """No number of seeds gives the odds wanted: the seed is too poor, or the place too cold or too hot for it."""


class How(NamedTuple):
    """A way to sow.

    sown_in: one of SOWN_IN, or "place" (where they will grow).  surplus: one of SURPLUS; in place each seed is one.
    per_cell: seeds a cell, None: as many as this seed asks for.  clump: plants left together, 1 where they are not.
    """

    sown_in: str = "cells"
    surplus: str = "thin"
    per_cell: int | None = None
    clump: int = 1

    @property
    def together(self) -> bool:
        """Is each seed a place of its own, in a box or in the ground?"""
        return self.sown_in in ("box", "place")


USUAL = How()


class SowingCount(NamedTuple):
    """What to sow: places (cells, or seeds when sown together), seeds in each and in all, the odds of enough, and the
    arithmetic."""

    places: int
    per_cell: int
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


def surplus_for(crop: Crop, sown_in: str, said: str = "") -> str:
    """What happens to the surplus: as the grower said, where it can; otherwise as usual for the crop."""
    if sown_in == "box":
        return said if said in ("prick", "divide") else "divide" if crop.family == DIVIDED else "prick"
    if said in ("thin", "clump") or (said == "keep" and crop.word("transplants") == "easy"):
        return said
    return "clump" if crop.number("plants_per_cell") > 1 else "thin"


def how_for(crop: Crop, sown_in: str, said: str = "", per_cell: int | None = None) -> How:
    """The way a crop is sown: what the grower said of it, and the crop's own for the rest."""
    if sown_in == "place":
        return How("place", "thin", 1)
    surplus = surplus_for(crop, sown_in, said)
    if sown_in == "box":
        return How(sown_in, surplus, 1)
    if per_cell is None and "per_cell" in crop.values:
        per_cell = int(crop.number("per_cell"))
    return How(sown_in, surplus, per_cell, int(crop.number("plants_per_cell")) if surplus == "clump" else 1)


def seeds_a_cell(how: How, seed: Seed, survival: float, seedlings: float = 1.0) -> int:
    """Seeds in each cell: as said; for clumps of k plants ⌈k / (g·s·seedlings a seed)⌉; otherwise one where four in five
    come, else two."""
    if how.together:
        return 1
    if how.per_cell is not None:
        return how.per_cell
    if how.surplus == "clump":
        each = max(seed.mean * survival * seedlings, how.clump / MOST_A_CELL)
        return max(1, ceil(round(how.clump / each, 9)))
    return 1 if seed.mean >= ONE_A_CELL_FROM else 2


def place_chances(
    how: How, per_cell: int, g: NDArray[np.float64], survival: float, seedlings: float = 1.0
) -> NDArray[np.float64]:
    """Chance that a place gives what it is for: a plant that lives, or a clump with at least half of its plants.

    g: emergence per seed, any shape.  survival: of a kept seedling.  seedlings: of a seed that comes, 1–4.
    """
    if how.together or how.surplus == "keep":
        return g * survival
    if how.surplus == "thin":
        return (1 - (1 - g) ** per_cell) * survival
    need = ceil(how.clump / 2)
    if seedlings == 1:
        return np.asarray(bdtrc(need - 1, per_cell, g * survival))
    return _clump_of_clusters(need, per_cell, g, survival, seedlings)


def _clump_of_clusters(
    need: int, per_cell: int, g: NDArray[np.float64], survival: float, seedlings: float
) -> NDArray[np.float64]:
    """Chance of `need` living plants where a seed that comes gives ⌊r⌋ or ⌈r⌉ seedlings, r on average."""
    least = floor(seedlings)
    shares = {least: 1 - (seedlings - least), least + 1: seedlings - least}
    each = np.zeros((least + 2, *np.shape(g)))  # living plants of one seed
    each[0] = 1 - g
    for born, share in shares.items():
        for alive in range(born + 1):
            each[alive] += g * share * _binomial(born, alive, survival)
    total = np.ones((1, *np.shape(g)))
    for _ in range(per_cell):
        grown = np.zeros((len(total) + least + 1, *np.shape(g)))
        for alive in range(least + 2):
            grown[alive : alive + len(total)] += total * each[alive]
        total = grown
    return np.asarray(total[need:].sum(axis=0))


def _binomial(n: int, k: int, p: float) -> float:
    choose = 1.0
    for i in range(k):
        choose *= (n - i) / (i + 1)
    return float(choose * p**k * (1 - p) ** (n - k))


def smallest_counts(
    wanted: ArrayLike, chances: NDArray[np.float64], confidence: ArrayLike = CONFIDENCE
) -> NDArray[np.int64]:
    """For each case the smallest C with mean over nodes of P[Binomial(C, p) ≥ wanted] ≥ confidence.

    wanted: (n,), 1–20 000.  chances: (n, nodes), shares in (0, 1].  confidence: one, or (n,).  Returns (n,).  NoCount
    where fewer than one place in a hundred would give a plant, or no count is enough.
    """
    need = np.asarray(wanted, dtype=np.int64)
    sure = np.broadcast_to(np.asarray(confidence, dtype=np.float64), need.shape)
    if need.size and not (need.min() >= 1 and need.max() <= MOST_WANTED):
        raise ValueError(f"plants wanted must lie between 1 and {MOST_WANTED}")
    mean = chances.mean(axis=1)
    if need.size and mean.min() < LEAST_CHANCE:
        raise NoCount("fewer than one place in a hundred would give a plant: use other seed")

    def enough(count: NDArray[np.int64], which: NDArray[np.int64]) -> NDArray[np.bool_]:
        odds = bdtrc((need[which] - 1)[:, None], count[:, None], chances[which]).mean(axis=1)
        return np.asarray(odds >= sure[which])

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


@lru_cache(maxsize=8192)
def count(
    wanted: int, how: How, seed: Seed, survival: float, confidence: float = CONFIDENCE, seedlings: float = 1.0
) -> SowingCount:
    """Smallest number of places from which enough come in `confidence` of cases, and the odds it really gives.

    wanted: 1–20 000 plants; of clumps so many that they hold them.  survival s: share in (0, 1].  Where emergence g is
    uncertain the odds are averaged over its distribution.

    - thinned to one: P[Binomial(C, (1 − (1 − g)^m)·s) ≥ wanted]
    - separated, all kept: P[Binomial(m·C, g·s) ≥ wanted]
    - clumps of k: P[Binomial(C, P[Binomial(m, g·s) ≥ ⌈k/2⌉]) ≥ ⌈wanted / k⌉]
    - sown together: P[Binomial(n, g·s) ≥ wanted]

    Raises NoCount where nothing would be enough, ValueError outside those ranges.
    """
    if seed.mean <= 0 < survival <= 1:
        raise NoCount("nothing comes at this warmth: sow it warmer or cooler")
    if not seed.mean <= 1 or not 0 < survival <= 1:
        raise ValueError("emergence and survival are shares above 0 and up to 1")
    m = seeds_a_cell(how, seed, survival, seedlings)
    p = place_chances(how, m, seed.nodes, survival, seedlings)
    need = ceil(wanted / how.clump)
    mean = float(p.mean())
    found = _smallest(need, p, mean, confidence)
    if how.surplus == "keep" and not how.together:
        places = ceil(found / m)
        odds = float(bdtrc(need - 1, places * m, p).mean())
    else:
        places = found
        odds = float(bdtrc(need - 1, places, p).mean())
    unit = "seeds" if how.together else how.sown_in
    return SowingCount(places, m, places * m, odds, unit, _working(wanted, how, seed, survival, confidence, seedlings,
                                                                   m, mean, places, odds, unit))  # fmt: skip


def _working(
    wanted: int, how: How, seed: Seed, survival: float, confidence: float, seedlings: float,
    per_cell: int, chance: float, places: int, odds: float, unit: str,
) -> Working:  # fmt: skip
    rule = "seeds.count_together" if how.together else f"seeds.count_{how.surplus}"
    inputs = [
        Value("wanted", wanted, "plants"),
        Value("emergence", seed.mean, "share"),
        Value("survival", survival, "share"),
        Value("seeds per cell", per_cell, "seeds"),
        Value("chance per place", chance, "share"),
        Value("confidence", confidence, "share"),
        Value("odds", odds, "share"),
        Value("even odds", round(ceil(wanted / how.clump) / chance / (per_cell if how.surplus == "keep" else 1)), unit),
    ]
    if rule == "seeds.count_clump":
        inputs += [
            Value("clump", how.clump, "plants"),
            Value("clumps", ceil(wanted / how.clump), "clumps"),
            Value("at least", ceil(how.clump / 2), "plants"),
            Value("seedlings", seedlings, ""),
        ]
    return Working(rule, tuple(inputs), (), Value("places", places, unit))


def count_for(crop: Crop, wanted: int, how: How, seed: Seed, confidence: float = CONFIDENCE) -> SowingCount:
    """`count` with the survival and seedlings of the crop."""
    return count(wanted, how, seed, crop.number("survival"), confidence, crop.number("seedlings_per_seed"))


def to_prick(wanted: int, survival: float) -> int:
    """Seedlings to prick out of a box so that `wanted` remain at the survival a kept seedling has."""
    return ceil(round(wanted / survival, 6))


def plants_odds(places: int, chances: NDArray[np.float64]) -> NDArray[np.float64]:
    """Chance of exactly 0, 1, … `places` plants from so many places: (places + 1,), averaged over the nodes."""
    k = np.arange(places + 1)[:, None]
    choose = gammaln(places + 1) - gammaln(k + 1) - gammaln(places - k + 1)
    p = np.clip(chances, 1e-12, 1 - 1e-12)[None, :]
    return np.asarray(np.exp(choose + xlogy(k, p) + xlog1py(places - k, -p)).mean(axis=1))
