"""The season as one picture: the page is ground.

Sky: chance of frost.  Each row's line is the soil surface: the sowing window is a furrow under it, the seed lies in
it, what is not up is dotted; above it the height is the room taken on the bench; daylight grows in steps through
hardening; an arrow sets it out; then the garden, and dots of harvest or bloom.  Plain strings from geometry.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from html import escape
from math import sqrt
from typing import NamedTuple

from aestiva.frame import say
from growing.calendar import Window
from growing.place.year import PlaceYear

TOP = 96
SKY_TOP, SKY_BOTTOM = 20, 66
TRAY_PX, MOST_PX = 9.0, 27.0

STYLE = """
text{font-family:"Atkinson Next",system-ui,sans-serif;fill:#22302a}
.n{font-size:13.5px;font-weight:600}.s{font-size:12px;fill:#56615a}.t{font-size:12px;font-weight:600}
.alarm{fill:#9d3524}.frost{fill:#173f59}.band{fill:#f4eee0}.axis{stroke:#ddd4c2}.soil{stroke:#6a4c36;opacity:.6}
.furrow{fill:#e2cfb4;stroke:#6a4c36;stroke-width:.8}.under{stroke:#6a4c36;stroke-width:2.2;stroke-dasharray:1.5 3}
.seed{fill:#fffdf8;stroke:#22302a;stroke-width:1.6}.sown{fill:#22302a}.up{fill:#8fb377}.potted{fill:#5f9150}
.light{fill:#f2c455}.pot{fill:#fffdf8;stroke:#22302a;stroke-width:1.2}.out{stroke:#22302a;stroke-width:1.6}
.head{fill:#22302a}.garden{fill:#cfe0c0;stroke:#47783a;stroke-width:.9}
.yield{stroke:#9c3f72;stroke-width:5;stroke-linecap:round;stroke-dasharray:.1 11}
.line{stroke:#3f7ea6;stroke-width:1.6}.dash{stroke:#3f7ea6;stroke-dasharray:2 3}.today{stroke:#ad3f2a;stroke-width:1.6}
.load{fill:#8fb377;opacity:.75}.rowlink:focus .band,.rowlink:hover .band{fill:#efe4cb}
"""


class Row(NamedTuple):
    """One line of the picture; days that do not apply are None.  indoors and potted: room in trays."""

    name: str
    note: str
    window: Window
    sow: date
    up: date | None
    pot: date | None
    harden: date | None
    out: date
    first: date
    last: date
    sown: bool
    indoors: float
    potted: float
    flag: str = ""
    href: str = ""
    move: str = ""
    label: str = ""


class Frame(NamedTuple):
    """The measures of the picture [px]: its width, what is kept for names on the left, the margin on the right, the height of
    a row, and where its ground lies in it.  names_above: names stand over their row, not beside it."""

    width: int
    labels: int
    right: int
    row: int
    ground: int
    names_above: bool = False


WIDE = Frame(1090, 196, 12, 46, 31)
PHONE = Frame(366, 4, 4, 64, 48, names_above=True)


class Scale(NamedTuple):
    start: date
    end: date
    frame: Frame = WIDE

    @property
    def drawn(self) -> int:
        """Pixels from the first day to the last."""
        return self.frame.width - self.frame.labels - self.frame.right

    @property
    def right(self) -> int:
        return self.frame.width - self.frame.right

    def x(self, day: date) -> float:
        """Pixels from the left for a day; days outside are kept at the edge."""
        start, end, frame = self
        if day <= start:
            return float(frame.labels)
        whole = end.toordinal() - start.toordinal()
        return frame.labels + min(day.toordinal() - start.toordinal(), whole) * self.drawn / max(1, whole)


def scale_for(rows: Sequence[Row], place: PlaceYear, today: date, frame: Frame = WIDE) -> Scale:
    """From the month of the first sowing window to the month of the last harvest, at most fourteen months."""
    base = place.last_frost[0]
    starts = [r.window.start for r in rows] + [r.sow for r in rows] + [base - timedelta(days=75), today]
    ends = [r.last for r in rows] + [base + timedelta(days=150)]
    start = max(min(starts), place.season_start).replace(day=1)
    end = min(max(ends), start + timedelta(days=425))
    return Scale(start, (end.replace(day=1) + timedelta(days=32)).replace(day=1) - timedelta(days=1), frame)


def season_svg(
    rows: Sequence[Row],
    place: PlaceYear,
    today: date,
    load: Sequence[tuple[date, float]],
    export: bool = False,
    frame: Frame = WIDE,
) -> str:
    """The whole picture as an SVG element; `export` embeds the style so that the file stands alone."""
    scale, row_px = scale_for(rows, place, today, frame), frame.row
    height = TOP + len(rows) * row_px + (86 if load else 14)
    parts = [_months(scale, height), _sky(scale, place)]
    for i, row in enumerate(rows):
        parts.append(_row(row, scale, TOP + i * row_px + frame.ground, i % 2 == 0, export))
    bottom = TOP + len(rows) * row_px + 6
    parts.append(_line(scale, place, bottom))
    if load:
        parts.append(_load(scale, load, height - 12))
    parts.append(_today(scale, today, height - 12))
    style = f"<style>{STYLE}</style>" if export else ""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {frame.width} {height}" width="{frame.width}" height="{height}"'
        f' class="season{" narrow" if frame.names_above else ""}" role="group"'
        f' aria-label="The season in one picture; the same is in the list">{style}'
        f"{''.join(parts)}</svg>"
    )


def _months(scale: Scale, height: int) -> str:
    parts, day = [], scale.start
    while day <= scale.end:
        x = scale.x(day)
        parts.append(f'<line class="axis" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_BOTTOM}" y2="{height - 12}"/>')
        name = f"{day:%B}" if scale.drawn > 3 * (scale.end - scale.start).days else f"{day:%b}"
        name = name[:1] if scale.frame.names_above else name
        parts.append(f'<text class="s" x="{x + 3:.1f}" y="13">{name}</text>')
        day = (day + timedelta(days=32)).replace(day=1)
    return "".join(parts)


def _sky(scale: Scale, place: PlaceYear) -> str:
    """A gradient of the chance of frost, with the three dates that matter."""
    days = [scale.start + timedelta(days=k) for k in range(0, (scale.end - scale.start).days + 1, 4)]
    width, labels = scale.drawn, scale.frame.labels
    stops, previous = [], ""
    sky = "frostsky-narrow" if scale.frame.names_above else "frostsky"
    risks = place.sky(days)
    colours = [_blend((250, 252, 252), (128, 175, 205), r) for r in risks]
    for i, (day, colour) in enumerate(zip(days, colours, strict=True)):
        following = colours[i + 1] if i + 1 < len(colours) else ""
        if colour != previous or colour != following:  # flat stretches need only their ends
            stops.append(f'<stop offset="{(scale.x(day) - labels) / width:.3f}" stop-color="{colour}"/>')
        previous = colour
    parts = [
        f'<linearGradient id="{sky}">{"".join(stops)}</linearGradient>'
        f'<rect x="{labels}" y="{SKY_TOP}" width="{width}" height="{SKY_BOTTOM - SKY_TOP}" fill="url(#{sky})"/>'
    ]
    if scale.frame.names_above:
        return "".join(parts)
    parts.append(
        '<text class="n" x="4" y="38">Frost still to come</text><text class="s" x="4" y="55">the bluer, the likelier</text>'
    )
    marks = [(0.9, "9 in 10"), (0.5, "1 in 2")]
    taken = 0.0
    for risk, text in marks:
        found = place.spring.date_for(risk)
        if found.day is not None and scale.start <= found.day <= scale.end:
            x = scale.x(found.day)
            if x - taken < 62:
                continue
            taken = x
            parts.append(f'<line class="dash" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_TOP}" y2="{SKY_BOTTOM}"/>')
            parts.append(_two(x - 4, "end", text, say.short_day(found.day)))
    if place.autumn is not None:
        first = place.autumn.date_for(0.5).day
        if first is not None and scale.start <= first <= scale.end:
            x = scale.x(first)
            parts.append(f'<line class="dash" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_TOP}" y2="{SKY_BOTTOM}"/>')
            parts.append(_two(x - 4, "end", "first frost, 1 in 2", say.short_day(first)))
    return "".join(parts)


def _two(x: float, anchor: str, top: str, below: str) -> str:
    return (
        f'<text class="t frost" x="{x:.1f}" y="37" text-anchor="{anchor}">{escape(top)}</text>'
        f'<text class="s frost" x="{x:.1f}" y="53" text-anchor="{anchor}">{escape(below)}</text>'
    )


def _blend(pale: tuple[int, int, int], deep: tuple[int, int, int], share: float) -> str:
    return "#" + "".join(f"{round(a + (b - a) * share):02x}" for a, b in zip(pale, deep, strict=True))


def _line(scale: Scale, place: PlaceYear, bottom: int) -> str:
    """The accepted risk as a line through all rows."""
    found = place.spring.date_for(place.accepted_risk)
    if found.day is None or not scale.start <= found.day <= scale.end:
        return ""
    x = scale.x(found.day)
    return (
        f'<line class="line" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_TOP}" y2="{bottom}"/>'
        f'<circle cx="{x:.1f}" cy="{SKY_BOTTOM}" r="6" fill="#fffdf8" stroke="#3f7ea6" stroke-width="2.4"/>'
        + _two(*_side(x, scale), f"{say.odds(place.accepted_risk)} · your line", say.short_day(found.day))
    )


def _side(x: float, scale: Scale) -> tuple[float, str]:
    """Where a label of the line stands, and how it runs: on the side that has room."""
    return (x - 7, "end") if x > scale.right - 130 else (x + 7, "start")


def _room(trays: float) -> float:
    return min(MOST_PX, max(4.0, TRAY_PX * sqrt(trays)))


def _row(r: Row, scale: Scale, y: int, banded: bool, export: bool) -> str:
    x, frame = scale.x, scale.frame
    clear = "" if banded else ' fill-opacity="0"'
    band = f'<rect class="band" x="0" y="{y - frame.ground}" width="{frame.width}" height="{frame.row}"{clear}/>'
    under = f'<text class="s" x="4" y="{y + 8}">{escape(_cut(r.note, 34))} </text>'
    if frame.names_above:
        under = f'<text class="s" x="{scale.right}" y="{y - 33}" text-anchor="end">{escape(_cut(r.note, 24))} </text>'
    parts = [
        band,
        f'<text class="n" x="4" y="{y - (33 if frame.names_above else 8)}">{escape(_cut(r.name, 28))} </text>',
        under,
        f'<line class="soil" x1="{frame.labels}" x2="{scale.right}" y1="{y}" y2="{y}"/>',
    ]
    if r.up is not None:
        parts.append(_below(r, scale, y))
        parts.append(_above(r, scale, y))
    out, first, last = x(r.out), x(r.first), x(r.last)
    parts.append(
        f'<path class="garden" d="M{out:.1f} {y}V{y - 9}C{out + 12:.1f} {y - 10},{first - 10:.1f} {y - 13},{first:.1f} {y - 13}'
        f'H{last:.1f}V{y}Z"/>'
        f'<line class="out" x1="{out:.1f}" x2="{out:.1f}" y1="{y - 25}" y2="{y + 5}"/>'
        f'<path class="head" d="M{out - 4:.1f} {y + 5}h8l-4 6z"/>'
    )
    if last - first > 8:  # dots of harvest or bloom: one dashed line with round ends
        parts.append(f'<path class="yield" d="M{first + 4:.1f} {y - 6.5}H{last - 3:.1f}"/>')
    if r.flag:
        beside = (x(r.sow) - 8, "end") if x(r.sow) > 110 else (x(r.sow) + 8, "start")
        parts.append(
            f'<text class="t alarm" x="{beside[0]:.1f}" y="{y - 6}" text-anchor="{beside[1]}">{escape(r.flag)}</text>'
        )
    body = "".join(parts)
    if export or not r.href:
        return f"<g>{body}</g>"
    label = f"{_cut(r.name, 28)} {_cut(r.note, 34)} {r.flag}{r.label}"
    move = (
        f' data-move="{escape(r.move)}" data-sow="{r.sow.isoformat()}" data-day="{1 / _days_per_px(scale):.3f}"'
        if r.move
        else ""
    )
    return f'<a class="rowlink" href="{escape(r.href)}" aria-label="{escape(label)}"{move}>{body}</a>'


def _days_per_px(scale: Scale) -> float:
    return (scale.end - scale.start).days / scale.drawn


def _cut(text: str, length: int) -> str:
    return text if len(text) <= length else text[: length - 1].rstrip() + "…"


def _below(r: Row, scale: Scale, y: int) -> str:
    """Under the surface: the furrow of the window, the seed, the wait."""
    c0, c1, sow = scale.x(r.window.start), scale.x(r.window.end), scale.x(r.sow)
    c1 = max(c1, c0 + 6)
    assert r.up is not None
    return (
        f'<path class="furrow" d="M{c0:.1f} {y + 1}C{c0 + 5:.1f} {y + 13},{c1 - 5:.1f} {y + 13},{c1:.1f} {y + 1}Z"/>'
        f'<line class="under" x1="{sow:.1f}" x2="{scale.x(r.up):.1f}" y1="{y + 5}" y2="{y + 5}"/>'
        f'<ellipse class="{"seed sown" if r.sown else "seed"}" cx="{sow:.1f}" cy="{y + 5}" rx="4.4" ry="3.2"/>'
    )


def _above(r: Row, scale: Scale, y: int) -> str:
    """Above the surface, indoors: room as height; then daylight in steps."""
    assert r.up is not None
    parts = []
    up, out = scale.x(r.up), scale.x(r.out)
    harden = min(scale.x(r.harden), out) if r.harden else out
    low, high = _room(r.indoors), _room(r.potted if r.pot else r.indoors)
    grown = scale.x(r.pot) if r.pot else harden
    grown = max(grown, up)
    bend = min(5.0, (grown - up) / 2)
    parts.append(
        f'<path class="up" d="M{up:.1f} {y}C{up + bend:.1f} {y - 1},{grown - bend:.1f} {y - low:.1f},{grown:.1f} {y - low:.1f}V{y}Z"/>'
    )
    if r.pot and harden > grown:
        parts.append(
            f'<path class="potted" d="M{grown:.1f} {y}V{y - max(low, high * 0.8):.1f}L{harden:.1f} {y - high:.1f}V{y}Z"/>'
            f'<path class="pot" d="M{grown - 3.4:.1f} {y - 1}l1-7h4.8l1 7z"/>'
        )
    if out > harden:
        steps = max(3, min(7, round((out - harden) / 5)))
        width = (out - harden) / steps
        parts.append(
            f'<rect class="potted" x="{harden:.1f}" y="{y - high:.1f}" width="{out - harden:.1f}" height="{high:.1f}"/>'
        )
        light = "".join(
            f"M{harden + width * k:.1f} {y - high:.1f}h{width * (k + 1) / steps:.1f}V{y}H{harden + width * k:.1f}Z"
            for k in range(steps)
        )
        parts.append(f'<path class="light" d="{light}"/>')
    return "".join(parts)


def _load(scale: Scale, load: Sequence[tuple[date, float]], base: int) -> str:
    """Trays in use on the same axis, with its peak named."""
    most = max(v for _, v in load) or 1.0
    peak = max(load, key=lambda p: p[1])[0]
    per, above = 40 / most, scale.frame.names_above
    points = [(scale.x(d), base - v * per) for d, v in load if scale.start <= d <= scale.end]
    path = "".join(f"L{x:.1f} {y:.1f}" for x, y in points)
    return (
        f'<text class="n" x="4" y="{base - (46 if above else 24)}">Bench room</text>'
        f'<text class="s" x="{86 if above else 4}" y="{base - (46 if above else 8)}">most {say.number(most)} trays, {say.short_day(peak)}</text>'
        f'<path class="load" d="M{points[0][0]:.1f} {base}{path}L{points[-1][0]:.1f} {base}Z"/>'
        f'<line class="soil" x1="{scale.frame.labels}" x2="{scale.right}" y1="{base}" y2="{base}"/>'
    )


def _today(scale: Scale, today: date, bottom: int) -> str:
    if not scale.start <= today <= scale.end:
        return ""
    x = scale.x(today)
    anchor, dx = ("end", -4) if x > scale.frame.labels + 120 else ("start", 4)
    return (
        f'<line class="today" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_BOTTOM}" y2="{bottom}"/>'
        f'<text class="t alarm" x="{x + dx:.1f}" y="{SKY_BOTTOM + 16}" text-anchor="{anchor}">today, {say.day(today)}</text>'
    )
