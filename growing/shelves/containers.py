"""What is it sown in?  The common trays, pots and boxes, by their measures."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

from growing.assumptions import real
from growing.tables import rows


class Measures(NamedTuple):
    """A container by its outer length and width and its depth [cm], cells, and mix in each [ml].

    drains: has holes.  air_pruning: roots meet air and stop instead of circling.
    """

    name: str
    cells: int
    length_cm: float
    width_cm: float
    depth_cm: float
    cell_ml: float
    drains: bool
    air_pruning: bool


SLOPE = real("shelves.containers.SLOPE")
SHORTEST_SHARE = real("shelves.containers.SHORTEST_SHARE")
LONGEST_SHARE = real("shelves.containers.LONGEST_SHARE")
AIR_PRUNED, AIR_PRUNED_FROM_ML = 1.15, 30.0


def carries_weeks(cell_ml: float, raise_max: float, volume_ml: float, air_pruning: bool = False) -> float:
    """Sowing age [weeks] to which so much mix carries a plant without potting up: an estimate.

    cell_ml: mix that carries it through `raise_max` weeks [ml].  volume_ml: mix it has [ml], > 0.
    """
    share = 1 + SLOPE * math.log2(volume_ml / cell_ml)
    if air_pruning and volume_ml >= AIR_PRUNED_FROM_ML:
        share *= AIR_PRUNED
    return raise_max * min(LONGEST_SHARE, max(SHORTEST_SHARE, share))


@lru_cache(maxsize=1)
def containers() -> dict[str, Measures]:
    """The common kinds by key; usual values, rounded, which a garden's own measures override."""
    return {key: _read(row) for key, row in rows("containers").items()}


def _read(row: dict[str, str]) -> Measures:
    length, width, depth, ml = (
        float(row[n]) for n in ("footprint_length_cm", "footprint_width_cm", "depth_cm", "cell_ml")
    )
    yes = (row["drains"] == "yes", row["air_pruning"] == "yes")
    return Measures(row["name"], int(row["cells"]), length, width, depth, ml, *yes)
