"""The next season from this one: what is grown again, its dates reckoned anew; what is not, and why."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.place.dating import Dating, dating_of
from aestiva.place.queries import place_year
from aestiva.season.models import Planting, Season
from aestiva.season.trouble import CANNOT, words_of
from growing.chain.dates import PlantingDates
from growing.crops import Crop

CARRIED = (
    *("crop_key", "variety", "wanted", "method", "term", "spot_id", "sown_in", "surplus", "wanted_unit", "per_cell"),
    *("packet", "values", "stood", "note"),
)


class NextYearPlanting(NamedTuple):
    """A planting of this season as it would be in the next; there: one like it is planned there already.

    dates None: they cannot be reckoned, and why.
    """

    old: Planting
    new: Planting
    crop: Crop | None
    dates: PlantingDates | None
    there: bool
    wrong: str = ""

    @property
    def name(self) -> str:
        return f"{self.crop.name if self.crop else self.old.crop_key} {self.old.variety}".strip()

    @property
    def moved(self) -> str:
        """Whose day it is: reckoned anew, or as far from last frost as this year's."""
        return "as far from last frost as this year" if self.new.chosen_sow else "reckoned anew"


def again(garden: Garden, year: int) -> list[NextYearPlanting]:
    """Every planting of the season in hand as it would be in that year; raises Refused for that season itself."""
    if year == garden.year:
        raise Refused("year", f"{year} is the season in hand: a season is not made from itself")
    if not garden.year < year <= garden.year + 5:
        raise Refused("year", f"{year} is not a season to come: choose {garden.year + 1}")
    here = list(
        Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None).select_related(
            "lot"
        )
    )
    there = planned_in(garden, year)
    base = place_year(garden)
    ahead = place_year(garden, year)
    dating = dating_in(garden, year)
    return [_again(old, dating, base.last_frost[0], ahead.last_frost[0], there) for old in here]


Kind = tuple[str, str, str, int]


def planned_in(garden: Garden, year: int) -> set[Kind]:
    """What is planned in a season: crop, variety, term, plants."""
    here = Planting.objects.filter(season__garden=garden, season__year=year, cancelled_on=None)
    return set(here.values_list("crop_key", "variety", "term", "wanted"))


def kind_of(planting: Planting) -> Kind:
    return planting.crop_key, planting.variety, planting.term, planting.wanted


def dating_in(garden: Garden, year: int) -> Dating:
    """Dates in another season of the garden."""
    plain = dating_of(garden)
    return Dating(place_year(garden, year), plain.crops, plain.covers, plain.lots)


def _again(old: Planting, dating: Dating, base: date, ahead: date, there: set[Kind]) -> NextYearPlanting:
    new = Planting(**{name: getattr(old, name) for name in CARRIED})
    if old.lot is not None and not old.lot.used_up:
        new.lot = old.lot
    if old.chosen_sow is not None:
        new.chosen_sow = _on_free_day(ahead + (old.chosen_sow - base), dating)
    alike = kind_of(old) in there
    try:
        crop = dating.crop(new)
        return NextYearPlanting(old, new, crop, dating.dates(new, crop), alike)
    except CANNOT as error:
        return NextYearPlanting(old, new, None, None, alike, words_of(error))


def _on_free_day(day: date, dating: Dating) -> date:
    """The sowing day nearest to it, ties later."""
    ahead, back = dating.place.sowing_tables
    on, off = ahead[day.toordinal() % len(ahead)], back[day.toordinal() % len(back)]
    if min(on, off) > 6:
        return day
    return day + timedelta(days=on) if on <= off else day - timedelta(days=off)


def season_in(garden: Garden, year: int) -> Season:
    """That season of the garden, made when first needed; it belongs to no entry."""
    return Season.objects.get_or_create(garden=garden, year=year)[0]
