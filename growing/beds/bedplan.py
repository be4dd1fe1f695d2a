"""Where will it all go?  Areas in a bed through the season: what stands when, what overlaps and hides, what is free.

Lengths in cm.  In a bed x runs to the right and y down, as drawn from above; the viewer stands below, above, left or
right of it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from growing.assumptions import real
from growing.working import Value, Working

HIDES_CM = real("beds.bedplan.HIDES_CM")
YOUNG_SHARE = real("beds.bedplan.YOUNG_SHARE")
LEAST_SLOT_DAYS = 42


class Rect(NamedTuple):
    """A rectangle on a bed: its top left corner from the bed's own, and its sides [cm]."""

    x: float
    y: float
    length: float
    width: float

    @property
    def right(self) -> float:
        return self.x + self.length

    @property
    def bottom(self) -> float:
        return self.y + self.width

    @property
    def area(self) -> float:
        return self.length * self.width

    def overlap(self, other: Rect) -> float:
        """Shared ground [cm²]."""
        wide = min(self.right, other.right) - max(self.x, other.x)
        high = min(self.bottom, other.bottom) - max(self.y, other.y)
        return wide * high if wide > 0.01 and high > 0.01 else 0.0


def beyond(rect: Rect, bed: Rect) -> bool:
    """Does it hang over the edge of the bed, as after the bed was made smaller?"""
    return rect.x < -0.01 or rect.y < -0.01 or rect.right > bed.length + 0.01 or rect.bottom > bed.width + 0.01


def too_dark(wants: str, bed: str) -> bool:
    """Is the bed darker than the crop wants?

    wants: "full sun" (six hours or more) or "half shade" (three to six do).  bed: "sun", "part", "shade", "": not said.
    """
    return bed == "shade" or (bed == "part" and wants == "full sun")


class Area(NamedTuple):
    """Plants of one planting in a bed: their ground, mature size [cm], and the days they stand, bloom or are picked."""

    ref: str
    name: str
    rect: Rect
    height_cm: float
    spread_cm: float
    since: date
    until: date
    yields_from: date
    wants: str = "full sun"  # or "half shade"

    def stands(self, day: date) -> bool:
        return self.since <= day <= self.until

    def height(self, day: date) -> float:
        """Height on that day [cm]: from a seventh of full height to all of it at the first harvest or bloom; 0 when away."""
        if not self.stands(day):
            return 0.0
        grown = (day - self.since).days / max(1, (self.yields_from - self.since).days)
        return self.height_cm * (YOUNG_SHARE + (1 - YOUNG_SHARE) * min(1.0, grown))


class Overlap(NamedTuple):
    """Two areas that want the same ground at the same time."""

    one: Area
    other: Area
    share: float  # of the smaller
    since: date
    until: date


def overlaps(areas: Sequence[Area]) -> list[Overlap]:
    """Every pair that shares ground while both stand; sharing is shown, not forbidden."""
    found = []
    for i, one in enumerate(areas):
        for other in areas[i + 1 :]:
            since, until = max(one.since, other.since), min(one.until, other.until)
            shared = one.rect.overlap(other.rect)
            if shared and since <= until:
                found.append(Overlap(one, other, shared / min(one.rect.area, other.rect.area), since, until))
    return found


def seen_from(rect: Rect, side: str) -> tuple[float, float, float]:
    """(from, to) along the line of the beholder, and how far away its middle is."""
    if side in ("below", "above"):
        near = -(rect.y + rect.width / 2) if side == "below" else rect.y + rect.width / 2
        return rect.x, rect.right, near
    near = rect.x + rect.length / 2 if side == "left" else -(rect.x + rect.length / 2)
    return rect.y, rect.bottom, near


class Hidden(NamedTuple):
    """`behind` cannot be seen for `front`."""

    front: Area
    behind: Area


def hidden(areas: Sequence[Area], side: str, day: date) -> list[Hidden]:
    """What stands behind something taller, from that side, on that day."""
    found = []
    here = [a for a in areas if a.stands(day)]
    for front in here:
        for behind in here:
            a, b = seen_from(front.rect, side), seen_from(behind.rect, side)
            across = min(a[1], b[1]) - max(a[0], b[0])
            if front is not behind and a[2] < b[2] and across > (b[1] - b[0]) / 3:
                if front.height(day) - behind.height(day) > HIDES_CM:
                    found.append(Hidden(front, behind))
    return found


class Slot(NamedTuple):
    """Ground that comes free in the season: its rectangle, from and until when."""

    rect: Rect
    since: date
    until: date
    after: Area
    then: Area | None = None  # who wants it next; None where the season ends it


def slots(areas: Sequence[Area], season_end: date) -> list[Slot]:
    """Where an area is cleared with six weeks or more to go before somebody else wants the ground, or the season ends."""
    found = []
    for area in areas:
        later = [a for a in areas if a is not area and a.rect.overlap(area.rect) and a.until > area.until]
        then = min((a for a in later if a.since <= season_end), key=lambda a: a.since, default=None)
        until = season_end if then is None else then.since - timedelta(days=1)
        since = area.until + timedelta(days=1)
        if (until - since).days >= LEAST_SLOT_DAYS:
            found.append(Slot(area.rect, since, until, area, then))
    return sorted(found, key=lambda s: s.since)


def taken_share(areas: Sequence[Area], bed: Rect, day: date) -> float:
    """Share of the bed's ground that is planted on that day; ground wanted twice counts once."""
    here = [a.rect for a in areas if a.stands(day)]
    if not here:
        return 0.0
    xs = sorted({x for r in here for x in (max(0.0, r.x), min(bed.length, r.right))})
    ys = sorted({y for r in here for y in (max(0.0, r.y), min(bed.width, r.bottom))})
    total = 0.0
    for x0, x1 in pairwise(xs):
        for y0, y1 in pairwise(ys):
            mx, my = (x0 + x1) / 2, (y0 + y1) / 2
            if any(r.x <= mx <= r.right and r.y <= my <= r.bottom for r in here):
                total += (x1 - x0) * (y1 - y0)
    return total / bed.area


def first_free(areas: Sequence[Rect], bed: Rect, length: float, width: float, grid: float) -> Rect | None:
    """The first place on the grid, row by row from the upper left, where such a rectangle lies free; None when none is."""
    xs = np.arange(0.0, bed.length - length + 0.01, grid)
    ys = np.arange(0.0, bed.width - width + 0.01, grid)
    taken = np.zeros((len(ys), len(xs)), dtype=bool)
    for a in areas:
        wide = np.minimum(xs + length, a.right) - np.maximum(xs, a.x) > 0.01
        high = np.minimum(ys + width, a.bottom) - np.maximum(ys, a.y) > 0.01
        taken |= high[:, None] & wide
    if taken.all():
        return None
    row, column = divmod(int(taken.argmin()), len(xs))
    return Rect(float(xs[column]), float(ys[row]), length, width)


def free_ground(bed: Rect, taken: Sequence[Rect], plants: int, spacing_cm: float, grid_cm: float) -> Rect | None:
    """Free ground for so many plants in as few rows as go; for fewer where no more fit; None where not one does.

    taken: what others hold.  plants: ≥ 1.  spacing_cm, grid_cm: distance between plants, and squares of the plan, > 0.
    """
    step = min(grid_cm, spacing_cm)
    most_rows = max(1, int((bed.width + 0.01) // spacing_cm))
    for count in dict.fromkeys((plants, plants * 3 // 4, plants // 2, plants // 4, 1)):
        for rows in range(1, most_rows + 1) if count else ():
            length, width = spacing_cm * -(-count // rows), min(bed.width, spacing_cm * rows)
            here = first_free(taken, bed, length, width, step) if length <= bed.length + 0.01 else None
            if here is not None:
                return here
    return None


class Household(NamedTuple):
    """What a crop gives in a week of its harvest against what is used; ratio None where nobody said what is used."""

    crop: str
    plants: int
    per_week: float
    used: float
    ratio: float | None
    sowings: int  # in how many lots to sow so that a lot's harvest meets a week's use
    working: Working


HEADS_DAYS = 21  # a harvest this short is of whole plants: heads, one each
MUCH = 1.5


def household(crop: str, plants: int, harvest_days: float, used: float, gives: float | None = None) -> Household:
    """Expected heads, pickings or stems a week.

    harvest_days: length of the harvest.  used: per week.  gives: per plant over the whole harvest; None: one, where the
    harvest is of whole plants, otherwise one a week.
    """
    weeks = max(1.0, harvest_days / 7)
    whole = harvest_days <= HEADS_DAYS
    each = gives if gives is not None else 1.0 if whole else weeks
    per_week = plants * each / weeks
    ratio = per_week / used if used > 0 else None
    sowings = (
        max(1, math.ceil(per_week / used - 0.25)) if whole and used > 0 and ratio is not None and ratio > MUCH else 1
    )
    inputs = (
        Value("plants", plants, "plants"),
        Value("gives", each, "", "garden" if gives is not None else "estimate"),
        Value("weeks", weeks, "weeks"),
        Value("used", used, "", "garden"),
    )
    return Household(
        crop, plants, per_week, used, ratio, sowings, Working("beds.household", inputs, (), Value("yield", per_week))
    )
