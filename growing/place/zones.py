"""Roughly where is somebody whose clock stands so?  The place that gives a time zone its name, from the zone table itself.

Source: zone.tab of the time zone database, as the package `tzdata` ships it.  Only zones with a place of their own are in
it: of aliases and UTC nothing is known, and the grower is asked.
"""

from __future__ import annotations

import re
from functools import cache
from importlib.resources import files
from typing import NamedTuple

_POINT = re.compile(r"([+-])(\d{2})(\d{2})(\d{2})?([+-])(\d{3})(\d{2})(\d{2})?")


class ZonePlace(NamedTuple):
    """country: its two letters.  latitude, longitude: [degrees], north and east positive, to a tenth."""

    country: str
    latitude: float
    longitude: float


@cache
def zone_places() -> dict[str, ZonePlace]:
    """Every zone that is named after a place, with that place."""
    found = {}
    for line in files("tzdata").joinpath("zoneinfo", "zone.tab").read_text(encoding="utf-8").splitlines():
        if not line.startswith("#"):
            country, point, name = line.split("\t")[:3]
            found[name] = ZonePlace(country, *_degrees(point))
    return found


def zone_place(zone: str) -> ZonePlace | None:
    """The place that gives the zone its name; None for an alias, UTC, and what is no zone."""
    return zone_places().get(zone)


def _degrees(point: str) -> tuple[float, float]:
    """“+513030-0000731” → 51.5, −0.1."""
    match = _POINT.fullmatch(point)
    if match is None:
        raise ValueError(f"{point} is no point of the zone table")
    north, lat, lat_min, lat_s, east, lon, lon_min, lon_s = match.groups()
    latitude = int(lat) + int(lat_min) / 60 + int(lat_s or 0) / 3600
    longitude = int(lon) + int(lon_min) / 60 + int(lon_s or 0) / 3600
    return round(latitude * (1 if north == "+" else -1), 1), round(longitude * (1 if east == "+" else -1), 1)
