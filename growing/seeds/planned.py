"""What does one planting take?  Its seed, how sure enough must be, and the count, as the tasks see it."""

from __future__ import annotations

from typing import NamedTuple

from growing.emergence.thermal_time import share_coming
from growing.seeds.shortfall import Stake, stake
from growing.seeds.sowing import Case, Seed, SowingCount, case_for, counted
from growing.seeds.viability import Germination
from growing.steps import Raised


class InHand(NamedTuple):
    """The packet that a planting is sown from: what it will do at its best warmth, and seeds in it (None: nobody counted)."""

    found: Germination
    had: int | None


def seed_of(one: Raised) -> Seed:
    """What its lot will do; fresh seed at the crop's own warmth where no lot is known."""
    return one.seed or Seed(share_coming(one.crop, one.crop.number("germinate_c")))


def stake_of(one: Raised) -> Stake:
    """What a shortfall of its sowing costs."""
    return stake(one.dates.sow_on, one.dates.sow_closes, one.course.emergence_days)


def case_of(one: Raised) -> Case:
    """What is to be counted for its sowing."""
    return case_for(one.crop, one.wanted, one.how, seed_of(one), stake_of(one).confidence)


def sowing_of(one: Raised) -> SowingCount:
    """Cells, blocks or seeds for the plants wanted.  Raises NoCount where no number would be enough."""
    return counted(case_of(one))
