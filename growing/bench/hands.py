"""Who is there to do it?  Minutes a week against the time there is, what to drop first, and what days away mean for each task."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, timedelta
from typing import NamedTuple

from growing.assumptions import real
from growing.steps import StepSpec
from growing.waiting import best_set
from growing.working import Value, Working

CARE_MINUTES = real("bench.hands.CARE_MINUTES")
CARRY_MINUTES = real("bench.hands.CARRY_MINUTES")
WORTH_A_PLANT = 0.05  # of a plant: less is not worth a helper's way


def minutes_there_are(said: Iterable[Sequence[float] | None]) -> dict[int, float] | None:
    """Minutes by day of the week (0: Monday), of all who said so; None where nobody did.  said: seven of each, None: not said."""
    known = [one for one in said if one]
    return {k: float(sum(one[k] for one in known)) for k in range(7)} if known else None


class HandsWeek(NamedTuple):
    """A week's minutes: of tasks, of daily care and carrying; have: what there is, None: nobody said."""

    start: date
    tasks: float
    care: float
    carry: float
    have: float | None

    @property
    def needs(self) -> float:
        return self.tasks + self.care + self.carry

    @property
    def over(self) -> float:
        """Minutes more than there are; 0 where there are enough, or nobody said."""
        return 0.0 if self.have is None else max(0.0, self.needs - self.have)

    @property
    def working(self) -> Working:
        inputs = (
            Value("tasks", round(self.tasks), "min", "estimate"),
            Value("care", round(self.care), "min", "estimate"),
            Value("carrying", round(self.carry), "min", "estimate"),
            Value("have", None if self.have is None else round(self.have), "min"),
        )
        return Working("bench.week", inputs, (), Value("week", round(self.needs), "min"))


def weeks(
    tasks: Sequence[tuple[date, float]],
    flats: Mapping[date, float],
    hardening: Mapping[date, float],
    have: Mapping[int, float] | None,
    start: date,
    count: int,
) -> list[HandsWeek]:
    """So many weeks from a day on.

    tasks: day and minutes of each.  flats, hardening: full flats indoors and on the ladder by day.  have: minutes by day of the
    week from Monday, None where nobody said.
    """
    found = []
    for n in range(count):
        first = start + timedelta(weeks=n)
        days = [first + timedelta(days=k) for k in range(7)]
        mine = sum(m for day, m in tasks if first <= day <= days[-1])
        care = CARE_MINUTES * sum(flats.get(d, 0.0) for d in days)
        carry = CARRY_MINUTES * sum(hardening.get(d, 0.0) for d in days)
        found.append(
            HandsWeek(first, mine, care, carry, None if have is None else sum(have[d.weekday()] for d in days))
        )
    return found


class Postponable(NamedTuple):
    """A task that might be left for another week: its key, minutes, and the plants that a week's delay costs."""

    key: str
    minutes: float
    lost: float


def to_drop(jobs: Sequence[Postponable], over: float) -> list[Postponable]:
    """What to leave for the next week so that the rest fits, at the least cost of waiting; all of it where even that is not enough."""
    if over <= 0:
        return []
    minutes = [max(1, round(j.minutes)) for j in jobs]
    budget = math.floor(sum(minutes) - over)
    if budget <= 0:
        return list(jobs)
    kept = best_set(minutes, [j.lost for j in jobs], budget)
    return [job for job, keep in zip(jobs, kept, strict=True) if not keep]


def away_from(spec: StepSpec, due: date, lost: float, leaves: date) -> str:
    """What becomes of a task on a day away.

    leaves: the first day away.  lost: plants lost by waiting until the first day back.
    """
    now_or_never = spec.daily or spec.alarm
    if not now_or_never and spec.earlier_days is not None and (due - leaves).days + 1 <= spec.earlier_days:
        return "before"
    if now_or_never or lost > WORTH_A_PLANT:
        return "help"
    return "after"


RULES = {"bench.week": ("tasks", "care", "carrying", "have")}
