"""What is in this weather file?  Daily minima and maxima from CSV: bytes in; rows, findings and problems out.

Header, delimiter, decimal comma, date order and unit are detected and reported.  A problem that concerns the whole
file stops it (`fatal`); a problem of one row names row, code and value, and that day can be left out.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

MOST_BYTES = 32 * 1024 * 1024
MOST_COLUMNS = 200
COLDEST_C, WARMEST_C = -70.0, 60.0
_HEADERS = {
    "date": ("date", "day", "datum", "time", "obs_date"),
    "tmin": ("tmin", "min", "minimum", "tn", "t_min", "temp_min", "min_temp", "low", "mintemp"),
    "tmax": ("tmax", "max", "maximum", "tx", "t_max", "temp_max", "max_temp", "high", "maxtemp"),
}

_UNIT_MARKS = (
    ("°f", "F"),
    ("(f)", "F"),
    ("_f", "F"),
    ("fahrenheit", "F"),
    ("°c", "C"),
    ("(c)", "C"),
    ("_c", "C"),
    ("tenths", "tenths"),
    ("0.1", "tenths"),
)


class FileProblem(NamedTuple):
    """row: line number in the file (header = 1), 0 for the whole file.  code: what is wrong.  value: as written."""

    row: int
    code: str
    value: str


@dataclass(frozen=True, slots=True)
class WeatherFile:
    """A parsed file.  days ascending without duplicates; tmin, tmax [°C] beside them, NaN where not given.

    unit: "C", "F" or "tenths" as found in the file.  order: "ymd", "dmy" or "mdy".  gaps: spans of missing days.
    """

    days: tuple[date, ...] = ()
    tmin: NDArray[np.float64] = field(default_factory=lambda: np.array([]))
    tmax: NDArray[np.float64] = field(default_factory=lambda: np.array([]))
    unit: str = "C"
    order: str = "ymd"
    delimiter: str = ","
    encoding: str = "utf-8"
    gaps: tuple[tuple[date, date], ...] = ()
    duplicates: int = 0
    fatal: FileProblem | None = None
    problems: tuple[FileProblem, ...] = ()


def read_weather(data: bytes) -> WeatherFile:
    """Parse a daily file; never raises for its contents."""
    text, encoding, fatal = decode(data)
    if fatal:
        return WeatherFile(fatal=fatal)
    first = text.split("\n", 1)[0]
    delimiter = max(";\t,", key=first.count) if any(d in first for d in ";\t,") else ","
    rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter))
    lines = [(n, r) for n, r in enumerate(rows, 1) if r and any(c.strip() for c in r)]
    if not lines:
        return WeatherFile(fatal=FileProblem(0, "empty", ""))
    if max(len(r) for _, r in lines[:50]) > MOST_COLUMNS:
        return WeatherFile(fatal=FileProblem(lines[0][0], "too_wide", str(len(lines[0][1]))))
    if _is_long(lines):
        pivoted, fatal = _pivot(lines)
        if fatal:
            return WeatherFile(fatal=fatal)
        return _build(pivoted, {"date": 0, "tmin": 1, "tmax": 2}, "tenths", False, delimiter, encoding)
    columns, unit, lines, fatal = _columns(lines)
    if fatal:
        return WeatherFile(fatal=fatal)
    comma = delimiter != ","
    return _build(lines, columns, unit, comma, delimiter, encoding)


def decode(data: bytes) -> tuple[str, str, FileProblem | None]:
    """The text, its encoding, and what stops the file where it is none."""
    if len(data) > MOST_BYTES:
        return "", "", FileProblem(0, "too_big", str(len(data)))
    if not data.strip():
        return "", "", FileProblem(0, "empty", "")
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(encoding), encoding, None
            except UnicodeDecodeError:
                return "", "", FileProblem(0, "encoding", encoding)
    if b"\x00" in data[:65536]:
        return "", "", FileProblem(0, "binary", "")
    try:
        return data.decode("utf-8"), "utf-8", None
    except UnicodeDecodeError:
        pass
    text = data.decode("latin-1")
    odd = sum(1 for c in text[:65536] if (ord(c) < 32 and c not in "\r\n\t") or 127 <= ord(c) < 160)
    if odd > len(text[:65536]) // 100:
        return "", "", FileProblem(0, "binary", "")
    return text, "latin-1", None


Line = tuple[int, list[str]]


def _is_long(lines: list[Line]) -> bool:
    """One element a row (station, date, element, value, flags …), as the long form of GHCN-Daily has it?"""
    sample = [r for _, r in lines[1:60] or lines]
    return bool(sample) and all(len(r) >= 4 and len(r[2].strip()) == 4 and r[2].strip().isupper() for r in sample)


def _pivot(lines: list[Line]) -> tuple[list[Line], FileProblem | None]:
    """Rows of date, tmin, tmax from the long form; values that failed its own quality check are left empty."""
    days: dict[str, tuple[int, list[str]]] = {}
    stations: set[str] = set()
    for number, row in lines:
        element = row[2].strip() if len(row) > 3 else ""
        if element not in ("TMIN", "TMAX"):
            continue
        stations.add(row[0].strip())
        cell = row[3].strip() if len(row) < 6 or not row[5].strip() else ""
        entry = days.setdefault(row[1].strip(), (number, [row[1].strip(), "", ""]))
        entry[1][1 if element == "TMIN" else 2] = cell
    if len(stations) > 1:
        return [], FileProblem(0, "many_stations", ", ".join(sorted(stations)[:4]))
    if not days:
        return [], FileProblem(0, "no_tmin_column", "TMIN")
    return list(days.values()), None


def _columns(lines: list[Line]) -> tuple[dict[str, int], str, list[Line], FileProblem | None]:
    """Which column is what, the unit named in the header ("" when none), and the lines that follow it."""
    number, head = lines[0]
    names = [_plain(c) for c in head]
    found: dict[str, int] = {}
    for want, known in _HEADERS.items():
        for i, (name, _) in enumerate(names):
            if name in known and want not in found:
                found[want] = i
    if "date" not in found and _any_date(head[0]) and len(head) >= 2:  # no header at all
        return {"date": 0, "tmin": 1, **({"tmax": 2} if len(head) > 2 else {})}, "", lines, None
    for want in ("date", "tmin"):
        if want not in found:
            return {}, "", [], FileProblem(number, f"no_{want}_column", ", ".join(head)[:120])
    if len(lines) < 2:
        return {}, "", [], FileProblem(number, "no_rows", "")
    unit = names[found["tmin"]][1]
    if any(name == "tmin_attributes" for name, _ in names):  # the wide form of GHCN-Daily: tenths of a degree
        unit = "tenths"
    return found, unit, lines[1:], None


def _plain(cell: str) -> tuple[str, str]:
    """A header cell as (name, unit): "Tmin (°F)" → ("tmin", "F")."""
    text = cell.strip().lower().replace(" ", "_")
    unit = ""
    for mark, means in _UNIT_MARKS:
        if mark in text:
            unit = means
            text = text.split(mark)[0]
            break
    return text.strip("_([° "), unit


def _any_date(cell: str) -> bool:
    parts = cell.strip()[:10].replace("/", "-").replace(".", "-").split("-")
    return (len(parts) == 3 and all(p.isdigit() for p in parts)) or (cell.strip().isdigit() and len(cell.strip()) == 8)


def _parts(cell: str) -> tuple[int, int, int] | None:
    text = cell.strip()
    if len(text) == 8 and text.isdigit():
        return int(text[:4]), int(text[4:6]), int(text[6:])
    parts = text[:10].replace("/", "-").replace(".", "-").split("-")
    if len(parts) != 3 or not all(p.strip().isdigit() for p in parts):
        return None
    return int(parts[0]), int(parts[1]), int(parts[2])


def _order(parts: Sequence[tuple[int, int, int] | None]) -> tuple[str, bool]:
    """Date order of the file, and whether two orders are mixed in it."""
    known = [p for p in parts if p is not None]
    ymd = sum(p[0] > 31 for p in known)
    if ymd:
        return "ymd", ymd < len(known)
    dmy, mdy = any(p[0] > 12 for p in known), any(p[1] > 12 for p in known)
    return ("mdy" if mdy and not dmy else "dmy"), dmy and mdy


def _number(cell: str, comma: bool) -> float | None:
    """The number, NaN for an empty cell, None when it is not a number."""
    try:
        value = float(cell)
    except ValueError:
        text = cell.strip().lower()
        if text in ("", "na", "null", "-", "m"):
            return float("nan")
        if comma and "," in text:
            text = text.replace(",", ".")
        try:
            value = float(text.replace("−", "-"))
        except ValueError:
            return None
    return float("nan") if value in (9999.0, -9999.0) else value


def _iso(lines: list[Line], column: int) -> list[date | None] | None:
    """Every day of the column when all are plain ISO days; None as soon as one is not."""
    try:
        return [date.fromisoformat(row[column]) for _, row in lines]
    except (ValueError, IndexError):
        return None


def _build(
    lines: list[Line], columns: dict[str, int], unit: str, comma: bool, delimiter: str, encoding: str
) -> WeatherFile:
    problems: list[FileProblem] = []
    days, order = _iso(lines, columns["date"]), "ymd"
    if days is None:
        parts = [_parts(r[columns["date"]]) if len(r) > columns["date"] else None for _, r in lines]
        order, mixed = _order(parts)
        if mixed:
            odd = next(i for i, p in enumerate(parts) if p is not None and _date(p, order) is None)
            return WeatherFile(fatal=FileProblem(lines[odd][0], "mixed_dates", lines[odd][1][columns["date"]]))
        if order == "dmy" and not any(p is not None and p[0] > 12 for p in parts):
            problems.append(FileProblem(0, "ambiguous_dates", lines[0][1][columns["date"]]))
        days = [None if p is None else _date(p, order) for p in parts]
    raw: list[tuple[int, date, float, float]] = []
    wide = columns.get("tmax")
    for (number, row), day in zip(lines, days, strict=True):
        if day is None:
            cell = row[columns["date"]] if len(row) > columns["date"] else ""
            problems.append(FileProblem(number, "bad_date", cell[:40]))
            continue
        values = []
        for column in (columns["tmin"], wide):
            cell = row[column] if column is not None and len(row) > column else ""
            value = _number(cell, comma)
            if value is None or value in (float("inf"), float("-inf")):
                problems.append(FileProblem(number, "bad_number", cell[:40]))
                break
            values.append(value)
        else:
            raw.append((number, day, values[0], values[1]))
    return _check(raw, problems, unit, order, delimiter, encoding)


def _date(p: tuple[int, int, int], order: str) -> date | None:
    year, month, day = {"ymd": p, "dmy": (p[2], p[1], p[0]), "mdy": (p[2], p[0], p[1])}[order]
    if not 1700 <= year <= 2200:
        return None
    try:
        return date(year, month, day)
    except ValueError:
        return None


def _unit(raw: list[tuple[int, date, float, float]], named: str) -> str:
    """The unit by the header, or by what the values can be: a warm-month maximum over 60 is not °C."""
    if named:
        return named
    values = np.array([v for r in raw for v in (r[2], r[3])])
    values = values[~np.isnan(values)]
    if not values.size:
        return "C"
    spread = float(np.percentile(np.abs(values), 95))
    if spread > 130:
        return "tenths"
    if spread > 50:
        # tenths of a degree are whole numbers, often negative in winter; °F hardly ever is
        whole = bool(np.all(values == np.round(values)))
        return "tenths" if whole and float(np.mean(values < 0)) > 0.02 and float(np.min(values)) < -25 else "F"
    return "C"


def _check(
    raw: list[tuple[int, date, float, float]],
    problems: list[FileProblem],
    named: str,
    order: str,
    delimiter: str,
    encoding: str,
) -> WeatherFile:
    unit = _unit(raw, named)
    convert = {"C": lambda v: v, "F": lambda v: (v - 32) / 1.8, "tenths": lambda v: v / 10}[unit]
    seen: dict[date, tuple[int, float, float]] = {}
    bad: set[date] = set()
    duplicates = 0
    for number, day, low, high in raw:
        low, high = convert(low), convert(high)
        if low > high:  # false with NaN
            problems.append(FileProblem(number, "min_above_max", f"{low:.1f} > {high:.1f}"))
            continue
        outside = [v for v in (low, high) if v < COLDEST_C or v > WARMEST_C]
        if outside:
            problems.append(FileProblem(number, "out_of_range", f"{outside[0]:.1f}"))
            continue
        if day in seen:
            if _same(seen[day][1:], (low, high)):
                duplicates += 1
            else:
                problems.append(FileProblem(number, "contradiction", f"{day.isoformat()}, row {seen[day][0]}"))
                bad.add(day)
            continue
        seen[day] = (number, low, high)
    days = tuple(sorted(d for d in seen if d not in bad))
    if not days:
        return WeatherFile(fatal=problems[0] if problems else FileProblem(0, "no_rows", ""), problems=tuple(problems))
    gaps = []
    for a, b in pairwise(days):
        if (b - a).days > 1:
            gaps.append((a + timedelta(days=1), b - timedelta(days=1)))
    problems.sort()
    return WeatherFile(
        days=days,
        tmin=np.array([seen[d][1] for d in days]),
        tmax=np.array([seen[d][2] for d in days]),
        unit=unit,
        order=order,
        delimiter=delimiter,
        encoding=encoding,
        gaps=tuple(gaps),
        duplicates=duplicates,
        problems=tuple(problems),
    )


def _same(a: tuple[float, float], b: tuple[float, float]) -> bool:
    return all(x == y or (x != x and y != y) for x, y in zip(a, b, strict=True))
