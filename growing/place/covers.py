"""What does a cover save?  Degrees it adds on a clear night, and which of those at hand is enough."""

from __future__ import annotations

from typing import NamedTuple

from growing.assumptions import real


class Cover(NamedTuple):
    """A kind of cover: its name (light fleece has 17 to 19 g a square metre, warm 30), the least and the most it adds on a clear
    night [°C] (working defaults)."""

    name: str
    least_c: float
    most_c: float
    by_length: bool = True

    @property
    def adds_c(self) -> float:
        """What is counted on: the middle."""
        return (self.least_c + self.most_c) / 2


COVERS = {
    "fleece17": Cover("light fleece", 1.0, 2.0),
    "fleece30": Cover("warm fleece", 2.0, 3.0),
    "double": Cover("double fleece", 3.0, 4.0),
    "cloche": Cover("cloche", 1.0, 2.0, by_length=False),
}
PEG_EVERY_CM = real("place.covers.PEG_EVERY_CM")
OVER_ENDS_CM = 50.0  # beyond the row at each end
OPEN_FROM_C = 15.0  # cloche and tunnel are opened on sunny days that get warmer
SUNNY_CLOUD = real("place.covers.SUNNY_CLOUD")


class CoverLength(NamedTuple):
    """What covering a bed takes: its length with what hangs over [cm], and pegs."""

    length_cm: float
    pegs: int


def needed(length_cm: float) -> CoverLength:
    """Cover for a stretch of bed so long [cm > 0]: half a metre over at each end, a peg every half metre on both sides."""
    if length_cm <= 0:
        raise ValueError("the stretch has a length")
    whole = length_cm + 2 * OVER_ENDS_CM
    return CoverLength(whole, 2 * (int(whole // PEG_EVERY_CM) + 1))


def lightest(plant_c: float, limit_c: float, at_hand: tuple[str, ...] = tuple(COVERS)) -> str | None:
    """The lightest cover that keeps the plants above `limit_c` where it is `plant_c` without; None where none is enough."""
    enough = [k for k in at_hand if plant_c + COVERS[k].adds_c > limit_c]
    return min(enough, key=lambda k: COVERS[k].adds_c, default=None)
