"""What is there to eat, sell or put in a vase, week by week, against what is wanted?

What a sowing gives comes ready over its harvest, or all at once; each piece is good for so long, and what spoils first is used first.
Amounts are in the grower's own unit; where nobody said what a plant gives they are unknown, and so is everything reckoned
from them.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

WEEK = 7


class Giving(NamedTuple):
    """What one sowing gives: its first and last day (ordinals), the amount over all of it, None: nobody knows.

    once: all of it is ready on the first day and stands until the last; otherwise it comes evenly.
    """

    key: int
    first: int
    last: int
    amount: float | None
    once: bool


class SupplyWeek(NamedTuple):
    """A week from its first day: what came ready, what is wanted, what was used, kept and spoilt.

    ready None: something is in harvest, and nobody knows how much.  giving: how many sowings are in harvest.
    """

    start: int
    ready: float | None
    wanted: float
    used: float | None
    kept: float | None
    spoilt: float | None
    giving: int

    @property
    def short(self) -> bool:
        """Is less there than is wanted, as far as anybody knows?"""
        if not self.wanted:
            return False
        return self.giving == 0 and not self.kept and not self.used if self.used is None else self.used < self.wanted


class SupplyWanted(NamedTuple):
    """So much a week, from a first to a last day (ordinals)."""

    per_week: float
    start: int
    end: int

    def of(self, week: int) -> float:
        return self.per_week if self.start < week + WEEK and week <= self.end else 0.0


def week_by_week(
    givings: Sequence[Giving], wanted: SupplyWanted, keeps_days: float | None, weeks: Sequence[int]
) -> list[SupplyWeek]:
    """The weeks in order; keeps_days: so long a piece is good once gathered, None: only in its week."""
    known = all(g.amount is not None for g in givings)
    stock: list[tuple[float, float]] = []  # (day it spoils, amount)
    found = []
    for week in weeks:
        end = week + WEEK
        here = sum(1 for g in givings if g.first < end and g.last >= week)
        if not known:
            found.append(SupplyWeek(week, None if here else 0.0, wanted.of(week), None, None, None, here))
            continue
        ready = 0.0
        for g in givings:
            amount, good = _ready(g, week, keeps_days)
            if amount:
                stock.append((good, amount))
                ready += amount
        stock.sort()
        need = left = wanted.of(week)
        rest = []
        for spoils, amount in stock:
            take = min(left, amount)
            left -= take
            if amount - take > 1e-9:
                rest.append((spoils, amount - take))
        spoilt = sum(amount for spoils, amount in rest if spoils < end)
        stock = [(spoils, amount) for spoils, amount in rest if spoils >= end]
        kept = sum(amount for _, amount in stock)
        found.append(
            SupplyWeek(week, round(ready, 6), need, round(need - left, 6), round(kept, 6), round(spoilt, 6), here)
        )
    return found


def _ready(g: Giving, week: int, keeps_days: float | None) -> tuple[float, float]:
    """What comes ready in a week, and the day after which it is no good."""
    assert g.amount is not None
    keeps = keeps_days or 0.0
    if g.once:
        return (g.amount, g.last + keeps) if week <= g.first < week + WEEK else (0.0, 0.0)
    days = min(g.last, week + WEEK - 1) - max(g.first, week) + 1
    if days <= 0:
        return 0.0, 0.0
    return g.amount * days / (g.last - g.first + 1), week + WEEK - 1 + keeps


class ByWeek:
    """Whatever has weeks of what is given against what is wanted: how many are met, and when it runs out."""

    weeks: list[SupplyWeek]

    @property
    def met(self) -> tuple[int, int]:
        return met(self.weeks)

    @property
    def runs_out(self) -> date | None:
        found = runs_out(self.weeks)
        return None if found is None else date.fromordinal(found)


def runs_out(weeks: Sequence[SupplyWeek]) -> int | None:
    """The first week (its first day) that is short after there was something; None: none is, or nobody knows."""
    had = False
    for week in weeks:
        if week.used is None:
            return None
        if had and week.short:
            return week.start
        had = had or week.used > 0
    return None


def met(weeks: Sequence[SupplyWeek]) -> tuple[int, int]:
    """Weeks in which what is wanted is there, of those in which something is wanted."""
    asked = [week for week in weeks if week.wanted]
    return sum(not week.short for week in asked), len(asked)
