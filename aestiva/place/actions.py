"""Bringing weather in: a station's record from files, sources and feeds; the nights ahead; the garden's own readings."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from hashlib import sha256
from typing import Any, NamedTuple
from zlib import crc32

import numpy as np
from django.db.models import F
from numpy.typing import NDArray

from aestiva.accounts.models import User
from aestiva.gardens import clock, devices, journal
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import takers
from aestiva.place.models import Feed, FeedMessage, ForecastNight, Frost, GardenNight, SoilReading, Station, StationYear
from aestiva.place.queries import frost_of, pack, unpack
from aestiva.season.models import Spot, WarmReading
from growing.place.feed import BadPost, Post
from growing.place.station import WeatherSource
from growing.place.weatherfile import WeatherFile


class Merged(NamedTuple):
    """What became of a file's days: new, known with the same value, known with another one (which stays)."""

    added: int
    known: int
    otherwise: list[date]


def merge(station: Station, days: Sequence[date], tmin: NDArray[np.float64], tmax: NDArray[np.float64]) -> Merged:
    """Add days to a station's record; a day it knows keeps its value.  Gardens whose dates follow from it have a new revision."""
    fresh, changed, merged = _merged(station, days, tmin, tmax)
    StationYear.objects.bulk_create(fresh)
    StationYear.objects.bulk_update(changed, ["tenths"])
    if merged.added:
        station.refresh_from_db(fields=["series_revision"])
        station.series_revision = _fingerprint(station.series_revision, [*fresh, *changed])
        station.save(update_fields=["series_revision"])
        Garden.objects.filter(frost__station=station).update(revision=F("revision") + 1)
    return merged


def _fingerprint(before: int, rows: Sequence[StationYear]) -> int:
    """Of a record, by what it was and what is changed in it: the same number means the same days, also where a change is taken
    back and another one made."""
    found = before
    for row in rows:
        found = crc32(f"{row.variable}{row.year}".encode() + bytes(row.tenths), found)
    return found & 0x7FFFFFFF


def compared(station: Station, parsed: WeatherFile) -> Merged:
    """What merging a file would do; writes nothing."""
    return _merged(station, parsed.days, parsed.tmin, parsed.tmax)[2]


def _merged(
    station: Station, days: Sequence[date], tmin: NDArray[np.float64], tmax: NDArray[np.float64]
) -> tuple[list[StationYear], list[StationYear], Merged]:
    """Rows of one year and variable to make and to change, and what becomes of the days."""
    stored = {(r.variable, r.year): r for r in StationYear.objects.filter(station=station)}
    numbers = np.array(days, dtype="datetime64[D]")
    years = numbers.astype("datetime64[Y]").astype(int) + 1970
    fresh, changed = [], []
    added, otherwise = np.zeros(len(days), bool), np.zeros(len(days), bool)
    for year in np.unique(years).tolist():
        here = np.flatnonzero(years == year)
        index = (numbers[here] - np.datetime64(f"{year}-01-01")).astype(int)
        length = (date(year + 1, 1, 1) - date(year, 1, 1)).days
        for variable, values in (("tmin", tmin), ("tmax", tmax)):
            row = stored.get((variable, year))
            full = np.full(length, np.nan) if row is None else unpack(bytes(row.tenths))
            given = np.round(values[here], 1)
            old = full[index]
            new = np.isnan(old) & ~np.isnan(given)
            added[here] |= new
            otherwise[here] |= ~np.isnan(old) & ~np.isnan(given) & (np.abs(old - given) > 0.05)
            if not new.any():
                continue
            full[index[new]] = given[new]
            if row is None:
                fresh.append(StationYear(station=station, variable=variable, year=year, tenths=pack(full)))
            else:
                row.tenths = pack(full)
                changed.append(row)
    known = len(days) - int((added | otherwise).sum())
    others = [d for d, other in zip(days, otherwise.tolist(), strict=True) if other]
    return fresh, changed, Merged(int(added.sum()), known, others)


def bring_in(
    garden: Garden, user: User, name: str, parsed: WeatherFile, digest: str = "", key: str = "", made_up: bool = False
) -> Merged:
    """A station from a daily file; the garden's frost dates come from it from now on.

    A station of that name gets the new days added.  The record itself stays when this is taken back: only its use is
    undone.
    """
    with journal.noted(garden):
        journal.once(garden, "change", key)  # before anything is merged
        frost = frost_of(garden)
        station = Station.objects.filter(owner=garden, name=name).first()
        if station is None:
            where = parsed.where or (None, None, None)
            station = Station.objects.create(
                name=name, owner=garden, digest=digest, simulated=made_up,
                latitude=where[0], longitude=where[1], elevation_m=where[2],
            )  # fmt: skip
        elif digest and station.digest == digest:
            merged = Merged(0, len(parsed.days), [])
            return _use(garden, user, frost, station, merged, key)
        merged = merge(station, parsed.days, parsed.tmin, parsed.tmax)
        if station.digest != digest:
            Station.objects.filter(pk=station.pk).update(digest=digest)
        return _use(garden, user, frost, station, merged, key)


def _use(garden: Garden, user: User, frost: Frost, station: Station, merged: Merged, key: str) -> Merged:
    summary = f"Brought in {merged.added} days of {station.name}"
    with journal.change(garden, user, summary, key) as write:
        frost.station = station
        write.save(frost)
    return merged


def take_days(station: Station, source: WeatherSource, first: date, last: date) -> Merged:
    """What a source has seen from `first` to `last`, added to the station's record."""
    seen = source.observed(first, last)
    known = np.flatnonzero(~(np.isnan(seen.tmin) & np.isnan(seen.tmax)))
    days = [first + timedelta(days=int(k)) for k in known]
    return merge(station, days, seen.tmin[known], seen.tmax[known])


def take_weather(garden: Garden, source: WeatherSource, today: date, station: Station | None) -> None:
    """What a source has seen up to yesterday, and what it says of the nights ahead; nothing is journalled."""
    if station is not None:
        last = StationYear.objects.filter(station=station, variable="tmin").order_by("-year").first()
        if last is not None:
            known = np.flatnonzero(~np.isnan(unpack(bytes(last.tenths))))
            first = date(last.year, 1, 1) + timedelta(days=int(known[-1]) + 1)
            if first < today:
                take_days(station, source, first, today - timedelta(days=1))
    ForecastNight.objects.filter(garden=garden).delete()
    ForecastNight.objects.bulk_create(ForecastNight.of(garden, night, "simulated") for night in source.forecast(today))


Reading = GardenNight | SoilReading | ForecastNight | WarmReading


TIMES: dict[type, tuple[str, ...]] = {SoilReading: ("day", "hour"), WarmReading: ("spot_id", "day", "hour")}


def keep_readings(
    garden: Garden,
    user: User | None,
    rows: Sequence[Reading],
    summary: str,
    key: str = "",
) -> None:
    """Write readings or nights of forecast, all of one kind; a later one of the same time takes the earlier one's place."""
    times = TIMES.get(type(rows[0]), ("day",)) if rows else ()
    with journal.change(garden, user, summary, key) as write:
        replace(write, garden, rows, times)


def replace(write: journal.ChangeSet, garden: Garden, rows: Sequence[Any], times: tuple[str, ...]) -> None:
    """Rows in the place of those of the same time."""
    if not rows:
        return
    model = type(rows[0])
    stored = model._base_manager.filter(garden=garden, day__in={row.day for row in rows})
    old = {tuple(getattr(row, t) for t in times): row for row in stored}
    fresh, changed = [], []
    names = [f.attname for f in model._meta.concrete_fields if not f.primary_key]
    for row in rows:
        there = old.get(tuple(getattr(row, t) for t in times))
        if there is None:
            fresh.append(row)
        else:
            row.pk, row._state.adding = there.pk, False
            if any(getattr(row, name) != getattr(there, name) for name in names):
                changed.append(row)
    write.update_many(changed, names)
    write.insert(fresh)


# ---------------------------------------------------------------- feeds


MESSAGES_KEPT = timedelta(days=90)
SAID = {"garden": "garden minima", "soil": "soil readings", "forecast": "nights of forecast"}


def receive(feed: Feed, post: Post, body: bytes) -> int:
    """Write what a device sent; the same message once more changes nothing.  Returns the rows taken.

    One transaction, in as many queries for two thousand readings as for one.
    """
    with journal.noted(feed.garden):
        now = clock.instant()
        message = FeedMessage(feed=feed, digest=sha256(body).hexdigest()[:40], at=now)
        if not _is_new(message):
            return 0
        Feed.objects.filter(pk=feed.pk).update(last_at=now)
        if post.kind == "station":
            return _station_days(feed, post)
        if post.kind == "mix":
            return _warmth(feed, post)
        if (taker := takers().get(post.kind)) is not None:
            return taker(feed, post)
        rows = _rows(feed, post)
        device = devices.Device(feed.name, f"{feed.pk}.{post.kind}", moves=post.kind == "soil")
        times = TIMES.get(type(rows[0]), ("day",))
        with devices.heard(feed.garden, device, lambda n: f"{feed.name} sent {n} {SAID[post.kind]}") as write:
            replace(write, feed.garden, rows, times)
        return len(rows)


def _is_new(message: FeedMessage) -> bool:
    """Keep a message's digest; False where it came before."""
    same = FeedMessage.objects.filter(feed=message.feed_id, digest=message.digest)
    if same.exists():
        return False
    FeedMessage.objects.filter(feed=message.feed_id, at__lt=message.at - MESSAGES_KEPT).delete()
    message.save()
    return True


def _warmth(feed: Feed, post: Post) -> int:
    """What a probe in the mix of a place said; an hour that is known already stays.  Raises BadPost for a place that is not here."""
    spot = Spot.objects.filter(garden=feed.garden, code=post.place).first()
    if spot is None:
        raise BadPost(f"“place” is {post.place[:20]!r}: this garden has no place of that name.")
    before = WarmReading.objects.filter(spot=spot).count()
    rows = [
        WarmReading(garden=feed.garden, spot=spot, day=r.day, hour=r.hour, celsius=r.celsius, source=feed.name)
        for r in post.readings
    ]
    WarmReading.objects.bulk_create(rows, batch_size=500, ignore_conflicts=True)
    taken = WarmReading.objects.filter(spot=spot).count() - before
    if taken:
        device = devices.Device(feed.name, f"{feed.pk}.mix.{spot.pk}")
        devices.noticed(feed.garden, device, f"{feed.name} sent readings of {spot.code}")
    return taken


def _station_days(feed: Feed, post: Post) -> int:
    """Days for the record of the station that bears the device's name; the record itself is not taken back."""
    assert post.source is not None
    station, _ = Station.objects.get_or_create(owner=feed.garden, name=feed.name)
    merged = take_days(station, post.source, *post.source.span)
    if merged.added:
        devices.noticed(
            feed.garden, devices.Device(feed.name, f"{feed.pk}.station"), f"{feed.name} sent days of weather"
        )
    return merged.added


def _rows(feed: Feed, post: Post) -> list[Reading]:
    garden, source = feed.garden, feed.name
    if post.kind == "soil":
        return [
            SoilReading(garden=garden, day=r.day, hour=r.hour, celsius=r.celsius, source=source) for r in post.readings
        ]
    if post.kind == "garden":
        return [GardenNight(garden=garden, day=r.day, tmin_c=r.celsius, source=source) for r in post.readings]
    return [ForecastNight.of(garden, night, source) for night in (post.source.nights if post.source else ())]
