"""What is said beside a planting: ways out, experience, what comes before its sowing, packets, counts, other ways to begin it."""

from __future__ import annotations

from datetime import date, timedelta
from math import ceil
from typing import Any

from django.urls import reverse

from aestiva.gardens.models import Garden
from aestiva.gardens.providers import link
from aestiva.place.dating import Dating
from aestiva.plan.choosing import ways_for
from aestiva.season.crops import how_of
from aestiva.season.models import Planting
from aestiva.seeds.queries import lot_known, seed_of, stake_of
from growing.calendar import Window
from growing.chain.course import course
from growing.chain.dates import PlantingDates
from growing.chain.path import path_of
from growing.chain.ways import is_hopeless, ways_out
from growing.crops import Crop
from growing.crops.schema import FIELDS
from growing.ladders.ladder import ladders
from growing.plan.options import binding
from growing.seeds.orders import ORDER_AHEAD_DAYS
from growing.seeds.sowing import NoCount, count_for
from growing.seeds.ways import a_plant_more
from growing.working import Value


def ways_out_of(dating: Dating, planting: Planting, crop: Crop, dates: PlantingDates) -> dict[str, Any]:
    """What could be done where it does not ripen here."""
    if not is_hopeless(dates):
        return {}
    found = ways_out(crop, dating.place_of(planting), dating.choice(planting), dating.crops)
    told = [p for p in dates.problems if p.code not in ("hopeless", "never_ripe")]  # the headline says so
    return {"hopeless": True, "ways": found, "relevant": told}


def own_values(dating: Dating, crop: Crop) -> list[tuple[str, Value, str]]:
    """What the garden itself knows of the crop, each with the reason that was written down for it."""
    said = dating.crops.changed.get(crop.key, {})
    return [(FIELDS[f].label, crop.values[f], why) for f, (_, why) in said.items() if f in crop.values and why]


def before_sowing(planting: Planting, crop: Crop, dating: Dating, dates: PlantingDates) -> dict[str, Any]:
    """What comes before the sowing with its end, and in what it stands after it: order by, chill, soak, the path of containers."""
    if dates.method == "bought":
        return {}
    sow = dates.sow_on
    chill, soak = int(crop.number("chill_days")), crop.number("soak_h")
    there = any(lot.crop_key == planting.crop_key and not lot.used_up for lot in dating.lots.values())
    said: dict[str, Any] = {"order_by": None if there else sow - timedelta(days=ORDER_AHEAD_DAYS + chill)}
    if chill:
        said["chill"] = Window(sow - timedelta(days=chill), sow)
    if soak:
        said["soak"] = (sow - timedelta(days=ceil(soak / 24)), sow, soak)
    if dates.method == "raised":
        how, room = how_of(planting, crop), dating.room(planting)
        warmth = None if room is None else room.germinates_c(sow)
        plan = course(crop, dates, ladders()["seven"], how=how, speed=dating.speed(crop, warmth))
        said["path"] = path_of(crop, how, sow, plan.day("pot"), dates.out_on)
        said["raised_room"] = room if room is not None and room.months_c else None
        said["comes_up"] = None if room is None else room.comes_up
        if planting.pk:
            said["germinate_page"] = link("germinate", planting.season.garden_id, planting.pk)
    return said


HELD = frozenset(
    ("too_late", "bed_late", "short", "over_hold", "frost_first", "away", "no_autumn", "winter_kills", "heat")
)


def options_of(
    garden: Garden, dating: Dating, planting: Planting, crop: Crop, today: date, dates: PlantingDates
) -> dict[str, Any]:
    """Raised, sown in place or bought, side by side; open where something holds it."""
    held = binding(dates.problems)
    page = f"{reverse('prices', args=[garden.pk])}?crop={crop.key}"
    return {
        "options": ways_for(garden, dating, planting, crop, today),
        "held": held if held is not None and held.code in HELD else None,
        "prices_page": page,
    }


def packets_of(dating: Dating, planting: Planting) -> dict[str, Any]:
    """A variety of which nobody has a packet is asked about, with those of its crop that are there."""
    if planting.method == "bought" or not planting.variety or dating.lot(planting) is not None:
        return {}
    here = [lot for lot in dating.lots.values() if lot.crop_key == planting.crop_key and not lot.used_up]
    return {"nobody_has": planting.variety, "have": here[:6]}


def counted(planting: Planting, crop: Crop, dating: Dating, today: date, year: int) -> dict[str, Any]:
    """Cells for what is wanted, by what its lot will do, and what a plant more takes; or that no count is enough."""
    seed, how = seed_of(crop, lot_known(planting, dating, crop, today, year)), how_of(planting, crop)
    sure = stake_of(planting, crop, dating).confidence
    try:
        _, care = a_plant_more(crop, planting.wanted, how, seed, sure)
        return {"count": count_for(crop, planting.wanted, how, seed, sure), "how": how, "care": care}
    except NoCount as error:
        return {"no_count": str(error)}
