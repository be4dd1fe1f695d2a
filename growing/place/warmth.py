"""From when are soil and nights warm enough?  Typed by the gardener, or worked out from daily weather."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import pairs
from growing.place.growth import (
    Daily,
    Growth,
    Normals,
)
from growing.working import Value, Working

USUAL, SURE = 0.5, 0.9  # "1 in 2" and "9 in 10" of springs
COVER_AIR_C = pairs("place.warmth.COVER_AIR_C")


class WarmDate(NamedTuple):
    """From this day on the soil (or the nights) are usually at least so warm here; typed by the gardener."""

    celsius: float
    day: date


class WarmFrom(NamedTuple):
    """The day something is warm enough (None: nothing to wait for, or nothing known) and the arithmetic.

    kind: "soil", "nights" or "chill".  verdict: "dated", "at least", "earlier", "unknown", "always", "few springs" or
    "never": soil not by midsummer, nights not within eight weeks of it: such crops are not for open ground here.
    """

    day: date | None
    kind: str
    verdict: str
    working: Working


class WarmthSource(Protocol):
    """Whatever can say from when soil and nights are warm in the season of `year`."""

    def soil_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom: ...
    def nights_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom: ...
    def chill_from(self, year: int, chill_c: float) -> WarmFrom: ...
    def under(self, cover: str) -> WarmthSource: ...
    def growth(self, base_c: float, std_c: float) -> Growth | None: ...
    def normals(self) -> Normals | None: ...
    def daily(self) -> Daily | None: ...
    def ends(self, celsius: float) -> NDArray[np.int32] | None: ...
    def winter_lows(self) -> NDArray[np.float64]: ...
    def soil_cold_from(self, year: int, celsius: float) -> date | None: ...


@dataclass(frozen=True, slots=True)
class TypedWarmth:
    """Days of warmth as the gardener knows them, rising; the same days whatever the share asked for."""

    soil: tuple[WarmDate, ...] = ()
    nights: tuple[WarmDate, ...] = ()

    def soil_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        return _between(self.soil, "soil", celsius)

    def nights_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        return _between(self.nights, "nights", celsius)

    def chill_from(self, year: int, chill_c: float) -> WarmFrom:
        """Single cold nights are not typed."""
        return _between((), "chill", chill_c)

    def growth(self, base_c: float, std_c: float) -> None:
        """Days of warmth say nothing of how fast it grows; nor of heat, winter or autumn, below."""
        return None

    def normals(self) -> None:
        return None

    def daily(self) -> None:
        return None

    def ends(self, celsius: float) -> None:
        return None

    def winter_lows(self) -> NDArray[np.float64]:
        return np.empty(0)

    def soil_cold_from(self, year: int, celsius: float) -> None:
        return None

    def under(self, cover: str) -> TypedWarmth:
        """Typed days hold for every bed."""
        return self


def _between(points: Sequence[WarmDate], kind: str, celsius: float) -> WarmFrom:
    """Linear between typed days.  Below the lowest typed warmth nothing waits; above the highest, at least that day."""
    day, verdict = None, "unknown"
    for low, high in pairwise(points):
        if low.celsius <= celsius <= high.celsius and high.celsius > low.celsius:
            share = (celsius - low.celsius) / (high.celsius - low.celsius)
            day, verdict = low.day + timedelta(days=round(share * (high.day - low.day).days)), "dated"
    if day is None and points:
        if celsius > points[-1].celsius:
            day, verdict = points[-1].day, "at least"
        elif celsius < points[0].celsius:
            verdict = "earlier"
        else:
            day, verdict = points[0].day, "dated"
    inputs = (Value("needs", celsius, "°C"), *(Value("typed", p.day, f"{p.celsius:g} °C", "typed") for p in points))
    return WarmFrom(day, kind, verdict, Working(f"place.{kind}_gate", inputs, (), Value(verdict, day)))
