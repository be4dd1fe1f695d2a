"""How sure must enough be?  By what a shortfall costs: little while more can be sown in time, much at the last chance."""

from __future__ import annotations

from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

from growing.crops import Crop
from growing.seeds.sowing import CONFIDENCE, How, NoCount, Seed, SowingCount, count_for

AGAIN, LAST_CHANCE = 0.8, 0.95
CHECK_X = 1.5  # of the wait until half are up, when those up can be counted
LAST_DAYS = 7  # of the sowing window


class Stake(NamedTuple):
    """How sure enough must be.  again_on: the day on which more can be sown where too few are up; None: not in time."""

    confidence: float = CONFIDENCE
    again_on: date | None = None


class TopUp(NamedTuple):
    """More places to sow on a day, if fewer than `fewer_than` seedlings or cells are up; with these enough come in 95 of
    100 cases."""

    places: int
    on: date
    fewer_than: int


def stake(sow_on: date, closes: date, days_up: float) -> Stake:
    """What a shortfall of a sowing costs.  closes: the last day of its window.  days_up: until half are up."""
    again = sow_on + timedelta(days=ceil(CHECK_X * days_up))
    if again <= closes:
        return Stake(AGAIN, again)
    return Stake(LAST_CHANCE if sow_on > closes - timedelta(days=LAST_DAYS) else CONFIDENCE)


def top_up(crop: Crop, wanted: int, how: How, seed: Seed, at: Stake, now: SowingCount) -> TopUp | None:
    """What to sow besides, and when; None where it would be too late, or nothing more is wanted."""
    if at.again_on is None:
        return None
    try:
        sure = count_for(crop, wanted, how._replace(per_cell=now.per_cell), seed, LAST_CHANCE)
    except NoCount:
        return None
    up = ceil(round(how.need(wanted) / (1.0 if how.surplus == "clump" else crop.number("survival")), 6))
    more = sure.places - now.places
    return TopUp(more, at.again_on, up) if more > 0 else None
