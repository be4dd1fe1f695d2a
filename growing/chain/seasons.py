"""All plantings in all seasons at once, from last frost to the last harvest: the plan, the seedlings, the ladder, the garden.

One garden in one year is one column.  Every day comes from the same functions that date one batch and say why
(`growing.chain.days`, `growing.chain.rearing`, `growing.ladders.climbing`); nothing here knows a rule of its own.
"""

from __future__ import annotations

from typing import NamedTuple

from growing.chain.days import NO_DAY, CropColumns, Day, Harvests, SeasonColumns, SpringPlan, later, spring_plan, yields
from growing.chain.rearing import (
    Delays,
    OutDay,
    Real,
    Vessels,
    VesselStay,
    as_it_stands,
    behind,
    big_enough,
    first_look,
    half_up,
    leaves_on,
    stays,
)
from growing.ladders.climbing import Climbers, Floats, LadderColumns, Sky, WindShelter, climb


class Young(NamedTuple):
    """Plantings as columns between sowing and garden, each (plantings, 1) or (plantings, seasons).

    first_up, half_up: days from the sowing [float].  leaf: days a true leaf takes in the crop's own warmth; leaf_had: in the warmth
    that it has.  ready_leaves: with which it can go out; pot_leaves: into its first pot.  prick_days: from half up.
    """

    first_up: Real
    half_up: Real
    leaf: Real
    leaf_had: Real
    ready_leaves: Real
    pot_leaves: Real
    prick_days: Day
    vessels: Vessels


class Climbs(NamedTuple):
    """Ladders side by side, who climbs which, under what sky and through which door (`climb`).

    first: the sky's first day, in the days of the season; days: of each planting's ladder.
    """

    ways: LadderColumns
    who: Climbers
    sky: Sky
    ground: WindShelter
    possible: Floats
    first: Day
    days: Day


class Reared(NamedTuple):
    """Plantings × seasons: as planned; first and half up; what makes them wait; the day of planting out as it stands and why; their
    containers; what they give."""

    plan: SpringPlan
    look: Day
    up: Day
    delays: Delays
    out: OutDay
    stays: list[VesselStay]
    given: Harvests


def rear(season: SeasonColumns, crops: CropColumns, young: Young, ladder: Climbs, ahead: Day, back: Day) -> Reared:
    """Live every planting in every season.

    Leaves are looked at on the day on which the ladder would begin; the ladder begins for the day that is left then.
    """
    plan = spring_plan(season, crops, ahead, back)
    sow, out = plan.sown.day - season.zero, plan.planted.day
    up, today = half_up(sow, young.half_up), out - ladder.days
    leaves = later(0, today - up) / young.leaf_had
    late = behind(today - up, young.leaf, leaves)
    pace = 1 / young.leaf_had
    small = big_enough(out, leaves_on(young.ready_leaves, 0, up, leaves, pace, today), late)
    begins = later(out, small) - ladder.days
    who = ladder.who._replace(begins=later(begins - ladder.first, 0))
    ready = climb(ladder.ways, who, ladder.sky, ladder.ground, ladder.possible, day_by_day=False).ready
    delays = Delays(small, ladder.first + ready, NO_DAY, True, NO_DAY, False)
    stands = as_it_stands(out, delays)
    potted = leaves_on(young.pot_leaves, 0, up, leaves, pace, today)
    through = stays(young.vessels, sow, up, stands.day, young.prick_days, potted)
    given = yields(season, crops, stands.day, plan.planted.wanted)
    return Reared(plan, first_look(sow, young.first_up), up, delays, stands, through, given)
