"""On which days is it all sown best?  Room never over, few sowing days, minutes kept, each near its own best day: solved, with a bound.

A weighted sum is made small: flats over what a zone holds, times days; sowing days begun; days from the best; minutes over what there
is on a day.  The weights say what is worth what (estimates), the solver says how far from the best a plan can be.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy import sparse

from growing.bench.ahead import SLACK, Floats

# in days from the best that one planting is moved
OVER_WEIGHT = 6.0  # a flat without room for a day
DAY_WEIGHT = 5.0  # a sowing day
MINUTE_WEIGHT = 0.2  # a minute over what there is
GAP_DONE = 1e-4


class RoomUse(NamedTuple):
    """Room that a sowing takes: index of the zone, from and until (days from the first), flats."""

    zone: int
    since: int
    until: int
    flats: float


class DayChoice(NamedTuple):
    """A sowing on one day: days from its best one, minutes at the bench, room it then takes."""

    day: int
    off: float
    minutes: float
    uses: tuple[RoomUse, ...]


class MovableSowing(NamedTuple):
    """A sowing and the days that it may have; one that is pinned has a single one."""

    key: int
    choices: tuple[DayChoice, ...]


@dataclass(frozen=True)
class SowingProblem:
    """What is to be decided.

    base: room taken by all that is not moved, (zones, days) [flats].  holds: what each zone holds, (zones,), inf where nobody
    said.  limit: minutes there are at the bench by day, one that is not listed has as many as are needed.  taken: days on which there is
    sowing anyhow, with the minutes that this takes.
    """

    sowings: tuple[MovableSowing, ...]
    base: Floats
    holds: Floats
    limit: Mapping[int, float] = field(default_factory=dict)
    taken: Mapping[int, float] = field(default_factory=dict)

    @property
    def days(self) -> int:
        return int(self.base.shape[1])


class PlanWorth(NamedTuple):
    """A plan weighed: flats times days over, sowing days besides those there are anyhow, days from the best, minutes over."""

    over: float
    days: int
    off: float
    minutes: float

    @property
    def value(self) -> float:
        return OVER_WEIGHT * self.over + DAY_WEIGHT * self.days + self.off + MINUTE_WEIGHT * self.minutes


class Plan(NamedTuple):
    """A day for every sowing, by its key, and its worth; bound: no plan is worth less than that."""

    days: dict[int, int]
    worth: PlanWorth
    bound: float
    proven: bool

    @property
    def gap(self) -> float:
        """How far it may be from the best, as a share of its value."""
        return 0.0 if self.worth.value <= self.bound + SLACK else (self.worth.value - self.bound) / self.worth.value


Tell = Callable[[float, float | None, float | None], None]  # share of the time, value in hand, bound


def weigh(task: SowingProblem, days: Mapping[int, int]) -> PlanWorth:
    """What a plan is worth, reckoned anew from its days."""
    used = task.base.copy()
    minutes = dict(task.taken)
    off, own = 0.0, set()
    for one in task.sowings:
        choice = next(c for c in one.choices if c.day == days[one.key])
        off += choice.off
        own.add(choice.day)
        minutes[choice.day] = minutes.get(choice.day, 0.0) + choice.minutes
        for use in choice.uses:
            used[use.zone, use.since : use.until] += use.flats
    over = float(np.maximum(used - task.holds[:, None], 0.0).sum())
    late = sum(max(0.0, m - task.limit[d]) for d, m in minutes.items() if d in task.limit)
    return PlanWorth(over, len(own - set(task.taken)), off, late)


def greedy(task: SowingProblem) -> Plan:
    """A plan at once: one sowing after another, those with the fewest days first, each on the day that costs least by then."""
    used, minutes = task.base.copy(), dict(task.taken)
    own: set[int] = set(task.taken)
    found: dict[int, int] = {}
    for one in sorted(task.sowings, key=lambda s: (len(s.choices), s.choices[-1].day, s.key)):
        best = min(one.choices, key=lambda c: (_more(task, used, minutes, own, c), c.off, c.day))
        found[one.key] = best.day
        own.add(best.day)
        minutes[best.day] = minutes.get(best.day, 0.0) + best.minutes
        for use in best.uses:
            used[use.zone, use.since : use.until] += use.flats
    return Plan(found, weigh(task, found), 0.0, False)


def _more(task: SowingProblem, used: Floats, minutes: Mapping[int, float], own: set[int], choice: DayChoice) -> float:
    """What one choice adds to the value by what is decided so far."""
    over = 0.0
    for use in choice.uses:
        part = used[use.zone, use.since : use.until] - task.holds[use.zone]
        over += float((np.maximum(part + use.flats, 0.0) - np.maximum(part, 0.0)).sum())
    late = 0.0
    if choice.day in task.limit:
        had = minutes.get(choice.day, 0.0) - task.limit[choice.day]
        late = max(0.0, had + choice.minutes) - max(0.0, had)
    return OVER_WEIGHT * over + DAY_WEIGHT * (choice.day not in own) + choice.off + MINUTE_WEIGHT * late


def improved(task: SowingProblem, plan: Plan, rounds: int = 12) -> Plan:
    """The same with one sowing after another moved to the day that costs least as all others stand, until none moves."""
    used, minutes = task.base.copy(), dict(task.taken)
    count: dict[int, int] = dict.fromkeys(task.taken, 1)
    now = {s.key: next(c for c in s.choices if c.day == plan.days[s.key]) for s in task.sowings}

    def put(choice: DayChoice, sign: int) -> None:
        count[choice.day] = count.get(choice.day, 0) + sign
        minutes[choice.day] = minutes.get(choice.day, 0.0) + sign * choice.minutes
        for use in choice.uses:
            used[use.zone, use.since : use.until] += sign * use.flats

    for choice in now.values():
        put(choice, 1)
    for _ in range(rounds):
        moved = False
        for one in task.sowings:
            put(had := now[one.key], -1)
            own = {d for d, n in count.items() if n > 0}
            cost = {c.day: _more(task, used, minutes, own, c) for c in one.choices}
            best = min(one.choices, key=lambda c: (cost[c.day], c.off, c.day))
            now[one.key] = best if cost[best.day] < cost[had.day] - SLACK else had
            moved = moved or now[one.key] is not had
            put(now[one.key], 1)
        if not moved:
            break
    days = {key: c.day for key, c in now.items()}
    better = Plan(days, weigh(task, days), plan.bound, False)
    return better if better.worth.value < plan.worth.value else plan


class _Model(NamedTuple):
    """The same as columns and rows for the solver: first a column a choice, then days, room, room over, minutes over."""

    cost: Floats
    upper: Floats
    whole: int
    rows: sparse.csc_matrix
    low: Floats
    high: Floats
    at: list[tuple[int, int]]
    fixed: float


def solve(task: SowingProblem, seconds: float, tell: Tell | None = None, start: Plan | None = None) -> Plan:
    """The best plan that is found in that time, never worse than the greedy one, and the bound.

    tell: is told every now and then how far it is; what it raises ends the search.  start: a plan to begin with.
    """
    first = improved(task, start or greedy(task))
    if not task.sowings:
        return first._replace(bound=first.worth.value, proven=True)
    model = _model(task)
    days, bound, proven = _run(task, model, first, seconds, tell)
    plan = Plan(days, weigh(task, days), bound, proven)
    if plan.worth.value > first.worth.value + SLACK:
        plan = Plan(first.days, first.worth, bound, False)
    bound = min(plan.bound, plan.worth.value)
    return plan._replace(
        bound=bound, proven=proven and plan.worth.value - bound <= GAP_DONE * max(1.0, plan.worth.value)
    )


def _model(task: SowingProblem) -> _Model:
    at = [(n, k) for n, one in enumerate(task.sowings) for k in range(len(one.choices))]
    picks = [task.sowings[n].choices[k] for n, k in at]
    all_days = sorted({c.day for c in picks})
    day_at = {d: i for i, d in enumerate(all_days)}
    n_x, n_y = len(at), len(all_days)
    scarce = [z for z in range(len(task.holds)) if np.isfinite(task.holds[z])]
    spans = _spans(task, picks, scarce)
    n_over = sum(len(s) for s in spans.values())
    limited = [d for d in all_days if d in task.limit]
    o0 = n_x + n_y
    m0 = o0 + n_over
    width = m0 + len(limited)
    cost = np.zeros(width)
    cost[:n_x] = [c.off for c in picks]
    cost[n_x:o0] = [0.0 if d in task.taken else DAY_WEIGHT for d in all_days]
    cost[m0:] = MINUTE_WEIGHT
    upper = np.full(width, np.inf)
    upper[:o0] = 1.0
    r, c, v = _Entries(), _Entries(), _Entries()
    low: list[float] = []
    high: list[float] = []

    def row(entries: Sequence[tuple[int, float]], least: float, most: float) -> None:
        for column, value in entries:
            r.add(len(low))
            c.add(column)
            v.add(value)
        low.append(least)
        high.append(most)

    by_sowing: dict[int, list[int]] = {}
    for i, (n, _) in enumerate(at):
        by_sowing.setdefault(n, []).append(i)
    for columns in by_sowing.values():
        row([(i, 1.0) for i in columns], 1.0, 1.0)
    for i, pick in enumerate(picks):
        if pick.day not in task.taken:
            row([(n_x + day_at[pick.day], 1.0), (i, -1.0)], 0.0, np.inf)
    column = 0
    for zone, edges in spans.items():
        covering = _covering(picks, zone, edges)
        for (since, until), some in zip(edges, covering, strict=True):
            base = float(task.base[zone, since:until].max())
            row([(o0 + column, 1.0), *((i, -f) for i, f in some)], base - float(task.holds[zone]), np.inf)
            cost[o0 + column] = OVER_WEIGHT * (until - since)
            column += 1
    for k, day in enumerate(limited):
        entries = [(i, -pick.minutes) for i, pick in enumerate(picks) if pick.day == day]
        row([(m0 + k, 1.0), *entries], task.taken.get(day, 0.0) - task.limit[day], np.inf)
    rows = sparse.csc_matrix((v.all(), (r.whole(), c.whole())), shape=(len(low), width))
    return _Model(cost, upper, n_x + n_y, rows, np.array(low), np.array(high), at, _fixed(task, spans))


def _covering(picks: Sequence[DayChoice], zone: int, edges: Sequence[tuple[int, int]]) -> list[list[tuple[int, float]]]:
    """For every stretch the choices that take room on it, with how much."""
    at = {since: k for k, (since, _) in enumerate(edges)}
    starts = np.array([since for since, _ in edges])
    found: list[dict[int, float]] = [{} for _ in edges]
    for i, pick in enumerate(picks):
        for use in pick.uses:
            if use.zone != zone or use.until <= use.since:
                continue
            first = at.get(max(0, use.since), int(np.searchsorted(starts, max(0, use.since))))
            last = int(np.searchsorted(starts, use.until))
            for k in range(first, last):
                found[k][i] = found[k].get(i, 0.0) + use.flats
    return [list(one.items()) for one in found]


class _Entries:
    """Numbers of a matrix as they come."""

    def __init__(self) -> None:
        self.found: list[float] = []

    def add(self, value: float) -> None:
        self.found.append(value)

    def all(self) -> Floats:
        return np.array(self.found, dtype=np.float64)

    def whole(self) -> NDArray[np.int64]:
        return np.array(self.found, dtype=np.int64)


def _spans(task: SowingProblem, picks: Sequence[DayChoice], scarce: Sequence[int]) -> dict[int, list[tuple[int, int]]]:
    """Of each zone that some choice touches the stretches of days on which nothing can change."""
    found: dict[int, list[tuple[int, int]]] = {}
    for zone in scarce:
        uses = [u for c in picks for u in c.uses if u.zone == zone and u.until > u.since]
        if not uses:
            continue
        cuts = {max(0, u.since) for u in uses} | {min(task.days, u.until) for u in uses}
        cuts |= {int(k) + 1 for k in np.flatnonzero(np.diff(task.base[zone]))}
        first, last = min(max(0, u.since) for u in uses), max(min(task.days, u.until) for u in uses)
        edges = sorted(k for k in cuts if first <= k <= last)
        found[zone] = [(a, b) for a, b in pairwise(edges) if a < b]
    return {zone: spans for zone, spans in found.items() if spans}


def _fixed(task: SowingProblem, spans: Mapping[int, Sequence[tuple[int, int]]]) -> float:
    """What no choice can change: room over on days that none touches, minutes that are over anyhow."""
    over = np.maximum(task.base - task.holds[:, None], 0.0)
    for zone, edges in spans.items():
        over[zone, edges[0][0] : edges[-1][1]] = 0.0
    touched = {c.day for one in task.sowings for c in one.choices}
    late = sum(max(0.0, m - task.limit[d]) for d, m in task.taken.items() if d in task.limit and d not in touched)
    return OVER_WEIGHT * float(over.sum()) + MINUTE_WEIGHT * late


def _run(
    task: SowingProblem, model: _Model, first: Plan, seconds: float, tell: Tell | None
) -> tuple[dict[int, int], float, bool]:
    """HiGHS on one thread: days, bound, and whether it was proven."""
    import highspy

    h = highspy.Highs()
    for name, value in (("output_flag", False), ("threads", 1), ("random_seed", 0), ("time_limit", float(seconds))):
        h.setOptionValue(name, value)
    h.setOptionValue("mip_rel_gap", GAP_DONE)
    lp = highspy.HighsLp()
    lp.num_col_, lp.num_row_ = len(model.cost), len(model.low)
    lp.col_cost_, lp.col_lower_, lp.col_upper_ = model.cost, np.zeros(len(model.cost)), model.upper
    lp.row_lower_, lp.row_upper_ = model.low, model.high
    lp.offset_ = model.fixed
    lp.a_matrix_.format_ = highspy.MatrixFormat.kColwise
    lp.a_matrix_.start_, lp.a_matrix_.index_, lp.a_matrix_.value_ = (
        model.rows.indptr,
        model.rows.indices,
        model.rows.data,
    )
    kinds = [highspy.HighsVarType.kInteger] * model.whole
    lp.integrality_ = kinds + [highspy.HighsVarType.kContinuous] * (len(model.cost) - model.whole)
    h.passModel(lp)
    h.setSolution(_begin(task, model, first, highspy))
    stopped: list[BaseException] = []

    def look(event: Any) -> None:
        out = event.data_out
        if tell is None or stopped:
            return
        try:
            value = out.mip_primal_bound if np.isfinite(out.mip_primal_bound) else None
            bound = out.mip_dual_bound if np.isfinite(out.mip_dual_bound) else None
            tell(min(0.99, out.running_time / max(seconds, 1e-3)), value, bound)
        except BaseException as error:
            stopped.append(error)
            event.data_in.user_interrupt = True

    if tell is not None:
        h.cbMipInterrupt += look
    h.run()
    if stopped:
        raise stopped[0]
    info, found = h.getInfo(), h.getSolution()
    bound = float(info.mip_dual_bound) if np.isfinite(info.mip_dual_bound) else 0.0
    if not found.value_valid:
        return dict(first.days), bound, False
    x = np.asarray(found.col_value)[: len(model.at)]
    best: dict[int, tuple[float, int]] = {}
    for share, (n, k) in zip(x, model.at, strict=True):
        if n not in best or share > best[n][0]:
            best[n] = (float(share), k)
    days = {task.sowings[n].key: task.sowings[n].choices[k].day for n, (_, k) in best.items()}
    return days, bound, h.getModelStatus() == highspy.HighsModelStatus.kOptimal


def _begin(task: SowingProblem, model: _Model, first: Plan, highspy: Any) -> Any:
    """The plan in hand as the solver takes it: of the choices those that are made."""
    found = highspy.HighsSolution()
    values = np.zeros(len(model.cost))
    for i, (n, k) in enumerate(model.at):
        one = task.sowings[n]
        values[i] = float(first.days[one.key] == one.choices[k].day)
    found.col_value = list(values)
    return found
