"""At the bench: is it coming?  First look, counts, lamp, mat and lid."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date, timedelta

import numpy as np
from scipy.stats import binom

from growing.chain.course import LID_SHARE, Facts
from growing.emergence.thermal_time import share_coming, share_up
from growing.seeds.shortfall import CHECK_X
from growing.seeds.sowing import place_chances
from growing.steps import Raised, StepSpec, Task
from growing.waiting import cost
from growing.working import Value, Working

COUNT_EVERY_DAYS = 2
COUNTED_UNTIL_X = 2.0
MOVED_ON = ("thinned", "pricked", "potted")
LATE_DAYS = 5  # after half were due, with nothing up: estimate
DARK_LOST = (0.0, 0.25, 0.5, 0.8, 0.8)  # share of seedlings spoilt after so many days up in the dark: estimates
RESCUED = 1 / 3  # of those, where deep planting rescues the rest
LID_LOST, WARM_LID, WARM_LID_C = 0.02, 0.04, 24.0  # of those up a day under the lid: estimates


def _look(one: Raised, today: date, until: date) -> Iterator[Task]:
    """First look at x = 0.66."""
    return _once(one, LOOK, today, until, done=one.facts.counts > 0)


def _count(one: Raised, today: date, until: date) -> Iterator[Task]:
    """A count every second day until half are up or x = 2; and a last one, at x = 1.5, where fewer are up than are wanted."""
    facts, cells = one.facts, one.cells
    if not _coming(one) or facts.last_count is None or facts.sown_on is None or _none_waits(one):
        return
    emerged = None if one.accounts is None else one.accounts.emerged
    if emerged is not None and cells is not None and emerged >= cells * one.how.clump:
        return
    due = facts.last_count + timedelta(days=COUNT_EVERY_DAYS)
    end = facts.sown_on + timedelta(days=int(COUNTED_UNTIL_X * one.course.emergence_days) + 1)
    if facts.half_up is not None:
        last = facts.sown_on + timedelta(days=math.ceil(CHECK_X * one.course.emergence_days))
        if facts.last_count >= last or (emerged or 0) >= one.wanted:
            return
        due = max(due, last)
    if due <= min(end, until):
        total = one.accounts.sown if one.accounts and (cells is None or one.how.clump > 1) else cells
        key, why = f"{one.ref}.count.{facts.counts}", one.course.steps["up"].working
        yield Task(key, COUNT, due, emerged or 0, "up", why, int(due < today), total)


def _lift(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Nothing up days after half were due, or far too few once counting ends: lift one and look, again and again until
    something is up or the batch is given up.  It is never silent; but once the few that came have been thinned, pricked out
    or potted up, nobody waits for the others any more."""
    facts, emerged = one.facts, None if one.accounts is None else one.accounts.emerged
    if not _coming(one) or facts.half_up is not None or facts.sown_on is None or facts.last_count is None:
        return  # nobody has counted: the first look is asked for
    if emerged and _none_waits(one):
        return
    up = one.course.steps["up"].due
    first = up + timedelta(days=LATE_DAYS)
    if emerged:
        if moved_on(facts):
            return
        first = max(first, facts.sown_on + timedelta(days=int(COUNTED_UNTIL_X * one.course.emergence_days) + 2))
    looked = facts.days.get("lifted", ())
    due = max([first, *(day + timedelta(days=LATE_DAYS) for day in looked[-1:])])
    if due > until or facts.last_count < up:
        return
    total = one.accounts.sown if one.accounts else one.cells
    inputs = (
        Value("half due", up),
        Value("late", LATE_DAYS, "days", "estimate"),
        Value("up", emerged or 0, "up"),
        Value("sown", total, "seeds"),
        Value("sow again by", one.dates.sow_closes),
    )
    open_ = max(due, today) <= one.dates.sow_closes
    rule = f"emergence.lift_{'few' if emerged else 'nothing'}{'' if open_ else '_closed'}"
    why = Working(rule, inputs, (one.course.steps["up"].working,), Value("lift", due))
    yield Task(f"{one.ref}.lift.{len(looked)}", LIFT, due, one.cells, one.how.sown_in, why, 1)


def _lamp(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Light by the crop's rule."""
    return _once(one, LAMP, today, until, done=one.facts.first("lamp") is not None)


def _lid(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Mat and lid off when half are up; never before they really are.  Where half never come, for the few that did once counting ends."""
    if not _coming(one) or "lid" not in one.course.steps:
        return
    if not _enough_up(one) and one.course.steps["lid"].due <= today:
        yield from _lid_of_few(one, today, until)
        return
    yield from _once(one, LID, today, until, done=one.facts.first("lid") is not None)


def _enough_up(one: Raised) -> bool:
    """Is the share up at which mat and lid come off, as far as anybody counted?"""
    way, facts = one.crop.word("lid_way"), one.facts
    if way == "first":
        return facts.first_up is not None
    share = LID_SHARE.get(way)
    sown = None if one.accounts is None else one.accounts.sown
    if share is None or not sown:
        return facts.half_up is not None
    expected = (
        1.0 if way == "third" else one.seed.mean if one.seed is not None else one.crop.number("fresh_germination")
    )
    return ((one.accounts.emerged if one.accounts else None) or 0) >= share * expected * sown


def _lid_of_few(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Counting has ended and a few are up: they need air more than the others need the lid."""
    facts, emerged = one.facts, None if one.accounts is None else one.accounts.emerged
    if not emerged or facts.sown_on is None or facts.first("lid") is not None:
        return
    due = facts.sown_on + timedelta(days=int(COUNTED_UNTIL_X * one.course.emergence_days) + 1)
    if max(due, today) > until:
        return
    inputs = (Value("up", emerged, "up"), Value("sown", one.accounts.sown if one.accounts else None, "seeds"))
    why = Working("emergence.lid_few", inputs, (one.course.steps["lid"].working,), Value("lid off", due))
    yield Task(f"{one.ref}.lid.0", LID, due, one.cells, one.how.sown_in, why, int(due < today))


def _coming(one: Raised) -> bool:
    """Sown indoors, not yet outdoors on the ladder."""
    facts = one.facts
    return facts.sown_on is not None and facts.planted_on is None and "look" in one.course.steps and not facts.outings


def moved_on(facts: Facts) -> bool:
    """Have those that came left the others behind: thinned, pricked out, potted up or set out?"""
    return facts.planted_on is not None or any(facts.first(kind) is not None for kind in MOVED_ON)


def _none_waits(one: Raised) -> bool:
    """Is every seed up, or written off?"""
    return one.accounts is not None and one.accounts.waiting == 0


def _once(one: Raised, spec: StepSpec, today: date, until: date, done: bool) -> Iterator[Task]:
    if not _coming(one) or spec.kind not in one.course.steps:
        return
    step, cells = one.course.steps[spec.kind], one.cells
    if not done and step.happened is None and step.due <= until:
        unit, key = one.how.sown_in if cells is not None else "", f"{one.ref}.{spec.kind}.0"
        yield Task(key, spec, step.due, cells, unit, step.working, int(step.due < today))


def _look_waits(one: Raised, task: Task, today: date) -> Working:
    """What is likely to be short, by the share of the days left to sow again that a day takes."""
    chance, short = _short(one)
    left = max(1, (one.dates.sow_closes - today).days)
    open_ = today <= one.dates.sow_closes
    inputs = (
        Value("chance", chance, "share", "working"),
        Value("plants short", short, "plants", "working"),
        Value("days left", left if open_ else 0, "days"),
    )
    return cost("emergence.waits_look", inputs, short / left if open_ else 0.0)


def _short(one: Raised) -> tuple[float, float]:
    """Chance that too few come, and how many plants are then short on average (times that chance)."""
    seeds = None if one.accounts is None else one.accounts.sown
    if not seeds:
        return 0.0, 0.0
    share = one.seed.mean if one.seed is not None else share_coming(one.crop, one.crop.number("germinate_c"))
    how, m = one.how, max(1, one.how.per_cell or 1)
    places = seeds if how.together or how.surplus == "keep" else max(1, seeds // m)
    p = float(place_chances(how, m, np.array([share]), one.crop.number("survival"))[0])
    need = how.need(one.wanted)
    k = np.arange(need)
    odds = binom.pmf(k, places, p)
    return float(odds.sum()), float((odds * (need - k)).sum()) * how.clump


def _lamp_waits(one: Raised, task: Task, today: date) -> Working:
    """Those that come up in the dark by tomorrow, and those that have stood in it: a quarter more of them each day."""
    facts, days, sigma = one.facts, one.course.emergence_days, one.crop.number("sigma")
    assert facts.sown_on is not None
    coming = one.wanted if one.accounts is None or one.accounts.sown is None else _coming_plants(one)
    lost_share = 0.0
    for back in range(1, 5):  # cohorts that came up 1 … 4 days before tomorrow evening
        end = (today - facts.sown_on).days + 2 - back
        new = _up(end, days, sigma) - _up(end - 1, days, sigma)
        lost_share += max(0.0, new) * (DARK_LOST[back] - DARK_LOST[back - 1])
    rescued = RESCUED if one.crop.word("bury") in ("deep", "progressively") else 1.0
    inputs = (
        Value("coming", coming, "plants"),
        Value("newly up", lost_share, "share", "working"),
        Value("rescued by burying", rescued, "×", "estimate"),
        one.crop.values["bury"],
    )
    return cost("emergence.waits_lamp", inputs, coming * lost_share * rescued)


def _coming_plants(one: Raised) -> float:
    """Seedlings that will come and be kept: no more than are wanted."""
    assert one.accounts is not None and one.accounts.sown is not None
    share = one.seed.mean if one.seed is not None else share_coming(one.crop, one.crop.number("germinate_c"))
    return min(float(one.wanted), one.accounts.sown * share)


def _up(day: int, days: float, sigma: float) -> float:
    return share_up(day / days, sigma) if day > 0 else 0.0


def _lid_waits(one: Raised, task: Task, today: date) -> Working:
    """Under a lid the seedlings that are up stretch and rot: faster where it is warm."""
    warmth = one.facts.temperature_c if one.facts.temperature_c is not None else one.crop.number("germinate_c")
    share = WARM_LID if warmth > WARM_LID_C else LID_LOST
    up = min(one.wanted, (one.accounts.emerged if one.accounts else None) or 0)
    inputs = (
        Value("up", up, "plants"),
        Value("warmth", warmth, "°C", "assumed" if one.facts.temperature_c is None else "garden"),
        Value("share a day", share, "share", "estimate"),
    )
    return cost("emergence.waits_lid", inputs, up * share)


LOOK = StepSpec("look", "bench", _look, minutes=1, asks=True, daily=True, waits=_look_waits)
COUNT = StepSpec("count", "bench", _count, minutes=2, asks=True, daily=True, waits=_look_waits)
LIFT = StepSpec("lift", "bench", _lift, minutes=3, daily=True, waits=_look_waits)
LAMP = StepSpec("lamp", "bench", _lamp, minutes=2, waits=_lamp_waits)
LID = StepSpec("lid", "bench", _lid, minutes=2, waits=_lid_waits)
STEPS = (LOOK, COUNT, LIFT, LAMP, LID)
