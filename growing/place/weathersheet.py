"""Daily weather in whatever sheet somebody keeps it: made into the plain table that `weatherfile` reads.

Row numbers stay those of the sheet, so that a problem is named where the grower finds it.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any, NamedTuple

from growing.files.columns import Column, Layout, layout, missing
from growing.files.days import order_of, read_day
from growing.files.numbers import read_number
from growing.files.sheet import Sheet, SheetLine, read_sheet, texts
from growing.files.textfile import MOST_BYTES, FileProblem
from growing.place.weatherfile import MOST_DAYS, WeatherFile, packed, read_weather, unpacked

NAMES: Mapping[str, tuple[str, ...]] = {
    "date": ("date", "datum", "fecha", "data", "day of year", "obs date", "date time", "datetime", "dato"),
    "tmin": (
        *("tmin", "t min", "min", "minimum", "min temp", "temp min", "minimum temperature", "daily minimum", "low", "night", "lowest"),
        *("tiefst", "tiefsttemperatur", "minimale", "temperature minimale", "minima", "temperatura minima", "tn", "min temperature"),
        *("laagste", "minimumtemperatuur"),
    ),
    "tmax": (
        *("tmax", "t max", "max", "maximum", "max temp", "temp max", "maximum temperature", "daily maximum", "high", "highest"),
        *("hochst", "hochsttemperatur", "maximale", "temperature maximale", "maxima", "temperatura massima", "temperatura maxima"),
        *("tx", "max temperature", "hoogste", "maximumtemperatuur"),
    ),
}  # fmt: skip
MEANINGS = {
    "date": "date",
    "tmin": "lowest of the day",
    "tmax": "highest of the day",
    "year": "year",
    "month": "month",
    "day": "day",
}
SHEETS_PROBLEMS = frozenset(
    ("no_date_column", "no_tmin_column", "mixed_dates", "too_many_problems", "bad_date", "no_rows")
)


EXAMPLES = 25  # rows that go along where columns are asked for


class DailySheet(NamedTuple):
    """data: the plain table; `missing` columns are asked for, by `layout`; fatal: what stops it."""

    data: bytes = b""
    layout: Layout | None = None
    missing: tuple[str, ...] = ()
    fatal: FileProblem | None = None


def is_plain(data: bytes) -> bool:
    """Does `weatherfile` read it as it is?"""
    if data.startswith(b"PK\x03\x04"):
        return False
    fatal = read_weather(data).fatal
    return fatal is None or fatal.code not in SHEETS_PROBLEMS


def as_daily(
    data: bytes, near: date, told: Mapping[int, str] | None = None, known: Mapping[str, str] | None = None
) -> DailySheet:
    """The plain table that a sheet holds; what is one already passes as it is.  told, known: as `layout` has them."""
    if told is None and is_plain(data):
        return DailySheet(data)
    sheet = read_sheet(data, MOST_BYTES, MOST_DAYS)
    if sheet.fatal is not None:
        return DailySheet(fatal=sheet.fatal)
    found = layout(sheet, NAMES, told, known)
    if not found.body:
        return DailySheet(layout=found, fatal=FileProblem(found.head, "no_rows", ""))
    parts = found.has("year") and found.has("month") and found.has("day")
    lacks = tuple(m for m in missing(found, ("date", "tmin")) if not (m == "date" and parts))
    if lacks:
        return DailySheet(layout=found, missing=lacks)
    return DailySheet(_table(found, sheet, near), found)


def _table(found: Layout, sheet: Sheet, near: date) -> bytes:
    """date, tmin, tmax, a line for every line of the sheet."""
    units = {c.meaning: c.unit for c in found.columns}
    unit = {"F": " (°F)", "C": " (°C)"}.get(units.get("tmin", ""), "")
    at = found.at("date")
    order = "" if at is None else order_of(texts(found.body, at))
    has_max = found.has("tmax")
    lines = [""] * (found.head - 1) + [f"date,tmin{unit}" + (f",tmax{unit}" if has_max else "")]
    for line in found.body:
        lines += [""] * (line.number - len(lines) - 1)
        cells = [_day(found, line, near, order), _number(found.cell(line, "tmin"))]
        lines.append(",".join([*cells, *([_number(found.cell(line, "tmax"))] if has_max else [])]))
    return "\n".join(lines).encode()


def _day(found: Layout, line: SheetLine, near: date, order: str) -> str:
    """The day as year-month-day where it is told; as written where it is not, or where its order is open."""
    if found.has("date"):
        text = found.cell(line, "date")
        if order in ("?", "both"):
            return text
        day = read_day(text, near, order or "dmy")
        return text.replace(",", " ") if day is None else day.isoformat()
    year, month, day_ = (found.cell(line, part) for part in ("year", "month", "day"))
    read = read_day(f"{day_} {month} {year}" if not month.isdecimal() else f"{day_}.{month}.{year}", near)
    return f"{day_} {month} {year}" if read is None else read.isoformat()


def _number(cell: str) -> str:
    value = read_number(cell)
    return cell.replace(",", " ") if value is None else f"{value:g}"


def weather_apart(data: bytes, options: Mapping[str, Any]) -> dict[str, Any]:
    """Daily weather read in a process of its own, as plain JSON: the parsed file, or the columns that are asked for.

    options: near, the day that short years are near to; today, after which no day can be, or None; known, columns, as
    `as_daily` has them (columns with text for keys); unit, order, as `read_weather` has them.
    """
    told = {int(at): meaning for at, meaning in options.get("columns", {}).items()}
    daily = as_daily(data, date.fromisoformat(options["near"]), told or None, options.get("known"))
    found = daily.layout
    columns = None if found is None else [list(column) for column in found.columns]
    if daily.fatal is not None:
        return {"file": packed(WeatherFile(fatal=daily.fatal)), "columns": columns, "missing": []}
    if daily.missing and found is not None:
        first = [[line.number, list(line.cells)] for line in found.body[:EXAMPLES]]
        asked = {"above": found.above, "head": found.head, "first": first}
        return {"file": None, "columns": columns, "missing": list(daily.missing), **asked}
    today = None if options.get("today") is None else date.fromisoformat(options["today"])
    parsed = read_weather(daily.data, today, options.get("unit", ""), options.get("order", ""))
    return {"file": packed(parsed), "columns": columns, "missing": []}


def layout_of(found: Mapping[str, Any]) -> Layout | None:
    """The columns of a sheet that `weather_apart` read, with its first rows where they are asked for."""
    if found["columns"] is None:
        return None
    columns = tuple(Column(*column) for column in found["columns"])
    body = tuple(SheetLine(number, tuple(cells)) for number, cells in found.get("first", ()))
    where = {column.meaning: column.at for column in columns if column.meaning}
    return Layout(columns, body, found.get("above", 0), found.get("head", 0), where)


def daily_of(found: Mapping[str, Any]) -> WeatherFile:
    """The parsed file; where columns are still asked for, what that stops."""
    if found["file"] is not None:
        return unpacked(found["file"])
    headings = ", ".join(heading for _, heading, _, _ in found["columns"])[:120]
    return WeatherFile(fatal=FileProblem(found["head"], f"no_{found['missing'][0]}_column", headings))
