"""How far are they?  True leaves that somebody saw, and from there on by the pace at which they come.

Stages are seen, not dated: a look says how many true leaves there are and how high they stand; between looks it is forecast by the days
that a leaf takes, the warmth and light had, and the batch's own pace.  Days alone are what is left where nobody looked.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from growing.chain import rearing
from growing.chain.days import NO_DAY
from growing.chain.rearing import SLOWEST, big_enough, days_ahead, leaves_on
from growing.chain.roomwarmth import factor
from growing.crops import Crop
from growing.shelves.shelf import LEAF_DAYS
from growing.working import Value

HALF_OUT = 0.5  # a leaf half out is not seen as one


class LeavesSeen(NamedTuple):
    """What somebody saw: true leaves (0: seed leaves only), height [cm] (None: not measured), the day."""

    leaves: int
    cm: float | None
    on: date


class LeafStage(NamedTuple):
    """A batch on a day: what was last seen, true leaves by now, a day from now on, height [cm] now and what it grows a day [cm], days by which
    it is behind its age (less than 0: ahead)."""

    seen: LeavesSeen
    today: date
    leaves: float
    a_day: float
    cm: float
    cm_a_day: float
    behind_days: float = 0.0

    def on(self, leaves: float) -> date:
        """The day on which it has so many true leaves: that of the look where it had them, otherwise by its pace, and no day that has
        gone by: for leaves that nobody saw nothing is late."""
        seen, on = self.seen.leaves, self.seen.on.toordinal()
        return date.fromordinal(leaves_on(leaves, seen, on, self.leaves, self.a_day, self.today.toordinal()))

    def high_on(self, cm: float) -> date | None:
        """The day on which it is so high; None: nobody measured it."""
        if self.seen.cm is None:
            return None
        if self.seen.cm >= cm:
            return self.seen.on
        return self.today + timedelta(days=days_ahead((cm - self.cm) / max(SLOWEST, self.cm_a_day)))

    def inputs(self, wanted: Value) -> tuple[Value, ...]:
        """What a step that goes by its leaves shows."""
        return (
            wanted,
            Value("seen", self.seen.leaves, "leaves"),
            Value("on", self.seen.on),
            Value("now", round(self.leaves, 1), "leaves", "estimate"),
            Value("a leaf takes", round(1 / max(SLOWEST, self.a_day), 1), "days", "estimate"),
        )


STAGE_INPUTS = ("seen", "on", "now", "a leaf takes")


def leaf_days(crop: Crop, mean_c: float | None) -> float:
    """Days for a true leaf at that mean [°C]; None: at the crop's own warmth."""
    each = crop.maybe("leaf_days") or LEAF_DAYS
    return each if mean_c is None else each * factor(crop, mean_c)


def behind(crop: Crop, up: date, day: date, leaves: float, mean_c: float | None) -> float:
    """Days by which so many true leaves on a day are behind the age since half were up; less than 0: ahead."""
    return rearing.behind((day - up).days, leaf_days(crop, mean_c), leaves)


def out_later(stage: LeafStage | None, crop: Crop, out: date) -> date | None:
    """The day on which plants that are behind are ready to go out (`big_enough`); None: as planned, or nobody looked."""
    if stage is None or not crop.maybe("leaf_days"):
        return None
    ready = stage.on(crop.number("ready_leaves_min")).toordinal()
    day = big_enough(out.toordinal(), ready, stage.behind_days)
    return date.fromordinal(day) if day > NO_DAY else None
