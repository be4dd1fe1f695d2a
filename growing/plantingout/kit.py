"""What goes along to the bed?  Water, collars, nets, stakes: amounts from the plants and the length of the bed."""

from __future__ import annotations

import math
from typing import NamedTuple

from growing.assumptions import real
from growing.crops import Crop
from growing.place.covers import OVER_ENDS_CM, PEG_EVERY_CM

WATER_L = (0.3, 0.5)  # a plant, once it is in
DIP_L = real("plantingout.kit.DIP_L")
STAKE_HIGH_CM = real("plantingout.kit.STAKE_HIGH_CM")
NET_HIGH_CM = real("plantingout.kit.NET_HIGH_CM")
LAYER_CM = real("plantingout.kit.LAYER_CM")
CABBAGES, NIGHTSHADES, PEAS = "cabbage family", "nightshade family", "peas and beans"


class KitItem(NamedTuple):
    """One thing to take along: its word, how many or how much, the unit ("" for pieces), and what for."""

    what: str
    amount: float
    most: float | None
    unit: str
    why: str


def row_cm(crop: Crop, count: int, areas_cm: float | None) -> float:
    """The length of bed that they stand in: of its areas where they are laid out, otherwise one row at their spacing."""
    return areas_cm or max(1, count) * crop.number("spacing_cm")


def kit(crop: Crop, count: int, areas_cm: float | None = None) -> tuple[KitItem, ...]:
    """Everything for so many plants.  areas_cm: the length of their part of the bed, None where nobody laid it out."""
    length = row_cm(crop, count, areas_cm)
    found = [
        KitItem(
            "water", WATER_L[0] * count, WATER_L[1] * count, "l", "a can each row: plugs wet first, each one watered in"
        )
    ]
    tall = crop.number("height_cm")
    if crop.family == CABBAGES:
        found.append(KitItem("collars", count, None, "", "flat round the stem, against the root fly"))
        found.append(
            KitItem(
                "fine net",
                length + 2 * OVER_ENDS_CM,
                None,
                "cm",
                "over hoops the same day, edges weighed down: pigeons, moths",
            )
        )
        found.append(KitItem("pegs", pegs(length), None, "", "along both edges"))
    elif crop.family == NIGHTSHADES and tall >= STAKE_HIGH_CM:
        found.append(KitItem("stakes", count, None, "", "in before the plant, not through its roots"))
    elif crop.family == PEAS and tall >= NET_HIGH_CM:
        found.append(KitItem("net or canes", length, None, "cm", "up before they are set"))
    elif crop.word("yields") == "bloom" and tall >= NET_HIGH_CM:
        layers = math.ceil((tall - STAKE_HIGH_CM / 2) / (2 * LAYER_CM))
        found.append(KitItem("support net", layers * length, None, "cm", "laid at planting, lifted as they grow"))
        found.append(KitItem("posts", 2 * (int(length // 150) + 1), None, "", "at the ends and between"))
    return tuple(found)


def pegs(length_cm: float) -> int:
    """Pegs for both edges of a cover over so long a bed."""
    return 2 * (int((length_cm + 2 * OVER_ENDS_CM) // PEG_EVERY_CM) + 1)


def dip_l(count: int) -> float:
    """Litres of a root dip for so many plants."""
    return round(DIP_L * count, 2)
