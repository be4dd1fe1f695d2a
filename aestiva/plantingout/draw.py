"""Gates on a path, the days that a pot still holds, the worth of each day: drawn."""

from __future__ import annotations

from datetime import date
from html import escape

from aestiva.frame import say
from aestiva.plantingout.asked import GateRow
from growing.plantingout.gates import CLOSED, COVERED, EVENING, OPEN, UNKNOWN, GateTest
from growing.plantingout.worth import DAYS

PICKETS = "".join("v-13l2-4 2 4v13h-4Z m5.5 0" for _ in range(4))
NAMES = {
    "hardened": "hardened",
    "stage": "stage",
    "soil": "soil",
    "nights": "nights",
    "frost": "frost risk",
    "day": "wind, heat",
    "bed": "bed",
}
SAID = {
    OPEN: "open",
    CLOSED: "closed",
    COVERED: "opens under a cover",
    EVENING: "in the evening",
    UNKNOWN: "not known",
    "free": "no limit",
}
MOST_MARKS = 28


def gate_svg(gate: GateTest, way: str) -> str:
    """One gate between its posts.  way: the path at it ("on" trodden to here and through, "to" only up to it, "" not reached)."""
    posts = '<path class="post" d="M14 6h5v30h-5ZM55 6h5v30h-5Z"/>'
    if gate.state == CLOSED:
        leaf = f'<path class="pickets" d="M22 32{PICKETS}"/><path class="rail" d="M20 24H54M20 30H54"/>'
    elif gate.state == UNKNOWN:
        leaf = '<path class="rail dash" d="M20 24H54"/><text x="37" y="20" text-anchor="middle">?</text>'
    else:
        leaf = '<path class="pickets" d="M2 33l0-14 2-3 2 3 0 13ZM8 33v-15l2-3 2 3v14Z"/><path class="rail" d="M1 27L14 24"/>'
    cover = '<path class="hoop" d="M17 36V22C17-2 57-2 57 22V36"/>' if gate.state == COVERED else ""
    sun = '<path class="dusk" d="M27 24a10 10 0 0 1 20 0Z"/>' if gate.state == EVENING else ""
    path = {
        "on": '<path class="trod" d="M0 36H74V40H0Z"/>',
        "to": '<path class="trod" d="M0 36H17V40H0Z"/><path class="untrod" d="M17 37H74V39H17Z"/>',
    }
    ground = path.get(way, '<path class="untrod" d="M0 37H74V39H0Z"/>')
    return f'<svg class="gate g-{gate.state}" viewBox="0 0 74 42" width="74" height="42" aria-hidden="true">{ground}{cover}{posts}{leaf}{sun}</svg>'


def ways(row: GateRow) -> list[str]:
    """How far the path goes: through every gate up to the first that holds."""
    found, stopped = [], False
    for gate in row.gates:
        if stopped:
            found.append("")
        elif gate.state == CLOSED:
            found.append("to")
            stopped = True
        else:
            found.append("on")
    return found


def marks_svg(row: GateRow, today: date) -> str:
    """A mark for each day until its container's limit, those that waiting takes filled, those past it hatched."""
    left = (row.limit - today).days
    waits = 0 if row.verdict.until is None or row.verdict.kind != "wait" else (row.verdict.until - today).days
    count = min(MOST_MARKS, max(left, waits))
    out = []
    for n in range(count):
        kind = "over" if n >= left else "used" if n < waits else "left"
        out.append(f'<path class="{kind}" d="M{2 + n * 9} 2h6l-1 9h-4Z"/>')
    said = f"its pot holds {say.plural(max(0, left), 'day')}" + (
        f", waiting takes {say.plural(waits, 'day')}" if waits else ""
    )
    wide = MOST_MARKS * 9 + 4
    size = f'viewBox="0 0 {wide} 13" width="{wide}" height="13"'
    return f'<svg class="potmarks" {size} role="img" aria-label="{said}">{"".join(out)}</svg>'


def worth_svg(values: list[float], today: date, best: int) -> str:
    """Fourteen days as posts, as high as planting on each is worth; the day that the sum would choose is marked."""
    wide, high, foot = 700, 168, 132
    top = max([*values, 0.01])
    out = [f'<path class="ground" d="M10 {foot}H{wide - 10}"/>']
    for n, value in enumerate(values[:DAYS]):
        day = date.fromordinal(today.toordinal() + n)
        x, tall = 18 + n * 48, 96 * value / max(1.0, top)
        out.append(
            f'<rect class="worthpost{" best" if n == best else ""}" x="{x}" y="{foot - tall:.1f}" width="34" height="{tall:.1f}"/>'
        )
        out.append(
            f'<text class="t" x="{x + 17}" y="{foot - tall - 6:.1f}" text-anchor="middle">{round(100 * value)}</text>'
        )
        out.append(
            f'<text class="s" x="{x + 17}" y="{foot + 16}" text-anchor="middle">{say.weekday(day)[:3]} {day.day}</text>'
        )
        if n == best:
            out.append(f'<path class="pin" d="M{x + 17} {foot + 22}l6 9h-12Z"/>')
    said = "; ".join(
        f"{say.day(date.fromordinal(today.toordinal() + n))} {round(100 * v)}" for n, v in enumerate(values[:DAYS])
    )
    size = f'viewBox="0 0 {wide} {high}" width="{wide}" height="{high}"'
    label = escape("Worth of planting, of a hundred: " + said)
    return f'<svg class="worthline" {size} role="img" aria-label="{label}">{"".join(out)}</svg>'
