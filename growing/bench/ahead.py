"""Will it fit?  Room taken on each day of the season, kind of place by kind of place, and where it first runs out.

Room is counted in full flats of 28 × 54 cm.  A place holds as many as lie in it whole; what is smaller counts by its ground.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from datetime import date
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.working import Value, Working

SLACK = 1e-6  # of a flat: not worth measuring
STAGES = ("seed", "grown", "potted", "stands")

Floats = NDArray[np.float64]
Days = NDArray[np.int32]


class Zone(NamedTuple):
    """A kind of place: what it holds [flats], None where nobody gave a size; within: the zone on whose ground it lies, such as mats
    on lamp shelves, which then count in both."""

    key: str
    name: str
    holds: float | None
    within: str = ""


class Stay(NamedTuple):
    """Plants of one batch in a zone, from a day until another on which the room is free again (ordinals).

    flats: ground taken.  stage: one of STAGES.  place: the place it is meant for, 0: any of its zone.  high_cm: of the tallest
    at its end, its container included.
    """

    batch: int
    zone: str
    since: int
    until: int
    flats: float
    stage: str
    place: int = 0
    high_cm: float = 0.0


def occupancy(zone: Days, since: Days, until: Days, flats: Floats, zones: int, start: int, days: int) -> Floats:
    """Flats taken in each zone on each day.

    zone: index of each stay's zone, (n,).  since, until: ordinals, until is free again, (n,).  flats: (n,).  Returns
    (zones, days) from the ordinal `start` on.  What lies before or after is cut off; a stay that ends before it begins takes
    nothing.
    """
    wide = days + 1
    first = np.clip(since - start, 0, days)
    last = np.maximum(np.clip(until - start, 0, days), first)
    base, size = zone.astype(np.int64) * wide, zones * wide
    change = np.bincount(base + first, weights=flats, minlength=size)
    change -= np.bincount(base + last, weights=flats, minlength=size)
    found: Floats = np.cumsum(change.reshape(zones, wide), axis=1, dtype=np.float64)[:, :days]
    return found


class RoomAhead(NamedTuple):
    """Every zone over the season: used is (zones, days) from start on [flats]."""

    zones: tuple[Zone, ...]
    start: date
    used: Floats

    @property
    def days(self) -> int:
        return int(self.used.shape[1])

    def row(self, zone: str) -> int:
        return next(k for k, one in enumerate(self.zones) if one.key == zone)

    def on(self, zone: str, day: date) -> float:
        """Flats taken in a zone on a day; 0 outside the season."""
        k = (day - self.start).days
        return float(self.used[self.row(zone), k]) if 0 <= k < self.days else 0.0

    @property
    def holds(self) -> Floats:
        """What each zone holds, without end where nobody said: (zones, 1)."""
        return np.array([np.inf if z.holds is None else z.holds for z in self.zones]).reshape(-1, 1)


def room_over(zones: Sequence[Zone], stays: Sequence[Stay], start: date, days: int) -> RoomAhead:
    """Room taken by all stays; those in a zone that is not listed are left out, as they stand nowhere anybody said."""
    at = {zone.key: k for k, zone in enumerate(zones)}
    known = [s for s in stays if s.zone in at]
    used = np.zeros((len(zones), days))
    if known and zones:
        used = occupancy(
            np.array([at[s.zone] for s in known], dtype=np.int32),
            np.array([s.since for s in known], dtype=np.int32),
            np.array([s.until for s in known], dtype=np.int32),
            np.array([s.flats for s in known], dtype=np.float64),
            len(zones),
            start.toordinal(),
            days,
        )
    return RoomAhead(tuple(zones), start, carried(zones, used))


def carried(zones: Sequence[Zone], used: Floats) -> Floats:
    """The same with what lies on mats counted on the shelf that carries them, too."""
    at = {zone.key: k for k, zone in enumerate(zones)}
    whole = used.copy()
    for k, zone in enumerate(zones):
        if zone.within in at:
            whole[at[zone.within]] += used[k]
    return whole


class Overflow(NamedTuple):
    """A run of days on which a zone is too small.

    until: the last of them.  most: flats over at the worst, first on the day `on`.
    """

    zone: Zone
    since: date
    until: date
    most: float
    on: date

    @property
    def trays(self) -> int:
        """Whole trays that have no room at the worst."""
        return max(1, math.ceil(self.most - SLACK))

    @property
    def working(self) -> Working:
        holds = self.zone.holds or 0.0
        inputs = (
            Value("place", self.zone.name),
            Value("holds", round(holds, 1), "flats"),
            Value("taken", round(holds + self.most, 1), "flats", "estimate"),
            Value("on", self.on),
            Value("until", self.until),
        )
        return Working("bench.overflow", inputs, (), Value("over", round(self.most, 1), "flats"))


def overflows(room: RoomAhead) -> list[Overflow]:
    """Every run of days over what a zone holds, the earliest first, then the worst."""
    found = []
    over = room.used - room.holds
    for k, zone in enumerate(room.zones):
        if zone.holds is None:
            continue
        bad = np.flatnonzero(over[k] > SLACK)
        if not len(bad):
            continue
        for run in np.split(bad, np.flatnonzero(np.diff(bad) > 1) + 1):
            first, last = int(run[0]), int(run[-1])
            worst = first + int(np.argmax(over[k, first : last + 1]))
            days = (date.fromordinal(room.start.toordinal() + d) for d in (first, last, worst))
            since, until, on = days
            found.append(Overflow(zone, since, until, float(over[k, worst]), on))
    return sorted(found, key=lambda one: (one.since, -one.most, one.zone.key))


def causes(over: Overflow, stays: Sequence[Stay], within: Mapping[str, str]) -> list[int]:
    """Batches that come or grow there on the day it first runs out; all that stand there where none does.

    within: zone → the zone on whose ground it lies.
    """
    day = over.since.toordinal()
    there = [s for s in stays if over.zone.key in (s.zone, within.get(s.zone)) and s.since <= day < s.until]
    new = [s.batch for s in there if s.since == day]
    return list(dict.fromkeys(new or [s.batch for s in there]))


RULES = {"bench.overflow": ("place", "holds", "taken", "on", "until")}
