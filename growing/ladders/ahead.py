"""What do the days ahead bring for one batch on its ladder?  Its limits, the door it goes through, and each day's outing."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from statistics import NormalDist
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import by_kind
from growing.calendar import Window
from growing.crops import Crop
from growing.ladders.climbing import GOES_OUT, NIGHT, NOTHING, Climb, Climbers, LadderColumns, Sky, WindShelter, climb
from growing.ladders.hours import Hours, Times, Weekly, longest, there, times
from growing.ladders.ladder import DAY_HOURS, NIGHT_HOURS, Ladder, LadderProgress
from growing.place.nights import ERROR_C, Night, at_plant

TENDER = ("tender", "very tender")
COLDER_A_NIGHT_C = 2.0  # a hardy plant bears so much more each night it has been out
LEAST_ABOVE_DAMAGE_C = 2.0
UNDER_ROOF_C = 1.0  # less is asked of the day where a roof shelters hardy plants
MOST_FOUND = 4096
SOME_DAY = date(2000, 1, 1)  # where the date itself is nothing to them
LONGEST_AHEAD = 21  # days after the last rung that are looked at
WIND_LEFT = by_kind("ladders.ahead.WIND_LEFT")
USUAL_SHELTER = "hedge"


class HardeningSite(NamedTuple):
    """Where and by whom plants are carried out: what shelters the place ("" where nobody said), whether a frame, a porch or a tunnel
    gives a roof, when each member is at home (None: not said), and the days on which nobody is there."""

    shelter: str = ""
    roof: bool = False
    weeks: tuple[Weekly | None, ...] = ()
    away: tuple[Window, ...] = ()

    @property
    def ground(self) -> WindShelter:
        return WindShelter(WIND_LEFT[self.shelter or USUAL_SHELTER], self.roof or self.shelter == "roofed")

    @property
    def always(self) -> bool:
        """Is somebody there whenever it is, as far as anybody said?"""
        return not self.away and not any(self.weeks)

    def at_home(self, day: date) -> Hours | None:
        """The hours of that day at which somebody is there; None where nobody said."""
        return there(self.weeks, day, any(day in window for window in self.away))


USUAL_DOOR = HardeningSite()


class LadderLimits(NamedTuple):
    """What a batch bears on the ladder: the coldest day, the coldest night at first, how low that may fall, and by how much a
    night [°C]; the accepted risk."""

    day_c: float
    night_c: float
    least_c: float
    colder_c: float
    risk: float


def limits_of(
    crop: Crop, summer_night_c: float | None, summer_day_c: float | None, risk: float, roof: bool
) -> LadderLimits:
    """The limits of a crop here.

    Hardy crops: two degrees less each night they have been out, never nearer than two to what damages them, and a degree less by
    day where they have a roof.  Tender ones, where the warmest month's nights are colder than their limit on the mean: that mean
    less one, and never under what chills them and one; by day likewise the mean of the warmest fortnight, where that is under it.
    """
    day, night = crop.number("day_out_c"), crop.number("night_out_c")
    least = crop.number("damage_c") + LEAST_ABOVE_DAMAGE_C
    colder = 0.0
    if crop.hardiness == "hardy":
        colder = COLDER_A_NIGHT_C
        day -= UNDER_ROOF_C * roof
    elif crop.hardiness in TENDER:
        floor = (crop.maybe("chill_c") or 0.0) + 1
        if summer_night_c is not None and summer_night_c < night:
            night = min(night, max(summer_night_c - 1, floor))
        if summer_day_c is not None and summer_day_c < day:
            day = min(day, max(summer_day_c, floor))
    return LadderLimits(day, max(night, least), least if colder else max(night, least), colder, risk)


class LadderCase(NamedTuple):
    """One batch as its ladder sees it: begins is the day of its first outing as planned, None once begun or overdue; nothing goes out
    before `since`.  nights: those of the forecast; shift_c, stands as for the temperature at the plant."""

    ladder: Ladder
    progress: LadderProgress
    nights_had: int
    begins: date | None
    since: date
    limits: LadderLimits
    nights: tuple[Night, ...]
    today: date
    shift_c: float
    stands: str
    door: HardeningSite


class DayAhead(NamedTuple):
    """A day on the ladder: what it brings (a code of `climbing`), its rung (0 the first), the hours out, and the times for them."""

    day: date
    code: int
    rung: int
    hours: float
    times: Times | None

    @property
    def out(self) -> bool:
        return NOTHING < self.code <= GOES_OUT

    @property
    def night(self) -> bool:
        return self.code == NIGHT


class LadderAhead(NamedTuple):
    """The days until all rungs are climbed, and the day from which it may be planted; None where that is beyond what was looked at."""

    days: tuple[DayAhead, ...]
    ready: date | None

    def after(self, days: int) -> LadderAhead:
        """The same so many days later."""
        if not days:
            return self
        by = timedelta(days=days)
        moved = tuple(day._replace(day=day.day + by) for day in self.days)
        return LadderAhead(moved, None if self.ready is None else self.ready + by)


Asked = tuple[LadderCase, int]  # a case by what its days follow from, and how many of them are looked at
NO_LIMITS = LadderLimits(0.0, 0.0, 0.0, 0.0, 0.5)
_found: dict[Asked, LadderAhead] = {}  # kept by value, as each page asks it several times


def nights_out(outings: tuple[object, ...]) -> int:
    """Nights that were had on the ladder."""
    return sum(getattr(o, "hours", 0.0) >= NIGHT_HOURS for o in outings)


def ahead(case: LadderCase) -> LadderAhead:
    """Every day from `since` on until the ladder is climbed."""
    return ahead_of([case])[0]


def ahead_of(cases: Sequence[LadderCase]) -> list[LadderAhead]:
    """The same of many, in their order: those that see the same days climb together."""
    asked = [_asked(case) for case in cases]
    found = {one: there for one in asked if (there := _found.get(one)) is not None}
    groups: dict[tuple[object, ...], list[Asked]] = {}
    for one in dict.fromkeys(asked):
        if one not in found:
            groups.setdefault(seen_by(one[0]), []).append(one)
    for group in groups.values():
        found.update(zip(group, _climbed(group), strict=True))
    if groups:
        if len(_found) > MOST_FOUND:
            _found.clear()
        _found.update(found)
    return [found[one].after((case.since - one[0].since).days) for case, one in zip(cases, asked, strict=True)]


def seen_by(case: LadderCase) -> tuple[object, ...]:
    """What those have in common that climb together: the days, their weather where they stand, and who carries them."""
    return case.since, case.today, case.shift_c, case.stands, case.nights, case.door


def _asked(case: LadderCase) -> Asked:
    """Without what its days do not follow from: nights that it does not see, what it bears where it sees none, and the date where
    somebody is always there."""
    lead = 0 if case.begins is None else max(0, (case.begins - case.since).days)
    days = lead + len(case.ladder.rungs) - case.progress.climbed + LONGEST_AHEAD
    last = case.since + timedelta(days=days)
    near = tuple(n for n in case.nights if case.since <= n.day <= last)
    progress = case.progress._replace(outings=0)  # how many it took says nothing of what comes
    case = case._replace(nights=near, progress=progress)
    if near:
        return case, days
    case = case._replace(today=case.since, limits=NO_LIMITS, shift_c=0.0, stands="")
    if case.door.always:
        begins = None if case.begins is None else SOME_DAY + timedelta(days=lead)
        case = case._replace(since=SOME_DAY, today=SOME_DAY, begins=begins)
    return case, days


def _climbed(group: Sequence[Asked]) -> list[LadderAhead]:
    """The days of cases that see the same."""
    if not (climbing := [one for one in group if one[0].progress.rung is not None]):
        return [LadderAhead((), case.since) for case, _ in group]
    first, most = climbing[0][0], max(days for _, days in climbing)
    home = [first.door.at_home(first.since + timedelta(days=d)) for d in range(most)]
    ways, can, numbers = ways_of([case for case, _ in climbing], home)
    who = climbers([case for case, _ in climbing], numbers)
    found = climb(ways, who, sky_of(first, most), first.door.ground, can)
    given = {one: _listed(*one, found, n, home) for n, one in enumerate(climbing)}
    return [given.get(one, LadderAhead((), one[0].since)) for one in group]


def _listed(case: LadderCase, days: int, found: Climb, n: int, home: Sequence[Hours | None]) -> LadderAhead:
    """What each day brings to the n-th of those that climbed."""
    ready = int(found.ready[n, 0])
    listed = []
    for d in range(min(days, ready)):
        code, hours = int(found.code[n, 0, d]), float(found.hours[n, 0, d])
        if code != NOTHING:
            when = times(hours, code == NIGHT, home[d]) if hours else None
            listed.append(DayAhead(case.since + timedelta(days=d), code, int(found.rung[n, 0, d]), hours, when))
    return LadderAhead(tuple(listed), None if ready >= days else case.since + timedelta(days=ready))


def ways_of(
    cases: Sequence[LadderCase], home: list[Hours | None]
) -> tuple[LadderColumns, NDArray[np.float64], list[int]]:
    """The ladders of cases side by side, what can be carried on each, (2, ladders, days, rungs) [h], and which is each one's."""
    ladders = list(dict.fromkeys(case.ladder for case in cases))
    ways = LadderColumns.of(ladders)
    can = np.zeros((2, len(ladders), len(home), ways.hours.shape[1]))
    for n, ladder in enumerate(ladders):
        can[:, n, :, : len(ladder.rungs)] = possible(ladder, home)
    return ways, can, [ladders.index(case.ladder) for case in cases]


def possible(ladder: Ladder, home: list[Hours | None]) -> np.ndarray:
    """The longest outing of each day and rung, as it asks and by day alone, (2, days, rungs) [h]."""
    kept: dict[Hours | None, list[list[float]]] = {}
    for at_home in home:
        if at_home not in kept:
            whole = [_longest(r.hours, r.night, at_home) for r in ladder.rungs]
            kept[at_home] = [whole, [longest(DAY_HOURS if r.night else r.hours, at_home) for r in ladder.rungs]]
    return np.array([kept[at_home] for at_home in home]).transpose(1, 0, 2)


def _longest(hours: float, night: bool, at_home: Hours | None) -> float:
    if night and times(hours, True, at_home) is not None:
        return hours
    return longest(DAY_HOURS if night else hours, at_home)


def climbers(cases: Sequence[LadderCase], ladder: list[int] | None = None) -> Climbers:
    """Batches as rows, each from its own `since`; ladder: the number of each one's ladder, where they are several."""
    z = {risk: NormalDist().inv_cdf(1 - min(max(risk, 1e-6), 0.5)) for risk in {c.limits.risk for c in cases}}
    whole = lambda values: np.array(list(values), np.int64)  # noqa: E731
    real = lambda values: np.array(list(values), float)  # noqa: E731
    return Climbers(
        whole(ladder or [0] * len(cases)),
        whole(c.progress.before for c in cases),
        whole(c.progress.missed for c in cases),
        whole(c.progress.days_only for c in cases),
        whole(c.progress.halves for c in cases),
        whole(c.progress.partly for c in cases),
        whole(c.nights_had for c in cases),
        whole(-1 if c.begins is None else max(0, (c.begins - c.since).days) for c in cases),
        real(c.limits.day_c for c in cases),
        real(c.limits.night_c for c in cases),
        real(c.limits.least_c for c in cases),
        real(c.limits.colder_c for c in cases),
        real(z[c.limits.risk] for c in cases),
    )


def sky_of(case: LadderCase, days: int) -> Sky:
    """The forecast as one row of days from `since` on, unknown where it does not reach."""
    rows = np.full((8, 1, days), np.nan)
    for night in case.nights:
        d = (night.day - case.since).days
        if 0 <= d < days:
            plant = at_plant(night, case.today, case.shift_c, case.stands)
            given = (
                night.tmax_c,
                plant.celsius,
                plant.error_c,
                night.cloud,
                night.wind_kmh,
                night.gust_kmh,
                night.rain_mm,
                night.hail,
            )
            rows[:, 0, d] = [np.nan if v is None else v for v in given]
    rows[2] = np.nan_to_num(rows[2], nan=ERROR_C)
    return Sky(*rows)
