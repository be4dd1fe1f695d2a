"""At the bench: thin to one, prick out of the box, pot up when there is room to grow into it, trim what grows too long."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.assumptions import real, whole
from growing.batch.facts import BatchFacts
from growing.batch.stress import kept_apart
from growing.care.heat import COOL
from growing.care.moving import EVENTS as ROOT_EVENTS
from growing.care.moving import Potting, Signs, potting
from growing.chain.course import Step
from growing.chain.kinds import POTS
from growing.chain.path import path_of
from growing.chain.rearing import PROPOSED_AT
from growing.seeds.sowing import to_prick
from growing.shelves.shelf import leaves_on
from growing.steps import StepSpec, Task
from growing.waiting import cost, of_age
from growing.working import Value, Working

TRIMMED = "onion family"
TRIM_FROM_CM, TRIM_TO_CM = 15.0, 10.0  # tops over 15 to 20 cm go back to 10: growers' habit
PINCH_OUT_DAYS = 14  # after it was due, for which a plant in the bed is still to be pinched
FILL_DAYS, FILLS = 10, 2  # after potting, and how often: a third of the cup at first, then two thirds, then full
CROWDED_TWO = real("care.steps.CROWDED_TWO")
CROWDED_FOUR = real("care.steps.CROWDED_FOUR")
TRIM_AFTER_DAYS = whole("care.steps.TRIM_AFTER_DAYS")
TRIM_AGAIN_DAYS = whole("care.steps.TRIM_AGAIN_DAYS")


def _thin(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """To one a cell at the first true leaf."""
    step = _due(one, "thin", until)
    if step is not None and not _moved_on(one):
        yield _task(one, THIN, step, _with_seedlings(one), "cells", today)


def _with_seedlings(one: BatchFacts) -> int | None:
    """Cells in which something can be up: no more than seedlings that were counted."""
    up = None if one.accounts is None else one.accounts.emerged
    return one.cells if up is None or one.cells is None else min(one.cells, up)


def _prick(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Out of the box, or out of their cells, as many as will leave enough."""
    step = _due(one, "prick", until)
    if step is not None and not _moved_on(one):
        enough = to_prick(one.wanted, one.crop.number("survival"))
        count = enough if one.accounts is None or one.accounts.indoors is None else min(enough, one.accounts.indoors)
        yield from _stress(one, PRICK, step.kind, step.due, step.working, count, today, until)


def _pot(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Into room to grow, when three weeks or more remain; out of the box first."""
    step = one.course.open_pot if one.growing else None
    if step is None or step.due > until or ("prick" in one.course.steps and not one.facts.first("pricked")):
        return
    count = one.plants
    if count is not None and one.cells is not None:
        count = min(count, one.cells)
    signs, due, why = root_signs(one), step.due, step.working
    if signs.looked_on is not None:  # what was seen of the roots decides
        found = potting_of(one, today, signs)
        if found.kind == "hold":
            return
        due, why = signs.looked_on if found.kind == "move" else found.on, found.working
    yield from _stress(one, POT, step.kind, due, why, count, today, until, POTS.index(step.kind))


def root_signs(one: BatchFacts) -> Signs:
    """What was last seen of its roots and leaves since it was last moved."""
    moved = last_move(one)
    seen = [(day, roots) for roots, kind in ROOT_EVENTS.items() for day in one.facts.days.get(kind, ())]
    seen = [s for s in seen if moved is None or s[0] >= moved]
    day, roots = max(seen, default=(None, ""))
    close = [
        d for d in one.facts.days.get("crowded", ()) if (moved is None or d >= moved) and (day is None or d >= day)
    ]
    return Signs(roots, max(close, default=day) if day is None else day, bool(close))


def last_move(one: BatchFacts) -> date | None:
    """When it last came into another container; None: never."""
    return max((d for kind in ("pricked", "potted") for d in one.facts.days.get(kind, ())), default=None)


def carries_until(one: BatchFacts) -> date | None:
    """How long the container it stands in carries it; None where its path was not chosen and none is usual."""
    stays = one.course.stays or path_of(one.crop, one.how, one.dates.sow_on, one.course.day("pot"), one.dates.out_on)
    moves = len(one.facts.days.get("potted", ())) + (
        one.facts.first("pricked") is not None and any(s.vessel and s.vessel.together for s in stays)
    )
    return stays[min(int(moves), len(stays) - 1)].carries_until if stays else None


def potting_of(one: BatchFacts, today: date, signs: Signs) -> Potting:
    """Move it on, wait, or hold?"""
    sown = one.facts.sown_on or one.dates.sow_on
    until, blocks = carries_until(one), one.how.sown_in == "blocks"
    step = one.course.open_pot
    return potting(
        one.crop,
        today,
        sown,
        last_move(one),
        one.dates.out_on,
        until,
        signs,
        blocks,
        None if step is None else step.due,
    )


def _fill(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Of what is buried as it grows: mix up to the leaves, twice after it was potted."""
    potted, filled = one.facts.days.get("potted", ()), one.facts.days.get("filled", ())
    if one.crop.word("bury") != "progressively" or not potted or not one.growing:
        return
    since = [day for day in filled if day >= potted[-1]]
    due = (since[-1] if since else potted[-1]) + timedelta(days=FILL_DAYS)
    if len(since) >= FILLS or due > until or due >= one.dates.out_on:
        return
    inputs = (Value("since", since[-1] if since else potted[-1]), Value("wait", FILL_DAYS, "days", "estimate"))
    why = Working("care.fill", inputs, (), Value("fill", due))
    yield Task(FILL.key_of(one.ref, len(filled)), FILL, due, one.plants, "plants", why)


def _pinch(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Above a pair of leaves, once it has enough of them; in the bed too, where it went out before, for a while."""
    step = one.course.steps.get("pinch")
    if step is None or step.happened is not None or step.due > until:
        return
    lately = one.facts.planted_on is not None and (today - max(step.due, one.facts.planted_on)).days <= PINCH_OUT_DAYS
    count = one.plants if one.growing else one.accounts.outdoors if one.accounts is not None else None
    if (one.growing or lately) and count != 0:
        yield from _stress(one, PINCH, step.kind, step.due, step.working, count, today, until)


def _stress(
    one: BatchFacts,
    spec: StepSpec,
    kind: str,
    due: date,
    working: Working,
    count: int | None,
    today: date,
    until: date,
    ordinal: int = 0,
) -> Iterator[Task]:
    """What sets them back for a while, never within two days of another such."""
    day, why = kept_apart(one, kind, due, today, working)
    if day <= until:
        yield Task(spec.key_of(one.ref, ordinal), spec, day, count, "plants", why, int(day < today))


def _trim(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Onion tops back to 10 cm when they are over 15 to 20, as often as they get there before planting out."""
    if one.crop.family != TRIMMED or not one.growing or "up" not in one.course.steps:
        return
    up, done = one.course.steps["up"].day, one.facts.days.get("trimmed", ())
    since, wait = (done[-1], TRIM_AGAIN_DAYS) if done else (up, TRIM_AFTER_DAYS)
    due = since + timedelta(days=wait)
    seen = None if one.stage is None or (done and one.stage.seen.on <= since) else one.stage.high_on(TRIM_FROM_CM)
    if seen is not None:
        due = max(seen, since + timedelta(days=1))
    if due >= one.dates.out_on:
        return
    inputs = (
        Value("since", since),
        Value("wait", wait, "days", "estimate"),
        Value("from", TRIM_FROM_CM, "cm", "working"),
        Value("to", TRIM_TO_CM, "cm", "working"),
    )
    rule = "care.trim_seen" if seen is not None else "care.trim_again" if done else "care.trim"
    if seen is not None and one.stage is not None:
        inputs = (*inputs[2:], Value("high", one.stage.seen.cm, "cm"), Value("on", one.stage.seen.on))
    day, why = kept_apart(one, "trim", due, today, Working(rule, inputs, (), Value("trim", due)))
    if day <= until:
        yield Task(TRIM.key_of(one.ref, len(done)), TRIM, day, one.plants, "plants", why)


def _due(one: BatchFacts, kind: str, until: date) -> Step | None:
    """The step of that kind while it is open and due."""
    step = one.course.steps.get(kind) if one.growing else None
    return None if step is None or step.happened is not None or step.due > until else step


def _moved_on(one: BatchFacts) -> bool:
    """In pots, or out on the ladder: nobody thins or pricks out any more."""
    return one.facts.first("potted") is not None or bool(one.facts.outings)


def _task(
    one: BatchFacts, spec: StepSpec, step: Step, count: int | None, unit: str, today: date, ordinal: int = 0
) -> Task:
    key = spec.key_of(one.ref, ordinal)
    return Task(key, spec, step.due, count, unit, step.working, int(step.due < today))


def _thin_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Crowded seedlings spoil each other: a little from the second leaf, more from the fourth."""
    leaves = _leaves(one, today)
    share = CROWDED_FOUR if leaves >= 4 else CROWDED_TWO if leaves >= 2 else 0.0
    plants = min(one.wanted, one.plants or 0)
    inputs = (
        Value("plants", plants, "plants"),
        Value("leaves", leaves, "leaves", "estimate"),
        Value("share a day", share, "share", "estimate"),
    )
    return cost("care.waits_thin", inputs, plants * share)


def _leaves(one: BatchFacts, today: date) -> float:
    """True leaves by the days since half were up, at the crop's own pace."""
    if one.stage is not None:
        return one.stage.leaves
    up = one.course.steps["up"].day if "up" in one.course.steps else today
    return leaves_on(one.crop, up, today)


def _move_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Potting and pricking out are proposed at three quarters of what their container carries them to."""
    sown = one.facts.sown_on or today
    limit = sown + timedelta(days=round((task.due - sown).days / PROPOSED_AT))
    return of_age("care.waits_move", one, limit, today)


THIN = StepSpec(
    "thin", "bench", _thin, minutes=2, each=0.1, parts=True, at_once=True, waits=_thin_waits, earlier_days=3
)
PRICK = StepSpec(
    "prick", "bench", _prick, minutes=10, each=0.25, parts=True, at_once=True, waits=_move_waits, earlier_days=3
)
POT = StepSpec("pot", "bench", _pot, minutes=5, each=0.75, parts=True, at_once=True, waits=_move_waits, earlier_days=5)
TRIM = StepSpec("trim", "bench", _trim, minutes=2, each=0.02, earlier_days=10)
FILL = StepSpec("fill", "bench", _fill, minutes=3, each=0.1)
PINCH = StepSpec("pinch", "bench", _pinch, minutes=2, each=0.05, parts=True, at_once=True, earlier_days=3)
STEPS = (THIN, PRICK, POT, FILL, PINCH, TRIM, COOL)
