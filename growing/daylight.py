"""How long is the day?  Day length and the ten-hour dates; polar day and night are results."""

from __future__ import annotations

from datetime import date, timedelta
from functools import lru_cache

from astral import Observer
from astral.sun import daylight, elevation
from astral.sun import noon as solar_noon

TEN_HOURS = 10.0


@lru_cache(maxsize=4096)
def day_length_h(latitude: float, day: date) -> float:
    """Hours from sunrise to sunset, 0 (polar night) to 24 (polar day)."""
    observer = Observer(latitude=latitude, longitude=0.0)
    try:
        rise, fall = daylight(observer, day)
    except ValueError:
        return 24.0 if elevation(observer, solar_noon(observer, day)) > 0 else 0.0
    return (fall - rise).total_seconds() / 3600


@lru_cache(maxsize=256)
def ten_hour_autumn(latitude: float, year: int) -> date | None:
    """The last day of the growing season that began in `year` with at least ten hours; None where it never falls."""
    southern = latitude < 0
    day, end = (date(year + 1, 1, 1), date(year + 1, 7, 1)) if southern else (date(year, 7, 1), date(year, 12, 31))
    if day_length_h(latitude, day) < TEN_HOURS or day_length_h(latitude, end - timedelta(days=10)) >= TEN_HOURS:
        return None
    low, high = day, end - timedelta(days=10)
    while (high - low).days > 1:  # day length falls all the way between the solstices
        middle = low + (high - low) // 2
        if day_length_h(latitude, middle) >= TEN_HOURS:
            low = middle
        else:
            high = middle
    return low
