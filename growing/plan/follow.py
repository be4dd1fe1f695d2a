"""What could stand there next?  Crops for ground that comes free before the season ends."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from growing.beds.bedplan import Slot
from growing.beds.packing import Fit, fit
from growing.chain.choice import Choice
from growing.chain.dates import PlantingDates, date_planting
from growing.chain.raising import PacketTiming, raising_of
from growing.crops import Crop
from growing.place.year import PlaceYear

HARMLESS = frozenset(("no_sowing_day",))  # problems that keep nobody from planting


class Follower(NamedTuple):
    """A crop that could stand in the freed ground: how it is begun, its days, and how many fit."""

    crop: Crop
    method: str
    dates: PlantingDates
    fit: Fit


def follower(
    crop: Crop, place: PlaceYear, slot: Slot, today: date, packet: PacketTiming | None = None
) -> Follower | None:
    """The crop as an autumn planting in that ground; None where it cannot be.

    It is set out on its best autumn day, or on the day the ground comes free where that is later; sown no earlier than
    today; its harvest or bloom begins before somebody else wants the ground.  Where only the season ends it, its own autumn
    window is the limit: hardy crops stand on past the first frosts.  Crops that bear no transplanting are sown in place.
    """
    spacing = crop.number("spacing_cm")
    room = fit(slot.rect.length, slot.rect.width, spacing)
    if not room.plants:
        return None
    method = crop.method
    choice = Choice(method, "autumn", packet=packet, not_before=today)
    dates = date_planting(crop, place, choice)
    if dates.out_on < slot.since:  # the ground is taken on its best day: on the first free one, if that still does
        sow_on = max(today, slot.since - timedelta(days=raising_of(crop, method, packet).middle))
        dates = date_planting(crop, place, choice._replace(sow_on=sow_on, out_on=slot.since))
    if any(p.code not in HARMLESS for p in dates.problems):
        return None
    if dates.out_on < slot.since or dates.sow_on < today:
        return None
    if slot.then is not None and dates.first.start > slot.until:
        return None
    return Follower(crop, method, dates, room)
