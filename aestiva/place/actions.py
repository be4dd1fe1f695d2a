"""Bringing weather in: a station's record from a parsed file, nights from a forecast file."""

from __future__ import annotations

from datetime import date
from hashlib import sha256

import numpy as np
from django.db import transaction

from aestiva.accounts.models import User
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.place.models import ForecastNight, Station, StationYear
from aestiva.place.queries import frost_of, pack
from growing.weatherfile import WeatherFile, read_weather


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


def bring_in(garden: Garden, user: User, name: str, data: bytes, key: str = "") -> int:
    """A station from a daily file; the garden's frost dates come from it from now on.  Returns the days read.

    The same file once more is not read again: its station is taken up again.
    """
    digest = sha256(data).hexdigest()
    frost = frost_of(garden)
    station = Station.objects.filter(owner=garden, digest=digest, name=name).first()
    days = 0
    with transaction.atomic():
        if station is None:
            # the record itself is read-only and stays when this is taken back: only its use is undone
            parsed = read_weather(data)
            days = len(parsed.days)
            station = Station.objects.create(name=name, owner=garden, digest=digest)
            StationYear.objects.bulk_create(station_years(station, parsed))
        with journal.change(garden, user, f"Brought in {name}", key) as write:
            frost.station = station
            write.save(frost)
    return days


def keep_nights(garden: Garden, user: User | None, nights: list[ForecastNight], summary: str, key: str = "") -> None:
    """Write forecast nights; a later forecast of the same night takes the place of the earlier one."""
    old = {n.day: n for n in ForecastNight.objects.filter(garden=garden, day__in=[n.day for n in nights])}
    with journal.change(garden, user, summary, key) as write:
        for night in nights:
            if night.day in old:
                night.pk = old[night.day].pk
            write.save(night)
