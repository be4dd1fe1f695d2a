"""When does a lidded box outdoors come up?  Seed sown in winter, left to the weather: chilling is free, there is no lamp and no
ladder.

Inside it is about a degree warmer than the coldest of the night, and six warmer than a sunny noon: two and a half over a day's mean
in this reckoning (estimate).  Hardy crops are sown from midwinter to six weeks before last frost, half-hardy ones four to six weeks
before it; tender ones are not.
"""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from growing.assumptions import whole
from growing.calendar import Window
from growing.chain.choice import Problem
from growing.crops import Crop
from growing.place.growth import midwinter
from growing.place.year import PlaceYear
from growing.seeds.thermal_time import emergence_rate

NIGHT_C, SUN_C, MEAN_C = 1.0, 6.0, 2.5  # inside over outdoors
HARDY_FROM_DAYS, HARDY_TO_DAYS = 150, 42  # before last frost; never before midwinter
HALF_HARDY_FROM_DAYS, HALF_HARDY_TO_DAYS = 42, 28
UNKNOWN_UP_DAYS = whole("chain.winterbox.UNKNOWN_UP_DAYS")
LONGEST_WAIT_DAYS = 200


def box_window(crop: Crop, place: PlaceYear, problems: list[Problem]) -> Window:
    """The days on which a box is sown; tender crops get a problem, and the half-hardy ones' days."""
    frost = place.last_frost[0]
    if crop.hardiness == "hardy":
        first = max(frost - timedelta(days=HARDY_FROM_DAYS), midwinter(place.year, place.climate.southern))
        last = frost - timedelta(days=HARDY_TO_DAYS)
        return Window(min(first, last), last)
    if crop.hardiness != "half-hardy":
        problems.insert(0, Problem("winter_tender", 0, None))
    return Window(frost - timedelta(days=HALF_HARDY_FROM_DAYS), frost - timedelta(days=HALF_HARDY_TO_DAYS))


def box_days(crop: Crop, place: PlaceYear, sow: date) -> tuple[float, str]:
    """Days from sowing until half are up in the box by the warmth of the years on record, and the source of the figure."""
    if place.normals is None:
        return max(14.0, (place.last_frost[0] - timedelta(days=UNKNOWN_UP_DAYS) - sow).days), "estimate"
    days, start = place.normals.day_c, place.span_start
    x = 0.0
    for n in range(LONGEST_WAIT_DAYS):
        k = (sow - start).days + n
        mean = days[k] if 0 <= k < len(days) else np.nan
        x += 0.0 if np.isnan(mean) else emergence_rate(crop, round(float(mean) + MEAN_C, 1))
        if x >= 1:
            return float(n + 1), "station"
    return float(LONGEST_WAIT_DAYS), "station"
