"""Beds drawn, plantings laid out in them; what a planting wants follows its areas where the grower says so."""

from __future__ import annotations

from math import isfinite
from typing import Any

from aestiva.accounts.models import User
from aestiva.beds import queries
from aestiva.beds.models import Plot, Use
from aestiva.beds.queries import fit_of, rect_of
from aestiva.frame import say
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.place.dating import dating_of
from aestiva.season.models import BedArea, Planting, Spot
from growing.beds.bedplan import Rect
from growing.crops import Crop

LEAST_CM = 5.0


def keep_spot(garden: Garden, user: User, spot: Spot, key: str = "", seen: str | None = None) -> None:
    verb = "Changed" if spot.pk else "Drew"
    with journal.change(garden, user, f"{verb} {spot.code}", key) as write:
        write.save(spot, seen)


def move_spot(
    garden: Garden, user: User, spot: Spot, plot: Plot, x: float, y: float, key: str = "", seen: str | None = None
) -> None:
    """A bed to another place on the plot, held inside it."""
    size = rect_of(spot)
    spot.x_cm = round(min(max(0.0, x), max(0.0, plot.width_cm - size.length)), 1)
    spot.y_cm = round(min(max(0.0, y), max(0.0, plot.height_cm - size.width)), 1)
    with journal.change(garden, user, f"Moved {spot.code} on the ground", key) as write:
        write.save(spot, seen)


def keep_plot(garden: Garden, user: User, plot: Plot, key: str = "", seen: str | None = None) -> None:
    with journal.change(garden, user, "Changed the plan of the ground", key) as write:
        write.save(plot, seen)


def keep_use(garden: Garden, user: User, crop_key: str, values: dict[str, Any], key: str = "") -> None:
    """What is used of a crop in a week, and how much a plant gives."""
    with journal.change(garden, user, f"We use {values['per_week']:g} {crop_key} a week", key) as write:
        row = Use.objects.filter(garden=garden, crop_key=crop_key).first() or Use(garden=garden, crop_key=crop_key)
        for name, value in values.items():
            setattr(row, name, value)
        write.save(row)


def inside(rect: Rect, bed: Rect) -> Rect:
    """The rectangle moved into the bed, and made no larger than it; Refused where nothing of it can be."""
    if not all(map(isfinite, rect)):
        raise Refused("area", "the drawing did not arrive whole: draw it again")
    if rect.length < LEAST_CM or rect.width < LEAST_CM:
        raise Refused("area", "so small an area holds nothing: draw it larger")
    length, width = min(rect.length, bed.length), min(rect.width, bed.width)
    x = min(max(0.0, rect.x), bed.length - length)
    y = min(max(0.0, rect.y), bed.width - width)
    return Rect(round(x, 1), round(y, 1), round(length, 1), round(width, 1))


def lay(garden: Garden, user: User, planting: Planting, spot: Spot, rect: Rect | None, key: str = "") -> str:
    """A new area of a planting, where it was drawn or on the first free ground; returns a note where something was left
    as it was."""
    with journal.change(garden, user, key=key) as write:
        planting, dating = write.fresh(planting), dating_of(garden, waits=False)
        if planting.cancelled_on is not None:
            raise Refused("planting", f"{planting} was cancelled in the meantime")
        crop = dating.crop(planting)
        here = inside(rect or _free(garden, planting, crop, spot), rect_of(spot))
        row = BedArea(
            planting=planting, spot=spot, x_cm=here.x, y_cm=here.y, length_cm=here.length, width_cm=here.width
        )
        write.summary = f"Laid {crop.name} {planting.variety} in {spot.code}"
        write.save(row)
        if planting.spot_id != spot.pk and not planting.areas.exclude(pk=row.pk).exists():
            planting.spot = spot
            write.save(planting)
        return follow(write, planting, crop)


def _free(garden: Garden, planting: Planting, crop: Crop, spot: Spot) -> Rect:
    """Free ground for the plants that have none yet; Refused where there is none, or none is wanted."""
    on = queries.standing(garden)
    if planting.pk not in on.dates:
        raise Refused("area", "its dates are not known yet: say the garden's last frost first")
    laid = queries.laid_out(garden, on)
    left = planting.wanted - queries.plants_placed(laid)[planting.pk]
    if left <= 0 and not planting.as_fits:
        raise Refused(
            "area", f"all {planting.wanted} {crop.name} have their place already: draw more where you want them"
        )
    dates = on.dates[planting.pk]
    grid = queries.plot_of(garden).grid_cm
    found = queries.free_in(crop, max(1, left), planting, dates, spot, laid.get(spot.pk, []), grid)
    if found is None:
        apart = say.amount(queries.apart_of(planting, crop), "cm", garden.reader(), 0)
        raise Refused("area", f"{spot.code} has no free ground for {crop.name} at {apart}: draw it where it may share")
    return found


def change(
    garden: Garden, user: User, row: BedArea, crop: Crop, values: dict[str, Any], key: str = "", seen: str | None = None
) -> str:
    """Move, resize or set out an area otherwise; returns a note where the count stays as it was."""
    for name, value in values.items():
        setattr(row, name, value)
    here = inside(Rect(row.x_cm, row.y_cm, row.length_cm, row.width_cm), rect_of(row.spot))
    row.x_cm, row.y_cm, row.length_cm, row.width_cm = here
    with journal.change(garden, user, f"Moved {crop.name} {row.planting.variety} in {row.spot.code}", key) as write:
        write.save(row, seen)
        return follow(write, write.fresh(row.planting), crop)


def lift(garden: Garden, user: User, row: BedArea, crop: Crop, key: str = "", seen: str | None = None) -> str:
    with journal.change(garden, user, f"Took {crop.name} {row.planting.variety} out of {row.spot.code}", key) as write:
        planting = write.fresh(row.planting)
        write.delete(row, seen)
        return follow(write, planting, crop)


def want_as_fits(garden: Garden, user: User, planting: Planting, crop: Crop, as_fits: bool, key: str = "") -> str:
    """Want as many as the areas hold, or keep the number typed."""
    name = f"{crop.name} {planting.variety}".strip()
    with journal.change(garden, user, f"{name}: {'as many as fit' if as_fits else 'the number typed'}", key) as write:
        planting = write.fresh(planting)
        planting.as_fits = as_fits
        write.save(planting)
        return follow(write, planting, crop)


def follow(write: journal.ChangeSet, planting: Planting, crop: Crop) -> str:
    """The number wanted follows the areas where it shall, but never silently once something is sown."""
    if not planting.as_fits:
        return ""
    places = sum(fit_of(row, planting, crop).plants for row in BedArea.objects.filter(planting=planting))
    holds = places * queries.clump_of(planting, crop)
    if holds < 1 or holds == planting.wanted:
        return ""
    if planting.batches.exists():
        return f"The beds hold {holds} now, but {planting.wanted} are sown for: nothing is changed there. Sow more, or give some away."
    planting.wanted = holds
    write.save(planting)
    return f"{holds} are wanted now, and the sowing counts with it."
