"""How much light does it want?  A band for a day by crop and stage; what it has against it."""

from __future__ import annotations

from typing import NamedTuple

from growing.assumptions import real
from growing.crops import Crop
from growing.working import Value, Working

BAND = (0.8, 1.2)  # of the crop's number: 10–14 for 12, 12–18 for 15
JUST_UP_LEAVES = real("light.targets.JUST_UP_LEAVES")
LITTLE, RIGHT, MUCH = "little", "right", "much"


class Band(NamedTuple):
    """What it wants in a day, from and to [mol m⁻² d⁻¹]; stage: "up" until its second true leaf, then "grow"."""

    low: float
    high: float
    stage: str

    def verdict(self, dli: float) -> str:
        """Too little, right, or more than it can use."""
        return LITTLE if dli < self.low else MUCH if dli > self.high else RIGHT

    def missed(self, dli: float) -> float:
        """How far outside, as a share of the near end; 0 inside it."""
        return max(0.0, 1 - dli / self.low, dli / self.high - 1)


def band(crop: Crop, leaves: float) -> Band:
    """The band of a crop with so many true leaves."""
    stage = "up" if leaves < JUST_UP_LEAVES else "grow"
    middle = crop.number(f"dli_{stage}")
    return Band(BAND[0] * middle, BAND[1] * middle, stage)


def against(name: str, dli: float, least: float, wanted: Band) -> Working:
    """Its day's light against its band, with the darkest of its cells."""
    inputs = (
        Value("name", name),
        Value("light", round(dli, 1), "mol/m²/d", "working"),
        Value("darkest", round(least, 1), "mol/m²/d", "working"),
        Value("low", round(wanted.low, 1), "mol/m²/d", "crop"),
        Value("high", round(wanted.high, 1), "mol/m²/d", "crop"),
    )
    found = wanted.verdict(dli)
    return Working(f"light.has_{found}", inputs, (), Value("light", round(dli, 1), "mol/m²/d"))


RULES = dict.fromkeys(
    (f"light.has_{kind}" for kind in (LITTLE, RIGHT, MUCH)), ("name", "light", "darkest", "low", "high")
)
