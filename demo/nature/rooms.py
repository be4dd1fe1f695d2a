"""How warm and light is it where they stand?  Rooms, sills, frames and beds answer the weather late and in part.

A room follows its thermostat and the outdoors by a first-order response, and its heating is off when the day is mild.  A
mat adds to the mix, a lid adds by light; every shelf is a little warmer or cooler than its neighbour.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature.chance import stream
from demo.nature.weather import Weather, hours, sun

Array = NDArray[np.float32]
SHELF_SD_C, MAT_C, THERMOSTAT_SD_C, LID_C = 1.0, (4.0, 11.0), 1.5, (1.0, 5.0)
NIGHT = (*range(18, 24), *range(8))  # its hours: of the evening, then of the morning after
UNDER = {  # kind: warmer by night, by day in full sun [°C]; share of wind, of light that comes in
    "bed": (0.0, 0.0, 1.0, 1.0),
    "porch": (2.4, 1.0, 0.3, 0.55),
    "frame": (1.9, 6.0, 0.08, 0.8),
    "tunnel": (1.3, 5.0, 0.1, 0.75),
}
RADIATION_C, CALMED_KMH = 3.0, 9.0


class Room(NamedTuple):
    """How a room is heated: set point by day, lower by night by setback_c; the heating is off above mild_c outdoors.

    unheated (set_c None): outdoors + gain_c.  response: share of the difference made up in a day.
    """

    set_c: float | None = 19.0
    setback_c: float = 2.5
    mild_c: float = 13.0
    gain_c: float = 5.0
    response: float = 0.6


class Place(NamedTuple):
    """Somewhere plants stand.  kind: shelf, sill, porch, frame, tunnel or bed.

    lamp_dli [mol m⁻² d⁻¹] and lamp_h [h] of a shelf.  mat: "", "plain" (always on) or "thermostat" (mat_set_c).  fan: air moves.
    """

    code: str
    kind: str
    room: Room = Room()
    lamp_dli: float = 11.0
    lamp_h: float = 14.0
    mat: str = ""
    mat_set_c: float = 24.0
    fan: bool = False


class Air(NamedTuple):
    """What meets groups of plants on one day and in the night after it, float32, (groups,).

    day_c, night_c: means; low_c: the night's lowest; soil_c: of the mix or ground; mat_c: on the mat; lid_c: more under a lid;
    dli; light_h: hours of light; sun_h: hours of direct sun; gust_kmh; still 0–1; rain_mm; hail; night: its 14 hours, (groups, 14).
    """

    day_c: Array
    night_c: Array
    low_c: Array
    soil_c: Array
    mat_c: Array
    lid_c: Array
    dli: Array
    light_h: Array
    sun_h: Array
    gust_kmh: Array
    still: Array
    rain_mm: Array
    hail: Array
    night: Array

    def with_outing(self, out: Air, hours: Array) -> Air:
        """A day of which some hours (groups,) were spent out there; the night is where they stand."""
        share = np.minimum(hours / np.maximum(out.light_h, 1), 1)
        was_out = hours > 0
        return self._replace(
            day_c=self.day_c + np.minimum(hours / 14, 1) * (out.day_c - self.day_c),
            dli=self.dli + share * np.maximum(out.dli - 0.8 * self.dli, 0),
            sun_h=np.maximum(out.sun_h * share, self.sun_h),
            gust_kmh=np.where(was_out, np.maximum(out.gust_kmh, self.gust_kmh), self.gust_kmh),
            low_c=np.where(was_out, np.minimum(self.low_c, out.day_c - 2), self.low_c),
            still=np.where(was_out, np.minimum(self.still, np.float32(0.4)), self.still),
        )


NUMBERS = Air._fields[:-1]


class Airs(NamedTuple):
    """The air of all places: numbers (…, NUMBERS, places, seasons) and nights (…, places, seasons, 14)."""

    numbers: Array
    nights: Array

    def at(self, place: NDArray[np.intp], season: NDArray[np.intp]) -> Air:
        """Of one day's: what meets each group at its place in its season."""
        return Air(*self.numbers[:, place, season], self.nights[place, season])  # type: ignore[call-arg]


@dataclass(frozen=True)
class World:
    """The weather of some seasons, and the places under it."""

    weather: Weather
    places: tuple[Place, ...]

    @cached_property
    def code(self) -> dict[str, int]:
        """Each place's number by its code."""
        return {p.code: n for n, p in enumerate(self.places)}

    @cached_property
    def _noise(self) -> NDArray[np.float32]:
        w = self.weather
        draws = [stream(w.seed, "hours", s).normal(0, 0.4, (w.days, 24)) for s in range(len(w.tmin))]
        return np.stack(draws).astype(np.float32)

    @cached_property
    def soil(self) -> NDArray[np.float64]:
        """Ground at 8 cm in the open, (seasons, days) [°C]: it follows the mean and the sun, a fifth of the way a day."""
        w, mean = self.weather, (self.weather.tmin + self.weather.tmax) / 2
        found, last = np.empty_like(mean), mean[:, :10].mean(axis=1)
        for t in range(w.days):
            _, light = sun(w.start + timedelta(days=t), w.latitude)
            last = last + 0.18 * (mean[:, t] + 0.06 * light * (1 - 0.7 * w.cloud[:, t]) - last)
            found[:, t] = last
        return found

    @cached_property
    def rooms(self) -> NDArray[np.float64]:
        """Each room's temperature, (places, seasons, days) [°C]; NaN outdoors."""
        w, mean = self.weather, (self.weather.tmin + self.weather.tmax) / 2
        found = np.full((len(self.places), *mean.shape), np.nan)
        for n, place in enumerate(self.places):
            if place.kind not in ("shelf", "sill"):
                continue
            room, last = place.room, None
            for t in range(w.days):
                free = mean[:, t] + room.gain_c
                target = (
                    free
                    if room.set_c is None
                    else np.where(mean[:, t] < room.mild_c, np.maximum(room.set_c, free - 3), free)
                )
                last = target if last is None else last + room.response * (target - last)
                found[n, :, t] = last
        return found

    @cached_property
    def own(self) -> NDArray[np.float64]:
        """What is particular to each place and season: (places, seasons, 3): its own ± °C, its mat's lift, its thermostat's error."""
        seasons = len(self.weather.tmin)
        found = np.empty((len(self.places), seasons, 3))
        for n, place in enumerate(self.places):
            for s in range(seasons):
                chance = stream(self.weather.seed, "place", place.code, s)
                found[n, s] = chance.normal(0, SHELF_SD_C), chance.uniform(*MAT_C), chance.normal(0, THERMOSTAT_SD_C)
        return found

    @cached_property
    def outdoor_hours(self) -> NDArray[np.float32]:
        """Hours of every day in the garden at screen height, (seasons, days, 24) [°C]."""
        w = self.weather
        low = np.stack([w.night_here(t) for t in range(w.days)], axis=1)
        after = np.concatenate([low[:, 1:], low[:, -1:]], axis=1)
        return hours(low, w.tmax, after, self._noise).astype(np.float32)

    @cached_property
    def airs(self) -> Airs:
        """What meets plants at every place on every day and in the night that follows it."""
        w, here = self.weather, self.outdoor_hours
        night = np.concatenate([here[:, :, 18:], np.roll(here, -1, axis=1)[:, :, :8]], axis=2)
        suns = np.array([sun(w.start + timedelta(days=t), w.latitude) for t in range(w.days)])
        length, clear = suns[:, 0], suns[:, 1]
        cloud, wind = w.cloud, w.wind
        light, sun_h = clear * (1 - 0.72 * cloud**2), length * 0.8 * (1 - cloud)
        drop = RADIATION_C * (1 - cloud) ** 1.3 * np.exp(-wind / CALMED_KMH)
        day_out, shape = here[:, :, 8:18].mean(axis=2), (w.days, len(self.places), len(cloud))
        numbers = np.zeros((shape[0], len(NUMBERS), *shape[1:]), np.float32)
        nights = np.zeros((*shape, len(NIGHT)), np.float32)

        def put(name: str, n: int, values: object) -> None:
            where = nights[:, n] if name == "night" else numbers[:, NUMBERS.index(name), n]
            where[:] = np.swapaxes(
                np.broadcast_to(np.asarray(values, np.float32), (*cloud.shape, *where.shape[2:])), 0, 1
            )

        for n, place in enumerate(self.places):
            own, lift, error = self.own[n].T[..., None]
            if place.kind in UNDER:
                by_night, by_day, windy, lit = UNDER[place.kind]
                put("night", n, night + by_night - (drop * (1.0 if place.kind == "bed" else 0.25))[:, :, None])
                put("day_c", n, day_out + by_day * (1 - cloud))
                put("dli", n, light * lit)
                put("light_h", n, length)
                put("sun_h", n, sun_h * lit)
                put("gust_kmh", n, wind * 1.6 * windy)
                in_pots = (day_out + by_day * (1 - cloud) + night.mean(axis=2) + by_night) / 2
                ground = self.soil + (3.0 if place.kind == "tunnel" else 0.0)
                mix = ground if place.kind in ("bed", "tunnel") else in_pots
                put("soil_c", n, mix)
                put("mat_c", n, mix)  # no mat lies out there
                put("rain_mm", n, w.rain if place.kind == "bed" else 0.0)
                put("hail", n, w.hail if place.kind == "bed" else 0.0)
                put("still", n, 0.15 if place.kind == "bed" else 0.5)
                continue
            room, lamp = self.rooms[n] + own, place.kind == "shelf"
            by_day, by_night = room + (2.0 if lamp else 1.5 * (1 - cloud)), room - place.room.setback_c
            mean = (by_day + by_night) / 2
            dli = np.full_like(cloud, place.lamp_dli) if lamp else 0.22 * light
            put("day_c", n, by_day)
            put("night", n, by_night[:, :, None])
            put("dli", n, dli)
            put("light_h", n, place.lamp_h if lamp else length)
            put("sun_h", n, 0.0 if lamp else 0.25 * sun_h)
            put("still", n, 0.2 if place.fan else 0.9)
            put("soil_c", n, mean - 1.0)
            put("lid_c", n, np.interp(dli, [0, 12], LID_C))
            held = np.minimum(np.maximum(place.mat_set_c + error, mean - 1), mean + lift)
            put("mat_c", n, mean + lift if place.mat == "plain" else held if place.mat else mean - 1.0)
        numbers[:, NUMBERS.index("night_c")], numbers[:, NUMBERS.index("low_c")] = (
            nights.mean(axis=-1),
            nights.min(axis=-1),
        )
        return Airs(numbers, nights)

    def air(self, t: int) -> Airs:
        """Day t and the night that follows it."""
        return Airs(self.airs.numbers[t], self.airs.nights[t])
