"""Which day brings which outing, and when is the ladder climbed?  Many batches over many days and years at once.

One arithmetic: the task of a day, the picture of a fortnight and the odds over thirty springs all ask `climb`.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import real
from growing.ladders.ladder import (
    COUNTS_FROM,
    DAY_HOURS,
    DAYS_FOR_A_NIGHT,
    HALVES_FOR_A_RUNG,
    RESTART_AFTER,
    STEP_BACK_FROM,
    Ladder,
)

Floats = NDArray[np.floating[Any]]
Ints = NDArray[np.integer[Any]]
Codes = NDArray[np.int8]

# What a day brings.  Up to DAY_ONLY they go out.
NOTHING, OUT, NIGHT, SHELTERED, SHORT, DAY_ONLY = range(6)
COLD, WINDY, GUSTY, RAINY, HAIL, NOBODY = range(6, 12)
GOES_OUT = DAY_ONLY
WORDS = (
    *("nothing", "outing", "night_out", "sheltered", "brief", "day_only"),
    *("too_cold", "too_windy", "too_gusty", "too_wet", "hail", "nobody"),
)

MOST_WIND_KMH = 20.0  # where they stand
MOST_GUST_KMH = 40.0
MOST_RAIN_MM = real("ladders.climbing.MOST_RAIN_MM")
MOST_HAIL = real("ladders.climbing.MOST_HAIL")
OVERCAST = 0.6  # cloud of a grey day
AROUND_DAYS = 2  # from the plan, within which the first outing waits for a grey day
NO_CHILL_C = -99.0


class LadderColumns(NamedTuple):
    """Ladders side by side: hours [h], whether the rung has a night, (ladders, rungs); how many rungs each has."""

    hours: Floats
    night: NDArray[np.bool_]
    rungs: Ints

    @classmethod
    def of(cls, ladders: list[Ladder]) -> LadderColumns:
        most = max(len(one.rungs) for one in ladders)
        hours, night = np.zeros((len(ladders), most)), np.zeros((len(ladders), most), bool)
        for n, one in enumerate(ladders):
            hours[n, : len(one.rungs)] = [r.hours for r in one.rungs]
            night[n, : len(one.rungs)] = [r.night for r in one.rungs]
        return cls(hours, night, np.array([len(one.rungs) for one in ladders]))


class Sky(NamedTuple):
    """Days of weather, (years, days) or (1, days) of each: warmest, lowest at the plant in the open by night and its error [°C],
    cloud, wind and gusts [km/h], rain [mm], chance of hail.  NaN where nobody knows: then it forbids nothing."""

    tmax_c: Floats
    plant_c: Floats
    error_c: Floats
    cloud: Floats
    wind_kmh: Floats
    gust_kmh: Floats
    rain_mm: Floats
    hail: Floats


class WindShelter(NamedTuple):
    """Where they stand: the share of the wind left behind the best shelter, 0–1; whether that has a roof."""

    wind_left: float = 0.4
    roof: bool = False


class Climbers(NamedTuple):
    """Batches, one a row: their ladder, rungs climbed, days missed, whole days instead of a night, half rungs, 1 where the
    last outing was no whole rung, nights had; the day
    (from the first of the sky) on which the first outing is planned, −1 once begun.

    The counts may be given for each year, (batches, years).  day_c, night_c, least_c: the coldest day and night out, and how low that
    may fall; colder_c: by how much a night [°C].
    z: normal quantile of the accepted risk.
    """

    ladder: Ints
    climbed: Ints
    missed: Ints
    days_only: Ints
    halves: Ints
    partly: Ints
    nights: Ints
    begins: Ints
    day_c: Floats
    night_c: Floats
    least_c: Floats
    colder_c: Floats
    z: Floats


class Climb(NamedTuple):
    """What each day brings: code, rung, hours [h], (batches, years, days); the first day on which all are climbed, (batches, years),
    `days` where that is later; and where they stand at the end of those days, in the same order as `Climbers` has it, (batches, years)."""

    code: Codes
    rung: Codes
    hours: Floats
    ready: Ints
    end: tuple[Ints, Ints, Ints, Ints, Ints, Ints]


def shelter(rung: Ints | int, rungs: Ints | int, wind_left: float) -> Floats:
    """The share of the wind that a rung has: behind the shelter for a third of the ladder, then less of it step by step, the last
    third in the site's own wind."""
    third = np.asarray(rungs) / 3
    return np.asarray(wind_left + (1 - wind_left) * np.clip((np.asarray(rung) - third) / np.maximum(third, 1e-9), 0, 1))


def first_outing(planned: Ints, sky: Sky) -> Ints:
    """The day of the first outing, (batches, years): the grey day nearest to the plan, two days around it at most; where no forecast
    knows the clouds of those days, the plan.  planned: days from the first of the sky, below 0 where it should have been."""
    cloud = np.broadcast_to(sky.cloud, np.broadcast_shapes(sky.cloud.shape, sky.tmax_c.shape))
    years, days = cloud.shape
    found = np.repeat(np.maximum(planned, 0)[:, None], years, axis=1)
    for step in (AROUND_DAYS, -AROUND_DAYS, 1, -1, 0):  # the nearest is written last
        at = np.maximum(planned, 0) + step
        inside = (at >= 0) & (at < days)
        grey = (cloud[:, np.clip(at, 0, days - 1)] >= OVERCAST).T & inside[:, None]
        found = np.where(grey, at[:, None], found)
    return np.asarray(found)


def after_gap(climbed: Ints, missed: Ints, partly: Ints) -> Ints:
    """Rungs that are left after days without an outing (`left_after`)."""
    least = np.minimum(climbed, 1)
    back = np.where(missed >= STEP_BACK_FROM + partly, np.maximum(climbed - 1, least), climbed)
    return np.asarray(np.where(missed > RESTART_AFTER, least, back))


def climb(
    ways: LadderColumns, who: Climbers, sky: Sky, ground: WindShelter, possible: Floats, day_by_day: bool = True
) -> Climb:
    """Live the days ahead.

    possible: the longest outing that somebody can carry out and in, (2, ladders, days, rungs) [h]: up to the rung's hours, and
    up to those of a day alone where its night is too cold.  day_by_day: is asked what each day brings, or only how it ends?
    A rung whose wind is too much for it is had behind the shelter, one too long for those at home as long as can be: both count
    half.  So a milder day never makes anything later, and no place is too windy or too cool for a ladder to end.
    """
    batches, days = len(who.ladder), sky.tmax_c.shape[1]
    years = max(part.shape[0] for part in sky)
    shape = (batches, years)
    kept = (*shape, days if day_by_day else 0)
    code, rung_of, hours_of = np.zeros(kept, np.int8), np.zeros(kept, np.int8), np.zeros(kept)
    ready = np.full(shape, days)
    start = lambda a: a if a.ndim == 2 else np.repeat(a[:, None], years, axis=1)  # noqa: E731
    climbed, missed, days_only, halves, partly, nights = (
        start(a) for a in (who.climbed, who.missed, who.days_only, who.halves, who.partly, who.nights)
    )
    planned = start(who.begins)
    begins = planned if who.begins.ndim == 2 else np.where(planned < 0, -1, first_outing(who.begins, sky))
    begun = begins < 0
    rungs = start(ways.rungs[who.ladder])
    ladder = start(who.ladder)
    ready[climbed >= rungs] = 0
    gusty = sky.gust_kmh > MOST_GUST_KMH
    behind_wind = sky.wind_kmh * ground.wind_left > MOST_WIND_KMH
    behind_gust = sky.gust_kmh * (1 + ground.wind_left) / 2 > MOST_GUST_KMH
    wet, hail = (sky.rain_mm > MOST_RAIN_MM), sky.hail >= MOST_HAIL
    # what depends on ladder and rung alone, looked up by one number for both
    each = ways.hours.shape[1]
    hours, nightly = ways.hours.ravel(), ways.night.ravel()
    left = shelter(np.arange(each)[None, :], ways.rungs[:, None], ground.wind_left).ravel()
    least = COUNTS_FROM * hours
    asked, alone = (part.transpose(1, 0, 2).reshape(days, -1) for part in possible)
    first, last_rung = ladder * each, rungs - 1
    night_c, colder_c, least_c, z, day_c = (
        a[:, None] for a in (who.night_c, who.colder_c, who.least_c, who.z, who.day_c)
    )
    for d in range(days):
        active = (climbed < rungs) & (begins <= d)
        if not active.any():
            missed = missed + begun
            continue
        at = after_gap(climbed, missed, partly)
        here = first + np.minimum(at, last_rung)
        wants, night = hours[here], nightly[here]
        can, by_day = asked[d][here], alone[d][here]
        too_cold = night & (
            sky.plant_c[:, d] - z * sky.error_c[:, d] < np.maximum(night_c - colder_c * nights, least_c)
        )
        short = ~night & (can < least[here])
        today = np.where(
            night, np.where(too_cold | (can < wants), DAY_ONLY, NIGHT), np.where(short, SHORT, OUT)
        ).astype(np.int8)
        sheltered = (sky.wind_kmh[:, d] * left[here] > MOST_WIND_KMH) | gusty[:, d]
        if ground.roof:
            sheltered |= wet[:, d]
        today[sheltered] = SHELTERED
        can = np.where(today == NIGHT, can, by_day)
        harsh = np.where(
            behind_wind[:, d], WINDY, np.where(behind_gust[:, d], GUSTY, np.where(hail[:, d], HAIL, NOTHING))
        )
        if not ground.roof:
            harsh = np.where(wet[:, d] & (harsh == NOTHING), RAINY, harsh)
        if harsh.any():
            today = np.where(harsh > NOTHING, harsh, today)
        today = np.where(sky.tmax_c[:, d] < day_c, COLD, today)
        today = np.where(can <= 0, NOBODY, today)
        today = np.where(active, today, NOTHING)
        out = (today > NOTHING) & (today <= GOES_OUT)
        whole = (today == OUT) | (today == NIGHT)
        had = np.where(today == NIGHT, wants, np.minimum(np.where(night, DAY_HOURS, wants), can))
        if day_by_day:
            code[:, :, d], rung_of[:, :, d], hours_of[:, :, d] = today, at, had * out
        part = out & ~whole
        days_only = days_only + (part & night & (had >= COUNTS_FROM * DAY_HOURS))
        halves = halves + (part & ~night & (had >= wants / 2))
        up = whole | (days_only >= DAYS_FOR_A_NIGHT) | (halves >= HALVES_FOR_A_RUNG)
        done = up & out
        climbed = np.where(out, at + done, climbed)
        partly = np.where(out, ~done, partly).astype(np.int64)
        nights = nights + (today == NIGHT)
        begun = begun | out
        missed = np.where(out, 0, missed + begun)
        afresh = done | (~out & ((missed == STEP_BACK_FROM) | (missed == RESTART_AFTER + 1)))
        days_only, halves = np.where(afresh, 0, days_only), np.where(afresh, 0, halves)
        ready = np.where((climbed >= rungs) & (ready == days), d + 1, ready)
    return Climb(code, rung_of, hours_of, np.minimum(ready, days), (climbed, missed, days_only, halves, partly, nights))
