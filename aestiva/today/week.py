"""The days ahead on paper: a week with its minutes, a month with its tasks."""

from __future__ import annotations

import calendar
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.course.state import SeasonState, Todo, by_day
from aestiva.course.state import minutes_of as todo_minutes
from aestiva.frame import say, wording
from aestiva.season.models import BatchEvent
from aestiva.today.expected import Expected, expected
from aestiva.today.listing import TaskLine, minutes_of
from aestiva.today.queries import Bundle, bundles

LONG_DAY_MINUTES = 120
AHEAD = 28  # days listed on the calendar page
MOST_NAMES = 4  # crops named of one work of a past day
NEAR = 60  # tasks listed there at once


@dataclass(slots=True)
class WeekDay:
    """One day: what was done, its tasks in the order of places, what is expected besides, its minutes, and their share
    of the longest day shown."""

    day: date
    todos: list[Todo] = field(default_factory=list)
    expected: list[Expected] = field(default_factory=list)
    done: list[str] = field(default_factory=list)
    share: int = 0  # per cent of the longest day of the week
    minutes: int = 0

    @property
    def bundles(self) -> list[Bundle]:
        """The day's errands, like ones together."""
        return bundles(self.todos, self.day)

    @property
    def is_long(self) -> bool:
        return self.minutes > LONG_DAY_MINUTES


def _by_day(now: SeasonState, todos: Iterable[Todo]) -> dict[date, list[Todo]]:
    """Tasks by the day they are for, in the order in which they are shown."""
    return by_day(sorted(todos, key=lambda t: (t.task.where, t.task.kind, t.subject.name)), now.today)


def _minutes(now: SeasonState, day: date, todos: list[Todo]) -> int:
    """Minutes of a day to come, of its tasks in hand and of what is done beside them; of a day that is over nothing is left."""
    return todo_minutes(todos) + now.upkeep_on(day) if day >= now.today else 0


def week(now: SeasonState, start: date) -> list[WeekDay]:
    """Seven days from `start`."""
    end = start + timedelta(days=6)
    found = now.todos(end)
    todos, later = _by_day(now, found), _expected_by_day(now, end, found)
    dates = [start + timedelta(days=k) for k in range(7)]
    days = [
        WeekDay(day, todos.get(day, []), later.get(day, []), minutes=_minutes(now, day, todos.get(day, [])))
        for day in dates
    ]
    most = max((d.minutes for d in days), default=0) or 1
    for one in days:
        one.share = round(100 * one.minutes / most)
    return days


def _expected_by_day(now: SeasonState, until: date, todos: list[Todo]) -> dict[date, list[Expected]]:
    found: dict[date, list[Expected]] = defaultdict(list)
    for one in expected(now, until, todos):
        found[one.day].append(one)
    return found


def month(now: SeasonState, first: date) -> list[list[WeekDay | None]]:
    """The weeks of a month, begun on the garden's own weekday; days of other months are None."""
    rows = calendar.Calendar(now.garden.week_starts).monthdatescalendar(first.year, first.month)
    end = rows[-1][-1]
    found = now.todos(end)
    todos, later, done = _by_day(now, found), _expected_by_day(now, end, found), done_by_day(now, rows[0][0], end)
    return [
        [
            WeekDay(d, todos.get(d, []), later.get(d, []), done.get(d, [])) if d.month == first.month else None
            for d in days
        ]
        for days in rows
    ]


def done_by_day(now: SeasonState, start: date, end: date) -> dict[date, list[str]]:
    """What happened to batches on the days of a span, in words; the same of one day together."""
    rows = BatchEvent.objects.filter(
        batch__planting__season__garden=now.garden, on__gte=start, on__lte=min(end, now.today)
    ).values_list("on", "kind", "batch__planting__crop_key", "count")
    together: dict[tuple[date, str], dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for on, kind, crop, count in rows:
        together[on, kind][now.crops[crop].name if crop in now.crops else crop.replace("_", " ")] += count or 0
    found: dict[date, list[str]] = defaultdict(list)
    for (on, kind), crops in sorted(together.items()):
        names = [f"{name} {count}" if count else name for name, count in sorted(crops.items())]
        found[on].append(f"{wording.EVENTS.get(kind, kind)}: {say.listed(names, MOST_NAMES)}")
    return found


class WeekAhead(NamedTuple):
    """A week of the calendar page: its minutes, its nearest tasks, how many it has besides, and all of them."""

    start: date
    end: date
    minutes: int
    near: list[TaskLine]
    more: int
    lines: list[TaskLine]


def weeks(lines: Iterable[TaskLine], today: date, begins: int = 0) -> list[WeekAhead]:
    """The weeks ahead that have tasks, the nearest `NEAR` of them listed; what is overdue stands in this week.

    begins: the weekday on which a week begins, 0 for Monday.
    """
    by_week: dict[date, list[TaskLine]] = defaultdict(list)
    for one in sorted(lines, key=lambda one: (one.due, one.key)):
        day = max(one.due, today)
        by_week[day - timedelta(days=(day.weekday() - begins) % 7)].append(one)
    found, left = [], NEAR
    for start, here in sorted(by_week.items()):
        near = here[:left]
        left -= len(near)
        minutes = minutes_of(here)
        found.append(WeekAhead(start, start + timedelta(days=6), minutes, near, len(here) - len(near), here))
    return found
