"""What is in this weather file?  Daily minima and maxima: bytes in; rows, findings and problems out.

Simple CSV, and GHCN-Daily in its long, wide and fixed-width forms.

Header, delimiter, decimal comma, date order and unit are detected and reported.  A problem that concerns the whole
file stops it (`fatal`); a problem of one row names row, code and value, and that day can be left out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from itertools import chain, islice, pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import whole
from growing.files.textfile import MOST_PROBLEMS, BadRows, FileProblem, csv_rows, decode
from growing.place.weatherlayout import Line, columns, fixed_rows, is_fixed, is_long, number_of, pivot, where_of

MOST_COLUMNS = 200
MOST_DAYS = 110_000  # three centuries
SAMPLE = 60  # rows by which the form is told
COLDEST_C, WARMEST_C = -70.0, 60.0
FLAT_DAYS = whole("place.weatherfile.FLAT_DAYS")
DOUBTFUL_C = 45.0  # one day in twenty warmer than this: the column is hardly in °C
UNITS = ("C", "F", "tenths")


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


def packed(parsed: WeatherFile) -> dict[str, Any]:
    """A parsed file as plain JSON."""
    return {
        "days": [day.toordinal() for day in parsed.days],
        "tmin": [None if v != v else v for v in parsed.tmin.tolist()],
        "tmax": [None if v != v else v for v in parsed.tmax.tolist()],
        "gaps": [[a.toordinal(), b.toordinal()] for a, b in parsed.gaps],
        "fatal": parsed.fatal,
        "problems": parsed.problems,
        **{name: getattr(parsed, name) for name in ("unit", "order", "delimiter", "encoding", "duplicates", "where")},
    }


def unpacked(found: Mapping[str, Any]) -> WeatherFile:
    """The parsed file that `packed` packed."""
    rest = {name: found[name] for name in ("unit", "order", "delimiter", "encoding", "duplicates")}
    return WeatherFile(
        days=tuple(map(date.fromordinal, found["days"])),
        tmin=np.array(found["tmin"], dtype=float),
        tmax=np.array(found["tmax"], dtype=float),
        gaps=tuple((date.fromordinal(a), date.fromordinal(b)) for a, b in found["gaps"]),
        fatal=None if found["fatal"] is None else FileProblem(*found["fatal"]),
        problems=tuple(FileProblem(*p) for p in found["problems"]),
        where=None if found["where"] is None else tuple(found["where"]),
        **rest,
    )


def read_weather(data: bytes, today: date | None = None, unit: str = "", order: str = "") -> WeatherFile:
    """Parse a daily file; never raises for its contents.

    today: later days are problems.  unit: one of UNITS where the reader knows better than header and values.  order: "dmy"
    or "mdy" where somebody said it, for days that could be either.
    """
    parsed = _read(data, unit, order)
    if parsed.fatal is not None:
        return parsed
    return _look_again(parsed, today, unit)


def _read(data: bytes, told: str, order: str) -> WeatherFile:
    text, encoding, fatal = decode(data)
    if fatal:
        return WeatherFile(fatal=fatal)
    try:
        return _table(text, encoding, told, order)
    except BadRows as error:
        return WeatherFile(fatal=error.problem)


def _table(text: str, encoding: str, told: str, order: str) -> WeatherFile:
    """The rows of any of the forms, read as a stream; raises BadRows where they cannot be read on."""
    if is_fixed(text):
        days = pivot(fixed_rows(text), MOST_DAYS)
        return _build(days, {"date": 0, "tmin": 1, "tmax": 2}, told or "tenths", False, "", encoding)
    first = text.split("\n", 1)[0]
    delimiter = max(";\t,", key=first.count) if any(d in first for d in ";\t,") else ","
    rows = csv_rows(text, delimiter)
    begin = list(islice(rows, SAMPLE))
    if not begin:
        return WeatherFile(fatal=FileProblem(0, "empty", ""))
    if max(len(r) for _, r in begin) > MOST_COLUMNS:
        return WeatherFile(fatal=FileProblem(begin[0][0], "too_wide", str(len(begin[0][1]))))
    if is_long(begin):
        days = pivot(chain(begin, rows), MOST_DAYS)
        return _build(days, {"date": 0, "tmin": 1, "tmax": 2}, told or "tenths", False, delimiter, encoding)
    lines = [*begin, *islice(rows, MOST_DAYS - len(begin))]
    if next(rows, None) is not None:
        return WeatherFile(fatal=FileProblem(0, "too_many_days", f"{MOST_DAYS:,}"))
    head = lines[0][1]
    found, unit, lines, fatal = columns(lines)
    if fatal:
        return WeatherFile(fatal=fatal)
    comma = delimiter != ","
    return replace(
        _build(lines, found, told or unit, comma, delimiter, encoding, order), where=where_of(head, lines[0][1], comma)
    )


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


def _parts(cell: str) -> tuple[int, int, int] | None:
    text = cell.strip()[:40]
    if len(text) == 8 and text.isdecimal():
        return int(text[:4]), int(text[4:6]), int(text[6:])
    parts = [p.strip() for p in text[:10].replace("/", "-").replace(".", "-").split("-")]
    if len(parts) != 3 or not all(p.isdecimal() for p in parts):
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


def _iso(lines: list[Line], column: int) -> list[date | None] | None:
    """Every day of the column when all are plain ISO days; None as soon as one is not."""
    try:
        return [date.fromisoformat(row[column]) for _, row in lines]
    except (ValueError, IndexError):
        return None


def _build(
    lines: list[Line],
    columns: dict[str, int],
    unit: str,
    comma: bool,
    delimiter: str,
    encoding: str,
    told: str = "",
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
            if told in ("dmy", "mdy"):
                order = told
            else:
                problems.append(FileProblem(0, "ambiguous_dates", lines[0][1][columns["date"]]))
        days = [None if p is None else _date(p, order) for p in parts]
    else:
        days = [d if d is not None and _EARLIEST <= d <= _LATEST else None for d in days]
    raw: list[tuple[int, date, float, float]] = []
    wide = columns.get("tmax")
    for (number, row), day in zip(lines, days, strict=True):
        if len(problems) > MOST_PROBLEMS:
            return WeatherFile(
                fatal=FileProblem(0, "too_many_problems", f"{MOST_PROBLEMS}"), problems=tuple(problems[:1])
            )
        if day is None:
            cell = row[columns["date"]] if len(row) > columns["date"] else ""
            problems.append(FileProblem(number, "bad_date", cell[:40]))
            continue
        values = []
        for column in (columns["tmin"], wide):
            cell = row[column] if column is not None and len(row) > column else ""
            value = number_of(cell, comma)
            if value is None or value in (float("inf"), float("-inf")):
                problems.append(FileProblem(number, "bad_number", cell[:40]))
                break
            values.append(value)
        else:
            raw.append((number, day, values[0], values[1]))
    return _check(raw, problems, unit, order, delimiter, encoding)


def _date(p: tuple[int, int, int], order: str) -> date | None:
    year, month, day = {"ymd": p, "dmy": (p[2], p[1], p[0]), "mdy": (p[2], p[0], p[1])}[order]
    if not _EARLIEST.year <= year <= _LATEST.year:
        return None
    try:
        return date(year, month, day)
    except ValueError:
        return None


_EARLIEST, _LATEST = date(1700, 1, 1), date(2200, 12, 31)


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
        if len(problems) > MOST_PROBLEMS:
            return WeatherFile(
                fatal=FileProblem(0, "too_many_problems", f"{MOST_PROBLEMS}"), problems=tuple(problems[:1])
            )
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
