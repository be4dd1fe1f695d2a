"""How the rules and steps of this stage are said: sowing."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords, StepWords
from growing.steps import Task

RULES = {
    "bench.sow": Said(
        "Sow {result}",
        "{odds} sure of {wanted}; {days left} left in the window",
        short="{odds} sure of {wanted}, {seeds per cell} a cell; {days left} left in the window.",
    ),
    "bench.sow_box": Said(
        "Sow {result} together in a box",
        "{odds} sure of {wanted}; {days left} left in the window",
        short="{odds} sure of {wanted}, in a box, to be pricked out; {days left} left in the window.",
    ),
    "bench.sow_box_late": Said(
        "Sow {result} together in a box",
        "{odds} sure of {wanted}; the window closed {days left} ago",
        short="{odds} sure of {wanted}, in a box, to be pricked out; its window closed {days left} ago.",
    ),
    "bench.sow_hopeless": Said(
        "No count for {wanted}",
        "only {emergence} of this seed will come: order fresh seed, or sow what is left and see; {days left} "
        "left in the window",
        short=(
            "Only {emergence} of this seed will come: no count is enough. Order fresh seed, or sow what is left "
            "and see."
        ),
    ),
    "bench.sow_hopeless_late": Said(
        "No count for {wanted}",
        "only {emergence} of this seed will come: order fresh seed, or sow what is left; the window closed "
        "{days left} ago",
        short="Only {emergence} of this seed will come: no count is enough, and the window closed {days left} ago.",
    ),
    "bench.sow_direct": Said(
        "Sow in place on {result}",
        "the chosen day {sow}; {days left} left in the window",
        short="Your chosen day; {days left} left in the window.",
    ),
    "bench.sow_late": Said(
        "Sow {result}",
        "{odds} sure of {wanted}; the window closed {days left} ago",
        short="{odds} sure of {wanted}, {seeds per cell} a cell; its window closed {days left} ago.",
    ),
    "bench.sow_direct_late": Said(
        "Sow in place on {result}",
        "the chosen day {sow}; the window closed {days left} ago",
        short="Its window closed {days left} ago: fast crops catch up.",
    ),
    "bench.buy_glass": Said(
        "Fetch plants by {result}",
        "from under glass they climb the whole ladder of {ladder}, and go out on {plant out}",
        short="From under glass: the whole ladder first, out on {plant out}.",
    ),
    "bench.buy_unknown": Said(
        "Fetch plants by {result}",
        "ask where they stood: taken as under glass, they climb the whole ladder of {ladder}, and go out on {plant out}",
        short="Ask where they stood: taken as under glass, the whole ladder first, out on {plant out}.",
    ),
    "bench.buy_outdoors": Said(
        "Fetch plants by {result}",
        "they stood outdoors and go out at once, on {plant out}",
        short="They stood outdoors: out at once, on {plant out}.",
    ),
}

_STARTS = {"tuber": "tubers to pot up into growth", "slip": "slips to start"}


def sowing(task: Task, starts: str) -> str:
    """cells to sow"""
    if task.count is None:
        return "seed that will hardly come"
    if task.unit == "seeds":
        return "seeds to sow together"
    return _STARTS.get(starts, "blocks to sow" if task.unit == "blocks" else "cells to sow")


STEPS = {
    "sow": StepWords(
        sowing,
        "Sown",
        "Moist mix, firmed lightly. Label every tray before the seed goes in: crop, variety, day.",
        caution=(
            "Dry mix, perlite and vermiculite: wet them first, mask, wash hands. Treated seed: gloves, never eat it."
        ),
    ),
    "sow_direct": StepWords(
        "plants to sow in place", "Sown", "Rake fine, water the row, sow, cover, firm, label both ends."
    ),
    "buy": StepWords("plants to order", "Ordered", "Choose short, unflowering plants with white roots."),
}

WORDS = StageWords(
    RULES,
    STEPS,
    course={"sow": "Sow"},
    events={"sown": "sown, seeds", "received": "received", "moved": "split off", "note": "note"},
)
