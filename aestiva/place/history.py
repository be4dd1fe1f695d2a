"""What the weather was and will be, as charts and as tables: one year of a station against all of its years."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.frame import say
from aestiva.frame.say import Reader, shown
from aestiva.place.queries import StationRecord
from growing.place.nights import AtPlant, Night
from growing.place.normals import monthly_mean, usual_range

MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
          "December")  # fmt: skip


class Month(NamedTuple):
    """One month of a station; temperatures in °C, None where nothing was read."""

    name: str
    low: float | None
    high: float | None
    coldest: float | None
    coldest_on: date | None
    warmest: float | None
    frosts: int
    missing: int
    usual_low: float | None


def years(record: StationRecord) -> list[int]:
    return list(range(record.minima.start.year, record.minima.end.year + 1))


def months(record: StationRecord, year: int, units: Reader) -> list[Month]:
    """The twelve months of a year; those outside the record are left out."""
    found = []
    for number, name in enumerate(MONTHS, 1):
        first = date(year, number, 1)
        last = date(year + number // 12, number % 12 + 1, 1) - timedelta(days=1)
        low, high = (series.between(first, last) for series in record)
        known = ~np.isnan(low)
        if not known.any():
            continue
        coldest = int(np.nanargmin(low))
        found.append(
            Month(
                name,
                float(np.nanmean(low)),
                None if np.isnan(high).all() else float(np.nanmean(high)),
                float(low[coldest]),
                first + timedelta(days=coldest),
                None if np.isnan(high).all() else float(np.nanmax(high)),
                int((low <= 0).sum()),
                int((~known).sum()),
                monthly_mean(record.minima, number),
            )
        )
    return found


def _said(values: NDArray[np.float64], units: Reader) -> list[float | None]:
    return [None if v != v else round(shown(v, "°C", units)[0], 1) for v in values.tolist()]


def chart(record: StationRecord, year: int, units: Reader) -> dict[str, Any]:
    """A year's minima and maxima over the range of eight days in ten, as the chart wants it, in the reader's units."""
    leap = [date(2000, 1, 1) + timedelta(days=k) for k in range(366)]
    series: list[dict[str, Any]] = []
    pairs = [("lows", record.minima, "frost"), ("highs", record.maxima, "sun")]
    for name, one, colour in pairs:
        if np.isnan(one.values).all():
            continue
        low, high = usual_range(one)
        bottom, top = np.array(_said(low, units), float), np.array(_said(high, units), float)
        series.append({
            "kind": "band", "name": f"usual {name}", "colour": colour,
            "low": bottom.round(1).tolist(), "width": (top - bottom).round(1).tolist(),
        })  # fmt: skip
    for name, one, colour in pairs:
        values = one.between(date(year, 1, 1), date(year, 12, 31))
        values = values if len(values) == 366 else np.insert(values, 59, np.nan)
        if not np.isnan(values).all():
            line = {"kind": "line", "name": f"{name} of {year}", "colour": colour, "values": _said(values, units)}
            series.append(line | ({"level": shown(0.0, "°C", units)[0]} if name == "lows" else {}))
    return {
        "says": f"Daily lows and highs of {year} over the usual range of the years; the months are in the table below.",
        "x": [say.short_day(d) for d in leap],
        "every": 30,
        "unit": "°",
        "series": series,
    }


def nights_chart(nights: Sequence[tuple[Night, AtPlant]], units: Reader) -> dict[str, Any]:
    """The nights ahead: forecast, at the plant, and how far the forecast may err."""
    at = [p.celsius for _, p in nights]
    low, high = ([_one(a + sign * p.error_c, units) for a, (_, p) in zip(at, nights, strict=True)] for sign in (-1, 1))
    return {
        "says": "Forecast minima and the temperature at the plant with its error; the same is in the table below.",
        "x": [say.short_day(n.day) for n, _ in nights],
        "unit": "°",
        "series": [
            {"kind": "band", "name": "at the plant, two in three", "colour": "frost", "low": low,
             "width": [round(b - a, 1) for a, b in zip(low, high, strict=True)]},
            {"kind": "line", "name": "at the plant", "colour": "frost", "values": [_one(a, units) for a in at],
             "dots": "circle", "level": shown(0.0, "°C", units)[0]},
            {"kind": "line", "name": "forecast", "colour": "soil", "values": [_one(n.tmin_c, units) for n, _ in nights],
             "dash": True, "dots": "emptyCircle"},
        ],
    }  # fmt: skip


def _one(value: float, units: Reader) -> float:
    return round(shown(value, "°C", units)[0], 1)
