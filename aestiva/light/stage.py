"""Light: its rules, its work at the lamps, and what Today asks for there."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from django.core.cache import cache

from aestiva.course.placework import PlaceWork
from aestiva.course.state import SeasonState
from aestiva.gardens.cache_keys import kept_key
from aestiva.gardens.providers import Stage
from aestiva.light.actions import COMPLETE
from aestiva.light.shelves import Shelf, shelves
from aestiva.light.wording import WORDS
from aestiva.season.models import Spot
from growing.light import steps
from growing.light.rules import RULES
from growing.steps import Task, place_ref

KEPT_S = 24 * 3600  # may be dropped at any time: it is the same worked out anew


def places(now: SeasonState) -> list[PlaceWork]:
    """The work at every lamp."""
    garden = now.garden
    key = kept_key("light", garden, now.today)
    found: list[tuple[Spot, int, list[Task]]] | None = cache.get(key)
    if found is None:
        found = [
            (s.spot, sum(one.plants for one in s.board.stands), list(tasks_of(s, now.horizon))) for s in shelves(now)
        ]
        if found:
            cache.set(key, found, KEPT_S)
    return [PlaceWork(spot, plants, tuple(tasks)) for spot, plants, tasks in found]


def tasks_of(shelf: Shelf, until: date) -> Iterable[Task]:
    """What its light asks for by a day.  Nothing of a lamp of which nobody said anything, nor of a shelf on which nothing grows."""
    rig, today, ref = shelf.rig, shelf.today, place_ref(shelf.spot.pk)
    if not rig.known or not shelf.board.stands:
        return
    yield from steps.of_shelf(ref, shelf.advice, shelf.setting.timer.hours, last_set(shelf), today)
    yield from steps.turning(ref, shelf.advice, shelf.turned_on, shelf.since, today, until)
    hours = shelf.setting.timer.hours
    for row in rig.hanging(today):
        yield from steps.upkeep(f"{ref}", rig.of(row, today), row.wiped_on, hours, today, until, row.pk)


def last_set(shelf: Shelf) -> str:
    """What names the last setting of its lamp; of one that nobody set as yet "0"."""
    row = shelf.rig.row_on(shelf.today)
    return "0" if row is None else f"{row.since:%Y%m%d}-{row.revision}"


STAGE = Stage("light", WORDS, rules=RULES, steps=steps.STEPS, complete=COMPLETE, places=places)
