"""At the bench: is it coming?  First look, counts, lamp, mat and lid."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.chain.course import Step
from growing.steps import Raised, Task

COUNT_EVERY_DAYS = 2
COUNTED_UNTIL_X = 2.0


def tasks(one: Raised, today: date, until: date) -> Iterator[Task]:
    """First look at x = 0.66, then a count every second day until half are up or x = 2; lamp, mat and lid by rule."""
    facts, steps = one.facts, one.course.steps
    if facts.sown_on is None or facts.planted_on is not None or "look" not in steps or facts.outings:
        return
    cells = one.cells
    emerged = None if one.accounts is None else one.accounts.emerged
    yield from _one(one, steps["look"], "look", cells, until, today, done=facts.counts > 0)
    done_counting = facts.half_up is not None or (emerged is not None and cells is not None and emerged >= cells)
    end = facts.sown_on + timedelta(days=int(COUNTED_UNTIL_X * one.course.emergence_days) + 1)
    if facts.last_count is not None and not done_counting and (due := _next_count(facts.last_count)) <= min(end, until):
        step = steps["up"]
        yield Task(
            f"{one.ref}.count.{facts.counts}",
            "count",
            due,
            emerged or 0,
            "up",
            step.working,
            int(due < today),
            one.accounts.sown if cells is None and one.accounts else cells,
        )
    yield from _one(one, steps["lamp"], "lamp", cells, until, today, done=facts.lamp_on is not None)
    lid = steps["lid"]
    if facts.half_up is not None or lid.due > today:  # never off before half are really up
        yield from _one(one, lid, "lid", cells, until, today, done=facts.lid_off is not None)


def _next_count(last: date) -> date:
    return last + timedelta(days=COUNT_EVERY_DAYS)


def _one(one: Raised, step: Step, kind: str, cells: int | None, until: date, today: date, done: bool) -> Iterator[Task]:
    if not done and step.happened is None and step.due <= until:
        unit = one.sown_in if cells is not None else ""
        yield Task(f"{one.ref}.{kind}.0", kind, step.due, cells, unit, step.working, int(step.due < today))
