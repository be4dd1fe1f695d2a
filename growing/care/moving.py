"""Into a bigger pot: now, in so many days, or not any more?  Two looks (roots, crowding) against the container's age and the weeks left.

One clear sign and weeks left, or the container's age, is enough.  Under soil blocks roots say nothing: they are pruned by the air.  First look
at three weeks from sowing.  With less than two weeks until planting out a move costs more than it brings.
"""

from __future__ import annotations

from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

from growing.chain.rearing import FIRST_LOOK_DAYS, LEAST_BETWEEN_DAYS, LEAST_LEFT_DAYS, proposed_on
from growing.crops import Crop
from growing.working import Value, Working

ROOTS = ("none", "at the holes", "circling")
EVENTS = {"none": "roots_none", "at the holes": "roots_holes", "circling": "roots_circling"}
LOOK_AGAIN_DAYS = 7
TIMES_THE_CELL = 2.0  # a plant twice as high as its cell is deep has outgrown it
TIPPING_OVER = ("cucumber family",)  # long by nature: their height says little
CLOSE_CM = 5.0  # to the lamp, from which a pot of its own place helps


class Signs(NamedTuple):
    """What speaks for more room.  roots: of ROOTS, "": nobody looked; looked_on: when; crowded: leaves over each other; daily: it wants water
    every day; times_cell: its height over the depth of its cell; lamp_cm: left to the lamp; None: not known."""

    roots: str = ""
    looked_on: date | None = None
    crowded: bool = False
    daily: bool = False
    times_cell: float | None = None
    lamp_cm: float | None = None

    def clear(self, crop: Crop, blocks: bool) -> list[str]:
        """Those that are clear, in words."""
        found = []
        if self.roots in ROOTS[1:] and not blocks:
            found.append(f"roots {self.roots}")
        if self.crowded:
            found.append("leaves over each other")
        if self.daily:
            found.append("thirsty every day")
        if self.times_cell is not None and self.times_cell >= TIMES_THE_CELL and crop.family not in TIPPING_OVER:
            found.append("twice as high as its cell is deep")
        if self.lamp_cm is not None and self.lamp_cm < CLOSE_CM:
            found.append("close under the lamp")
        return found


class Potting(NamedTuple):
    """kind: "move", "wait" or "hold"; the day it is for (of waiting: when to look again); the signs; days until then; the working."""

    kind: str
    on: date
    signs: tuple[str, ...]
    days: int
    working: Working


def potting(
    crop: Crop, today: date, sown: date, moved: date | None, out: date, carries_until: date | None, signs: Signs, blocks: bool = False,
    due: date | None = None,
) -> Potting:  # fmt: skip
    """The verdict.  sown: when; moved: when it was last moved; out: planting out; carries_until: how long its container does, None: not known;
    due: the day by its leaves or days, None: none."""
    clear = signs.clear(crop, blocks)
    left = (out - today).days
    limit = None
    if carries_until is not None:
        limit = date.fromordinal(proposed_on(sown.toordinal(), carries_until.toordinal()))
    aged = limit is not None and today >= limit
    first = sown + timedelta(days=FIRST_LOOK_DAYS) if moved is None else moved + timedelta(days=LEAST_BETWEEN_DAYS)
    kind, on = "wait", today
    if left < LEAST_LEFT_DAYS:
        kind = "hold"
    elif today < first and signs.roots != ROOTS[2]:
        on = first
    elif clear or aged:
        kind = "move"
    else:
        soon = today + timedelta(days=LOOK_AGAIN_DAYS) if due is None else due
        again = soon if signs.looked_on is None else signs.looked_on + timedelta(days=LOOK_AGAIN_DAYS)
        on = max(today, again if limit is None else min(again, limit))
    inputs = (
        Value("today", today),
        Value("signs", ", ".join(clear) or "none"),
        Value("carries until", carries_until),
        Value("until planting out", left, "days"),
        Value("first look", first),
        Value("roots", ("nothing in blocks" if blocks else signs.roots) or "nobody looked"),
    )
    return Potting(
        kind, on, tuple(clear), (on - today).days, Working(f"care.potting_{kind}", inputs, (), Value("on", on))
    )


# --- what is over


class SurplusWay(NamedTuple):
    """What becomes of those that are over: how many, the ground that they take until planting out [flats], mix [l], hands [min]."""

    key: str
    plants: int
    flats: float
    mix_l: float
    minutes: int


POT_MINUTES, SNIP_MINUTES, LIFT_MINUTES = 0.75, 0.1, 0.4
DAILY_MINUTES = 0.03  # a plant a day: water and looking at it
HARDEN_MINUTES = 0.5  # a plant, carried out and in over its ladder
GIVE_MINUTES = 10  # to find somebody, whatever the number
SELL_MINUTES = 25
FLAT_CM2 = 54.0 * 28.0


class Surplus(NamedTuple):
    """How many there are, how many are needed with what is lost on the way, how many are over; what can become of them; the working."""

    there: int
    need: int
    over: int
    ways: tuple[SurplusWay, ...]
    working: Working


def surplus(crop: Crop, there: int, wanted: int, spare: int, days_left: int, to_pot: bool, cell_cm2: float) -> Surplus:
    """What is over of so many plants.  wanted: still to be planted out; spare: kept besides; to_pot: are they still to be potted up;
    cell_cm2: ground that one takes now [cm²].  Raises ValueError for counts under 0."""
    if min(there, wanted, spare) < 0:
        raise ValueError("counts are 0 or more")
    survival = crop.number("survival")
    need = ceil(round(wanted / survival, 6)) + spare
    over = max(0, there - need)
    pot = crop.number("pot_cm") or 9.0
    ground = pot * pot if to_pot else cell_cm2
    mix = 0.8 * pot**3 / 1000 if to_pot else 0.0  # of a pot as high as it is wide
    days = max(0, days_left)
    raising = over * ((POT_MINUTES if to_pot else 0.0) + DAILY_MINUTES * days + HARDEN_MINUTES)
    flats = over * ground / FLAT_CM2
    ways = (
        SurplusWay("keep", over, flats, over * mix, ceil(raising)),
        SurplusWay("give", over, over * cell_cm2 / FLAT_CM2, 0.0, ceil(GIVE_MINUTES + over * LIFT_MINUTES)),
        SurplusWay("sell", over, flats, over * mix, ceil(SELL_MINUTES + raising)),
        SurplusWay("snip", over, 0.0, 0.0, ceil(over * SNIP_MINUTES)),
    )
    inputs = (
        Value("there", there, "plants"),
        Value("wanted", wanted, "plants"),
        crop.value("survival"),
        Value("spare", spare, "plants"),
        Value("need", need, "plants", "working"),
        Value("until planting out", days, "days"),
    )
    return Surplus(
        there,
        need,
        over,
        ways,
        Working("care.surplus" if over else "care.no_surplus", inputs, (), Value("over", over, "plants")),
    )


# --- drawn up


class Rescue(NamedTuple):
    """What to do with plants that are drawn: "bury", "again" (by a day) or "keep"; the working."""

    kind: str
    by: date | None
    working: Working


BURIED = ("to the seed leaves", "deep", "progressively")
RECOVERS = ("progressively", "deep")  # roots from the stem that is buried


def rescue(crop: Crop, name: str, today: date, sow_closes: date, ready_again: date | None, out: date) -> Rescue:
    """Bury, start again, or keep.  ready_again: when what is sown today would be ready, None: not known."""
    way, kind, by = crop.word("bury"), "keep", None
    if way in RECOVERS:
        kind = "bury"
    elif today <= sow_closes and (ready_again is None or ready_again <= out + timedelta(days=14)):
        kind, by = "again", sow_closes
    elif way in BURIED:
        kind = "bury"
    inputs = (
        Value("name", name),
        Value("bury", way, "", "crop"),
        Value("sow again by", sow_closes),
        Value("plant out", out),
    )
    return Rescue(kind, by, Working(f"care.leggy_{kind}", inputs, (), Value("by", by or today)))


_POTTING = ("today", "signs", "carries until", "until planting out", "first look", "roots")
RULES = {
    **{f"care.potting_{kind}": _POTTING for kind in ("move", "wait", "hold")},
    **dict.fromkeys(
        ("care.surplus", "care.no_surplus"), ("there", "wanted", "survival", "spare", "need", "until planting out")
    ),
    **{f"care.leggy_{kind}": ("name", "bury", "sow again by", "plant out") for kind in ("bury", "again", "keep")},
}
