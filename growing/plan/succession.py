"""Sown again and again: which days, so that each week has what is wanted of it?

Every so many days, or by what is wanted a week: then each sowing is the one whose harvest reaches farthest on from the
first week not yet served, so that no plan has fewer sowings.  As light runs short harvests come slower; the chain says by how much.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from math import ceil
from typing import NamedTuple

from growing.chain.choice import Choice, Problem
from growing.chain.dates import date_planting
from growing.chain.late import STOPS
from growing.crops import Crop
from growing.place.year import PlaceYear
from growing.plan.supply import WEEK, Giving

GIVES_NOTHING = STOPS | {"heat", "too_early", "frost_first", "over_hold"}
MOST_SOWINGS = 60
LEAST_DAYS = 4  # of a week that a harvest must hold for that week to be served


class Candidate(NamedTuple):
    """A day on which it could be sown (ordinals): out, the middle of its first harvest, its end; what is wrong with it.

    term: "spring", or "autumn" where it gives something only as an autumn crop.
    """

    sow: int
    out: int
    first: int
    last: int
    problems: tuple[Problem, ...] = ()
    term: str = "spring"

    @property
    def gives(self) -> bool:
        return not any(p.code in GIVES_NOTHING for p in self.problems)

    def serves(self, week: int) -> bool:
        """Is it in harvest for most of that week?"""
        return min(self.last, week + WEEK - 1) - max(self.first, week) + 1 >= LEAST_DAYS


class SuccessionSowing(NamedTuple):
    """One sowing of a succession: its days, and plants for what is wanted of it; weeks: those it serves."""

    at: Candidate
    plants: int
    weeks: tuple[int, ...] = ()


class Succession(NamedTuple):
    """The sowings in order, weeks that no sowing serves, and days that were asked for and would give nothing."""

    sowings: tuple[SuccessionSowing, ...]
    unserved: tuple[int, ...] = ()
    beyond: tuple[Candidate, ...] = ()


def candidates(crop: Crop, place: PlaceYear, choice: Choice, days: Iterable[int]) -> list[Candidate]:
    """What each of those days (ordinals) would give; as an autumn crop where it gives nothing otherwise and has one."""
    found = []
    autumn = crop.word("autumn_ok") == "yes" and choice.term == "spring"
    for day in days:
        one = _candidate(crop, place, choice, day)
        if not one.gives and autumn:
            later = _candidate(crop, place, choice._replace(term="autumn"), day)
            one = later if later.gives else one
        found.append(one)
    return found


def _candidate(crop: Crop, place: PlaceYear, choice: Choice, day: int) -> Candidate:
    dates = date_planting(crop, place, choice._replace(sow_on=date.fromordinal(day)))
    return Candidate(
        day,
        dates.out_on.toordinal(),
        dates.first.middle.toordinal(),
        dates.last.toordinal(),
        tuple(p for p in dates.problems if p.code != "no_sowing_day"),
        choice.term,
    )


def every(found: Sequence[Candidate], plants: int) -> Succession:
    """Sown on each of those days; what would give nothing is left out and named."""
    return Succession(
        tuple(SuccessionSowing(c, plants) for c in found if c.gives), (), tuple(c for c in found if not c.gives)
    )


def stepped(start: int, end: int, every_days: int, free: Sequence[int]) -> list[int]:
    """Days every so many days from `start` on, each at the sowing day nearest to it, ties later; each once."""
    found: list[int] = []
    day = start
    while day <= end and len(found) < MOST_SOWINGS:
        near = min((d for d in free if start <= d <= end), key=lambda d: (abs(d - day), -d), default=None)
        if near is not None and near not in found:
            found.append(near)
        day += every_days
    return found


def by_need(found: Sequence[Candidate], weeks: Sequence[int], per_week: float, each: float, once: bool) -> Succession:
    """The fewest sowings that serve the weeks, and plants for each.

    per_week: wanted.  each: what a plant gives over its whole harvest, in the same unit.  once: all of it at one time.
    """
    sowings: list[SuccessionSowing] = []
    unserved: list[int] = []
    able = [c for c in found if c.gives]
    open_ = list(weeks)
    while open_ and len(sowings) < MOST_SOWINGS:
        week = open_[0]
        serving = [c for c in able if c.serves(week)]
        if not serving:
            unserved.append(open_.pop(0))
            continue
        best = max(serving, key=lambda c: (sum(c.serves(w) for w in open_), -c.sow))
        served = [w for w in open_ if best.serves(w)]
        sowings.append(SuccessionSowing(best, plants_for(best, len(served), per_week, each, once), tuple(served)))
        open_ = [w for w in open_ if w not in served]
    return Succession(tuple(sorted(sowings)), tuple(unserved + open_))


def plants_for(at: Candidate, weeks: int, per_week: float, each: float, once: bool) -> int:
    """Plants that give so much in each of so many weeks."""
    if once:
        return max(1, ceil(round(per_week * weeks / each, 9)))
    a_week = each * WEEK / (at.last - at.first + 1)
    return max(1, ceil(round(per_week / a_week, 9)))


def givings(sowings: Iterable[SuccessionSowing], each: float | None, once: bool) -> list[Giving]:
    """What the sowings give."""
    return [
        Giving(k, s.at.first, s.at.last, None if each is None else s.plants * each, once) for k, s in enumerate(sowings)
    ]
