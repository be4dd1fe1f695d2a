"""Where is it judged?  Three climates, each with thirty years of a station's days, which are all that rules and habits know of it."""

from __future__ import annotations

from datetime import date
from functools import cache
from typing import NamedTuple

import numpy as np

from demo.nature.rooms import Place, World
from demo.nature.weather import Record, draw
from growing.calendar import cold_season_start
from growing.place.computedwarmth import ComputedWarmth
from growing.place.minima import ComputedFrost, DailySeries
from growing.place.station import Climate, generate
from growing.place.year import PlaceYear

YEAR, YEARS, RUN_DAYS = 2026, 30, 415
PLACES = (
    Place("shelf", "shelf", mat="thermostat", fan=True),
    Place("porch", "porch"),
    Place("frame", "frame"),
    Place("bed", "bed"),
)


class Where(NamedTuple):
    """A climate by its name, and how far from the equator."""

    name: str
    latitude: float
    climate: Climate
    seed: int


CLIMATES = (
    Where("upland", 52.4, Climate(7.6, 8.0, 3.4, range_c=7.4), 11),
    Where("mild-coast", 50.2, Climate(11.2, 5.6, 2.6, persistence=0.75, range_c=6.8, wet_share=0.45), 12),
    Where("short-continental", 53.5, Climate(5.5, 15.0, 4.6, persistence=0.74, range_c=11.5, wet_share=0.32), 13),
)


@cache
def record(where: Where) -> Record:
    """Thirty years of days up to the winter before the season."""
    start = cold_season_start(YEAR - YEARS, False)
    made = generate(where.climate, False, where.seed, start, (date(YEAR - 1, 12, 31) - start).days)
    return Record(start, made.tmin, made.tmax)


def world(where: Where, seasons: int, seed: int = 1, places: tuple[Place, ...] = PLACES) -> World:
    """So many seasons, from November before the spring to the end of the year."""
    return World(draw(record(where), seed, date(YEAR - 1, 11, 1), RUN_DAYS, where.latitude, seasons), places)


@cache
def place_year(where: Where) -> PlaceYear:
    """What the rules make of the record: frost dates, soil and nights, at the usual accepted risk."""
    days = record(where)
    low, high = DailySeries(days.start, days.tmin), DailySeries(days.start, days.tmax)
    return PlaceYear(YEAR, ComputedFrost(False, low), 0.1, ComputedWarmth(False, low, high), latitude=where.latitude)


def last_frost(where: Where) -> date:
    """What the habits go by: the middle of the record's last nights at or below 0 °C, counted without our rules."""
    days = record(where)
    last = []
    for year in range(YEAR - YEARS + 1, YEAR):
        first = (date(year, 1, 1) - days.start).days
        frost = np.flatnonzero(days.tmin[first : first + 196] <= 0)
        if len(frost):
            last.append(int(frost[-1]))
    return date.fromordinal(date(YEAR, 1, 1).toordinal() + int(np.median(last)))
