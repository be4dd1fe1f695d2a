"""The frost curve: chance of frost still to come, the accepted risk on it, the years behind it as icicles."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from aestiva.frame import say
from growing.frost import FrostDates
from growing.minima import ColdSeason

WIDTH, HEIGHT = 730, 392
LEFT, RIGHT, TOP, BASE, ICE = 60, 704, 40, 250, 262


def frost_svg(spring: FrostDates, risk: float, seasons: Sequence[ColdSeason], typed: date | None) -> str:
    """The picture as an SVG element; its numbers are also in the table beside it."""
    if not spring.days:
        return ""
    first = spring.start + timedelta(days=int(spring.days[0]) - 12)
    last = spring.start + timedelta(days=int(spring.days[-1]) + 14)
    if spring.n is None:  # a typed curve has endless tails
        first, last = (spring.start + timedelta(days=int(spring.days[i])) for i in (0, -1))
    days = [first + timedelta(days=k) for k in range((last - first).days + 1)]

    def x(day: date) -> float:
        return LEFT + (min(max(day, first), last) - first).days * (RIGHT - LEFT) / max(1, (last - first).days)

    def y(share: float) -> float:
        return BASE - (BASE - TOP) * share

    curve = "".join(f"{'L' if i else 'M'}{x(d):.1f} {y(spring.risk(d)):.1f}" for i, d in enumerate(days))
    parts = [
        '<linearGradient id="frostfall" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#9cc0d4"/>'
        '<stop offset="1" stop-color="#e3edf2"/></linearGradient>',
        f'<path d="{curve}L{RIGHT} {BASE}L{LEFT} {BASE}Z" fill="url(#frostfall)"/>',
        f'<path class="curve" d="{curve}"/>',
    ]
    for share, text in ((0.9, "9 in 10"), (0.5, "1 in 2"), (0.1, "1 in 10")):
        parts.append(
            f'<line class="dots" x1="{LEFT}" x2="{RIGHT}" y1="{y(share):.1f}" y2="{y(share):.1f}"/>'
            f'<text class="s" x="{LEFT - 6}" y="{y(share) + 4:.1f}" text-anchor="end">{text}</text>'
        )
    parts.append(_axis(days, x))
    if typed is not None and first < typed < last and seasons:
        parts.append(
            f'<line class="typed" x1="{x(typed):.1f}" x2="{x(typed):.1f}" y1="{TOP + 62}" y2="{BASE}"/>'
            f'<text class="s halo" x="{x(typed) - 6:.1f}" y="{BASE - 8}" text-anchor="end">you typed {say.short_day(typed)}:'
            f" {say.odds(spring.risk(typed))} later</text>"
        )
    found = spring.date_for(risk)
    if found.day is not None:
        lx = x(found.day)
        anchor, dx = ("start", 10) if lx < RIGHT - 210 else ("end", -10)
        parts.append(
            f'<line class="today" x1="{lx:.1f}" x2="{lx:.1f}" y1="{TOP - 18}" y2="{ICE + 96}"/>'
            f'<circle cx="{lx:.1f}" cy="{y(min(risk, spring.q)):.1f}" r="9" fill="#fffdf8" stroke="#ad3f2a" stroke-width="3"/>'
            f'<text class="n alarm" x="{lx + dx:.1f}" y="{TOP - 8}" text-anchor="{anchor}">Your line: {say.day(found.day)}</text>'
            f'<text class="s" x="{lx + dx:.1f}" y="{TOP + 9}" text-anchor="{anchor}">{say.odds(risk)} springs are later</text>'
        )
    parts.append(_icicles(spring, seasons, x))
    return (
        f'<svg viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}" class="frostcurve" role="img"'
        f' aria-label="Chance that frost is still to come, day by day; the dates are in the table">{"".join(parts)}</svg>'
    )


def _axis(days: Sequence[date], x: object) -> str:
    assert callable(x)
    step = (1, 15) if len(days) < 130 else (1,)
    marks = [d for d in days if d.day in step]
    lines = "".join(
        f'<line class="axis" x1="{x(d):.1f}" x2="{x(d):.1f}" y1="{BASE}" y2="{ICE + 100}"/>'
        f'<text class="s" x="{x(d):.1f}" y="{ICE + 118}" text-anchor="middle">{say.short_day(d)}</text>'
        for d in marks
    )
    return f'{lines}<line class="ground" x1="{LEFT}" x2="{RIGHT}" y1="{ICE}" y2="{ICE}"/>'


def _icicles(spring: FrostDates, seasons: Sequence[ColdSeason], x: object) -> str:
    """Each year's last frost, as long as it was deep; the latest year is named."""
    assert callable(x)
    frost = [(s.last, s) for s in seasons if s.last is not None]
    if not frost:
        return f'<text class="s" x="{LEFT}" y="{ICE + 96}">typed, with an assumed spread: bring in daily weather to see the years</text>'
    parts: list[str] = []
    used: dict[int, int] = {}
    for last, season in sorted(frost, key=lambda p: p[0]):
        nudge = used[last] = used.get(last, -1) + 1
        px = x(spring.start + timedelta(days=last)) + nudge * 3.2
        depth = abs((season.last_c or 0.0) - spring.threshold_c)
        length = 10 + min(70.0, depth * 17)
        parts.append(
            f'<path class="icicle" d="M{px - 2.6:.1f} {ICE}L{px:.1f} {ICE + length:.1f}L{px + 2.6:.1f} {ICE}Z"/>'
        )
    latest = max(frost, key=lambda p: p[0])[1]
    assert latest.last is not None
    day = spring.start + timedelta(days=latest.last)
    parts.append(
        f'<text class="s" x="{x(day) - 2:.1f}" y="{ICE + 84}" text-anchor="end">latest: {latest.year}, {say.short_day(day)}</text>'
        f'<text class="s halo" x="{LEFT + 4}" y="{ICE + 98}">each icicle: one year’s last frost, as long as it was deep</text>'
    )
    return "".join(parts)
