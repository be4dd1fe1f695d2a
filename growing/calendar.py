"""Which day?  Cold seasons, windows and sowing days: dates only, never day of year."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from datetime import date, timedelta
from typing import NamedTuple

WEEK = 7


class Window(NamedTuple):
    """The days from start to end, both included."""

    start: date
    end: date

    @property
    def middle(self) -> date:
        """The middle day; of two middle days the earlier."""
        return self.start + (self.end - self.start) // 2

    @property
    def is_empty(self) -> bool:
        return self.end < self.start

    def clamp(self, day: date) -> date:
        return min(max(day, self.start), self.end)

    def __contains__(self, day: object) -> bool:
        return isinstance(day, date) and self.start <= day <= self.end


def joined(windows: Iterable[Window]) -> tuple[Window, ...]:
    """The same days in order, those that touch or overlap as one; empty ones left out."""
    found: list[Window] = []
    for one in sorted(w for w in windows if not w.is_empty):
        if found and one.start <= found[-1].end + timedelta(days=1):
            found[-1] = Window(found[-1].start, max(found[-1].end, one.end))
        else:
            found.append(one)
    return tuple(found)


def weeks(number: float) -> timedelta:
    """Whole days of a number of weeks (offsets may be halves: 1.5 weeks = 10 days, rounded down)."""
    return timedelta(days=int(number * WEEK // 1))


def cold_season_start(year: int, southern: bool) -> date:
    """First day of the cold season whose *last* frost falls in the spring of `year`.

    North: 16 July of the year before.  South: 16 January of the year itself.
    """
    return date(year, 1, 16) if southern else date(year - 1, 7, 16)


def cold_season_of(day: date, southern: bool) -> int:
    """The year that names the cold season holding `day` (inverse of `cold_season_start`)."""
    if southern:
        return day.year if (day.month, day.day) >= (1, 16) else day.year - 1
    return day.year + 1 if (day.month, day.day) >= (7, 16) else day.year


def in_year(month: int, day: int, year: int) -> date:
    """That day in that year; 29 February outside leap years is 1 March."""
    try:
        return date(year, month, day)
    except ValueError:
        if (month, day) == (2, 29):
            return date(year, 3, 1)
        raise


def nearest_day(ideal: date, window: Window, weekdays: Collection[int]) -> date | None:
    """The sowing day (0 = Monday … 6 = Sunday) in the window nearest to the ideal; of two, the later.

    None when no such day lies in the window: it is for the caller to say so, the window is not left silently.
    """
    if window.is_empty or not weekdays:
        return None
    ideal = window.clamp(ideal)
    for distance in range((window.end - window.start).days + 1):
        for day in (ideal + timedelta(days=distance), ideal - timedelta(days=distance)):
            if day in window and day.weekday() in weekdays:
                return day
    return None
