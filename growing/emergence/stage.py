"""Do they grow as they should?  Leaves and height seen against their age and the warmth they have; keep them, or start again by a day."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from growing.assumptions import real
from growing.batch.facts import BatchFacts
from growing.chain.leaves import LeavesSeen, behind, leaf_days
from growing.crops import Crop
from growing.working import Value, Working

LEAST_DAYS = real("emergence.stage.LEAST_DAYS")
SHARE = real("emergence.stage.SHARE")
DRAWN = real("emergence.stage.DRAWN")
LOOK_DAYS = 7  # between two looks at the stage
KINDS = ("ahead", "on_time", "behind", "again", "unseen")


class Growing(NamedTuple):
    """A batch of seedlings on a day: true leaves it should have by now, days behind (less than 0: ahead; None: nobody looked), are
    they drawn, what that means, by which day to start again."""

    kind: str
    expected: float
    behind: float | None
    drawn: bool
    by: date | None
    look: date
    working: Working


def growing(one: BatchFacts, today: date, up: date, seen: LeavesSeen | None, mean_c: float | None = None) -> Growing:
    """What the last look says.  up: the day half were up.  mean_c: what the place has [°C], None: nobody knows."""
    each = leaf_days(one.crop, mean_c)
    expected = max(0.0, (today - up).days / each)
    if seen is None:
        look = max(up + timedelta(days=round(each)), today)
        return Growing("unseen", expected, None, False, None, look, _why(one, "unseen", up, expected, each, None, None))
    late = behind(one.crop, up, seen.on, seen.leaves, mean_c)
    slack = max(LEAST_DAYS, SHARE * (seen.on - up).days, 0.5 * each)  # a leaf half out is not seen as one
    kind, by = "on_time", None
    if late < -slack:
        kind = "ahead"
    elif late > slack:
        kind = "behind"
        if today <= one.dates.sow_closes and _sooner_again(one, today, late):
            kind, by = "again", one.dates.sow_closes
    drawn = seen.cm is not None and _drawn(one.crop, seen.leaves, seen.cm)
    look = max(seen.on + timedelta(days=LOOK_DAYS), today)
    return Growing(kind, expected, late, drawn, by, look, _why(one, kind, up, expected, each, seen, by))


def _sooner_again(one: BatchFacts, today: date, late: float) -> bool:
    """Would what is sown today be ready sooner than what is so many days behind?"""
    shortest = one.crop.maybe("raise_min")
    if shortest is None:
        return False
    return today + timedelta(weeks=shortest) < one.dates.out_on + timedelta(days=late)


def _drawn(crop: Crop, leaves: int, cm: float) -> bool:
    """Is it much taller than its leaves should be?"""
    ready = max(1.0, (crop.number("ready_leaves_min") + crop.number("ready_leaves_max")) / 2)
    should = max(1.0, min(1.0, (leaves + 1) / ready) * crop.number("ready_height_cm"))
    return cm > DRAWN * should


def _why(
    one: BatchFacts, kind: str, up: date, expected: float, each: float, seen: LeavesSeen | None, by: date | None
) -> Working:
    inputs = (
        Value("half up", up),
        Value(
            "days for a leaf",
            round(each, 1),
            "days",
            one.crop.values["leaf_days"].source if one.crop.maybe("leaf_days") else "estimate",
        ),
        Value("expected", round(expected, 1), "leaves", "working"),
        Value("seen", None if seen is None else seen.leaves, "leaves"),
        Value("on", None if seen is None else seen.on),
        Value("plant out", one.dates.out_on),
        Value("sow again by", one.dates.sow_closes),
    )
    return Working(f"emergence.stage_{kind}", inputs, (), Value("by", by) if by is not None else inputs[2])


RULES = {
    f"emergence.stage_{kind}": (
        "half up", "days for a leaf", "expected", "seen", "on", "plant out", "sow again by"
    )
    for kind in KINDS
}  # fmt: skip
