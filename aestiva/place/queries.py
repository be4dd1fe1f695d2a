"""The place as the rules want it: one season's frost climate, warmth, gates and forecast."""

from __future__ import annotations

from datetime import date, timedelta
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from aestiva.frame.forms import EARLIEST
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.place.models import ForecastNight, Frost, GardenNight, SoilReading, Station, StationYear, Warmth
from aestiva.season.crops import Crops
from aestiva.season.models import Planting
from growing.calendar import cold_season_start, in_year
from growing.crops import Crop
from growing.place.frost import FrostClimate, TypedDate, TypedFrost
from growing.place.minima import MINIMUM_SEASONS, ComputedFrost, DailySeries, TooFewSeasons
from growing.place.nights import Night
from growing.place.shift import Pair, Shift, garden_shift, was_clear
from growing.place.soil import Reading
from growing.place.warmth import ComputedWarmth, TypedWarmth, WarmDate
from growing.place.year import PlaceYear

MISSING = -32768


class Record(NamedTuple):
    """A station's daily minima and maxima; the maxima may be all unknown."""

    minima: DailySeries
    maxima: DailySeries


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


def record_of(station: Station) -> Record | None:
    """The station's whole record without holes in the calendar; None when it has no minima."""
    stored: dict[str, list[tuple[int, bytes]]] = {"tmin": [], "tmax": []}
    rows = StationYear.objects.filter(station=station, variable__in=stored).order_by("year")
    for variable, year, tenths in rows.values_list("variable", "year", "tenths"):
        stored[variable].append((year, bytes(tenths)))
    return _joined(tuple(stored["tmin"]), tuple(stored["tmax"])) if stored["tmin"] else None


@lru_cache(maxsize=16)
def _joined(minima: tuple[tuple[int, bytes], ...], maxima: tuple[tuple[int, bytes], ...]) -> Record:
    low, high = _series(minima), _series(maxima) if maxima else None
    return Record(low, high or DailySeries(low.start, np.full(len(low.values), np.nan)))


def _series(rows: tuple[tuple[int, bytes], ...]) -> DailySeries:
    """Whole years joined, cut to the days between the first and the last one known."""
    first, last = rows[0][0], rows[-1][0]
    stored = dict(rows)
    parts = []
    for year in range(first, last + 1):
        length = (date(year + 1, 1, 1) - date(year, 1, 1)).days
        parts.append(unpack(stored[year]) if year in stored else np.full(length, np.nan))
    values = np.concatenate(parts)
    known = np.flatnonzero(~np.isnan(values))
    begin, end = (int(known[0]), int(known[-1]) + 1) if known.size else (0, len(values))
    return DailySeries(date(first, 1, 1) + timedelta(days=begin), values[begin:end])


def climate(garden: Garden, frost: Frost, record: Record | None) -> FrostClimate:
    """Computed from the garden's station, otherwise as typed; raises NoFrostDate when neither is there."""
    if record is not None:
        found = computed_frost(record, garden.southern, frost.shift_c, frost.basis)
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
def computed_frost(
    record: Record, southern: bool, shift_c: float, basis: str = "all", least: int = MINIMUM_SEASONS
) -> ComputedFrost:
    """The frost climate of a record, kept between requests; `least` loosens the number of seasons it needs."""
    return ComputedFrost(southern, record.minima, shift_c, basis=basis, least=least)


@lru_cache(maxsize=16)
def computed_warmth(
    record: Record, southern: bool, shift_c: float, cover: str, readings: tuple[Reading, ...]
) -> ComputedWarmth:
    """Soil and nights of a record, kept between requests."""
    return ComputedWarmth(southern, record.minima, record.maxima, shift_c, cover, readings)


def soil_readings(garden: Garden) -> tuple[Reading, ...]:
    """What the garden's own probe said, oldest first."""
    rows = SoilReading.objects.filter(garden=garden, day__gte=EARLIEST).order_by("day", "hour")
    return tuple(Reading(*row) for row in rows.values_list("day", "hour", "celsius"))


def place_year(garden: Garden, year: int | None = None, frost: Frost | None = None) -> PlaceYear:
    """The garden's place in one growing season; raises NoFrostDate.

    frost: the row as it would be, for a look ahead; otherwise as kept.
    """
    year = garden.year if year is None else year
    frost = frost or frost_of(garden)
    record = None if frost.station is None else record_of(frost.station)
    typed = _typed_warmth(garden, year)
    readings = soil_readings(garden)
    warmth: TypedWarmth | ComputedWarmth = typed
    if record is not None and not frost.warmth_typed and not np.isnan(record.maxima.values).all():
        warmth = computed_warmth(record, garden.southern, frost.shift_c, frost.cover, readings)
    return PlaceYear(
        year=year,
        climate=climate(garden, frost, record),
        accepted_risk=garden.accepted_risk,
        warmth=warmth,
        sowing_days=garden.weekdays,
        latitude=garden.latitude,
    )


def _typed_warmth(garden: Garden, year: int) -> TypedWarmth:
    start = cold_season_start(year, garden.southern)
    points: dict[str, list[WarmDate]] = {"soil": [], "nights": []}
    for row in Warmth.objects.filter(garden=garden):
        day = in_year(row.month, row.day, start.year)
        if day < start:
            day = in_year(row.month, row.day, start.year + 1)
        points[row.kind].append(WarmDate(row.celsius, day))
    return TypedWarmth(tuple(points["soil"]), tuple(points["nights"]))


def nights(garden: Garden, today: date, days: int = 8) -> tuple[Night, ...]:
    """The forecast nights from today on."""
    rows = ForecastNight.objects.filter(garden=garden, day__gte=today, day__lt=today + timedelta(days=days))
    return tuple(n.night for n in rows)


def estimated_shift(garden: Garden, record: Record) -> Shift | None:
    """The garden against its station, from the nights read at both; None without such a night.

    A night counts as clear by the range of the station's day before it.
    """
    pairs = []
    for day, own in (
        GardenNight.objects.filter(garden=garden, day__gte=EARLIEST).order_by("day").values_list("day", "tmin_c")
    ):
        low = float(record.minima.between(day, day)[0])
        high = float(record.maxima.between(day - timedelta(days=1), day)[0])
        if low == low:
            pairs.append(Pair(day, low, own, was_clear(low, high)))
    return garden_shift(pairs)


def season_crops(garden: Garden) -> list[tuple[Crop, bool]]:
    """The crops of this spring, each once by name and by whether it goes under the tunnel."""
    planted = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None)
    rows = planted.exclude(term="autumn").values_list("crop_key", "spot__kind").distinct().order_by()
    crops = Crops(garden)
    found = {(key, kind == "tunnel") for key, kind in rows}
    return sorted(((crops[key], tunnel) for key, tunnel in found if key in crops), key=lambda c: (c[0].name, c[1]))
