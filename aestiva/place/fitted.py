"""What a station's record says of a garden, worked out once and kept: frost dates, warmth and how sure they are.

Kept in Django's cache by what it follows from: the station and the fingerprint of its series, the garden's shift and basis,
its probe where soil is asked, and the code.  A day of weather makes the answers of its station old and no other's; the
record itself is read only where an answer is missing.  Answers found during a request are kept when it ends.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from hashlib import sha256
from typing import Any, TypeVar

import numpy as np
from django.core.cache import cache
from django.core.signals import request_finished, request_started
from numpy.typing import NDArray

from aestiva.frame.version import code_version
from aestiva.place.models import Station
from growing.place.computedwarmth import ComputedWarmth
from growing.place.frost import EventDates
from growing.place.growth import Daily, Growth, Normals
from growing.place.minima import MINIMUM_SEASONS, ComputedFrost, DailySeries, TooFewSeasons
from growing.place.soil import ProbeReading
from growing.place.warmth import USUAL, WarmFrom

T = TypeVar("T")
KEPT_S = 60 * 24 * 3600


class Answers:
    """Answers of one kind, by question; grown while a request asks."""

    def __init__(self, key: str) -> None:
        self.key, self.grown = key, False
        self._found: dict[Hashable, Any] | None = None

    def of(self, question: Hashable, work_out: Callable[[], T]) -> T:
        """The answer, worked out where it is not kept."""
        if self._found is None:
            self._found = dict(cache.get(self.key) or {})
        if question not in self._found:
            self._found[question] = work_out()
            self._grow()
        found: T = self._found[question]
        return found

    def _grow(self) -> None:
        """Have what was found be kept when the request ends."""
        grown = getattr(_local, "grown", None)
        if grown is not None and not self.grown:
            self.grown = True
            grown.append(self)

    def keep(self) -> None:
        """Keep what was found; what another request found meanwhile is worked out again when it is asked for."""
        self.grown = False
        cache.set(self.key, self._found, KEPT_S)


_local = threading.local()  # grown: what the request that this thread serves has found; None where it serves none


def begin_answers(**signal: object) -> None:
    """A request begins: what it finds is kept when it ends, whoever asked for it and whether or not he still holds it."""
    _local.grown = []


def keep_answers(**signal: object) -> None:
    """Keep every answer that this request found."""
    grown, _local.grown = getattr(_local, "grown", None) or [], None
    for answers in grown:  # what cannot be kept now is worked out anew, and troubles no later request
        answers.keep()


request_started.connect(begin_answers, dispatch_uid="fitted climates begin")
request_finished.connect(keep_answers, dispatch_uid="fitted climates")


def key_of(kind: str, station: Station, *follows_from: object) -> str:
    """The name under which answers are kept."""
    rest = sha256(repr(follows_from).encode()).hexdigest()[:16]
    return f"{kind}-{code_version()}-{station.pk}-{station.series_revision}-{rest}"


class ReadWhenAsked(DailySeries):
    """A series that is read when somebody looks at it."""

    def __init__(self, read: Callable[[], DailySeries]) -> None:
        object.__setattr__(self, "_read", read)

    @cached_property
    def _series(self) -> DailySeries:
        read: Callable[[], DailySeries] = self.__dict__["_read"]
        return read()

    @property
    def start(self) -> Any:
        return self._series.start

    @property
    def values(self) -> NDArray[np.float64]:
        return self._series.values


@dataclass(frozen=True, eq=False)
class FittedFrost(ComputedFrost):
    """A computed frost climate that keeps its answers."""

    answers: Answers = field(default_factory=lambda: Answers(""))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, FittedFrost) and self.answers.key == other.answers.key

    def __hash__(self) -> int:
        return hash(self.answers.key)

    def kept(self, question: Hashable, work_out: Callable[[], T]) -> T:
        return self.answers.of(question, work_out)

    @property
    def enough(self) -> bool:
        """Are there seasons enough to count from?"""

        def look() -> bool:
            try:
                return bool(self.used())
            except TooFewSeasons:
                return False

        return self.kept("enough", look)

    def _dates(self, event: str, year: int, threshold_c: float) -> EventDates:
        made = super()._dates
        return self.kept((event, year, threshold_c), lambda: made(event, year, threshold_c))


@dataclass(frozen=True, eq=False)
class FittedWarmth(ComputedWarmth):
    """Soil and nights of a record that keep their answers."""

    answers: Answers = field(default_factory=lambda: Answers(""))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, FittedWarmth) and (self.answers.key, self.cover) == (other.answers.key, other.cover)

    def __hash__(self) -> int:
        return hash(self.answers.key)

    def soil_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        made = super().soil_from
        return self.answers.of(("soil", self.cover, year, celsius, share), lambda: made(year, celsius, share))

    def nights_from(self, year: int, celsius: float, share: float = USUAL) -> WarmFrom:
        made = super().nights_from
        return self.answers.of(("nights", self.cover, year, celsius, share), lambda: made(year, celsius, share))

    def chill_from(self, year: int, chill_c: float) -> WarmFrom:
        made = super().chill_from
        return self.answers.of(("chill", self.cover, year, chill_c), lambda: made(year, chill_c))

    def growth(self, base_c: float, std_c: float) -> Growth | None:
        """Kept as small whole numbers: every page asks for it."""

        def work_out() -> NDArray[np.int16] | None:
            found = made(base_c, std_c)
            return None if found is None else found.units.astype(np.int16)

        made = super().growth
        units = self.answers.of(("growth", self.cover, base_c, std_c), work_out)
        return None if units is None else Growth(units.astype(np.int32))

    def normals(self) -> Normals | None:
        return self.answers.of(("normals", self.cover), super().normals)

    def daily(self) -> Daily | None:
        """Kept as tenths of a degree."""

        def work_out() -> NDArray[np.int16] | None:
            found = made()
            return None if found is None else np.round(np.stack(found) * 10).astype(np.int16)

        made = super().daily
        tenths = self.answers.of(("daily", self.cover), work_out)
        return None if tenths is None else Daily(*(tenths / 10))

    def ends(self, celsius: float) -> NDArray[np.int32] | None:
        made = super().ends
        return self.answers.of(("ends", self.cover, celsius), lambda: made(celsius))

    def winter_lows(self) -> NDArray[np.float64]:
        return self.answers.of(("winter", self.cover), super().winter_lows)

    def soil_cold_from(self, year: int, celsius: float) -> date | None:
        made = super().soil_cold_from
        return self.answers.of(("cold soil", self.cover, year, celsius), lambda: made(year, celsius))


def fitted_frost(
    station: Station,
    minima: DailySeries,
    southern: bool,
    shift_c: float,
    basis: str = "all",
    least: int = MINIMUM_SEASONS,
) -> FittedFrost:
    """The frost climate of a station's record, moved to the garden; `least` loosens the number of seasons it needs."""
    answers = Answers(key_of("frost", station, southern, shift_c, basis, least))
    return FittedFrost(southern, minima, shift_c, basis=basis, least=least, answers=answers)


def fitted_warmth(
    station: Station,
    minima: DailySeries,
    maxima: DailySeries,
    southern: bool,
    shift_c: float,
    cover: str,
    readings: tuple[ProbeReading, ...],
) -> FittedWarmth:
    """Soil and nights of a station's record, moved to the garden; readings: of its own probe."""
    answers = Answers(key_of("warmth", station, southern, shift_c, cover, readings))
    return FittedWarmth(southern, minima, maxima, shift_c, cover, readings, answers=answers)
