"""Is a germination test worth it?  By what its answer would change: seeds sown, or a packet ordered.

Old seed is never passed over in silence: where a test cannot help, what is left of it is sown as its own test.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from scipy.special import betaln, gammaln

from growing.assumptions import real
from growing.seeds.orders import ORDER_AHEAD_DAYS
from growing.seeds.sowing import NoCount, Seed, SowingCase, count_all, counted
from growing.seeds.viability import Germination
from growing.working import Value, Working

READ_DAYS = 7  # to lay out and read, besides one and a half times the days to half up
SIZES = (10, 20, 25, 50)
WORTH = real("seeds.testing.WORTH")
LEAST_SEEDS = 3  # that it moves
LIKELY_ORDER = 0.1  # chance that the answer changes whether a packet is ordered
ENOUGH_OF_IT = 2 / 3  # of what the largest test would move: a smaller one that moves so much is laid out
MOST_OF = 4  # one seed in so many of a packet is laid out at most
DOUBTFUL = 0.5  # emergence below which a packet is doubtful at any age


class TestPlan(NamedTuple):
    """What to do about what is not known of a packet.

    verdict: "test", "own_test" (sow what is left, it is its own test), or "none".  seeds: to lay out, 0 without a test.
    by: the day until which to lay them out, or to order other seed; None where nothing is asked.
    """

    verdict: str
    seeds: int
    by: date | None
    working: Working


class _Answers(NamedTuple):
    """What a test of so many seeds would move: seeds sown on average, the chance that it changes an order, and the counts
    of a poor and a good answer (four times in five between them)."""

    moves: float
    order: float
    poor: int | None
    good: int


def lay_out_by(sow_on: date, days_up: float) -> date:
    """The last day on which a test can be laid out so that other seed could still be ordered on its answer."""
    return sow_on - timedelta(days=ORDER_AHEAD_DAYS + READ_DAYS + round(days_up * 1.5))


def doubtful(found: Germination) -> bool:
    """Is it past its life, or likely to give fewer than half?"""
    return found.old or found.mean < DOUBTFUL


def plan_test(found: Germination, ratio: float, case: SowingCase, sow_on: date, today: date, days_up: float,
              had: int | None) -> TestPlan:  # fmt: skip
    """Is a test worth it, with how many seeds and by when?

    case: what is to be counted, its seed apart.  ratio: emergence at the warmth it will have against the best.  days_up: to
    half up [days].  had: seeds there, None where nobody counted.
    """
    now = _seeds(case._replace(seed=Seed(found.mean * ratio, (found.a, found.b), ratio)))
    order_by, read_by = sow_on - timedelta(days=ORDER_AHEAD_DAYS), lay_out_by(sow_on, days_up)
    doubt = doubtful(found)
    spare = None if had is None else min(had - (now or 0), had // MOST_OF)
    base = (
        Value("emergence", found.mean, "share"),
        Value("low", found.low, "share"),
        Value("high", found.high, "share"),
        Value("needed", now, "seeds"),
        Value("had", had, "seeds", "lot"),
        Value("sow", sow_on),
    )
    why = _against(found, now, had, spare, late=today > read_by)
    if why is not None:
        return _no_test(base, max(today, order_by) if doubt else None, why)
    assert now is not None  # or it would be hopeless
    whole = _answers(found, ratio, case, now, had, SIZES[-1])
    for size in SIZES:
        answers = whole if size == SIZES[-1] else _answers(found, ratio, case, now, had, size)
        worth = answers.moves >= max(LEAST_SEEDS, WORTH * now) or answers.order >= LIKELY_ORDER
        if not worth or answers.moves < ENOUGH_OF_IT * whole.moves or (spare is not None and size > spare):
            continue
        said = (
            Value("good", answers.good, "seeds", "working"),
            Value("poor", answers.poor, "seeds", "working"),
            Value("order changes", answers.order, "share", "working"),
        )
        return TestPlan(
            "test", size, read_by, Working("seeds.test_plan", (*base, *said), (), Value("test", size, "seeds"))
        )
    return _no_test(base, order_by if doubt else None, "same")


def _against(found: Germination, now: int | None, had: int | None, spare: int | None, late: bool) -> str | None:
    """What speaks against any test before its answers are weighed; None: nothing."""
    if late:
        return "late"
    if now is None:
        return "hopeless"
    if had is None:
        return "old" if found.age_years > 2 * found.life_years else None
    if now > had:
        return "short"
    return "few" if spare is not None and spare < SIZES[0] else None


def _no_test(base: tuple[Value, ...], order_by: date | None, why: str) -> TestPlan:
    """No test, and the name of the result says why: what speaks against it, or that its answer would be the same.

    order_by: of doubtful seed, which is then its own test; None where there is no doubt."""
    verdict = "none" if order_by is None else "own_test"
    rule = "seeds.no_test" if order_by is None else "seeds.own_test"
    return TestPlan(verdict, 0, order_by, Working(rule, base, (), Value(why, order_by)))


def _seeds(case: SowingCase) -> int | None:
    try:
        return counted(case).seeds
    except NoCount:
        return None


def _answers(found: Germination, ratio: float, case: SowingCase, now: int, had: int | None, size: int) -> _Answers:
    """Every answer a test of that size could give, by how likely it is."""
    moves, order, below = 0.0, 0.0, 0.0
    poor: int | None = None
    good: int | None = None
    likely = list(_likely(found, size))
    after = [(found.a + came, found.b + size - came) for came, _ in likely]
    counts = count_all([case._replace(seed=Seed(a / (a + b) * ratio, (a, b), ratio)) for a, b in after])
    for (_, chance), count in zip(likely, counts, strict=True):
        then = None if count is None else count.seeds
        moves += chance * abs((4 * now if then is None else min(then, 4 * now)) - now)
        if had is not None:
            order += chance * ((then is None or then > had) != (now > had))
        if below < 0.1 <= below + chance:
            poor = then
        if below < 0.9 <= below + chance or good is None:
            good = then
        below += chance
    return _Answers(moves, order, poor, good if good is not None else now)


def _likely(found: Germination, size: int) -> Iterator[tuple[int, float]]:
    """How many may come, and how likely each is: a beta-binomial."""
    k = np.arange(size + 1)
    choose = gammaln(size + 1) - gammaln(k + 1) - gammaln(size - k + 1)
    odds = np.exp(choose + betaln(found.a + k, found.b + size - k) - betaln(found.a, found.b))
    for came, chance in zip(k.tolist(), odds.tolist(), strict=True):
        if chance > 1e-4:
            yield came, chance
