"""At the table: is the seed in hand, and does it want a soak or a chill first?"""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date, timedelta

from growing.seeds.orders import ORDER_AHEAD_DAYS
from growing.steps import Raised, StepSpec, Task
from growing.waiting import of_sowing
from growing.working import Value, Working

DELIVERY_DAYS = 14  # until ordered seed is there: estimate


def _seed(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Found or ordered three weeks before it is needed."""
    if not _unsown(one) or one.has_seed:
        return
    sow = one.dates.sow_on
    begin = sow - timedelta(days=ORDER_AHEAD_DAYS + int(one.crop.number("chill_days")))
    if begin <= until:
        inputs = (Value("sow", sow), Value("ahead", ORDER_AHEAD_DAYS, "days", "estimate"))
        why = Working("seeds.seed", inputs, (), Value("by", sow))
        yield Task(f"{one.ref}.seed.{one.attempt}", SEED, begin, one.wanted, "plants", why, int(begin < today))


def _chill(one: Raised, today: date, until: date) -> Iterator[Task]:
    """So that it ends on sowing day."""
    days = int(one.crop.number("chill_days"))
    if days and _unsown(one):
        yield from _before(one, CHILL, days, days, "days", "chill_days", today, until)


def _soak(one: Raised, today: date, until: date) -> Iterator[Task]:
    """The evening before."""
    hours = one.crop.number("soak_h")
    if hours and _unsown(one):
        yield from _before(one, SOAK, max(1, math.ceil(hours / 24)), int(hours), "h", "soak_h", today, until)


def _unsown(one: Raised) -> bool:
    return one.facts.sown_on is None and one.dates.method != "bought"


def _before(
    one: Raised, spec: StepSpec, ahead: int, count: int, unit: str, field: str, today: date, until: date
) -> Iterator[Task]:
    """What the seed wants so many days before it is sown."""
    sow = one.dates.sow_on
    start = sow - timedelta(days=ahead)
    if start <= until:
        inputs = (Value("sow", sow), one.crop.values[field])
        why = Working(f"seeds.{spec.kind}", inputs, (), Value(f"{spec.kind} from", start))
        yield Task(f"{one.ref}.{spec.kind}.{one.attempt}", spec, start, count, unit, why, int(start <= today))


def _seed_waits(one: Raised, task: Task, today: date) -> Working:
    return of_sowing("seeds.waits_seed", one, today, DELIVERY_DAYS + int(one.crop.number("chill_days")))


def _before_waits(one: Raised, task: Task, today: date) -> Working:
    lag = math.ceil((one.dates.sow_on - task.due).days)
    return of_sowing("seeds.waits_before", one, today, lag)


SEED = StepSpec("seed", "table", _seed, minutes=5, waits=_seed_waits)
CHILL = StepSpec("chill", "bench", _chill, minutes=5, waits=_before_waits)
SOAK = StepSpec("soak", "bench", _soak, minutes=3, waits=_before_waits)
STEPS = (SEED, CHILL, SOAK)
