"""The bench from the front, to scale: racks and their shelves, sills, porch and frame, what stands there as high as it is today."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape
from math import cos, radians, sin
from typing import NamedTuple

from aestiva.beds.picture import habit_of
from aestiva.bench.things import Bench, Standing, Thing
from aestiva.frame import say
from aestiva.season.models import Spot
from growing.bench.cells import FLAT_WIDTH_CM

WIDTH = 800
GAP, CODE, BOARD, FEET, HEAD, WORDS = 16, 46, 5, 8, 24, 32  # px
LEAST_SCALE, MOST_SCALE, HIGHEST = 0.8, 1.9, 320.0  # px a cm; of the racks as drawn [px]
MOST_RACKS = 3  # beside each other
MOST_WIDE_CM, MOST_CLEAR_CM, MOST_ALONE_CM = (
    200.0,
    60.0,
    26.0,
)  # of a place as drawn; what is wider or higher is cut off
PLANT_CM = 6.0  # between plants as drawn
CHAR = 6.1  # px of a letter
SOON = 7  # days until it touches that are said aloud
MAT_PX = 6.0


def _leaf(x: float, y: float, lean: float, long: float, wide: float) -> str:
    a = radians(lean)
    tx, ty, mx, my = x + long * sin(a), y - long * cos(a), x + long * 0.5 * sin(a), y - long * 0.5 * cos(a)
    px, py = wide * cos(a), wide * sin(a)
    return (
        f"M{x:.2f} {y:.2f}Q{mx + px:.2f} {my + py:.2f} {tx:.2f} {ty:.2f}Q{mx - px:.2f} {my - py:.2f} {x:.2f} {y:.2f}Z"
    )


def _pair(y: float, lean: float, long: float, wide: float) -> str:
    return _leaf(0, y, lean, long, wide) + _leaf(0, y, -lean, long, wide)


PLANTS = {  # in a box one high, from the ground up; leaves, and the stem as a line
    "blade": (_leaf(0, 0, -14, 0.8, 0.05) + _leaf(0, 0, 0, 1, 0.055) + _leaf(0, 0, 16, 0.78, 0.05), ""),
    "rosette": (_pair(0, 70, 0.95, 0.3) + _pair(0, 38, 1.05, 0.3) + _leaf(0, 0, 0, 1, 0.3), ""),
    "bush": (_pair(-0.4, 78, 0.38, 0.1) + _pair(-0.62, 48, 0.5, 0.17) + _leaf(0, -0.7, 0, 0.3, 0.1), "M0 0V-.75"),
    "spire": (
        "".join(_pair(-f, 62 - 30 * f, 0.36 - 0.2 * f, 0.085) for f in (0.22, 0.44, 0.64, 0.82))
        + _leaf(0, -0.84, 0, 0.16, 0.06),
        "M0 0V-.9",
    ),
    "sprout": (_pair(-0.62, 60, 0.8, 0.22), "M0 0V-.7"),
}
GREENS = {"blade": "#7fa67c", "rosette": "#a9c77f", "bush": "#6f9d57", "spire": "#7ea765", "sprout": "#b7cf95"}
SPROUT_LEAVES = 0.8

HATCH = (  # what does not fit, or is too small
    '<pattern id="over" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    '<rect width="6" height="6" fill="#f6dcd4"/><rect width="2.4" height="6" fill="#9d3524"/></pattern>'
)
_DEFS = (
    f"<defs>{HATCH}"
    '<pattern id="warm" width="8" height="6" patternUnits="userSpaceOnUse"><rect width="8" height="6" fill="#f0bd78"/>'
    '<path d="M-1 4.4Q2 -.6 4 3T9 1.6" fill="none" stroke="#a24f1c" stroke-width="1.5"/></pattern>'
    '<linearGradient id="fall" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#f6cf6b" stop-opacity=".8"/>'
    '<stop offset="1" stop-color="#fbeecb" stop-opacity=".3"/></linearGradient>'
    '<linearGradient id="pane" x1="0" x2="0" y1="0" y2="1"><stop offset="0" stop-color="#c3d9e5"/><stop offset="1" stop-color="#f7f3e4"/>'
    "</linearGradient>"
    + "".join(
        f'<symbol id="f-{kind}" overflow="visible"><path d="{leaves}" vector-effect="non-scaling-stroke"/>'
        + (f'<path class="stem" d="{stem}" vector-effect="non-scaling-stroke"/>' if stem else "")
        + "</symbol>"
        for kind, (leaves, stem) in PLANTS.items()
    )
    + "</defs>"
)


class _Unit(NamedTuple):
    """A rack or a place by itself, and its size as drawn [px]."""

    head: Spot
    boards: list[Standing]
    width: float
    height: float


def front_svg(bench: Bench, system: str, addresses: dict[int, str], size: tuple[str, str] | None = None) -> str:
    """All places that have a size or hold something; addresses: by tray."""
    units = _units(bench)
    if not units:
        return ""
    racks = [u for u in units if u.head.kind == "rack"]
    widest = max((_wide(u.boards[0]) for u in units if u.head.kind != "rack"), default=0.0)
    tall = max((sum(_clear(b) for b in u.boards) for u in racks), default=100.0)
    across = sum(_wide(u.boards[0]) for u in racks[:MOST_RACKS])
    beside = min(len(racks), MOST_RACKS) + (1 if widest else 0)
    room = WIDTH - 12 - beside * (CODE + 2 * BOARD) - (beside - 1) * GAP
    scale = max(LEAST_SCALE, min(MOST_SCALE, HIGHEST / tall, room / max(across + widest, 60.0)))
    columns = _columns([_sized(u, scale) for u in units])
    drawn, x, band, below = [], 0.0, 0.0, 0.0
    for column in columns:
        wide = max(u.width for u in column)
        if x and x + wide > WIDTH + 1:
            x, below = 0.0, below + band + GAP
            band = 0.0
        y = below
        for unit in column:
            drawn.append(_unit(unit, x, y, scale, system, addresses))
            y += unit.height + GAP
        band = max(band, y - GAP - below)
        x += wide + GAP
    high = below + band
    wide_, high_ = size or (f"{WIDTH}", f"{high:.0f}")
    return (
        f'<svg class="front" viewBox="0 0 {WIDTH} {high:.0f}" width="{wide_}" height="{high_}" role="group"'
        f' aria-label="The bench from the front, to scale" data-scale="{scale:.4f}">{_DEFS}{"".join(drawn)}</svg>'
    )


def _units(bench: Bench) -> list[_Unit]:
    """Racks with their shelves from above, then places by themselves; what lies on mats is drawn on their shelf."""
    shelves: dict[int, list[Standing]] = {}
    alone: list[Standing] = []
    for pk in bench.order:
        one = bench.places[pk]
        parent = bench.places.get(one.spot.parent_id or 0)
        if one.spot.kind == "rack":
            shelves.setdefault(pk, [])
        elif parent is not None and parent.spot.kind == "rack":
            shelves.setdefault(parent.spot.pk, []).append(one)
        elif one.spot.kind == "mat" and parent is not None:
            continue
        elif one.here or (one.size_said and one.spot.kind != "tunnel") or one.spot.kind not in ("room", "tunnel"):
            alone.append(one)
    racks = [_Unit(bench.places[pk].spot, boards, 0, 0) for pk, boards in shelves.items() if boards]
    empty = [bench.places[pk] for pk, boards in shelves.items() if not boards and bench.places[pk].here]
    return racks + [_Unit(one.spot, [one], 0, 0) for one in [*alone, *empty]]


def _wide(one: Standing) -> float:
    """Its length as drawn [cm]."""
    return min(one.wide_cm, MOST_WIDE_CM)


def _clear(one: Standing) -> float:
    """What is free above it as drawn [cm]."""
    return min(one.clear_cm, MOST_CLEAR_CM if one.spot.kind == "shelf" else MOST_ALONE_CM)


def _sized(unit: _Unit, scale: float) -> _Unit:
    wide = max(_wide(b) for b in unit.boards) * scale + CODE + 2 * BOARD
    if unit.head.kind == "rack":
        return unit._replace(width=wide, height=HEAD + FEET + sum(_cell(b, scale) for b in unit.boards))
    return unit._replace(width=wide, height=HEAD + _cell(unit.boards[0], scale) + 2)


def _cell(one: Standing, scale: float) -> float:
    """Height of a shelf as drawn: what is free above the board, the board, and the words under it."""
    return _clear(one) * scale + BOARD + WORDS


def _columns(units: Sequence[_Unit]) -> list[list[_Unit]]:
    """A rack is a column; places by themselves are stacked as high as the racks."""
    racks = [[u] for u in units if u.head.kind == "rack"]
    high = max([260.0, *(u.height + 60 for column in racks for u in column)])
    columns: list[list[_Unit]] = []
    for unit in (u for u in units if u.head.kind != "rack"):
        last = columns[-1] if columns else None
        if last is not None and sum(u.height + GAP for u in last) + unit.height <= high + GAP:
            last.append(unit)
        else:
            columns.append([unit])
    return racks + columns


def _unit(unit: _Unit, x: float, y: float, scale: float, system: str, addresses: dict[int, str]) -> str:
    """A rack with its shelves, or one place."""
    rack = unit.head.kind == "rack"
    wide = max(_wide(b) for b in unit.boards) * scale
    left = x + CODE + BOARD
    said = escape(_about(unit, system))
    out = [f'<text class="s" x="{x + (0 if rack else CODE):.1f}" y="{y + 12:.1f}">{said}</text>']
    top = y + HEAD
    if rack:
        for px in (left - BOARD, left + wide):
            out.append(
                f'<rect class="wood" x="{px:.1f}" y="{top:.1f}" width="{BOARD}" height="{unit.height - HEAD:.1f}"/>'
            )
        out.append(
            f'<rect class="wood" x="{left - 7:.1f}" y="{top - 3:.1f}" width="{wide + 14:.1f}" height="{BOARD}"/>'
        )
    for board in unit.boards:
        out.append(_board(board, left, top, scale, wide, system, addresses))
        top += _cell(board, scale)
    return "".join(out)


def _about(unit: _Unit, system: str) -> str:
    spot = unit.head
    name = spot.name or spot.code
    parts = [name if name.casefold() != spot.code.casefold() else spot.code]
    if unit.head.kind != "rack" and spot.sun_h:
        parts.append(f"{say.number(spot.sun_h)} h of sun")
    if not unit.boards[0].size_said:
        parts.append("size not said")
    return ", ".join(parts)


def _board(
    one: Standing, left: float, top: float, scale: float, wide: float, system: str, addresses: dict[int, str]
) -> str:
    """One place: what is above, what stands on it, the board, names under it."""
    floor = top + _clear(one) * scale
    own = _wide(one) * scale
    spot, out = one.spot, []
    if spot.kind in ("sill", "porch") or spot.lit == "window":
        out.append(
            f'<rect class="pane" x="{left:.1f}" y="{top + 2:.1f}" width="{own:.1f}" height="{floor - top - 2:.1f}" fill="url(#pane)"/>'
            f'<path class="pane" d="M{left + own / 2:.1f} {top + 2:.1f}V{floor:.1f}M{left:.1f} {(top + floor) / 2 - 8:.1f}h{own:.1f}"/>'
        )
    if spot.kind in ("frame", "tunnel"):
        out.append(
            f'<rect x="{left:.1f}" y="{top:.1f}" width="{own:.1f}" height="{floor - top:.1f}" fill="#f1e8d6"/>'
            f'<path d="M{left - 6:.1f} {top:.1f}h{own + 12:.1f}v-6h-{own + 12:.1f}Z" fill="#dfeaf0" stroke="#22302a"/>'
        )
    lamp = floor - spot.lamp_cm * scale if spot.lit == "lamp" and spot.lamp_cm else None
    if lamp is not None:
        out.append(
            f'<path d="M{left + 4:.1f} {lamp:.1f}H{left + own - 4:.1f}L{left + own:.1f} {floor:.1f}H{left:.1f}Z" fill="url(#fall)"/>'
            f'<path class="hanger" d="M{left + 9:.1f} {top + 2:.1f}V{lamp - 4:.1f}M{left + own - 9:.1f} {top + 2:.1f}V{lamp - 4:.1f}"/>'
            f'<path class="lamp" d="M{left + 4:.1f} {lamp - 4.5:.1f}H{left + own - 4:.1f}v4q0 2 -5 2H{left + 4:.1f}Z"/>'
        )
    for mat in one.mats:
        mx = left + (mat.spot.x_cm or 0.0) * scale
        out.append(
            f'<rect class="mat" x="{mx:.1f}" y="{floor - MAT_PX:.1f}" width="{mat.wide_cm * scale:.1f}" height="{MAT_PX}" fill="url(#warm)"/>'
        )
    if spot.kind == "mat" or spot.heated in ("mat", "thermostat"):
        out.append(
            f'<rect class="mat" x="{left:.1f}" y="{floor - MAT_PX:.1f}" width="{own:.1f}" height="{MAT_PX}" fill="url(#warm)"/>'
        )
    out.append(_drop(one, left, top, own, floor))
    lifted = MAT_PX if spot.heated in ("mat", "thermostat") else 0.0
    on = [(t, left, floor - lifted) for t in one.things]
    on += [(t, left + (m.spot.x_cm or 0.0) * scale, floor - MAT_PX) for m in one.mats for t in m.things]
    placed = sorted((o for o in on if o[0].rect is not None), key=lambda o: -(o[0].rect.y if o[0].rect else 0))
    words = _Words(floor + BOARD + 13)
    for thing, at, ground in placed:
        out.append(_thing(thing, at, ground, scale, addresses, words, system))
    over = [t for t, _, _ in on if t.rect is None]
    out.append(f'<rect class="wood" x="{left - 7:.1f}" y="{floor:.1f}" width="{own + 14:.1f}" height="{BOARD}"/>')
    out.append(words.drawn(left - 4, left + own - (100 if over else 0)))
    if over and one.size_said:
        out.append(_no_room(over, left, own, floor, scale, addresses, system))
    elif over:  # nobody gave its size: what is not drawn is in the list
        out.append(
            f'<text class="s halo" x="{left + own:.1f}" y="{floor + BOARD + 13:.1f}" text-anchor="end">and {len(over)} more</text>'
        )
    out.append(_code(one, left - BOARD - CODE + 2, floor, system))
    out.append(
        _gap(placed, scale, lamp if lamp is not None else top, system, lamp is None and one.clear_cm > _clear(one))
    )
    return "".join(out)


def _drop(one: Standing, left: float, top: float, own: float, floor: float) -> str:
    """Where something held can be put down; mats are places of their own."""
    out = []
    for spot, x, wide in [
        (one.spot, left, own),
        *((m.spot, left + (m.spot.x_cm or 0.0) / _wide(one) * own, m.wide_cm / _wide(one) * own) for m in one.mats),
    ]:
        out.append(
            f'<rect class="drop" data-spot="{spot.pk}" data-code="{escape(spot.code)}" data-left="{x:.1f}" x="{x:.1f}" y="{top + 2:.1f}"'
            f' width="{wide:.1f}" height="{floor - top + BOARD:.1f}"/>'
        )
    return "".join(out)


class _Words:
    """Names under a board, as many as have room beside each other."""

    def __init__(self, y: float) -> None:
        self.y = y
        self.found: list[tuple[float, str, bool]] = []

    def add(self, middle: float, name: str, soon: bool) -> None:
        self.found.append((middle, name, soon))

    def drawn(self, first: float, last: float) -> str:
        """first, last: between which they may stand [px]."""
        out, ends = [], [first, first]
        names: list[tuple[float, str, bool]] = []
        for middle, name, soon in sorted(self.found):
            if names and names[-1][1] == name and not soon:
                before = names.pop()
                names.append(((before[0] + middle) / 2, name, before[2]))
            else:
                names.append((middle, name, soon))
        for middle, name, soon in names:
            half = len(name) * CHAR / 2
            at = min(max(middle, first + half), last + 14 - half)
            row = next((n for n, end in enumerate(ends) if at - half >= end), None)
            if row is None:
                continue
            ends[row] = at + half + 5
            out.append(
                f'<text class="{"t al" if soon else "s"}" x="{at:.1f}" y="{self.y + 12 * row:.1f}" text-anchor="middle">{escape(name)}</text>'
            )
        return "".join(out)


def _short(thing: Thing) -> str:
    names = thing.names
    if not names:
        return thing.name
    return names[0] if len(names) == 1 else f"{names[0]} +{len(names) - 1}"


def _said(thing: Thing, system: str) -> str:
    """What a thing is, in words."""
    names = say.listed(thing.names, 4) if thing.names else "empty"
    where = f" at {thing.spot.code}" if thing.spot is not None else ""
    tall = f", {say.amount(thing.growth.height_cm, 'cm', system, 0)} high" if thing.growth.height_cm >= 0.5 else ""
    return f"{thing.tray.code}, {names}{where}{tall}" if thing.tray is not None else f"{names}{where}{tall}"


def _soon(thing: Thing) -> bool:
    return thing.headroom is not None and thing.headroom.days is not None and thing.headroom.days <= SOON


def _thing(
    thing: Thing, left: float, ground: float, scale: float, addresses: dict[int, str], words: _Words, system: str
) -> str:
    """A tray or pots from the front, with plants."""
    assert thing.rect is not None
    x, wide = left + thing.rect.x * scale, thing.rect.length * scale - 1.5
    behind = thing.rect.y > FLAT_WIDTH_CM / 2
    high = max(5.0, thing.depth_cm * scale)
    base = ground - (3.5 if behind else 0.0)
    top = base - high
    pots = thing.pots
    count = max(2, min(9, int(wide / scale / PLANT_CM)))
    step = wide / count
    out = [_plants(thing, x, top, wide, count, scale)]
    if pots or (thing.tray is None):
        for i in range(count):
            a, b = x + step * i + 0.8, x + step * (i + 1) - 0.8
            out.append(f'<path class="pot" d="M{a:.1f} {top:.1f}H{b:.1f}L{b - 2:.1f} {base:.1f}H{a + 2:.1f}Z"/>')
    else:
        out.append(
            f'<path class="pot" d="M{x:.1f} {top:.1f}h{wide:.1f}l-1.6 {high:.1f}h{3.2 - wide:.1f}Z"/>'
            f'<path class="rim" d="M{x:.1f} {top:.1f}h{wide:.1f}"/>'
        )
    if thing.lidded:
        lid = 12.0 * scale
        out.append(
            f'<path class="lid" d="M{x - 1:.1f} {top:.1f}v{-lid + 6:.1f}q0 -6 7 -6h{wide - 12:.1f}q7 0 7 6v{lid - 6:.1f}"/>'
        )
    name = escape(_said(thing, system))
    soon = _soon(thing)
    words.add(x + wide / 2, _short(thing), soon)
    hit = f'<rect class="hit" x="{x:.1f}" y="{min(top - 10, base - 26):.1f}" width="{wide:.1f}" height="{max(base - top + 10, 26):.1f}"/>'
    classes = "thing" + (" soon" if soon else "") + (" behind" if behind else "")
    if thing.tray is None:
        batch = thing.parts[0].batch if thing.parts else 0
        return f'<a class="{classes}" href="{addresses.get(-batch, "")}" aria-label="{name}">{"".join(out)}{hit}</a>'
    pk = thing.tray.pk
    return (
        f'<a class="{classes}" href="{addresses.get(pk, "")}" aria-label="{name}" data-tray="{pk}" data-revision="{thing.tray.revision}"'
        f' data-x="{x:.1f}" data-base="{base:.1f}" data-wide="{wide:.1f}" data-name="{escape(thing.name)}"'
        f' data-spot="{thing.spot.pk if thing.spot else ""}">{"".join(out)}{hit}</a>'
    )


def _plants(thing: Thing, x: float, top: float, wide: float, count: int, scale: float) -> str:
    """Each batch over its share of the width, as high as it is."""
    parts = [p for p in thing.parts if p.item is not None]
    if not parts:
        return ""
    whole = sum(max(1, len(p.cells) or p.standing) for p in parts)
    out, left = [], x
    for part in parts:
        share = max(1, len(part.cells) or part.standing) / whole * wide
        if part.growth.height_cm > 0:
            assert part.item is not None
            kind = "sprout" if part.growth.leaves < SPROUT_LEAVES else habit_of(part.item.crop)
            high = max(3.5, part.growth.height_cm * scale)
            fill = GREENS[kind]
            spread = min(high, share / max(1, round(count * share / wide)) * 0.75)
            number = max(1, round(count * share / wide))
            for i in range(number):
                tip = high * (1 - 0.07 * ((i * 7) % 3))
                out.append(
                    f'<use href="#f-{kind}" fill="{fill}" transform="translate({left + share / number * (i + 0.5):.1f} {top + 1:.1f})'
                    f' scale({spread:.1f} {tip:.1f})"/>'
                )
        left += share
    return f'<g class="growth">{"".join(out)}</g>' if out else ""


def _no_room(
    over: list[Thing], left: float, own: float, floor: float, scale: float, addresses: dict[int, str], system: str
) -> str:
    """What is said to stand here and has no room: hatched, over the right edge."""
    out = []
    for n, thing in enumerate(over[:3]):
        wide = min(thing.length_cm, thing.width_cm) * scale * 0.5
        x, y = left + own + 4 - wide - n * (wide + 3), floor - 16
        name = escape(f"{_said(thing, system)}, no room here")
        href = addresses.get(
            thing.tray.pk if thing.tray is not None else -(thing.parts[0].batch if thing.parts else 0), ""
        )
        data = (
            f' data-tray="{thing.tray.pk}" data-revision="{thing.tray.revision}" data-name="{escape(thing.name)}"'
            f' data-x="{x:.1f}" data-base="{floor:.1f}" data-wide="{wide:.1f}" data-spot=""'
            if thing.tray is not None
            else ""
        )
        out.append(
            f'<a class="thing overflow" href="{href}" aria-label="{name}"{data}>'
            f'<path class="over" d="M{x:.1f} {y:.1f}h{wide:.1f}l-2 12h{4 - wide:.1f}Z" fill="url(#over)"/>'
            f'<rect class="hit" x="{x:.1f}" y="{y - 8:.1f}" width="{wide:.1f}" height="26"/></a>'
        )
    out.append(
        f'<text class="t al halo" x="{left + own:.1f}" y="{floor + BOARD + 13:.1f}" text-anchor="end">{len(over)} without room</text>'
    )
    return "".join(out)


def _code(one: Standing, x: float, floor: float, system: str) -> str:
    """The place's short name on a plate, and what its mat is set to."""
    out = [
        f'<rect class="plate" x="{x:.1f}" y="{floor - 9:.1f}" width="{CODE - 8}" height="18" rx="3"/>'
        f'<text class="t" x="{x + (CODE - 8) / 2:.1f}" y="{floor + 4.3:.1f}" text-anchor="middle">{escape(one.spot.code[:6])}</text>'
    ]
    warm = [one.spot] if one.spot.heated in ("mat", "thermostat") else [m.spot for m in one.mats]
    if warm:
        set_c = next((s.set_c for s in warm if s.set_c), None)
        words = ["mat"] + ([say.degrees(set_c, system, 0)] if set_c else [])
        for k, word in enumerate(reversed(words)):
            out.append(
                f'<text class="t warm" x="{x + (CODE - 8) / 2:.1f}" y="{floor - 15 - k * 13:.1f}" text-anchor="middle">{word}</text>'
            )
    return "".join(out)


def _gap(placed: list[tuple[Thing, float, float]], scale: float, ceiling: float, system: str, cut: bool) -> str:
    """The smallest distance between leaves and what hangs above them, and when it is used up."""
    known = [
        (t, left, ground)
        for t, left, ground in placed
        if t.headroom is not None and not t.lidded and t.growth.height_cm
    ]
    if not known:
        return ""
    thing, left, ground = min(known, key=lambda k: k[0].headroom.gap_cm if k[0].headroom else 0)
    assert thing.headroom is not None and thing.rect is not None
    tip = ground - (thing.depth_cm + thing.growth.height_cm) * scale
    x = left + (thing.rect.x + thing.rect.length / 2) * scale
    gap = say.amount(max(0.0, thing.headroom.gap_cm), "cm", system, 0)
    if cut and not _soon(thing):
        return ""
    if _soon(thing):
        days = thing.headroom.days or 0
        words = ("touches now",) if not days else (f"{gap},", f"touches in {say.plural(days, 'day')}")
        y = ceiling + 16
        lines = "".join(
            f'<text class="t al halo" x="{x + 13:.1f}" y="{y + k * 13:.1f}">{word}</text>'
            for k, word in enumerate(words)
        )
        return f'<path class="touch" d="M{x - 6:.1f} {ceiling + 5:.1f}h12M{x:.1f} {ceiling + 7:.1f}l5 8h-10Z"/>{lines}'
    return (
        f'<path class="gapline" d="M{x - 3:.1f} {ceiling + 3:.1f}h6M{x:.1f} {ceiling + 3:.1f}V{tip:.1f}M{x - 3:.1f} {tip:.1f}h6"/>'
        f'<text class="t halo" x="{x + 5:.1f}" y="{(ceiling + tip) / 2 + 5:.1f}">{gap}</text>'
    )
