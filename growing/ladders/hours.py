"""When does somebody carry it out, and in?  The hours that people are at home, and the times that an outing can have in them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from functools import lru_cache
from typing import NamedTuple

DARK_HOUR, FIRST_HOUR = 18, 8  # a long outing ends at dusk; nothing goes out earlier
MILD_HOUR, SHORT_HOURS = 10, 4  # a short outing begins when the morning has warmed up
SHORTEST_SHARE, LONGEST_SHARE = 0.75, 1.25  # of the hours of a rung that an outing may have to fit the day
STEP_H = 0.5
LATEST_H = 21.0

Hours = tuple[tuple[float, float], ...]  # from when to when somebody is there, in order and apart
Weekly = Sequence[Sequence[float] | None]  # a member's week from Monday: from, to [h]; None: not there that day


class Times(NamedTuple):
    """An outing by the clock: from when to when [h], how long, and whether somebody is there all the while."""

    begins: float
    ends: float
    hours: float
    attended: bool


def there(members: Iterable[Weekly | None], day: date, away: bool = False) -> Hours | None:
    """The hours of a day at which somebody is at home; None where nobody said so, () where nobody is.

    members: the week of each, None where they said nothing.  away: one of the days on which nobody is there.
    """
    if away:
        return ()
    said = [week for week in members if week is not None]
    if not said:
        return None
    spans = sorted((float(one[0]), float(one[1])) for week in said if (one := week[day.weekday()]) is not None)
    found: list[tuple[float, float]] = []
    for begin, end in spans:
        if found and begin <= found[-1][1]:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((begin, end))
    return tuple(found)


@lru_cache(maxsize=8192)
def times(hours: float, night: bool, at_home: Hours | None) -> Times | None:
    """The best times for an outing of so many hours; None where nobody could carry it out, or in again.

    As long as its rung asks, or a quarter more or less; short ones in the mild of the morning, with somebody there all
    the while where that can be; long ones before dusk.  A night ends the next morning.
    """
    ideal = float(MILD_HOUR if hours <= SHORT_HOURS else max(FIRST_HOUR, int(DARK_HOUR - hours)))
    best: tuple[float, Times] | None = None
    starts = [FIRST_HOUR + STEP_H * k for k in range(int((LATEST_H - FIRST_HOUR) / STEP_H))]
    if night:
        start = next((s for s in starts if _at(at_home, s)), None)
        return None if start is None else Times(start, float(FIRST_HOUR), hours, _all(at_home, start, DARK_HOUR))
    least, most = SHORTEST_SHARE * hours, LONGEST_SHARE * hours
    lengths = sorted({hours, *(STEP_H * k for k in range(1, 49) if least <= STEP_H * k <= most)})
    for start in starts:
        if not _at(at_home, start):
            continue
        for length in lengths:
            end = start + length
            if end > LATEST_H or not _at(at_home, end):
                continue
            attended = _all(at_home, start, end)
            price = 4 * abs(length - hours) + abs(start - ideal) + 2 * (not attended) + 2 * max(0.0, end - DARK_HOUR)
            if best is None or price < best[0]:
                best = price, Times(start, end, length, attended)
    return None if best is None else best[1]


def longest(hours: float, at_home: Hours | None) -> float:
    """The longest outing up to so many hours that somebody can carry out and in [h]; 0 where there is none."""
    tries = [hours, *(STEP_H * k for k in range(int(hours / STEP_H), 0, -1))]
    return next(
        (found.hours if found.hours < h else h for h in tries if (found := times(h, False, at_home)) is not None), 0.0
    )


def _at(at_home: Hours | None, hour: float) -> bool:
    return at_home is None or any(begin <= hour <= end for begin, end in at_home)


def _all(at_home: Hours | None, begins: float, ends: float) -> bool:
    return at_home is None or any(begin <= begins and ends <= end for begin, end in at_home)


def said(hour: float) -> str:
    """“10:00”, “13:30”."""
    return f"{int(hour)}:{round(hour % 1 * 60):02d}"
