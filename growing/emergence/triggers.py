"""What changes around a sowing that comes up, each by its own rule: lamp, paper, vents, lid, mat, water from below."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from growing.batch.facts import BatchFacts
from growing.batch.outlook import moved_on
from growing.emergence.steps import AFTER, AJAR, LAMP, LID, MAT, PAPER, VENTS, on_mat
from growing.seeds.clock import RateCurve, hours_until, x_for
from growing.steps import Task

SPECS = (LAMP, PAPER, VENTS, AJAR, LID, MAT)
KINDS = (*(spec.kind for spec in SPECS), "below")  # in the order in which they usually fall
WORTH = 1.25  # times as fast, from which a freed mat is offered


class Trigger(NamedTuple):
    """One change: the day it is expected, None: by no rule; the day it was done; is it due today."""

    kind: str
    due: date | None
    done: date | None
    now: bool


def triggers(one: BatchFacts, today: date) -> list[Trigger]:
    """All that apply to it, in the order of work.  A lid that comes off makes what led to it needless."""
    facts, steps = one.facts, one.course.steps
    if facts.sown_on is None or moved_on(facts):
        return []
    open_: dict[str, Task] = {task.kind: task for spec in SPECS for task in spec.due(one, today, today)}
    off = open_["lid"].detail if "lid" in open_ else ()
    with_lid = off if isinstance(off, tuple) else ()
    found = []
    for kind in KINDS:
        done, step = facts.first(kind), steps.get(kind)
        needless = any(facts.first(later) is not None for later in AFTER.get(kind, ()))
        if done is None and (needless or (kind == "mat" and not on_mat(one))):
            continue
        lid = steps.get("lid")
        due = step.due if step is not None else lid.due if lid is not None and kind in ("mat", "below") else None
        if done is None and due is None and (kind == "paper" or "lid" in open_):
            continue
        now = done is None and (kind in open_ or kind in with_lid)
        found.append(Trigger(kind, due, done, now))
    return found


class MatOffer(NamedTuple):
    """A batch that would gain by a freed mat: half up there, and where it stands (None: never)."""

    there: date
    here: date | None


def offer(
    of: RateCurve, x: float, sigma: float, here_rate: float, mat_c: float, high_c: float, today: date
) -> MatOffer | None:
    """What a mat of that warmth would do for a sowing whose clock stands at x; None where it gains little, or would be too hot."""
    half = x_for(0.5, sigma)
    hours = hours_until(of, x, half, mat_c)
    if mat_c > high_c or x >= half or hours == float("inf"):
        return None
    now = (half - x) / here_rate * 24 if here_rate > 0 else float("inf")
    if now < WORTH * hours:
        return None
    there = today + timedelta(days=-(-hours // 24))
    return MatOffer(there, None if now == float("inf") or now > 24 * 120 else today + timedelta(days=-(-now // 24)))
