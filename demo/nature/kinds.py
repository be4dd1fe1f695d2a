"""What kind of plant is it?  Nature's own table of crops: a row for each crop of the demo, four classes for the rest."""

from __future__ import annotations

import csv
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Row = NDArray[np.float32]
CLASSES = {
    "hardy": "class_hardy",
    "half-hardy": "class_half",
    "tender": "class_tender",
    "very tender": "class_very_tender",
}
GIVES = ("pick", "stems", "head", "bulb")
LIGHT = ("either", "light", "dark")


class Kind(NamedTuple):
    """One row of kinds.csv; its comment lines say what each number is, and where it is from.

    Temperatures [°C], life_years in a living room, leaf_days at the best temperature in full light, leaf_cm2 and root_ml
    at one leaf, cm a leaf of height, bulb_h [h] of day length (0: it makes none), first_days and lasts_days of harvest.
    """

    key: str
    base_c: float
    need: float
    best_c: float
    ceiling_c: float
    power: float
    spread: float
    fresh: float
    life_years: float
    light: str
    grow_base_c: float
    grow_best_c: float
    grow_max_c: float
    leaf_days: float
    leaf_cm2: float
    root_ml: float
    leggy_dli: float
    cm: float
    bury: float
    soft_c: float
    hard_c: float
    chill_c: float
    juvenile: float
    bolt_hours: float
    bulb_h: float
    gives: str
    ready: float
    first_days: float
    lasts_days: float
    heat_c: float


@cache
def table() -> dict[str, Kind]:
    """Every row by its key."""
    text = (Path(__file__).parent / "kinds.csv").read_text(encoding="utf-8")
    lines = [line for line in text.splitlines() if line and not line.startswith("#")]
    words = ("key", "light", "gives")
    return {
        row["key"]: Kind(**{name: cell if name in words else float(cell) for name, cell in row.items()})  # type: ignore[arg-type]
        for row in csv.DictReader(lines)
    }


def kind(key: str, hardiness: str = "") -> Kind:
    """The crop's own row, or that of its class; KeyError without both."""
    return table().get(key) or table()[CLASSES[hardiness]]


class Kinds:
    """The numbers of several kinds as float32 rows (groups,), one a group of plants; `gives` and `light` by place in their lists."""

    def __init__(self, kinds: Sequence[Kind]) -> None:
        for name in Kind._fields:
            cells = [getattr(k, name) for k in kinds]
            if name == "key":
                self.keys = cells
                continue
            values = [GIVES.index(c) for c in cells] if name == "gives" else cells
            values = [LIGHT.index(c) for c in cells] if name == "light" else values
            setattr(self, name, np.array(values, np.float32))
        # the beta function's own numbers: 1/(max − best), 1/(best − base), and its power
        self.per_fall = 1 / (self.grow_max_c - self.grow_best_c)
        self.per_rise = 1 / (self.grow_best_c - self.grow_base_c)
        self.rise_power = (self.grow_best_c - self.grow_base_c) * self.per_fall

    def __getattr__(self, name: str) -> Row:  # the rows, for the reader and the type checker
        raise AttributeError(name)
