"""What does the place say about this growing season?  Last frost, gates with dates, the sky of risk."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property, lru_cache
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from growing.calendar import Window, cold_season_start
from growing.place.daylight import ten_hour_autumn
from growing.place.frost import EventDates, FrostClimate, RiskDate
from growing.place.growth import Growth, Normals, midwinter, span_start
from growing.place.nights import BETWEEN_C, SHELTER_C
from growing.place.warmth import TypedWarmth, WarmthSource
from growing.working import Value, Working

Answer = TypeVar("Answer")
BASE_RISK = 0.5  # last frost, in every offset, is the date of even odds
# What is hardier recovers from a nip: so many times the accepted risk, and never more than every second spring.
RISK_SCALE = {"hardy": 2.5, "half-hardy": 1.5, "tender": 1.0, "very tender": 1.0}
MOST_RISK = 0.5
AWAY_WEEKS = 260  # five years: days away of one season are not taken for those of another
MOST_KEPT = 8192  # answers of one place
MOST_COLDER_STEPS = 8  # 2⁸ tenths of a degree: where frost never comes near, nothing is found

NOTHING_TYPED = TypedWarmth()


class Gate(NamedTuple):
    """Something planting out waits for: kind "frost", "soil", "nights" or "chill"; day None where nothing is known or needed.

    never: it is never warm enough in the open here.
    """

    kind: str
    day: date | None
    working: Working
    never: bool = False

    @property
    def verdict(self) -> str:
        """ "dated", or why there is no day."""
        return self.working.result.name


class Needs(NamedTuple):
    """What planting out of a crop waits for: temperatures [°C], None: no such limit.

    damage_c None: it lies in the ground, and frost does not touch it; spared_days: it lies there so long before it shows.
    """

    hardiness: str
    damage_c: float | None
    soil_c: float
    mean_night_c: float | None
    chill_c: float | None
    spared_days: int = 0


@dataclass(frozen=True)
class PlaceYear:
    """One growing season at one place.

    year: the year of its spring.  climate: frost dates, typed or computed.  accepted_risk: share of springs in which
    frost may still come after planting out tender plants; risk_scale: times that for each hardiness.  warmth: days from
    which soil and nights are warm, typed or computed.  sowing_days: weekdays with time to sow, 0 = Monday.  cover: what it
    grows under, "tunnel", "frame" or none; it shelters from frost at both ends of the season.  away: days on which nobody is
    there, in order, apart by a day at least (`growing.calendar.joined`).
    """

    year: int
    climate: FrostClimate
    accepted_risk: float = 0.1
    warmth: WarmthSource = NOTHING_TYPED
    sowing_days: frozenset[int] = frozenset(range(7))
    latitude: float | None = None
    cover: str = ""
    risk_scale: Mapping[str, float] = field(default_factory=lambda: RISK_SCALE)
    away: tuple[Window, ...] = ()
    _kept: dict[object, object] = field(default_factory=dict, init=False, compare=False, repr=False)

    def memo(self, key: object, make: Callable[[], Answer]) -> Answer:
        """The answer to a question that depends on this place alone, worked out the first time it is asked."""
        found = self._kept.get(key, self)
        if found is self:  # nobody asked before
            if len(self._kept) >= MOST_KEPT:
                self._kept.clear()
            found = self._kept[key] = make()
        return found  # type: ignore[return-value]

    def __hash__(self) -> int:
        return hash((self.year, self.climate, self.warmth, self.accepted_risk, self.latitude, self.cover))

    def accepting(self, risk: float) -> PlaceYear:
        """The same place for somebody who accepts another risk."""
        return replace(self, accepted_risk=risk)

    def under(self, cover: str) -> PlaceYear:
        """The same place for what grows under that cover: warmer soil and nights, later and earlier frosts."""
        if not cover:
            return self
        return self.memo(("under", cover), lambda: replace(self, warmth=self.warmth.under(cover), cover=cover))

    def at_screen(self, plant_c: float) -> float:
        """The minimum of a weather screen at which it is `plant_c` at the plant here, cloud unknown and shelter counted."""
        return plant_c + BETWEEN_C - SHELTER_C.get(self.cover, 0.0)

    @cached_property
    def last_frost(self) -> tuple[date, Working]:
        """The 50 % date of the last night at or below 0 °C, under its cover: the base of every offset.

        Where no more than half of the seasons have frost there is no such date.  The base is then the last one there was:
        that of the same place, colder by as little as makes frost come in more than half of them; without any frost no
        later than midwinter.  So a warmer garden is never dated later than a colder one.
        """
        frost_c = -SHELTER_C.get(self.cover, 0.0)
        dates = self.climate.last(self.year, frost_c)
        found = dates.date_for(BASE_RISK)
        if found.day is not None:
            return found.day, Working("place.last_frost", found.working.inputs, (), Value("last frost", found.day))
        winter = midwinter(self.year, self.climate.southern)
        day = self._base_if_colder(frost_c)
        if day is None or (not dates.days and winter < day):
            day = winter
        return day, Working("place.last_frost_none", found.working.inputs, (), Value("last frost", day))

    def _base_if_colder(self, frost_c: float) -> date | None:
        """The 50 % date at the lowest threshold over `frost_c`, by tenths, that more than half of the seasons reach."""
        low, high = 0, 2**MOST_COLDER_STEPS
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if self._base_at(frost_c + middle / 10) is not None else (middle, high)
        return self._base_at(frost_c + high / 10)

    def _base_at(self, threshold_c: float) -> date | None:
        return self.climate.last(self.year, round(threshold_c, 1)).date_for(BASE_RISK).day

    @property
    def season_start(self) -> date:
        return cold_season_start(self.year, self.climate.southern)

    @property
    def span_start(self) -> date:
        """The day from which growth and the ends of years are counted."""
        return span_start(self.year, self.climate.southern)

    @cached_property
    def spring(self) -> EventDates:
        return self.climate.last(self.year)

    @property
    def autumn(self) -> EventDates | None:
        return self.autumn_at(0.0)

    def autumn_at(self, threshold_c: float) -> EventDates | None:
        """First frosts of the autumn that ends this growing season, of that depth."""
        return self.memo(("autumn", threshold_c), lambda: self.climate.first(self.year, threshold_c))

    @cached_property
    def ten_hour_day(self) -> date | None:
        return None if self.latitude is None else ten_hour_autumn(self.latitude, self.year)

    def risk_for(self, hardiness: str) -> float:
        """The accepted risk for plants of that hardiness."""
        return min(MOST_RISK, self.accepted_risk * self.risk_scale.get(hardiness, 1.0))

    def frost_gate(self, damage_c: float, risk: float) -> Gate:
        """The day from which the chance of ≤ damage_c at the plant still to come is at most `risk`."""

        def found() -> Gate:
            last = self.climate.last(self.year, self.at_screen(damage_c)).date_for(risk)
            inputs = (Value("damages at", damage_c, "°C"), *last.working.inputs)
            return Gate("frost", last.day, last.working._replace(rule="place.frost_gate", inputs=inputs))

        return self.memo(("frost", damage_c, risk), found)

    def warm_gate(self, kind: str, celsius: float) -> Gate:
        """The day from which soil or nights are warm enough in half of the springs, or single cold nights seldom ("chill")."""

        def found() -> Gate:
            asked = {"soil": self.warmth.soil_from, "nights": self.warmth.nights_from, "chill": self.warmth.chill_from}
            warm = asked[kind](self.year, celsius)  # type: ignore[operator]
            return Gate(kind, warm.day, warm.working, warm.verdict == "never")

        return self.memo((kind, celsius), found)

    def gates(self, needs: Needs) -> tuple[Gate, ...]:
        """Everything planting out waits for: frost, soil and nights, as far as it has such a limit."""
        found = []
        if needs.damage_c is not None:
            frost = self.frost_gate(needs.damage_c, self.risk_for(needs.hardiness))
            if needs.spared_days and frost.day is not None:
                frost = _spared(frost, frost.day, needs.spared_days)
            found.append(frost)
        found.append(self.warm_gate("soil", needs.soil_c))
        if needs.mean_night_c is not None:
            found.append(self.warm_gate("nights", needs.mean_night_c))
        if needs.chill_c is not None:
            found.append(self.warm_gate("chill", needs.chill_c))
        return tuple(found)

    def end_for(self, end_c: float) -> RiskDate | None:
        """The day until which ≤ end_c at the plant comes first in no more than the accepted share of autumns; None: unknown."""

        def found() -> RiskDate | None:
            autumn = self.autumn_at(self.at_screen(end_c))
            return None if autumn is None else autumn.date_for(self.accepted_risk)

        return self.memo(("end", end_c), found)

    def growth(self, base_c: float, std_c: float) -> Growth | None:
        """Growth in standard days over the years on record; None where no daily weather is known."""
        return self.memo(("growth", base_c, std_c), lambda: self.warmth.growth(base_c, std_c))

    def year_ends(self, end_c: float) -> NDArray[np.int32] | None:
        """Per year on record, the first autumn night at ≤ end_c at the plant; None where no daily weather is known."""
        return self.memo(("ends", end_c), lambda: self.warmth.ends(self.at_screen(end_c)))

    @cached_property
    def next_year(self) -> PlaceYear:
        """The same place in the growing season after this one."""
        return replace(self, year=self.year + 1)

    @cached_property
    def sowing_tables(self) -> tuple[list[int], list[int]]:
        """Days to the next sowing day and back to the last, by an ordinal's remainder by the tables' length."""
        return _sowing_tables(self.sowing_days, self.away)

    @cached_property
    def away_days(self) -> tuple[tuple[int, int], ...]:
        """First and last days away as ordinals."""
        return tuple((gone.start.toordinal(), gone.end.toordinal()) for gone in self.away)

    @cached_property
    def normals(self) -> Normals | None:
        return self.warmth.normals()

    @cached_property
    def equinox(self) -> date:
        """The autumn equinox of its growing season: after it light runs short."""
        return date(self.year + 1, 3, 20) if self.climate.southern else date(self.year, 9, 22)

    def sky(self, days: Iterable[date]) -> list[float]:
        """Chance of frost still to come (spring) or already come (autumn), the larger, for each day."""
        autumn = self.autumn
        return [max(self.spring.risk(d), autumn.risk(d) if autumn else 0.0) for d in days]


@lru_cache(maxsize=64)
def _sowing_tables(weekdays: frozenset[int], away: tuple[Window, ...]) -> tuple[list[int], list[int]]:
    """A week is enough where somebody is always there; with days away the tables are longer than any two seasons."""
    free = [(k - 1) % 7 in weekdays for k in range(7)]
    if not any(free):
        return [7] * 7, [7] * 7
    if away:
        free = free * AWAY_WEEKS
        for gone in away:
            for day in range(gone.start.toordinal(), gone.end.toordinal() + 1):
                free[day % len(free)] = False
    return _distances(free), _distances(free[::-1])[::-1]


def _distances(free: list[bool]) -> list[int]:
    """For each place of a circle the steps ahead to the next one that is free; its length where none is."""
    found, length = [len(free)] * len(free), len(free)
    for k in range(2 * length - 1, -1, -1):
        found[k % length] = 0 if free[k % length] else min(length, found[(k + 1) % length] + 1)
    return found


def _spared(gate: Gate, day: date, days: int) -> Gate:
    """The frost line of what lies in the ground so many days before it shows."""
    earlier = day - timedelta(days=days)
    inputs = (Value("frost line", day), Value("in the ground", days, "days", "estimate"))
    return Gate("frost", earlier, Working("place.frost_spared", inputs, (gate.working,), Value("frost line", earlier)))
