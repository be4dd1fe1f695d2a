"""How cold a night does a batch stand, as hardened as it is?"""

from __future__ import annotations

from datetime import date
from typing import NamedTuple

import numpy as np

from growing.assumptions import by_kind, pairs
from growing.batch.facts import BatchFacts
from growing.place.nights import AtPlant, Night, at_plant
from growing.working import Value

UNHARDENED_C = by_kind("batch.harm.UNHARDENED_C")
TENDER = ("tender", "very tender")
TOLD_BEFORE_C = 1.0


# Half of the plants are lost so many degrees under what harms them, and how fast that share rises [°C]: estimates.
HALF_LOST_C = pairs("batch.harm.HALF_LOST_C")
LEAST_LOST = 0.01  # less counts as nothing
_ERRORS = np.linspace(-3.0, 3.0, 61)
_WEIGHTS = np.exp(-(_ERRORS**2) / 2) / np.exp(-(_ERRORS**2) / 2).sum()


class Harm(NamedTuple):
    """The temperature at the plant that a batch must not meet: where harm begins, and from where it is told.

    chill_c: what tender crops are warned from at the latest; None: no such limit.
    """

    harm_c: float
    told_c: float
    hardened: float
    chill_c: float | None


def share_lost(harm_c: float, plant: AtPlant, hardiness: str) -> float:
    """Share of the plants that the night is expected to cost, over what the forecast may be out by.

    ℓ = 1 / (1 + exp(−(D − T − d₅₀) / s)), T normal about the temperature at the plant; harm_c D [°C].
    """
    half, spread = HALF_LOST_C[hardiness]
    celsius = plant.celsius + plant.error_c * _ERRORS
    lost = 1 / (1 + np.exp(np.clip(-(harm_c - celsius - half) / spread, -60, 60)))
    return float((np.where(lost < LEAST_LOST, 0.0, lost) * _WEIGHTS).sum())


def harm(one: BatchFacts) -> Harm:
    """Damage of a hardened plant, and so much earlier as it has yet to climb of its ladder; told a degree before it."""
    hardness = 1.0
    if one.facts.planted_on is None and one.hardened is not None:
        hardness = one.hardened.climbed / one.hardened.rungs
    elif one.facts.planted_on is None and one.facts.sown_on is not None:
        hardness = 0.0
    at = one.crop.number("damage_c") + (1 - hardness) * UNHARDENED_C[one.crop.hardiness]
    chill = one.crop.maybe("chill_c") if one.crop.hardiness in TENDER else None
    return Harm(at, at + TOLD_BEFORE_C if chill is None else max(at + TOLD_BEFORE_C, chill), hardness, chill)


class Struck(NamedTuple):
    """What a night is to a batch: the temperature at the plant, what it must not meet, and the share it is expected to cost, 0–1."""

    plant: AtPlant
    harm: Harm
    share: float

    @property
    def cold(self) -> bool:
        """Is it told of that night?"""
        return self.plant.celsius <= self.harm.told_c

    @property
    def inputs(self) -> tuple[Value, Value]:
        return Value("at the plant", self.plant.celsius, "°C"), Value("harm", self.harm.harm_c, "°C", "working")


def struck(one: BatchFacts, night: Night, today: date, shelter: str = "") -> Struck:
    """A night for a batch as hardened as it is, in that kind of place ("": in the open)."""
    plant, limit = at_plant(night, today, one.shift_c, shelter), harm(one)
    return Struck(plant, limit, share_lost(limit.harm_c, plant, one.crop.hardiness))
