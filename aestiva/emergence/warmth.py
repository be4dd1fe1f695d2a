"""The warmth that each batch under the mix really had: by probe, by what somebody read, otherwise as its place is assumed to be."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.course.state import Item, SeasonState
from aestiva.season.models import BatchStand, CellRun, TrayStand, WarmReading
from growing.emergence.clock import HOURS, day_between, day_by_one

ASSUMED, ONE, RANGE, PROBE = range(4)  # as in growing.emergence.clock.SOURCES
NOON = 12  # the hour at which a day's looks are taken to be, and at which it is sown
MANY_A_DAY = 4  # readings from which a day is drawn through them
SPIKE_C = 15.0  # away from both its neighbours: a slip of the probe
LEAST_C, MOST_C = -5.0, 55.0  # of a mix


class Had(NamedTuple):
    """Hour by hour from the noon it was sown [°C], and where each hour is from; spot: where it stands."""

    start: date
    hourly_c: NDArray[np.float64]
    source: NDArray[np.int8]
    spot: int | None

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

    def hour_of(self, day: date) -> int:
        """The hour at which a look of that day is taken to be."""
        return min(self.hours, max(0, (day - self.start).days * HOURS))


def warmth_had(now: SeasonState, items: Sequence[Item]) -> dict[int, Had]:
    """By batch, from the day it was sown until noon today."""
    batches = {i.batch.pk: i for i in items if i.batch is not None and i.raised.facts.sown_on is not None}
    if not batches:
        return {}
    stands = _stands(batches)
    first = min(i.raised.facts.sown_on for i in batches.values() if i.raised.facts.sown_on is not None)
    read = _readings(now, first)
    return {pk: _of(now, item, stands.get(pk, []), read) for pk, item in batches.items()}


def _stands(batches: Iterable[int]) -> dict[int, list[tuple[int, date, date | None]]]:
    """(place, since, until) of each batch."""
    found: dict[int, list[tuple[int, date, date | None]]] = defaultdict(list)
    runs = CellRun.objects.filter(batch__in=list(batches)).values_list("tray_id", "batch_id")
    trays: dict[int, set[int]] = defaultdict(set)
    for tray, batch in runs:
        trays[tray].add(batch)
    for tray, spot, since, until in TrayStand.objects.filter(tray__in=list(trays)).values_list(
        "tray_id", "spot_id", "since", "until"
    ):
        for batch in trays[tray]:
            found[batch].append((spot, since, until))
    loose = BatchStand.objects.filter(batch__in=list(batches)).values_list("batch_id", "spot_id", "since", "until")
    for batch, spot, since, until in loose:
        found[batch].append((spot, since, until))
    return found


Readings = Mapping[tuple[int, date], list[tuple[float, float, float | None]]]


def _readings(now: SeasonState, since: date) -> Readings:
    found: dict[tuple[int, date], list[tuple[float, float, float | None]]] = defaultdict(list)
    rows = WarmReading.objects.filter(garden=now.garden, day__gte=since, day__lte=now.today).order_by("day", "hour")
    for spot, day, hour, celsius, most in rows.values_list("spot_id", "day", "hour", "celsius", "most_c"):
        found[spot, day].append((hour, celsius, most))
    return found


def _of(now: SeasonState, item: Item, stands: Sequence[tuple[int, date, date | None]], read: Readings) -> Had:
    sown = item.raised.facts.sown_on
    assert sown is not None
    days = max(0, (now.today - sown).days)
    spot = next((s for s, _, until in reversed(stands) if until is None), None)
    month: dict[tuple[int | None, int, int], float] = {}  # a place is assumed alike all through one
    assumed, measured = np.empty(days + 1), []
    for k in range(days + 1):
        day = sown + timedelta(days=k)
        at = next((s for s, a, b in reversed(stands) if a <= day and (b is None or day < b)), spot)
        alike = at, day.year, day.month
        if alike not in month:
            month[alike] = assumed_c(now, item, at, day)
        assumed[k] = month[alike]
        if at is not None and (at, day) in read and (found := _day(read[at, day])) is not None:
            measured.append((k, *found))
    hourly, source = np.repeat(assumed, HOURS), np.zeros((days + 1) * HOURS, np.int8)
    for k, values, by in measured:
        hourly[k * HOURS : (k + 1) * HOURS], source[k * HOURS : (k + 1) * HOURS] = values, by
    return Had(sown, hourly[NOON : days * HOURS + NOON], source[NOON : days * HOURS + NOON], spot)


def assumed_c(now: SeasonState, item: Item, spot: int | None, day: date) -> float:
    """What the mix is taken to have there [°C]: as somebody typed, as its place is assumed to be, else as the crop likes it."""
    batch = item.batch
    if batch is not None and batch.temperature_c is not None:
        return batch.temperature_c
    room = None if spot is None or now.shared is None else now.shared.dating.room_at(spot)
    given = None if room is None else room.germinates_c(day)
    return item.crop.number("germinate_c") if given is None else given


def _day(read: Sequence[tuple[float, float, float | None]]) -> tuple[NDArray[np.float64], int] | None:
    """24 hours of a day by its readings, and what they are from; None where none can be of a mix."""
    good = [r for r in read if LEAST_C <= r[1] <= MOST_C]
    points = _without_spikes([(h, c) for h, c, most in good if most is None])
    if len(points) >= MANY_A_DAY:
        hours, values = zip(*points, strict=True)
        return np.interp(np.arange(HOURS) + 0.5, hours, values), PROBE
    for _, least, most in reversed(good):
        if most is not None:
            return day_between(least, most), RANGE
    if points:
        days = np.mean([day_by_one(c, h) for h, c in points], axis=0)
        return np.asarray(days), ONE
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
