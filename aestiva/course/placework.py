"""Work of a place, not of a batch: hang its lamp higher, set its timer.  It stands on Today beside the tasks of batches."""

from __future__ import annotations

from typing import NamedTuple

from aestiva.course.facts import SeasonFacts
from aestiva.gardens.providers import stages
from aestiva.season.models import Spot
from growing.steps import PlaceFacts, Task, place_ref


class PlaceWork(NamedTuple):
    """A place, the plants on it, and its open tasks."""

    spot: Spot
    plants: int
    tasks: tuple[Task, ...]

    @property
    def facts(self) -> PlaceFacts:
        return PlaceFacts(place_ref(self.spot.pk), self.plants)

    @property
    def name(self) -> str:
        return self.spot.code

    @property
    def full_name(self) -> str:
        return self.spot.code


def place_work(now: SeasonFacts) -> list[PlaceWork]:
    """The work of all places, as the stages have it."""
    return [work for stage in stages() if stage.places is not None for work in stage.places(now)]
