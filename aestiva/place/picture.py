"""The frost curve: chance of frost, the accepted risk on it as a handle, the years behind it as icicles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from html import escape
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.frame import say
from aestiva.frame.say import METRIC, Reader
from growing.place.frost import EventDates
from growing.place.minima import ColdSeason

LEAST_RISK, MOST_RISK = 0.01, 0.5


class Size(NamedTuple):
    """Geometry of one rendering: `every` is the day of the month between month lines that is named too, 0 for none."""

    name: str
    width: int
    left: int
    top: int
    base: int
    every: int

    @property
    def right(self) -> int:
        return self.width - 22

    @property
    def ice(self) -> int:
        """The ground from which icicles hang."""
        return self.base + 12

    @property
    def height(self) -> int:
        return self.base + 142


WIDE = Size("wide", 730, 62, 44, 250, 15)
PHONE = Size("phone", 366, 52, 62, 240, 0)


@dataclass(frozen=True)
class FrostCurve:
    """What is drawn: one event's distribution, the accepted risk, the years, and what may stand beside them.

    typed: the day the gardener typed.  band: low and high risk for each day from `first` to `last`.  other: a second
    curve with its name.
    """

    dates: EventDates
    risk: float
    seasons: Sequence[ColdSeason]
    first: date
    last: date
    typed: date | None = None
    band: NDArray[np.float64] | None = None
    other: EventDates | None = None
    other_name: str = ""
    units: Reader = METRIC

    @property
    def days(self) -> list[date]:
        return [self.first + timedelta(days=k) for k in range((self.last - self.first).days + 1)]

    @property
    def spring(self) -> bool:
        return self.dates.event == "last"


def span_of(dates: EventDates, other: EventDates | None = None, typed: date | None = None) -> tuple[date, date]:
    """The days the picture shows: the record with a fortnight to either side (a typed curve has endless tails)."""
    shown = [d for d in (dates, other) if d is not None and d.days]
    if not shown:
        return dates.start, dates.start
    reach = 13 if dates.n is not None else 0
    first = min(d.start + timedelta(days=int(d.days[0]) - reach) for d in shown)
    last = max(d.start + timedelta(days=int(d.days[-1]) + reach) for d in shown)
    if typed is not None and first - timedelta(days=30) < typed < last + timedelta(days=30):
        first, last = min(first, typed - timedelta(days=4)), max(last, typed + timedelta(days=4))
    return first, last


class _Draw:
    """One rendering of a curve."""

    def __init__(self, curve: FrostCurve, size: Size) -> None:
        self.curve, self.size, self.days = curve, size, curve.days

    def x(self, day: date) -> float:
        s = self.size
        inside = min(max(day, self.days[0]), self.days[-1])
        return s.left + (inside - self.days[0]).days * (s.right - s.left) / max(1, len(self.days) - 1)

    def y(self, share: float) -> float:
        return self.size.base - (self.size.base - self.size.top) * share

    def path(self, shares: Sequence[float]) -> str:
        """A line over all days."""
        return "".join(
            f"{'L' if i else 'M'}{self.x(d):.1f} {self.y(v):.1f}"
            for i, (d, v) in enumerate(zip(self.days, shares, strict=True))
        )

    def svg(self) -> str:
        c, s = self.curve, self.size
        shares = [c.dates.risk(d) for d in self.days]
        what = "still to come" if c.spring else "already come"
        ys = " ".join(f"{self.y(v):.1f}" for v in shares)
        body = "".join(
            (self._fall(shares), self._band(), self._levels(), self._axis(), self._icicles(), self._other(), self._typed(), self._line())
        )  # fmt: skip
        return (
            f'<svg viewBox="0 0 {s.width} {s.height}" width="{s.width}" height="{s.height}" class="frostcurve {s.name}"'
            f' role="group" aria-label="Chance that frost has {what}, day by day; the same is in the table"'
            f' data-first="{self.days[0].isoformat()}" data-days="{len(self.days)}" data-left="{s.left}"'
            f' data-right="{s.right}" data-ys="{ys}">{body}</svg>'
        )

    def _fall(self, shares: list[float]) -> str:
        s, curve, name = self.size, self.path(shares), f"fall-{self.size.name}"
        return (
            f'<linearGradient id="{name}" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#9cc0d4"/>'
            f'<stop offset="1" stop-color="#e3edf2"/></linearGradient>'
            f'<path d="{curve}L{s.right} {s.base}L{s.left} {s.base}Z" fill="url(#{name})"/>'
            f'<path class="curve" d="{curve}"/>'
        )

    def _band(self) -> str:
        band = self.curve.band
        if band is None:
            return ""
        back = "".join(
            f"L{self.x(d):.1f} {self.y(v):.1f}"
            for d, v in reversed(list(zip(self.days, band[0].tolist(), strict=True)))
        )
        return f'<path class="sureband" d="{self.path(band[1].tolist())}{back}Z"/>'

    def _levels(self) -> str:
        s, parts = self.size, []
        for share, text in ((0.9, "9 in 10"), (0.5, "1 in 2"), (0.1, "1 in 10")):
            y = self.y(share)
            parts.append(
                f'<line class="dots" x1="{s.left}" x2="{s.right}" y1="{y:.1f}" y2="{y:.1f}"/>'
                f'<text class="s" x="{s.left - 6}" y="{y + 4:.1f}" text-anchor="end">{text}</text>'
            )
        return "".join(parts)

    def _axis(self) -> str:
        s = self.size
        named = {1, s.every} if len(self.days) < 130 else {1}
        months = [d for d in self.days if d.day in named]
        lines = "".join(
            f'<line class="axis" x1="{self.x(d):.1f}" x2="{self.x(d):.1f}" y1="{s.base}" y2="{s.ice + 104}"/>'
            f'<text class="s" x="{min(self.x(d), s.right - 10):.1f}" y="{s.ice + 122}" text-anchor="middle">{say.short_day(d)}</text>'
            for d in months
        )
        return f'{lines}<line class="ground" x1="{s.left}" x2="{s.right}" y1="{s.ice}" y2="{s.ice}"/>'

    def _icicles(self) -> str:
        """Each year's frost, as long as it was deep; the one nearest to summer is named."""
        s, c = self.size, self.curve
        frost = sorted(
            (day, depth, y.year) for y in c.seasons for day, depth in [_event(y, c.spring)] if day is not None
        )
        if not frost:
            return f'<text class="s" x="{s.left}" y="{s.ice + 92}">typed, with an assumed spread</text>'
        parts: list[str] = []
        used: dict[int, int] = {}
        for day, depth, year in frost:
            nudge = used[day] = used.get(day, -1) + 1
            px, tip = self.x(self._when(day)) + nudge * 3.2, s.ice + self._length(depth)
            parts.append(
                f'<path class="icicle" d="M{px - 2.6:.1f} {s.ice}L{px:.1f} {tip:.1f}L{px + 2.6:.1f} {s.ice}Z">'
                f"<title>{self._said(day, depth, year)}</title></path>"
            )
        day, depth, year = frost[-1 if c.spring else 0]
        x, text = self.x(self._when(day)), self._said(day, depth, year)
        end = x + 124 > s.width  # no room to its right
        if s.name == "wide":  # on a phone there is no room for it beside the line
            parts.append(
                f'<text class="s halo" x="{x + (-4 if end else 4):.1f}" y="{s.ice + self._length(depth) + 14:.1f}"'
                f' text-anchor="{"end" if end else "start"}">{text}</text>'
            )
        parts.append(
            f'<text class="s halo" x="{s.left}" y="{s.ice + 100}">each icicle: one year’s {"last" if c.spring else "first"}'
            f" frost, as long as it was deep</text>"
        )
        return "".join(parts)

    def _when(self, day: int) -> date:
        return self.curve.dates.start + timedelta(days=day)

    def _length(self, depth_c: float) -> float:
        """An icicle of a frost that deep; very deep ones are all as long."""
        return 10 + min(64.0, abs(depth_c - self.curve.dates.threshold_c) * 17)

    def _said(self, day: int, depth_c: float, year: int) -> str:
        return f"{year}: {say.short_day(self._when(day))}, {say.degrees(depth_c, self.curve.units)}"

    def _other(self) -> str:
        if self.curve.other is None:
            return ""
        other = self.curve.other
        half = other.date_for(0.5).day
        at = half if half is not None and self.days[0] < half < self.days[-1] else self.days[len(self.days) // 2]
        return (
            f'<path class="othercurve" d="{self.path([other.risk(d) for d in self.days])}"/>'
            f'<text class="s halo" x="{self.x(at) + 6:.1f}" y="{self.y(other.risk(at)) - 8:.1f}">{escape(self.curve.other_name)}</text>'
        )

    def _typed(self) -> str:
        day, s = self.curve.typed, self.size
        if day is None or not self.days[0] < day < self.days[-1]:
            return ""
        x, risk = self.x(day), self.curve.dates.risk(day)
        text = f"you typed {say.short_day(day)}"
        if s.name == "wide":
            text += f": {say.odds(risk)} {'later' if self.curve.spring else 'earlier'}"
        top = s.base - 92
        low = s.base - 30 if self.curve.spring else top + 4  # the corner that the curve leaves free
        return (
            f'<line class="typed" x1="{x:.1f}" x2="{x:.1f}" y1="{top}" y2="{s.base}"/>'
            f'<text class="s halo" x="{x - 6:.1f}" y="{low}" text-anchor="end">{text}</text>'
        )

    def _line(self) -> str:
        """The accepted risk: a line to the ground with a handle on the curve."""
        c, s = self.curve, self.size
        found = c.dates.date_for(c.risk)
        if found.day is None:
            return ""
        x, top, foot = self.x(found.day), s.top - 20, s.ice + 96
        anchor, dx = ("start", 10) if x < s.left + (s.right - s.left) * 0.6 else ("end", -10)
        day, odds = (
            say.day(found.day),
            f"{say.odds(c.risk)} {'springs are later' if c.spring else 'autumns are earlier'}",
        )
        hint = " · drag, arrows or type" if s.name == "wide" else ""
        return (
            f'<g class="line" role="slider" tabindex="0" aria-label="Your frost line" aria-valuemin="0"'
            f' aria-valuemax="{len(self.days) - 1}" aria-valuenow="{(found.day - self.days[0]).days}"'
            f' aria-valuetext="{day}: {odds}" transform="translate({x:.1f} 0)">'
            f'<line class="today" x1="0" x2="0" y1="{top}" y2="{foot}"/>'
            f'<rect x="-22" y="{top}" width="44" height="{foot - top}" fill="transparent"/>'
            f'<circle cx="0" cy="{self.y(c.dates.risk(found.day)):.1f}" r="11" class="grip"/></g>'
            f'<g class="linetext"><text class="n alarm" x="{x + dx:.1f}" y="{s.top - 12}" text-anchor="{anchor}">Your line: {day}</text>'
            f'<text class="s" x="{x + dx:.1f}" y="{s.top + 5}" text-anchor="{anchor}">{odds}{hint}</text></g>'
        )


def _event(season: ColdSeason, spring: bool) -> tuple[int | None, float]:
    day, depth = (season.last, season.last_c) if spring else (season.first, season.first_c)
    return day, 0.0 if depth is None else depth


def frost_svg(curve: FrostCurve, size: Size = WIDE) -> str:
    """The picture as an SVG element; its numbers are also in the table beside it."""
    return _Draw(curve, size).svg() if curve.dates.days else ""
