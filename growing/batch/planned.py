"""What does one planting take?  Its seed, how sure enough must be, and the count, as the tasks see it."""

from __future__ import annotations

from growing.batch.facts import BatchFacts
from growing.seeds.shortfall import Stake, stake
from growing.seeds.sowing import Seed, SowingCase, SowingCount, case_for, counted
from growing.seeds.thermal_time import share_coming


def seed_of(one: BatchFacts) -> Seed:
    """What its lot will do; fresh seed at the crop's own warmth where no lot is known."""
    return one.seed or Seed(share_coming(one.crop, one.crop.number("germinate_c")))


def stake_of(one: BatchFacts) -> Stake:
    """What a shortfall of its sowing costs."""
    return stake(one.dates.sow_on, one.dates.sow_closes, one.course.emergence_days)


def case_of(one: BatchFacts) -> SowingCase:
    """What is to be counted for its sowing."""
    return case_for(one.crop, one.wanted, one.how, seed_of(one), stake_of(one).confidence)


def sowing_of(one: BatchFacts) -> SowingCount:
    """Cells, blocks or seeds for the plants wanted.  Raises NoCount where no number would be enough."""
    return counted(case_of(one))
