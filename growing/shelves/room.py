"""How much bench does it take?  Room in full trays of 28 × 54 cm, before and after potting up."""

from __future__ import annotations

from growing.assumptions import real, whole
from growing.crops import Crop

TRAY_CM2 = 28 * 54


BOX_SEEDS = whole("shelves.room.BOX_SEEDS")
MAT_WATTS = real("shelves.room.MAT_WATTS")


def trays_in_box(seeds: int) -> float:
    """Full trays that so many seeds take until they are pricked out."""
    return seeds / BOX_SEEDS


def trays_in_cells(crop: Crop, cells: int) -> float:
    """Full trays that so many cells take."""
    return cells / crop.number("cells_per_tray")


def trays_in_pots(crop: Crop, plants: int) -> float:
    """Full trays that so many plants take in the crop's pot, side by side."""
    return plants * crop.number("pot_cm") ** 2 / TRAY_CM2
