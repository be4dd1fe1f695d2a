"""A tray from above: its marked corner, each cell with its name, what is in it as a shape, whose it is as a letter and a texture."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from html import escape
from math import cos, radians, sin
from typing import NamedTuple

from aestiva.bench.things import PartOf, Thing, grid
from aestiva.season.models import Tray
from growing.bench.cells import (
    DIED,
    LYING,
    MOVED,
    NEVER,
    SMALL,
    SPENT,
    STATES,
    STRONG,
    UNSEEN,
    UP,
    Grid,
    letter,
    listed,
)

WIDTH, SMALL_WIDTH = 640.0, 330.0
MOST_PITCH, LEAST_PITCH = 62.0, 13.0
AGAIN = "r"  # as drawn: seed in a cell that was sown again
TEXTURES = 6
LETTERS_FROM, NUMBERS_FROM = 30.0, 18.0  # pitch from which letters, and numbers at the edge, can be read


def _leaf(lean: float, long: float, wide: float) -> str:
    a = radians(lean)
    tx, ty, mx, my = long * cos(a), long * sin(a), long * 0.52 * cos(a), long * 0.52 * sin(a)
    px, py = -wide * sin(a), wide * cos(a)
    return f"M0 0Q{mx + px:.1f} {my + py:.1f} {tx:.1f} {ty:.1f}Q{mx - px:.1f} {my - py:.1f} 0 0Z"


_SEED = '<ellipse rx="5.4" ry="3.9" class="seed"/>'
GLYPHS = {  # in a box of 50, its middle at 0 0
    UNSEEN: f'<circle r="13" class="ring dash"/>{_SEED}',
    LYING: f'<path class="lay" d="M-13 4Q0 15 13 4"/>{_SEED}',
    UP: f'<path class="young" d="{_leaf(-20, 15, 8)}{_leaf(160, 15, 8)}"/><circle r="2" class="dot"/>',
    STRONG: (
        f'<path class="young" d="{_leaf(0, 13, 7)}{_leaf(180, 13, 7)}"/>'
        f'<path class="full" d="{_leaf(58, 21, 12)}{_leaf(122, 20, 11)}{_leaf(238, 21, 12)}{_leaf(302, 20, 11)}"/>'
    ),
    SMALL: f'<circle r="13" class="ring"/><path class="young" d="{_leaf(0, 8, 5)}{_leaf(180, 8, 5)}"/>',
    NEVER: '<ellipse rx="5.4" ry="3.9" class="husk"/><path class="struck" d="M-9 8L9 -8"/>',
    DIED: f'<path class="husk" d="{_leaf(70, 13, 7)}{_leaf(110, 13, 7)}"/><path class="struck" d="M-9 8L9 -8"/>',
    MOVED: '<path class="gone" d="M-18 -18H18Q20 -18 20 -16V18H-16Q-18 18 -18 16Z"/><path class="arrow" d="M-11 0H10M3 -7L10 0L3 7"/>',
    AGAIN: '<ellipse rx="4.6" ry="3.4" class="dot"/><path class="anew" d="M-10.5 -5A11.6 11.6 0 1 1 -11.5 3M-15.6 -2.6l4.9 -2.8l1.6 5.4"/>',
}
WORDS = {**STATES, AGAIN: "sown again"}
ORDER = (LYING, UP, STRONG, SMALL, NEVER, DIED, MOVED, AGAIN, UNSEEN)
_NAMES = {
    UNSEEN: "q", LYING: "l", UP: "u", STRONG: "s", SMALL: "w", NEVER: "x", DIED: "d", MOVED: "m", AGAIN: "r"
}  # fmt: skip


def _texture(n: int, ground: str, wide: int, high: int, drawn: str, turn: int = 0) -> str:
    turned = f' patternTransform="rotate({turn})"' if turn else ""
    return (
        f'<pattern id="t{n}" width="{wide}" height="{high}" patternUnits="userSpaceOnUse"{turned}>'
        f'<rect width="{wide}" height="{high}" fill="{ground}"/>{drawn}</pattern>'
    )


_DOTS = '<circle cx="2" cy="2" r="1.1" fill="#c2a272"/><circle cx="6" cy="6" r="1.1" fill="#c2a272"/>'
_TEXTURES = (
    _texture(1, "#efe3cc", 8, 6, '<path d="M0 3h8" class="tex"/>')
    + _texture(2, "#e9dcc0", 8, 8, _DOTS)
    + _texture(3, "#efe6d2", 7, 7, '<path d="M0 3.5h7" class="tex"/>', -45)
    + _texture(4, "#f1e8d6", 6, 8, '<path d="M3 0v8" class="tex"/>')
    + _texture(5, "#e6dcc4", 8, 8, '<path d="M0 4h8M4 0v8" class="tex"/>')
    + _texture(6, "#f3ead8", 8, 8, '<path d="M4 0v8" class="tex"/>', 45)
)


def symbols() -> str:
    """The shapes and textures of all maps of a page, once."""
    shapes = "".join(
        f'<symbol id="k-{_NAMES[mark]}" overflow="visible">{drawn}</symbol>' for mark, drawn in GLYPHS.items()
    )
    return f'<svg class="shapes" width="0" height="0" aria-hidden="true"><defs>{_TEXTURES}{shapes}</defs></svg>'


def legend(marks: Collection[str], free: bool) -> list[tuple[str, str]]:
    """Each shape that is on the map, and its word."""
    found = [
        (f'<svg class="traykey" width="34" height="34" viewBox="-20 -20 40 40" aria-hidden="true"><use href="#k-{_NAMES[m]}"/></svg>', WORDS[m])
        for m in ORDER
        if m in marks
    ]  # fmt: skip
    if free:
        found.append(
            (
                '<svg class="traykey" width="34" height="34" viewBox="-20 -20 40 40" aria-hidden="true"><path class="free" d="M-8 0h16"/></svg>',
                "empty",
            )
        )
    return found


class MapKey(NamedTuple):
    """A batch of a tray with its letter and texture."""

    part: PartOf
    letter: str
    texture: int


def lots(thing: Thing) -> dict[int, MapKey]:
    """A letter for each batch: the first of its name that no other of this tray has; batches of one planting share it."""
    found: dict[int, MapKey] = {}
    of: dict[object, tuple[str, int]] = {}
    for part in thing.parts:
        key = part.item.planting.pk if part.item is not None else part.batch
        if key not in of:
            taken = {one for one, _ in of.values()}
            free = [c for c in part.name.upper() + "ABCDEFGHIJKLMNOPQRSTUVWXYZ" if c.isalpha() and c not in taken]
            of[key] = (free[0] if free else "·", len(of) % TEXTURES + 1)
        found[part.batch] = MapKey(part, *of[key])
    return found


def shown_mark(thing: Thing, cell: int) -> str:
    """What is drawn in a cell: its mark, or that it was sown again."""
    batch, mark = thing.contents[cell]
    if mark in (LYING, UNSEEN) and batch in thing.again:
        return AGAIN
    return LYING if mark == UNSEEN and batch in thing.lying else mark


def said(thing: Thing, cell: int, g: Grid, own: Mapping[int, MapKey]) -> str:
    """A cell in words: “B7, tomato Red Gable, strong”."""
    if cell not in thing.contents:
        return f"{g.name(cell)}, empty"
    lot = own[thing.contents[cell][0]]
    item = lot.part.item
    name = lot.part.name if item is None else item.full_name
    return f"{g.name(cell)}, {name}, {WORDS[shown_mark(thing, cell)]}"


def plain_svg(tray: Tray, marked: Collection[int], filled: Collection[int]) -> str:
    """A tray in outline: cells that a sowing goes into, those that hold something, and the marked corner."""
    g = grid(tray)
    columns, rows = g.size(tray.turns)
    pitch = max(5.0, min(26.0, 190 / columns))
    x0, y0 = 26.0, 14.0
    width, height = x0 + columns * pitch + 10, y0 + rows * pitch + 10
    own = {True: [], False: []}  # type: dict[bool, list[str]]
    size = pitch * 0.86
    for cell in range(1, g.cells + 1):
        column, row = g.at(cell, tray.turns)
        own[cell in marked].append(
            f"M{x0 + column * pitch:.1f} {y0 + row * pitch:.1f}h{size:.1f}v{size:.1f}h{-size:.1f}Z"
        )
    held = "".join(
        f'<circle class="held" cx="{x0 + c * pitch + size / 2:.1f}" cy="{y0 + r * pitch + size / 2:.1f}" r="{size / 5:.1f}"/>'
        for c, r in (g.at(cell, tray.turns) for cell in filled)
    )
    names = "".join(
        f'<text class="s" x="{x0 - 13:.1f}" y="{y0 + (g.at(n * g.columns + 1)[1] + 0.75) * pitch:.1f}" text-anchor="middle">{letter(n)}</text>'
        for n in range(g.rows)
        if tray.turns == 0 and pitch >= 12
    )
    words = escape(f"{tray.code}: {listed(marked, g)}")
    return (
        f'<svg class="traymap plain" viewBox="0 0 {width:.0f} {height:.0f}" width="{width:.0f}" height="{height:.0f}" role="img"'
        f' aria-label="{words}">'
        f"{_edge(x0 - 5, y0 - 5, x0 + columns * pitch + 4, y0 + rows * pitch + 4, tray.turns)}"
        f'<path class="other" d="{"".join(own[False])}"/><path class="mine" d="{"".join(own[True])}"/>{held}{names}</svg>'
    )


def map_svg(thing: Thing, picks: bool = False, marked: Collection[int] = ()) -> str:
    """The map of a tray: small to look at, or large with cells to pick.  marked: cells that a search is for."""
    assert thing.tray is not None
    tray = thing.tray
    g, own = grid(tray), lots(thing)
    columns, rows = g.size(tray.turns)
    room = WIDTH if picks else SMALL_WIDTH
    pitch = max(LEAST_PITCH if picks else 9.0, min(MOST_PITCH, (room - 50) / columns))
    x0, y0 = 38.0, 20.0
    width, height = x0 + columns * pitch + 14, y0 + rows * pitch + (30 if pitch >= NUMBERS_FROM else 12)
    cell = pitch * 0.92
    scale = cell / 50
    edge = _edge(x0 - 6, y0 - 6, x0 + columns * pitch + 6, y0 + rows * pitch + 6, tray.turns)
    body = []
    for row in range(g.rows):
        cells = range(row * g.columns + 1, min((row + 1) * g.columns, g.cells) + 1)
        drawn = "".join(_cell(thing, c, g, own, x0, y0, pitch, cell, scale, picks, c in marked) for c in cells)
        body.append(f'<g role="row">{drawn}</g>' if picks else drawn)
    names = _names(g, tray.turns, x0, y0, pitch) if pitch >= NUMBERS_FROM else ""
    inner = f"{edge}{''.join(body)}"
    size = f'viewBox="0 0 {width:.0f} {height:.0f}" width="{width:.0f}" height="{height:.0f}"'
    if picks:
        label = escape(f"{tray.code}, cell by cell: arrow keys move, space picks")
        return (
            f'<svg class="traymap" {size}><g role="grid" aria-multiselectable="true" aria-label="{label}">{inner}</g>'
            f'<g aria-hidden="true">{names}</g></svg>'
        )
    words = escape(f"{tray.code}, {', '.join(thing.names) or 'empty'}")
    return f'<svg class="traymap small" {size} role="group" aria-label="{words}">{inner}<g aria-hidden="true">{names}</g></svg>'


def _edge(left: float, top: float, right: float, bottom: float, turns: int) -> str:
    """The tray with its marked corner cut, where it is after being turned."""
    cut = 20.0
    corners = [(left, top), (right, top), (right, bottom), (left, bottom)]
    points = []
    for n, (x, y) in enumerate(corners):
        if n == turns % 4:
            dx, dy = (1 if x == left else -1), (1 if y == top else -1)
            first, second = (x, y + dy * cut), (x + dx * cut, y)
            points += [first, second] if n % 2 == 0 else [second, first]
        else:
            points.append((x, y))
    path = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points) + "Z"
    x, y = corners[turns % 4]
    dx, dy = (1 if x == left else -1), (1 if y == top else -1)
    mark = f"M{x + dx * (cut - 3):.1f} {y - dy * 3:.1f}L{x - dx * 3:.1f} {y + dy * (cut - 3):.1f}"
    return f'<path class="flat" d="{path}"/><path class="corner" d="{mark}"/>'


def _cell(
    thing: Thing, cell: int, g: Grid, own: Mapping[int, MapKey], x0: float, y0: float, pitch: float, size: float, scale: float,
    picks: bool, marked: bool,
) -> str:  # fmt: skip
    assert thing.tray is not None
    column, row = g.at(cell, thing.tray.turns)
    x, y = x0 + column * pitch, y0 + row * pitch
    words = escape(said(thing, cell, g, own))
    here = thing.contents.get(cell)
    shape, texture = '<path class="free" d="M-8 0h16"/>', "none"
    sign = ""
    if here is not None:
        lot = own[here[0]]
        mark = shown_mark(thing, cell)
        texture = "#8d7355" if mark == MOVED else f"url(#t{lot.texture})"
        shape = f'<use href="#k-{_NAMES[mark]}"/>'
        if pitch >= LETTERS_FROM:
            light = " onsoil" if mark == MOVED else ""
            sign = f'<text class="sign{light}" x="-21" y="22">{lot.letter}</text>'
    box = f'<rect x="-25" y="-25" width="50" height="50" rx="5" fill="{texture}"/>'
    state = "cell" + (" empty" if here is None else " spent" if here[1] in SPENT else "") + (" found" if marked else "")
    where = f'transform="translate({x + size / 2:.1f} {y + size / 2:.1f}) scale({scale:.3f})"'
    if not picks:
        return f'<g class="{state}" {where}>{box}{shape}{sign}<title>{words}</title></g>'
    return (
        f'<g class="{state}" {where} role="gridcell" tabindex="-1" aria-selected="false" aria-label="{words}" data-cell="{cell}"'
        f' data-name="{g.name(cell)}" data-col="{column}" data-row="{row}">{box}{shape}{sign}</g>'
    )


def _names(g: Grid, turns: int, x0: float, y0: float, pitch: float) -> str:
    """Letters of rows and numbers of columns beside the cells, wherever those are after turning."""
    out = []
    _, rows = g.size(turns)
    flat = turns % 2 == 0
    for row in range(g.rows):
        column_at, row_at = g.at(row * g.columns + 1, turns)
        x, y = (
            (x0 - 16, y0 + (row_at + 0.55) * pitch)
            if flat
            else (x0 + (column_at + 0.45) * pitch, y0 + rows * pitch + 20)
        )
        out.append(f'<text class="s" x="{x:.1f}" y="{y:.1f}" text-anchor="middle">{letter(row)}</text>')
    for n in range(min(g.columns, g.cells)):
        column_at, row_at = g.at(n + 1, turns)
        x, y = (
            (x0 + (column_at + 0.45) * pitch, y0 + rows * pitch + 20)
            if flat
            else (x0 - 16, y0 + (row_at + 0.55) * pitch)
        )
        out.append(f'<text class="s" x="{x:.1f}" y="{y:.1f}" text-anchor="middle">{n + 1}</text>')
    return "".join(out)
