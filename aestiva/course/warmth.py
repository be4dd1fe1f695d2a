"""The warmth that each batch under the mix really had: by probe, by what somebody read, otherwise as its place is assumed to be."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.course.known import known
from aestiva.gardens.models import Garden
from aestiva.place.dating import Dating
from aestiva.season.models import Batch, Planting, WarmReading
from aestiva.season.rows import SeasonRows, Stood
from growing.batch.outlook import FIRST_DAYS, MOVED_ON
from growing.chain.rearing import LONGEST_WAIT_DAYS
from growing.crops import Crop
from growing.seeds.clock import HOURS, Advance, curve, day_between, day_by_one, rates
from growing.seeds.thermal_time import share_points

ASSUMED, ONE, RANGE, PROBE = range(4)  # as in growing.seeds.clock.SOURCES
NOON = 12  # the hour at which a day's looks are taken to be, and at which it is sown
MANY_A_DAY = 4  # readings from which a day is drawn through them
SPIKE_C = 15.0  # away from both its neighbours: a slip of the probe
LEAST_C, MOST_C = -5.0, 55.0  # of a mix
LATELY_DAYS = 3  # for which a reading speaks of the days ahead
GONE = frozenset((*MOVED_ON, "outing", "planted"))  # what ends the time under the mix


Points = list[tuple[float, float, float | None]]  # hour, celsius, and the most of the day where that is its least


class DayWarmth(NamedTuple):
    """24 hours of a day in a place, and what they are from."""

    hourly_c: NDArray[np.float64]
    source: int


@dataclass(frozen=True)
class Had:
    """What one batch had from the noon it was sown until noon today, day by day; spot: where it stands; of: its clock.

    days: of each, the first the one on which it was sown: what was read, or the one temperature that is taken for it [°C].
    """

    start: date
    days: Sequence[DayWarmth | float]
    spot: int | None
    of: Advance

    @property
    def hours(self) -> int:
        return HOURS * (len(self.days) - 1)

    @cached_property
    def hourly_c(self) -> NDArray[np.float64]:
        """Hour by hour [°C]."""
        whole = [day.hourly_c if isinstance(day, DayWarmth) else np.full(HOURS, day) for day in self.days]
        return np.concatenate(whole)[NOON : self.hours + NOON]

    @cached_property
    def source(self) -> NDArray[np.int8]:
        """Where each hour is from."""
        by_day = np.array([day.source if isinstance(day, DayWarmth) else ASSUMED for day in self.days], np.int8)
        return np.repeat(by_day, HOURS)[NOON : self.hours + NOON]

    @property
    def by(self) -> int:
        """What most of it is from: the best source, where it was measured on most days."""
        return int(self.source.max()) if self.of.measured else ASSUMED

    @property
    def last_c(self) -> float:
        """The mean of its last day [°C]; what is taken for the days ahead where it has had none yet."""
        return float(self.hourly_c[-HOURS:].mean()) if self.hours else self.of.ahead_c


class Halves(NamedTuple):
    """Both halves of a day, until noon and from noon, for one crop: how far its clock runs, the same weighed by the share that comes
    at each hour, the sum of degrees and the days under the least it moves at."""

    x: tuple[float, float]
    share: tuple[float, float]
    degrees: tuple[float, float]
    cold: tuple[float, float]


class SeasonWarmth:
    """What the batches of a season had.  Readings are fetched when the first of them asks."""

    def __init__(
        self, garden: Garden, today: date, dating: Dating, rows: SeasonRows, like: SeasonWarmth | None = None
    ) -> None:
        """like: of the same season as this request saw it before it wrote about batches: what was read is still true."""
        self._garden, self._today, self._dating, self._rows = garden, today, dating, rows
        self._read: tuple[date, dict[tuple[int, date], Points]] | None = None if like is None else like._read
        self._days: dict[tuple[int, date], DayWarmth | None] = {} if like is None else like._days
        self._assumed: dict[tuple[int, int, int], float | None] = {}
        self._halves: dict[tuple[Crop, int | float], Halves] = {}
        self._carried: dict[int, DayWarmth] = {}
        self._places: tuple[dict[tuple[int, date], Points], frozenset[int]] | None = None
        self._had: dict[tuple[object, ...], Had] = {}
        self._first = today - timedelta(days=LONGEST_WAIT_DAYS)

    def had(self, planting: Planting, batch: Batch, crop: Crop) -> Had | None:
        """Its warmth from the day it was sown until noon today; None for what does not lie under the mix any more."""
        if any(event[0] in GONE for event in self._rows.events.get(batch.pk, ())):
            return None
        return self.until(planting, batch, crop, self._today)

    def until(self, planting: Planting, batch: Batch, crop: Crop, last: date) -> Had | None:
        """Its warmth from the day it was sown until noon of a day; None for what is not raised from seed, or was sown long ago."""
        sown = batch.sown_on
        if planting.method != "raised" or sown is None or not self._first <= sown <= last:
            return None
        stood = self._rows.stood.get(batch.pk, ())
        alike = crop, sown, last, batch.temperature_c, tuple(stood)
        if alike not in self._had:  # what was sown together stands together
            self._had[alike] = self._of(batch, crop, sown, last, stood)
        return self._had[alike]

    def _of(self, batch: Batch, crop: Crop, sown: date, last: date, stood: Sequence[Stood]) -> Had:
        here = next((s.spot for s in reversed(stood) if s.until is None), None)
        taken = self._taken(batch, crop, here, self._today)
        count = (last - sown).days + 1
        places = self._places_read(sown)
        read = any(s.spot in places for s in stood)
        if not read and len(stood) < 2 and self._taken(batch, crop, here, sown) == taken and _one_month(sown, last):
            return Had(sown, [taken] * count, here, self._steady(crop, taken, count - 1))
        if not read and len(stood) < 2:
            return Had(sown, *self._unread(batch, crop, here, sown, count, taken))
        days = [self._day(batch, crop, stood, here, sown + timedelta(days=k)) for k in range(count)]
        return Had(sown, days, here, self._advance(crop, days, taken))

    def _unread(
        self, batch: Batch, crop: Crop, here: int | None, sown: date, count: int, taken: float
    ) -> tuple[Sequence[float], int | None, Advance]:
        """What lay in one place of which nobody read anything: its months are alike wherever they are taken to be as warm."""
        months = {(d.year, d.month): d for k in range(count) for d in [sown + timedelta(days=k)]}
        by_month = {month: self._taken(batch, crop, here, day) for month, day in months.items()}

        def worked_out() -> tuple[list[float], Advance]:
            days = [by_month[d.year, d.month] for k in range(count) for d in [sown + timedelta(days=k)]]
            return days, self._advance(crop, days, taken)

        days, clock = known(("unread", crop, sown, count, tuple(by_month.values()), taken), worked_out)
        return days, here, clock

    def _steady(self, crop: Crop, celsius: float, days: int) -> Advance:
        """The clock of what lay in one place in one month of which nobody read anything."""
        half = self._half(crop, celsius)
        x, share, cold = sum(half.x), sum(half.share), sum(half.cold)
        had = celsius if days else None
        return Advance(
            tuple(x * k for k in range(days + 1)),
            x,
            celsius,
            had,
            had,
            False,
            share / x if x > 0 and days else 1.0,
            cold * days,
        )

    def lately(self, spot: int) -> float | None:
        """What mix in a place had on the last day that somebody read, of the last three [°C]; None: nobody did."""
        for back in range(LATELY_DAYS):
            day = self._read_day(spot, self._today - timedelta(days=back))
            if day is not None:
                return float(day.hourly_c.mean())
        return None

    def range_on(self, spot: int, day: date) -> tuple[float, float, float] | None:
        """Least, most and mean of what was read in a place on a day [°C]; None where nobody did."""
        points = self._points(day).get((spot, day))
        if not points:
            return None
        values = [c for _, low, high in points for c in (low, high) if c is not None]
        return min(values), max(values), sum(values) / len(values)

    def read_on(self, spot: int) -> date | None:
        """The last day on which somebody read mix in a place; None: never."""
        return max((day for place, day in self._points(self._first) if place == spot), default=None)

    def _day(self, batch: Batch, crop: Crop, stood: Sequence[Stood], here: int | None, day: date) -> DayWarmth | float:
        spot = here
        if len(stood) > 1:
            spot = next((s.spot for s in reversed(stood) if s.on(day)), here)
        read = None if spot is None or spot not in self._places_read(day) else self._read_or_carried(spot, day)
        return self._taken(batch, crop, spot, day) if read is None else read

    def _read_or_carried(self, spot: int, day: date) -> DayWarmth | None:
        """What was read there on that day; for a gap of days the last day before it, which counts as assumed."""
        for back in range(LATELY_DAYS):
            found = self._read_day(spot, day - timedelta(days=back))
            if found is not None:
                return found if not back else self._carried.setdefault(id(found), DayWarmth(found.hourly_c, ASSUMED))
        return None

    def _advance(self, crop: Crop, days: Sequence[DayWarmth | float], taken_c: float) -> Advance:
        """Its clock noon by noon, and how it runs from here on: as on its last day where that was measured, else as its place is taken."""
        halves = [self._half(crop, day) for day in days]
        by_day, share, degrees, cold, measured = [0.0], 0.0, [], 0.0, 0
        for k, (before, after) in enumerate(pairwise(halves)):
            by_day.append(by_day[-1] + before.x[1] + after.x[0])
            share += before.share[1] + after.share[0]
            degrees.append((before.degrees[1] + after.degrees[0]) / HOURS)
            cold += before.cold[1] + after.cold[0]
            measured += _is_read(days[k]) + _is_read(days[k + 1])
        rate, ahead = sum(self._half(crop, taken_c).x), taken_c
        if len(days) > 1 and (isinstance(days[-1], DayWarmth) or isinstance(days[-2], DayWarmth)):
            rate, ahead = by_day[-1] - by_day[-2], degrees[-1]
        return Advance(
            tuple(by_day),
            rate,
            ahead,
            sum(degrees) / len(degrees) if degrees else None,
            sum(degrees[:FIRST_DAYS]) / len(degrees[:FIRST_DAYS]) if degrees else None,
            bool(degrees) and measured >= len(degrees),
            share / by_day[-1] if by_day[-1] > 0 else 1.0,
            cold,
        )

    def _half(self, crop: Crop, day: DayWarmth | float) -> Halves:
        """A day as the clock of a crop counts it."""
        key = crop, id(day) if isinstance(day, DayWarmth) else day
        if key not in self._halves:
            hours = day.hourly_c if isinstance(day, DayWarmth) else np.full(HOURS, day)
            x = rates(curve(crop), hours) / HOURS
            columns = x, x * np.interp(hours, *share_points(crop)), hours, (hours < crop.number("min_c")) / HOURS
            self._halves[key] = Halves(*((float(c[:NOON].sum()), float(c[NOON:].sum())) for c in columns))
        return self._halves[key]

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

    def _places_read(self, since: date) -> frozenset[int]:
        """Places of which anything was read since a day, or that much before it that it still counts."""
        points = self._points(since - timedelta(days=LATELY_DAYS))
        if self._places is None or self._places[0] is not points:
            self._places = points, frozenset(spot for spot, _ in points)
        return self._places[1]

    def _points(self, since: date) -> dict[tuple[int, date], Points]:
        """What was read, by place and day, since a day or longer ago: at once since the first sowing of what still lies there."""
        since = max(self._first, since)
        if self._read is None or since < self._read[0]:
            since = since if self._read is not None else min(since, self._longest_there)
            found: dict[tuple[int, date], Points] = defaultdict(list)
            rows = WarmReading.objects.filter(garden=self._garden, day__gte=since, day__lte=self._today)
            for spot, day, hour, celsius, most in rows.order_by("day", "hour").values_list(
                "spot_id", "day", "hour", "celsius", "most_c"
            ):
                found[spot, day].append((hour, celsius, most))
            self._read = since, found
        return self._read[1]

    @cached_property
    def _longest_there(self) -> date:
        """The first day of which a reading still counts for something that lies under the mix."""
        sown = (
            batch.sown_on
            for batches in self._rows.batches.values()
            for batch in batches
            if batch.sown_on is not None and not any(e[0] in GONE for e in self._rows.events.get(batch.pk, ()))
        )
        there = min((day for day in sown if day >= self._first), default=self._today)
        return max(self._first, there - timedelta(days=LATELY_DAYS))

    def _read_day(self, spot: int, day: date) -> DayWarmth | None:
        """A day in a place as it was read; None where nothing was, or nothing that can be of a mix."""
        key = spot, day
        if key not in self._days:
            points = self._points(day).get(key)
            self._days[key] = None if points is None else _day(points)
        return self._days[key]


def _one_month(first: date, last: date) -> bool:
    return (first.year, first.month) == (last.year, last.month)


def _is_read(day: DayWarmth | float) -> bool:
    return isinstance(day, DayWarmth) and day.source > ASSUMED


def _day(read: Sequence[tuple[float, float, float | None]]) -> DayWarmth | None:
    """A day by its readings; None where none can be of a mix."""
    good = [r for r in read if LEAST_C <= r[1] <= MOST_C]
    points = _without_spikes([(h, c) for h, c, most in good if most is None])
    if len(points) >= MANY_A_DAY:
        hours, values = zip(*points, strict=True)
        return DayWarmth(np.interp(np.arange(HOURS) + 0.5, hours, values), PROBE)
    for _, least, most in reversed(good):
        if most is not None:
            return DayWarmth(day_between(least, most), RANGE)
    if points:
        return DayWarmth(np.asarray(np.mean([day_by_one(c, h) for h, c in points], axis=0)), ONE)
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
