"""The place as the rules want it: one season's frost climate, warmth, gates and forecast."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from functools import cache, lru_cache
from typing import NamedTuple

import numpy as np

from aestiva.frame.cache import emptied
from aestiva.frame.forms import EARLIEST
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.place.fitted import FittedWarmth, ReadWhenAsked, fitted_frost, fitted_warmth
from aestiva.place.models import ForecastNight, Frost, GardenNight, SoilReading, Station, StationYear, Warmth
from aestiva.season.crops import Crops
from aestiva.season.models import Absence, Planting
from growing.calendar import cold_season_start, in_year, joined
from growing.crops import Crop
from growing.place.frost import FrostClimate, TypedDate, TypedFrost
from growing.place.minima import DailySeries, TooFewSeasons
from growing.place.nights import Night
from growing.place.shift import Pair, Shift, garden_shift, was_clear
from growing.place.soil import ProbeReading
from growing.place.warmth import TypedWarmth, WarmDate
from growing.place.year import RISK_SCALE, PlaceYear

MISSING = -32768
MOST_PLACES = 32  # that a process remembers


class StationRecord(NamedTuple):
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


def record_of(station: Station) -> StationRecord | None:
    """The station's whole record without holes in the calendar; None when it has no minima."""
    stored: dict[str, list[tuple[int, bytes]]] = {"tmin": [], "tmax": []}
    rows = StationYear.objects.filter(station=station, variable__in=stored).order_by("year")
    for variable, year, tenths in rows.values_list("variable", "year", "tenths"):
        stored[variable].append((year, bytes(tenths)))
    if not stored["tmin"]:
        return None
    low = _series(stored["tmin"])
    high = _series(stored["tmax"]) if stored["tmax"] else DailySeries(low.start, np.full(len(low.values), np.nan))
    return StationRecord(low, high)


def record_when_asked(station: Station) -> StationRecord:
    """The same, read only when somebody looks at it; TooFewSeasons then, when it has no minima."""
    record = cache(lambda: record_of(station))

    def series(which: int) -> DailySeries:
        found = record()
        if found is None:
            raise TooFewSeasons(0)
        return found[which]

    return StationRecord(ReadWhenAsked(lambda: series(0)), ReadWhenAsked(lambda: series(1)))


def _series(rows: Sequence[tuple[int, bytes]]) -> DailySeries:
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


def climate(garden: Garden, frost: Frost, record: StationRecord | None) -> FrostClimate:
    """Computed from the garden's station, otherwise as typed; raises NoFrostDate when neither is there."""
    if record is not None and frost.station is not None:
        found = fitted_frost(frost.station, record.minima, garden.southern, frost.shift_c, frost.basis)
        if found.enough:
            return found
    if frost.last_on is None:
        raise NoFrostDate
    first = None
    if frost.first_on is not None:
        first = TypedDate(frost.first_on.month, frost.first_on.day, frost.first_meaning, frost.first_spread)
    last = TypedDate(frost.last_on.month, frost.last_on.day, frost.last_meaning, frost.last_spread)
    return TypedFrost(garden.southern, last, first)


def soil_readings(garden: Garden) -> tuple[ProbeReading, ...]:
    """What the garden's own probe said, oldest first."""
    rows = SoilReading.objects.filter(garden=garden, day__gte=EARLIEST).order_by("day", "hour")
    return tuple(ProbeReading(*row) for row in rows.values_list("day", "hour", "celsius"))


def place_year(garden: Garden, year: int | None = None, frost: Frost | None = None) -> PlaceYear:
    """The garden's place in one growing season; raises NoFrostDate.

    frost: the row as it would be, for a look ahead; otherwise as kept.
    """
    year = garden.year if year is None else year
    warmth: TypedWarmth | FittedWarmth | None
    frost = frost or frost_of(garden)
    record = None if frost.station is None else record_when_asked(frost.station)
    warmth = _typed_warmth(garden, year) if frost.warmth_typed else None
    if warmth is None and record is not None and frost.station is not None:
        warmth = _computed_warmth(garden, frost, frost.station, record)
    place = PlaceYear(
        year=year,
        climate=climate(garden, frost, record),
        accepted_risk=garden.accepted_risk,
        risk_scale={**RISK_SCALE, **garden.risk_scale},
        warmth=warmth or _typed_warmth(garden, year),
        sowing_days=garden.weekdays,
        latitude=garden.latitude,
        away=joined(one.window for one in Absence.objects.filter(garden=garden)),
    )
    return _known(place, emptied())


@lru_cache(maxsize=MOST_PLACES)
def _known(place: PlaceYear, emptied: str) -> PlaceYear:
    """The place as it was asked before, with all that was worked out of it: whatever it follows from is the same."""
    return place


def _computed_warmth(garden: Garden, frost: Frost, station: Station, record: StationRecord) -> FittedWarmth | None:
    """Soil and nights from the station; None where it has no maxima."""
    found = fitted_warmth(
        station, record.minima, record.maxima, garden.southern, frost.shift_c, frost.cover, soil_readings(garden)
    )

    def known() -> bool:
        try:
            return not np.isnan(record.maxima.values).all()
        except TooFewSeasons:
            return False

    return found if found.answers.of("maxima", known) else None


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


def estimated_shift(garden: Garden, record: StationRecord) -> Shift | None:
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
