"""From the sowing to the garden as arithmetic: half up, leaves, containers, the ladder, and what makes a planting wait.

As in `growing.chain.days` every function takes whole days as Python ints, or int32 arrays that broadcast (plantings × seasons);
days that are not whole, as a clock or a leaf takes them, are floats or float32.  `course`, `walk`, `leaves` and `standing` run
these on one batch and say why; `growing.chain.seasons` runs them on all plantings in all seasons.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np

from growing.assumptions import real, whole
from growing.chain.days import NO_DAY, NUMBER, Day, choose, earlier, later
from growing.place.growth import NEVER

LONGEST_WAIT_DAYS = 120  # for half of them to be up
PRICK_DAYS = whole("chain.rearing.PRICK_DAYS")
POT_UP_NEEDS_DAYS = 21  # before planting out, or a pot is not worth it
FURTHEST_DAYS = 150  # ahead, that a leaf is forecast
LEAST_BEHIND_DAYS = real("chain.rearing.LEAST_BEHIND_DAYS")
MOST_LATER_DAYS = 28  # that plants which are behind are waited for
SLOWEST = 1e-3  # leaves a day, under which none is forecast
PROPOSED_AT = 0.75  # of the age to which a container carries them
LEAST_BETWEEN_DAYS, LEAST_LEFT_DAYS = 7, 14  # from one move to the next; before planting out, or it is not worth it
FIRST_LOOK_DAYS = 21  # after sowing, roots are looked at for the first time
MINI_BLOCK_DAYS = 14  # from half up, that a mini block carries them
PLANNED, SMALL, WAITS, HELD, DUE = range(5)  # why a day of planting out stands

Real = Any  # float, or NDArray[np.float32]
Truth = Any  # bool, or NDArray[np.bool_]


def whole_up(days: Real) -> Day:
    """The whole days within which so many have gone by."""
    return math.ceil(days) if isinstance(days, NUMBER) else np.ceil(days).astype(np.int32)


def whole_down(days: Real) -> Day:
    """The whole days in so many."""
    return math.floor(days) if isinstance(days, NUMBER) else np.floor(days).astype(np.int32)


# Emergence


def first_look(sow: Day, first_up_days: Real) -> Day:
    """The first day on which something can be up; never the day of sowing."""
    return sow + later(1, whole_down(first_up_days))


def half_up(sow: Day, days: Real) -> Day:
    """The day on which half of those that come are up."""
    return sow + whole_up(days)


# Leaves


def leaves_on(wanted: Real, seen: Real, seen_on: Day, now: Real, a_day: Real, today: Day) -> Day:
    """The day on which a plant has so many true leaves: that of the look where it had them, otherwise by its pace [leaves a day]
    from what it has today, and no day that has gone by: for leaves that nobody saw nothing is late."""
    return choose(seen >= wanted, seen_on, today + days_ahead((wanted - now) / later(SLOWEST, a_day)))


def days_ahead(days: Real) -> Day:
    """A forecast of so many days, from today on and not beyond what can be forecast."""
    return earlier(FURTHEST_DAYS, later(0, whole_up(earlier(days, float(FURTHEST_DAYS)))))


def behind(age: Day, leaf_days: Real, leaves: Real) -> Real:
    """Days by which so many true leaves are behind an age since half were up [days]; less than 0: ahead."""
    return (later(0.0, age / leaf_days) - leaves) * leaf_days


def big_enough(out: Day, ready: Day, behind_days: Real) -> Day:
    """The day on which plants that are behind are ready to go out; NO_DAY where they are by the day planned.  No later than they are
    behind, and no more than four weeks."""
    most = earlier(MOST_LATER_DAYS, whole_up(earlier(behind_days, float(MOST_LATER_DAYS))))
    day = earlier(ready, out + most)
    return choose((behind_days >= LEAST_BEHIND_DAYS) & (day > out), day, NO_DAY)


def by_age(up: Day, days: Day, seen: Day) -> Day:
    """The day of a step that goes by leaves: as they were seen, or so many days from half up where nobody looked (NO_DAY)."""
    return choose(seen > NO_DAY, seen, up + days)


def pot_on(up: Day, days: Day, out: Day, seen: Day) -> Day:
    """The day of the usual pot, so many days from half up; NEVER where it would not be worth it any more.

    seen: the day on which it has the leaves for it, NO_DAY where nobody looked: later, but not so late that it is not worth it.
    """
    by_days, last = up + days, out - POT_UP_NEEDS_DAYS
    day = choose(seen > NO_DAY, choose(by_days <= last, earlier(seen, last), seen), by_days)
    return choose(day <= last, day, NEVER)


# Containers


class Vessels(NamedTuple):
    """Containers of plantings one after another, each a column of days, or of what is true of it.

    limit: sowing age to which each carries them.  mini: is it a block that carries them only so far from half up?  together: is it
    one space in which many stand?  after: the moves that follow it (0: it is the last, −1: it is none of this planting's).
    """

    limit: Sequence[Day]
    mini: Sequence[Truth]
    together: Sequence[Truth]
    after: Sequence[Day]


class VesselStay(NamedTuple):
    """From when to when it stands in a container, to when that carries it, and whether it comes to it at all."""

    since: Day
    until: Day
    carries: Day
    comes: Truth


def carries(sow: Day, up: Day, limit: Day, mini: Truth) -> Day:
    """The day to which a container carries a plant."""
    return choose(mini, earlier(sow + limit, up + MINI_BLOCK_DAYS), sow + limit)


def stays(
    of: Vessels, sow: Day, up: Day, out: Day, prick_days: Day, by_leaves: Day, moved: Sequence[Day] = ()
) -> list[VesselStay]:
    """Plants through their containers, from sowing to planting out; one that carries them to the end is the last.

    prick_days: from half up, out of an undivided one.  by_leaves: the day on which they have the leaves for their first pot, NO_DAY
    where nobody looked: they are moved sooner or later for that, but never past the day to which theirs carries them.  moved: the
    days of moves that have happened, in order, NO_DAY where one has not.
    """
    found: list[VesselStay] = []
    since, comes = sow, of.after[0] >= 0
    alone: Truth = False  # has it stood in one of its own?
    for n, (limit, mini, together, after) in enumerate(zip(*of, strict=True)):
        until = carries(sow, up, limit, mini)
        seen = choose(together | alone, NO_DAY, by_leaves)
        pricked = later(up + prick_days, since + LEAST_BETWEEN_DAYS)
        move = choose(together, pricked, _move(sow, since, out, until, seen))
        if n < len(moved):
            move = choose(moved[n] > NO_DAY, moved[n], move)
        move = choose(after > 0, move, out)
        found.append(VesselStay(since, earlier(move, out), until, comes))
        alone = choose(together, alone, True)
        comes, since = comes & (after > 0) & (move < out), move
        if isinstance(comes, bool) and not comes:
            break
    return found


def proposed_on(sow: Day, until: Day) -> Day:
    """The day on which a move is proposed out of what carries a plant until then."""
    return sow + whole_down(PROPOSED_AT * (until - sow))


def _move(sow: Day, since: Day, out: Day, until: Day, seen: Day) -> Day:
    """The day it is moved on from what carries it until then; that of planting out where it need not be, or is not worth it."""
    proposed = choose(seen > NO_DAY, earlier(seen, until), proposed_on(sow, until))
    first = choose(since == sow, sow + FIRST_LOOK_DAYS, since)
    day = later(later(proposed, earlier(first, until)), since + LEAST_BETWEEN_DAYS)
    return choose((until >= out) | (out - day < LEAST_LEFT_DAYS), out, day)


# What makes it wait


class Delays(NamedTuple):
    """What can make a planting wait, days each, NO_DAY where it does not.

    small: until its leaves are enough.  ladder: until its ladder is climbed; least: on which it could be, at the soonest.  begun: is it
    on its ladder?  held: until no gate is likely to hold it; holds: does one today?
    """

    small: Day
    ladder: Day
    least: Day
    begun: Truth
    held: Day
    holds: Truth


class OutDay(NamedTuple):
    """The day of planting out as it stands, and why: PLANNED, SMALL, WAITS, HELD or DUE."""

    day: Day
    because: Day


def as_it_stands(out: Day, wait: Delays) -> OutDay:
    """The day planned; later where its leaves, its ladder or a gate hold it, today where it is overdue and nothing does."""
    small = wait.small > out
    day, why = choose(small, wait.small, out), choose(small, SMALL, PLANNED)
    climbs = (wait.begun | (day < wait.least)) & (wait.ladder > day)
    day, why = choose(climbs, wait.ladder, day), choose(climbs, WAITS, why)
    later_still = wait.held > day
    why = choose(later_still, choose(wait.holds, HELD, DUE), why)
    return OutDay(choose(later_still, wait.held, day), why)
