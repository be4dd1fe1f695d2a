"""What is in this weather file?  Daily minima and maxima: bytes in; rows, findings and problems out.

Simple CSV, and GHCN-Daily in its long, wide and fixed-width forms.

Header, delimiter, decimal comma, date order and unit are detected and reported.  A problem that concerns the whole
file stops it (`fatal`); a problem of one row names row, code and value, and that day can be left out.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

MOST_BYTES = 32 * 1024 * 1024
MOST_COLUMNS = 200
COLDEST_C, WARMEST_C = -70.0, 60.0
FLAT_DAYS = 7  # running days with the same minimum and the same maximum: a stuck sensor (estimate)
DOUBTFUL_C = 45.0  # one day in twenty warmer than this: the column is hardly in °C
UNITS = ("C", "F", "tenths")
_DLY_VALUE = 8  # width of one day in the fixed-width form: value 5, three flags
_DLY_FIRST = 21
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

    unit: "C", "F" or "tenths" as found in the file or as told.  order: "ymd", "dmy" or "mdy".  gaps: spans of missing
    days.  where: latitude, longitude [°] and height [m] of the station, as far as the file says.
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
    where: tuple[float, float, float | None] | None = None


def read_weather(data: bytes, today: date | None = None, unit: str = "") -> WeatherFile:
    """Parse a daily file; never raises for its contents.

    today: later days are problems.  unit: one of UNITS where the reader knows better than header and values.
    """
    parsed = _read(data, unit)
    if parsed.fatal is not None:
        return parsed
    return _look_again(parsed, today, unit)


def _read(data: bytes, told: str) -> WeatherFile:
    text, encoding, fatal = decode(data)
    if fatal:
        return WeatherFile(fatal=fatal)
    if _is_fixed(text):
        pivoted, fatal = _pivot(_fixed(text))
        if fatal:
            return WeatherFile(fatal=fatal)
        return _build(pivoted, {"date": 0, "tmin": 1, "tmax": 2}, told or "tenths", False, "", encoding)
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
        return _build(pivoted, {"date": 0, "tmin": 1, "tmax": 2}, told or "tenths", False, delimiter, encoding)
    head = lines[0][1]
    columns, unit, lines, fatal = _columns(lines)
    if fatal:
        return WeatherFile(fatal=fatal)
    comma = delimiter != ","
    return replace(
        _build(lines, columns, told or unit, comma, delimiter, encoding), where=_where(head, lines[0][1], comma)
    )


def _is_fixed(text: str) -> bool:
    """The fixed-width form: an eleven-letter station, year, month and element, then 31 values of eight signs."""
    line = text.split("\n", 1)[0].rstrip("\r")
    return len(line) >= _DLY_FIRST + _DLY_VALUE and line[11:17].isdigit() and line[17:21].isalnum() and "," not in line


def _fixed(text: str) -> list[Line]:
    """The fixed-width form as rows of the long form."""
    rows: list[Line] = []
    for number, line in enumerate(text.splitlines(), 1):
        element = line[17:21]
        if element not in ("TMIN", "TMAX"):
            continue
        for k in range(31):
            at = _DLY_FIRST + k * _DLY_VALUE
            value, quality = line[at : at + 5].strip(), line[at + 6 : at + 7]
            if value and value != "-9999":
                rows.append((number, [line[:11], f"{line[11:17]}{k + 1:02d}", element, value, "", quality.strip()]))
    return rows


def _where(head: list[str], row: list[str], comma: bool) -> tuple[float, float, float | None] | None:
    """Latitude, longitude and height of the station where columns of those names give them."""
    names = [_plain(c)[0] for c in head]
    found = []
    for name in ("latitude", "longitude", "elevation"):
        i = names.index(name) if name in names else -1
        value = _number(row[i], comma) if 0 <= i < len(row) else None
        found.append(None if value is None or value != value else value)
    latitude, longitude, height = found
    if latitude is None or longitude is None or abs(latitude) > 90 or abs(longitude) > 180:
        return None
    return latitude, longitude, height


def _look_again(parsed: WeatherFile, today: date | None, told: str) -> WeatherFile:
    """Days that cannot be yet, sensors that stand still, and a unit that is hardly the one named."""
    problems = list(parsed.problems)
    drop = np.zeros(len(parsed.days), bool)
    for first, last in _flat(parsed):
        drop[first:last] = True
        spell = f"{parsed.days[first].isoformat()} … {parsed.days[last - 1].isoformat()}"
        problems.append(FileProblem(0, "flat", f"{spell}: {parsed.tmin[first]:.1f} °C"))
    if today is not None and parsed.days[-1] > today:
        future = np.array([d > today for d in parsed.days])
        drop |= future
        problems.append(
            FileProblem(0, "future", f"{int(future.sum())} ({parsed.days[int(future.argmax())].isoformat()} …)")
        )
    values = parsed.tmax[~np.isnan(parsed.tmax)] if not np.isnan(parsed.tmax).all() else parsed.tmin
    if parsed.unit == "C" and not told and float(np.nanpercentile(values, 95)) > DOUBTFUL_C:
        problems.append(FileProblem(0, "doubtful_unit", f"{float(np.nanpercentile(values, 95)):.0f}"))
    if not drop.any():
        return replace(parsed, problems=tuple(problems))
    if drop.all():
        return WeatherFile(fatal=problems[-1])
    days = tuple(d for d, gone in zip(parsed.days, drop.tolist(), strict=True) if not gone)
    return replace(
        parsed, days=days, tmin=parsed.tmin[~drop], tmax=parsed.tmax[~drop], problems=tuple(problems), gaps=_gaps(days)
    )


def _flat(parsed: WeatherFile) -> list[tuple[int, int]]:
    """Spells [first, end) of running days on which minimum and maximum never move; not in a file without maxima."""
    same = (np.diff(parsed.tmin) == 0) & (np.diff(parsed.tmax) == 0)  # NaN is never equal
    edges = np.flatnonzero(np.diff(np.concatenate(([0], same.astype(int), [0]))))
    return [(int(a), int(b) + 1) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a + 1 >= FLAT_DAYS]


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
    problems.sort()
    return WeatherFile(
        days=days,
        tmin=np.array([seen[d][1] for d in days]),
        tmax=np.array([seen[d][2] for d in days]),
        unit=unit,
        order=order,
        delimiter=delimiter,
        encoding=encoding,
        gaps=_gaps(days),
        duplicates=duplicates,
        problems=tuple(problems),
    )


def _gaps(days: Sequence[date]) -> tuple[tuple[date, date], ...]:
    """Spans of missing days between the first and the last."""
    one = timedelta(days=1)
    return tuple((a + one, b - one) for a, b in pairwise(days) if b - a > one)


def _same(a: tuple[float, float], b: tuple[float, float]) -> bool:
    return all(x == y or (x != x and y != y) for x, y in zip(a, b, strict=True))
