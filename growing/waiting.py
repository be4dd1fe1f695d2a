"""What does waiting cost?  Plants lost by a day's delay of a task, for the order of the day's work; and which tasks save
most in the time there is.

Each stage says it of its own tasks (`StepSpec.waits`), in plants of those that the batch or planting is to give; a harvest
that comes later counts as the plants whose share of it is lost.  All figures are estimates and show their working.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

import numpy as np

from growing.batch.facts import BatchFacts
from growing.crops import Crop
from growing.steps import PlaceFacts, Task
from growing.working import Value, Working

LATER_HARVEST = 0.003  # of its worth a day that a harvest comes later in a home garden
OVER_AGE, OVER_AGE_CUCUMBER, OVER_AGE_BOLTS = (
    0.01,
    0.02,
    0.04,
)  # of the plants a day over the age limit of their container
BUTTONS = ("cauliflower",)  # small heads when held
SLOW_TIMES = 1.5  # slow and day-length crops do not catch up
SLOW = ("stays small", "bulbs small", "rosettes in heat")
CANNOT_WAIT = 0.5  # plants by tomorrow, from which a task is said not to wait
LOST = "lost"


def waits(task: Task, one: BatchFacts | PlaceFacts, today: date) -> Working | None:
    """A day's delay of a task in plants, with its arithmetic; None where its stage says nothing of it."""
    said = task.spec.waits
    return None if said is None else said(one, task, today)


def lost(working: Working | None) -> float:
    """Plants that a day's delay costs; 0 where nothing is said."""
    number = None if working is None else working.result.number
    return float(number) if isinstance(number, int | float) else 0.0


def cost(rule: str, inputs: Sequence[Value], plants: float, steps: tuple[Working, ...] = ()) -> Working:
    """A day's delay in plants, never below nothing."""
    return Working(rule, tuple(inputs), steps, Value(LOST, max(0.0, plants), "plants"))


def harvest_day(one: BatchFacts) -> tuple[float, tuple[Value, ...]]:
    """Plants whose harvest a day later costs, and the values it is from: a day of the usual days where the year's end cuts
    it, otherwise a little of its worth."""
    usual = one.crop.value("yield_days")
    days = float(one.crop.number("yield_days"))
    cut = (one.dates.last - one.dates.first.middle).days < days and one.crop.word("picked") != "once"
    share = 1 / days if cut else LATER_HARVEST
    inputs = (
        Value("plants", one.wanted, "plants"),
        usual,
        Value("cut by", "the year's end" if cut else "nothing"),
        Value("share a day", share, "share", "estimate"),
    )
    return one.wanted * share, inputs


def over_age(crop: Crop) -> float:
    """Share of the plants that a day over their age limit costs."""
    if crop.key in BUTTONS or crop.number("bolt_days"):
        return OVER_AGE_BOLTS
    return OVER_AGE_CUCUMBER if crop.family == "cucumber family" else OVER_AGE


def of_sowing(rule: str, one: BatchFacts, today: date, lag_days: int = 0, share: float = 1.0) -> Working:
    """A day's delay of a sowing, or of what must come `lag_days` before it.

    Nothing until the latest sowing day; then a harvest day, half as much again for what does not catch up; on the day
    after which it gives too little all of it.  share: of the planting that waits for this.
    """
    closes, ready = one.dates.sow_closes, today + timedelta(days=lag_days)
    later, values = harvest_day(one)
    slow = SLOW_TIMES if one.crop.word("late") in SLOW else 1.0
    last = closes
    if one.dates.useful_out is not None:
        last = max(closes, one.dates.useful_out - (one.dates.out.end - one.dates.sow.end))
    if ready < closes:
        plants = 0.0
    elif ready == last and last > closes:
        plants = float(one.wanted)
    elif ready <= last or last == closes:
        plants = later * slow
    else:
        plants = 0.0  # nothing is left to lose
    inputs = (
        Value("latest sowing", closes),
        Value("ahead", lag_days, "days", "working"),
        Value("useful until", last),
        *values,
        Value("does not catch up", slow, "×", "estimate"),
        Value("waiting for it", share, "share"),
    )
    return cost(rule, inputs, plants * share)


def of_age(rule: str, one: BatchFacts, limit: date, today: date) -> Working:
    """A day's delay of moving plants on: nothing to the age limit of what they are in, then a share of them a day."""
    plants, share = one.plants or 0, over_age(one.crop)
    over = (today - limit).days
    inputs = (
        Value("plants", plants, "plants"),
        Value("age limit", limit),
        Value("over it", max(0, over), "days"),
        Value("share a day", share, "share", "estimate"),
    )
    return cost(rule, inputs, plants * share if over >= 0 else 0.0)


# What a stage's rules of waiting may show, by the function above that says them.
SOWING_INPUTS = (
    *("latest sowing", "ahead", "useful until", "plants", "yield_days", "cut by", "share a day"),
    *("does not catch up", "waiting for it"),
)
AGE_INPUTS = ("plants", "age limit", "over it", "share a day")
HARVEST_INPUTS = ("plants", "yield_days", "cut by", "share a day")


def best_set(minutes: Sequence[int], costs: Sequence[float], budget: int) -> list[bool]:
    """Which tasks to do in `budget` minutes so that most is saved; of sets that save as much the one with more tasks, then
    with fewer minutes.

    minutes, costs: ≥ 0, one a task; what takes no time is always done.  Exact: every task once, by dynamic programming over
    whole minutes.
    """
    if len(minutes) != len(costs) or any(m < 0 for m in minutes) or any(c < 0 for c in costs):
        raise ValueError("one number of minutes and one cost a task, none below 0")
    chosen = [m == 0 for m in minutes]
    room = max(0, budget)
    open_ = [i for i, m in enumerate(minutes) if 0 < m <= room]
    saved = np.zeros(room + 1)
    tasks = np.zeros(room + 1, np.int64)  # ties: the more tasks
    taken = np.zeros((len(open_), room + 1), np.bool_)
    for row, i in enumerate(open_):
        m, worth = minutes[i], costs[i]
        then, more = saved[: room + 1 - m] + worth, tasks[: room + 1 - m] + 1
        equal = np.isclose(then, saved[m:], rtol=0, atol=1e-9)
        better = ((then > saved[m:]) & ~equal) | (equal & (more > tasks[m:]))
        taken[row, m:] = better
        saved[m:], tasks[m:] = np.where(better, then, saved[m:]), np.where(better, more, tasks[m:])
    at = _cheapest(saved, tasks)
    for row in range(len(open_) - 1, -1, -1):
        if taken[row, at]:
            chosen[open_[row]] = True
            at -= minutes[open_[row]]
    return chosen


def _cheapest(saved: np.ndarray, tasks: np.ndarray) -> int:
    """The fewest minutes that save as much as can be, with as many tasks."""
    most = np.isclose(saved, saved.max(), rtol=0, atol=1e-9)
    return int(np.flatnonzero(most & (tasks == tasks[most].max()))[0])
