"""How long is the day, and which onions bulb here?  Day length, the ten-hour dates; polar day and night are results."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from functools import lru_cache
from typing import NamedTuple

from astral import Observer
from astral.sun import daylight, elevation
from astral.sun import noon as solar_noon

from growing.working import Value, Working

TEN_HOURS = 10.0
ONIONS = {"short-day": (10.0, 12.0), "intermediate": (12.0, 14.0), "long-day": (14.0, 16.0)}  # [h] at which they bulb


@lru_cache(maxsize=4096)
def day_length_h(latitude: float, day: date) -> float:
    """Hours from sunrise to sunset, 0 (polar night) to 24 (polar day)."""
    observer = Observer(latitude=latitude, longitude=0.0)
    try:
        rise, fall = daylight(observer, day)
    except ValueError:
        return 24.0 if elevation(observer, solar_noon(observer, day)) > 0 else 0.0
    return (fall - rise).total_seconds() / 3600


@lru_cache(maxsize=256)
def ten_hour_autumn(latitude: float, year: int) -> date | None:
    """The last day of the growing season that began in `year` with at least ten hours; None where it never falls."""
    southern = latitude < 0
    low, high = _summer(latitude, year), date(year + 1, 6, 21) if southern else date(year, 12, 21)
    if day_length_h(latitude, low) < TEN_HOURS or day_length_h(latitude, high) >= TEN_HOURS:
        return None
    return _turn(low, high, lambda d: day_length_h(latitude, d) < TEN_HOURS) - timedelta(days=1)


@lru_cache(maxsize=256)
def reaches(latitude: float, year: int, hours: float) -> date | None:
    """The first day between midwinter and midsummer of that spring with at least so many hours.

    None where midsummer is shorter, midwinter itself where even that is longer.
    """
    low, high = date(year, 6, 21) if latitude < 0 else date(year - 1, 12, 21), _summer(latitude, year)
    if day_length_h(latitude, high) < hours:
        return None
    if day_length_h(latitude, low) >= hours:
        return low
    return _turn(low, high, lambda d: day_length_h(latitude, d) >= hours)


def _summer(latitude: float, year: int) -> date:
    return date(year, 12, 21) if latitude < 0 else date(year, 6, 21)


def _turn(low: date, high: date, true: Callable[[date], bool]) -> date:
    """The first day for which `true` holds, false at `low`, true at `high`, and turning once between."""
    while (high - low).days > 1:
        middle = low + (high - low) // 2
        if true(middle):
            high = middle
        else:
            low = middle
    return high


class Onion(NamedTuple):
    """A type of onion here: from the first day long enough for the earliest of its kind to that for the latest.

    begins None: it does not bulb here.  ends None: the latest of its kind do not.  all_winter: days are long enough
    already at midwinter, so that it bulbs at once, too small, when sown in autumn or early spring.
    """

    kind: str
    begins: date | None
    ends: date | None
    all_winter: bool
    working: Working


def onions(latitude: float, year: int) -> list[Onion]:
    """Which onion types bulb at that latitude, and from when."""
    found = []
    longest = day_length_h(latitude, _summer(latitude, year))
    winter = date(year, 6, 21) if latitude < 0 else date(year - 1, 12, 21)
    for kind, (low, high) in ONIONS.items():
        begins, ends = reaches(latitude, year, low), reaches(latitude, year, high)
        inputs = (
            Value("needs from", low, "h", "table"),
            Value("needs to", high, "h", "table"),
            Value("longest day", longest, "h", "working"),
            Value("latest kinds", ends),
        )
        working = Working("place.onion_type", inputs, (), Value("bulbs from" if begins else "no bulbs", begins))
        found.append(Onion(kind, begins, ends, begins == winter, working))
    return found
