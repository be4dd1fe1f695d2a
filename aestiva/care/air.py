"""The air of places: fans, brushing, humidity; and heat that something minds."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.care.models import AirLook
from aestiva.course.item import Item
from aestiva.course.light import growth_of
from aestiva.course.state import SeasonState
from aestiva.gardens.models import Garden
from aestiva.season.models import Spot
from growing.care.heat import LATELY_DAYS, minds, too_hot
from growing.working import Working

HUMIDITY_DAYS = 3  # for which a reading speaks
GOOD_HUMIDITY = (40.0, 70.0)


class Air(NamedTuple):
    """The air of one place today: is its fan on, how often were they brushed today, the humidity read lately [%], None: not."""

    fan: bool
    brushed: int
    humidity: float | None

    @property
    def said(self) -> str:
        """What its humidity means; empty where it is well, or nobody read it."""
        if self.humidity is None or GOOD_HUMIDITY[0] <= self.humidity <= GOOD_HUMIDITY[1]:
            return ""
        return "too damp: air, a fan" if self.humidity > GOOD_HUMIDITY[1] else "too dry: water in a dish, fan lower"


def airs(garden: Garden, today: date) -> dict[int, Air]:
    """Of every place of which anybody said something."""
    fans: dict[int, bool] = {}
    brushed: dict[int, int] = defaultdict(int)
    damp: dict[int, float] = {}
    rows = AirLook.objects.filter(spot__garden=garden, day__lte=today)
    for spot, day, what, number in rows.values_list("spot_id", "day", "what", "number"):
        if what.startswith("fan"):
            fans[spot] = what == "fan on"
        elif what == "brushed":
            brushed[spot] += day == today
        elif number is not None and (today - day).days <= HUMIDITY_DAYS:
            damp[spot] = number
    return {pk: Air(fans.get(pk, False), brushed.get(pk, 0), damp.get(pk)) for pk in {*fans, *brushed, *damp}}


def heats(now: SeasonState) -> Iterable[tuple[Spot, int, str, Working]]:
    """Places where something stands that minds the heat of the last days: the place, plants, the name of the worst, why."""
    if now.shared is None:
        return
    minding = [i for i in now.items if i.batch is not None and i.raised.alive and minds(i.crop) is not None]
    by_spot: dict[int, list[Item]] = defaultdict(list)
    for item in minding:
        here = now.rows.here(item.batch_pk)
        if here is not None and item.raised.facts.first_up is not None:
            by_spot[here.spot].append(item)
    for pk, items in by_spot.items():
        spot, days = now.shared.dating.spot_at(pk), _days(now, pk)
        for item in items:
            why = too_hot(item.crop, item.full_name, leaves_of(item, now.today), days)
            if why is not None and spot is not None:
                yield spot, item.raised.plants or 0, item.full_name, why
                break


def leaves_of(item: Item, today: date) -> float:
    """True leaves by now: as somebody saw them, otherwise by its days."""
    return growth_of(item, today).leaves if item.raised.stage is None else item.raised.stage.leaves


def _days(now: SeasonState, spot: int) -> dict[date, tuple[float, float]]:
    """Least and most of each of the last days in a place, as far as they were read."""
    assert now.shared is not None
    found = {}
    for back in range(LATELY_DAYS):
        day = now.today - timedelta(days=back)
        read = now.shared.warmth.range_on(spot, day)
        if read is not None:
            found[day] = read[:2]
    return found
