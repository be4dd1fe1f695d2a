"""The warmth that each batch under the mix really had: by probe, by what somebody read, otherwise as its place is assumed to be."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.gardens.models import Garden
from aestiva.place.dating import Dating
from aestiva.season.models import Batch, Planting, WarmReading
from aestiva.season.rows import SeasonRows, Stood
from growing.chain.course import LONGEST_WAIT_DAYS
from growing.crops import Crop
from growing.emergence.clock import HOURS, Advance, curve, day_between, day_by_one, progress, rates
from growing.emergence.outlook import MOVED_ON
from growing.emergence.thermal_time import share_points

ASSUMED, ONE, RANGE, PROBE = range(4)  # as in growing.emergence.clock.SOURCES
NOON = 12  # the hour at which a day's looks are taken to be, and at which it is sown
MANY_A_DAY = 4  # readings from which a day is drawn through them
SPIKE_C = 15.0  # away from both its neighbours: a slip of the probe
LEAST_C, MOST_C = -5.0, 55.0  # of a mix
FIRST_DAYS = 2  # in which warm-season seed is injured by cold
GONE = frozenset((*MOVED_ON, "outing", "out", "planted"))  # what ends the time under the mix


class Had(NamedTuple):
    """Hour by hour from the noon it was sown [°C], and where each hour is from; spot: where it stands.

    clock: x at the end of each hour.  ahead_c: what the mix is taken to have from now on, hour by hour of a day.
    """

    start: date
    hourly_c: NDArray[np.float64]
    source: NDArray[np.int8]
    spot: int | None
    clock: NDArray[np.float64]
    ahead_c: NDArray[np.float64]
    rate: float

    @property
    def hours(self) -> int:
        return len(self.hourly_c)

    @property
    def mean_c(self) -> float | None:
        return float(self.hourly_c.mean()) if len(self.hourly_c) else None

    @property
    def measured(self) -> bool:
        """Was the mix measured on most of its days?"""
        return bool(len(self.source)) and float((self.source > ASSUMED).mean()) >= 0.5

    @property
    def by(self) -> int:
        """What most of it is from: the best source, where it was measured on most days."""
        return int(self.source.max()) if self.measured else ASSUMED

    @property
    def last_c(self) -> float:
        """The mean of its last day [°C]; what is taken for the days ahead where it has had none yet."""
        return float(self.hourly_c[-HOURS:].mean()) if self.hours else float(self.ahead_c.mean())

    def hour_of(self, day: date) -> int:
        """The hour at which a look of that day is taken to be."""
        return min(self.hours, max(0, (day - self.start).days * HOURS))

    def x_on(self, day: date) -> float:
        """Its clock at the look of that day."""
        k = self.hour_of(day)
        return float(self.clock[k - 1]) if k else 0.0

    def advance(self, crop: Crop) -> Advance:
        """Its clock day by day, and as it will run."""
        by_day = (0.0, *self.clock[HOURS - 1 :: HOURS].tolist())
        first = self.hourly_c[: FIRST_DAYS * HOURS]
        steps = np.diff(self.clock, prepend=0.0)
        share = np.interp(self.hourly_c, *share_points(crop))
        return Advance(
            by_day,
            self.rate,
            float(self.ahead_c.mean()),
            self.mean_c,
            float(first.mean()) if len(first) else None,
            self.measured,
            float((steps * share).sum() / steps.sum()) if by_day[-1] > 0 else 1.0,
            float((self.hourly_c < crop.number("min_c")).sum()) / HOURS,
        )


class Day(NamedTuple):
    """24 hours of a day in a place, and what they are from."""

    hourly_c: NDArray[np.float64]
    source: int


class Warmth:
    """What the batches of a season had.  Readings are fetched when the first of them asks."""

    def __init__(self, garden: Garden, today: date, dating: Dating, rows: SeasonRows) -> None:
        self._garden, self._today, self._dating, self._rows = garden, today, dating, rows
        self._read: dict[tuple[int, date], Day] | None = None
        self._assumed: dict[tuple[int, int, int], float | None] = {}
        self._first = today - timedelta(days=LONGEST_WAIT_DAYS)

    def had(self, planting: Planting, batch: Batch, crop: Crop) -> Had | None:
        """Its warmth from the day it was sown until noon today; None for what does not lie under the mix any more."""
        sown = batch.sown_on
        if planting.method != "raised" or sown is None or not self._first <= sown <= self._today:
            return None
        if any(event[0] in GONE for event in self._rows.events.get(batch.pk, ())):
            return None
        return self._of(batch, crop, sown, self._rows.stood.get(batch.pk, ()))

    def _of(self, batch: Batch, crop: Crop, sown: date, stood: Sequence[Stood]) -> Had:
        days = (self._today - sown).days
        here = next((s.spot for s in reversed(stood) if s.until is None), None)
        hourly, source = np.empty((days + 1, HOURS)), np.zeros((days + 1, HOURS), np.int8)
        for k in range(days + 1):
            day = sown + timedelta(days=k)
            spot = here if not stood else next((s.spot for s in reversed(stood) if s.on(day)), here)
            read = None if spot is None else self._readings.get((spot, day))
            if read is None:
                hourly[k] = self._taken(batch, crop, spot, day)
            else:
                hourly[k], source[k] = read
        hourly, source = hourly.ravel()[NOON : days * HOURS + NOON], source.ravel()[NOON : days * HOURS + NOON]
        of = curve(crop)
        last = source[-HOURS:]
        ahead = (
            hourly[-HOURS:] if len(last) and last.all() else np.full(HOURS, self._taken(batch, crop, here, self._today))
        )
        return Had(sown, hourly, source, here, progress(of, hourly), ahead, float(rates(of, ahead).mean()))

    def _taken(self, batch: Batch, crop: Crop, spot: int | None, day: date) -> float:
        """What the mix is taken to have there [°C]: as somebody typed, as its place is assumed to be, else as the crop likes it."""
        if batch.temperature_c is not None:
            return batch.temperature_c
        given = None if spot is None else self._given(spot, day)
        return crop.number("germinate_c") if given is None else given

    def _given(self, spot: int, day: date) -> float | None:
        """What a place gives to mix in it, alike all through a month; None: as the crop likes it, or nobody knows."""
        key = spot, day.year, day.month
        if key not in self._assumed:
            room = self._dating.room_at(spot)
            self._assumed[key] = None if room is None else room.germinates_c(day)
        return self._assumed[key]

    @property
    def _readings(self) -> dict[tuple[int, date], Day]:
        """By place and day, as far as they can be of a mix."""
        if self._read is None:
            read: dict[tuple[int, date], list[tuple[float, float, float | None]]] = defaultdict(list)
            rows = WarmReading.objects.filter(garden=self._garden, day__gte=self._first, day__lte=self._today)
            for spot, day, hour, celsius, most in rows.order_by("day", "hour").values_list(
                "spot_id", "day", "hour", "celsius", "most_c"
            ):
                read[spot, day].append((hour, celsius, most))
            days = {key: _day(points) for key, points in read.items()}
            self._read = {key: day for key, day in days.items() if day is not None}
        return self._read


def _day(read: Sequence[tuple[float, float, float | None]]) -> Day | None:
    """A day by its readings; None where none can be of a mix."""
    good = [r for r in read if LEAST_C <= r[1] <= MOST_C]
    points = _without_spikes([(h, c) for h, c, most in good if most is None])
    if len(points) >= MANY_A_DAY:
        hours, values = zip(*points, strict=True)
        return Day(np.interp(np.arange(HOURS) + 0.5, hours, values), PROBE)
    for _, least, most in reversed(good):
        if most is not None:
            return Day(day_between(least, most), RANGE)
    if points:
        return Day(np.asarray(np.mean([day_by_one(c, h) for h, c in points], axis=0)), ONE)
    return None


def _without_spikes(points: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Readings that are far from both their neighbours are slips."""
    kept = []
    for k, (hour, celsius) in enumerate(points):
        beside = [points[j][1] for j in (k - 1, k + 1) if 0 <= j < len(points)]
        if len(beside) == 2 and all(abs(celsius - other) > SPIKE_C for other in beside):
            continue
        kept.append((hour, celsius))
    return kept
