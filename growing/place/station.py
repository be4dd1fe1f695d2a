"""Where does the weather come from?  One interface for a simulated station, a file and a feed.

A made-up record is seeded daily weather: daily means follow the season with autocorrelated departures; wet and dry days
alternate with persistence; the range between minimum and maximum is narrow when it is overcast.  The same seed gives the
same weather for ever.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import ArrayLike, NDArray

from growing.place.minima import DailySeries
from growing.place.nights import Night

YEAR_DAYS = 365.2425


@dataclass(frozen=True, slots=True)
class Climate:
    """Seasonal shape of a place's weather.

    mean_c: year's mean; swing_c: warmest month above it; spread_c: standard deviation of daily means from the season,
    the mean over the year; summer_calm: by how much that spread is smaller at midsummer and larger at midwinter;
    persistence: correlation from day to day; range_c: mean of maximum − minimum; wet_share: of days with rain;
    warmest_day: day of year of the warmest mean in the north (the south is half a year later).
    """

    mean_c: float
    swing_c: float
    spread_c: float = 3.2
    persistence: float = 0.72
    range_c: float = 7.3
    wet_share: float = 0.42
    warmest_day: int = 202
    summer_calm: float = 0.4


PRESETS = {  # estimates: rounded from general knowledge of such climates, for gardens without a record
    "maritime lowland": Climate(10.0, 6.0, 2.8, 0.75, 7.5, 0.45),
    "cool upland": Climate(6.0, 7.0, 2.6, 0.72, 8.5, 0.5),
    "continental": Climate(8.5, 12.5, 4.4, 0.74, 10.5, 0.32),
    "cold continental": Climate(4.5, 16.0, 5.2, 0.74, 11.5, 0.3),
    "winter-rain coast": Climate(15.5, 7.0, 2.6, 0.7, 11.0, 0.22),
    "dry highland": Climate(8.0, 11.0, 4.2, 0.7, 15.0, 0.2),
    "humid subtropical": Climate(17.5, 9.5, 4.0, 0.7, 11.0, 0.32),
}


class DailyWeather(NamedTuple):
    """Observed days from `start`: tmin and tmax [°C], one a day, NaN where not read."""

    start: date
    tmin: NDArray[np.float64]
    tmax: NDArray[np.float64]


class WeatherSource(Protocol):
    """A station with its forecast service: simulated, read from a file, or fed by post.

    observed: its days from `first` to `last`, NaN where it has none.  forecast: the nights from `today` on.
    """

    def observed(self, first: date, last: date) -> DailyWeather: ...
    def forecast(self, today: date) -> tuple[Night, ...]: ...


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


@dataclass(frozen=True)
class Given:
    """Days and nights handed over as they are: by a file or a post."""

    weather: DailyWeather
    nights: tuple[Night, ...] = ()

    @classmethod
    def of(cls, days: Sequence[date], tmin: ArrayLike, tmax: ArrayLike) -> Given:
        """From days in any order, each once (at least one)."""
        first = min(days)
        at = np.array([(d - first).days for d in days])
        low, high = np.full(int(at.max()) + 1, np.nan), np.full(int(at.max()) + 1, np.nan)
        low[at], high[at] = tmin, tmax
        return cls(DailyWeather(first, low, high))

    @property
    def span(self) -> tuple[date, date]:
        return self.weather.start, self.weather.start + timedelta(days=len(self.weather.tmin) - 1)

    def observed(self, first: date, last: date) -> DailyWeather:
        low, high = (DailySeries(self.weather.start, v).between(first, last) for v in self.weather[1:])
        return DailyWeather(first, low, high)

    def forecast(self, today: date) -> tuple[Night, ...]:
        return tuple(n for n in self.nights if n.day >= today)


def generate(climate: Climate, southern: bool, seed: int, start: date, days: int) -> Weather:
    """`days` days of weather from `start` under `seed`."""
    random = np.random.default_rng([seed, start.toordinal()])
    season = _season(climate, southern, start, days)
    wet = _chain(random.random(days), climate.wet_share)
    cloud = np.clip(np.where(wet, random.beta(6, 1.6, days), random.beta(1.3, 1.6, days)), 0.02, 1.0)
    wind = random.gamma(3.0, 3.4, days) * (1 + 0.25 * wet)
    noise = random.normal(0, climate.spread_c * np.sqrt(1 - climate.persistence**2), days)
    departure = np.empty(days)
    last = random.normal(0, climate.spread_c)
    for i in range(days):  # autocorrelation runs from day to day
        last = climate.persistence * last + noise[i]
        departure[i] = last
    rainy = 0.6 * (wet - climate.wet_share) * (season > 0)  # wet summer days are the cooler ones
    mean = climate.mean_c + climate.swing_c * season + departure * (1 - climate.summer_calm * season) - rainy
    half = 0.5 * climate.range_c * (1.25 - 0.75 * cloud) / _narrowing(climate.wet_share) * (1 + 0.18 * season)
    rain = np.where(wet, np.round(random.gamma(0.8, 6.0, days) + 0.2, 1), 0.0)
    return Weather(
        start, _floats(mean - half, 1), _floats(mean + half, 1), _floats(cloud, 2), _floats(wind, 0), _floats(rain, 1)
    )


def _narrowing(wet_share: float) -> float:
    """Mean of 1.25 − 0.75 cloud over wet and dry days, so that the mean range is the one asked for."""
    cloud = wet_share * 6 / 7.6 + (1 - wet_share) * 1.3 / 2.9  # means of the two beta distributions
    return 1.25 - 0.75 * cloud


def _season(climate: Climate, southern: bool, start: date, days: int) -> NDArray[np.float64]:
    """+1 on the warmest day of the year, −1 half a year later."""
    phase = (start.timetuple().tm_yday + np.arange(days) - climate.warmest_day) / YEAR_DAYS
    return np.asarray(np.cos(2 * np.pi * (phase + (0.5 if southern else 0.0))))


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


def fit(minima: DailySeries, maxima: DailySeries, southern: bool, wet_share: float = 0.4) -> Climate:
    """The climate of a record, so that more weather like it can be made; ValueError under two years of days.

    The season is one harmonic by least squares; spread and persistence are those of what it leaves.  Rain is not in
    the record: its share is given.
    """
    high = maxima.between(minima.start, minima.end)
    mean = (minima.values + high) / 2
    known = ~np.isnan(mean)
    if known.sum() < 2 * 365:
        raise ValueError(f"{int(known.sum())} days are too few to know a climate by: two years are needed")
    day = minima.start.timetuple().tm_yday + np.arange(len(mean))
    angle = 2 * np.pi * day / YEAR_DAYS
    columns = np.stack([np.ones_like(angle), np.cos(angle), np.sin(angle)], axis=1)
    level, a, b = np.linalg.lstsq(columns[known], mean[known], rcond=None)[0]
    swing = float(np.hypot(a, b))
    warmest = float(np.arctan2(b, a)) / (2 * np.pi) * YEAR_DAYS + (YEAR_DAYS / 2 if southern else 0.0)
    left = mean - columns @ [level, a, b]
    season = (columns[:, 1] * a + columns[:, 2] * b) / max(swing, 1e-9)
    size = np.linalg.lstsq(np.stack([np.ones_like(season), season], axis=1)[known], np.abs(left[known]), rcond=None)[0]
    spread = float(size[0]) * float(np.sqrt(np.pi / 2))  # a normal's mean size is √(2/π) of its deviation
    calm = float(np.clip(-size[1] / size[0], -0.9, 0.9))
    even = left / (1 - calm * season)
    pair = known[:-1] & known[1:]
    persistence = float(np.corrcoef(even[:-1][pair], even[1:][pair])[0, 1])
    spans = (high - minima.values)[known]
    return Climate(
        float(level), swing, spread, persistence, float(spans.mean()), wet_share, round(warmest % YEAR_DAYS), calm
    )
