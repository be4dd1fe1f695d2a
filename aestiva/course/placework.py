"""Work of a place, not of a batch: hang its lamp higher, set its timer.  It stands on Today beside the tasks of batches.

Its keys begin with "s" and the place's own key ("s7.hang.26_0").  Stages offer it; what is asked of it is what pages ask of an item.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

from aestiva.gardens.providers import stages
from aestiva.season.models import Spot
from growing.steps import Task

if TYPE_CHECKING:
    from aestiva.course.state import SeasonState


@dataclass(frozen=True)
class PlaceRef:
    """What stands in for a batch's state: its ref in keys, and how many plants its work is about."""

    ref: str
    wanted: int


class NoPlanting:
    """No planting: a key of its own for the lists of a day."""

    def __init__(self, spot: Spot) -> None:
        self.pk = -spot.pk


@dataclass(frozen=True)
class PlaceWork:
    """A place, the plants on it, and its open tasks, by the day until which they are asked for."""

    spot: Spot
    plants: int
    due: Callable[[date], Iterable[Task]]

    batch = None
    crop = None
    variety = ""

    @property
    def raised(self) -> PlaceRef:
        return PlaceRef(ref_of(self.spot), self.plants)

    @property
    def planting(self) -> NoPlanting:
        return NoPlanting(self.spot)

    @property
    def spot_code(self) -> str:
        return ""

    @property
    def name(self) -> str:
        return self.spot.code

    @property
    def full_name(self) -> str:
        return self.spot.code


def ref_of(spot: Spot) -> str:
    """How its tasks' keys begin."""
    return f"s{spot.pk}"


def place_work(now: SeasonState) -> list[PlaceWork]:
    """The work of all places, as the stages have it."""
    return [work for stage in stages() if stage.places is not None for work in stage.places(now)]
