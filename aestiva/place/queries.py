"""The place as the rules want it: one season's frost climate, gates and forecast."""

from __future__ import annotations

from datetime import date, timedelta
from functools import lru_cache

import numpy as np

from aestiva.gardens.models import Garden
from aestiva.place.models import ForecastNight, Frost, Station, StationYear, Warmth
from growing.calendar import cold_season_start, in_year
from growing.frost import FrostClimate, TypedDate, TypedFrost
from growing.minima import ComputedFrost, DailyMinima, TooFewSeasons
from growing.place import PlaceYear, WarmDate
from growing.watch import Night

MISSING = -32768


class NoFrostDate(Exception):
    """The garden has neither a typed last frost nor a usable station: nothing can be counted yet."""


def frost_of(garden: Garden) -> Frost:
    """The garden's frost row, unsaved and empty when it has none yet."""
    return Frost.objects.filter(garden=garden).select_related("station").first() or Frost(garden=garden)


def pack(values: np.ndarray) -> bytes:
    """Degrees as stored tenths."""
    tenths = np.where(np.isnan(values), MISSING, np.round(values * 10))
    return tenths.astype("<i2").tobytes()


def unpack(stored: bytes) -> np.ndarray:
    tenths = np.frombuffer(stored, dtype="<i2").astype(float)
    tenths[tenths == MISSING] = np.nan
    return tenths / 10


def daily(station: Station, variable: str) -> DailyMinima | None:
    """The station's whole record of one variable without holes in the calendar; None when there is none."""
    rows = tuple(
        StationYear.objects.filter(station=station, variable=variable).order_by("year").values_list("year", "tenths")
    )
    return _joined(tuple((y, bytes(t)) for y, t in rows)) if rows else None


@lru_cache(maxsize=16)
def _joined(rows: tuple[tuple[int, bytes], ...]) -> DailyMinima:
    first, last = rows[0][0], rows[-1][0]
    stored = dict(rows)
    parts = []
    for year in range(first, last + 1):
        length = (date(year + 1, 1, 1) - date(year, 1, 1)).days
        parts.append(unpack(stored[year]) if year in stored else np.full(length, np.nan))
    return DailyMinima(date(first, 1, 1), np.concatenate(parts))


def climate(garden: Garden, frost: Frost | None = None) -> FrostClimate:
    """Computed from the garden's station, otherwise as typed; raises NoFrostDate when neither is there."""
    frost = frost or frost_of(garden)
    if frost.station is not None:
        record = daily(frost.station, "tmin")
        if record is not None:
            found = _computed(record, garden.southern, frost.shift_c)
            try:
                found.used()
            except TooFewSeasons:
                pass
            else:
                return found
    if frost.last_on is None:
        raise NoFrostDate
    first = None
    if frost.first_on is not None:
        first = TypedDate(frost.first_on.month, frost.first_on.day, frost.first_meaning, frost.first_spread)
    last = TypedDate(frost.last_on.month, frost.last_on.day, frost.last_meaning, frost.last_spread)
    return TypedFrost(garden.southern, last, first)


@lru_cache(maxsize=16)
def _computed(record: DailyMinima, southern: bool, shift_c: float) -> ComputedFrost:
    return ComputedFrost(southern, record, shift_c)


def place_year(garden: Garden, year: int | None = None) -> PlaceYear:
    """The garden's place in one growing season; raises NoFrostDate."""
    year = garden.year if year is None else year
    start = cold_season_start(year, garden.southern)
    warmth: dict[str, list[WarmDate]] = {"soil": [], "nights": []}
    for row in Warmth.objects.filter(garden=garden):
        day = in_year(row.month, row.day, start.year)
        if day < start:
            day = in_year(row.month, row.day, start.year + 1)
        warmth[row.kind].append(WarmDate(row.celsius, day))
    return PlaceYear(
        year=year,
        climate=climate(garden),
        accepted_risk=garden.accepted_risk,
        soil=tuple(warmth["soil"]),
        nights=tuple(warmth["nights"]),
        sowing_days=garden.weekdays,
        latitude=garden.latitude,
    )


def nights(garden: Garden, today: date, days: int = 8) -> tuple[Night, ...]:
    """The forecast nights from today on."""
    rows = ForecastNight.objects.filter(garden=garden, day__gte=today, day__lt=today + timedelta(days=days))
    return tuple(Night(n.day, n.tmin_c, n.cloud, n.wind_kmh, n.tmax_c) for n in rows)
