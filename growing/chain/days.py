"""The dated chain as arithmetic: whole days, for one planting or for plantings × seasons at once.

Every function takes whole days as Python ints, or int32 arrays that broadcast (plantings × seasons), and returns its
intermediates by name in the same shape.  Days are counted from any day that all of them share; `NO_DAY` is a gate that
holds nothing back, `NEVER` an end that does not come.  `growing.chain.dates` runs the same functions on one planting and
builds its working from what they return; `growing.chain.seasons` goes on from here to the garden.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any, NamedTuple

import numpy as np

from growing.assumptions import whole
from growing.place.growth import NEVER, Growth, grown_by, latest_start

NO_DAY = -(2**30)
SHORT_LIGHT_DAYS = 14  # what a harvest after the equinox, or in autumn, takes longer
POT_TENTHS = whole("chain.days.POT_TENTHS")
SIX_WEEKS, FOUR_WEEKS = 42, 28  # how much sooner an overwintered crop gives, and how long before cold soil it goes out

Day = Any  # int, or NDArray[np.int32]
NUMBER = (int, float)


def later(a: Day, b: Day) -> Day:
    """The later of two days, or the larger of two numbers."""
    return max(a, b) if isinstance(a, NUMBER) and isinstance(b, NUMBER) else np.maximum(a, b)


def earlier(a: Day, b: Day) -> Day:
    """The earlier of two days, or the smaller of two numbers."""
    return min(a, b) if isinstance(a, NUMBER) and isinstance(b, NUMBER) else np.minimum(a, b)


def choose(condition: Day, yes: Day, no: Day) -> Day:
    """`yes` where the condition holds, otherwise `no`."""
    return (yes if condition else no) if isinstance(condition, bool) else np.where(condition, yes, no)


class OutWindow(NamedTuple):
    """Planting out: by offset from last frost alone, and as gates move it."""

    by_offset: Day
    by_offset_to: Day
    start: Day
    end: Day


def out_window(last_frost: Day, out_min: Day, out_max: Day, gate: Day) -> OutWindow:
    """Last frost + offset [days], moved by the latest gate and as long as the crop's own window."""
    by_offset, by_offset_to = last_frost + out_min, last_frost + out_max
    start = later(by_offset, gate)
    return OutWindow(by_offset, by_offset_to, start, later(by_offset_to, start + (out_max - out_min)))


class Span(NamedTuple):
    """From a first to a last day, both included."""

    start: Day
    end: Day


def autumn_window(finish: Day, harvest: Day, slow: Day, fast: Day, spring: Day) -> Span:
    """Counted back from the day it must be over: harvest, growing (slow and fast kinds) and shortening light [days].

    spring: the day before which it is not planted out at all, NO_DAY where there is none.
    """
    free = finish - harvest - SHORT_LIGHT_DAYS
    return Span(later(free - slow, spring), later(free - fast, spring))


def sow_window(out: Span | OutWindow, longest: Day, shortest: Day) -> Span:
    """Earliest planting out − longest raising time to latest − shortest [days]."""
    return Span(out.start - longest, out.end - shortest)


class Ideal(NamedTuple):
    """The middle day of planting out, and the sowing for it."""

    middle_out: Day
    sow: Day


def ideal_sow(out: Span | OutWindow, raising: Day) -> Ideal:
    """Middle of planting out − middle raising time [days]; of two middle days the earlier."""
    middle = out.start + (out.end - out.start) // 2
    return Ideal(middle, middle - raising)


class SowingDay(NamedTuple):
    """The day found, and whether it is one of the sowing days."""

    day: Day
    free: Day


def on_sowing_day(ideal: Day, window: Span, ahead: Day, back: Day) -> SowingDay:
    """The sowing day in the window nearest to the ideal, ties later; the ideal itself where there is none.

    ideal: ordinals.  ahead, back: days to the next sowing day and back to the last, by an ordinal's remainder by their
    length; arrays where days are arrays.
    """
    wish = earlier(later(ideal, window.start), window.end)
    on, off = ahead[wish % len(ahead)], back[wish % len(back)]
    after, before = wish + on, wish - off
    fits_after, fits_before = after <= window.end, before >= window.start
    forward = fits_after & ((on <= off) | (before < window.start))
    return SowingDay(choose(forward, after, choose(fits_before, before, wish)), fits_after | fits_before)


def at_home(day: Day, window: Span | OutWindow, able: Day, away: Sequence[tuple[int, int]]) -> Day:
    """The day on which somebody is there: the first one back inside the window, else the last one before leaving.

    able: the earliest day it can be.  away: first and last days nobody is there, in order, apart by a day at least.  A
    day for which neither lies between `able` and the window's end stays as it is.
    """
    for left, last in away:
        gone, back, before = (day >= left) & (day <= last), last + 1, left - 1
        fits_back = back <= window.end
        fits_before = (before >= window.start) & (before >= able)
        day = choose(gone & fits_back, back, choose(gone & fits_before, before, day))
    return day


class PlantingDay(NamedTuple):
    """When a sowing goes out: wanted at middle raising time, able from the shortest to the age limit, and the day."""

    wanted: Day
    able: Day
    limit: Day
    day: Day


def planting_day(sow: Day, window: Span | OutWindow, shortest: Day, middle: Day, hold: Day) -> PlantingDay:
    """As near the middle raising time as the window allows, but never under the shortest [days]."""
    wanted, able = sow + middle, sow + shortest
    return PlantingDay(wanted, able, sow + hold, later(earlier(later(wanted, window.start), window.end), able))


def lit(day: Day, equinox: Day) -> Day:
    """A harvest after the equinox comes later, for want of light."""
    return day + SHORT_LIGHT_DAYS * (day > equinox)


def first_by_calendar(out: Day, mature: Day, older_tenths: Day, equinox: Day) -> Day:
    """First harvest: planting out + days, less what the plants are ahead in the pot [tenths of a day], and light."""
    return lit(out + mature - older_tenths // 10, equinox)


def first_by_warmth(
    growth: Growth, year: Day, out: Day, mature: Day, check: Day, older_tenths: Day, equinox: Day
) -> Day:
    """First harvest by the warmth of each year; NEVER where it does not come.

    out: days from the season's start.  mature: days at standard warmth, of which `check` pass without growth.
    """
    found = grown_by(growth, year, out + check, (mature - check) * 10 - older_tenths)
    return found + SHORT_LIGHT_DAYS * ((found > equinox) & (found < NEVER))


def latest_out_by_calendar(end: Day, stay: Day, mature: Day, equinox: Day) -> Day:
    """The last planting out that is picked for `stay` days before the end; the inverse of `first_by_calendar`."""
    return _lit_before(end - stay, equinox) - mature


def latest_out_by_warmth(growth: Growth, year: Day, end: Day, stay: Day, mature: Day, check: Day, equinox: Day) -> Day:
    """The same by the warmth of each year, from the season's start; negative where there is none."""
    found = latest_start(growth, year, _lit_before(end - stay, equinox), (mature - check) * 10)
    return choose(found < 0, found, found - check)


def _lit_before(day: Day, equinox: Day) -> Day:
    """The last day without regard to light whose harvest comes by `day`."""
    return later(earlier(day, equinox), day - SHORT_LIGHT_DAYS)


def last_yield(first_middle: Day, length: Day, end: Day, first: Day) -> Day:
    """The end of harvest: its usual length, or what ends the year; not before it begins."""
    return later(earlier(first_middle + length, end), first)


class SeasonColumns(NamedTuple):
    """What seasons say to plantings, in days from a common first day: arrays (plantings, seasons) or broadcast to it.

    gate: the latest of a planting's gates.  end: when the year ends for it.  growth, year: one kind's growth and the rows of
    it.  zero: the common first day's ordinal.
    """

    last_frost: Day
    gate: Day
    end: Day
    equinox: Day
    growth: Growth
    year: Day
    zero: Day


class CropColumns(NamedTuple):
    """Plantings as columns of days: offsets, raising times, days to harvest, its length, days it must be picked."""

    out_min: Day
    out_max: Day
    shortest: Day
    longest: Day
    middle: Day
    hold: Day
    mature: Day
    stay: Day
    length: Day
    check: Day


class SpringPlan(NamedTuple):
    """Every day of plantings × seasons until they are to be planted out."""

    out: OutWindow
    sow: Span
    ideal: Ideal
    sown: SowingDay
    planted: PlantingDay


class Harvests(NamedTuple):
    """What plantings × seasons give: first and last day, and whether it is enough."""

    first: Day
    last: Day
    useful: Day


def spring_plan(season: SeasonColumns, crops: CropColumns, ahead: Day, back: Day) -> SpringPlan:
    """The chain of raised plantings, spring term, for all of them in all seasons at once, as it is planned."""
    out = out_window(season.last_frost, crops.out_min, crops.out_max, season.gate)
    sow = sow_window(out, crops.longest, crops.shortest)
    ideal = ideal_sow(out, crops.middle)
    zero = season.zero
    sown = on_sowing_day(ideal.sow + zero, Span(sow.start + zero, sow.end + zero), ahead, back)
    planted = planting_day(sown.day - zero, out, crops.shortest, crops.middle, crops.hold)
    return SpringPlan(out, sow, ideal, sown, planted)


def yields(season: SeasonColumns, crops: CropColumns, out: Day, wanted: Day) -> Harvests:
    """What they give, planted out on a day; wanted: on which they would have been of the middle age for it."""
    older = (out - wanted) * POT_TENTHS
    first = first_by_warmth(season.growth, season.year, out, crops.mature, crops.check, older, season.equinox)
    return Harvests(first, last_yield(first, crops.length, season.end, first), first + crops.stay <= season.end)


def ordinal(day: date | None, none: int = NO_DAY) -> int:
    """A day as a whole number; `none` where there is no day."""
    return none if day is None else day.toordinal()
