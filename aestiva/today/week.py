"""The days ahead on paper: a week with its minutes, a month with its tasks."""

from __future__ import annotations

import calendar
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.course.state import SeasonState, Todo
from aestiva.today.listing import Line
from aestiva.today.queries import Bundle, bundles

LONG_DAY_MINUTES = 120
AHEAD = 28  # days listed on the calendar page
NEAR = 60  # tasks listed there at once


@dataclass(slots=True)
class DayAhead:
    """One day: its tasks in the order of places, its minutes, and their share of the longest day shown."""

    day: date
    todos: list[Todo] = field(default_factory=list)
    share: int = 0  # per cent of the longest day of the week

    @property
    def bundles(self) -> list[Bundle]:
        """The day's errands, like ones together."""
        return bundles(self.todos, self.day)

    @property
    def minutes(self) -> int:
        return sum(t.task.minutes for t in self.todos)

    @property
    def is_long(self) -> bool:
        return self.minutes > LONG_DAY_MINUTES


def _by_day(now: SeasonState, todos: Iterable[Todo]) -> dict[date, list[Todo]]:
    """Tasks by the day they are for; what is overdue is for today."""
    found: dict[date, list[Todo]] = defaultdict(list)
    for todo in sorted(todos, key=lambda t: (t.task.where, t.task.kind, t.item.name)):
        found[max(todo.due, now.today)].append(todo)
    return found


def week(now: SeasonState, start: date) -> list[DayAhead]:
    """Seven days from `start`."""
    todos = _by_day(now, now.todos(start + timedelta(days=6)))
    days = [DayAhead(start + timedelta(days=k), todos.get(start + timedelta(days=k), [])) for k in range(7)]
    most = max((d.minutes for d in days), default=0) or 1
    for one in days:
        one.share = round(100 * one.minutes / most)
    return days


def month(now: SeasonState, first: date) -> list[list[DayAhead | None]]:
    """The weeks of a month, Monday first; days of other months are None."""
    weeks = calendar.Calendar().monthdatescalendar(first.year, first.month)
    todos = _by_day(now, now.todos(weeks[-1][-1]))
    return [[DayAhead(d, todos.get(d, [])) if d.month == first.month else None for d in days] for days in weeks]


class WeekAhead(NamedTuple):
    """A week of the calendar page from Monday: its minutes, its nearest tasks, how many it has besides, and all of them."""

    start: date
    end: date
    minutes: int
    near: list[Line]
    more: int
    lines: list[Line]


def weeks(lines: Iterable[Line], today: date) -> list[WeekAhead]:
    """The weeks ahead that have tasks, the nearest `NEAR` of them listed; what is overdue stands in this week."""
    by_week: dict[date, list[Line]] = defaultdict(list)
    for one in sorted(lines, key=lambda one: (one.due, one.key)):
        day = max(one.due, today)
        by_week[day - timedelta(days=day.weekday())].append(one)
    found, left = [], NEAR
    for start, here in sorted(by_week.items()):
        near = here[:left]
        left -= len(near)
        minutes = sum(one.minutes for one in here)
        found.append(WeekAhead(start, start + timedelta(days=6), minutes, near, len(here) - len(near), here))
    return found
