"""Is it coming, and what now?  Wait, look at one, top up, sow again, or too late: from the counts, the warmth had and the days left."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np

from growing.assumptions import whole
from growing.batch.posterior import SowingSoFar, ahead, posterior
from growing.seeds.clock import RateCurve, hours_until, x_for
from growing.working import Value, Working

CHECK_X, ENDS_X = 1.5, 2.0  # clocks at which one is lifted, and after which little is hoped for
LIKELY, UNLIKELY, SURE = 0.5, 0.2, 0.8
LAST_DAYS = 3  # before the last useful sowing day nobody waits for a thermometer
LONGEST_WAIT_DAYS = 60
STALE_X = 0.25  # of the clock since the last count, from which it says nothing of today
COLD_WAIT_DAYS = 14  # to a first look in mix that is too cold, from which it is better moved
LIFT_DAYS = whole("batch.verdict.LIFT_DAYS")
SHORT_WAIT_DAYS = 5.0  # a whole wait under which one looks twice a day
KINDS = ("enough", "soon", "warm", "wait", "count", "check", "looked", "top_up", "again", "keep_again", "late")
DOUBTED = ("check", "looked", "again", "keep_again", "late", "top_up", "warm")  # kinds of which it is said why
REASONS = ("cold", "hot", "light", "dark", "old", "deep", "soaked", "dry", "chilled", "rotted")


class EmergenceCase(NamedTuple):
    """One batch under the mix, on a day.

    x: its clock today.  need: seedlings that are wanted up.  ahead_c: what the mix is taken to have from now on [°C].  measured: did
    anybody measure it?  closes: the last day on which sowing again is useful.  mean: share of seed that comes, as it is taken to be.
    low_c, high_c: least and most that does well.  had_c: mean of the warmth had.
    light: what the crop needs.  lit: has a lamp been on since sowing, None: nobody said.  years: of the lot, None: not known.
    injured: warm seed that lay cold in its first days.  rotted: wet and too cold for a week.  rate: [1/day] from now on, None: that at
    ahead_c.  look: the day of the first look as its course has it, None: by the clock alone.
    lifted: the last day on which one was lifted.  more: what to sow for so many seedlings that are short, None: one by one at the share that comes.
    """

    batch: SowingSoFar
    x: float
    need: int
    today: date
    of: RateCurve
    ahead_c: float
    measured: bool
    closes: date
    mean: float
    low_c: float = 0.0
    high_c: float = 40.0
    had_c: float | None = None
    light: str = "either"
    lit: bool | None = None
    years: int | None = None
    soak_hours: float = 0.0
    soak_most: float = 24.0
    injured: bool = False
    sister: int | None = None
    sister_up: bool = False
    rotted: bool = False
    rate: float | None = None
    look: date | None = None
    lifted: date | None = None
    more: Callable[[float], int] | None = None

    def sow(self, short: float) -> int:
        """How many to sow for so many seedlings that are short."""
        if self.more is not None:
            return self.more(short)
        return max(1, math.ceil(short / max(self.mean, 0.05)))


class EmergenceVerdict(NamedTuple):
    """What to do: by is the day until which, or by which; sow: how many to sow; expected: up in the end, from and to (8 in 10).

    enough: the chance of enough in the end.  further: more that are expected.  reasons: why it may be so, the likeliest first.
    x: the clock today; looked: at the last count.  need: wanted up.
    """

    kind: str
    by: date | None
    sow: int
    up: int
    further: float
    low: float
    high: float
    enough: float
    x: float
    looked: float
    need: int
    reasons: tuple[str, ...]
    working: Working

    @property
    def short(self) -> float:
        """Seedlings that are to come from a sowing again: of one of which nothing is up all, else what is not expected any more."""
        return max(0.0, self.need - self.up - self.further) if self.up else float(self.need)

    @property
    def sows(self) -> bool:
        """Is it to sow?"""
        return self.kind in ("again", "keep_again", "top_up")

    @property
    def pressing(self) -> tuple[int, float]:
        """For the order: what must be done first, then by how little is hoped for."""
        order = ("again", "keep_again", "top_up", "warm", "count", "check", "late", "looked", "wait", "enough", "soon")
        return order.index(self.kind), self.enough


def verdicts(cases: Sequence[EmergenceCase]) -> list[EmergenceVerdict]:
    """One for each, all at once."""
    if not cases:
        return []
    found = posterior([c.batch for c in cases], [c.sister for c in cases])
    need = np.array([float(c.need) for c in cases])
    end = ahead(found, need, np.full((len(cases), 1), np.inf))
    columns = (end.further[:, 0], end.enough[:, 0], found.final_share, *found.interval())
    return [_one(c, *numbers) for c, *numbers in zip(cases, *(column.tolist() for column in columns), strict=True)]


def _one(c: EmergenceCase, further: float, enough: float, share: float, low: float, high: float) -> EmergenceVerdict:
    up = c.batch.looks[-1].up if c.batch.looks else 0
    seeds = c.batch.seeds
    kind, by, count = _kind(c, up, further, enough)
    if kind == "check" and c.lifted is not None and c.today < (again := c.lifted + timedelta(days=LIFT_DAYS)):
        kind, by = "looked", again  # what was found is in the odds; no day brings more of it
    inputs = (
        Value("up", up, "up"),
        Value("sown", seeds, "seeds"),
        Value("clock", round(c.x, 2), "", "probe" if c.measured else "assumed"),
        Value("share", round(share, 2), "share", "working"),
        Value("further", round(further, 1), "plants", "working"),
        Value("wanted", c.need, "plants"),
        Value("chance", round(enough, 2), "share", "working"),
        Value("sow again by", c.closes),
    )
    why = Working(f"emergence.verdict_{kind}", inputs, (), Value("by", by))
    return EmergenceVerdict(
        kind, by, count, up, further, max(float(up), low * seeds), max(float(up), high * seeds), enough, c.x,
        c.batch.looks[-1].x if c.batch.looks else 0.0, c.need, reasons(c) if kind in DOUBTED else (), why,
    )  # fmt: skip


def _kind(c: EmergenceCase, up: int, further: float, enough: float) -> tuple[str, date | None, int]:
    first = math.exp(-2 * c.batch.sigma)
    open_, last = c.today <= c.closes, (c.closes - c.today).days <= LAST_DAYS
    missing = max(0.0, c.need - up - further)
    whole = missing if up else float(c.need)
    if up >= c.need:
        return "enough", None, 0
    if not up and c.x < first:
        day = _day(c, first) if c.look is None else max(c.look, c.today)
        late = (day - c.today).days > COLD_WAIT_DAYS or (open_ and day > c.closes)
        return ("warm" if late and c.ahead_c < c.low_c else "soon"), day, 0
    seen = c.batch.looks[-1].x if c.batch.looks else 0.0
    if c.x - seen > STALE_X and (further >= 1 or not c.batch.looks):
        return "count", c.today, 0
    if enough >= SURE or (enough >= LIKELY and c.x < ENDS_X):
        return "wait", _day(c, max(c.x, 1.0) if c.x < 1.0 else c.x + 0.15), 0
    if enough < UNLIKELY:
        if not open_:
            return "late", None, 0
        if up and further + up > 0.25 * c.need:
            return "top_up", c.closes, c.sow(missing)
        if c.measured or c.x >= ENDS_X:
            return "again", c.closes, c.sow(whole)
        return ("keep_again", c.closes, c.sow(whole)) if last else ("check", c.closes, 0)
    if c.x >= ENDS_X and not open_:
        return "late", None, 0
    if up and c.x >= CHECK_X and open_:
        return "top_up", c.closes, c.sow(missing)
    if not c.measured and open_ and last:
        return "keep_again", c.closes, c.sow(whole)
    return "check", c.closes if open_ else None, 0


def _day(c: EmergenceCase, x: float) -> date:
    """The day on which the clock stands at x, if the mix stays as it is taken to be."""
    hours = hours_until(c.of, c.x, x, c.ahead_c, c.rate)
    return c.today + timedelta(
        days=min(LONGEST_WAIT_DAYS, math.ceil(hours / 24) if math.isfinite(hours) else LONGEST_WAIT_DAYS)
    )


def looks_a_day(days_to_half: float) -> int:
    """How often to look once the first may be up: twice a day where the whole wait is short."""
    return 2 if days_to_half < SHORT_WAIT_DAYS else 1


def reasons(c: EmergenceCase) -> tuple[str, ...]:
    """Why nothing, or too little, may be up, the likeliest first, of what is known."""
    found: list[tuple[float, str]] = []
    if c.injured:
        found.append((0.95, "chilled"))
    if c.had_c is not None and c.had_c < c.low_c:
        found.append((0.9 if c.measured else 0.6, "cold"))
    if c.had_c is not None and c.had_c > c.high_c:
        found.append((0.9 if c.measured else 0.5, "hot"))
    if c.rotted:
        found.append((0.85, "rotted"))
    if c.light == "light" and c.lit is False:
        found.append((0.7, "light"))
    if c.light == "dark" and c.lit:
        found.append((0.7, "dark"))
    if c.years is not None and c.years >= 3:
        found.append((min(0.8, 0.3 + 0.1 * c.years), "old"))
    if c.soak_hours > c.soak_most:
        found.append((0.75, "soaked"))
    if c.sister_up:
        found.append((0.4, "deep"))
    found.append((0.35, "dry"))
    if not any(reason == "deep" for _, reason in found):
        found.append((0.3, "deep"))
    return tuple(reason for _, reason in sorted(found, key=lambda one: -one[0]))


def until(of: RateCurve, x_now: float, share: float, sigma: float, celsius: float, today: date) -> date | None:
    """The day on which that share of those that will come is up at another warmth; None where it does not come."""
    hours = hours_until(of, x_now, x_for(share, sigma), celsius)
    return None if not math.isfinite(hours) or hours > 24 * 120 else today + timedelta(days=math.ceil(hours / 24))


RULES = {
    f"emergence.verdict_{kind}": ("up", "sown", "clock", "share", "further", "wanted", "chance", "sow again by")
    for kind in KINDS
}
