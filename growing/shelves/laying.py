"""How is this seed laid, and does it want the mat?  What a sowing, a potting or a planting asks of the hands."""

from __future__ import annotations

from typing import NamedTuple

from growing.assumptions import real
from growing.crops import Crop

COOLER_C = real("shelves.laying.COOLER_C")
WARMER_C = real("shelves.laying.WARMER_C")
# a heated room, and the least that a mat without a thermostat adds: growers' readings
ROOM_C, MAT_OVER_ROOM_C = 18.0, 5.0


class Laying(NamedTuple):
    """depth_cm: 0 is on the surface.  light: "light", "dark" or "either".  low_c, high_c: warmth of the mix.
    mat: may it stand on a mat that runs as it likes?  False: that is warmer than does it good."""

    depth_cm: float
    light: str
    low_c: float
    high_c: float
    mat: bool


def laying(crop: Crop) -> Laying:
    """How seed of the crop is laid; from its own values."""
    best, high = crop.number("germinate_c"), crop.number("high_c")
    depth = 0.0 if crop.word("light") == "light" else crop.number("depth_cm")
    low = min(best, max(crop.number("min_c"), best - COOLER_C))
    return Laying(depth, crop.word("light"), low, min(high, best + WARMER_C), high >= ROOM_C + MAT_OVER_ROOM_C)
