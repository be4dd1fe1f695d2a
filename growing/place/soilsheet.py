"""Readings of a probe in soil or mix, in whatever sheet somebody keeps them: day, hour and degrees, or what is wrong with a row."""

from __future__ import annotations

import re
from collections.abc import Mapping
from datetime import date
from typing import Any, NamedTuple

from growing.files.columns import Layout, layout, missing
from growing.files.days import order_of, read_day
from growing.files.numbers import read_number
from growing.files.sheet import SheetLine, read_sheet, texts
from growing.files.textfile import MOST_LIST_BYTES, FileProblem

MOST_ROWS = 5000
LOWEST_C, HIGHEST_C = -15.0, 45.0
NAMES: Mapping[str, tuple[str, ...]] = {
    "date": ("date", "day", "datum", "fecha", "data", "date time", "datetime", "dato"),
    "hour": ("hour", "time", "time of day", "uhrzeit", "stunde", "zeit", "heure", "hora", "ora", "tijd", "uur"),
    "soil": (
        *("soil", "soil temperature", "soil temp", "temperature", "temp", "celsius", "degrees", "reading", "probe"),
        *("mix", "mix temperature", "mix temp", "substrate", "substrat"),
        *("boden", "bodentemperatur", "temperatur", "sol", "temperature du sol", "suelo", "temperatura", "suolo", "bodem"),
    ),
}  # fmt: skip
_HOUR = re.compile(r"(\d{1,2})(?:[:.h](\d{2})?)?(?::\d{2})?\s*(am|pm)?", re.I)


class SoilRow(NamedTuple):
    """hour: of the day, 0–24; celsius: [°C]."""

    day: date
    hour: float
    celsius: float


class SoilFile(NamedTuple):
    """rows that can be read; fatal stops the file, problems name a row each; no_hour: no column or time says the hour."""

    rows: tuple[SoilRow, ...] = ()
    fatal: FileProblem | None = None
    problems: tuple[FileProblem, ...] = ()
    no_hour: bool = False


def read_soil(data: bytes, today: date, hour: float, highest_c: float = HIGHEST_C) -> SoilFile:
    """Parse readings; never raises for its contents.

    hour: of all of them, where no column says one; highest_c: above it no reading can be right [°C].
    """
    sheet = read_sheet(data, MOST_LIST_BYTES, MOST_ROWS)
    if sheet.fatal is not None:
        return SoilFile(fatal=sheet.fatal)
    found = layout(sheet, NAMES, with_parts=False)
    if lacks := missing(found, ("date", "soil")):
        headings = ", ".join(c.heading for c in found.columns)[:120]
        return SoilFile(fatal=FileProblem(found.head, f"no_{lacks[0]}_column", headings))
    if not found.body:
        return SoilFile(fatal=FileProblem(found.head, "no_rows", ""))
    at = found.at("date")
    order = "" if at is None else order_of(text.split(" ")[0] for text in texts(found.body, at))
    if order in ("?", "both"):
        return SoilFile(fatal=FileProblem(0, "which_order", found.cell(found.body[0], "date")))
    fahrenheit = any(c.meaning == "soil" and c.unit == "F" for c in found.columns)
    problems: list[FileProblem] = []
    read = _Reading(today, order or "dmy", hour, fahrenheit, highest_c)
    rows = [row for line in found.body if (row := _row(found, line, read, problems)) is not None]
    return SoilFile(tuple(rows), None, tuple(problems), not found.has("hour"))


def soil_apart(data: bytes, options: Mapping[str, Any]) -> dict[str, Any]:
    """`read_soil` for a process of its own, as plain JSON."""
    found = read_soil(data, date.fromisoformat(options["today"]), options["hour"], options["highest_c"])
    return {
        "rows": [[row.day.isoformat(), row.hour, row.celsius] for row in found.rows],
        "fatal": found.fatal,
        "problems": found.problems,
        "no_hour": found.no_hour,
    }


def soil_unpacked(found: Mapping[str, Any]) -> SoilFile:
    """What `soil_apart` packed."""
    rows = tuple(SoilRow(date.fromisoformat(day), hour, celsius) for day, hour, celsius in found["rows"])
    fatal = None if found["fatal"] is None else FileProblem(*found["fatal"])
    return SoilFile(rows, fatal, tuple(FileProblem(*p) for p in found["problems"]), found["no_hour"])


class _Reading(NamedTuple):
    """How the rows of one sheet are read."""

    today: date
    order: str
    hour: float
    fahrenheit: bool
    highest_c: float


def _row(at: Layout, line: SheetLine, read: _Reading, problems: list[FileProblem]) -> SoilRow | None:
    text, clock, degrees = at.cell(line, "date"), at.cell(line, "hour"), at.cell(line, "soil")
    if " " in text and ":" in text and not clock:  # day and time in one cell
        text, clock = text.rsplit(" ", 1)
    day, at_hour, number = (
        read_day(text, read.today, read.order),
        _hour(clock) if clock else read.hour,
        read_number(degrees),
    )
    if day is None or day > read.today:
        problems.append(FileProblem(line.number, "bad_date" if day is None else "to_come", text[:40]))
    if at_hour is None:
        problems.append(FileProblem(line.number, "bad_hour", clock[:40]))
    celsius = None if number is None else (number - 32) / 1.8 if read.fahrenheit else number
    if celsius is None or not LOWEST_C <= celsius <= read.highest_c:
        problems.append(FileProblem(line.number, "bad_number" if celsius is None else "out_of_range", degrees[:40]))
    if (
        day is None
        or day > read.today
        or at_hour is None
        or celsius is None
        or not LOWEST_C <= celsius <= read.highest_c
    ):
        return None
    return SoilRow(day, at_hour, round(celsius, 2))


def _hour(text: str) -> float | None:
    """“8”, “8:30”, “8.30”, “8h30”, “8:30 am”; None where it is none."""
    found = _HOUR.fullmatch(text.strip())
    if found is None:
        return None
    hour, minutes, half = int(found[1]), int(found[2] or 0), (found[3] or "").lower()
    if half:
        hour = hour % 12 + (12 if half == "pm" else 0)
    value = hour + minutes / 60
    return round(value, 2) if minutes < 60 and value <= 24 else None
