"""What the demo's station and its forecast say: nature's weather, by the way any source of weather goes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.place.actions import take_weather
from aestiva.place.models import Station
from aestiva.season.models import Spot, WarmReading
from demo.care import weigh
from demo.history import histories
from demo.nature.rooms import NUMBERS, World
from demo.nature.weather import Weather, forecast
from demo.story import last_day, name_of, read, world_of
from growing.place.nights import Night
from growing.place.station import DailyWeather

GUSTS = 1.6  # times the mean wind

RIGHT, SAYS_MM = 0.3, 2.0  # of cloud, within which a forecast knows the rain; what it says where it does not
LIKELY_HAIL, SEES_HAIL = 0.5, 1  # days ahead that hail is seen coming


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
        at = self.weather.index(today)
        said = forecast(self.weather, at)
        return tuple(
            Night(
                today + timedelta(days=n), round(float(low), 1), round(float(cloud), 2), round(float(wind)), round(float(high), 1),
                round(float(wind) * GUSTS), *self._wet(at + n, float(cloud), n),
            )
            for n, (low, high, cloud, wind) in enumerate(zip(said.tmin[0], said.tmax[0], said.cloud[0], said.wind[0], strict=True))
        )  # fmt: skip

    def _wet(self, at: int, said: float, lead: int) -> tuple[float, float]:
        """Rain [mm] and the chance of hail that a forecast says of a day: about right where it is right about the cloud."""
        rain, right = float(self.weather.rain[0, at]), abs(said - float(self.weather.cloud[0, at])) < RIGHT
        hail = LIKELY_HAIL if self.weather.hail[0, at] and lead <= SEES_HAIL else 0.0
        return (round(rain if right else SAYS_MM * (said > 0.5), 1), hail)


def simulate(garden: Garden, day: date) -> None:
    """What reaches the garden by itself up to that day: the station's days and the forecast.  The grower's work stays undone."""
    if day > last_day(garden):
        raise Refused("clock", "the simulated weather ends here: reset the demo")
    station = Station.objects.filter(owner=garden, simulated=True).first()
    here = world_of(garden)
    take_weather(garden, NatureStation(here.weather), day, station)
    probes(garden, here, day)
    weigh(garden, day)


PROBE_HOURS, PROBE_BACK = (2.0, 8.0, 14.0, 20.0), 28


def probes(garden: Garden, here: World, day: date) -> None:
    """What the probes in the mix of some places read up to the evening before that day, as nature had it there; what is known stays."""
    codes = read(name_of(garden)).get("probes", {}).get("places", [])
    spots = {s.code: s for s in Spot.objects.filter(garden=garden, code__in=codes)}
    lids = _under_lids(garden, set(codes))
    last = (
        WarmReading.objects.filter(garden=garden, source=PROBE).order_by("-day").values_list("day", flat=True).first()
    )
    first = max(day - timedelta(days=PROBE_BACK), here.weather.start, *([last + timedelta(days=1)] if last else []))
    rows = []
    for k in range((day - first).days):
        on = first + timedelta(days=k)
        numbers = here.air(here.weather.index(on)).numbers[:, :, 0]
        for code, spot in spots.items():
            n = here.code[code]
            low, high = (float(numbers[NUMBERS.index(name), n]) for name in ("night_c", "day_c"))
            mix = float(numbers[NUMBERS.index("mat_c" if spot.kind == "mat" else "soil_c"), n])
            mix += float(numbers[NUMBERS.index("lid_c"), n]) * any(a <= on < b for a, b in lids.get(code, ()))
            swing = 0.2 * (high - low)
            rows += [
                WarmReading(
                    garden=garden, spot=spot, day=on, hour=hour, celsius=round(mix + swing * share, 1), source=PROBE
                )
                for hour, share in zip(PROBE_HOURS, (-0.5, -0.6, 0.6, 0.2), strict=True)
            ]
    WarmReading.objects.bulk_create(rows, batch_size=500, ignore_conflicts=True)


LID_DAYS = 20  # of a tray of which nobody said that its lid is off


def _under_lids(garden: Garden, codes: set[str]) -> dict[str, list[tuple[date, date]]]:
    """From when until when something lay under a lid in each of these places: there the lamp warms the mix."""
    found: dict[str, list[tuple[date, date]]] = {}
    for one in histories(garden):
        if one.sown_on is None or one.parent is not None:
            continue
        ends = one.lid_off or one.sown_on + timedelta(days=LID_DAYS)
        for since, code in one.stands:
            if code in codes:
                found.setdefault(code, []).append((max(since, one.sown_on), ends))
    return found


PROBE = "probe in the mix"
