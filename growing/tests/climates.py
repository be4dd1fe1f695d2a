"""Six made-up climates, and what a slow reader with a pencil makes of them: plain loops, nothing shared with the rules."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import date, timedelta

import numpy as np

from growing.place.minima import DailySeries

DAY = timedelta(days=1)


def make(
    seed: int, start: date, years: int, mean: float, swing: float, spread: float = 3.0, warming: float = 0.0,
    southern: bool = False, change: Callable[[np.ndarray], None] | None = None,
) -> DailySeries:  # fmt: skip
    """Minima of so many years; `warming` in °C a year."""
    days = (date(start.year + years, start.month, start.day) - start).days
    number = np.arange(days)
    day = start.timetuple().tm_yday + number + (182.6 if southern else 0)
    random = np.random.default_rng(seed)
    tmin = mean + swing * np.cos(2 * np.pi * (day - 202) / 365.2425) + random.normal(0, spread, days)
    tmin = np.round(tmin + warming * number / 365.25, 1)
    if change is not None:
        change(tmin)
    return DailySeries(start, tmin)


def _holes(tmin: np.ndarray) -> None:
    tmin[500:560] = np.nan  # a season with more than a tenth missing
    tmin[365 * 6 + 290 : 365 * 6 + 296] = np.nan  # six running days near the usual last frost
    tmin[365 * 9 + 100] = np.nan  # a single day does no harm


NORTH, SOUTH = date(1990, 7, 16), date(1990, 1, 16)
CLIMATES: dict[str, tuple[bool, DailySeries]] = {
    "frost-free years": (False, make(1, NORTH, 30, 11.5, 5.0)),
    "southern": (True, make(2, SOUTH, 30, 6.0, 6.0, southern=True)),
    "high mountain, frost in every month": (False, make(3, NORTH, 25, -1.0, 6.0, 4.0)),
    "gaps": (False, make(4, NORTH, 20, 4.0, 7.0, change=_holes)),
    "twelve years": (False, make(5, NORTH, 12, 4.0, 7.0)),
    "strong trend": (False, make(6, NORTH, 35, 3.0, 7.0, warming=0.12)),
}


def season_start(year: int, southern: bool) -> date:
    return date(year, 1, 16) if southern else date(year - 1, 7, 16)


class Slow:
    """One climate at one threshold, worked out day by day."""

    def __init__(self, southern: bool, record: DailySeries, threshold: float, shift: float = 0.0) -> None:
        self.southern = southern
        self.values = {record.start + DAY * i: v for i, v in enumerate(record.values.tolist()) if v == v}
        self.seasons: dict[int, tuple[int | None, int | None]] = {}  # year: last, first
        self.left_out: dict[str, set[int]] = {"last": set(), "first": set()}
        found: dict[int, tuple[int | None, int | None, list[int], int]] = {}
        years = range(record.start.year - 1, record.start.year + len(record.values) // 365 + 2)
        for year in years:
            begin, end = season_start(year, southern), season_start(year + 1, southern)
            length = (end - begin).days
            last = first = None
            missing = []
            for k in range(length):
                value = self.values.get(begin + DAY * k)
                if value is None:
                    missing.append(k)
                elif value + shift <= threshold + 1e-9:
                    first = k if first is None else first
                    last = k
            if len(missing) < length:
                found[year] = (last, first, missing, length)
        whole = [f for f in found.values() if len(f[2]) <= 0.1 * f[3] and f[0] is not None]
        middles = [sorted(f[i] for f in whole) for i in (0, 1)] if whole else []  # type: ignore[type-var]
        for year, (last, first, missing, length) in found.items():
            for event, days in zip(("last", "first"), middles or ([], []), strict=True):
                bad = len(missing) > 0.1 * length
                n = len(days)
                if not n:
                    if bad:
                        self.left_out[event].add(year)
                    continue
                median = (days[(n - 1) // 2] + days[n // 2]) / 2  # type: ignore[operator]
                run, before = 0, None
                for k in (k for k in missing if abs(k - int(median)) <= 30):
                    run = run + 1 if before == k - 1 else 1
                    before = k
                    bad = bad or run > 3
                if bad:
                    self.left_out[event].add(year)
            self.seasons[year] = (last, first)

    def used(self, event: str = "last") -> list[int]:
        return sorted(set(self.seasons) - self.left_out[event])[-30:]

    def days(self, event: str) -> list[int]:
        pairs = [self.seasons[y][0 if event == "last" else 1] for y in self.used(event)]
        return sorted(d for d in pairs if d is not None)

    def risk(self, event: str, day: int) -> float:
        """Chance of the event still to come (last) or already come (first): straight from the type 8 inverse."""
        days = self.days(event)
        n, share = len(days), len(days) / len(self.used(event))
        if day < days[0]:
            f = 0.0
        elif day > days[-1]:
            f = 1.0
        else:
            i = max(k for k in range(n) if days[k] <= day)
            f = (i + 1 - 1 / 3) / (n + 1 / 3)
            if i + 1 < n:
                f += (day - days[i]) / (days[i + 1] - days[i]) / (n + 1 / 3)
        return share * (1 - f) if event == "last" else share * f

    def day_for(self, event: str, risk: float) -> int | None:
        """The first day of spring (or last of autumn) on which the risk is no more than that, looked for day by day."""
        span = range(366) if event == "last" else range(365, -1, -1)
        if risk >= len(self.days(event)) / len(self.used(event)):
            return None
        return next(d for d in span if self.risk(event, d) <= risk + 1e-9)


def declination_hours(latitude: float, day: date) -> float:
    """Day length from the sun's declination by its mean longitude and anomaly, its edge and bent light included."""
    n = day.toordinal() - date(2000, 1, 1).toordinal()
    anomaly = math.radians(357.528 + 0.9856003 * n)
    longitude = math.radians(280.460 + 0.9856474 * n + 1.915 * math.sin(anomaly) + 0.020 * math.sin(2 * anomaly))
    tilt = math.asin(math.sin(math.radians(23.439)) * math.sin(longitude))
    phi = math.radians(latitude)
    cosine = (math.sin(math.radians(-0.833)) - math.sin(phi) * math.sin(tilt)) / (math.cos(phi) * math.cos(tilt))
    return 24 / math.pi * math.acos(min(1.0, max(-1.0, cosine)))
