"""How many plants fit there?  Places in a rectangle, square or staggered, with half a spacing kept to the edge.

Rows run along the longer side.  The first row lies half a spacing in from the edge, and the first plant of a row too;
staggered rows lie s·√3/2 apart and every second one begins half a spacing further on.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.working import Value, Working

PATTERNS = ("square", "staggered", "single")
STAGGERED_ROW = math.sqrt(3) / 2
LEAST_CM, MOST_CM = 2.0, 300.0
MOST_PLACES = 20_000
_EPSILON = 1e-9


class Fit(NamedTuple):
    """How many plants, in so many rows; per_row of the first and second row; row_cm between rows; the arithmetic."""

    plants: int
    rows: int
    per_row: tuple[int, int]
    row_cm: float
    working: Working


@lru_cache(maxsize=4096)
def clump_cm(spacing_cm: float, clump: int) -> float:
    """Distance of clumps so that each plant of them has the ground it would have by itself [cm]: an estimate."""
    return spacing_cm * clump**0.5


def fit(length_cm: float, width_cm: float, spacing_cm: float, pattern: str = "square", edge: bool = True) -> Fit:
    """How many plants fit a rectangle; length and width in any order.

    spacing_cm: 2–300.  edge: keep half a spacing to every edge.  A "single" area holds one plant whatever its size.
    Raises ValueError for sizes or spacings outside their ranges.
    """
    if pattern not in PATTERNS:
        raise ValueError(f"no such pattern: {pattern}")
    if not LEAST_CM <= spacing_cm <= MOST_CM:
        raise ValueError(f"a spacing lies between {LEAST_CM:g} and {MOST_CM:g} cm, not {spacing_cm:g}")
    if length_cm <= 0 or width_cm <= 0:
        raise ValueError("an area has a length and a width")
    long, short = max(length_cm, width_cm), min(length_cm, width_cm)
    row_cm = spacing_cm * STAGGERED_ROW if pattern == "staggered" else spacing_cm
    kept = spacing_cm / 2 if edge else 0.0
    if pattern == "single":
        rows, first, second = 1, 1, 0
    else:
        rows = _steps(short - 2 * kept, row_cm)
        first = _steps(long - 2 * kept, spacing_cm)
        second = _steps(long - 2 * kept - spacing_cm / 2, spacing_cm) if pattern == "staggered" else first
    count = (rows + 1) // 2 * first + rows // 2 * second
    if count > MOST_PLACES:
        raise ValueError(f"{count} plants are more than one area holds: draw several")
    inputs = (
        Value("length", long, "cm"),
        Value("width", short, "cm"),
        Value("spacing", spacing_cm, "cm"),
        Value("pattern", pattern),
        Value("to the edge", kept, "cm"),
        Value("rows", rows, "rows"),
        Value("row distance", row_cm, "cm"),
        Value("in a row", first, "plants"),
        Value("in every second row", second, "plants"),
    )
    return Fit(count, rows, (first, second), row_cm, Working("beds.fit", inputs, (), Value("places", count, "plants")))


def _steps(room_cm: float, step_cm: float) -> int:
    """How many points a step apart fit into so much room, the first one at its beginning."""
    return 0 if room_cm < -_EPSILON else math.floor(room_cm / step_cm + _EPSILON) + 1


@lru_cache(maxsize=4096)
def places(
    length_cm: float, width_cm: float, spacing_cm: float, pattern: str = "square", edge: bool = True
) -> NDArray[np.float64]:
    """Where the plants stand: (n, 2) of x along `length_cm` and y along `width_cm` [cm], row after row."""
    found = fit(length_cm, width_cm, spacing_cm, pattern, edge)
    if pattern == "single":
        return np.array([[length_cm / 2, width_cm / 2]])
    kept = spacing_cm / 2 if edge else 0.0
    rows = []
    for row in range(found.rows):
        odd = row % 2
        along = (
            kept
            + (spacing_cm / 2 if odd and pattern == "staggered" else 0.0)
            + spacing_cm * np.arange(found.per_row[odd])
        )
        rows.append(np.stack([along, np.full(len(along), kept + found.row_cm * row)], axis=1))
    spots = np.concatenate(rows) if rows else np.empty((0, 2))
    return spots if length_cm >= width_cm else spots[:, ::-1]
