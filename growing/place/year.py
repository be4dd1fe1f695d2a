"""What does the place say about this growing season?  Last frost, gates with dates, the sky of risk."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cached_property
from typing import NamedTuple, TypeVar

from growing.calendar import cold_season_start
from growing.place.daylight import ten_hour_autumn
from growing.place.frost import EventDates, FrostClimate, RiskDate
from growing.place.warmth import COLD_NIGHTS, USUAL, TypedWarmth, Warmth
from growing.working import Value, Working

Answer = TypeVar("Answer")
BASE_RISK = 0.5  # last frost, in every offset, is the date of even odds
HARDY_RISK = 0.25  # hardy and half-hardy plants recover from a nip: one spring in four is accepted for them


NOTHING_TYPED = TypedWarmth()


class Gate(NamedTuple):
    """Something planting out waits for: kind "frost", "soil" or "nights"; day None where nothing is known or needed."""

    kind: str
    day: date | None
    working: Working


@dataclass(frozen=True)
class PlaceYear:
    """One growing season at one place.

    year: the year of its spring.  climate: frost dates, typed or computed.  accepted_risk: share of springs in which
    frost may still come after planting out tender plants (hardy ones: at least one in four).  warmth: days from
    which soil and nights are warm, typed or computed.  sowing_days: weekdays with time to sow, 0 = Monday.
    """

    year: int
    climate: FrostClimate
    accepted_risk: float = 0.1
    warmth: Warmth = NOTHING_TYPED
    sowing_days: frozenset[int] = frozenset(range(7))
    latitude: float | None = None
    _frost_gates: dict[tuple[float, float], Gate] = field(default_factory=dict, compare=False, repr=False)
    _warm_gates: dict[tuple[str, float], Gate] = field(default_factory=dict, compare=False, repr=False)
    _autumns: dict[float, EventDates | None] = field(default_factory=dict, compare=False, repr=False)
    _ends: dict[float, RiskDate | None] = field(default_factory=dict, compare=False, repr=False)
    _kept: dict[object, object] = field(default_factory=dict, compare=False, repr=False)

    def memo(self, key: object, make: Callable[[], Answer]) -> Answer:
        """The answer to a question that depends on this place alone, worked out the first time it is asked."""
        if key not in self._kept:
            self._kept[key] = make()
        return self._kept[key]  # type: ignore[return-value]

    def accepting(self, risk: float) -> PlaceYear:
        """The same place for somebody who accepts another risk."""
        return PlaceYear(self.year, self.climate, risk, self.warmth, self.sowing_days, self.latitude)

    def under(self, cover: str) -> PlaceYear:
        """The same place for what grows under that cover: warmer soil, the same frost and nights."""

        def covered() -> PlaceYear:
            warmth = self.warmth.under(cover)
            if warmth is self.warmth:
                return self
            return PlaceYear(self.year, self.climate, self.accepted_risk, warmth, self.sowing_days, self.latitude)

        return self.memo(("under", cover), covered)

    @cached_property
    def last_frost(self) -> tuple[date, Working]:
        """The 50 % date of the last night at or below 0 °C: the base of every offset."""
        found = self.climate.last(self.year).date_for(BASE_RISK)
        if found.day is None:  # hardly any frost here: offsets count from the start of the warm half of the year
            day = cold_season_start(self.year, self.climate.southern) + timedelta(days=260)
            return day, Working("place.last_frost_none", found.working.inputs, (), Value("last frost", day))
        return found.day, Working("place.last_frost", found.working.inputs, (), Value("last frost", found.day))

    @property
    def season_start(self) -> date:
        return cold_season_start(self.year, self.climate.southern)

    @cached_property
    def spring(self) -> EventDates:
        return self.climate.last(self.year)

    @property
    def autumn(self) -> EventDates | None:
        return self.autumn_at(0.0)

    def autumn_at(self, threshold_c: float) -> EventDates | None:
        """First frosts of the autumn that ends this growing season, of that depth."""
        if threshold_c not in self._autumns:
            self._autumns[threshold_c] = self.climate.first(self.year, threshold_c)
        return self._autumns[threshold_c]

    @cached_property
    def ten_hour_day(self) -> date | None:
        return None if self.latitude is None else ten_hour_autumn(self.latitude, self.year)

    def risk_for(self, hardiness: str) -> float:
        """The accepted risk for plants of that hardiness."""
        return max(self.accepted_risk, HARDY_RISK) if hardiness in ("hardy", "half-hardy") else self.accepted_risk

    def frost_gate(self, damage_c: float, risk: float) -> Gate:
        """The day from which the chance of ≤ damage_c still to come is at most `risk`."""
        key = (damage_c, risk)
        if key not in self._frost_gates:
            found = self.climate.last(self.year, damage_c).date_for(risk)
            self._frost_gates[key] = Gate("frost", found.day, found.working._replace(rule="place.frost_gate"))
        return self._frost_gates[key]

    def warm_gate(self, kind: str, celsius: float) -> Gate:
        """The day from which soil or nights reach `celsius`: soil in an even chance of springs, nights four in five."""
        key = (kind, celsius)
        if key not in self._warm_gates:
            warm = self.warmth
            found = (
                warm.soil_from(self.year, celsius, USUAL)
                if kind == "soil"
                else warm.nights_from(self.year, celsius, COLD_NIGHTS)
            )
            self._warm_gates[key] = Gate(kind, found.day, found.working)
        return self._warm_gates[key]

    def gates(self, damage_c: float, soil_c: float, night_c: float, hardiness: str) -> tuple[Gate, Gate, Gate]:
        """Everything planting out waits for: frost, soil and nights."""
        frost = self.frost_gate(damage_c, self.risk_for(hardiness))
        return frost, self.warm_gate("soil", soil_c), self.warm_gate("nights", night_c)

    def killing_date(self, damage_c: float) -> RiskDate | None:
        """The day until which a frost of that depth comes first in no more than the accepted share of autumns."""
        if damage_c not in self._ends:
            autumn = self.autumn_at(damage_c)
            self._ends[damage_c] = None if autumn is None else autumn.date_for(self.accepted_risk)
        return self._ends[damage_c]

    def sky(self, days: Iterable[date]) -> list[float]:
        """Chance of frost still to come (spring) or already come (autumn), the larger, for each day."""
        autumn = self.autumn
        return [max(self.spring.risk(d), autumn.risk(d) if autumn else 0.0) for d in days]
