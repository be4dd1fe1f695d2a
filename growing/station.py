"""A stand-in for a weather station and forecast: seeded daily weather, and what a forecast would say of it.

Daily means follow the season with autocorrelated departures; wet and dry days alternate with persistence; the range
between minimum and maximum is narrow when it is overcast.  A forecast is the weather to come plus errors growing
with lead.  The same seed gives the same weather for ever.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import ArrayLike, NDArray

from growing.watch import ERROR_PER_DAY_C, Night

YEAR_DAYS = 365.2425


@dataclass(frozen=True, slots=True)
class Climate:
    """Seasonal shape of a place's weather: daily means [°C], their swing, spread and persistence, days of rain."""

    mean_c: float
    swing_c: float
    spread_c: float = 3.2
    persistence: float = 0.72
    range_c: float = 9.0
    wet_share: float = 0.42
    warmest_day: int = 202  # day of year of the warmest mean in the north; the south is half a year later


@dataclass(frozen=True)
class Weather:
    """A run of days from `start`: tmin, tmax [°C], cloud 0–1, wind [km/h], rain [mm], one value a day."""

    start: date
    tmin: NDArray[np.float64]
    tmax: NDArray[np.float64]
    cloud: NDArray[np.float64]
    wind: NDArray[np.float64]
    rain: NDArray[np.float64]

    def index(self, day: date) -> int:
        return (day - self.start).days


def generate(climate: Climate, southern: bool, seed: int, start: date, days: int) -> Weather:
    """`days` days of weather from `start` under `seed`."""
    random = np.random.default_rng([seed, start.toordinal()])
    number = np.arange(days)
    phase = (start.timetuple().tm_yday + number - climate.warmest_day) / YEAR_DAYS
    season = np.cos(2 * np.pi * (phase + (0.5 if southern else 0.0)))
    wet = _chain(random.random(days), climate.wet_share)
    cloud = np.clip(np.where(wet, random.beta(6, 1.6, days), random.beta(1.3, 1.6, days)), 0.02, 1.0)
    wind = random.gamma(3.0, 3.4, days) * (1 + 0.25 * wet)
    noise = random.normal(0, climate.spread_c * np.sqrt(1 - climate.persistence**2), days)
    departure = np.empty(days)
    last = random.normal(0, climate.spread_c)
    for i in range(days):  # autocorrelation runs from day to day
        last = climate.persistence * last + noise[i]
        departure[i] = last
    mean = climate.mean_c + climate.swing_c * season + departure * (1 - 0.4 * season) - 0.6 * wet * (season > 0)
    half = 0.5 * climate.range_c * (1.25 - 0.75 * cloud) * (1 + 0.18 * season)
    rain = np.where(wet, np.round(random.gamma(0.8, 6.0, days) + 0.2, 1), 0.0)
    return Weather(
        start, _floats(mean - half, 1), _floats(mean + half, 1), _floats(cloud, 2), _floats(wind, 0), _floats(rain, 1)
    )


def _floats(values: ArrayLike, places: int) -> NDArray[np.float64]:
    return np.asarray(np.round(np.asarray(values, dtype=np.float64), places), dtype=np.float64)


def _chain(draws: NDArray[np.float64], share: float) -> NDArray[np.bool_]:
    """Wet days with persistence, a `share` of all days in the long run."""
    stay_wet = 0.5 + share / 2
    become_wet = share * (1 - stay_wet) / (1 - share)
    wet = np.empty(len(draws), bool)
    state = draws[0] < share
    for i, draw in enumerate(draws):
        state = draw < (stay_wet if state else become_wet)
        wet[i] = state
    return wet


def forecast(weather: Weather, seed: int, today: date, nights: int = 8) -> list[Night]:
    """What a forecast made on `today` says of the coming nights: errors of 1 °C per two days of lead."""
    random = np.random.default_rng([seed, today.toordinal(), 1])
    error = np.cumsum(random.normal(0, ERROR_PER_DAY_C, nights)) * 0.8
    result = []
    for lead in range(nights):
        day = today + timedelta(days=lead)
        i = weather.index(day)
        if not 0 <= i < len(weather.tmin) - 1:
            break
        # the night that begins this evening ends in the minimum of the next morning
        result.append(
            Night(
                day,
                round(float(weather.tmin[i + 1] + error[lead]), 1),
                float(weather.cloud[i]),
                float(weather.wind[i]),
                round(float(weather.tmax[i] + error[lead]), 1),
            )
        )
    return result
