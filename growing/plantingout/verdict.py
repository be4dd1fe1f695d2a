"""Go, go with cover, or wait until when; what waiting costs, and the cheapest way through."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

import numpy as np

from growing.assumptions import whole
from growing.place.covers import COVERS
from growing.plantingout.gates import COVERED, EVENING, UNKNOWN, GateTest
from growing.plantingout.springs import SpringsAhead
from growing.plantingout.worth import DAYS, NEAR_BEST, PlantingWorth, Sort, worth
from growing.working import Value, Working

GO, COVER, AT_DUSK, WAIT = "go", "cover", "evening", "wait"
COOL_DAYS = whole("plantingout.verdict.COOL_DAYS")
POT_DAYS = whole("plantingout.verdict.POT_DAYS")
NEARLY = 0.005  # in worth, under which the way with less work is taken
WAYS = ("wait", "cover", "cool", "pot", "half")


class WayThrough(NamedTuple):
    """A way through: what is done, the day it goes out, and its worth."""

    key: str
    day: date
    worth: float


class Waiting(NamedTuple):
    """What waiting until a day costs: days over the limit of its container by then, share that age takes, days of harvest lost."""

    until: date
    days: int
    over: int
    aged: float
    harvest: float


class GoVerdict(NamedTuple):
    """May it go?  kind: go, cover, evening or wait; until: the day it waits for (None: nobody knows); by: the gates that hold it;
    today, best: worth now and on the best day of the fortnight, which is `best_day`; None where no years are known."""

    kind: str
    until: date | None
    by: tuple[str, ...]
    today: float | None
    best: float | None
    best_day: date | None
    waiting: Waiting | None
    ways: tuple[WayThrough, ...]
    working: Working | None

    @property
    def cheapest(self) -> WayThrough | None:
        """The way that keeps most, with the least work among those that keep as much."""
        return next(iter(self.ways), None)


class WaitingSeen(NamedTuple):
    """A batch's worth on each day, plain; and, of one that may not go plainly today, under the best cover at hand and with the limit
    moved by cooling or potting on.  rows: its place in each of them."""

    sort: Sort
    plain: PlantingWorth
    row: int
    covered: PlantingWorth | None = None
    cooled: PlantingWorth | None = None
    potted: PlantingWorth | None = None
    other: int = 0


def judged(
    all_gates: list[tuple[GateTest, ...]],
    sorts: list[Sort | None],
    springs: SpringsAhead | None,
    today: date,
    covers: list[tuple[str, ...]],
) -> list[GoVerdict]:
    """The verdict on every batch.  sorts: None where no years speak for it; covers: the kinds at hand for each."""
    rows = [n for n, s in enumerate(sorts) if s is not None] if springs is not None else []
    seen: dict[int, WaitingSeen] = {}
    if rows and springs is not None:
        known = {n: s for n, s in enumerate(sorts) if s is not None}
        plain = worth([known[n] for n in rows], springs)
        seen = {n: WaitingSeen(known[n], plain, k) for k, n in enumerate(rows)}
        held = [n for n in rows if any(g.holds or g.state == COVERED for g in all_gates[n])]
        if held:
            adds = {n: max((COVERS[k].adds_c for k in covers[n]), default=0.0) for n in held}
            covered = worth([known[n]._replace(cover_c=known[n].cover_c + adds[n]) for n in held], springs)
            cooled, potted = (
                worth([known[n]._replace(limit=max(known[n].limit, 0) + days) for n in held], springs)
                for days in (COOL_DAYS, POT_DAYS)
            )
            for k, n in enumerate(held):
                seen[n] = seen[n]._replace(covered=covered if adds[n] else None, cooled=cooled, potted=potted, other=k)
    return [_one(gates, seen.get(n), today) for n, gates in enumerate(all_gates)]


def _one(gates: tuple[GateTest, ...], seen: WaitingSeen | None, today: date) -> GoVerdict:
    holds = tuple(g.name for g in gates if g.holds)
    covered = tuple(g.name for g in gates if g.state == COVERED)
    until: date | None
    if holds:
        days = [g.opens for g in gates if g.holds]
        kind, until = WAIT, None if any(d is None for d in days) else max(d for d in days if d is not None)
    elif covered:
        days = [g.opens for g in gates if g.state == COVERED]
        kind, until = COVER, max((d for d in days if d is not None), default=None)
    else:
        kind, until = (AT_DUSK if any(g.state == EVENING for g in gates) else GO), None
    by = holds or covered or tuple(g.name for g in gates if g.state == UNKNOWN)
    if seen is None:
        return GoVerdict(kind, until, by, None, None, None, None, (), None)
    value = seen.plain.value[seen.row]
    best = int((value >= value.max() - NEAR_BEST).argmax())
    waiting = _waiting(seen, today, until) if kind in (WAIT, COVER) and until is not None else None
    ways = _ways(seen, today, kind, until)
    return GoVerdict(
        kind,
        until,
        by,
        float(value[0]),
        float(value[best]),
        today + timedelta(days=best),
        waiting,
        ways,
        working(seen.plain, seen.row, seen.sort, 0, today),
    )


def _waiting(seen: WaitingSeen, today: date, until: date) -> Waiting:
    days = (until - today).days
    at = min(days, DAYS - 1)
    over = max(0, days - max(seen.sort.limit, 0)) + max(0, -seen.sort.limit)
    lost = _gathered(seen, 0) - _gathered(seen, at)
    return Waiting(until, days, max(0, days - seen.sort.limit), min(0.5, seen.sort.over * over), lost)


def _gathered(seen: WaitingSeen, day: int) -> float:
    """Days of harvest on the mean of the years, of one that is picked over weeks; the share of years that give it, of one that is not."""
    share = float(seen.plain.harvest[seen.row, day].mean())
    return max(0.0, share * (seen.sort.usual + 1) - 1) if seen.sort.usual else share


def _ways(seen: WaitingSeen, today: date, kind: str, until: date | None) -> tuple[WayThrough, ...]:
    """Where it may not go plainly today: waiting, a cover, cooler and wider, a pot on, half now; the one that keeps most first."""
    if kind not in (WAIT, COVER) or until is None or seen.cooled is None or seen.potted is None:
        return ()
    at, row, other = min((until - today).days, DAYS - 1), seen.row, seen.other
    waits = float(seen.plain.value[row, at])
    found = [WayThrough("wait", until, waits)]
    now = float(seen.plain.value[row, 0])
    if kind == COVER and seen.covered is not None:
        now = float(seen.covered.value[other, 0])
        found.append(WayThrough("cover", today, now))
    longer = (
        (WayThrough("cool", until, float(seen.cooled.value[other, at]))),
        WayThrough("pot", until, float(seen.potted.value[other, at])),
    )
    found += [way for way in longer if way.worth > waits + NEARLY]
    found.append(WayThrough("half", today, (now + waits) / 2))
    best = max(w.worth for w in found)
    return tuple(
        sorted(
            found, key=lambda w: (w.worth < best - NEARLY, WAYS.index(w.key) if w.worth >= best - NEARLY else -w.worth)
        )
    )


def working(w: PlantingWorth, row: int, s: Sort, day: int, today: date) -> Working:
    """The worth of planting on a day of the fortnight, each factor with what it is from."""
    mean = lambda a: float(np.mean(a[row, day]))  # noqa: E731
    usual = Value("usual days", s.usual, "days")
    steps = (
        Working("plantingout.worth_survives", (Value("damage_c", s.harm_c, "°C"), Value("hardened", s.hardened, "share")), (),
                Value("survives", mean(w.survives), "share", "estimate")),
        Working("plantingout.worth_unchilled", (Value("chill_c", s.chill_c, "°C"),), (), Value("unchilled", mean(w.unchilled), "share", "estimate")),
        Working("plantingout.worth_unaged", (Value("over it", max(0, day - s.limit), "days"), Value("share a day", s.over, "share", "estimate")), (),
                Value("unaged", mean(w.unaged), "share", "estimate")),
        Working("plantingout.worth_harvest", (usual, Value("mature", s.mature, "days"), Value("ahead", s.ahead * 0.6, "Δdays", "estimate")), (),
                Value("harvest", mean(w.harvest), "share", "estimate")),
        Working("plantingout.worth_early", (Value("later", day, "days"), Value("share a day", s.later, "share", "estimate")), (),
                Value("early", mean(w.early), "share", "estimate")),
    )  # fmt: skip
    inputs = (
        Value("plant out", today + timedelta(days=day)),
        Value("survives", mean(w.survives), "share"),
        Value("unchilled", mean(w.unchilled), "share"),
        Value("unaged", mean(w.unaged), "share"),
        Value("harvest", mean(w.harvest), "share"),
        Value("early", mean(w.early), "share"),
        Value("years", w.survives.shape[2], ""),
    )
    return Working("plantingout.worth", inputs, steps, Value("worth", float(w.value[row, day]), "share", "estimate"))
