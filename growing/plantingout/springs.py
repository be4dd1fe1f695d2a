"""What may come from today on?  The years on record, each led in by a draw of the forecast, day by day at the plant."""

from __future__ import annotations

from datetime import date
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from growing.place.growth import AHEAD_DAYS, SPAN_DAYS, midsummer, span_start
from growing.place.nightgate import nights_ahead
from growing.place.nights import BETWEEN_C, Night, at_plant
from growing.place.year import PlaceYear

Floats = NDArray[np.float64]
FORECAST_NIGHTS = 10
HORIZON_DAYS = 60  # for which gates are looked at
LOOKED_AT = HORIZON_DAYS + AHEAD_DAYS


class SpringsAhead(NamedTuple):
    """Years × days from `today`: lowest at the plant in the open (or under the place's own cover), morning soil, mean of the nights
    ahead and their coldest with the credit of warm days [°C].

    solstice: days until midsummer, at least 0.  span: today's number in the growing span.  forecast: nights of it that are in.
    """

    today: date
    plant_c: Floats
    soil_c: Floats
    nights_c: Floats
    coldest_c: Floats
    solstice: int
    span: int
    forecast: int

    @property
    def years(self) -> int:
        return len(self.plant_c)

    def warmer(self, by_c: float) -> SpringsAhead:
        """The same nights under a cover that adds so much."""
        return self._replace(plant_c=self.plant_c + by_c)


def stratified(count: int) -> Floats:
    """Normal quantiles in an order that has nothing to do with that of the years, the same every time."""
    order = np.argsort((np.arange(count) * 0.6180339887498949) % 1.0)
    return np.asarray(ndtri((order + 0.5) / count))


def springs(place: PlaceYear, today: date, nights: tuple[Night, ...] = (), shift_c: float = 0.0) -> SpringsAhead | None:
    """The years of the place's record from today on; None where there is no daily record, or the day is outside a growing year.

    nights: the forecast; each year begins with one draw of it (its errors hang together from night to night), so that the mean over
    the years is the mean over draws and years.  shift_c: the garden's own, for the forecast; the record has it already.
    """
    daily = place.memo("daily", place.warmth.daily)
    first = (today - span_start(place.year, place.climate.southern)).days
    if daily is None or not 0 <= first < SPAN_DAYS - HORIZON_DAYS:
        return None
    plant = daily.minima[:, first:] - BETWEEN_C
    low, high = daily.minima[:, first : first + LOOKED_AT].copy(), daily.maxima[:, first : first + LOOKED_AT].copy()
    known, draws = 0, stratified(daily.years)
    for night in sorted(nights):
        n = (night.day - today).days
        if 0 <= n < FORECAST_NIGHTS:
            said = at_plant(night, today, shift_c, place.cover)
            plant[:, n] = said.celsius + said.error_c * draws
            low[:, n] = night.tmin_c + shift_c + said.error_c * draws
            if night.tmax_c is not None:
                high[:, n] = night.tmax_c
            known += 1
    ahead = nights_ahead(low, high)
    solstice = max(0, (midsummer(place.year, place.climate.southern) - today).days)
    return SpringsAhead(today, plant, daily.soil[:, first:], ahead.mean_c, ahead.coldest_c, solstice, first, known)
