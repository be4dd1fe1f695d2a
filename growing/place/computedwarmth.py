"""From when are soil and nights warm enough, how fast does it grow and when does the year end?  From daily weather."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.calendar import cold_season_of, cold_season_start
from growing.place import nightgate
from growing.place.frost import EventDates, frost_dates
from growing.place.growth import (
    MIDWINTER,
    NEVER,
    SPAN_DAYS,
    Daily,
    Growth,
    Normals,
    filled,
    fortnight_ahead,
    midsummer,
    midwinter,
    span_start,
    standard_days,
)
from growing.place.minima import MINIMUM_SEASONS, MISSING_SHARE, USED_SEASONS, DailySeries
from growing.place.soil import COVERS, MORNING_C, SMOOTHING, Calibration, ProbeReading, calibrate, soil_mean, warm_from
from growing.place.warmth import COVER_AIR_C, USUAL, WarmFrom
from growing.working import Value, Working

NIGHTS_AHEAD = 14
MONTH_DAYS = 30
LATEST_WARM_DAYS = 56  # after midsummer: nights that are warm no sooner are never warm enough


class Summers(NamedTuple):
    """Growing years: minima and maxima (years, SPAN_DAYS) from the start of the cold season, NaN where unknown."""

    years: list[int]
    minima: NDArray[np.float64]
    maxima: NDArray[np.float64]


class MidwinterSprings(NamedTuple):
    """Days from midwinter to midsummer: values (springs, days), NaN where unknown; ends: midsummer's index in them; begins:
    midwinter's index in the cold season."""

    years: list[int]
    begins: NDArray[np.int64]
    ends: NDArray[np.int64]
    values: NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class ComputedWarmth:
    """Warmth from a station's daily minima and maxima, moved to the garden.

    shift_c: garden minus station on minima [°C] (the mean moves by half of it).  cover: a key of `soil.COVERS`.
    readings: the garden's own probe, in the garden's usual bed.  usual: the same place in that bed, whose record, ground
    and probe it shares; None: it is that.
    """

    southern: bool
    minima: DailySeries
    maxima: DailySeries
    shift_c: float = 0.0
    cover: str = "bare"
    readings: tuple[ProbeReading, ...] = ()
    usual: ComputedWarmth | None = None

    def under(self, cover: str) -> ComputedWarmth:
        """The same place with another bed or cover; the probe is taken to have been in the garden's usual bed."""
        if cover == self.cover:
            return self
        if cover not in self._covered:
            self._covered[cover] = replace(self, cover=cover, usual=self.usual or self)
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
        if self.usual is not None:
            return self.usual._open_ground
        maxima = self.maxima.between(self.minima.start, self.minima.end)
        return soil_mean((self.minima.values + self.shift_c + maxima) / 2)

    @cached_property
    def calibration(self) -> Calibration:
        """What the probe adds to the model: found where it was read, and the same under every cover."""
        return calibrate(self.uncalibrated, self.readings) if self.usual is None else self.usual.calibration

    @cached_property
    def morning_soil(self) -> DailySeries:
        """Modelled soil 5–10 cm deep in the morning [°C]."""
        soil = self.uncalibrated
        return DailySeries(soil.start, soil.values + self.calibration.offset_c + MORNING_C)

    @cached_property
    def _soil_springs(self) -> MidwinterSprings:
        return self._springs(self.morning_soil)

    @cached_property
    def _summers(self) -> Summers:
        """The latest thirty growing years in which at most a tenth of the days from midwinter on is missing, under its cover."""
        lows_add, highs_add = COVER_AIR_C.get(self.cover, (0.0, 0.0))
        years, minima, maxima = self._open_summers
        return Summers(years, minima + self.shift_c + lows_add, maxima + highs_add)

    @cached_property
    def _open_summers(self) -> Summers:
        """The same years as the station has them."""
        if self.usual is not None:
            return self.usual._open_summers
        first, last = (cold_season_of(d, self.southern) for d in (self.minima.start, self.minima.end))
        years = list(range(first, last))
        starts = [span_start(year, self.southern) for year in years]
        minima, maxima = (series.rows(starts, SPAN_DAYS) for series in (self.minima, self.maxima))
        missing = [np.count_nonzero(np.isnan(rows[:, MIDWINTER:]), axis=1) for rows in (minima, maxima)]
        whole = np.flatnonzero(np.maximum(*missing) <= MISSING_SHARE * (SPAN_DAYS - MIDWINTER))[-USED_SEASONS:]
        return Summers([years[k] for k in whole], minima[whole], maxima[whole])

    @cached_property
    def _kept(self) -> dict[tuple[str, float], EventDates]:
        return {}

    def _springs(self, series: DailySeries) -> MidwinterSprings:
        """The latest thirty springs in which at most a tenth of the days is missing."""
        first, last = (cold_season_of(d, self.southern) for d in (series.start, series.end))
        years = np.arange(first, last + 1)
        winters, summers = ([of(int(y), self.southern) for y in years] for of in (midwinter, midsummer))
        ends = np.array([(b - a).days for a, b in zip(winters, summers, strict=True)])
        values = series.rows(winters, _LONGEST_SPRING)
        asked = np.arange(_LONGEST_SPRING) <= ends[:, None]
        missing = (np.isnan(values) & asked).sum(axis=1)
        whole = np.flatnonzero(missing <= MISSING_SHARE * (ends + 1))[-USED_SEASONS:]
        begins = np.array([_winter_index(int(years[k]), self.southern) for k in whole], dtype=np.int64)
        return MidwinterSprings(years[whole].tolist(), begins, ends[whole], values[whole])

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
            met = (springs.begins + found)[np.isfinite(found)].tolist()
            self._kept[key] = frost_dates(
                cold_season_start(year, self.southern), "warm", celsius, met, max(1, len(found)), "station"
            )
        return self._kept[key].in_season(cold_season_start(year, self.southern))

    def soil_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        if self.springs < MINIMUM_SEASONS:
            return self._unknown("soil", celsius, self.springs)
        dates = self.soil_dates(year, celsius)
        found = dates.date_for(share)
        day, verdict = found.day, found.verdict
        if day is not None and (day - dates.start).days <= _winter_index(year, self.southern):
            day, verdict = None, "always"
        elif verdict in ("never", "beyond"):  # no earlier than midsummer: what comes then is not looked at
            day, verdict = midsummer(year, self.southern), "never"
        inputs = (
            Value("needs", celsius, "°C"),
            Value("share", share, "share", "setting"),
            Value("springs", self.springs, "", "station"),
            Value("springs met", dates.q, "share", "station"),
            Value("smoothing", SMOOTHING, "per day", "working"),
            Value("bed", self.cover, "", "garden"),
            Value("bed adds", COVERS[self.cover], "Δ°C", "estimate" if self.cover != "bare" else "working"),
            Value("morning", MORNING_C, "Δ°C", "working"),
            Value("calibration", self.calibration.offset_c, "Δ°C", "probe"),
        )
        return WarmFrom(
            day,
            "soil",
            verdict,
            Working(
                "place.soil_computed_gate", inputs, (self.calibration.working,), Value(verdict, day, "", "station")
            ),
        )

    def nights_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        """The first of three weeks from whose every day on the nights ahead are warm enough in that share of springs.

        The mean of fourteen nights, with credit for warm days.  Never: not by eight weeks after midsummer.
        """
        summers, look = self._summers, self._looked_at(year)
        inputs = (
            Value("needs", celsius, "°C"),
            Value("share", share, "share", "setting"),
            Value("springs", len(summers.years), "", "station"),
            Value("shift", self.shift_c, "Δ°C", "garden"),
        )
        if len(summers.years) < MINIMUM_SEASONS:
            return self._unknown("nights", celsius, len(summers.years))
        with np.errstate(invalid="ignore"):
            warm = self._nights_ahead.mean_c[:, look] >= celsius
        return self._first_run("nights", year, warm.mean(axis=0) >= share, inputs)

    def chill_from(self, year: int, chill_c: float) -> WarmFrom:
        """The first of three weeks on whose every day a night under `chill_c` is seldom in the week ahead."""
        summers, look = self._summers, self._looked_at(year)
        if len(summers.years) < MINIMUM_SEASONS:
            return self._unknown("chill", chill_c, len(summers.years))
        chance = (self._nights_ahead.coldest_c[:, look] < chill_c).mean(axis=0)[: -nightgate.CHILL_NIGHTS]
        inputs = (
            Value("needs", chill_c, "°C"),
            Value("chance", nightgate.CHILL_CHANCE, "share", "working"),
            Value("lowest", float(chance.min()), "share", "station"),
            Value("springs", len(summers.years), "", "station"),
            Value("shift", self.shift_c, "Δ°C", "garden"),
        )
        return self._first_run("chill", year, nightgate.seldom_chilled(chance), inputs)

    @cached_property
    def _nights_ahead(self) -> nightgate.NightsAhead:
        return nightgate.nights_ahead(self._summers.minima, self._summers.maxima)

    def _looked_at(self, year: int) -> slice:
        spring = (midsummer(year, self.southern) - midwinter(year, self.southern)).days
        return slice(MIDWINTER, MIDWINTER + spring + LATEST_WARM_DAYS + nightgate.RUN_DAYS + NIGHTS_AHEAD)

    def _first_run(self, kind: str, year: int, good: NDArray[np.bool_], inputs: tuple[Value, ...]) -> WarmFrom:
        first = nightgate.first_run(good)
        begin = midwinter(year, self.southern)
        day: date | None = None
        verdict = "always" if first == 0 else "never"
        if first and first <= (midsummer(year, self.southern) - begin).days + LATEST_WARM_DAYS:
            day, verdict = begin + timedelta(days=first), "dated"
        working = Working(f"place.{kind}_computed_gate", inputs, (), Value(verdict, day, "", "station"))
        return WarmFrom(day, kind, verdict, working)

    # ------------------------------------------------------------ growth, heat, and the end of the year

    @property
    def summers(self) -> int:
        """How many growing years speak of growth and heat."""
        return len(self._summers.years)

    def growth(self, base_c: float, std_c: float) -> Growth | None:
        """Growth in standard days, year by year; None under ten years."""
        if self.summers < MINIMUM_SEASONS:
            return None
        return Growth(standard_days(self._tmean, base_c, std_c))

    def normals(self) -> Normals | None:
        """What the fortnight from each day on is like, on the mean of the years; None under ten years."""
        if self.summers < MINIMUM_SEASONS:
            return None
        nights = filled(self._summers.minima)
        month = fortnight_ahead(nights.mean(axis=0, keepdims=True), MONTH_DAYS)
        day, night = (fortnight_ahead(v).mean(axis=0) for v in (self._tmean, nights))
        return Normals(day, night, float(np.nanmax(month)))

    def daily(self) -> Daily | None:
        """Every year day by day; None under ten years."""
        if self.summers < MINIMUM_SEASONS:
            return None
        starts = [span_start(year, self.southern) for year in self._summers.years]
        soil = self.morning_soil.rows(starts, SPAN_DAYS)
        return Daily(*(filled(v) for v in (self._summers.minima, self._summers.maxima, soil)))

    def ends(self, celsius: float) -> NDArray[np.int32] | None:
        """Per year, the first night after midsummer at `celsius` or under (screen height); NEVER without any."""
        if self.summers < MINIMUM_SEASONS:
            return None
        summer = MIDWINTER + (midsummer(2001, self.southern) - midwinter(2001, self.southern)).days
        cold = self._summers.minima[:, summer:] <= celsius + 1e-9
        first = summer + cold.argmax(axis=1)
        return np.where(cold.any(axis=1), first, NEVER).astype(np.int32)

    def winter_lows(self) -> NDArray[np.float64]:
        """The lowest night of each cold season, shelter counted [°C]."""
        add = COVER_AIR_C.get(self.cover, (0.0, 0.0))[0] + self.shift_c
        grid = self.minima.grid(self.southern).values
        whole = np.isnan(grid).mean(axis=1) <= MISSING_SHARE
        return np.asarray(np.nanmin(grid[whole][-USED_SEASONS:], axis=1) + add) if whole.any() else np.empty(0)

    def soil_cold_from(self, year: int, celsius: float) -> date | None:
        """The day from which morning soil stays under `celsius` in the autumn of that year, in the middle of the years."""
        found = []
        for spring in self._summers.years:
            start = span_start(spring, self.southern)
            begin = (midsummer(spring, self.southern) - start).days
            soil = self.morning_soil.between(start + timedelta(days=begin), start + timedelta(days=SPAN_DAYS - 1))
            if np.isnan(soil).mean() > MISSING_SHARE:
                continue
            warm = soil >= celsius
            runs = np.flatnonzero(warm[2:] & warm[1:-1] & warm[:-2])
            found.append(begin + int(runs[-1]) + 3 if runs.size else begin)
        if len(found) < MINIMUM_SEASONS:
            return None
        return span_start(year, self.southern) + timedelta(days=int(np.median(found)))

    @cached_property
    def _tmean(self) -> NDArray[np.float64]:
        return filled((self._summers.minima + self._summers.maxima) / 2)

    def _unknown(self, kind: str, celsius: float, springs: int) -> WarmFrom:
        inputs = (Value("needs", celsius, "°C"), Value("springs", springs, "", "station"))
        return WarmFrom(
            None, kind, "few springs", Working(f"place.{kind}_computed_gate", inputs, (), Value("few springs", None))
        )


_LONGEST_SPRING = 184  # midwinter to midsummer, and a day


def _winter_index(year: int, southern: bool) -> int:
    """Days from the start of the cold season of `year` to its midwinter."""
    return (midwinter(year, southern) - cold_season_start(year, southern)).days
