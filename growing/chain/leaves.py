"""How far are they?  True leaves that somebody saw, and from there on by the pace at which they come.

Stages are seen, not dated: a look says how many true leaves there are and how high they stand; between looks it is forecast by the days
that a leaf takes, the warmth and light had, and the batch's own pace.  Days alone are what is left where nobody looked.
"""

from __future__ import annotations

from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

from growing.chain.roomwarmth import factor
from growing.crops import Crop
from growing.shelves.shelf import LEAF_DAYS
from growing.working import Value

FURTHEST_DAYS = 150  # ahead, that a leaf is forecast
LEAST_BEHIND_DAYS = 3.0  # from which it moves the day of planting out: estimate
MOST_LATER_DAYS = 28  # that plants which are behind are waited for
HALF_OUT = 0.5  # a leaf half out is not seen as one


class LeavesSeen(NamedTuple):
    """What somebody saw: true leaves (0: seed leaves only), height [cm] (None: not measured), the day."""

    leaves: int
    cm: float | None
    on: date


class Stage(NamedTuple):
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
        if self.seen.leaves >= leaves:
            return self.seen.on
        return self._ahead((leaves - self.leaves) / max(1e-3, self.a_day))

    def high_on(self, cm: float) -> date | None:
        """The day on which it is so high; None: nobody measured it."""
        if self.seen.cm is None:
            return None
        return self.seen.on if self.seen.cm >= cm else self._ahead((cm - self.cm) / max(1e-3, self.cm_a_day))

    def _ahead(self, days: float) -> date:
        return self.today + timedelta(days=min(FURTHEST_DAYS, max(0, ceil(days))))

    def inputs(self, wanted: Value) -> tuple[Value, ...]:
        """What a step that goes by its leaves shows."""
        return (
            wanted,
            Value("seen", self.seen.leaves, "leaves"),
            Value("on", self.seen.on),
            Value("now", round(self.leaves, 1), "leaves", "estimate"),
            Value("a leaf takes", round(1 / max(1e-3, self.a_day), 1), "days", "estimate"),
        )


STAGE_INPUTS = ("seen", "on", "now", "a leaf takes")


def leaf_days(crop: Crop, mean_c: float | None) -> float:
    """Days for a true leaf at that mean [°C]; None: at the crop's own warmth."""
    each = crop.maybe("leaf_days") or LEAF_DAYS
    return each if mean_c is None else each * factor(crop, mean_c)


def behind(crop: Crop, up: date, day: date, leaves: float, mean_c: float | None) -> float:
    """Days by which so many true leaves on a day are behind the age since half were up; less than 0: ahead."""
    each = leaf_days(crop, mean_c)
    return (max(0.0, (day - up).days / each) - leaves) * each


def out_later(stage: Stage | None, crop: Crop, out: date) -> date | None:
    """The day on which plants that are behind are ready to go out; None: as planned.  Only where they would be too small on the day planned,
    no more than they are behind, and no more than four weeks."""
    if stage is None or stage.behind_days < LEAST_BEHIND_DAYS or not crop.maybe("leaf_days"):
        return None
    ready = stage.on(crop.number("ready_leaves_min"))
    later = min(ready, out + timedelta(days=min(MOST_LATER_DAYS, ceil(stage.behind_days))))
    return later if later > out else None
