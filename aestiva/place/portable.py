"""The place in the garden's document; weather as whole tenths of a degree, null where missing."""

from __future__ import annotations

from typing import Any

import numpy as np

from aestiva.gardens.portable import Part
from aestiva.place import models as m
from aestiva.place.queries import MISSING

LONGEST = 366


def _tenths_out(stored: Any) -> list[int | None]:
    return [None if v == MISSING else v for v in np.frombuffer(bytes(stored), dtype="<i2").tolist()]


def _tenths_in(values: Any) -> bytes:
    if not isinstance(values, list) or not 0 < len(values) <= LONGEST:
        raise ValueError("a year is a list of at most 366 days")
    if any(v is not None and (isinstance(v, bool) or not isinstance(v, int) or not -900 <= v <= 700) for v in values):
        raise ValueError("tenths of a degree are whole numbers from -900 to 700, or null")
    return np.array([MISSING if v is None else v for v in values], dtype="<i2").tobytes()


PARTS = (
    Part(
        "stations",
        m.Station,
        "owner",
        ("name", "note", "simulated", "latitude", "longitude", "elevation_m"),
        added={"latitude": (2, None), "longitude": (2, None), "elevation_m": (2, None)},
    ),
    Part(
        "station_years",
        m.StationYear,
        "station__owner",
        ("variable", "year", "tenths"),
        {"station": "stations"},
        {"tenths": (_tenths_out, _tenths_in)},
    ),
    Part(
        "frost",
        m.Frost,
        "garden",
        (
            "last_on",
            "last_meaning",
            "last_spread",
            "first_on",
            "first_meaning",
            "first_spread",
            "source",
            "shift_c",
            "shift_nights",
            "shift_error",
            "basis",
            "cover",
            "warmth_typed",
            "revision",
        ),
        {"station": "stations"},
        added={
            "shift_nights": (2, None),
            "shift_error": (2, None),
            "basis": (2, "all"),
            "cover": (2, "bare"),
            "warmth_typed": (2, True),  # in version 1 the typed days were all there was
        },
    ),
    Part("warmth", m.Warmth, "garden", ("kind", "celsius", "month", "day")),
    Part("own_nights", m.GardenNight, "garden", ("day", "tmin_c", "source")),
    Part("soil_readings", m.SoilReading, "garden", ("day", "hour", "celsius", "source")),
    Part(
        "nights",
        m.ForecastNight,
        "garden",
        ("day", "tmin_c", "tmax_c", "cloud", "wind_kmh", "gust_kmh", "rain_mm", "hail", "source"),
        added={"gust_kmh": (5, None), "rain_mm": (13, None), "hail": (13, None)},
    ),
)
