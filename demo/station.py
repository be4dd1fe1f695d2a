"""What the demo's station and its forecast say: nature's weather, by the way any source of weather goes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.place.actions import take_weather
from aestiva.place.models import Station
from demo.nature.weather import Weather, forecast
from demo.story import last_day, world_of
from growing.place.nights import Night
from growing.place.station import DailyWeather

GUSTS = 1.6  # times the mean wind


@dataclass(frozen=True)
class NatureStation:
    """A source of weather: the one season that a demo garden has."""

    weather: Weather

    def observed(self, first: date, last: date) -> DailyWeather:
        """Its days from `first` to `last`, both included; ValueError outside its weather."""
        a, b = self.weather.index(first), self.weather.index(last)
        if not 0 <= a <= b < self.weather.days:
            raise ValueError(f"no weather from {first} to {last}")
        return DailyWeather(first, self.weather.tmin[0, a : b + 1], self.weather.tmax[0, a : b + 1])

    def forecast(self, today: date) -> tuple[Night, ...]:
        """The coming nights as a forecast of `today` has them."""
        said = forecast(self.weather, self.weather.index(today))
        return tuple(
            Night(
                today + timedelta(days=n), round(float(low), 1), round(float(cloud), 2), round(float(wind)), round(float(high), 1),
                round(float(wind) * GUSTS),
            )
            for n, (low, high, cloud, wind) in enumerate(zip(said.tmin[0], said.tmax[0], said.cloud[0], said.wind[0], strict=True))
        )  # fmt: skip


def simulate(garden: Garden, day: date) -> None:
    """What reaches the garden by itself up to that day: the station's days and the forecast.  The grower's work stays undone."""
    if day > last_day(garden):
        raise Refused("clock", "the simulated weather ends here: reset the demo")
    station = Station.objects.filter(owner=garden, simulated=True).first()
    take_weather(garden, NatureStation(world_of(garden).weather), day, station)
