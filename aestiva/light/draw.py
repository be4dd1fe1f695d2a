"""A shelf from the front and from above, its day as a ring, its plants against what they want, its lamp in the days ahead."""

from __future__ import annotations

from functools import lru_cache
from html import escape

from aestiva.bench.front_things import BOARD, Words, thing_svg
from aestiva.bench.silhouettes import DEFS
from aestiva.frame import say
from aestiva.frame.say import Reader, shown
from aestiva.light.shelves import Shelf
from growing.light.shelf import Board, LampAsSet, Map
from growing.light.targets import LITTLE, MUCH

WIDTH, LEFT, RIGHT, TOP = 720, 46, 14, 26
MOST_CLEAR_CM = 60.0
CELL_CM = 10.0  # of the numbers on the map: a hand
FINE = 3  # points along and across it, so that the light is reckoned every three or four centimetres
GRAIN = 2.1
MOST_GRAINS = 40
TURN_X, TURN_Y = 0.7548776662466927, 0.5698402909980532  # steps of a sequence that fills a square evenly
TICK_CM = 10


def label(x: float, y: float, words: str, classes: str = "s", anchor: str = "start") -> str:
    """Words in a drawing."""
    return f'<text class="{classes}" x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}">{words}</text>'


def rect(x: float, y: float, wide: float, high: float, classes: str, more: str = "") -> str:
    """A rectangle in a drawing."""
    return f'<rect class="{classes}" x="{x:.1f}" y="{y:.1f}" width="{wide:.1f}" height="{high:.1f}"{more}/>'


def scale_of(board: Board) -> float:
    """Pixels a centimetre; one scale for front and map, across and up."""
    return (WIDTH - LEFT - RIGHT) / board.wide_cm


def clear_of(shelf: Shelf) -> float:
    """What is drawn above the board [cm]."""
    setting = shelf.setting
    least = max(setting.left_cm, setting.right_cm, shelf.advice.first.setting.lowest_cm) + 8.0
    return max(least, min(shelf.rig.spot.clear_cm or MOST_CLEAR_CM, MOST_CLEAR_CM))


def section_svg(shelf: Shelf, reader: Reader, addresses: dict[int, str], writes: bool) -> str:
    """The shelf from the front and to scale: what stands on it, the lamp where it hangs, dashed where it should."""
    scale, clear = scale_of(shelf.board), clear_of(shelf)
    floor, left, wide = TOP + clear * scale, float(LEFT), shelf.board.wide_cm * scale
    high, words = floor + BOARD + 30, Words(floor + BOARD + 14)
    out = [
        f'<rect class="wood" x="{left - 7:.1f}" y="{TOP - 6}" width="7" height="{floor - TOP + 8:.1f}"/>',
        f'<rect class="wood" x="{left + wide:.1f}" y="{TOP - 6}" width="7" height="{floor - TOP + 8:.1f}"/>',
        f'<rect class="wood" x="{left - 7:.1f}" y="{TOP - 8}" width="{wide + 14:.1f}" height="6"/>',
        _ruler(floor, clear, scale, reader),
        _rays(shelf.setting, left, wide, floor, scale),
    ]
    for mat in shelf.standing.mats:
        x = left + (mat.spot.x_cm or 0.0) * scale
        out.append(
            f'<rect class="mat" x="{x:.1f}" y="{floor - 6:.1f}" width="{mat.wide_cm * scale:.1f}" height="6" fill="url(#warm)"/>'
        )
    for thing, rect in sorted(shelf.things, key=lambda t: -t[1].y):
        seen = thing.rect
        thing.rect = rect
        out.append(thing_svg(thing, left, floor, scale, addresses, words, reader))
        thing.rect = seen
    out.append(f'<rect class="wood" x="{left - 7:.1f}" y="{floor:.1f}" width="{wide + 14:.1f}" height="{BOARD}"/>')
    out.append(words.drawn(left, left + wide))
    out.append(_wanted(shelf, left, wide, floor, scale))
    out.append(_lamp(shelf, left, wide, floor, scale, reader, writes))
    return (
        f'<svg class="front lightfront" viewBox="0 0 {WIDTH} {high:.0f}" width="{WIDTH}" height="{high:.0f}" role="group"'
        f' aria-label="{escape(shelf.code)} from the front, to scale" data-scale="{scale:.4f}" data-floor="{floor:.1f}">{DEFS}{"".join(out)}</svg>'
    )


def _ruler(floor: float, clear: float, scale: float, reader: Reader) -> str:
    """Centimetres above the board, or inches."""
    factor, unit = shown(1, "cm", reader)
    step = TICK_CM if unit == "cm" else 4
    out, n = [f'<text class="s" x="{LEFT - 12}" y="{TOP + 4}" text-anchor="end">{unit}</text>'], 0
    while n * step / factor <= clear - 2:
        y = floor - n * step / factor * scale
        out.append(
            f'<path class="axis" d="M{LEFT - 10} {y:.1f}h4"/><text class="s" x="{LEFT - 13}" y="{y + 4:.1f}" text-anchor="end">{n * step}</text>'
        )
        n += 1
    return "".join(out)


def _heights(setting: LampAsSet, floor: float, scale: float) -> tuple[float, float]:
    return floor - setting.left_cm * scale, floor - setting.right_cm * scale


def _rays(setting: LampAsSet, left: float, wide: float, floor: float, scale: float) -> str:
    a, b = _heights(setting, floor, scale)
    return f'<path class="rays" data-rays d="M{left + 6:.1f} {a:.1f}L{left + wide - 6:.1f} {b:.1f}V{floor:.1f}H{left + 6:.1f}Z" fill="url(#fall)"/>'


def _wanted(shelf: Shelf, left: float, wide: float, floor: float, scale: float) -> str:
    """Where the lamp should hang, dashed; nothing where it hangs well."""
    first = shelf.advice.first
    if first.kind not in ("raise", "lower", "aslant", "boxes") or first.setting[:2] == shelf.setting[:2]:
        return ""
    a, b = _heights(first.setting, floor, scale)
    return f'<path class="wantline" d="M{left + 10:.1f} {a:.1f}L{left + wide - 10:.1f} {b:.1f}"/>'


def _lamp(shelf: Shelf, left: float, wide: float, floor: float, scale: float, reader: Reader, writes: bool) -> str:
    """The lamp with what it hangs by, the least distance to leaves, and the handle to move it by."""
    setting, hangs = shelf.setting, shelf.rig.spot.hangs_by
    a, b = _heights(setting, floor, scale)
    spans = _spans(shelf)
    bars = "".join(
        f'<path class="lamp" d="M{left + x0 * scale:.1f} {a + (b - a) * x0 / shelf.board.wide_cm - 4:.1f}'
        f"L{left + x1 * scale:.1f} {a + (b - a) * x1 / shelf.board.wide_cm - 4:.1f}v4.5"
        f'L{left + x0 * scale:.1f} {a + (b - a) * x0 / shelf.board.wide_cm + 0.5:.1f}Z"/>'
        for x0, x1 in spans
    )
    x0, x1 = spans[0] if spans else (0.0, shelf.board.wide_cm)
    hooks = [left + (x0 + (x1 - x0) * share) * scale for share in (0.12, 0.88)]
    style = {"chain": "chain", "ratchet": "ratchet"}.get(hangs, "cord")
    lines = "".join(
        f'<path class="hanger {style}" d="M{x:.1f} {TOP - 2}V{a + (b - a) * (x - left) / wide - 5:.1f}"/>'
        for x in hooks
    )
    gap = _gap(shelf, left, floor, scale, reader)
    middle, y = left + wide / 2, (a + b) / 2
    factor, unit = shown(1, "cm", reader)
    limits = shelf.board.limits
    now = say.amount(setting.lowest_cm, "cm", reader, 1)
    handle = (
        f'<g class="handle" role="slider" tabindex="0" data-handle aria-orientation="vertical"'
        f' aria-label="Height of the lamp over {escape(shelf.code)}"'
        f' aria-valuemin="2" aria-valuemax="{limits.top_cm:.1f}" aria-valuenow="{setting.lowest_cm:.1f}" aria-valuetext="{now}"'
        f' data-step="{limits.step_cm or 1:g}" data-factor="{factor:.6f}" data-unit="{unit}" transform="translate({middle:.1f} {y - 2:.1f})">'
        '<circle class="grip" r="22"/><circle class="knob" r="15"/><path class="arrows" d="M-6-3L0-9L6-3M-6 3L0 9L6 3"/></g>'
        if writes
        else ""
    )
    return f"<g data-hangers>{lines}</g><g data-lamp>{bars}</g>{gap}{handle}"


def _spans(shelf: Shelf) -> list[tuple[float, float]]:
    """From where to where lamps hang across, each once [cm]."""
    found = {(round(h.x_cm - h.length_cm / 2, 1), round(h.x_cm + h.length_cm / 2, 1)) for h in shelf.board.lamps}
    return sorted(found) or [(3.0, shelf.board.wide_cm - 3.0)]


def _gap(shelf: Shelf, left: float, floor: float, scale: float, reader: Reader) -> str:
    """The distance from the lamp to the leaves, of the nearest and of one in want."""
    found = sorted(shelf.advice.got, key=lambda g: g.gap_cm)
    chosen = found[:1] + [g for g in found[1:] if abs(g.stand.rect.x - found[0].stand.rect.x) > 25][-1:]
    out = []
    for got in chosen:
        x = left + (got.stand.rect.x + got.stand.rect.length * 0.72) * scale
        tip, lamp = floor - got.stand.tip_cm * scale, floor - (got.stand.tip_cm + got.gap_cm) * scale
        near = " al" if got.gap_cm < shelf.board.limits.warm_cm else ""
        out.append(
            f'<path class="gapline" data-gap d="M{x - 3:.1f} {lamp + 2:.1f}h6M{x:.1f} {lamp + 2:.1f}V{tip:.1f}M{x - 3:.1f} {tip:.1f}h6"/>'
            f'<text class="t halo{near}" data-gap="{got.stand.tip_cm:.2f}" x="{x + 6:.1f}" y="{(lamp + tip) / 2 + 5:.1f}">'
            f"{say.amount(got.gap_cm, 'cm', reader, 0)}</text>"
        )
    return "".join(out)


def map_svg(board: Board, found: Map) -> str:
    """Light of a day at the leaf tips from above, one grain a mol; a number a hand's breadth; what is outside a band is marked."""
    scale = scale_of(board)
    left, top = float(LEFT), 4.0
    wide, deep = board.wide_cm * scale, board.deep_cm * scale
    ny, nx = found.dli.shape
    w, h = wide / nx, deep / ny
    grains, marks, numbers = [], [], []
    for j in range(ny):
        y = top + deep - (j + 1) * h  # the back is above
        for i in range(nx):
            x, dli = left + i * w, float(found.dli[j, i])
            grains.append(_grains(x, y, w, h, dli, j * nx + i))
            owner = int(found.owner[j, i])
            kind = board.stands[owner].band.verdict(dli) if owner >= 0 else ""
            if kind in (LITTLE, MUCH):
                marks.append(rect(x + w / 2 - 15, y + h / 2 - 11, 30, 22, kind, f' rx="{3 if kind == LITTLE else 11}"'))
            numbers.append(
                label(
                    x + w / 2,
                    y + h / 2 + 4.5,
                    str(round(dli)),
                    ("t" if owner >= 0 else "s") + " halo" + " al" * (kind == MUCH),
                    "middle",
                )
            )
    trays = "".join(
        rect(left + r.x * scale, top + deep - (r.y + r.width) * scale, r.length * scale, r.width * scale, "trayline")
        for r in (stand.rect for stand in board.stands)
    )
    return (
        f'<svg class="lightmap" viewBox="0 0 {WIDTH} {deep + 10:.0f}" width="{WIDTH}" height="{deep + 10:.0f}" role="img"'
        f' aria-label="Light of a day from above, back of the shelf on top; the same numbers are in the table">'
        f'<rect class="ground" x="{left:.1f}" y="{top:.1f}" width="{wide:.1f}" height="{deep:.1f}"/>'
        f'<path class="grains" d="{"".join(grains)}"/>{trays}{"".join(marks)}{"".join(numbers)}</svg>'
    )


@lru_cache(maxsize=1024)
def _spread(cell: int) -> tuple[tuple[float, float], ...]:
    """Where the grains of a cell lie, 0–1 across and down, the first first."""
    return tuple(
        ((0.5 + (k + 1) * TURN_X + cell * 0.618034) % 1, (0.5 + (k + 1) * TURN_Y + cell * 0.754878) % 1)
        for k in range(MOST_GRAINS)
    )


def _grains(x: float, y: float, w: float, h: float, dli: float, cell: int) -> str:
    """A grain a mol, each at its own place in the cell: more light adds grains and moves none."""
    x, y, w, h = x + 4, y + 4, w - 8, h - 8
    return "".join([f"M{x + u * w:.0f} {y + v * h:.0f}h0" for u, v in _spread(cell)[: round(dli)]])
