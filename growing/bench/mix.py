"""What is it filled with, and how much of each?  A recipe weighed out, and what must never follow what."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from growing.assumptions import real

SPILL = 0.12  # more than the cells hold, 10 to 15 %
MOST_PARTS = 12
SAFE_C, SAFE_MINUTES, TOO_HOT_C = 82, 30, 93  # moist mix in an oven: core, for so long, never above


def wrong_parts(value: object) -> str:
    """What is wrong with the parts of a mix; empty where they are names with numbers that sum to something."""
    if not isinstance(value, list) or not 1 <= len(value) <= MOST_PARTS:
        return f"a mix has one to {MOST_PARTS} parts"
    for one in value:
        if not isinstance(one, list | tuple) or len(one) != 2 or not isinstance(one[0], str) or not one[0].strip():
            return "each part of a mix has a name and a number"
        share = one[1]
        if isinstance(share, bool) or not isinstance(share, int | float) or not math.isfinite(share) or share < 0:
            return f"{one[0][:40]}: its share is a number, 0 or more"
    if not sum(one[1] for one in value) > 0:
        return "the parts sum to nothing: give at least one of them a share, such as 2 : 1"
    return ""


def litres_for(cells: int, cell_ml: float) -> float:
    """Litres of loose mix that so many cells take, with what is spilt and pressed."""
    return cells * cell_ml / 1000 * (1 + SPILL)


LIGHT_N = real("bench.mix.LIGHT_N")
MEDIUM_N = real("bench.mix.MEDIUM_N")


def feeder_of(feed_n_mg_l: float) -> str:
    """ "light", "medium" or "heavy", by the nitrogen of the feed that does the crop good [mg/l]."""
    return "light" if feed_n_mg_l <= LIGHT_N else "medium" if feed_n_mg_l <= MEDIUM_N else "heavy"


class Measure(NamedTuple):
    """So much of something: l, g or ml."""

    name: str
    amount: float
    unit: str


def weighed_out(
    parts: Sequence[Sequence[object]],
    grams: Sequence[Sequence[object]],
    millilitres: Sequence[Sequence[object]],
    water_ml: float,
    litres: float,
) -> list[Measure]:
    """Everything that goes into so many litres [l].  Raises ValueError for parts that sum to nothing, litres not above 0."""
    if wrong := wrong_parts([list(p) for p in parts]):
        raise ValueError(wrong)
    if not 0 < litres <= 100_000:
        raise ValueError("litres: give more than 0")
    whole = sum(float(str(p[1])) for p in parts)
    found = [Measure(str(p[0]), litres * float(str(p[1])) / whole, "l") for p in parts if float(str(p[1])) > 0]
    found += [Measure(str(g[0]), litres * float(str(g[1])), "g") for g in grams]
    found += [Measure(str(m[0]), litres * float(str(m[1])), "ml") for m in millilitres]
    return [*found, Measure("water", litres * water_ml / 1000, "l")] if water_ml else found


def scald_wrong(living: bool, added: bool) -> str:
    """Why boiling water or an oven would do harm now; empty where it may be."""
    if added:
        return "compost was added already: heat kills what makes it worth adding. Scald the plain mix first, next time"
    if living:
        return "this mix holds compost or microbes: heat kills them. Scald a plain mix, and add them when it is cool"
    return ""
