"""What the view of the place shows, gathered: the curve with its years, the dates crops wait for, the season."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.gardens.models import Garden
from aestiva.place.fitted import fitted_frost
from aestiva.place.models import Frost, Station
from aestiva.place.picture import Curve, span_of
from aestiva.place.queries import record_of
from growing.calendar import cold_season_start
from growing.crops import Crop
from growing.place.daylight import Onion, day_length_h, onions, reaches, ten_hour_autumn
from growing.place.frost import EventDates, RiskDate
from growing.place.growing_season import GrowingSeason, growing_season
from growing.place.minima import ColdSeason, ComputedFrost, TooFewSeasons
from growing.place.sureness import Sureness, how_sure, risk_band
from growing.place.trend import Trend
from growing.place.warmth import SURE, ComputedWarmth, WarmFrom
from growing.place.year import PlaceYear
from growing.working import Working

RISKS = (0.9, 0.5, 0.25, 0.1)
SURELY_COLD = 1 - SURE  # chance of a cold night that is left when nights are warm in nine springs of ten


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
    seasons = climate.used(threshold_c)
    left_out = [s for s in climate.seasons(threshold_c) if s.left_out]
    known, trend = climate.kept(
        ("sureness", event, place.year, threshold_c), lambda: _sureness(climate, place.year, event, threshold_c)
    )
    table: list[tuple[float, RiskDate, Sureness | None]] = [(r, dates.date_for(r), known[r]) for r in RISKS]
    return EventView(dates, line, table, seasons, left_out, known[0.5], trend)


def _sureness(climate: ComputedFrost, year: int, event: str, threshold_c: float) -> tuple[dict[float, Sureness], Trend]:
    """How sure the years make each date of the table, and their trend."""
    dates = climate.last(year, threshold_c) if event == "last" else climate.first(year, threshold_c)
    seasons = len(climate.used(threshold_c))
    return {r: how_sure(dates, seasons, r) for r in RISKS}, climate.trend(event, threshold_c)


@lru_cache(maxsize=64)
def _band(dates: EventDates, seasons: int, first: date, last: date) -> NDArray[np.float64]:
    start = dates.start.toordinal()
    return risk_band(dates, seasons, np.arange(first.toordinal() - start, last.toordinal() - start + 1.0))


def curve_of(
    season: EventView, risk: float, typed: date | None, other: EventDates | None, name: str, units: str
) -> Curve:
    """What is drawn of it."""
    first, last = span_of(season.dates, other, typed)
    drawn = season.seasons and season.dates.days
    band = _band(season.dates, len(season.seasons), first, last) if drawn else None
    return Curve(season.dates, risk, season.seasons, first, last, typed, band, other, name, units)


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
            rows.append([s.year, threshold, last, depths[0], first, depths[1], s.missing, s.left_out])
    return rows


# ---------------------------------------------------------------- what crops wait for


class CropGates(NamedTuple):
    """One crop's gates: the frost line at its accepted risk, soil and nights at even odds and nine times in ten."""

    crop: Crop
    tunnel: bool
    frost_day: date | None
    risk: float
    soil: tuple[WarmFrom, WarmFrom]
    nights: tuple[WarmFrom, WarmFrom]
    workings: tuple[Working, ...]
    decides: str
    day: date | None
    sure: date | None

    @property
    def name(self) -> str:
        return f"{self.crop.name}, in the tunnel" if self.tunnel else self.crop.name

    @property
    def soil_c(self) -> float:
        return self.crop.number("soil_c")

    @property
    def night_c(self) -> float:
        return self.crop.number("night_c")

    @property
    def limit_c(self) -> float:
        """What it waits for, in degrees."""
        return {"soil": self.soil_c, "nights": self.night_c}.get(self.decides, self.crop.number("damage_c"))

    @property
    def never(self) -> str:
        """What never gets warm enough before midsummer here: "soil", "nights" or ""."""
        for kind, found in (("soil", self.soil[0]), ("nights", self.nights[0])):
            if found.verdict == "never":
                return kind
        return ""


class Wait(NamedTuple):
    """Crops that wait for the same thing until the same day."""

    names: str
    need: CropGates


def needs(place: PlaceYear, crops: Sequence[tuple[Crop, bool]]) -> list[CropGates]:
    """What each crop waits for here, in the open or under the tunnel; the latest first."""
    found = [_need(place.under("tunnel") if tunnel else place, crop, tunnel) for crop, tunnel in crops]
    return sorted(found, key=lambda n: (-(n.day or date.min).toordinal(), n.name))


def _need(place: PlaceYear, crop: Crop, tunnel: bool) -> CropGates:
    risk, damage = place.risk_for(crop.hardiness), crop.number("damage_c")
    soil_c, night_c = crop.number("soil_c"), crop.number("night_c")
    warm, year = place.warmth, place.year
    gates = place.gates(damage, soil_c, night_c, crop.hardiness)
    dated = [g for g in gates if g.day is not None]
    decides = max(dated, key=lambda g: g.day or date.min) if dated else gates[0]
    soil = (
        place.memo(("soil", soil_c), lambda: warm.soil_from(year, soil_c)),
        place.memo(("sure soil", soil_c), lambda: warm.soil_from(year, soil_c, SURE)),
    )
    nights = (
        place.memo(("nights", night_c), lambda: warm.nights_from(year, night_c)),
        place.memo(("sure nights", night_c), lambda: warm.nights_from(year, night_c, SURELY_COLD)),
    )
    surely = {"soil": soil[1], "nights": nights[1]}.get(decides.kind)
    sure = None if surely is None or surely.verdict == "never" else surely.day
    workings = tuple(g.working for g in gates)
    return CropGates(crop, tunnel, gates[0].day, risk, soil, nights, workings, decides.kind, decides.day, sure)


def waits(found: Sequence[CropGates]) -> list[Wait]:
    """Needs that are the same for several crops, said once."""
    groups: dict[tuple[object, ...], list[CropGates]] = {}
    for need in found:
        key = (need.day, need.decides, need.limit_c, need.sure, need.never, need.tunnel)
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
