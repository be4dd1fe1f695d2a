"""At the bench: thin to one, prick out of the box, pot up when there is room to grow into it."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from growing.chain.course import Step
from growing.seeds.sowing import to_prick
from growing.steps import Raised, StepSpec, Task


def _thin(one: Raised, today: date, until: date) -> Iterator[Task]:
    """To one a cell at the first true leaf."""
    step = _due(one, "thin", until)
    if step is not None and not _moved_on(one):
        yield _task(one, THIN, step, one.cells, "cells", today)


def _prick(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Out of the box, as many as will leave enough."""
    step = _due(one, "prick", until)
    if step is not None and not _moved_on(one):
        enough = to_prick(one.wanted, one.crop.number("survival"))
        count = enough if one.plants is None else min(enough, one.plants)
        yield _task(one, PRICK, step, count, "plants", today)


def _pot(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Into room to grow, when three weeks or more remain; out of the box first."""
    step = _due(one, "pot", until)
    if step is None or ("prick" in one.course.steps and not one.facts.first("pricked")):
        return
    count = one.plants
    if count is not None and one.cells is not None:
        count = min(count, one.cells)
    yield _task(one, POT, step, count, "plants", today)


def _due(one: Raised, kind: str, until: date) -> Step | None:
    """The step of that kind while it is open and due."""
    step = one.course.steps.get(kind) if one.growing else None
    return None if step is None or step.happened is not None or step.due > until else step


def _moved_on(one: Raised) -> bool:
    """In pots, or out on the ladder: nobody thins or pricks out any more."""
    return one.facts.first("potted") is not None or bool(one.facts.outings)


def _task(one: Raised, spec: StepSpec, step: Step, count: int | None, unit: str, today: date) -> Task:
    key = f"{one.ref}.{spec.kind}.0"
    return Task(key, spec, step.due, count, unit, step.working, int(step.due < today))


THIN = StepSpec("thin", "bench", _thin, minutes=2, each=0.1, parts=True, at_once=True)
PRICK = StepSpec("prick", "bench", _prick, minutes=10, each=0.25, parts=True, at_once=True)
POT = StepSpec("pot", "bench", _pot, minutes=5, each=0.75, parts=True, at_once=True)
STEPS = (THIN, PRICK, POT)
