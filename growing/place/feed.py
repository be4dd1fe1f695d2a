"""What does the device say?  Readings posted as JSON by a thermometer, a soil probe or a forecast service.

    {"kind": "soil", "readings": [{"at": "2026-04-12T08:00", "celsius": 9.1}]}
    {"kind": "garden", "readings": [{"at": "2026-04-12", "celsius": -0.8}]}            the night's minimum
    {"kind": "mix", "place": "M1", "readings": [{"at": "2026-04-12T08:00", "celsius": 21.4}]}   a probe in the mix of a place
    {"kind": "scale", "tray": "T11", "readings": [{"at": "2026-04-12T08:00", "grams": 2350}]}    a scale under a tray
    {"kind": "station", "days": [{"day": "2026-04-11", "tmin": 1.2, "tmax": 11}]}      a station's own record
    {"kind": "forecast", "nights": [{"night": "2026-04-12", "tmin": 1, "tmax": 9, "cloud": 0.2, "wind": 6, "gust": 11,
                                    "rain": 0.4, "hail": 0}]}

A message is taken whole or not at all.  Order does not matter: an older reading finds its place.  A time with an offset
("2026-04-12T06:00Z", "…+14:00") is brought to the garden's clock.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, tzinfo
from typing import Any

import numpy as np

from growing.files.jsonfile import BadJson, read_json
from growing.place.nights import Night
from growing.place.soil import ProbeReading
from growing.place.station import DailyWeather, Given
from growing.place.weatherfile import COLDEST_C, WARMEST_C

MOST_READINGS = 2000
MOST_BYTES = 512 * 1024
EARLIEST = date(1900, 1, 1)
FORECAST_DAYS = 16
KINDS = ("soil", "garden", "station", "forecast", "mix", "scale")
HEAVIEST_G = 200_000.0
_LISTS = {"forecast": "nights", "station": "days"}


class BadPost(ValueError):
    """A message that cannot be taken; says which entry, what is wrong, and the mend."""


@dataclass(frozen=True, slots=True)
class Post:
    """One message: readings for kind "soil", "garden", "mix" (there with the place's short name) and "scale" (with the tray's, its
    numbers are grams); `source` with days for
    "station", with nights for "forecast"."""

    kind: str
    readings: tuple[ProbeReading, ...] = ()
    place: str = ""
    source: Given | None = None


def read_post(body: bytes, today: date, zone: tzinfo = UTC) -> Post:
    """A message from bytes, its readings in the order of their times; raises BadPost.  Readings of days to come are refused.

    zone: the garden's, in which times without an offset are meant and to which others are brought.
    """
    try:
        message = read_json(body, MOST_BYTES, 2 * MOST_READINGS, 10 * MOST_READINGS)
    except BadJson as error:
        raise BadPost(f"This is not JSON that can be taken: {error}.") from error
    kind = message.get("kind") if isinstance(message, dict) else None
    if kind not in KINDS:
        raise BadPost(f"“kind” must be one of {', '.join(KINDS)}, not {str(kind)[:40]!r}.")
    name = _LISTS.get(kind, "readings")
    rows = message.get(name)
    if not isinstance(rows, list) or not rows:
        raise BadPost(f"“{name}” must be a list with at least one entry.")
    if len(rows) > MOST_READINGS:
        raise BadPost(f"{len(rows)} entries are too many for one message: send at most {MOST_READINGS}.")
    if kind == "forecast":
        nights = tuple(_night(n, row, today, zone) for n, row in enumerate(rows, 1))
        nothing = DailyWeather(today, np.array([]), np.array([]))
        return Post(kind, source=Given(nothing, tuple({n.day: n for n in nights}.values())))
    if kind == "station":
        days = {day: pair for n, row in enumerate(rows, 1) for day, pair in [_day(n, row, today, zone)]}
        low, high = (np.array([pair[k] for pair in days.values()]) for k in (0, 1))
        return Post(kind, source=Given.of(list(days), low, high))
    readings = tuple(_reading(n, row, today, kind, zone) for n, row in enumerate(rows, 1))
    place = message.get({"mix": "place", "scale": "tray"}.get(kind, ""), "")
    if kind == "mix" and (not isinstance(place, str) or not place.strip()):
        raise BadPost("“place” must be the short name of the place whose mix was measured, such as M1.")
    if kind == "scale" and (not isinstance(place, str) or not place.strip()):
        raise BadPost("“tray” must be the short name of the tray that was weighed, such as T11.")
    in_order = sorted({(r.day, r.hour): r for r in readings}.items())
    return Post(kind, tuple(reading for _, reading in in_order), place.strip() if place else "")


def _when(number: int, row: Any, name: str, example: str, zone: tzinfo) -> datetime:
    """The time an entry is about, by the garden's clock."""
    if not isinstance(row, dict):
        raise BadPost(f"Entry {number}: must be an object with “{name}” and a temperature.")
    text = str(row.get(name, ""))[:40]
    try:
        at = datetime.fromisoformat(text)
        return at if at.tzinfo is None else at.astimezone(zone).replace(tzinfo=None)
    except (ValueError, OverflowError) as error:
        raise BadPost(f"Entry {number}: “{name}” is {text!r}: write it as {example}.") from error


def _not_ahead(number: int, day: date, today: date) -> None:
    if day > today:
        raise BadPost(f"Entry {number}: {day} has not come yet: is the device's clock right?")
    if day < EARLIEST:
        raise BadPost(f"Entry {number}: {day} is before there were thermometers here: is the device's clock right?")


def _reading(number: int, row: Any, today: date, kind: str, zone: tzinfo) -> ProbeReading:
    at = _when(number, row, "at", "2026-04-12T08:00", zone)
    _not_ahead(number, at.date(), today)
    hour = round(at.hour + at.minute / 60, 2) if kind in ("soil", "mix", "scale") else 0.0
    if kind == "scale":
        return ProbeReading(at.date(), hour, _grams(number, row.get("grams")))
    return ProbeReading(at.date(), hour, _celsius(number, "celsius", row.get("celsius")))


def _day(number: int, row: Any, today: date, zone: tzinfo) -> tuple[date, tuple[float, float]]:
    """One day of a station: minimum and maximum, NaN for a maximum not given."""
    day = _when(number, row, "day", "2026-04-11", zone).date()
    _not_ahead(number, day, today)
    if (today - day).days > MOST_READINGS:
        raise BadPost(f"Entry {number}: {day} is too long ago for a post: bring the record in as a file.")
    low = _celsius(number, "tmin", row.get("tmin"))
    high = float("nan") if row.get("tmax") is None else _celsius(number, "tmax", row["tmax"])
    if high < low:
        raise BadPost(f"Entry {number}: the minimum {low:g} is above the maximum {high:g}.")
    return day, (low, high)


def _night(number: int, row: Any, today: date, zone: tzinfo) -> Night:
    day = _when(number, row, "night", "2026-04-12", zone).date()
    if not timedelta() <= day - today < timedelta(days=FORECAST_DAYS):
        raise BadPost(f"Entry {number}: {day} is not in the next {FORECAST_DAYS} days.")
    low = _celsius(number, "tmin", row.get("tmin"))
    high = None if row.get("tmax") is None else _celsius(number, "tmax", row["tmax"])
    cloud, wind = _share(number, "cloud", row.get("cloud"), 1), _share(number, "wind", row.get("wind"), 200)
    gust, rain = _share(number, "gust", row.get("gust"), 300), _share(number, "rain", row.get("rain"), 1000)
    return Night(day, low, cloud, wind, high, gust, rain, _share(number, "hail", row.get("hail"), 1))


def _celsius(number: int, name: str, value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not COLDEST_C <= value <= WARMEST_C:
        raise BadPost(
            f"Entry {number}: “{name}” is {repr(value)[:40]}: give °C between {COLDEST_C:g} and {WARMEST_C:g}."
        )
    return round(float(value), 2)


def _grams(number: int, value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 < value <= HEAVIEST_G:
        raise BadPost(f"Entry {number}: “grams” is {repr(value)[:40]}: give grams between 1 and {HEAVIEST_G:g}.")
    return round(float(value), 1)


def _share(number: int, name: str, value: Any, most: float) -> float | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= most:
        raise BadPost(f"Entry {number}: “{name}” is {repr(value)[:40]}: give 0 to {most:g}.")
    return float(value)
