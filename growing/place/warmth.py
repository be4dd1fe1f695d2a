"""From when are soil and nights warm enough?  Typed by the gardener, or worked out from daily weather."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from growing.calendar import cold_season_start
from growing.place.frost import EventDates, frost_dates
from growing.place.minima import MINIMUM_SEASONS, MISSING_SHARE, USED_SEASONS, DailySeries
from growing.place.soil import COVERS, MORNING_C, SMOOTHING, Calibration, ProbeReading, calibrate, soil_mean, warm_from
from growing.working import Value, Working

USUAL, SURE = 0.5, 0.9  # "1 in 2" and "9 in 10" of springs
COLD_NIGHTS = 0.2  # chance of a cold night in the next fortnight under which nights count as warm
NIGHTS_AHEAD = 14
SMOOTH_DAYS = 3


class WarmDate(NamedTuple):
    """From this day on the soil (or the nights) are usually at least so warm here; typed by the gardener."""

    celsius: float
    day: date


class WarmFrom(NamedTuple):
    """The day something is warm enough (None: nothing to wait for, or nothing known) and the arithmetic.

    kind: "soil" or "nights".  verdict: "dated", "at least", "earlier", "unknown", "always", "few springs" or
    "never".  Soil that is never warm enough waits for midsummer; nights that never are hold nothing back, as they stay
    so all summer.
    """

    day: date | None
    kind: str
    verdict: str
    working: Working


class Warmth(Protocol):
    """Whatever can say from when soil and nights are warm in the season of `year`."""

    def soil_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom: ...
    def nights_from(self, year: int, celsius: float, chance: float = COLD_NIGHTS) -> WarmFrom: ...
    def under(self, cover: str) -> Warmth: ...


@dataclass(frozen=True, slots=True)
class TypedWarmth:
    """Days of warmth as the gardener knows them, rising; the same days whatever the share asked for."""

    soil: tuple[WarmDate, ...] = ()
    nights: tuple[WarmDate, ...] = ()

    def soil_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        return _between(self.soil, "soil", celsius)

    def nights_from(self, year: int, celsius: float, chance: float = COLD_NIGHTS) -> WarmFrom:
        return _between(self.nights, "nights", celsius)

    def under(self, cover: str) -> TypedWarmth:
        """Typed days hold for every bed."""
        return self


def _between(points: Sequence[WarmDate], kind: str, celsius: float) -> WarmFrom:
    """Linear between typed days.  Below the lowest typed warmth nothing waits; above the highest, at least that day."""
    day, verdict = None, "unknown"
    for low, high in pairwise(points):
        if low.celsius <= celsius <= high.celsius and high.celsius > low.celsius:
            share = (celsius - low.celsius) / (high.celsius - low.celsius)
            day, verdict = low.day + timedelta(days=round(share * (high.day - low.day).days)), "dated"
    if day is None and points:
        if celsius > points[-1].celsius:
            day, verdict = points[-1].day, "at least"
        elif celsius < points[0].celsius:
            verdict = "earlier"
        else:
            day, verdict = points[0].day, "dated"
    inputs = (Value("needs", celsius, "°C"), *(Value("typed", p.day, f"{p.celsius:g} °C", "typed") for p in points))
    return WarmFrom(day, kind, verdict, Working(f"place.{kind}_gate", inputs, (), Value(verdict, day)))


class Springs(NamedTuple):
    """Days from midwinter to a fortnight after midsummer: (springs, days), NaN where unknown; ends: midsummer's index."""

    years: list[int]
    ends: NDArray[np.int64]
    values: NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class ComputedWarmth:
    """Warmth from a station's daily minima and maxima, moved to the garden.

    shift_c: garden minus station on minima [°C] (the mean moves by half of it).  cover: a key of `soil.COVERS`.
    readings: the garden's own probe, in such a bed; offset_c: what it adds [°C], where that is known already.
    """

    southern: bool
    minima: DailySeries
    maxima: DailySeries
    shift_c: float = 0.0
    cover: str = "bare"
    readings: tuple[ProbeReading, ...] = ()
    offset_c: float | None = None

    def under(self, cover: str) -> ComputedWarmth:
        """The same place with another bed or cover; the probe is taken to have been in the garden's usual bed."""
        if cover == self.cover:
            return self
        if cover not in self._covered:
            other = replace(self, cover=cover, offset_c=self.calibration.offset_c)
            for shared in ("_open_ground", "_night_springs"):  # a cover changes neither
                other.__dict__[shared] = getattr(self, shared)
            self._covered[cover] = other
        return self._covered[cover]

    @cached_property
    def _covered(self) -> dict[str, ComputedWarmth]:
        return {}

    @cached_property
    def uncalibrated(self) -> DailySeries:
        """Modelled daily mean soil with the bed's own difference, before the probe has its say."""
        return DailySeries(self.minima.start, self._open_ground + COVERS[self.cover])

    @cached_property
    def _open_ground(self) -> NDArray[np.float64]:
        maxima = self.maxima.between(self.minima.start, self.minima.end)
        return soil_mean((self.minima.values + self.shift_c + maxima) / 2)

    @cached_property
    def calibration(self) -> Calibration:
        return calibrate(self.uncalibrated, self.readings)

    @cached_property
    def morning_soil(self) -> DailySeries:
        """Modelled soil 5–10 cm deep in the morning [°C]."""
        soil = self.uncalibrated
        offset = self.calibration.offset_c if self.offset_c is None else self.offset_c
        return DailySeries(soil.start, soil.values + offset + MORNING_C)

    @cached_property
    def _soil_springs(self) -> Springs:
        return self._springs(self.morning_soil)

    @cached_property
    def _night_springs(self) -> Springs:
        return self._springs(DailySeries(self.minima.start, self.minima.values + self.shift_c))

    @cached_property
    def _kept(self) -> dict[tuple[str, float], EventDates | NDArray[np.float64]]:
        return {}

    def _springs(self, series: DailySeries) -> Springs:
        """The latest thirty springs in which at most a tenth of the days is missing."""
        years, rows, ends = [], [], []
        grid = series.grid(self.southern)
        for year, season in zip(grid.years.tolist(), grid.values, strict=True):
            begin, end = (_index(year, self.southern, d) for d in ("midwinter", "midsummer"))
            row = season[begin : begin + _LONGEST_SPRING]
            if np.isnan(row[: end - begin + 1]).mean() <= MISSING_SHARE:
                years.append(year)
                rows.append(row)
                ends.append(end - begin)
        used = slice(-USED_SEASONS, None)
        values = np.array(rows[used]) if rows else np.empty((0, _LONGEST_SPRING))
        return Springs(years[used], np.array(ends[used], dtype=np.int64), values)

    @property
    def springs(self) -> int:
        """How many springs speak; under ten nothing is said."""
        return len(self._soil_springs.years)

    def soil_dates(self, year: int, celsius: float) -> EventDates:
        """The day from which morning soil stays at `celsius` or above, as a distribution; unmet springs lower q."""
        key = ("soil", celsius)
        if key not in self._kept:
            springs = self._soil_springs
            found = warm_from(springs.values, springs.ends, celsius)
            days = [
                _index(y, self.southern, "midwinter") + d for y, d in zip(springs.years, found.tolist(), strict=True)
            ]
            met = [d for d in days if d != float("inf")]
            self._kept[key] = frost_dates(
                cold_season_start(year, self.southern), "warm", celsius, met, max(1, len(days)), "station"
            )
        kept = self._kept[key]
        assert isinstance(kept, EventDates)
        return kept.in_season(cold_season_start(year, self.southern))

    def soil_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        if self.springs < MINIMUM_SEASONS:
            return self._unknown("soil", celsius, self.springs)
        dates = self.soil_dates(year, celsius)
        found = dates.date_for(share)
        day, verdict = found.day, found.verdict
        if day is not None and (day - dates.start).days <= _index(year, self.southern, "midwinter"):
            day, verdict = None, "always"
        elif verdict in ("never", "beyond"):  # no earlier than midsummer: what comes then is not looked at
            day, verdict = dates.start + timedelta(days=_index(year, self.southern, "midsummer")), "never"
        inputs = (
            Value("needs", celsius, "°C"),
            Value("share", share, "share", "setting"),
            Value("springs", self.springs, "", "station"),
            Value("springs met", dates.q, "share", "station"),
            Value("smoothing", SMOOTHING, "per day", "working"),
            Value("bed", self.cover, "", "garden"),
            Value("bed adds", COVERS[self.cover], "Δ°C", "estimate" if self.cover != "bare" else "working"),
            Value("morning", MORNING_C, "Δ°C", "working"),
            Value("calibration", self.calibration.offset_c if self.offset_c is None else self.offset_c, "Δ°C", "probe"),
        )
        return WarmFrom(
            day,
            "soil",
            verdict,
            Working(
                "place.soil_computed_gate", inputs, (self.calibration.working,), Value(verdict, day, "", "station")
            ),
        )

    def cold_night_chances(self, celsius: float) -> NDArray[np.float64]:
        """Chance that one of the next fourteen nights is under `celsius`, for each day from midwinter to midsummer.

        The mean over springs, smoothed over three days to either side.
        """
        key = ("nights", celsius)
        if key not in self._kept:
            springs = self._night_springs
            cold = np.nan_to_num(springs.values, nan=np.inf) < celsius
            windows = np.lib.stride_tricks.sliding_window_view(cold[:, 1:], NIGHTS_AHEAD, axis=1)
            ahead = np.asarray(np.any(windows, axis=2))
            chance = ahead[:, : int(springs.ends.min()) + 1].mean(axis=0)
            width = 2 * SMOOTH_DAYS + 1
            kernel = np.ones(width)
            self._kept[key] = np.convolve(chance, kernel, "same") / np.convolve(np.ones_like(chance), kernel, "same")
        kept = self._kept[key]
        assert isinstance(kept, np.ndarray)
        return kept

    def nights_from(self, year: int, celsius: float, chance: float = COLD_NIGHTS) -> WarmFrom:
        """The first day from which the chance of a night under `celsius` in the next fortnight stays under `chance`."""
        springs = len(self._night_springs.years)
        if springs < MINIMUM_SEASONS:
            return self._unknown("nights", celsius, springs)
        chances = self.cold_night_chances(celsius)
        over = np.flatnonzero(chances >= chance)
        begin = cold_season_start(year, self.southern) + timedelta(days=_index(year, self.southern, "midwinter"))
        day: date | None = None
        verdict = "always"
        if over.size and over[-1] == len(chances) - 1:
            verdict = "never"
        elif over.size:
            day, verdict = begin + timedelta(days=int(over[-1]) + 1), "dated"
        inputs = (
            Value("needs", celsius, "°C"),
            Value("chance", chance, "share", "setting"),
            Value("springs", springs, "", "station"),
            Value("shift", self.shift_c, "Δ°C", "garden"),
        )
        return WarmFrom(
            day,
            "nights",
            verdict,
            Working("place.nights_computed_gate", inputs, (), Value(verdict, day, "", "station")),
        )

    def _unknown(self, kind: str, celsius: float, springs: int) -> WarmFrom:
        inputs = (Value("needs", celsius, "°C"), Value("springs", springs, "", "station"))
        return WarmFrom(
            None, kind, "few springs", Working(f"place.{kind}_computed_gate", inputs, (), Value("few springs", None))
        )


_LONGEST_SPRING = 184 + NIGHTS_AHEAD  # midwinter to midsummer, and the fortnight looked ahead


def _index(year: int, southern: bool, what: str) -> int:
    """Days from the start of the cold season of `year` to its midwinter, or to its midsummer."""
    summer = date(year, 12, 21) if southern else date(year, 6, 21)
    winter = date(year, 6, 21) if southern else date(year - 1, 12, 21)
    return ((summer if what == "midsummer" else winter) - cold_season_start(year, southern)).days
