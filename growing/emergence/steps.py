"""At the bench: is it coming?  First look, counts, lamp, mat and lid."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date, timedelta

import numpy as np

from growing.assumptions import in_order, real
from growing.batch.facts import BatchFacts
from growing.batch.outlook import clock_of, verdict_of
from growing.batch.verdict import CHECK_X, LIFT_DAYS, STALE_X, looks_a_day
from growing.chain.course import LID_SHARE
from growing.chain.happened import Facts
from growing.seeds.sowing import place_chances, plants_odds
from growing.seeds.thermal_time import share_coming
from growing.steps import StepSpec, Task
from growing.waiting import cost
from growing.working import Value, Working

COUNTED_UNTIL_X = 2.0
MOST_BETWEEN_DAYS = 7  # two looks
DOUBTED = ("check", "looked", "again", "keep_again", "late")  # verdicts on which one is lifted
ENDED = ("enough", "late")  # verdicts on which nobody counts any more
DARK_LOST = in_order("emergence.steps.DARK_LOST")
RESCUED = 1 / 3  # of those, where deep planting rescues the rest
LID_LOST = real("emergence.steps.LID_LOST")
WARM_LID = real("emergence.steps.WARM_LID")
WARM_LID_C = real("emergence.steps.WARM_LID_C")


def _look(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """First look when two spreads are left to half up, by the warmth it had."""
    return _once(one, LOOK, today, until, done=one.facts.counts > 0)


def _count(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Every day until the first is up, for light must not be late; then as often as the clock makes it worth while, until enough
    are up or nothing more is hoped for."""
    facts, verdict = one.facts, verdict_of(one, today)
    if not _coming(one) or verdict is None or facts.last_count is None or facts.sown_on is None:
        return
    emerged, half = None if one.accounts is None else one.accounts.emerged, facts.half_up is not None
    sown = None if one.accounts is None else one.accounts.sown
    if emerged is not None and sown is not None and emerged >= sown:
        return  # all are up
    if verdict.kind in ENDED or (half and verdict.x >= CHECK_X and verdict.looked >= CHECK_X - STALE_X):
        return
    due = max(today, facts.last_count + timedelta(days=_between_looks(one, today, bool(emerged))))  # by today's clock
    if due > until:
        return
    days = one.course.emergence_days
    inputs = (
        Value("up", emerged or 0, "up"),
        Value("further", round(verdict.further), "plants", "working"),
        Value("wanted", verdict.need, "plants"),
        Value("looks a day", looks_a_day(days)),
    )
    often = "_twice" if looks_a_day(days) == 2 and not half else ""
    why = Working(f"emergence.count{often}", inputs, (verdict.working,), Value("count", due))
    cells = one.cells
    total = one.accounts.sown if one.accounts and (cells is None or one.how.clump > 1) else cells
    yield Task(COUNT.key_of(one.ref, facts.counts), COUNT, due, emerged or 0, "up", why, int(due < today), total)


def _between_looks(one: BatchFacts, today: date, some: bool) -> int:
    """Days to the next look: one while nothing is up and it may be any hour; then until its clock has run on far enough."""
    clock = clock_of(one, today)
    x = clock.by_day[-1]
    if not some and x < CHECK_X:
        return 1
    days = STALE_X / clock.rate if clock.rate > 0 else MOST_BETWEEN_DAYS
    return max(1, min(MOST_BETWEEN_DAYS, math.ceil(days)))


def _lift(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """The verdict is to look under the mix, or that it does not come: lift one, again and again until something is up or the
    batch is given up.  It is never silent; but once the few that came have been thinned, pricked out or potted up, nobody waits
    for the others any more."""
    facts, verdict = one.facts, verdict_of(one, today)
    if not _coming(one) or verdict is None or facts.last_count is None or facts.sown_on is None:
        return  # nobody has counted: the first look is asked for
    if facts.half_up is not None or verdict.kind == "enough":
        return
    looked, first = facts.days.get("lifted", ()), today
    if verdict.kind not in DOUBTED:
        checked = facts.sown_on + timedelta(days=math.ceil(one.course.days_at(CHECK_X)))
        first = max(checked, verdict.by or today)
    due = max([first, *(day + timedelta(days=LIFT_DAYS) for day in looked[-1:])])
    if due > until:
        return
    open_ = max(due, today) <= one.dates.sow_closes
    up, total = verdict.up, one.accounts.sown if one.accounts else one.cells
    inputs = (
        Value("half due", one.course.steps["up"].due),
        Value("up", up, "up"),
        Value("sown", total, "seeds"),
        Value("further", round(verdict.further), "plants", "working"),
        Value("sow again by", one.dates.sow_closes),
    )
    rule = f"emergence.lift_{'few' if up else 'nothing'}{'' if open_ else '_closed'}"
    why = Working(rule, inputs, (verdict.working,), Value("lift", due))
    yield Task(LIFT.key_of(one.ref, len(looked)), LIFT, due, one.cells, one.how.sown_in, why, 1)


def _lamp(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Light by the crop's rule; of what comes in the dark, or waits for the first one up, once it is really up."""
    waits = one.crop.word("light") == "dark" or (
        one.crop.word("lamp_way") == "first" and one.crop.word("light") != "light"
    )
    if not waits or one.facts.first_up is not None or _far(one, "lamp", today):
        yield from _once(one, LAMP, today, until, done=one.facts.first("lamp") is not None)


def _vents(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """A first gap, two days after sowing, at the first one up, or as the first of the steps in which a lid comes off."""
    way = one.crop.word("vents_way")
    there = way == "day2" or (one.facts.first_up is not None if way == "first" else _enough_up(one))
    if there or _far(one, "vents", today):
        yield from _once(one, VENTS, today, until, done=_open(one.facts, "vents"))


def _ajar(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """The lid ajar, a day after the vents."""
    if _enough_up(one) or _far(one, "ajar", today):
        yield from _once(one, AJAR, today, until, done=_open(one.facts, "ajar"))


def _paper(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """The strip of paper off, once half are really up under it."""
    if one.facts.half_up is not None or _far(one, "paper", today):
        yield from _once(one, PAPER, today, until, done=one.facts.first("paper") is not None)


def _mat(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """The mat off by its own way, where it stands on one, or nobody said where it stands."""
    there = one.facts.first_up if one.crop.word("mat_way") == "first" else one.facts.half_up
    if on_mat(one) and (there is not None or _far(one, "mat", today)):
        yield from _once(one, MAT, today, until, done=_open(one.facts, "mat"))


def _far(one: BatchFacts, kind: str, today: date) -> bool:
    """Is that step still to come by the calendar?  Past its day it waits for what is really up."""
    step = one.course.steps.get(kind)
    return step is not None and step.due > today


def _open(facts: Facts, kind: str) -> bool:
    """Has it happened, or is what comes after it done already?"""
    return any(facts.first(later) is not None for later in (kind, *AFTER.get(kind, ())))


AFTER = {"vents": ("ajar", "lid"), "ajar": ("lid",), "mat": ("lid",)}  # what makes a step needless


def on_mat(one: BatchFacts) -> bool:
    """Does it stand on a mat, as far as anybody said where it stands?"""
    return not one.stands or one.stands == "mat"


def _lid(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Lid off when the share chosen is really up, and with it the mat and the mister, where they have no way of their own.  Where half
    never come, for the few that did once counting ends."""
    if not _coming(one) or "lid" not in one.course.steps:
        return
    if not _enough_up(one) and one.course.steps["lid"].due <= today:
        tasks = _lid_of_few(one, today, until)
    else:
        tasks = _once(one, LID, today, until, done=one.facts.first("lid") is not None)
    yield from (task._replace(detail=_with_lid(one)) for task in tasks)


def _with_lid(one: BatchFacts) -> tuple[str, ...]:
    """What is done with the lid, in one go: the mat off too, unless it is by its own way; from now on water comes from below."""
    mat = ("mat",) if on_mat(one) and one.crop.word("mat_way") == "lid" else ()
    return tuple(kind for kind in ("lid", *mat, "below") if one.facts.first(kind) is None)


def _enough_up(one: BatchFacts) -> bool:
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


def _lid_of_few(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Counting has ended and a few are up: they need air more than the others need the lid."""
    facts, emerged = one.facts, None if one.accounts is None else one.accounts.emerged
    if not emerged or facts.sown_on is None or facts.first("lid") is not None:
        return
    due = facts.sown_on + timedelta(days=int(one.course.days_at(COUNTED_UNTIL_X)) + 1)
    if max(due, today) > until:
        return
    inputs = (Value("up", emerged, "up"), Value("sown", one.accounts.sown if one.accounts else None, "seeds"))
    why = Working("emergence.lid_few", inputs, (one.course.steps["lid"].working,), Value("lid off", due))
    yield Task(LID.key_of(one.ref, 0), LID, due, one.cells, one.how.sown_in, why, int(due < today))


def _coming(one: BatchFacts) -> bool:
    """Sown indoors, not yet outdoors on the ladder."""
    facts = one.facts
    return facts.sown_on is not None and facts.planted_on is None and "look" in one.course.steps and not facts.outings


def _once(one: BatchFacts, spec: StepSpec, today: date, until: date, done: bool) -> Iterator[Task]:
    if not _coming(one) or spec.kind not in one.course.steps:
        return
    step, cells = one.course.steps[spec.kind], one.cells
    if not done and step.happened is None and step.due <= until:
        unit, key = one.how.sown_in if cells is not None else "", spec.key_of(one.ref, 0)
        yield Task(key, spec, step.due, cells, unit, step.working, int(step.due < today))


def _look_waits(one: BatchFacts, task: Task, today: date) -> Working:
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


def _short(one: BatchFacts) -> tuple[float, float]:
    """Chance that too few come, and how many plants are then short on average (times that chance)."""
    seeds = None if one.accounts is None else one.accounts.sown
    if not seeds:
        return 0.0, 0.0
    share = one.seed.mean if one.seed is not None else share_coming(one.crop, one.crop.number("germinate_c"))
    how, m = one.how, max(1, one.how.per_cell or 1)
    places = seeds if how.together or how.surplus == "keep" else max(1, seeds // m)
    p = float(place_chances(how, m, np.array([share]), one.crop.number("survival"))[0])
    need = how.need(one.wanted)
    odds = plants_odds(places, np.array([p]))[:need]
    k = np.arange(len(odds))
    return float(odds.sum()), float((odds * (need - k)).sum()) * how.clump


def _lamp_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Those that come up in the dark by tomorrow, and those that have stood in it: a quarter more of them each day."""
    facts = one.facts
    assert facts.sown_on is not None
    coming = one.wanted if one.accounts is None or one.accounts.sown is None else _coming_plants(one)
    lost_share = 0.0
    for back in range(1, 5):  # cohorts that came up 1 … 4 days before tomorrow evening
        end = (today - facts.sown_on).days + 2 - back
        new = one.course.up_share(end) - one.course.up_share(end - 1)
        lost_share += max(0.0, new) * (DARK_LOST[back] - DARK_LOST[back - 1])
    rescued = RESCUED if one.crop.word("bury") in ("deep", "progressively") else 1.0
    inputs = (
        Value("coming", coming, "plants"),
        Value("newly up", lost_share, "share", "working"),
        Value("rescued by burying", rescued, "×", "estimate"),
        one.crop.values["bury"],
    )
    return cost("emergence.waits_lamp", inputs, coming * lost_share * rescued)


def _coming_plants(one: BatchFacts) -> float:
    """Seedlings that will come and be kept: no more than are wanted."""
    assert one.accounts is not None and one.accounts.sown is not None
    share = one.seed.mean if one.seed is not None else share_coming(one.crop, one.crop.number("germinate_c"))
    return min(float(one.wanted), one.accounts.sown * share)


def _lid_waits(one: BatchFacts, task: Task, today: date) -> Working:
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
COUNT = StepSpec("count", "bench", _count, minutes=2, asks=True, daily=True, waits=_look_waits, judged=True)
LIFT = StepSpec("lift", "bench", _lift, minutes=3, daily=True, waits=_look_waits, judged=True)
LAMP = StepSpec("lamp", "bench", _lamp, minutes=2, waits=_lamp_waits, earlier_days=1)
LID = StepSpec("lid", "bench", _lid, minutes=2, waits=_lid_waits, earlier_days=0)
VENTS = StepSpec("vents", "bench", _vents, minutes=1)
AJAR = StepSpec("ajar", "bench", _ajar, minutes=1)
PAPER = StepSpec("paper", "bench", _paper, minutes=1, waits=_lid_waits)
MAT = StepSpec("mat", "bench", _mat, minutes=2, waits=_lid_waits)
STEPS = (LOOK, COUNT, LIFT, LAMP, PAPER, VENTS, AJAR, LID, MAT)
