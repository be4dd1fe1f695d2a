"""What the view of the place shows, gathered: the curve with its years, the dates crops wait for, the season."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.frame.say import Reader
from aestiva.gardens.models import Garden
from aestiva.place.fitted import fitted_frost
from aestiva.place.models import Frost, Station
from aestiva.place.picture import FrostCurve, span_of
from aestiva.place.queries import record_of
from growing.calendar import cold_season_start
from growing.chain.windows import needs_of
from growing.crops import Crop
from growing.place.computedwarmth import ComputedWarmth
from growing.place.daylight import Onion, day_length_h, onions, reaches, ten_hour_autumn
from growing.place.frost import EventDates, RiskDate
from growing.place.growing_season import GrowingSeason, growing_season
from growing.place.minima import ColdSeason, ComputedFrost, TooFewSeasons
from growing.place.sureness import Sureness, how_sure, risk_band
from growing.place.trend import Trend
from growing.place.warmth import SURE
from growing.place.year import Gate, PlaceYear
from growing.working import Working

RISKS = (0.9, 0.5, 0.25, 0.1)


@dataclass(frozen=True)
class EventView:
    """One event at one threshold: its distribution, the accepted line, the table, how sure the years make it."""

    dates: EventDates
    line: RiskDate
    table: list[tuple[float, RiskDate, Sureness | None]]
    seasons: Sequence[ColdSeason]
    left_out: Sequence[ColdSeason]
    sure: Sureness | None
    trend: Trend | None

    @property
    def spring(self) -> bool:
        return self.dates.event == "last"


def season_of(place: PlaceYear, event: str, threshold_c: float) -> EventView | None:
    """The event's dates at that threshold; None where nothing is known of autumn."""
    climate = place.climate
    dates = climate.last(place.year, threshold_c) if event == "last" else climate.first(place.year, threshold_c)
    if dates is None:
        return None
    line = dates.date_for(place.accepted_risk)
    if not isinstance(climate, ComputedFrost):
        return EventView(dates, line, [(r, dates.date_for(r), None) for r in RISKS], [], [], None, None)
    seasons = climate.used(threshold_c, event)
    left_out = [s._replace(left_out=why) for s in climate.seasons(threshold_c) if (why := s.unknown(event))]
    known, trend = climate.kept(
        ("sureness", event, place.year, threshold_c), lambda: _sureness(climate, place.year, event, threshold_c)
    )
    table: list[tuple[float, RiskDate, Sureness | None]] = [(r, dates.date_for(r), known[r]) for r in RISKS]
    return EventView(dates, line, table, seasons, left_out, known[0.5], trend)


def _sureness(climate: ComputedFrost, year: int, event: str, threshold_c: float) -> tuple[dict[float, Sureness], Trend]:
    """How sure the years make each date of the table, and their trend."""
    dates = climate.last(year, threshold_c) if event == "last" else climate.first(year, threshold_c)
    seasons = len(climate.used(threshold_c, event))
    return {r: how_sure(dates, seasons, r) for r in RISKS}, climate.trend(event, threshold_c)


@lru_cache(maxsize=64)
def _band(dates: EventDates, seasons: int, first: date, last: date) -> NDArray[np.float64]:
    start = dates.start.toordinal()
    return risk_band(dates, seasons, np.arange(first.toordinal() - start, last.toordinal() - start + 1.0))


def curve_of(
    season: EventView, risk: float, typed: date | None, other: EventDates | None, name: str, units: Reader
) -> FrostCurve:
    """What is drawn of it."""
    first, last = span_of(season.dates, other, typed)
    drawn = season.seasons and season.dates.days
    band = _band(season.dates, len(season.seasons), first, last) if drawn else None
    return FrostCurve(season.dates, risk, season.seasons, first, last, typed, band, other, name, units)


def typed_day(frost: Frost, event: str, start: date) -> date | None:
    """The typed frost date inside the cold season that begins on `start`."""
    on = frost.last_on if event == "last" else frost.first_on
    if on is None:
        return None
    day = on.replace(year=start.year, day=min(on.day, 28) if on.month == 2 else on.day)
    return day if day >= start else day.replace(year=start.year + 1)


class Other(NamedTuple):
    """A second curve beside the garden's own: another station or another shift."""

    dates: EventDates | None
    name: str
    problem: str = ""


def compare(
    garden: Garden, frost: Frost, event: str, threshold_c: float, station: Station | None, shift_c: float
) -> Other:
    """The same event from another station or under another shift; says why where it cannot be drawn."""
    source = station or frost.station
    record = None if source is None else record_of(source)
    if source is None or record is None:
        return Other(None, "", "Without a station's daily weather there is nothing to compare: bring some in first.")
    climate = fitted_frost(source, record.minima, garden.southern, shift_c, frost.basis)
    try:
        dates = climate.last(garden.year, threshold_c) if event == "last" else climate.first(garden.year, threshold_c)
    except TooFewSeasons as error:
        return Other(None, "", f"{source.name} has {error}.")
    return Other(dates, source.name)


def frost_table(climate: ComputedFrost, thresholds: Sequence[float]) -> list[list[object]]:
    """Every cold season at every threshold: days of its last and first frost, their depth, and why it is left out."""
    rows: list[list[object]] = []
    for threshold in thresholds:
        for s in climate.seasons(threshold):
            start = cold_season_start(s.year, climate.southern)
            days = [None if d is None else start + timedelta(days=d) for d in (s.last, s.first)]
            depths = ["" if c is None else round(c, 1) for c in (s.last_c, s.first_c)]
            last, first = ("" if d is None else d.isoformat() for d in days)
            rows.append(
                [
                    s.year,
                    threshold,
                    last,
                    depths[0],
                    first,
                    depths[1],
                    s.missing,
                    s.left_out or " ".join(f"gap near {e}" for e in s.gaps),
                ]
            )
    return rows


# ---------------------------------------------------------------- what crops wait for


class CropNeed(NamedTuple):
    """One thing a crop waits for: the gate, the limit it is about [°C], and the day in nine springs of ten where known."""

    gate: Gate
    limit_c: float
    sure: date | None


class CropGates(NamedTuple):
    """One crop's gates: what it needs, which decides, from when; `sure`: the same in nine springs of ten."""

    crop: Crop
    tunnel: bool
    risk: float
    needs: tuple[CropNeed, ...]
    decides: CropNeed

    @property
    def name(self) -> str:
        return f"{self.crop.name}, in the tunnel" if self.tunnel else self.crop.name

    @property
    def day(self) -> date | None:
        return self.decides.gate.day

    @property
    def never(self) -> str:
        """What never gets warm enough in the open here: "soil", "nights", "chill" or ""."""
        return next((n.gate.kind for n in self.needs if n.gate.never), "")

    @property
    def workings(self) -> list[Working]:
        return [n.gate.working for n in self.needs]

    def of(self, kind: str) -> CropNeed | None:
        return next((n for n in self.needs if n.gate.kind == kind), None)

    @property
    def frost(self) -> CropNeed | None:
        return self.of("frost")

    @property
    def soil(self) -> CropNeed | None:
        return self.of("soil")

    @property
    def nights(self) -> CropNeed | None:
        return self.of("nights")

    @property
    def chill(self) -> CropNeed | None:
        return self.of("chill")


class Wait(NamedTuple):
    """Crops that wait for the same thing until the same day."""

    names: str
    need: CropGates


def needs(place: PlaceYear, crops: Sequence[tuple[Crop, bool]], every: bool = False) -> list[CropGates]:
    """What each crop waits for here, in the open or under the tunnel; the latest first.

    every: the day in nine springs of ten for each of its gates, not for the one alone that decides.
    """
    found = [_need(place.under("tunnel") if tunnel else place, crop, tunnel, every) for crop, tunnel in crops]
    return sorted(found, key=lambda n: (-(n.day or date.min).toordinal(), n.name))


def _need(place: PlaceYear, crop: Crop, tunnel: bool, every: bool) -> CropGates:
    wants = needs_of(crop)
    limits = {"frost": wants.damage_c, "soil": wants.soil_c, "nights": wants.mean_night_c, "chill": wants.chill_c}
    found = []
    for gate in place.gates(wants):
        need = CropNeed(gate, limits[gate.kind] or 0.0, None)
        found.append(_surely(place, need) if every else need)
    decides = _surely(place, max(found, key=lambda n: (n.gate.never, n.gate.day or date.min)))
    return CropGates(crop, tunnel, place.risk_for(crop.hardiness), tuple(found), decides)


def _surely(place: PlaceYear, need: CropNeed) -> CropNeed:
    """The same with the day in nine springs of ten, where there is one."""
    kind, limit_c, warm = need.gate.kind, need.limit_c, place.warmth
    if kind not in ("soil", "nights") or need.gate.day is None:
        return need
    ask = warm.soil_from if kind == "soil" else warm.nights_from
    found = place.memo(("sure", kind, limit_c), lambda: ask(place.year, limit_c, SURE))
    return need._replace(sure=None if found.verdict == "never" else found.day)


def waits(found: Sequence[CropGates]) -> list[Wait]:
    """Needs that are the same for several crops, said once."""
    groups: dict[tuple[object, ...], list[CropGates]] = {}
    for need in found:
        decides = need.decides
        key = (need.day, decides.gate.kind, decides.limit_c, decides.sure, need.never, need.tunnel)
        groups.setdefault(key, []).append(need)
    return [
        Wait(", ".join(n.crop.name for n in group) + (", in the tunnel" if group[0].tunnel else ""), group[0])
        for group in groups.values()
    ]


# ---------------------------------------------------------------- the season and its light


class Light(NamedTuple):
    """Day length here: the longest day, the ten-hour days, and the onions that bulb."""

    longest_h: float
    shortest_h: float
    ten_from: date | None
    ten_to: date | None
    onions: list[Onion]


def light(garden: Garden) -> Light:
    summer, winter = (12, 6) if garden.southern else (6, 12)
    latitude, year = garden.latitude, garden.year
    return Light(
        day_length_h(latitude, date(year, summer, 21)),
        day_length_h(latitude, date(year, winter, 21)),
        reaches(latitude, year, 10.0),
        ten_hour_autumn(latitude, year),
        onions(latitude, year),
    )


def growing(place: PlaceYear, threshold_c: float) -> GrowingSeason | None:
    return growing_season(place.climate, threshold_c) if isinstance(place.climate, ComputedFrost) else None


class Soil(NamedTuple):
    """Morning soil as modelled on the last day of the record, and what the probe says of the model."""

    day: date
    celsius: float
    calibration: Working
    readings: int


def soil_now(place: PlaceYear) -> Soil | None:
    warm = place.warmth
    if not isinstance(warm, ComputedWarmth):
        return None
    series = warm.morning_soil
    known = np.flatnonzero(~np.isnan(series.values))
    if not known.size:
        return None
    last = int(known[-1])
    day = date.fromordinal(series.start.toordinal() + last)
    return Soil(day, float(series.values[last]), warm.calibration.working, warm.calibration.readings)


class Few(NamedTuple):
    """What a record under ten usable seasons can say: their number, the middle date and how wide it may be off."""

    usable: int
    middle: RiskDate | None
    sure: Sureness | None


def few(garden: Garden, frost: Frost) -> Few | None:
    """Where the garden's station has too few seasons to count from; None where it has enough, or there is none."""
    record = None if frost.station is None else record_of(frost.station)
    if record is None:
        return None
    climate = ComputedFrost(garden.southern, record.minima, frost.shift_c)
    try:
        climate.used()
    except TooFewSeasons as error:
        if error.usable == 0:
            return Few(0, None, None)
        dates = replace(climate, least=1).last(garden.year)
        return Few(error.usable, dates.date_for(0.5), how_sure(dates, error.usable, 0.5))
    return None
