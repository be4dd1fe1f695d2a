"""Quantiles of type 8, and the chance that belongs to a place in order (Hyndman & Fan 1996)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

THIRD = 1 / 3


def position(p: ArrayLike, n: ArrayLike) -> Any:
    """Where the quantile p of n values lies among them, counted from 1: (n + 1/3)·p + 1/3, held at both ends.

    p: 0 to 1, n: ≥ 1, broadcast against each other; returns their shape.
    """
    count = np.asarray(n)
    return np.clip((count + THIRD) * np.asarray(p) + THIRD, 1.0, np.maximum(count, 1))


def chance(i: int, n: int) -> float:
    """The chance of a value no later than the i-th of n, 1 ≤ i ≤ n."""
    return (i - THIRD) / (n + THIRD)


def quantile(ordered: Sequence[float], p: float) -> float:
    """The quantile p of values in order, at least one; endless ones count as later than any."""
    h = float(position(p, len(ordered)))
    low = math.floor(h)
    a, b = ordered[low - 1], ordered[min(low, len(ordered) - 1)]
    return a if h == low or a == b else a + (h - low) * (b - a)
