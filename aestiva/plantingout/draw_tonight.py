"""The beds this evening: hoops over what is to be covered, leaves where they bear it."""

from __future__ import annotations

from html import escape

from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.light.draw import label
from aestiva.plantingout.tonight import BedLine, Tonight
from growing.place.covers import COVERS

WIDE, HIGH, SOIL, MOST = 700.0, 136.0, 92.0, 6
SLOT = 232.0


def beds_svg(found: Tonight, reader: Reader) -> str:
    """Up to six plantings side by side, those to be covered first."""
    lines = found.lines[:MOST]
    if not lines:
        return ""
    rows = (len(lines) + 2) // 3
    high = HIGH * rows
    out = []
    for n, line in enumerate(lines):
        x, y = 4 + (n % 3) * SLOT, (n // 3) * HIGH
        out.append(f'<path class="ground" d="M{x:.0f} {y + SOIL:.0f}H{x + SLOT - 16:.0f}"/>')
        out.append(label(x, y + 14, escape(f"{line.plants} · {line.item.full_name}"[:30]), "b"))
        out.append(label(x, y + 31, escape(line.code or "no bed"), "s"))
        out += _safe(x, y) if line.safe else _hoops(x, y)
        out.append(label(x, y + 112, escape(words(line, reader)), "s" if line.safe else "t cold"))
    said = "; ".join(f"{line.plants} {line.item.full_name}, {line.code}: {words(line, reader)}" for line in lines)
    size = f'viewBox="0 0 {WIDE:.0f} {high:.0f}" width="{WIDE:.0f}" height="{high:.0f}"'
    return f'<svg class="bedsnight" {size} role="img" aria-label="{escape(said)}">{"".join(out)}</svg>'


def _hoops(x: float, y: float) -> list[str]:
    base = y + SOIL
    out = []
    for k in range(4):
        a = x + k * 52
        out.append(
            f'<path class="hoop" d="M{a:.0f} {base:.0f}C{a + 6:.0f} {base - 50:.0f} {a + 46:.0f} {base - 50:.0f} {a + 52:.0f} {base:.0f}"/>'
        )
        out.append(
            f'<path class="leaf" d="M{a + 26:.0f} {base:.0f}c-11-4-12-13-9-17c8 3 10 9 9 17c-1-9 2-15 9-17c3 5 1 13-9 17Z"/>'
        )
        out.append(f'<path class="peg" d="M{a:.0f} {base - 2:.0f}v8"/>')
    return out


def _safe(x: float, y: float) -> list[str]:
    base = y + SOIL
    return [
        f'<path class="leaf" d="M{x + 8 + k * 18:.0f} {base:.0f}c-9-3-9-10-7-13c6 2 8 7 7 13c0-7 2-11 7-13c2 4 1 10-7 13Z"/>'
        for k in range(11)
    ]


def words(line: BedLine, reader: Reader) -> str:
    """“8 m of fleece, 30 g, 18 pegs”, “none: they bear −4°”."""
    if line.safe:
        return f"none: a warning from {say.degrees(line.told_c, reader)}"
    if not line.cover:
        return "no cover is enough: two layers, or buckets"
    if not line.length_cm:
        return f"{line.plants} cloches"
    return f"{say.amount(line.length_cm / 100, 'm', reader, 0)} of {COVERS[line.cover].name}"
