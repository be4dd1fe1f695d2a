"""From which day is the ground of a planting free of what stands there before it?"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Mapping
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.gardens.models import Garden
from aestiva.season.models import BedArea
from growing.chain.dates import PlantingDates


def shared_ground(garden: Garden) -> dict[int, set[int]]:
    """Plantings of the season in hand that are laid out on the same piece of ground, by their keys both ways."""
    here = BedArea.objects.filter(
        planting__season__garden=garden, planting__season__year=garden.year, planting__cancelled_on=None
    )
    beds: dict[int, list[tuple[float, float, float, float, int]]] = defaultdict(list)
    for planting, spot, x, y, length, width in here.order_by().values_list(
        "planting_id", "spot_id", "x_cm", "y_cm", "length_cm", "width_cm"
    ):
        beds[spot].append((x, x + length, y, y + width, planting))
    found: dict[int, set[int]] = defaultdict(set)
    for areas in beds.values():
        areas.sort()
        for k, (_, right, above, below, one) in enumerate(areas):
            for left, _, top, bottom, other in areas[k + 1 :]:
                if left >= right:
                    break  # all others begin farther to the right
                if one != other and top < below and above < bottom:
                    found[one].add(other)
                    found[other].add(one)
    return dict(found)


def beside(plantings: Collection[int], ground: Mapping[int, Collection[int]]) -> set[int]:
    """Plantings on the same ground as these, and on that of those in turn."""
    found, open_ = set(plantings), set(plantings)
    while open_:
        open_ = {other for pk in open_ for other in ground.get(pk, ())} - found
        found |= open_
    return found - set(plantings)


class Free(NamedTuple):
    """From when ground is free, and the key of the planting that stands there until then."""

    day: date
    after: int


def free_from(
    shared: Mapping[int, Collection[int]], dated: Callable[[int, Free | None], PlantingDates | None]
) -> dict[int, Free]:
    """For plantings that follow another on its ground, the day after the last harvest or bloom of what stands there first.

    What is set out first has the ground first, as its days would be without the other; of one day the one planned first.
    shared: plantings on the same ground, both ways.  dated: the dates of one, as they stand with its ground free from then.
    """
    plain = {pk: first for pk in shared if (first := dated(pk, None)) is not None}
    found: dict[int, Free] = {}
    until: dict[int, date] = {}
    for pk in sorted(plain, key=lambda pk: (plain[pk].out_on, pk)):
        before = [(until[other], other) for other in shared[pk] if other in until]
        dates: PlantingDates | None = plain[pk]
        if before:
            last, other = max(before)
            found[pk] = Free(last + timedelta(days=1), other)
            dates = dated(pk, found[pk])
        if dates is not None and dates.last_known:
            until[pk] = dates.last
    return found
