"""How many do I sow?  Exact binomial odds by what happens to the surplus, averaged over what is not known of the seed.

Thinned to one, separated and all kept, left in clumps, sown together and pricked out, or divided at planting out: each
asks for another count.
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from functools import lru_cache
from math import ceil, floor, sqrt
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.special import bdtrc, betaincinv, gammaln, ndtri, xlog1py, xlogy

from growing.assumptions import real
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
AT_ONCE = 5  # counts that are tried in one go
WALKS = 6  # such goes before halving is quicker
LEAST_CHANCE = 0.01
# Minutes to fill, seed and label a cell, and to strew a seed in rows: estimates, own pace soon beats them.
CELL_MINUTES = real("seeds.sowing.CELL_MINUTES")
SEED_MINUTES = real("seeds.sowing.SEED_MINUTES")


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

    def need(self, plants: int) -> int:
        """Plants to raise for so many, or the clumps that hold them."""
        return ceil(plants / self.clump)


USUAL = How()


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


SOWN_BY = {"cells": "cells", "two": "cells", "clumps": "cells", "blocks": "blocks", "box": "box", "divide": "box"}
OVER_BY = {"usual": "", "snip": "thin", "keep": "keep", "clump": "clump", "divide": "divide"}


def how_for(crop: Crop, sown_in: str, said: str = "", per_cell: int | None = None) -> How:
    """The way a crop is sown: what the grower said of it, and the crop's own for the rest.

    sown_in empty: by the way chosen for the crop.  said: one of SURPLUS; empty: by the way chosen, "usual": the crop's own.
    """
    if sown_in == "place":
        return How("place", "thin", 1)
    way = "" if sown_in else crop.word("sown_way")
    if way:
        together = way in ("box", "divide") and crop.word("transplants") == "easy"
        sown_in = SOWN_BY[way] if together or way not in ("box", "divide") else "cells"
        said = said or {"divide": "divide", "clumps": "clump"}.get(way, "")
        per_cell = 2 if way == "two" and per_cell is None else per_cell
    said = said or OVER_BY[crop.word("surplus_way")]
    surplus = surplus_for(crop, sown_in, "" if said == "usual" else said)
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
    """`smallest_counts` of one case: looked for around where a normal distribution would have it, a few counts at once."""
    if not (1 <= wanted <= MOST_WANTED and mean >= LEAST_CHANCE):
        return int(smallest_counts([wanted], p[None, :], confidence)[0])
    low = max(wanted, _likely(wanted, mean, float(p.var()), confidence) - AT_ONCE // 2)
    for _ in range(WALKS):
        counts = np.arange(low, low + AT_ONCE)
        good = bdtrc(wanted - 1, counts[:, None], p).mean(axis=1) >= confidence
        if good[0] and low > wanted:
            low = max(wanted, low - AT_ONCE + 1)
        elif not good[-1]:
            low += AT_ONCE
        else:
            return int(counts[good.argmax()])
    return int(smallest_counts([wanted], p[None, :], confidence)[0])


def _likely(wanted: int, mean: float, var: float, confidence: float) -> int:
    """The count C with C·μ − z·√(C·μ(1 − μ) + C²·var) = wanted − ½: about the answer, where it is not far in the tail."""
    z, need = float(ndtri(confidence)), wanted - 0.5
    found = need / mean
    for _ in range(3):
        spread = z * sqrt(found * mean * (1 - mean) + found**2 * var)
        found = min((need + spread) / mean, 20 * need / mean)
    return ceil(found)


class SowingCase(NamedTuple):
    """What is to be counted: plants wanted, 1–20 000; the way; the seed; survival of a kept seedling, a share in (0, 1]; how
    sure enough must be; seedlings of a seed that comes."""

    wanted: int
    how: How
    seed: Seed
    survival: float
    confidence: float = CONFIDENCE
    seedlings: float = 1.0

    @property
    def need(self) -> int:
        """Plants, or clumps that hold them."""
        return self.how.need(self.wanted)

    @property
    def per_cell(self) -> int:
        return seeds_a_cell(self.how, self.seed, self.survival, self.seedlings)

    def places(self, least: int, per_cell: int) -> int:
        """Places for the least number that is enough: of places, or of seeds where all are kept."""
        return ceil(least / per_cell) if self._each_counts else least

    def trials(self, places: int, per_cell: int) -> int:
        """What gives a plant, or does not, in so many places."""
        return places * per_cell if self._each_counts else places

    @property
    def _each_counts(self) -> bool:
        return self.how.surplus == "keep" and not self.how.together

    @property
    def chances(self) -> NDArray[np.float64]:
        """Chance that a place gives what it is for, (1,) or (32,).  Raises NoCount, ValueError for what cannot be."""
        if self.seed.mean <= 0 < self.survival <= 1:
            raise NoCount("nothing comes at this warmth: sow it warmer or cooler")
        if not self.seed.mean <= 1 or not 0 < self.survival <= 1:
            raise ValueError("emergence and survival are shares above 0 and up to 1")
        return place_chances(self.how, self.per_cell, self.seed.nodes, self.survival, self.seedlings)


class SowingCount(NamedTuple):
    """What to sow: places (cells, or seeds when sown together), seeds in each and in all, and the odds of enough.

    unit: what the places are: cells, blocks or seeds.  chance: that a place gives what it is for.  case: what was counted.
    """

    places: int
    per_cell: int
    seeds: int
    odds: float
    unit: str
    chance: float
    case: SowingCase

    @property
    def working(self) -> Working:
        """The arithmetic; put together only when somebody asks."""
        case, how = self.case, self.case.how
        rule = "seeds.count_together" if how.together else f"seeds.count_{how.surplus}"
        each = self.per_cell if how.surplus == "keep" else 1
        inputs = [
            Value("wanted", case.wanted, "plants"),
            Value("emergence", case.seed.mean, "share"),
            Value("survival", case.survival, "share"),
            Value("seeds per cell", self.per_cell, "seeds"),
            Value("chance per place", self.chance, "share"),
            Value("confidence", case.confidence, "share"),
            Value("odds", self.odds, "share"),
            Value("even odds", round(case.need / self.chance / each), self.unit),
        ]
        if rule == "seeds.count_clump":
            inputs += [
                Value("clump", how.clump, "plants"),
                Value("clumps", case.need, "clumps"),
                Value("at least", ceil(how.clump / 2), "plants"),
                Value("seedlings", case.seedlings, ""),
            ]
        return Working(rule, tuple(inputs), (), Value("places", self.places, self.unit))


def count(
    wanted: int, how: How, seed: Seed, survival: float, confidence: float = CONFIDENCE, seedlings: float = 1.0
) -> SowingCount:
    """Smallest number of places from which enough come in `confidence` of cases, and the odds it really gives.

    Where emergence g is uncertain the odds are averaged over its distribution.

    - thinned to one: P[Binomial(C, (1 − (1 − g)^m)·s) ≥ wanted]
    - separated, all kept: P[Binomial(m·C, g·s) ≥ wanted]
    - clumps of k: P[Binomial(C, P[Binomial(m, g·s) ≥ ⌈k/2⌉]) ≥ ⌈wanted / k⌉]
    - sown together: P[Binomial(n, g·s) ≥ wanted]

    Raises NoCount where nothing would be enough, ValueError for what cannot be.
    """
    return counted(SowingCase(wanted, how, seed, survival, confidence, seedlings))


@lru_cache(maxsize=8192)
def counted(case: SowingCase) -> SowingCount:
    """`count` of one case."""
    p = case.chances
    m, mean = case.per_cell, float(p.mean())
    places = case.places(_smallest(case.need, p, mean, case.confidence), m)
    odds = float(bdtrc(case.need - 1, case.trials(places, m), p).mean())
    return _sown(case, m, places, odds, mean)


def count_all(cases: Sequence[SowingCase]) -> list[SowingCount | None]:
    """Many counts in one go; None where there is none."""
    found: list[SowingCount | None] = [None] * len(cases)
    open_: dict[int, NDArray[np.float64]] = {}
    for n, case in enumerate(cases):
        with suppress(NoCount):
            p = case.chances
            if p.mean() >= LEAST_CHANCE and 1 <= case.need <= MOST_WANTED:
                open_[n] = p if len(p) == NODES else np.full(NODES, p[0])
    if not open_:
        return found
    here, chances = [cases[n] for n in open_], np.stack(list(open_.values()))
    need = np.array([case.need for case in here])
    try:
        least = smallest_counts(need, chances, np.array([case.confidence for case in here]))
    except NoCount:  # one of them has none: each by itself
        for n in open_:
            with suppress(NoCount):
                found[n] = counted(cases[n])
        return found
    each = [case.per_cell for case in here]
    places = [case.places(one, m) for case, one, m in zip(here, least.tolist(), each, strict=True)]
    trials = np.array([case.trials(one, m) for case, one, m in zip(here, places, each, strict=True)])
    odds = bdtrc((need - 1)[:, None], trials[:, None], chances).mean(axis=1).tolist()
    means = chances.mean(axis=1).tolist()
    for n, case, m, one, chance, mean in zip(open_, here, each, places, odds, means, strict=True):
        found[n] = _sown(case, m, one, chance, mean)
    return found


def _sown(case: SowingCase, per_cell: int, places: int, odds: float, chance: float) -> SowingCount:
    unit = "seeds" if case.how.together else case.how.sown_in
    return SowingCount(places, per_cell, places * per_cell, odds, unit, chance, case)


def case_for(crop: Crop, wanted: int, how: How, seed: Seed, confidence: float = CONFIDENCE) -> SowingCase:
    """A case with the survival and seedlings of the crop."""
    return SowingCase(wanted, how, seed, crop.number("survival"), confidence, crop.number("seedlings_per_seed"))


def count_for(crop: Crop, wanted: int, how: How, seed: Seed, confidence: float = CONFIDENCE) -> SowingCount:
    """`count` with the survival and seedlings of the crop."""
    return counted(case_for(crop, wanted, how, seed, confidence))


def to_prick(wanted: int, survival: float) -> int:
    """Seedlings to prick out of a box so that `wanted` remain at the survival a kept seedling has."""
    return ceil(round(wanted / survival, 6))


def plants_odds(places: int, chances: NDArray[np.float64]) -> NDArray[np.float64]:
    """Chance of exactly 0, 1, … `places` plants from so many places: (places + 1,), averaged over the nodes."""
    k = np.arange(places + 1)[:, None]
    choose = gammaln(places + 1) - gammaln(k + 1) - gammaln(places - k + 1)
    p = np.clip(chances, 1e-12, 1 - 1e-12)[None, :]
    return np.asarray(np.exp(choose + xlogy(k, p) + xlog1py(places - k, -p)).mean(axis=1))
