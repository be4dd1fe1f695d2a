"""All ladders over two weeks: what each day brings, what it had, when it is climbed, what missed days cost, and who would save them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState
from aestiva.frame import say
from growing.batch.climb import case_of
from growing.ladders.ahead import DayAhead, HardeningSite, LadderAhead, LadderCase, ahead
from growing.ladders.climbing import GOES_OUT, NIGHT, NOBODY, NOTHING
from growing.ladders.hours import FIRST_HOUR, said, times
from growing.ladders.ladder import NIGHT_HOURS, Outing
from growing.ladders.odds import InSprings, in_springs
from growing.place.growth import SPAN_DAYS, span_start
from growing.place.nights import BETWEEN_C, Night, at_plant
from growing.plantingout.asking import age_limit

DAYS = 14
ALWAYS = 0.995  # of springs
SOON_DAYS = 14  # before its first outing, from which a batch is on the page


class DaySky(NamedTuple):
    """A day over the ladders: warmest, lowest at the plant in the open [°C], cloud, wind behind the shelter [km/h]; whether the forecast
    says so or it is what these days usually bring; is nobody at home by day."""

    day: date
    tmax_c: float | None
    plant_c: float | None
    cloud: float | None
    wind_kmh: float | None
    rain_mm: float | None
    forecast: bool
    nobody: bool


class LadderRow(NamedTuple):
    """One batch: the outings it had in these days, the days ahead, the day it may go out, days later than without a missed one, the
    day to which its container carries it; as its ladder sees it, and in the springs on record."""

    item: Item
    had: tuple[Outing, ...]
    days: tuple[DayAhead, ...]
    ready: date | None
    planned: date
    later: int
    limit: date
    begins: date | None
    case: LadderCase
    springs: InSprings | None = None

    @property
    def hours_had(self) -> float:
        return sum(o.hours for o in self.item.raised.facts.outings)

    @property
    def hours_wanted(self) -> float:
        return sum(o.wanted_hours for o in self.item.raised.facts.outings)

    @property
    def said(self) -> str:
        """“9 in 10 springs by 29 April”; “” where there is no daily record."""
        if self.springs is None:
            return ""
        share, day = self.springs.sure
        often = (
            "every spring" if share > ALWAYS else "no spring" if share < 1 - ALWAYS else f"{say.odds(share)} springs"
        )
        return f"{often} by {say.short_day(day)}"

    @property
    def missed(self) -> tuple[DayAhead, ...]:
        return tuple(d for d in self.days if d.code > GOES_OUT)

    @property
    def left(self) -> int | None:
        """Days that its container still carries it once it may go out; below 0 where not."""
        return None if self.ready is None else (self.limit - self.ready).days


class Saving(NamedTuple):
    """Somebody at home on a day: from when to when it is enough, and how many batches are ready sooner."""

    day: date
    begins: str
    ends: str
    batches: int


class Ladders(NamedTuple):
    """The page: its days, the batches on a ladder or about to begin, and who would save most."""

    days: tuple[DaySky, ...]
    rows: tuple[LadderRow, ...]
    saving: Saving | None


def ladders_ahead(now: SeasonState) -> Ladders:
    """Everything of the ladder view."""
    rows = [row for item in now.items if (row := _row(now, item)) is not None]
    rows.sort(key=lambda r: (r.ready or date.max, r.item.raised.dates.out_on, r.item.full_name))
    return Ladders(skies(now), tuple(rows), _saving(now, rows))


def odds(now: SeasonState, rows: Sequence[LadderRow]) -> tuple[LadderRow, ...]:
    """The same rows with the springs on record, where there is a daily record."""
    daily = now.place.memo("daily", now.place.warmth.daily)
    begin = (now.today - span_start(now.place.year, now.place.climate.southern)).days
    if daily is None or not 0 <= begin < SPAN_DAYS:
        return tuple(rows)
    found = in_springs([row.case for row in rows], daily, begin)
    return tuple(row._replace(springs=one) for row, one in zip(rows, found, strict=True))


def _row(now: SeasonState, item: Item) -> LadderRow | None:
    one = item.raised
    if item.batch is None:
        return None
    case = case_of(one, now.today)
    if case is None:
        return None
    found: LadderAhead = ahead(case)
    first = found.days[0].day if found.days else case.since
    if first > now.today + timedelta(days=SOON_DAYS):
        return None
    had = tuple(o for o in one.facts.outings if (now.today - o.day).days <= 1)
    left = len(one.ladder.rungs) - case.progress.climbed
    least = (case.begins or case.since) + timedelta(days=left)
    later = 0 if found.ready is None else max(0, (found.ready - least).days)
    return LadderRow(item, had, found.days, found.ready, one.dates.out_on, later, age_limit(one), case.begins, case)


def skies(now: SeasonState, days: int = DAYS) -> tuple[DaySky, ...]:
    """The days ahead: as forecast, after that as they usually are in this garden."""
    assert now.shared is not None
    door, nights = now.shared.door, {n.day: n for n in now.nights}
    daily = now.place.memo("daily", now.place.warmth.daily)
    begin = (now.today - span_start(now.place.year, now.place.climate.southern)).days
    found = []
    for n in range(days):
        day = now.today + timedelta(days=n)
        nobody = by_day_nobody(door, day)
        night = nights.get(day)
        if night is not None:
            found.append(_forecast(now, day, night, door, nobody))
        elif daily is not None and 0 <= begin + n < SPAN_DAYS:
            warm, low = float(daily.maxima[:, begin + n].mean()), float(daily.minima[:, begin + n].mean())
            found.append(DaySky(day, warm, low - BETWEEN_C, None, None, None, False, nobody))
        else:
            found.append(DaySky(day, None, None, None, None, None, False, nobody))
    return tuple(found)


def _forecast(now: SeasonState, day: date, night: Night, door: HardeningSite, nobody: bool) -> DaySky:
    plant = at_plant(night, now.today, now.shift_c).celsius
    wind = None if night.wind_kmh is None else night.wind_kmh * door.ground.wind_left
    return DaySky(day, night.tmax_c, plant, night.cloud, wind, night.rain_mm, True, nobody)


def by_day_nobody(door: HardeningSite, day: date) -> bool:
    """Is nobody at home for a short outing on that day?"""
    return times(2.0, False, door.at_home(day)) is None


def _saving(now: SeasonState, rows: list[LadderRow]) -> Saving | None:
    """The day on which somebody at home would make most batches ready sooner."""
    missed = sorted(
        {d.day for row in rows for d in row.days if d.code == NOBODY and d.day < now.today + timedelta(days=DAYS)}
    )
    best: Saving | None = None
    for day in missed:
        sooner, begins, ends = 0, 24.0, 0.0
        for row in rows:
            if not any(d.day == day and d.code == NOBODY for d in row.days):
                continue
            found = ahead(row.case._replace(door=_with_somebody(row.case.door, day)))
            if found.ready is not None and (row.ready is None or found.ready < row.ready):
                sooner += 1
                one = next((d for d in found.days if d.day == day and d.times is not None), None)
                if one is not None and one.times is not None:
                    begins = min(begins, one.times.begins)
                    ends = max(ends, one.times.ends if one.code != NIGHT else one.times.begins + 1)
        if sooner and (best is None or sooner > best.batches):
            best = Saving(day, said(min(begins, 24.0)), said(max(ends, begins)), sooner)
    return best


def _with_somebody(door: HardeningSite, day: date) -> HardeningSite:
    """The same door with somebody at home all that weekday, and not away on that day."""
    week = tuple((float(FIRST_HOUR), 21.0) if n == day.weekday() else None for n in range(7))
    away = tuple(window for window in door.away if day not in window)
    return door._replace(weeks=(*door.weeks, week), away=away)


def outing_hours(row: LadderRow, day: date) -> Outing | None:
    """The outing that was had on a day."""
    return next((o for o in row.had if o.day == day), None)


__all__ = ["NIGHT_HOURS", "NOTHING", "DaySky", "LadderRow", "Ladders", "Saving", "ladders_ahead", "skies"]
