"""Will it freeze on them tonight?  The temperature at the plant from a forecast, and the chance it is too cold."""

from __future__ import annotations

from datetime import date
from functools import lru_cache
from statistics import NormalDist
from typing import NamedTuple

from growing.assumptions import by_kind, real
from growing.working import Value, Working

CLEAR_CLOUD, OVERCAST_CLOUD = 0.3, 0.8
CALM_KMH = real("place.nights.CALM_KMH")
WINDY_KMH = real("place.nights.WINDY_KMH")
CLEAR_CALM_C, BETWEEN_C = 3.0, 1.0
ERROR_C, ERROR_PER_DAY_C = 1.5, 0.25  # of a forecast: tonight, and more for every day of lead
SHELTER_C = by_kind("place.nights.SHELTER_C")
SPEAKS_C = 1.0  # at the plant: from here on the frost watch says a word, whatever stands outdoors
_NORMAL = NormalDist()


class Night(NamedTuple):
    """The night that begins on the evening of `day`: forecast minimum at screen height, cloud 0–1, wind km/h.

    tmax_c is the warmest of the day itself, gust_kmh its strongest gust, rain_mm what falls on it, hail the chance of hail or
    thunder, 0–1.  None: not known.
    """

    day: date
    tmin_c: float
    cloud: float | None = None
    wind_kmh: float | None = None
    tmax_c: float | None = None
    gust_kmh: float | None = None
    rain_mm: float | None = None
    hail: float | None = None


class AtPlant(NamedTuple):
    """Temperature at the plant [°C] that night, its error (standard deviation, °C) and the arithmetic."""

    celsius: float
    error_c: float
    working: Working

    @property
    def frosty(self) -> bool:
        """Near enough to frost to be told, even if nothing outdoors minds."""
        return self.celsius <= SPEAKS_C


@lru_cache(maxsize=4096)
def at_plant(night: Night, today: date, shift_c: float = 0.0, stands: str = "") -> AtPlant:
    """Forecast + garden shift − radiation loss + shelter; cloud or wind unknown counts as clear and calm, and says so.

    stands: the kind of spot; a closed frame, a tunnel and a porch shelter, open ground does not.
    """
    clear = night.cloud is None or night.cloud < CLEAR_CLOUD
    calm = night.wind_kmh is None or night.wind_kmh < CALM_KMH
    if clear and calm:
        loss = CLEAR_CALM_C
    elif (night.cloud or 0) > OVERCAST_CLOUD or (night.wind_kmh or 0) > WINDY_KMH:
        loss = 0.0
    else:
        loss = BETWEEN_C
    lead, shelter = max(0, (night.day - today).days), SHELTER_C.get(stands, 0.0)
    celsius, error = night.tmin_c + shift_c - loss + shelter, ERROR_C + ERROR_PER_DAY_C * lead
    sky = "assumed" if night.cloud is None or night.wind_kmh is None else "forecast"
    inputs = (
        Value("night", night.day),
        Value("forecast", night.tmin_c, "°C", "forecast"),
        Value("shift", shift_c, "Δ°C", "garden"),
        Value("cloud", night.cloud, "share", sky),
        Value("wind", night.wind_kmh, "km/h", sky),
        Value("radiation loss", loss, "Δ°C", "working"),
        Value("shelter", shelter, "Δ°C", "estimate" if shelter else "working"),
        Value("error", error, "Δ°C", "working"),
    )
    return AtPlant(celsius, error, Working("place.at_plant", inputs, (), Value("at the plant", celsius, "°C")))


def chance_below(plant: AtPlant, limit_c: float) -> float:
    """Chance that the temperature at the plant falls to `limit_c` or lower."""
    return _NORMAL.cdf((limit_c - plant.celsius) / plant.error_c)
