"""One planting in the picture: its line is the soil surface.

Under it the sowing window as a furrow, the seed in it, dots until it is up; above it the room it takes as height, first in
cells and then in pots; daylight in steps through hardening; an arrow sets it out; then the garden, and dots of harvest or
bloom.  What cannot be is hatched.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from html import escape
from math import sqrt
from typing import NamedTuple

from aestiva.frame import say
from aestiva.plan.picture.scale import Scale
from growing.calendar import Window

TRAY_PX, MOST_PX = 9.0, 27.0
NAME_LETTERS, NOTE_LETTERS = 26, 32
HIT_PX = 30  # what can be grasped of a seed, each side of it half


class FurrowRow(NamedTuple):
    """One line of the picture; days that do not apply are None.

    indoors and potted: room in trays.  bad: stretches that cannot be.  made: sowing and planting out as first planned.
    follows: what stands on its ground before it.  planting, revision: what its handle moves; 0: it has none.  key: of its
    element.  fold: key of the group it stands for or heads; laid_open: it heads one that is laid open.
    """

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
    label: str = ""
    bad: tuple[Window, ...] = ()
    made: tuple[date, date] | None = None
    planting: int = 0
    revision: int = 0
    key: str = ""
    fold: str = ""
    laid_open: bool = False
    changed: bool = False
    follows: str = ""


def room(trays: float) -> float:
    """Height of a planting that fills so many trays."""
    return min(MOST_PX, max(4.0, TRAY_PX * sqrt(trays)))


def cut(text: str, length: int) -> str:
    return text if len(text) <= length else text[: length - 1].rstrip() + "…"


def drawn(r: FurrowRow, scale: Scale, top: int, banded: bool, plain: bool = False) -> str:
    """The row as an element, its upper edge at `top`; plain: without links and handles, for a file or for paper."""
    css = "row" + ("" if banded else " clearband") + (" changed" if r.changed else "")
    key = "" if plain or not r.key else f' id="row-{escape(r.key)}"'
    return f'<g class="{css}"{key} transform="translate(0 {top})">{inside(r, scale, plain)}</g>'


def inside(r: FurrowRow, scale: Scale, plain: bool = False) -> str:
    """What stands in the row's element, from its upper edge."""
    frame, y = scale.frame, scale.frame.ground
    clip = f"ground-{scale.key}"
    parts = [
        f'<rect class="band" x="0" y="0" width="{frame.width}" height="{frame.row}"/>',
        f'<g class="shapes" clip-path="url(#{clip})">{_shapes(r, scale, y)}</g>',
        _flag(r, scale, y),
    ]
    names = _names(r, scale)
    if plain or not r.href:
        return "".join([*parts, names])
    label = f"{cut(r.name, NAME_LETTERS)} {cut(r.note, NOTE_LETTERS)} {r.flag}{r.label}"
    hit = f'<rect class="hit" x="0" y="0" width="{frame.width}" height="{frame.row}"/>'
    fold = f' data-fold="{escape(r.fold)}"' if r.fold else ""
    stop = "" if r.planting and r.sow in scale else " stop"
    parts.append(
        f'<a class="rowlink{stop}" href="{escape(r.href)}" aria-label="{escape(label)}"{fold}>{hit}{names}</a>'
    )
    if not stop:
        parts.append(_handle(r, scale, y))
    return "".join(parts)


def _names(r: FurrowRow, scale: Scale) -> str:
    frame, y = scale.frame, scale.frame.ground
    mark = "▾ " if r.laid_open else "▸ " if r.fold else ""
    name = f"{mark}{escape(cut(r.name, NAME_LETTERS))}"
    if frame.names_above:
        return (
            f'<text class="n" x="4" y="{y - 33}">{name} </text>'
            f'<text class="s" x="{scale.right}" y="{y - 33}" text-anchor="end">{escape(cut(r.note, 24))} </text>'
        )
    under = f'<text class="s" x="4" y="{y + 8}">{escape(cut(r.note, NOTE_LETTERS))} </text>'
    back = f'<rect class="stayback" x="0" y="0" width="{frame.labels - 2}" height="{frame.row}"/>'
    return f'<g class="stay">{back}<text class="n" x="4" y="{y - 8}">{name} </text>{under}</g>'


def _shapes(r: FurrowRow, scale: Scale, y: int) -> str:
    x = scale.far
    parts = [f'<line class="soil" x1="{scale.frame.labels}" x2="{scale.right}" y1="{y}" y2="{y}"/>']
    if r.laid_open:
        return parts[0]
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
    if r.follows:  # another stood here: the ground is handed over
        parts.append(f'<path class="handover" d="M{out - 9:.1f} {y - 3}h6M{out - 9:.1f} {y + 3}h6"/>')
    if last - first > 8:  # dots of harvest or bloom: one dashed line with round ends
        parts.append(f'<path class="yield" d="M{first + 4:.1f} {y - 6.5}H{last - 3:.1f}"/>')
    parts += [_hatched(x(one.start), x(one.end + timedelta(days=1)), y) for one in r.bad]
    if r.made is not None:
        parts.append(_made(r, scale, y))
    return "".join(parts)


def _hatched(left: float, right: float, y: int) -> str:
    """A stretch that cannot be: strokes across the soil line."""
    right = max(right, left + 6)
    strokes = "".join(f"M{left + 5 * k:.1f} {y + 4}l5 -9" for k in range(min(200, max(1, round((right - left) / 5)))))
    return f'<path class="bad" d="{strokes}"/>'


def _made(r: FurrowRow, scale: Scale, y: int) -> str:
    """As first planned: a bracket over the row from sowing to planting out."""
    assert r.made is not None
    sow, out = (scale.far(day) for day in r.made)
    return f'<path class="made" d="M{sow:.1f} {y - 19}v-5H{out:.1f}v5"/>'


def _flag(r: FurrowRow, scale: Scale, y: int) -> str:
    if not r.flag or r.sow not in scale:
        return ""
    x = scale.x(r.sow)
    beside = (
        (x - 8, "end") if x > scale.frame.labels + 110 or (scale.frame.names_above and x > 110) else (x + 8, "start")
    )
    return f'<text class="t alarm" x="{beside[0]:.1f}" y="{y - 6}" text-anchor="{beside[1]}">{escape(r.flag)}</text>'


def _below(r: FurrowRow, scale: Scale, y: int) -> str:
    """Under the surface: the furrow of the window, the seed, the wait."""
    c0, c1, sow = scale.far(r.window.start), scale.far(r.window.end), scale.far(r.sow)
    c1 = max(c1, c0 + 6)
    assert r.up is not None
    seed = (
        ""
        if r.planting and r.sow in scale
        else f'<ellipse class="{"seed sown" if r.sown else "seed"}" cx="{sow:.1f}" cy="{y + 5}" rx="4.4" ry="3.2"/>'
    )
    return (
        f'<path class="furrow" d="M{c0:.1f} {y + 1}C{c0 + 5:.1f} {y + 13},{c1 - 5:.1f} {y + 13},{c1:.1f} {y + 1}Z"/>'
        f'<line class="under" x1="{sow:.1f}" x2="{scale.far(r.up):.1f}" y1="{y + 5}" y2="{y + 5}"/>{seed}'
    )


def _handle(r: FurrowRow, scale: Scale, y: int) -> str:
    """The seed as what can be grasped: by pointer, touch, or the arrow keys."""
    x, base = scale.x(r.sow), r.window.start
    last = max(1, (r.window.end - base).days)
    return (
        f'<g class="handle stop" role="slider" tabindex="0" aria-label="{escape(cut(r.name, NAME_LETTERS))}: sowing day"'
        f' aria-valuemin="0" aria-valuemax="{last}" aria-valuenow="{min(last, max(0, (r.sow - base).days))}"'
        f' aria-valuetext="{say.day(r.sow)}" data-planting="{r.planting}" data-revision="{r.revision}"'
        f' data-sow="{r.sow.isoformat()}" data-from="{base.isoformat()}" data-to="{r.window.end.isoformat()}"'
        f' data-day="{scale.per_day:.4f}">'
        f'<rect class="grip" x="{x - HIT_PX / 2:.1f}" y="{y - scale.frame.ground + 4}" width="{HIT_PX}" height="{scale.frame.row - 6}" rx="4"/>'
        f'<path class="stalk" d="M{x:.1f} {y + 2}V{y - 11}"/>'
        f'<ellipse class="seed" cx="{x:.1f}" cy="{y + 5}" rx="5.2" ry="3.8"/></g>'
    )


def _above(r: FurrowRow, scale: Scale, y: int) -> str:
    """Above the surface, indoors: room as height in steps, cells and then pots; then daylight in steps."""
    assert r.up is not None
    x, parts = scale.far, []
    up, out = x(r.up), x(r.out)
    harden = min(x(r.harden), out) if r.harden else out
    low, high = room(r.indoors), room(r.potted if r.pot else r.indoors)
    grown = max(x(r.pot) if r.pot else harden, up)
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


def small(rows: Sequence[FurrowRow], scale: Scale, shown: Scale, height: int, width: int) -> str:
    """The whole season small: a line a row in its stages, and the days that are shown large."""
    each = min(6.0, height / max(1, len(rows)))
    per = width / scale.days

    def x(day: date) -> float:
        return min(float(width), max(0.0, (day.toordinal() - scale.start.toordinal()) * per))

    kinds = {"up": "", "light": "", "garden": ""}
    for k, r in enumerate(rows):
        y = each * (k + 0.5)
        inside = r.harden or r.out
        for css, since, until in (("up", r.up, inside), ("light", r.harden, r.out), ("garden", r.out, r.last)):
            if since is not None and x(until) > x(since):
                kinds[css] += f"M{x(since):.1f} {y:.1f}H{x(until):.1f}"
    lines = "".join(f'<path class="small-{css}" d="{d}"/>' for css, d in kinds.items() if d)
    frame = f'<rect class="looked" x="{x(shown.start):.1f}" y="0" width="{x(shown.end) - x(shown.start):.1f}" height="{each * len(rows):.0f}"/>'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="smallseason" viewBox="0 0 {width} {max(1, each * len(rows)):.0f}"'
        f' width="{width}" height="{max(1, each * len(rows)):.0f}" aria-hidden="true" data-rows="{len(rows)}">'
        f'<g stroke-width="{max(1.0, each * 0.6):.1f}">{lines}</g>{frame}<rect class="viewport" x="0" y="0" width="{width}" height="0"/></svg>'
    )
