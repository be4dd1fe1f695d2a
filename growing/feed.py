"""What does the device say?  Readings posted as JSON by a thermometer, a soil probe or a forecast service.

    {"kind": "soil", "readings": [{"at": "2026-04-12T08:00", "celsius": 9.1}]}
    {"kind": "garden", "readings": [{"at": "2026-04-12", "celsius": -0.8}]}            the night's minimum
    {"kind": "forecast", "nights": [{"night": "2026-04-12", "tmin": 1, "tmax": 9, "cloud": 0.2, "wind": 6}]}

A message is taken whole or not at all.  Order does not matter: an older reading finds its place.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from growing.soil import Reading
from growing.watch import Night
from growing.weatherfile import COLDEST_C, WARMEST_C

MOST_READINGS = 2000
FORECAST_DAYS = 16
KINDS = ("soil", "garden", "forecast")


class BadPost(ValueError):
    """A message that cannot be taken; says which entry, what is wrong, and the mend."""


@dataclass(frozen=True, slots=True)
class Post:
    """One message: readings for kind "soil" and "garden", nights for "forecast"."""

    kind: str
    readings: tuple[Reading, ...] = ()
    nights: tuple[Night, ...] = ()


def read_post(body: bytes, today: date) -> Post:
    """A message from bytes; raises BadPost.  Readings of days to come are refused."""
    try:
        message = json.loads(body.decode("utf-8"))
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as error:
        raise BadPost(f"This is not JSON in UTF-8: {error}.") from error
    kind = message.get("kind") if isinstance(message, dict) else None
    if kind not in KINDS:
        raise BadPost(f"“kind” must be one of {', '.join(KINDS)}, not {kind!r}.")
    name = "nights" if kind == "forecast" else "readings"
    rows = message.get(name)
    if not isinstance(rows, list) or not rows:
        raise BadPost(f"“{name}” must be a list with at least one entry.")
    if len(rows) > MOST_READINGS:
        raise BadPost(f"{len(rows)} entries are too many for one message: send at most {MOST_READINGS}.")
    if kind == "forecast":
        nights = tuple(_night(n, row, today) for n, row in enumerate(rows, 1))
        return Post(kind, nights=tuple({n.day: n for n in nights}.values()))
    readings = tuple(_reading(n, row, today, kind) for n, row in enumerate(rows, 1))
    return Post(kind, readings=tuple({(r.day, r.hour): r for r in readings}.values()))


def _reading(number: int, row: Any, today: date, kind: str) -> Reading:
    if not isinstance(row, dict):
        raise BadPost(f"Entry {number}: must be an object with “at” and “celsius”.")
    text = str(row.get("at", ""))
    try:
        at = datetime.fromisoformat(text)
    except ValueError as error:
        raise BadPost(f"Entry {number}: “at” is {text!r}: write it as 2026-04-12T08:00.") from error
    if at.date() > today:
        raise BadPost(f"Entry {number}: {at.date()} has not come yet: is the device's clock right?")
    hour = round(at.hour + at.minute / 60, 2) if kind == "soil" else 0.0
    return Reading(at.date(), hour, _celsius(number, "celsius", row.get("celsius")))


def _night(number: int, row: Any, today: date) -> Night:
    if not isinstance(row, dict):
        raise BadPost(f"Entry {number}: must be an object with “night” and “tmin”.")
    text = str(row.get("night", ""))
    try:
        day = date.fromisoformat(text)
    except ValueError as error:
        raise BadPost(f"Entry {number}: “night” is {text!r}: write it as 2026-04-12.") from error
    if not timedelta() <= day - today < timedelta(days=FORECAST_DAYS):
        raise BadPost(f"Entry {number}: {day} is not in the next {FORECAST_DAYS} days.")
    low = _celsius(number, "tmin", row.get("tmin"))
    high = None if row.get("tmax") is None else _celsius(number, "tmax", row["tmax"])
    cloud, wind = _share(number, "cloud", row.get("cloud"), 1), _share(number, "wind", row.get("wind"), 200)
    return Night(day, low, cloud, wind, high)


def _celsius(number: int, name: str, value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not COLDEST_C <= value <= WARMEST_C:
        raise BadPost(f"Entry {number}: “{name}” is {value!r}: give °C between {COLDEST_C:g} and {WARMEST_C:g}.")
    return round(float(value), 2)


def _share(number: int, name: str, value: Any, most: float) -> float | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= most:
        raise BadPost(f"Entry {number}: “{name}” is {value!r}: give 0 to {most:g}.")
    return float(value)
