"""One batch as gates and worth see it, from what is known of it."""

from __future__ import annotations

from datetime import date

from growing.batch.facts import BatchFacts
from growing.chain.raising import raising_of
from growing.chain.ripening import LONGEST_DAYS, ends_at_c
from growing.crops import Crop
from growing.place.growth import NEVER
from growing.place.year import PlaceYear
from growing.plantingout.springs import SpringsAhead
from growing.plantingout.worth import Sort, later_share
from growing.waiting import over_age


def age_limit(one: BatchFacts) -> date:
    """The day to which the container that it stands in carries it; without one that is known, the crop's own age limit."""
    stays = one.course.stays
    return stays[-1].carries_until if stays else one.dates.hold_until


def sort_of(one: BatchFacts, place: PlaceYear, springs: SpringsAhead, today: date, sells: bool = False) -> Sort | None:
    """Its worth's numbers; None where its growth is not reckoned by the days of one year.

    place: as it is where it will grow, under its cover.
    """
    crop = one.crop
    growth = place.growth(crop.number("base_c"), crop.number("std_c"))
    ends = place.year_ends(ends_at_c(crop))
    mature = (crop.number("mature_min") + crop.number("mature_max")) / 2
    if growth is None or ends is None or mature > LONGEST_DAYS:
        return None
    hardened = 1.0 if one.hardened is None else one.hardened.climbed / one.hardened.rungs
    return Sort(
        crop.number("damage_c"),
        crop.hardiness,
        hardened,
        crop.maybe("chill_c"),
        crop.number("soil_c"),
        growth,
        mature,
        _ahead_days(one, crop, today),
        (age_limit(one) - today).days,
        over_age(crop),
        0.0 if crop.word("picked") == "once" else crop.number("yield_days"),
        ends.clip(max=NEVER - 1),
        (place.equinox - place.span_start).days,
        later=later_share(sells),
        spring=one.dates.term == "spring",
    )


def _ahead_days(one: BatchFacts, crop: Crop, today: date) -> float:
    """Days in the pot past the usual raising time, no more than to its age limit; below 0 where it is younger."""
    if one.facts.sown_on is None:
        return 0.0
    usual = raising_of(crop, one.dates.method, None).middle
    age = (min(today, age_limit(one)) - one.facts.sown_on).days
    return float(age - usual) if usual else 0.0
