"""At the table: is the seed in hand, and does it want a soak or a chill first?"""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date, timedelta

from growing.assumptions import whole
from growing.batch.facts import BatchFacts
from growing.batch.planned import case_of, sowing_of
from growing.seeds.orders import ORDER_AHEAD_DAYS
from growing.seeds.sowing import NoCount, SowingCount
from growing.seeds.testing import doubtful, lay_out_by, plan_test
from growing.steps import StepSpec, Task
from growing.waiting import cost, harvest_day, of_sowing
from growing.working import Value, Working

DELIVERY_DAYS = whole("drawer.steps.DELIVERY_DAYS")
TEST_AHEAD_DAYS = 14  # that a test is spoken of before it is too late for one
WIDE = 0.3  # between the ends of the middle four fifths, from which a test may be worth it


def _seed(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Found or ordered three weeks before it is needed: all of it, or what a packet lacks."""
    if not _unsown(one):
        return
    if one.has_seed:
        yield from _more_seed(one, today, until)
        return
    sow = one.dates.sow_on
    begin = one.not_before(sow - timedelta(days=ORDER_AHEAD_DAYS + int(one.crop.number("chill_days"))))
    if begin <= until:
        inputs = (Value("sow", sow), Value("ahead", ORDER_AHEAD_DAYS, "days", "estimate"))
        why = Working("seeds.seed", inputs, (), Value("by", sow))
        yield Task(SEED.key_of(one.ref, one.attempt), SEED, begin, one.wanted, "plants", why, int(begin < today))


def _more_seed(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """What the packet in hand lacks for this sowing, or other seed where hardly any of it will come."""
    if one.packet is None or one.dates.sow_on - timedelta(days=ORDER_AHEAD_DAYS) > until:
        return
    found, had = one.packet
    try:
        count: SowingCount | None = sowing_of(one)
    except NoCount:
        count = None
    needed = None if count is None else count.seeds
    if needed is not None and (had is None or had >= needed):
        return
    by = one.not_before(one.dates.sow_on - timedelta(days=ORDER_AHEAD_DAYS))
    if by > until:
        return
    inputs = (
        Value("sow", one.dates.sow_on),
        Value("needed", needed, "seeds"),
        Value("had", had, "seeds", "lot"),
        Value("emergence", found.mean, "share"),
        Value("ahead", ORDER_AHEAD_DAYS, "days", "estimate"),
    )
    rule = "seeds.seed_hopeless" if count is None else "seeds.seed_short"
    why = Working(rule, inputs, () if count is None else (count.working,), Value("by", by))
    short = None if needed is None else needed - (had or 0)
    yield Task(SEED.key_of(one.ref, one.attempt), SEED, by, short, "seeds", why, int(by < today), detail=needed)


def _test(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """A germination test where its answer would change what is sown or ordered, a fortnight before it is too late for it."""
    if not _unsown(one) or one.packet is None or one.dates.method != "raised":
        return
    found, had = one.packet
    by = lay_out_by(one.dates.sow_on, one.course.emergence_days)
    begin = one.not_before(by - timedelta(days=TEST_AHEAD_DAYS))
    if begin > until or today > by or not (doubtful(found) or found.high - found.low > WIDE):
        return
    ratio = 1.0 if one.seed is None else one.seed.ratio
    plan = plan_test(found, ratio, case_of(one), one.dates.sow_on, today, one.course.emergence_days, had)
    if plan.verdict == "test":
        key = TEST.key_of(one.ref, one.attempt)
        yield Task(key, TEST, begin, plan.seeds, "seeds", plan.working, int(by == today), detail=by)


def _test_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Nothing until its last day; then what a wrong order costs: a sowing of other seed, a fortnight later."""
    assert isinstance(task.detail, date)
    changes = next((v.number for v in task.why.inputs if v.name == "order changes"), 0.0)
    chance = float(changes) if isinstance(changes, int | float) else 0.0
    later, values = harvest_day(one)
    inputs = (*values, Value("order changes", chance, "share", "working"), Value("last day", task.detail))
    lost = chance * later * DELIVERY_DAYS if today >= task.detail else 0.0
    return cost("seeds.waits_test", inputs, lost)


def _chill(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """So that it ends on sowing day."""
    days = int(one.crop.number("chill_days"))
    if days and _unsown(one):
        yield from _before(one, CHILL, days, days, "days", "chill_days", today, until)


def _soak(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """The evening before."""
    hours = one.crop.number("soak_h")
    if hours and _unsown(one):
        yield from _before(one, SOAK, max(1, math.ceil(hours / 24)), int(hours), "h", "soak_h", today, until)


def _unsown(one: BatchFacts) -> bool:
    return one.facts.sown_on is None and one.dates.method != "bought"


def _before(
    one: BatchFacts, spec: StepSpec, ahead: int, count: int, unit: str, field: str, today: date, until: date
) -> Iterator[Task]:
    """What the seed wants so many days before it is sown."""
    sow = one.dates.sow_on
    start = one.not_before(sow - timedelta(days=ahead))
    if start <= until:
        inputs = (Value("sow", sow), one.crop.values[field])
        why = Working(f"seeds.{spec.kind}", inputs, (), Value(f"{spec.kind} from", start))
        yield Task(spec.key_of(one.ref, one.attempt), spec, start, count, unit, why, int(start <= today))


def _seed_waits(one: BatchFacts, task: Task, today: date) -> Working:
    share = 1.0
    if isinstance(task.detail, int) and task.count is not None:
        share = min(1.0, task.count / task.detail)
    return of_sowing("seeds.waits_seed", one, today, DELIVERY_DAYS + int(one.crop.number("chill_days")), share)


def _before_waits(one: BatchFacts, task: Task, today: date) -> Working:
    lag = math.ceil((one.dates.sow_on - task.due).days)
    return of_sowing("seeds.waits_before", one, today, lag)


SEED = StepSpec("seed", "table", _seed, minutes=5, waits=_seed_waits)
TEST = StepSpec("test", "table", _test, minutes=5, waits=_test_waits)
CHILL = StepSpec("chill", "bench", _chill, minutes=5, waits=_before_waits)
SOAK = StepSpec("soak", "bench", _soak, minutes=3, waits=_before_waits)
STEPS = (SEED, TEST, CHILL, SOAK)
