"""From which day is the ground of a planting free of what stands there before it?"""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta
from typing import TYPE_CHECKING, NamedTuple

from django.db.models import Min

from aestiva.gardens.models import Garden
from aestiva.season.models import Batch, BatchEvent, BedArea, Planting
from aestiva.season.trouble import CANNOT
from growing.chain.choice import Choice
from growing.chain.dates import PlantingDates

if TYPE_CHECKING:
    from aestiva.place.dating import Dating


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


class Free(NamedTuple):
    """From when ground is free, and the key of the planting that stands there until then."""

    day: date
    after: int


def free_from(dating: Dating) -> dict[int, Free]:
    """For plantings that follow another on its ground, the day after the last harvest or bloom of what stands there first.

    What is set out first has the ground first, as its days would be without the other; of one day the one planned first.
    """
    shared = dating.shared_ground
    if not shared:
        return {}
    plantings = {p.pk: dating.as_it_is(p) for p in Planting.objects.filter(pk__in=shared)}
    begun = Batch.objects.filter(planting__in=shared, failed_on=None, sown_on__isnull=False)
    sown = dict(begun.values_list("planting_id").annotate(Min("sown_on")).order_by())
    events = BatchEvent.objects.filter(batch__planting__in=shared, kind="planted")
    planted = dict(events.values_list("batch__planting_id").annotate(Min("on")).order_by())

    def dated(planting: Planting, free: date | None) -> PlantingDates | None:
        choice: Choice = dating.choice_without_ground(planting, sown.get(planting.pk))._replace(bed_free=free)
        if planting.pk in planted:
            choice = choice._replace(out_on=planted[planting.pk], out_because="happened")
        try:
            return dating.dates(planting, dating.crop(planting), choice)
        except CANNOT:
            return None

    plain = {pk: dates for pk, one in plantings.items() if (dates := dated(one, None)) is not None}
    order = sorted(plain, key=lambda pk: (plain[pk].out_on, pk))
    found: dict[int, Free] = {}
    until: dict[int, date] = {}
    for pk in order:
        before = [(until[other], other) for other in shared[pk] if other in until]
        if before:
            last, other = max(before)
            found[pk] = Free(last + timedelta(days=1), other)
        dates = dated(plantings[pk], found[pk].day if pk in found else None)
        assert dates is not None
        if dates.last_known:
            until[pk] = dates.last
    return found
