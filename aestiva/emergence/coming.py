"""Every batch under the mix: its clock by the warmth it had, what was counted, the verdict, and what is expected from here on."""

from __future__ import annotations

import math
from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.course.state import Item, SeasonState
from aestiva.emergence.warmth import Had, assumed_c, warmth_had
from aestiva.season.models import BatchEvent
from growing.bench.how import laying
from growing.emergence.clock import HOURS, curve, progress, share_up
from growing.emergence.posterior import SPEED_SD, Batch, Lifted, Look, priors
from growing.emergence.steps import moved_on
from growing.emergence.thermal_time import relative_share, share_coming
from growing.emergence.verdict import CHECK_X, ENDS_X, Case, Verdict, verdicts

AHEAD_DAYS = 16
BAND = 1.28  # of the speed's spread on each side: eight in ten
INJURED = ("cucumber family", "bean", "runner_bean", "corn", "okra")
INJURY_C, INJURY_DAYS = 10.0, 2  # of warm-season seed in its first days


@dataclass
class Coming:
    """One batch: the warmth it had, what is known and said of it, and the counts."""

    item: Item
    had: Had
    case: Case
    verdict: Verdict
    counts: list[tuple[date, int]]

    @cached_property
    def line(self) -> Line:
        """Only drawn for those that are shown."""
        return _line(self.had, self.case)

    @property
    def batch(self) -> int:
        assert self.item.batch is not None
        return self.item.batch.pk

    @property
    def name(self) -> str:
        return self.item.name

    @property
    def spot_code(self) -> str:
        return self.item.spot_code

    @property
    def up(self) -> int:
        return self.counts[-1][1] if self.counts else 0

    @property
    def seeds(self) -> int:
        return self.case.batch.seeds

    @property
    def day(self) -> int:
        """Days since it was sown."""
        return self.had.hours // HOURS

    def expected_by(self, day: date) -> tuple[int, int]:
        """From and to, of eight in ten, on a day."""
        k = min(len(self.line.low) - 1, max(0, (day - self.had.start).days))
        return math.floor(self.line.low[k]), math.ceil(self.line.high[k])


def under_the_mix(now: SeasonState) -> list[Item]:
    """Batches of which something may still come: sown indoors, neither moved on nor outdoors, not all up or written off."""
    found = []
    for item in now.items:
        facts, accounts = item.raised.facts, item.raised.accounts
        if item.batch is None or facts.sown_on is None or facts.outings or moved_on(facts):
            continue
        if item.raised.dates.method != "raised" or "look" not in item.raised.course.steps:
            continue
        if accounts is not None and accounts.waiting == 0:
            continue
        found.append(item)
    return found


def coming(now: SeasonState) -> list[Coming]:
    """All of them, the most pressing first."""
    items = under_the_mix(now)
    had = warmth_had(now, items)
    counts, lifts = _written(items)
    cases = [
        _case(now, i, had[i.batch.pk], counts[i.batch.pk], lifts.get(i.batch.pk)) for i in items if i.batch is not None
    ]
    cases = _with_sisters(items, cases)
    found = []
    for item, case, verdict in zip(items, cases, verdicts(cases), strict=True):
        assert item.batch is not None
        found.append(Coming(item, had[item.batch.pk], case, verdict, counts[item.batch.pk]))
    still = [c for c in found if not _is_over(c)]
    return sorted(still, key=lambda c: (c.verdict.pressing, c.name))


def _is_over(one: Coming) -> bool:
    """Enough are up and the clock has run long, or half are up and no more are counted: they are seedlings now."""
    if one.verdict.kind == "enough":
        return one.case.x >= CHECK_X
    return one.item.raised.facts.half_up is not None and one.case.x >= ENDS_X


def _written(items: list[Item]) -> tuple[dict[int, list[tuple[date, int]]], dict[int, tuple[date, Lifted]]]:
    """What was counted, each day's last, never falling; and what was found on lifting, all together with the last day."""
    pks = [i.batch.pk for i in items if i.batch is not None]
    counts: dict[int, dict[date, int]] = {pk: {} for pk in pks}
    lifts: dict[int, tuple[date, Lifted]] = {}
    rows = BatchEvent.objects.filter(batch__in=pks, kind__in=("up", "lifted")).order_by("on", "pk")
    for pk, kind, on, count, data in rows.values_list("batch_id", "kind", "on", "count", "data"):
        if kind == "up" and count is not None:
            counts[pk][on] = count
        elif kind == "lifted" and data:
            before = lifts.get(pk, (on, Lifted()))[1]
            root, swollen, soft = (int(data.get(k, 0)) for k in ("root", "swollen", "soft"))
            lifts[pk] = on, Lifted(before.root + root, before.swollen + swollen, before.soft + soft)
    found = {}
    for pk, days in counts.items():
        most, rising = 0, []
        for day, count in sorted(days.items()):
            most = max(most, count)
            rising.append((day, most))
        found[pk] = rising
    return found, lifts


def _case(
    now: SeasonState, item: Item, had: Had, counts: list[tuple[date, int]], lifted: tuple[date, Lifted] | None
) -> Case:
    raised, crop = item.raised, item.crop
    of = curve(crop)
    clock = progress(of, had.hourly_c) if had.hours else np.zeros(1)

    def x_on(day: date) -> float:
        k = had.hour_of(day)
        return float(clock[k - 1]) if k else 0.0

    ahead = assumed_c(now, item, had.spot, now.today) if not had.measured else float(had.hourly_c[-HOURS:].mean())
    mean_c = had.mean_c if had.mean_c is not None else ahead
    mean = raised.seed.mean if raised.seed is not None else share_coming(crop, crop.number("germinate_c"))
    mean *= relative_share(crop, mean_c) if mean_c is not None else 1.0
    seeds = (raised.accounts.sown if raised.accounts else None) or raised.cells or raised.wanted
    a, b = priors(mean)
    if raised.seed is not None and raised.seed.beta is not None:
        weight = min(60.0, sum(raised.seed.beta))
        a, b = priors(mean, weight)
    looks = tuple(Look(max(x_on(day), 1e-3), min(count, seeds)) for day, count in counts)
    batch = Batch(
        seeds, crop.number("sigma"), a, b, looks, lifted[1] if lifted else Lifted(), x_on(lifted[0]) if lifted else 0.0
    )
    lay, first = laying(crop), had.hourly_c[: INJURY_DAYS * HOURS]
    warm_kind = crop.family in INJURED or crop.key in INJURED
    lamp = raised.facts.first("lamp")
    return Case(
        batch, float(clock[-1]), _need(item, seeds), now.today, of, ahead, had.measured, raised.dates.sow_closes, mean,
        low_c=lay.low_c, high_c=crop.number("high_c"), had_c=mean_c, light=crop.word("light"),
        lit=None if lamp is None and crop.word("light") != "light" else lamp is not None and lamp <= had.start + timedelta(days=1),
        years=None, injured=warm_kind and bool(len(first)) and float(first.mean()) < INJURY_C + 2,
    )  # fmt: skip


def _need(item: Item, seeds: int) -> int:
    """Seedlings that must be up so that enough are left: of several in a cell the cells count."""
    raised = item.raised
    left = raised.wanted / max(0.05, item.crop.number("survival"))
    m = max(1, raised.how.per_cell or 1)
    if raised.how.together or raised.how.surplus == "keep" or m == 1:
        return max(1, min(seeds, math.ceil(left / max(1, raised.how.clump) if m == 1 else left)))
    cells = max(1, seeds // m)
    share = min(0.98, left / cells)
    return max(1, min(seeds, math.ceil(cells * m * (1 - (1 - share) ** (1 / m)))))


def _with_sisters(items: list[Item], cases: list[Case]) -> list[Case]:
    """Of one crop sown on the same days at the same warmth the counts of one speak of the other."""
    kinds: dict[tuple[str, bool], list[int]] = defaultdict(list)
    for k, item in enumerate(items):
        kinds[item.crop.key, cases[k].measured].append(k)
    found = list(cases)
    for members in kinds.values():
        for k in members:
            others = [j for j in members if j != k and abs(cases[j].x - cases[k].x) < 0.5 and cases[j].batch.looks]
            if others:
                best = max(others, key=lambda j: cases[j].batch.looks[-1].up)
                up = cases[best].batch.looks[-1].up > 0.3 * cases[best].batch.seeds
                found[k] = cases[k]._replace(sister=best, sister_up=up)
    return found


class Line(NamedTuple):
    """What is expected up, from and to, a point a day from the sowing."""

    expected: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]


def _line(had: Had, case: Case) -> Line:
    """By the warmth had, then as the mix is taken to stay; eight batches in ten lie between."""
    hours = np.concatenate([had.hourly_c, np.full(AHEAD_DAYS * HOURS, case.ahead_c)])
    x = np.concatenate([[0.0], progress(case.of, hours)[HOURS - 1 :: HOURS]])
    share, seeds, sigma = case.mean, case.batch.seeds, case.batch.sigma
    middle = share_up(x, sigma) * share * seeds
    spread = np.sqrt(np.maximum(middle * (1 - middle / seeds), 0.0) + (0.1 * middle) ** 2)
    low = np.maximum(0.0, share_up(x * math.exp(-BAND * SPEED_SD), sigma) * share * seeds - spread)
    high = np.minimum(seeds, share_up(x * math.exp(BAND * SPEED_SD), sigma) * share * seeds + spread)
    return Line(middle, low, high)
