"""When is frost over, and how sure is that?  Days of a yearly event as a distribution, typed or computed.

A typed date with a spread and a climate computed from daily minima give the same object, `EventDates`: q, the share
of cold seasons with frost, and a piecewise linear distribution of the day, counted from the start of the cold season.
Quantiles are of type 8 (Hyndman & Fan 1996); seasons without frost enter as Thom (1959) has them.  The day from which
soil stays warm is such an event too.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from statistics import NormalDist
from typing import NamedTuple, Protocol

from growing.assumptions import real
from growing.calendar import cold_season_start, in_year
from growing.place.quantile import chance
from growing.working import Value, Working

THRESHOLDS = {"ground": 2.2, "frost": 0.0, "killing": -2.2}
TYPED_SPREAD_DAYS = real("place.frost.TYPED_SPREAD_DAYS")
DAYS_PER_DEGREE = real("place.frost.DAYS_PER_DEGREE")
MINIMUM_SEASONS_FOR_TENTH = 8
_GRID = (0.001, 0.005, 0.01, 0.02, 0.05, *(n / 20 for n in range(2, 19)), 0.95, 0.98, 0.99, 0.995, 0.999)
_EPSILON = 1e-9
_RULES = {"last": "place.last_frost_date", "first": "place.first_frost_date", "warm": "place.warm_date"}


class RiskDate(NamedTuple):
    """Answer to "from when is the risk at most r?".

    verdict: "dated"; "never" (so many seasons have no frost at all that the risk is never above r: no date is
    needed); "beyond" (outside the observed days: `day` is then the outermost observed one); "few" (too few frost
    seasons to say: the outermost day stands in for it).
    """

    day: date | None
    verdict: str
    working: Working


@dataclass(frozen=True, slots=True)
class EventDates:
    """The day of one event in a cold season as a distribution.

    start: first day of the cold season.  event: "last" or "first" frost, or "warm" (from this day on the soil is
    warm enough).  threshold_c: [°C].  q: share of seasons that have the event, 0–1.  days, chances: days from start
    and cumulative probability among the seasons that have it, both rising.  n: how many those are, None for a typed
    date.
    """

    start: date
    event: str
    threshold_c: float
    q: float
    days: tuple[float, ...]
    chances: tuple[float, ...]
    source: str
    n: int | None = None

    def in_season(self, start: date) -> EventDates:
        """The same distribution in the cold season that begins on `start`."""
        return self if start == self.start else replace(self, start=start)

    def cumulative(self, day: date) -> float:
        """F: the share of frost seasons whose event has come by `day`; 0 before and 1 after the record."""
        t = (day - self.start).days
        if not self.days or t < self.days[0]:
            return 0.0
        if t > self.days[-1]:
            return 1.0
        i = bisect_right(self.days, t)
        if i == len(self.days):
            return self.chances[-1]
        x0, x1 = self.days[i - 1], self.days[i]
        p0, p1 = self.chances[i - 1], self.chances[i]
        return p0 + (p1 - p0) * (t - x0) / (x1 - x0)

    def risk(self, day: date) -> float:
        """Last frost: chance that frost is still to come after `day`.  First, warm: chance that it has come by `day`."""
        f = self.cumulative(day)
        return self.q * (1 - f) if self.event == "last" else self.q * f

    def date_for(self, risk: float) -> RiskDate:
        """The day from which (last) or until which (first) the risk is at most `risk` (0 < risk < 1).

        warm: the day by which the chance has risen to `risk`.
        """
        if not 0 < risk < 1:
            raise ValueError(f"a risk must lie between 0 and 1, not {risk}")
        if risk >= self.q:
            return self._answer(None, "never", risk)
        if self.n is not None and self.n < MINIMUM_SEASONS_FOR_TENTH and min(risk, 1 - risk) <= 0.1:
            return self._answer(self.days[0] if self.event == "first" else self.days[-1], "few", risk)
        p = 1 - risk / self.q if self.event == "last" else risk / self.q
        if p > self.chances[-1] + _EPSILON:
            return self._answer(self.days[-1], "beyond", risk)
        if p < self.chances[0] - _EPSILON:
            return self._answer(self.days[0], "beyond", risk)
        if len(self.days) == 1:
            return self._answer(self.days[0], "dated", risk)
        i = min(max(bisect_right(self.chances, p), 1), len(self.chances) - 1)
        p0, p1 = self.chances[i - 1], self.chances[i]
        x = self.days[i - 1] + (self.days[i] - self.days[i - 1]) * min(1.0, max(0.0, (p - p0) / (p1 - p0)))
        return self._answer(x, "dated", risk)

    def _answer(self, x: float | None, verdict: str, risk: float) -> RiskDate:
        day = None
        if x is not None:  # whole days, on the safe side: later in spring, earlier in autumn
            whole = math.floor(x + 1e-6) if self.event == "first" else math.ceil(x - 1e-6)
            day = self.start + timedelta(days=whole)
            if verdict == "dated" and self.event != "warm" and self.risk(day) > risk + _EPSILON:
                day += timedelta(days=1 if self.event == "last" else -1)  # several years share the day itself
                if day < self.start:  # frost on the first day of the season in too many years: no month is free of it
                    day, verdict = self.start, "beyond"
        working = Working(
            _RULES[self.event],
            (
                Value("risk", risk, "share", "setting"),
                Value("threshold", self.threshold_c, "°C", "setting"),
                Value("frost seasons", self.q, "share", self.source),
                Value("seasons", self.n, "", self.source),
            ),
            (),
            Value(verdict, day, "", self.source),
        )
        return RiskDate(day, verdict, working)


def frost_dates(
    start: date, event: str, threshold_c: float, days: Sequence[float], seasons: int, source: str
) -> EventDates:
    """Distribution from the observed days of one event (days from season start, any order).

    seasons: usable seasons, with or without frost (≥ len(days), ≥ 1).  Type 8: the i-th of n days has cumulative
    probability (i − 1/3)/(n + 1/3).
    """
    if seasons < 1 or len(days) > seasons:
        raise ValueError(f"{len(days)} frost days cannot come from {seasons} seasons")
    ordered = tuple(sorted(float(d) for d in days))
    n = len(ordered)
    chances = tuple(chance(i, n) for i in range(1, n + 1))
    return EventDates(start, event, threshold_c, n / seasons, ordered, chances, source, n)


@dataclass(frozen=True, slots=True)
class TypedDate:
    """A frost date as somebody knows it.

    meaning: "average" (the 50 % date), "safe" (the 10 % date) "unknown" or "guess" (taken as average, and said so).
    spread_days: standard deviation [d]; None: the estimate.
    """

    month: int
    day: int
    meaning: str = "unknown"
    spread_days: float | None = None
    source: str = "typed"


class FrostClimate(Protocol):
    """Whatever can say when frost ends and begins here."""

    @property
    def southern(self) -> bool: ...
    def last(self, year: int, threshold_c: float = 0.0) -> EventDates: ...
    def first(self, year: int, threshold_c: float = 0.0) -> EventDates | None: ...


@dataclass(frozen=True, slots=True)
class TypedFrost:
    """Frost dates typed by the gardener, for any threshold (others than 0 °C by an estimate)."""

    southern: bool
    last_date: TypedDate
    first_date: TypedDate | None = None

    def last(self, year: int, threshold_c: float = 0.0) -> EventDates:
        return self._distribution(self.last_date, "last", year, threshold_c)

    def first(self, year: int, threshold_c: float = 0.0) -> EventDates | None:
        """First frost of the cold season that *ends* growing year `year`, i.e. of the next cold season."""
        if self.first_date is None:
            return None
        return self._distribution(self.first_date, "first", year + 1, threshold_c)

    def _distribution(self, typed: TypedDate, event: str, year: int, threshold_c: float) -> EventDates:
        start = cold_season_start(year, self.southern)
        day = in_year(typed.month, typed.day, start.year)
        if day < start:
            day = in_year(typed.month, typed.day, start.year + 1)
        sd = TYPED_SPREAD_DAYS if typed.spread_days is None else max(typed.spread_days, 0.5)
        centre = float((day - start).days)
        tenth = NormalDist().inv_cdf(0.9) * sd
        if typed.meaning == "safe":
            centre += -tenth if event == "last" else tenth
            centre = float(round(centre))
        # colder thresholds: last frost earlier, first frost later
        centre += (threshold_c if event == "last" else -threshold_c) * DAYS_PER_DEGREE
        curve = NormalDist(centre, sd)
        days = tuple(curve.inv_cdf(p) for p in _GRID)
        source = f"{typed.source}:{typed.meaning}" + ("" if threshold_c == 0 else ":estimate")
        return EventDates(start, event, threshold_c, 1.0, days, _GRID, source)
