"""May these share a tray, a mat, a lid, a lamp?  Each conflict named, with what makes it one and what would mend it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from itertools import combinations
from typing import NamedTuple

from growing.crops import Crop
from growing.shelves.laying import laying
from growing.working import Value, Working

SHARED = ("tray", "mat", "lid", "lamp")
SPEED, SPEED_DAYS = (
    1.8,
    4.0,
)  # so many times slower, and so many days: a lid that is right for one is wrong for the other
APART_CM = 8.0  # under one lamp: what is so much taller keeps it away from the others
SHORT_DAY_LEAST_H = 14.0  # flowers that bud small in short days
NEVER_DRY, DRY = "never dry", "dry between"


class Companion(NamedTuple):
    """What one batch, or a sowing to be, wants where it stands.

    half_up_in: days until half are up; 0 or less: they are.  height_cm: as it stands today, with its container [cm].
    """

    ref: str
    name: str
    crop: Crop
    half_up_in: float
    height_cm: float = 0.0

    @property
    def up(self) -> bool:
        return self.half_up_in <= 0


class Conflict(NamedTuple):
    """Two that cannot both have what they want of what they share; the first is the one that the proposal moves."""

    kind: str
    one: Companion
    other: Companion
    working: Working


def conflicts(
    shared: str, company: Sequence[Companion], set_c: float | None = None, elsewhere: str = ""
) -> list[Conflict]:
    """What is wrong with sharing.

    shared: one of SHARED.  set_c: what the mat is set to [°C], None: not known.  elsewhere: a place with room that would mend
    it, empty where there is none.
    """
    found: list[Conflict] = []
    for one, other in combinations(company, 2):
        if one.name == other.name:  # one sowing in parts: it waits for itself
            continue
        if one.crop.key == other.crop.key and abs(one.half_up_in - other.half_up_in) < SPEED_DAYS:
            continue
        for conflict in _between(shared, one, other, elsewhere):
            if all(
                c.kind != conflict.kind or {c.one.name, c.other.name} != {conflict.one.name, conflict.other.name}
                for c in found
            ):
                found.append(conflict)
    if shared == "mat" and set_c is not None:
        for one in company:
            low, high = _warmth(one.crop)
            if not one.up and not low <= set_c <= high:
                inputs = (
                    *_named(one, one),
                    Value("low", low, "°C"),
                    Value("high", high, "°C"),
                    Value("set to", set_c, "°C"),
                    Value("elsewhere", elsewhere),
                )
                found.append(_conflict("set", one, one, inputs))
    return found


def _between(shared: str, one: Companion, other: Companion, elsewhere: str) -> Iterator[Conflict]:
    if shared in ("tray", "mat") and not one.up and not other.up:
        yield from _warmth_apart(one, other, elsewhere)
    if shared in ("tray", "mat", "lid"):
        yield from _speed(shared, one, other, elsewhere)
    if shared == "tray":
        yield from _light(one, other, elsewhere)
        yield from _moisture(one, other, elsewhere)
    if shared in ("tray", "lamp", "lid") and one.up and other.up:
        yield from _height(one, other, elsewhere)
    if shared == "lamp":
        yield from _hours(one, other, elsewhere)


def _named(one: Companion, other: Companion) -> tuple[Value, Value]:
    return Value("one", one.name), Value("other", other.name)


def _conflict(kind: str, one: Companion, other: Companion, inputs: tuple[Value, ...]) -> Conflict:
    where = next((str(v.number) for v in inputs if v.name == "elsewhere"), "")
    rule = f"bench.company_{kind}" + ("" if where else "_nowhere")
    kept = tuple(v for v in inputs if v.name != "elsewhere" or where)
    return Conflict(kind, one, other, Working(rule, kept, (), Value("move", one.name)))


def _warmth(crop: Crop) -> tuple[float, float]:
    found = laying(crop)
    return found.low_c, found.high_c


def _warmth_apart(one: Companion, other: Companion, elsewhere: str) -> Iterator[Conflict]:
    """No warmth of the mix does for both: the cooler one is better off elsewhere."""
    cool, warm = sorted((one, other), key=lambda c: _warmth(c.crop))
    top, bottom = _warmth(cool.crop)[1], _warmth(warm.crop)[0]
    if top < bottom:
        inputs = (
            *_named(cool, warm),
            Value("high", top, "°C"),
            Value("low", bottom, "°C"),
            Value("elsewhere", elsewhere),
        )
        yield _conflict("warmth", cool, warm, inputs)


def _speed(shared: str, one: Companion, other: Companion, elsewhere: str) -> Iterator[Conflict]:
    """One is up and grows leggy while the other still wants warmth and cover: the slow one is lifted away."""
    fast, slow = sorted((one, other), key=lambda c: c.half_up_in)
    wait, ahead = slow.half_up_in, max(fast.half_up_in, 1.0)
    apart = wait - max(fast.half_up_in, 0.0)
    if (apart >= SPEED_DAYS and wait >= SPEED * ahead) or (fast.up and wait >= 2 and shared != "tray"):
        inputs = (*_named(slow, fast), Value("days longer", math.ceil(apart), "days"), Value("elsewhere", elsewhere))
        yield _conflict("speed" if shared != "mat" else "speed_mat", slow, fast, inputs)


def _light(one: Companion, other: Companion, elsewhere: str) -> Iterator[Conflict]:
    if one.up or other.up:
        return
    wants = {c.crop.word("light"): c for c in (one, other)}
    if {"light", "dark"} <= wants.keys():
        dark, light = wants["dark"], wants["light"]
        yield _conflict("light", dark, light, (*_named(dark, light), Value("elsewhere", elsewhere)))


def _moisture(one: Companion, other: Companion, elsewhere: str) -> Iterator[Conflict]:
    wants = {c.crop.word("moisture"): c for c in (one, other)}
    if {NEVER_DRY, DRY} <= wants.keys():
        dry, wet = wants[DRY], wants[NEVER_DRY]
        yield _conflict("moisture", dry, wet, (*_named(dry, wet), Value("elsewhere", elsewhere)))


def _height(one: Companion, other: Companion, elsewhere: str) -> Iterator[Conflict]:
    short, tall = sorted((one, other), key=lambda c: c.height_cm)
    apart = tall.height_cm - short.height_cm
    if apart > APART_CM:
        inputs = (*_named(tall, short), Value("taller", round(apart), "cm", "estimate"), Value("elsewhere", elsewhere))
        yield _conflict("height", tall, short, inputs)


def hours_wanted(crop: Crop) -> tuple[float, float]:
    """Hours of lamp a day that do it good, least and most [h]."""
    least = SHORT_DAY_LEAST_H if crop.word("photoperiod") == "short days bud it" else 0.0
    return least, crop.number("most_light_h")


def _hours(one: Companion, other: Companion, elsewhere: str) -> Iterator[Conflict]:
    """One timer for both: there must be hours that are long enough for one and short enough for the other."""
    brief, long_ = sorted((one, other), key=lambda c: hours_wanted(c.crop)[1])
    most, least = hours_wanted(brief.crop)[1], hours_wanted(long_.crop)[0]
    if most < least:
        inputs = (
            *_named(brief, long_),
            Value("most", most, "h"),
            Value("least", least, "h"),
            Value("elsewhere", elsewhere),
        )
        yield _conflict("hours", brief, long_, inputs)


COMPANY = ("warmth", "speed", "speed_mat", "light", "moisture", "height", "hours", "set")
INPUTS = {
    "warmth": ("one", "other", "high", "low"),
    "speed": ("one", "other", "days longer"),
    "speed_mat": ("one", "other", "days longer"),
    "light": ("one", "other"),
    "moisture": ("one", "other"),
    "height": ("one", "other", "taller"),
    "hours": ("one", "other", "most", "least"),
    "set": ("one", "other", "low", "high", "set to"),
}
RULES = {
    f"bench.company_{kind}{end}": (*INPUTS[kind], *(() if end else ("elsewhere",)))
    for kind in COMPANY
    for end in ("", "_nowhere")
}
