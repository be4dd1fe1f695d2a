"""From which day is ground free?  By the dates of what stands on it first, as they stand on this day."""

from __future__ import annotations

from collections.abc import Mapping

from aestiva.course.facts import SeasonFacts
from aestiva.course.items import items_of
from aestiva.place.dating import Dating
from aestiva.place.ground import Free, free_from
from aestiva.season.trouble import CANNOT
from growing.chain.dates import PlantingDates


def free_ground(now: SeasonFacts, dating: Dating) -> Mapping[int, Free]:
    """For plantings that follow another on its ground, from when it is free, and after which."""
    assert now.shared is not None
    shared = now.shared
    plantings = {p.pk: dating.as_it_is(p) for p in now.rows.plantings}

    def dated(pk: int, free: Free | None) -> PlantingDates | None:
        at = shared._replace(dating=dating.with_ground({} if free is None else {pk: free}))
        try:
            items = items_of(plantings[pk], dating.crop(plantings[pk]), at, now)
        except CANNOT:
            return None
        return items[0].raised.dates if items else None

    ground = dating.shared_ground
    return free_from({pk: ground[pk] for pk in plantings if pk in ground}, dated)
