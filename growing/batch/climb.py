"""How does this batch climb its ladder from today on?"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta

from growing.assumptions import whole
from growing.batch.facts import BatchFacts
from growing.batch.stress import apart_from_others
from growing.ladders.ahead import LadderAhead, LadderCase, LadderLimits, ahead, limits_of, nights_out
from growing.ladders.climbing import AROUND_DAYS

JUST_EMERGED = "fresh"  # the ladder of what is carried out as soon as it is up
BARE_DAYS = whole("batch.climb.BARE_DAYS")
STRESS = ("looked_limp", "looked_bleached")


def case_of(one: BatchFacts, today: date) -> LadderCase | None:
    """The batch as its ladder sees it; None where it climbs none, or is up no further than to stay in."""
    facts, step, place = one.facts, one.course.steps.get("harden"), one.hardened
    if not one.growing or step is None or place is None or place.rung is None:
        return None
    since, begins = max(step.due, today), max(step.due, today)
    if facts.outings or step.due < today:
        since, begins = today, None  # type: ignore[assignment]
    up = one.course.steps.get("up")
    old_enough = today
    if up is not None and not facts.outings:  # what is still under the mix, or came yesterday, goes nowhere
        seen = facts.first_up or up.due
        old_enough = (
            max(up.due, seen) if facts.half_up is None else min(up.due, facts.half_up)
        )  # a late count makes nobody younger
        old_enough += timedelta(days=0 if one.ladder.key == JUST_EMERGED else BARE_DAYS)
        since, begins = max(since, old_enough), None if begins is None else max(begins, old_enough)
    if not facts.outings:
        apart, _ = apart_from_others(one, "harden", since, today)
        if apart == since and begins is not None:  # a grey day may come before the plan
            early = max(today, old_enough, begins - timedelta(days=AROUND_DAYS))
            free, _ = apart_from_others(one, "harden", early, today)
            since = early if free == early and (up is None or facts.first_up is not None) else since
        else:
            since, begins = apart, None if begins is None else apart
    last = max([o.day for o in facts.outings[-1:]] + ([facts.out.day] if facts.out is not None else []), default=None)
    if last == today:
        since = max(since, today + timedelta(days=1))
    limits = limits_for(one)
    had = nights_out(facts.outings)
    return LadderCase(
        one.ladder, place, had, begins, since, limits, one.nights, today, one.shift_c, one.stands, one.door
    )


def limits_for(one: BatchFacts) -> LadderLimits:
    """What it bears on its ladder."""
    return limits_of(one.crop, one.summer_night_c, one.summer_day_c, one.accepted_risk, one.door.roof)


def ladder_ahead(one: BatchFacts, today: date) -> LadderAhead | None:
    """What the days until it is hardened bring; None where it climbs no ladder now."""
    case = case_of(one, today)
    return None if case is None else ahead(case)


def stressed(days: Mapping[str, tuple[date, ...]]) -> frozenset[date]:
    """The days on which they looked limp or bleached after an outing."""
    return frozenset(day for kind in STRESS for day in days.get(kind, ()))


def night_limit_c(one: BatchFacts) -> float:
    """The coldest night at the plant that it may stay out now [°C] (`limits_of`)."""
    limits = limits_for(one)
    return max(limits.night_c - limits.colder_c * nights_out(one.facts.outings), limits.least_c)
