"""The bench from the front, to scale: racks and their shelves, sills, porch and frame, what stands there as high as it is today."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape
from typing import NamedTuple

from aestiva.bench.front_things import BOARD, Words, gap_svg, no_room_svg, thing_svg
from aestiva.bench.silhouettes import DEFS
from aestiva.bench.things import Bench, PlaceStanding
from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.season.models import Spot
from growing.place.kinds import DAYLIT, GLAZED, SURFACES

WIDTH = 800
GAP, CODE, FEET, HEAD, WORDS = 16, 46, 8, 24, 32  # px
LEAST_SCALE, MOST_SCALE, HIGHEST = 0.8, 1.9, 320.0  # px a cm; of the racks as drawn [px]
MOST_RACKS = 3  # beside each other
MOST_WIDE_CM, MOST_CLEAR_CM, MOST_ALONE_CM = (
    200.0,
    60.0,
    26.0,
)  # of a place as drawn; what is wider or higher is cut off
MAT_PX = 6.0
STACK = 130.0  # px by which places on top of each other may be higher than the racks


class _Unit(NamedTuple):
    """A rack or a place by itself, and its size as drawn [px]."""

    head: Spot
    boards: list[PlaceStanding]
    width: float
    height: float


def front_svg(bench: Bench, reader: Reader, addresses: dict[int, str]) -> str:
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
            drawn.append(_unit(unit, x, y, scale, reader, addresses))
            y += unit.height + GAP
        band = max(band, y - GAP - below)
        x += wide + GAP
    high = below + band
    return (
        f'<svg class="front" viewBox="0 0 {WIDTH} {high:.0f}" width="{WIDTH}" height="{high:.0f}" role="group"'
        f' aria-label="The bench from the front, to scale" data-scale="{scale:.4f}">{DEFS}{"".join(drawn)}</svg>'
    )


def _units(bench: Bench) -> list[_Unit]:
    """Racks with their shelves from above, then places by themselves; what lies on mats is drawn on their shelf."""
    shelves: dict[int, list[PlaceStanding]] = {}
    alone: list[PlaceStanding] = []
    for pk in bench.order:
        one = bench.places[pk]
        parent = bench.places.get(one.spot.parent_id or 0)
        if one.spot.kind == "rack":
            shelves.setdefault(pk, [])
        elif parent is not None and parent.spot.kind == "rack":
            shelves.setdefault(parent.spot.pk, []).append(one)
        elif one.spot.kind == "mat" and parent is not None:
            continue
        elif (
            one.here
            or (one.size_said and one.spot.kind != "tunnel")
            or (one.spot.kind in SURFACES and one.spot.kind != "tunnel")
        ):
            alone.append(one)
    racks = [_Unit(bench.places[pk].spot, boards, 0, 0) for pk, boards in shelves.items() if boards]
    empty = [bench.places[pk] for pk, boards in shelves.items() if not boards and bench.places[pk].here]
    return racks + [_Unit(one.spot, [one], 0, 0) for one in [*alone, *empty]]


def _wide(one: PlaceStanding) -> float:
    """Its length as drawn [cm]."""
    return min(one.wide_cm, MOST_WIDE_CM)


def _clear(one: PlaceStanding) -> float:
    """What is free above it as drawn [cm]."""
    return min(one.clear_cm, MOST_CLEAR_CM if one.spot.kind == "shelf" else MOST_ALONE_CM)


def _sized(unit: _Unit, scale: float) -> _Unit:
    wide = max(_wide(b) for b in unit.boards) * scale + CODE + 2 * BOARD
    if unit.head.kind == "rack":
        return unit._replace(width=wide, height=HEAD + FEET + sum(_cell(b, scale) for b in unit.boards))
    return unit._replace(width=wide, height=HEAD + _cell(unit.boards[0], scale) + 2)


def _cell(one: PlaceStanding, scale: float) -> float:
    """Height of a shelf as drawn: what is free above the board, the board, and the words under it."""
    return _clear(one) * scale + BOARD + WORDS


def _columns(units: Sequence[_Unit]) -> list[list[_Unit]]:
    """A rack is a column; places by themselves are stacked as high as the racks."""
    racks = [[u] for u in units if u.head.kind == "rack"]
    high = max([260.0, *(u.height + STACK for column in racks for u in column)])
    columns: list[list[_Unit]] = []
    for unit in (u for u in units if u.head.kind != "rack"):
        last = columns[-1] if columns else None
        if last is not None and sum(u.height + GAP for u in last) + unit.height <= high + GAP:
            last.append(unit)
        else:
            columns.append([unit])
    return racks + columns


def _unit(unit: _Unit, x: float, y: float, scale: float, reader: Reader, addresses: dict[int, str]) -> str:
    """A rack with its shelves, or one place."""
    rack = unit.head.kind == "rack"
    wide = max(_wide(b) for b in unit.boards) * scale
    left = x + CODE + BOARD
    said = escape(_about(unit, reader))
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
        out.append(_board(board, left, top, scale, wide, reader, addresses))
        top += _cell(board, scale)
    return "".join(out)


def _about(unit: _Unit, reader: Reader) -> str:
    spot = unit.head
    name = spot.name or spot.code
    parts = [name if name.casefold() != spot.code.casefold() else spot.code]
    if unit.head.kind != "rack" and spot.sun_h:
        parts.append(f"{say.number(spot.sun_h)} h of sun")
    if not unit.boards[0].size_said:
        parts.append("size not said")
    return ", ".join(parts)


def _board(
    one: PlaceStanding, left: float, top: float, scale: float, wide: float, reader: Reader, addresses: dict[int, str]
) -> str:
    """One place: what is above, what stands on it, the board, names under it."""
    floor = top + _clear(one) * scale
    own = _wide(one) * scale
    spot, out = one.spot, []
    if (spot.kind in DAYLIT and spot.kind not in GLAZED) or spot.lit == "window":
        out.append(
            f'<rect class="pane" x="{left:.1f}" y="{top + 2:.1f}" width="{own:.1f}" height="{floor - top - 2:.1f}" fill="url(#pane)"/>'
            f'<path class="pane" d="M{left + own / 2:.1f} {top + 2:.1f}V{floor:.1f}M{left:.1f} {(top + floor) / 2 - 8:.1f}h{own:.1f}"/>'
        )
    if spot.kind in GLAZED:
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
    words = Words(floor + BOARD + 13)
    for thing, at, ground in placed:
        out.append(thing_svg(thing, at, ground, scale, addresses, words, reader))
    over = [t for t, _, _ in on if t.rect is None]
    out.append(f'<rect class="wood" x="{left - 7:.1f}" y="{floor:.1f}" width="{own + 14:.1f}" height="{BOARD}"/>')
    out.append(words.drawn(left - 4, left + own - (100 if over else 0)))
    if over and one.size_said:
        out.append(no_room_svg(over, left, own, floor, scale, addresses, reader))
    elif over:  # nobody gave its size: what is not drawn is in the list
        out.append(
            f'<text class="s halo" x="{left + own:.1f}" y="{floor + BOARD + 13:.1f}" text-anchor="end">and {len(over)} more</text>'
        )
    out.append(_code(one, left - BOARD - CODE + 2, floor, reader))
    out.append(
        gap_svg(placed, scale, lamp if lamp is not None else top, reader, lamp is None and one.clear_cm > _clear(one))
    )
    return "".join(out)


def _drop(one: PlaceStanding, left: float, top: float, own: float, floor: float) -> str:
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


def _code(one: PlaceStanding, x: float, floor: float, reader: Reader) -> str:
    """The place's short name on a plate, and what its mat is set to."""
    out = [
        f'<rect class="plate" x="{x:.1f}" y="{floor - 9:.1f}" width="{CODE - 8}" height="18" rx="3"/>'
        f'<text class="t" x="{x + (CODE - 8) / 2:.1f}" y="{floor + 4.3:.1f}" text-anchor="middle">{escape(one.spot.code[:6])}</text>'
    ]
    warm = [one.spot] if one.spot.heated in ("mat", "thermostat") else [m.spot for m in one.mats]
    if warm:
        set_c = next((s.set_c for s in warm if s.set_c), None)
        words = ["mat"] + ([say.degrees(set_c, reader, 0)] if set_c else [])
        for k, word in enumerate(reversed(words)):
            out.append(
                f'<text class="t warm" x="{x + (CODE - 8) / 2:.1f}" y="{floor - 15 - k * 13:.1f}" text-anchor="middle">{word}</text>'
            )
    return "".join(out)
