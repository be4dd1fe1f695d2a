"""At the bench: is it coming?  First look, counts, lamp, mat and lid."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.steps import Raised, StepSpec, Task

COUNT_EVERY_DAYS = 2
COUNTED_UNTIL_X = 2.0


def _look(one: Raised, today: date, until: date) -> Iterator[Task]:
    """First look at x = 0.66."""
    return _once(one, LOOK, today, until, done=one.facts.counts > 0)


def _count(one: Raised, today: date, until: date) -> Iterator[Task]:
    """A count every second day until half are up or x = 2."""
    facts, cells = one.facts, one.cells
    if not _coming(one) or facts.last_count is None or facts.half_up is not None or facts.sown_on is None:
        return
    emerged = None if one.accounts is None else one.accounts.emerged
    if emerged is not None and cells is not None and emerged >= cells:
        return
    due = facts.last_count + timedelta(days=COUNT_EVERY_DAYS)
    end = facts.sown_on + timedelta(days=int(COUNTED_UNTIL_X * one.course.emergence_days) + 1)
    if due <= min(end, until):
        total = one.accounts.sown if cells is None and one.accounts else cells
        key, why = f"{one.ref}.count.{facts.counts}", one.course.steps["up"].working
        yield Task(key, COUNT, due, emerged or 0, "up", why, int(due < today), total)


def _lamp(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Light by the crop's rule."""
    return _once(one, LAMP, today, until, done=one.facts.first("lamp") is not None)


def _lid(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Mat and lid off when half are up; never before they really are."""
    if not _coming(one) or (one.facts.half_up is None and one.course.steps["lid"].due <= today):
        return
    yield from _once(one, LID, today, until, done=one.facts.first("lid") is not None)


def _coming(one: Raised) -> bool:
    """Sown indoors, not yet outdoors on the ladder."""
    facts = one.facts
    return facts.sown_on is not None and facts.planted_on is None and "look" in one.course.steps and not facts.outings


def _once(one: Raised, spec: StepSpec, today: date, until: date, done: bool) -> Iterator[Task]:
    if not _coming(one):
        return
    step, cells = one.course.steps[spec.kind], one.cells
    if not done and step.happened is None and step.due <= until:
        unit, key = one.how.sown_in if cells is not None else "", f"{one.ref}.{spec.kind}.0"
        yield Task(key, spec, step.due, cells, unit, step.working, int(step.due < today))


LOOK = StepSpec("look", "bench", _look, minutes=1, asks=True, daily=True)
COUNT = StepSpec("count", "bench", _count, minutes=2, asks=True, daily=True)
LAMP = StepSpec("lamp", "bench", _lamp, minutes=2)
LID = StepSpec("lid", "bench", _lid, minutes=2)
STEPS = (LOOK, COUNT, LAMP, LID)
