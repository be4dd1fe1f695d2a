"""At the bench: thin to one, prick out of the box, pot up when there is room to grow into it."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from growing.seeds.sowing import to_prick
from growing.steps import Raised, Task


def tasks(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Thin or prick out at the first true leaf; pot up when three weeks or more remain."""
    facts = one.facts
    if facts.sown_on is None or facts.planted_on is not None or one.plants == 0:
        return
    for kind, unit in (("thin", "cells"), ("prick", "plants"), ("pot", "plants")):
        step = one.course.steps.get(kind)
        if step is None or step.happened is not None or step.due > until:
            continue
        if kind != "pot" and (facts.potted_on or facts.outings):
            continue
        if kind == "pot" and "prick" in one.course.steps and not facts.pricked_on:
            continue  # out of the box first
        count = one.cells if kind == "thin" else one.plants
        if kind == "prick":
            enough = to_prick(one.wanted, one.crop.number("survival"))
            count = enough if count is None else min(enough, count)
        if kind == "pot" and count is not None and one.cells is not None:
            count = min(count, one.cells)
        yield Task(f"{one.ref}.{kind}.0", kind, step.due, count, unit, step.working, int(step.due < today))
