"""What will the weather be?  Seasons made of the station's own years, and forecasts that are wrong as forecasts are.

Days come in blocks of 5 to 15 from the same fortnight of one of the record's years, joined by an AR(1) residual, so that no
season is one of the record's, and none is foreign to it.  Cloud and wind come in spells of 2 to 6 days.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature.chance import stream

Days = NDArray[np.float64]
BLOCK, AROUND, KEPT, RESIDUAL_C = (5, 15), 7, 0.7, 0.6
SPELL = (2, 6)
HAIL_MM, HAIL_C, HAIL = 6.0, 4.0, 0.04  # wet days warm enough for it, and how many of them have it
LEAD = 8
FORECAST_SD_C, FORECAST_SD_A_DAY_C, BIAS_C, CLOUD_WRONG = 1.2, 0.35, 0.5, 0.2
OFFSET_SD_C = 0.7
SUNRISE_H, WARMEST_H = 6.0, 15.0


class Record(NamedTuple):
    """A station's years: tmin and tmax [°C], one a day from `start`, no gaps, two years at least."""

    start: date
    tmin: Days
    tmax: Days


@dataclass(frozen=True)
class Weather:
    """Seasons × days from `start`: minima and maxima at the station [°C], cloud 0–1, mean wind [km/h], rain [mm], hail (1 on a day
    with it).

    garden_c: what the garden is warmer by at night than the station (seasons × 2: clear, overcast) [°C].
    latitude [°].  `seed` and the place in `seasons` name the streams, so that season 7 is the same however many there are.
    """

    start: date
    tmin: Days
    tmax: Days
    cloud: Days
    wind: Days
    rain: Days
    hail: Days
    garden_c: Days
    latitude: float
    seed: int

    @property
    def days(self) -> int:
        return int(self.tmin.shape[1])

    def index(self, day: date) -> int:
        return (day - self.start).days

    def night_here(self, t: int) -> Days:
        """The minimum of the night that ends on day t, in the garden at the height of a screen [°C], (seasons,)."""
        clear, dull = self.garden_c[:, 0], self.garden_c[:, 1]
        cloud = self.cloud[:, t]
        return np.asarray(self.tmin[:, t] + clear * (1 - cloud) + dull * cloud)


def draw(
    record: Record,
    seed: int,
    start: date,
    days: int,
    latitude: float,
    seasons: int = 1,
    garden_c: tuple[float, float] | None = None,
) -> Weather:
    """So many seasons of so many days from `start`.  garden_c: the garden's offset on clear and on overcast nights, drawn where None."""
    normal = _normal(record)
    made = [_season(record, normal, stream(seed, "weather", s), start, days) for s in range(seasons)]
    offsets = np.empty((seasons, 2))
    for s in range(seasons):
        offset = stream(seed, "garden", s).normal(0, OFFSET_SD_C)
        offsets[s] = (1.3 * offset, 0.7 * offset) if garden_c is None else garden_c
    tmin, tmax, cloud, wind, rain, hail = (np.stack([m[n] for m in made]) for n in range(6))
    return Weather(start, tmin, tmax, cloud, wind, rain, hail, offsets, latitude, seed)


def _season(record: Record, normal: Days, chance: np.random.Generator, start: date, days: int) -> tuple[Days, ...]:
    at = _blocks(record, chance, start, days)
    low, high = record.tmin[at], record.tmax[at]
    mean, span = (low + high) / 2, np.maximum(high - low, 0.5)
    joins = np.flatnonzero(np.diff(at, prepend=at[0] - 1) != 1)
    noise = chance.normal(0, RESIDUAL_C, days)
    residual, last = np.empty(days), 0.0
    jump = np.zeros(days)
    for j in joins[1:]:
        jump[j] = mean[j - 1] - record_mean(record, at[j] - 1)
    for t in range(days):
        last = KEPT * (last + jump[t]) + noise[t]
        residual[t] = last
    mean = mean + residual
    day = (np.arange(days) + start.timetuple().tm_yday - 1) % 365
    cloud, wind, rain = _spells(chance, (span - normal[day]) / 3.0)
    hail = (rain > HAIL_MM) & (mean > HAIL_C) & (chance.random(days) < HAIL)
    return np.round(mean - span / 2, 1), np.round(mean + span / 2, 1), cloud, wind, rain, hail.astype(float)


def record_mean(record: Record, at: int) -> float:
    """The mean of one day of the record; of its first day where `at` lies before it."""
    at = max(at, 0)
    return float(record.tmin[at] + record.tmax[at]) / 2


def _blocks(record: Record, chance: np.random.Generator, start: date, days: int) -> NDArray[np.intp]:
    """For each day which day of the record it is taken from."""
    first = record.start.year + (record.start > date(record.start.year, 1, 20))
    last = (record.start + timedelta(days=len(record.tmin) - 1)).year - 1
    at: list[int] = []
    while len(at) < days:
        day = start + timedelta(days=len(at))
        length = int(chance.integers(BLOCK[0], BLOCK[1] + 1))
        year = int(chance.integers(first, last + 1))
        same = date(year, day.month, min(day.day, 28)) + timedelta(days=int(chance.integers(-AROUND, AROUND + 1)))
        index = int(np.clip((same - record.start).days, 0, len(record.tmin) - length))
        at.extend(range(index, index + length))
    return np.array(at[:days])


def _normal(record: Record) -> Days:
    """The usual range from minimum to maximum by day of the year (365,) [°C], smoothed over a month."""
    span = record.tmax - record.tmin
    day = (np.arange(len(span)) + record.start.timetuple().tm_yday - 1) % 365
    mean = np.bincount(day, span, 365) / np.maximum(np.bincount(day, minlength=365), 1)
    month = np.ones(31) / 31
    return np.convolve(np.concatenate([mean[-15:], mean, mean[:15]]), month, "valid")


def _spells(chance: np.random.Generator, wide: Days) -> tuple[Days, Days, Days]:
    """Cloud, wind and rain: a spell is as overcast as its days have narrow ranges, with a chance of its own."""
    days = len(wide)
    cloud, wind = np.empty(days), np.empty(days)
    t = 0
    while t < days:
        end = min(days, t + int(chance.integers(SPELL[0], SPELL[1] + 1)))
        level = 1 / (1 + np.exp(1.6 * float(wide[t:end].mean()) + chance.normal(0, 1.1)))
        cloud[t:end] = level + chance.normal(0, 0.12, end - t)
        wind[t:end] = chance.gamma(2.6, 3.6) * chance.uniform(0.7, 1.3, end - t)
        t = end
    cloud = np.clip(cloud, 0.0, 1.0)
    wet = chance.random(days) < np.clip(1.5 * cloud - 0.5, 0, 0.9)
    rain = np.where(wet, chance.gamma(0.8, 6.0, days) + 0.2, 0.0)
    return np.asarray(cloud.round(2)), np.asarray(wind.round(0)), np.asarray(rain.round(1))


def hours(low: Days, high: Days, low_after: Days, noise: NDArray[np.floating]) -> Days:
    """Hourly temperatures of days (any shape) in an axis of 24 [°C]: a sine from the morning's low to the afternoon's high, that
    falls slowly towards the next morning's low, with noise [°C] of that shape."""
    h = np.arange(24.0)
    low, high, low_after = low[..., None], high[..., None], low_after[..., None]
    rise = 0.5 - 0.5 * np.cos(np.pi * np.clip((h - SUNRISE_H) / (WARMEST_H - SUNRISE_H), 0, 1))
    fall = np.clip((h - WARMEST_H) / (24 + SUNRISE_H - WARMEST_H), 0, 1) ** 0.7
    up, down = low + (high - low) * rise, high + (low_after - high) * fall
    before = low + 0.08 * (high - low) * np.clip((SUNRISE_H - h) / SUNRISE_H, 0, 1)
    return np.asarray(np.where(h < SUNRISE_H, before, np.where(h <= WARMEST_H, up, down)) + noise)


class Forecast(NamedTuple):
    """What is said on one day of the coming days, (seasons, leads): the night ends after the day it is given for."""

    tmin: Days
    tmax: Days
    cloud: Days
    wind: Days


def forecast(weather: Weather, t: int, leads: int = LEAD) -> Forecast:
    """What a forecast made on day t says of the days t, t + 1 …: the truth with an error that grows with lead.

    sd 1.2 + 0.35 a day [°C], errors of one forecast hang together, too warm by up to half a degree in the months around
    midsummer and too cold around midwinter; one day in five it is wrong about the cloud.
    """
    leads = min(leads, weather.days - 1 - t)
    seasons = len(weather.tmin)
    day = weather.start + timedelta(days=t)
    season = np.cos(2 * np.pi * (day.timetuple().tm_yday - 197) / 365.25) * (1 if weather.latitude >= 0 else -1)
    error, swap = np.empty((seasons, leads)), np.empty((seasons, leads), bool)
    other = np.empty((seasons, leads))
    for s in range(seasons):
        chance = stream(weather.seed, "forecast", s, day)
        fresh, last = chance.normal(0, 1, leads), 0.0
        for lead in range(leads):
            last = 0.8 * last + 0.6 * fresh[lead] if lead else fresh[0]
            error[s, lead] = last
        swap[s], other[s] = chance.random(leads) < CLOUD_WRONG, chance.random(leads)
    error = error * (FORECAST_SD_C + FORECAST_SD_A_DAY_C * np.arange(leads)) + BIAS_C * season
    cloud = np.where(swap, other, weather.cloud[:, t : t + leads])
    return Forecast(
        weather.tmin[:, t + 1 : t + 1 + leads] + error,
        weather.tmax[:, t : t + leads] + error,
        cloud,
        weather.wind[:, t : t + leads],
    )


def sun(day: date, latitude: float) -> tuple[float, float]:
    """Length of the day [h] and a clear day's light outdoors [mol m⁻² d⁻¹], from the sun's height alone.

    Declination 23.44° · sin; light = 0.72 of what comes in above the air (37.6 MJ scaled), 2.04 mol a MJ.
    """
    turn = 2 * np.pi * (day.timetuple().tm_yday - 80) / 365.25
    tilt, phi = np.radians(23.44) * np.sin(turn), np.radians(latitude)
    cos_h = np.clip(-np.tan(phi) * np.tan(tilt), -1, 1)
    half = float(np.arccos(cos_h))
    above = 37.6 * (half * np.sin(phi) * np.sin(tilt) + np.cos(phi) * np.cos(tilt) * np.sin(half))
    return 24 / np.pi * half, float(max(above, 0.0)) * 0.72 * 2.04
