"""What do the counts say?  How many will come in the end, and how many by which day, from what was sown, looked at and lifted.

The share that comes is uncertain (Beta; or, now and then, spoilt: dead seed, cold, drought), and so is the batch's own speed (log-normal,
sd 0.2): a grid over both, weighed by how well each explains every count.  Of n seeds, those up between two looks are multinomial.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.special import bdtrc, ndtr

from growing.assumptions import real
from growing.seeds.thermal_time import share_up

Array = NDArray[np.float64]
SHARES, SPEEDS = 41, 21  # nodes of the grid
SPEED_SD = real("batch.posterior.SPEED_SD")
LEAST_WEIGHT = real("batch.posterior.LEAST_WEIGHT")
WEIGHT = real("batch.posterior.WEIGHT")
SISTER = real("batch.posterior.SISTER")
SPOILT = real("batch.posterior.SPOILT")
SPOILT_A = real("batch.posterior.SPOILT_A")
SPOILT_B = real("batch.posterior.SPOILT_B")
SWOLLEN = real("batch.posterior.SWOLLEN")
TAIL_NODES = 257  # of a binomial tail, a line between
TINY = 1e-12


class CountLook(NamedTuple):
    """A count: the clock x at that hour, and how many were up by then, all together."""

    x: float
    up: int


class Lifted(NamedTuple):
    """What was found on lifting some that were not up."""

    root: int = 0
    swollen: int = 0
    soft: int = 0


class First(NamedTuple):
    """The sowing before it in the same cells, of which something may still come: its spread, the share of its seeds that comes, its clock
    at the re-sowing, and at each look since."""

    sigma: float
    share: float
    x_then: float
    xs: tuple[float, ...]

    def late(self, x: float) -> float:
        """Chance that in a cell left empty at the re-sowing the first seed has come by its clock x; infinite: in the end."""
        before = self.share * share_up(self.x_then, self.sigma)
        by = self.share * (1.0 if math.isinf(x) else share_up(x, self.sigma))
        return max(0.0, (by - before) / max(TINY, 1 - before))


class SowingSoFar(NamedTuple):
    """One sowing: seeds, their spread, what is known of the share that comes (Beta a, b, at this warmth), its looks in order, what
    was lifted at the clock `lifted_x`, the log of the speed that its lot is known for (`pace`), and what was sown in its cells before:
    what comes up in a cell sown again may be either seed."""

    seeds: int
    sigma: float
    a: float
    b: float
    looks: tuple[CountLook, ...] = ()
    lifted: Lifted = Lifted()
    lifted_x: float = 0.0
    pace: float = 0.0
    first: First | None = None


class Posterior(NamedTuple):
    """Weights over the grid, (batches, shares, speeds), that add up to 1; share: (batches, shares); speed: (batches, speeds) log."""

    weights: Array
    share: Array
    speed: Array
    up: Array
    x: Array
    sigma: Array
    seeds: Array
    late: Array  # (batches, 2): chance that the seed before it has come in one of its cells: by the last look, and in the end

    @property
    def final_share(self) -> Array:
        """Mean of the share that comes in the end, (batches,)."""
        found: Array = (self.weights.sum(axis=2) * self.share).sum(axis=1)
        return found

    def interval(self, level: float = 0.8) -> tuple[Array, Array]:
        """The share that comes, from and to, with that probability, (batches,) each."""
        density = self.weights.sum(axis=2)
        below = np.cumsum(density, axis=1) - density / 2
        tails = (1 - level) / 2
        low, high = (
            np.array([np.interp(q, c, s) for c, s in zip(below, self.share, strict=True)]) for q in (tails, 1 - tails)
        )
        return low, high


def priors(mean: float, weight: float | None = None) -> tuple[float, float]:
    """Beta (a, b) of a share known by its mean only, worth so many seeds; None: as many as is usual."""
    weight = WEIGHT if weight is None else weight
    mean = min(max(mean, 0.01), 0.99)
    return mean * max(weight, LEAST_WEIGHT), (1 - mean) * max(weight, LEAST_WEIGHT)


def posterior(
    batches: Sequence[SowingSoFar], sisters: Sequence[int | None] = (), shares: int = SHARES, speeds: int = SPEEDS
) -> Posterior:
    """The grid of each batch after its counts.

    sisters: for each the number of another of the same crop and place whose counts speak of the speed there, None: none.
    """
    share = (np.arange(shares) + 0.5) / shares
    z = np.linspace(-3, 3, speeds)
    normal = np.exp(-(z**2) / 2)
    speed = z * SPEED_SD + np.array([[one.pace] for one in batches])
    n, size = len(batches), (len(batches), shares, speeds)
    grid = np.broadcast_to(share, (n, shares))
    a, b = (np.array([getattr(one, f) for one in batches], float).reshape(n, 1) for f in ("a", "b"))
    log_prior = np.log(
        (1 - SPOILT) * _beta(a, b, share) + SPOILT * _beta(np.array(SPOILT_A), np.array(SPOILT_B), share) + TINY
    )
    likely = _likelihood(batches, grid, speed)
    log = log_prior[:, :, None] + np.log(normal)[None, None, :] + likely
    if sisters and any(k is not None for k in sisters):
        says = log - log.max(axis=(1, 2), keepdims=True)
        of_speed = np.log(np.exp(says).sum(axis=1) / normal + TINY)  # (batches, speeds)
        for k, other in enumerate(sisters):
            if other is not None and other != k:
                log[k] += SISTER * (of_speed[other] - of_speed[other].max())[None, :]
    weights = np.exp(log - log.max(axis=(1, 2), keepdims=True))
    weights /= weights.sum(axis=(1, 2), keepdims=True)
    up = np.array([one.looks[-1].up if one.looks else 0 for one in batches], float)
    x = np.array([one.looks[-1].x if one.looks else 0.0 for one in batches], float)
    sigma, seeds = (np.array([getattr(one, f) for one in batches], float) for f in ("sigma", "seeds"))
    assert weights.shape == size
    late = np.array(
        [(_late(one, len(one.looks) - 1), one.first.late(math.inf)) if one.first else (0.0, 0.0) for one in batches]
    )
    return Posterior(weights, np.array(grid), speed, up, x, sigma, seeds, late)


def _late(one: SowingSoFar, look: int) -> float:
    """Chance that the seed before it has come in one of its cells by one of its looks."""
    if one.first is None or look < 0:
        return 0.0
    return one.first.late(one.first.xs[min(look, len(one.first.xs) - 1)]) if one.first.xs else 0.0


def _either(comes: Array, late: Array) -> Array:
    """Chance of a seedling from one seed or the one before it.  comes: (batches, …); late: (batches,)."""
    if not late.any():
        return comes
    found: Array = comes + late.reshape(-1, *([1] * (comes.ndim - 1))) * (1 - comes)
    return found


def _beta(a: Array, b: Array, share: Array) -> Array:
    """Mass of a Beta in each cell of the grid, by its density in the middle; rows add up to 1."""
    log = (a - 1) * np.log(share) + (b - 1) * np.log1p(-share)
    found: Array = np.exp(log - log.max(axis=-1, keepdims=True))
    found /= found.sum(axis=-1, keepdims=True)
    return found


def _share_by(x: Array, sigma: Array, speed: Array) -> Array:
    """Of those that will come, the share up at x, (batches,), if the batch is that fast: (batches, speeds)."""
    with np.errstate(divide="ignore"):
        found: Array = ndtr((np.log(np.maximum(x, 0.0))[..., None] + speed) / sigma[..., None])
    return found


def _likelihood(batches: Sequence[SowingSoFar], grid: Array, speed: Array) -> Array:
    """Log of how likely each batch's counts and what was lifted are, (batches, shares, speeds)."""
    most = max((len(one.looks) for one in batches), default=0)
    n = len(batches)
    sigma = np.array([one.sigma for one in batches], float)
    log = np.zeros((n, grid.shape[1], speed.shape[1]))
    share, had = grid[:, :, None], np.zeros(n)
    before = np.zeros((n, grid.shape[1], speed.shape[1]))
    for j in range(most):
        x = np.array([one.looks[j].x if j < len(one.looks) else np.nan for one in batches])
        up = np.array([one.looks[j].up if j < len(one.looks) else np.nan for one in batches])
        here = ~np.isnan(x)
        by = _share_by(np.where(here, x, 0.0), sigma, speed)[:, None, :]
        now = _either(share * by, np.array([_late(one, j) for one in batches]))
        now = now if here.all() else np.where(here[:, None, None], now, before)
        new = np.where(here, np.maximum(up - had, 0.0), 0.0)  # a count that falls is a slip: nothing new
        log += new[:, None, None] * np.log(np.maximum(now - before, TINY))
        before, had = now, np.where(here, np.maximum(up, had), had)
    left = np.array([one.seeds for one in batches], float) - had
    log += np.maximum(left, 0.0)[:, None, None] * np.log(np.maximum(1 - before, TINY))
    roots = np.array([one.lifted.root + SWOLLEN * one.lifted.swollen for one in batches])
    soft = np.array([float(one.lifted.soft) for one in batches])
    if (roots + soft).any():
        at = _share_by(np.array([one.lifted_x for one in batches], float), sigma, speed)[:, None, :]
        coming = grid[:, :, None] * (1 - at) / np.maximum(1 - grid[:, :, None] * at, TINY)
        log += roots[:, None, None] * np.log(np.maximum(coming, TINY))
        log += soft[:, None, None] * np.log(np.maximum(1 - coming, TINY))
    return log


class CountsAhead(NamedTuple):
    """What is to come by each of some clocks: mean further seedlings, and the chance of enough, (batches, horizons) each."""

    further: Array
    enough: Array


def ahead(found: Posterior, need: Array, horizons: Array) -> CountsAhead:
    """Further seedlings and the chance that at least `need` are up.

    need: (batches,) seedlings.  horizons: (batches, horizons) clocks, infinite for in the end.
    """
    share = found.share[:, :, None]
    now = _either(share * _share_by(found.x, found.sigma, found.speed)[:, None, :], found.late[:, 0])
    waits = np.maximum(1 - now, TINY)
    left = np.maximum(found.seeds - found.up, 0.0)[:, None, None]
    missing = np.maximum(need - found.up, 0.0)[:, None, None]
    further, enough = np.empty(horizons.shape), np.empty(horizons.shape)
    tail = np.stack([_tail(round(m), round(n)) for m, n in zip(missing.flat, left.flat, strict=True)])
    flat, row = tail.ravel(), (np.arange(len(tail), dtype=np.int32) * TAIL_NODES)[:, None, None]
    for k in range(horizons.shape[1]):
        with np.errstate(divide="ignore"):
            then = ndtr((np.log(np.maximum(horizons[:, k], TINY))[:, None] + found.speed) / found.sigma[:, None])
        then = np.where(np.isinf(horizons[:, k])[:, None], 1.0, then)[:, None, :]
        chance = np.clip((_either(share * then, found.late[:, 1]) - now) / waits, 0.0, 1.0)
        further[:, k] = np.einsum("ijk,ijk->i", found.weights, chance) * left[:, 0, 0]
        at = chance * (TAIL_NODES - 1)
        below = np.minimum(at.astype(np.int32), TAIL_NODES - 2)
        at -= below
        below += row
        low = flat.take(below)
        below += 1
        at *= flat.take(below) - low
        at += low
        enough[:, k] = np.einsum("ijk,ijk->i", found.weights, at)
    return CountsAhead(further, np.clip(enough, 0.0, 1.0))


@lru_cache(maxsize=2048)
def _tail(missing: int, left: int) -> Array:
    """Chance that of `left` seeds at least `missing` come, by each seed's own chance at equal steps from 0 to 1: (nodes,)."""
    chance = np.linspace(0.0, 1.0, TAIL_NODES)
    if missing <= 0:
        return np.ones(TAIL_NODES)
    if missing > left:
        return np.zeros(TAIL_NODES)
    found: Array = bdtrc(missing - 1, left, chance)
    return found
