"""A shelf from the front and from above, its day as a ring, its plants against what they want, its lamp in the days ahead."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from functools import lru_cache
from html import escape
from math import cos, pi, sin

from aestiva.bench.front_things import BOARD, Words, thing_svg
from aestiva.bench.silhouettes import DEFS
from aestiva.course.state import Item
from aestiva.frame import say
from aestiva.light.shelves import Shelf
from growing.light.advice import Ahead
from growing.light.hours import Tariff, Timer
from growing.light.shelf import Board, Got, Map, Setting
from growing.light.targets import LITTLE, MUCH, band
from growing.units import shown

WIDTH, LEFT, RIGHT, TOP = 720, 46, 14, 26
MOST_CLEAR_CM = 60.0
CELL_CM = 10.0  # of the numbers on the map: a hand
FINE = 3  # points along and across it, so that the light is reckoned every three or four centimetres
GRAIN = 2.1
MOST_GRAINS = 40
TURN_X, TURN_Y = 0.7548776662466927, 0.5698402909980532  # steps of a sequence that fills a square evenly
TICK_CM = 10
RAISE_WORDS = 100.0  # px that the words of a raise take


def scale_of(board: Board) -> float:
    """Pixels a centimetre; one scale for front and map, across and up."""
    return (WIDTH - LEFT - RIGHT) / board.wide_cm


def clear_of(shelf: Shelf) -> float:
    """What is drawn above the board [cm]."""
    setting = shelf.setting
    least = max(setting.left_cm, setting.right_cm, shelf.advice.first.setting.lowest_cm) + 8.0
    return max(least, min(shelf.rig.spot.clear_cm or MOST_CLEAR_CM, MOST_CLEAR_CM))


def section_svg(shelf: Shelf, system: str, addresses: dict[int, str], writes: bool) -> str:
    """The shelf from the front and to scale: what stands on it, the lamp where it hangs, dashed where it should."""
    scale, clear = scale_of(shelf.board), clear_of(shelf)
    floor, left, wide = TOP + clear * scale, float(LEFT), shelf.board.wide_cm * scale
    high, words = floor + BOARD + 30, Words(floor + BOARD + 14)
    out = [
        f'<rect class="wood" x="{left - 7:.1f}" y="{TOP - 6}" width="7" height="{floor - TOP + 8:.1f}"/>',
        f'<rect class="wood" x="{left + wide:.1f}" y="{TOP - 6}" width="7" height="{floor - TOP + 8:.1f}"/>',
        f'<rect class="wood" x="{left - 7:.1f}" y="{TOP - 8}" width="{wide + 14:.1f}" height="6"/>',
        _ruler(floor, clear, scale, system),
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
        out.append(thing_svg(thing, left, floor, scale, addresses, words, system))
        thing.rect = seen
    out.append(f'<rect class="wood" x="{left - 7:.1f}" y="{floor:.1f}" width="{wide + 14:.1f}" height="{BOARD}"/>')
    out.append(words.drawn(left, left + wide))
    out.append(_wanted(shelf, left, wide, floor, scale))
    out.append(_lamp(shelf, left, wide, floor, scale, system, writes))
    return (
        f'<svg class="front lightfront" viewBox="0 0 {WIDTH} {high:.0f}" width="{WIDTH}" height="{high:.0f}" role="group"'
        f' aria-label="{escape(shelf.code)} from the front, to scale" data-scale="{scale:.4f}" data-floor="{floor:.1f}">{DEFS}{"".join(out)}</svg>'
    )


def _ruler(floor: float, clear: float, scale: float, system: str) -> str:
    """Centimetres above the board, or inches."""
    factor, unit = shown(1, "cm", system)
    step = TICK_CM if unit == "cm" else 4
    out, n = [f'<text class="s" x="{LEFT - 12}" y="{TOP + 4}" text-anchor="end">{unit}</text>'], 0
    while n * step / factor <= clear - 2:
        y = floor - n * step / factor * scale
        out.append(
            f'<path class="axis" d="M{LEFT - 10} {y:.1f}h4"/><text class="s" x="{LEFT - 13}" y="{y + 4:.1f}" text-anchor="end">{n * step}</text>'
        )
        n += 1
    return "".join(out)


def _heights(setting: Setting, floor: float, scale: float) -> tuple[float, float]:
    return floor - setting.left_cm * scale, floor - setting.right_cm * scale


def _rays(setting: Setting, left: float, wide: float, floor: float, scale: float) -> str:
    a, b = _heights(setting, floor, scale)
    return f'<path class="rays" data-rays d="M{left + 6:.1f} {a:.1f}L{left + wide - 6:.1f} {b:.1f}V{floor:.1f}H{left + 6:.1f}Z" fill="url(#fall)"/>'


def _wanted(shelf: Shelf, left: float, wide: float, floor: float, scale: float) -> str:
    """Where the lamp should hang, dashed; nothing where it hangs well."""
    first = shelf.advice.first
    if first.kind not in ("raise", "lower", "aslant", "boxes") or first.setting[:2] == shelf.setting[:2]:
        return ""
    a, b = _heights(first.setting, floor, scale)
    return f'<path class="wantline" d="M{left + 10:.1f} {a:.1f}L{left + wide - 10:.1f} {b:.1f}"/>'


def _lamp(shelf: Shelf, left: float, wide: float, floor: float, scale: float, system: str, writes: bool) -> str:
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
    gap = _gap(shelf, left, floor, scale, system)
    middle, y = left + wide / 2, (a + b) / 2
    factor, unit = shown(1, "cm", system)
    limits = shelf.board.limits
    now = say.amount(setting.lowest_cm, "cm", system, 1)
    handle = (
        f'<g class="handle" role="slider" tabindex="0" data-handle aria-orientation="vertical" aria-label="Height of the lamp over {escape(shelf.code)}"'
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


def _gap(shelf: Shelf, left: float, floor: float, scale: float, system: str) -> str:
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
            f'<text class="t halo{near}" data-gap="{got.stand.tip_cm:.2f}" x="{x + 6:.1f}" y="{(lamp + tip) / 2 + 5:.1f}">{say.amount(got.gap_cm, "cm", system, 0)}</text>'
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
                marks.append(
                    f'<rect class="{kind}" x="{x + w / 2 - 15:.1f}" y="{y + h / 2 - 11:.1f}" width="30" height="22" rx="{3 if kind == LITTLE else 11}"/>'
                )
            numbers.append(
                f'<text class="{"t halo" if owner >= 0 else "s halo"}{" al" if kind == MUCH else ""}" x="{x + w / 2:.1f}" y="{y + h / 2 + 4.5:.1f}" text-anchor="middle">{round(dli)}</text>'
            )
    trays = "".join(
        f'<rect class="trayline" x="{left + s.rect.x * scale:.1f}" y="{top + deep - (s.rect.y + s.rect.width) * scale:.1f}" width="{s.rect.length * scale:.1f}" height="{s.rect.width * scale:.1f}"/>'
        for s in board.stands
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


def ring_svg(timer: Timer, tariff: Tariff, system: str) -> str:
    """A day as a ring: noon above the soil line, midnight below it; lamp, dark, cheap hours."""
    cx, cy, r = 105.0, 100.0, 62.0
    out = [
        f'<rect class="night" x="0" y="{cy}" width="210" height="100"/><path class="soil" d="M0 {cy}H210"/>',
        f'<circle class="dark" cx="{cx}" cy="{cy}" r="{r}"/>',
    ]
    if timer.hours >= 24:
        out.append(f'<circle class="burn" cx="{cx}" cy="{cy}" r="{r}"/>')
    elif timer.hours > 0:
        out.append(
            f'<path class="burnedge" d="{_arc(cx, cy, r, timer.on_h, timer.hours)}"/><path class="burn" d="{_arc(cx, cy, r, timer.on_h, timer.hours)}"/>'
        )
    for begin, end in tariff.spans:
        out.append(f'<path class="cheap" d="{_arc(cx, cy, r + 20, begin, (end - begin) % 24)}"/>')
    for hour in range(24):
        x, y = _on(cx, cy, r - 20, hour)
        x2, y2 = _on(cx, cy, r - (26 if hour % 6 == 0 else 23), hour)
        out.append(f'<path class="axis" d="M{x:.1f} {y:.1f}L{x2:.1f} {y2:.1f}"/>')
    for hour in (0, 12):
        x, y = _on(cx, cy, r - 34, hour)
        out.append(f'<text class="s" x="{x:.1f}" y="{y + 4:.1f}" text-anchor="middle">{hour}</text>')
    hours = say.number(timer.hours)
    out.append(f'<text class="big" x="{cx}" y="{cy + 7}" text-anchor="middle">{hours} h</text>')
    said = f"Lamp on {clock_of(timer.on_h, system)} to {clock_of(timer.off_h, system)}"
    return f'<svg class="dayring" viewBox="0 0 210 200" width="210" height="200" role="img" aria-label="{said}">{"".join(out)}</svg>'


def clock_of(hour: float, system: str) -> str:
    """“4:00”, “4:30 pm”."""
    whole = round((hour % 24) * 60)
    return say.time_of_day(f"{whole // 60 % 24}:{whole % 60:02d}", system)


def _on(cx: float, cy: float, r: float, hour: float) -> tuple[float, float]:
    """A point of the ring: midnight below, noon above, morning to the left."""
    a = hour / 24 * 2 * pi
    return cx - r * sin(a), cy + r * cos(a)


def _arc(cx: float, cy: float, r: float, begin: float, hours: float) -> str:
    (x, y), (x2, y2) = _on(cx, cy, r, begin), _on(cx, cy, r, begin + hours)
    return f"M{x:.1f} {y:.1f}A{r} {r} 0 {int(hours > 12)} 1 {x2:.1f} {y2:.1f}"


def bar_svg(got: Got, after: Got | None, most: float) -> str:
    """A day's light on its band: dotted where it is too little, hatched where it is more than it can use; now solid, then open."""
    wide, y = 260.0, 22.0
    x = lambda dli: 8 + min(dli, most) / most * (wide - 16)  # noqa: E731
    wants = got.stand.band
    marks = [
        f'<rect class="little" x="{x(0):.1f}" y="{y - 9}" width="{x(wants.low) - x(0):.1f}" height="18"/>',
        f'<rect class="right" x="{x(wants.low):.1f}" y="{y - 11}" width="{x(wants.high) - x(wants.low):.1f}" height="22"/>',
        f'<rect class="much" x="{x(wants.high):.1f}" y="{y - 9}" width="{max(0.0, x(most) - x(wants.high)):.1f}" height="18"/>',
        f'<path class="soil" d="M{x(0):.1f} {y + 11}H{x(most):.1f}"/>',
    ]
    for value in (wants.low, wants.high):
        marks.append(
            f'<text class="s" x="{x(value):.1f}" y="{y + 25}" text-anchor="middle">{say.number(value, 0)}</text>'
        )
    marks.append(f'<path class="span" d="M{x(got.least):.1f} {y}H{x(got.most):.1f}"/>')
    if after is not None and abs(after.dli - got.dli) > 0.4:
        marks.append(f'<path class="then" d="M{x(after.dli):.1f} {y - 11}l6 11l-6 11l-6-11Z"/>')
    marks.append(f'<path class="now" d="M{x(got.dli):.1f} {y - 11}l6 11l-6 11l-6-11Z"/>')
    return f'<svg class="lightbar" viewBox="0 0 {wide:.0f} 50" width="{wide:.0f}" height="50" aria-hidden="true">{"".join(marks)}</svg>'


def ahead_svg(found: Ahead, top_cm: float, today: date, system: str) -> str:
    """The tallest tips and the lamp in the days to come: where it goes up, and where there is no room left."""
    if len(found.tips_cm) < 2:
        return ""
    days, high = len(found.tips_cm) - 1, 130.0
    most = max(top_cm if top_cm < 100 else 0.0, *found.lamp_cm, *found.tips_cm) + 3
    x = lambda k: LEFT + k / days * (WIDTH - LEFT - RIGHT - 12)  # noqa: E731
    y = lambda cm: 12 + high * (1 - cm / most)  # noqa: E731
    ground = " ".join(f"L{x(k):.1f} {y(cm):.1f}" for k, cm in enumerate(found.tips_cm))
    out = [f'<path class="tips" d="M{x(0):.1f} {y(0):.1f}{ground}L{x(days):.1f} {y(0):.1f}Z"/>']
    if top_cm < 100:
        out.append(
            f'<path class="roof" d="M{x(0):.1f} {y(top_cm):.1f}H{x(days):.1f}"/><text class="s" x="{x(0) + 4:.1f}" y="{y(top_cm) - 4:.1f}">as high as it can hang</text>'
        )
    line = f"M{x(0):.1f} {y(found.lamp_cm[0]):.1f}" + "".join(
        f"H{x(k):.1f}V{y(found.lamp_cm[k]):.1f}" for k in range(1, days + 1)
    )
    out.append(f'<path class="lampline" d="{line}"/>')
    last = -RAISE_WORDS
    for up in found.raises:
        k = (up.on - today).days
        if x(k) - last < RAISE_WORDS:
            continue
        last = x(k)
        label = f"{say.weekday(up.on)[:3]}: {say.amount(up.by_cm, 'cm', system, 1)} up"
        end = k > days - 3
        at = f'x="{x(k) + (-4 if end else 4):.1f}" y="{y(up.to_cm) + 15:.1f}" text-anchor="{"end" if end else "start"}"'
        out.append(f'<text class="t halo" {at}>{label}</text>')
    if found.no_room is not None:
        k = (found.no_room - today).days
        anchor = "end" if k > days / 2 else "start"
        out.append(
            f'<path class="full" d="M{x(k):.1f} {y(top_cm if top_cm < 100 else most):.1f}V{y(0):.1f}"/>'
            f'<text class="t al halo" x="{x(k) + (-5 if anchor == "end" else 5):.1f}" y="{y(0) - 24:.1f}" text-anchor="{anchor}">'
            f"{say.short_day(found.no_room)}: no room left</text>"
        )
    for k in range(0, days + 1, 2):
        every = "" if k % 4 == 0 else " wideonly"
        out.append(
            f'<text class="s{every}" x="{x(k):.1f}" y="{y(0) + 16:.1f}" text-anchor="{"start" if k == 0 else "middle"}">{"today" if k == 0 else say.short_day(today + timedelta(days=k))}</text>'
        )
    out.append(
        f'<text class="s halo" x="{x(days) - 4:.1f}" y="{y(0) - 6:.1f}" text-anchor="end">tips of {escape(found.name)}</text>'
    )
    said = (
        "; ".join(f"{say.day(up.on)} {say.amount(up.by_cm, 'cm', system)} up" for up in found.raises)
        or "no raise in a fortnight"
    )
    return f'<svg class="lampahead" viewBox="0 0 {WIDTH} {high + 36:.0f}" width="{WIDTH}" height="{high + 36:.0f}" role="img" aria-label="The lamp in the coming days: {said}">{"".join(out)}</svg>'


def most_of(got: Sequence[Got]) -> float:
    """The end of the axis of all bars [mol]."""
    return max([20.0, *(1.3 * g.stand.band.high for g in got), *(1.1 * g.dli for g in got)])


def had_svg(dli: Sequence[float], start: date, item: Item, system: str) -> str:
    """A batch's light day by day as ground over the line, against its band; days of which nobody knows are left out."""
    wide, high, left = 420.0, 92.0, 34.0
    bands = [band(item.crop, 0.0), band(item.crop, 9.0)]
    most = max(20.0, *(1.1 * float(v) for v in dli if v == v), 1.2 * bands[1].high) if len(dli) else 20.0
    step = (wide - left - 6) / max(1, len(dli))
    y = lambda v: high - v / most * (high - 8)  # noqa: E731
    out = [
        f'<rect class="right" x="{left}" y="{y(bands[1].high):.1f}" width="{wide - left - 6:.1f}" height="{y(bands[1].low) - y(bands[1].high):.1f}"/>'
    ]
    for k, v in enumerate(dli):
        if v == v:
            kind = "lack" if v < bands[0].low else "has"
            out.append(
                f'<rect class="{kind}" x="{left + k * step:.1f}" y="{y(float(v)):.1f}" width="{max(1.0, step - 1):.1f}" height="{high - y(float(v)):.1f}"/>'
            )
    for value in (0, round(bands[1].low), round(bands[1].high)):
        out.append(f'<text class="s" x="{left - 6}" y="{y(value) + 4:.1f}" text-anchor="end">{value}</text>')
    out.append(
        f'<path class="soil" d="M{left} {high}H{wide - 6}"/><text class="s" x="{left}" y="{high + 15}">{say.short_day(start)}</text>'
    )
    out.append(f'<text class="s" x="{wide - 6}" y="{high + 15}" text-anchor="end">today</text>')
    return f'<svg class="lighthad" viewBox="0 0 {wide:.0f} {high + 20:.0f}" width="{wide:.0f}" height="{high + 20:.0f}" role="img" aria-label="Light of each day since it is up, mol; the band is what it wants">{"".join(out)}</svg>'
