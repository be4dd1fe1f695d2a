"""How is this weather file laid out?  A simple table, or GHCN-Daily: long, wide or fixed-width; all become rows.

A row of the common form is (line number, cells); columns say which cell is the date, tmin and tmax.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from growing.files.textfile import BadRows, FileProblem, lines

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
Line = tuple[int, list[str]]


def is_fixed(text: str) -> bool:
    """The fixed-width form: an eleven-letter station, year, month and element, then 31 values of eight signs."""
    line = text.split("\n", 1)[0].rstrip("\r")
    return (
        len(line) >= _DLY_FIRST + _DLY_VALUE and line[11:17].isdecimal() and line[17:21].isalnum() and "," not in line
    )


def fixed_rows(text: str) -> Iterator[Line]:
    """The fixed-width form as rows of the long form, one by one."""
    for number, line in enumerate(lines(text), 1):
        element = line[17:21]
        if element not in ("TMIN", "TMAX"):
            continue
        for k in range(31):
            at = _DLY_FIRST + k * _DLY_VALUE
            value, quality = line[at : at + 5].strip(), line[at + 6 : at + 7]
            if value and value != "-9999":
                yield number, [line[:11], f"{line[11:17]}{k + 1:02d}", element, value, "", quality.strip()]


def is_long(begin: list[Line]) -> bool:
    """One element a row (station, date, element, value, flags …), as the long form of GHCN-Daily has it?"""
    sample = [r for _, r in begin[1:] or begin]
    return bool(sample) and all(len(r) >= 4 and len(r[2].strip()) == 4 and r[2].strip().isupper() for r in sample)


def pivot(rows: Iterable[Line], most_days: int) -> list[Line]:
    """Rows of date, tmin, tmax from the long form; values that failed its own quality check are left empty.

    Raises BadRows for several stations, for more days than `most_days` or three values a day, and where there is none.
    """
    days: dict[str, tuple[int, list[str]]] = {}
    stations: set[str] = set()
    values = 0
    for number, row in rows:
        element = row[2].strip() if len(row) > 3 else ""
        if element not in ("TMIN", "TMAX"):
            continue
        stations.add(row[0].strip()[:40])
        if len(stations) > 1:
            raise BadRows(FileProblem(0, "many_stations", ", ".join(sorted(stations))))
        cell = row[3].strip() if len(row) < 6 or not row[5].strip() else ""
        entry = days.setdefault(row[1].strip(), (number, [row[1].strip(), "", ""]))
        entry[1][1 if element == "TMIN" else 2] = cell
        values += 1
        if len(days) > most_days or values > 3 * most_days:
            raise BadRows(FileProblem(0, "too_many_days", f"{most_days:,}"))
    if not days:
        raise BadRows(FileProblem(0, "no_tmin_column", "TMIN"))
    return list(days.values())


def columns(lines: list[Line]) -> tuple[dict[str, int], str, list[Line], FileProblem | None]:
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
    return (len(parts) == 3 and all(p.isdecimal() for p in parts)) or (
        cell.strip().isdecimal() and len(cell.strip()) == 8
    )


def where_of(head: list[str], row: list[str], comma: bool) -> tuple[float, float, float | None] | None:
    """Latitude, longitude and height of the station where columns of those names give them."""
    names = [_plain(c)[0] for c in head]
    found = []
    for name in ("latitude", "longitude", "elevation"):
        i = names.index(name) if name in names else -1
        value = number_of(row[i], comma) if 0 <= i < len(row) else None
        found.append(None if value is None or value != value else value)
    latitude, longitude, height = found
    if latitude is None or longitude is None or abs(latitude) > 90 or abs(longitude) > 180:
        return None
    return latitude, longitude, height


def number_of(cell: str, comma: bool) -> float | None:
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
