"""Bringing weather in: a station's record from a parsed file, nights from a forecast file."""

from __future__ import annotations

from datetime import date

import numpy as np

from aestiva.accounts.models import User
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.place.models import ForecastNight, Frost, Station, StationYear
from aestiva.place.queries import frost_of, pack
from growing.weatherfile import WeatherFile


def station_years(station: Station, parsed: WeatherFile) -> list[StationYear]:
    """The record as rows of one year and variable, NaN where the file has nothing."""
    days = np.array(parsed.days, dtype="datetime64[D]")
    years = days.astype("datetime64[Y]").astype(int) + 1970
    rows = []
    for year in np.unique(years):
        here = years == year
        index = (days[here] - np.datetime64(f"{year}-01-01")).astype(int)
        length = (date(int(year) + 1, 1, 1) - date(int(year), 1, 1)).days
        for variable, values in (("tmin", parsed.tmin), ("tmax", parsed.tmax)):
            full = np.full(length, np.nan)
            full[index] = values[here]
            if not np.isnan(full).all():
                rows.append(StationYear(station=station, variable=variable, year=int(year), tenths=pack(full)))
    return rows


def bring_in(garden: Garden, user: User, name: str, parsed: WeatherFile, key: str = "") -> Frost:
    """A new station from the file; the garden's frost dates come from it from now on."""
    frost = frost_of(garden)
    summary = f"Brought in {len(parsed.days)} days of weather from {name}"
    with journal.change(garden, user, summary, key) as write:
        # the record itself is read-only and stays when this is taken back: only its use is undone
        station = Station.objects.create(name=name, owner=garden)
        StationYear.objects.bulk_create(station_years(station, parsed))
        frost.station = station
        write.save(frost)
    return frost


def keep_nights(garden: Garden, user: User | None, nights: list[ForecastNight], summary: str, key: str = "") -> None:
    """Write forecast nights; a later forecast of the same night takes the place of the earlier one."""
    old = {n.day: n for n in ForecastNight.objects.filter(garden=garden, day__in=[n.day for n in nights])}
    with journal.change(garden, user, summary, key) as write:
        for night in nights:
            if night.day in old:
                night.pk = old[night.day].pk
            write.save(night)
