"""Does it fit there, how high is it today, and when does it touch?  Things on a shelf, a mat, a sill, to scale."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from datetime import date
from typing import NamedTuple

from growing.assumptions import real
from growing.beds.bedplan import Rect
from growing.crops import Crop
from growing.working import Value, Working

LEAF_DAYS = real("shelves.shelf.LEAF_DAYS")
SEED_LEAF_CM = real("shelves.shelf.SEED_LEAF_CM")
TALLEST = real("shelves.shelf.TALLEST")
LID_CM = real("shelves.shelf.LID_CM")
RIM_CM = 0.5  # things beside each other need not touch
FAR_DAYS = 60  # further ahead nobody says when it touches
SLACK_CM = 0.05


class Grown(NamedTuple):
    """How high it is today and grows in a day [cm], from its true leaves."""

    height_cm: float
    cm_a_day: float
    leaves: float


def leaves_on(crop: Crop, up: date, day: date) -> float:
    """True leaves by the days since half were up, at the crop's own pace."""
    return max(0.0, (day - up).days / (crop.maybe("leaf_days") or LEAF_DAYS))


def growth(crop: Crop, up: date | None, day: date) -> Grown:
    """Height by leaves: ready height × leaves ÷ leaves when ready, until light is known; nothing before it is up (None)."""
    if up is None or day < up:
        return Grown(0.0, 0.0, 0.0)
    leaves = leaves_on(crop, up, day)
    ready = max(1.0, (crop.number("ready_leaves_min") + crop.number("ready_leaves_max")) / 2)
    high = crop.number("ready_height_cm")
    each = crop.maybe("leaf_days") or LEAF_DAYS
    height = max(min(SEED_LEAF_CM, high), min(TALLEST, leaves / ready) * high)
    return Grown(height, high / ready / each if leaves < TALLEST * ready else 0.0, leaves)


class Headroom(NamedTuple):
    """Centimetres left above it, and the days until it touches; days None: not in the next two months, or it does not grow."""

    gap_cm: float
    days: int | None
    under: str
    working: Working


def headroom(name: str, grown: Grown, depth_cm: float, ceiling_cm: float, under: str) -> Headroom:
    """From the leaves to a lamp, a lid or a shelf.

    depth_cm: of what it stands in [cm].  ceiling_cm: what hangs above, from where it stands [cm].  under: "lamp", "lid", "shelf"
    or "glass".
    """
    gap = ceiling_cm - depth_cm - grown.height_cm
    ahead = None
    if gap <= 0:
        ahead = 0
    elif grown.cm_a_day and gap / grown.cm_a_day <= FAR_DAYS:
        ahead = math.ceil(gap / grown.cm_a_day)
    inputs = (
        Value("name", name),
        Value("above", under),
        Value("ceiling", round(ceiling_cm, 1), "cm"),
        Value("container", round(depth_cm, 1), "cm"),
        Value("height", round(grown.height_cm, 1), "cm", "estimate"),
        Value("a day", round(grown.cm_a_day, 2), "cm", "estimate"),
        Value("leaves", round(grown.leaves, 1), "leaves", "estimate"),
    )
    rule = "bench.touches" if ahead else "bench.touching" if ahead == 0 else "bench.clear"
    result = Value("left", round(gap, 1), "cm") if not ahead else Value("touches in", ahead, "days")
    return Headroom(gap, ahead, under, Working(rule, inputs, (), result))


def under_lid(name: str, grown: Grown) -> Headroom:
    """From the leaves to the lid that lies on it."""
    return headroom(name, grown, 0.0, LID_CM, "lid")


def turned(length_cm: float, width_cm: float, turns: int) -> tuple[float, float]:
    """Along the shelf and into it [cm]: narrow side to the front, or wide after a quarter turn."""
    short, long_ = sorted((length_cm, width_cm))
    return (short, long_) if turns % 2 == 0 else (long_, short)


def wrong_place(thing: Rect, wide_cm: float, deep_cm: float, taken: Iterable[tuple[str, Rect]]) -> str:
    """Why a thing cannot stand there; empty where it can."""
    if thing.length > wide_cm + SLACK_CM or thing.width > deep_cm + SLACK_CM:
        return (
            f"it is {thing.length:g} × {thing.width:g} cm, the place {wide_cm:g} × {deep_cm:g}: it does not fit there"
        )
    over = thing.x < -SLACK_CM or thing.y < -SLACK_CM
    if over or thing.x + thing.length > wide_cm + SLACK_CM or thing.y + thing.width > deep_cm + SLACK_CM:
        return "it would stand over the edge: move it in"
    for name, other in taken:
        if overlap(thing, other):
            return f"{name} stands there already: choose another place, or move that first"
    return ""


def overlap(one: Rect, other: Rect) -> bool:
    """Do two things take the same ground, by more than what is not worth measuring?"""
    across = min(one.x + one.length, other.x + other.length) - max(one.x, other.x)
    into = min(one.y + one.width, other.y + other.width) - max(one.y, other.y)
    return across > SLACK_CM and into > SLACK_CM


def free_place(
    length_cm: float, width_cm: float, wide_cm: float, deep_cm: float, taken: Sequence[Rect], near: float | None = None
) -> tuple[float, float] | None:
    """Where a thing has room [cm]: from left to right, front row first, or nearest to `near` from the left; None: nowhere."""
    if length_cm > wide_cm + SLACK_CM or width_cm > deep_cm + SLACK_CM:
        return None
    ends = {0.0, *(r.x + r.length + RIM_CM for r in taken)}
    if near is not None:
        ends |= {wide_cm - length_cm, *(r.x - RIM_CM - length_cm for r in taken)}
    across = sorted((x for x in ends if x >= 0), key=lambda x: (x if near is None else abs(x - near), x))
    for y in sorted({0.0, *(r.y + r.width + RIM_CM for r in taken)}):
        for x in across:
            spot = Rect(x, y, length_cm, width_cm)
            inside = x + length_cm <= wide_cm + SLACK_CM and y + width_cm <= deep_cm + SLACK_CM
            if inside and not any(overlap(spot, other) for other in taken):
                return x, y
    return None


RULES = dict.fromkeys(
    ("bench.touches", "bench.touching", "bench.clear"),
    ("name", "above", "ceiling", "container", "height", "a day", "leaves"),
)
