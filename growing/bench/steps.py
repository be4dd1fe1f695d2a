"""At the bench: what is sown today, in how many cells, and what is sown again where too few came?"""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date, timedelta
from typing import NamedTuple

from growing.batch.facts import BatchFacts
from growing.batch.outlook import count_again, plants_short, verdict_of
from growing.batch.planned import case_of, seed_of, stake_of
from growing.chain.course import INDOORS
from growing.place.kinds import SHELTERED
from growing.seeds.orders import ORDER_AHEAD_DAYS
from growing.seeds.shortfall import CHECK_X, TopUp, top_up
from growing.seeds.sowing import (
    CELL_MINUTES,
    SEED_MINUTES,
    NoCount,
    counted,
)
from growing.steps import StepSpec, Task
from growing.waiting import cost, harvest_day, of_sowing
from growing.working import Value, Working

LAST_DAYS = 7  # of the window in which a sowing is urgent


class Missed(NamedTuple):
    """Days on which nobody is there, from and to, and the first look or the day half are up that falls into them."""

    since: date
    until: date
    what: str
    on: date


class SowingDetail(NamedTuple):
    """What finishing a sowing must know: seeds in each cell, what happens to the surplus, in what it is sown; and the days away in
    which it would come up unseen."""

    per_cell: int
    surplus: str
    sown_in: str = "cells"
    missed: Missed | None = None


def _buy(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Plants from elsewhere are fetched in time for the ladder, those that stood outdoors on the day they go out."""
    if one.dates.method != "bought" or one.facts.first("received") is not None or one.facts.planted_on is not None:
        return
    day = one.not_before(one.course.steps["harden"].due if one.hardens else one.dates.out_on)
    if day > until:
        return
    rule = {"glass": "glass", "outdoors": "outdoors"}.get(one.stood, "unknown")
    out = (Value("plant out", one.dates.out_on), Value("ladder", one.ladder.name))
    why = Working(f"bench.buy_{rule}", out, (one.dates.workings["out_on"],), Value("buy", day))
    yield Task(BUY.key_of(one.ref, one.attempt), BUY, day, one.wanted, "plants", why, _urgent(one, today))


def _sow_direct(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Sown where they will grow, on the chosen day."""
    if not _open(one, until) or one.dates.method != "direct":
        return
    sow, (late, left) = one.dates.sow_on, _window_left(one, today)
    why = Working(
        f"bench.sow_direct{late}", (Value("sow", sow), left), (one.dates.workings["sow_on"],), Value("sow", sow)
    )
    key = SOW_DIRECT.key_of(one.ref, one.attempt)
    yield Task(key, SOW_DIRECT, sow, one.wanted, "plants", why, _urgent(one, today))


def _sow_raised(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """What is sown indoors."""
    return _sow(one, today, until) if one.dates.method == "raised" else iter(())


def _sow_winter(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """What is sown in a lidded box and stands outdoors."""
    return _sow(one, today, until) if one.dates.method == "winter" else iter(())


def _sow(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Cells or seeds with their odds, and why that day; or a word that what is left of this seed is its own test."""
    if not _open(one, until) or one.dates.method not in INDOORS:
        return
    sow, (late, left) = one.dates.sow_on, _window_left(one, today)
    spec = SOW_WINTER if one.dates.method == "winter" else SOW
    key, urgent, why_then = spec.key_of(one.ref, one.attempt), _urgent(one, today), one.dates.workings["sow_on"]
    wanted = (Value("sow", sow), left, Value("wanted", one.wanted, "plants"))
    at, seed = stake_of(one), seed_of(one)
    try:
        count = counted(case_of(one))
    except NoCount:
        order = Value("order by", sow - timedelta(days=ORDER_AHEAD_DAYS))
        said = (*wanted, Value("emergence", seed.mean, "share"), order)
        why = Working(f"bench.sow_hopeless{late}", said, (why_then,), Value("sow", sow))
        yield Task(
            key,
            spec,
            sow,
            None,
            one.how.sown_in,
            why,
            urgent,
            detail=SowingDetail(one.how.per_cell or 1, one.how.surplus, one.how.sown_in),
        )
        return
    more = top_up(one.crop, one.wanted, one.how, seed, at, count) if not late else None
    rule = ("sow_box" if count.unit == "seeds" else "sow") + (late or ("_again" if more else ""))
    inputs = (
        *wanted,
        Value("odds", count.odds, "share"),
        Value("seeds per cell", count.per_cell, "seeds"),
        Value("seeds", count.seeds, "seeds"),
        *(() if more is None else _more(more, count.unit)),
    )
    why = Working(f"bench.{rule}", inputs, (why_then, count.working), Value("places", count.places, count.unit))
    left_to_sow, total = max(0, count.places - one.secured), count.places if one.secured else None
    yield Task(
        key,
        spec,
        sow,
        left_to_sow,
        count.unit,
        why,
        urgent,
        total,
        detail=SowingDetail(count.per_cell, one.how.surplus, one.how.sown_in, missed(one, max(sow, today))),
        each=_each(count.unit),
    )


def missed(one: BatchFacts, sow: date) -> Missed | None:
    """Days away into which the first look, or half up, of what is sown on that day falls; None where somebody is there."""
    if "look" not in one.course.steps or "up" not in one.course.steps:
        return None
    later = sow - one.course.steps["sow"].day
    for kind in ("look", "up"):
        on = one.course.steps[kind].due + later
        away = next((gone for gone in one.away if gone.start <= on <= gone.end), None)
        if away is not None:
            return Missed(away.start, away.end, kind, on)
    return None


def _each(unit: str) -> float:
    """Minutes for a cell, or for a seed strewn in a box."""
    return SEED_MINUTES if unit == "seeds" else CELL_MINUTES


def _more(more: TopUp, unit: str) -> tuple[Value, ...]:
    return Value("more", more.places, unit), Value("on", more.on), Value("fewer than", more.fewer_than, "up")


def _again(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """The verdict is to sow again, or more: of what lies under the mix; of what does not any more, once those that live are too few."""
    facts = one.facts
    if facts.sown_on is None or facts.planted_on is not None or facts.outings or facts.split_on is not None:
        return
    verdict = verdict_of(one, today)
    if verdict is None and not one.alive:
        return
    if verdict is not None:
        short = plants_short(one, verdict.short) if verdict.sows else 0
        due = today  # it goes by the clock: nobody was asked before today
    else:
        short = _too_few(one)
        due = facts.sown_on + timedelta(days=math.ceil(one.course.days_at(CHECK_X)))
        due = due if facts.last_count is None else max(due, facts.last_count)
    if short <= 0 or due > until or max(due, today) > one.dates.sow_closes:
        return
    try:
        count = count_again(one, short)
    except NoCount:
        return
    inputs = (
        Value("up", one.accounts.emerged if one.accounts else 0, "up"),
        Value("wanted", one.wanted, "plants"),
        Value("survival", one.crop.number("survival"), "share"),
        Value("short", short, "plants"),
        Value("until", one.dates.sow_closes),
        Value("odds", count.odds, "share"),
    )
    told = () if verdict is None else (verdict.working,)
    why = Working("bench.again", inputs, (*told, count.working), Value("places", count.places, count.unit))
    yield Task(
        AGAIN.key_of(one.ref, 0),
        AGAIN,
        due,
        count.places,
        count.unit,
        why,
        1,
        detail=SowingDetail(count.per_cell, one.how.surplus, one.how.sown_in),
        each=_each(count.unit),
    )


def _too_few(one: BatchFacts) -> int:
    """Plants that those which live will be too few by, where somebody has counted late enough to know; 0 once they are moved."""
    facts, emerged = one.facts, one.accounts.emerged if one.accounts else None
    moved = facts.first("pricked") is not None or facts.first("potted") is not None
    if emerged is None or facts.sown_on is None or facts.last_count is None or moved:
        return 0
    if facts.last_count < facts.sown_on + timedelta(days=math.ceil(one.course.days_at(CHECK_X))):
        return 0
    there = (emerged if one.plants is None else one.plants) * one.crop.number("survival")
    return max(0, one.wanted - math.floor(there))


LOOK_DAYS, LOOK_UP_DAYS = 7, 3  # into a box outdoors: until something is up, and after that
AIR_DAYS = (14, 18, 22)  # after half are up: a gap, ajar, off


def _box_look(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Is it dry, is something up?  Open on sunny days, shut on frosty nights."""
    facts = one.facts
    if not one.in_box or facts.sown_on is None:
        return
    up = facts.first_up is not None
    last = max(filter(None, (facts.sown_on, facts.last_count, *facts.days.get("boxed", ())[-1:])))
    due = last + timedelta(days=LOOK_UP_DAYS if up else LOOK_DAYS)
    if due > until or due >= one.dates.out_on:
        return
    cold = next((n for n in one.nights if n.day >= max(due, today)), None)
    inputs = (
        Value("last look", last),
        Value("wait", (due - last).days, "days", "working"),
        Value("night", None if cold is None else round(cold.tmin_c), "°C"),
    )
    why = Working("bench.box_look_up" if up else "bench.box_look", inputs, (), Value("look", due))
    yield Task(BOX_LOOK.key_of(one.ref, due.isoformat()), BOX_LOOK, due, None, "", why, int(due < today))


def _box_air(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Its lid comes off in steps, once half are up."""
    facts = one.facts
    done = len(facts.days.get("aired", ()))
    if one.dates.method != "winter" or facts.half_up is None or not one.growing or done >= len(AIR_DAYS):
        return
    due = facts.half_up + timedelta(days=AIR_DAYS[done])
    if due <= until:
        inputs = (Value("half up", facts.half_up), Value("wait", AIR_DAYS[done], "days", "estimate"))
        why = Working(f"bench.box_air_{done}", inputs, (), Value("air", due))
        yield Task(BOX_AIR.key_of(one.ref, done), BOX_AIR, due, None, "", why, int(due < today))


def _stand(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Carried to the place that was named for it, on its day."""
    due = [to for to in one.goes if to.since <= max(today, until)]
    if not due or not one.alive:
        return
    there = [to for to in due if to.since <= today][-1:] or due[:1]
    for to in there:
        if to.code != one.stands_on and to.since < one.dates.out_on:
            inputs = (Value("to", to.code), Value("from", to.since), Value("stands on", one.stands_on))
            why = Working(
                f"bench.stand_{to.kind}" if to.kind in SHELTERED else "bench.stand",
                inputs,
                (),
                Value("carry", to.since),
            )
            key = STAND.key_of(one.ref, to.since.isoformat())
            yield Task(key, STAND, to.since, one.plants, "plants", why, int(to.since < today), detail=to)


def _open(one: BatchFacts, until: date) -> bool:
    return one.facts.sown_on is None and one.dates.sow_on <= until


def _urgent(one: BatchFacts, today: date) -> int:
    return int(one.dates.sow_on <= today and (one.dates.sow_closes - today).days < LAST_DAYS)


def _window_left(one: BatchFacts, today: date) -> tuple[str, Value]:
    """The ending of the rule's name once the window is closed, and the days it has been, or is still, open."""
    left = (one.dates.sow_closes - today).days
    return "_late" if left < 0 else "", Value("days left", abs(left), "days")


def _sow_waits(one: BatchFacts, task: Task, today: date) -> Working:
    return of_sowing("bench.waits_sow", one, today)


def _again_waits(one: BatchFacts, task: Task, today: date) -> Working:
    short = next((v.number for v in task.why.inputs if v.name == "short"), 0)
    share = float(short) / one.wanted if isinstance(short, int) and one.wanted else 0.0
    return of_sowing("bench.waits_sow", one, today, share=min(1.0, share))


def _buy_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """As an outing that cannot begin."""
    later, values = harvest_day(one)
    over = today >= task.due
    return cost("bench.waits_buy", (*values, Value("due", task.due)), later if over else 0.0)


BUY = StepSpec("buy", "table", _buy, minutes=15, waits=_buy_waits)
SOW_DIRECT = StepSpec("sow_direct", "garden", _sow_direct, minutes=10, each=0.2, waits=_sow_waits, of="sow")
SOW = StepSpec("sow", "bench", _sow_raised, minutes=5, each=CELL_MINUTES, parts=True, waits=_sow_waits, earlier_days=4)
SOW_WINTER = StepSpec(
    "sow_winter", "bench", _sow_winter, minutes=15, each=SEED_MINUTES, key="sow", parts=True, waits=_sow_waits, of="sow"
)
BOX_LOOK = StepSpec("box", "garden", _box_look, minutes=2, daily=True)
BOX_AIR = StepSpec("box_air", "garden", _box_air, minutes=2)
AGAIN = StepSpec("again", "bench", _again, minutes=5, each=CELL_MINUTES, waits=_again_waits, judged=True, of="sow")
STAND = StepSpec("stand", "bench", _stand, minutes=3, earlier_days=3)
STEPS = (BUY, SOW_DIRECT, SOW, SOW_WINTER, BOX_LOOK, BOX_AIR, AGAIN, STAND)
