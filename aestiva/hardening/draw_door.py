"""The day as a strip: sun, warmth against the limit, wind, and each batch's outing as a bar under it."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import date
from html import escape

from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.hardening.door import DoorLine, hour_of, rung_said
from aestiva.hardening.draw import HATCH
from aestiva.hardening.ladders import DaySky
from aestiva.light.draw import label, rect
from growing.place.daylight import day_length_h

WIDE, LEFT, RIGHT = 366.0, 66.0, 362.0
BEGIN, END = 6.0, 22.0
HEAD, LANE = 178.0, 58.0
NOON = 13.0
Across = Callable[[float], float]


def _x(hour: float) -> float:
    return LEFT + (hour - BEGIN) / (END - BEGIN) * (RIGHT - LEFT)


def strip_svg(
    sky: DaySky | None, tmin_c: float | None, limit_c: float | None, hour: float | None, latitude: float, reader: Reader
) -> str:
    """The day's sun, warmth and wind over its hours.  hour: now by the garden's clock, None where it stands still."""
    out = []
    day = date(2001, 1, 1) if sky is None else sky.day
    half = day_length_h(latitude, day) / 2
    rise, fall = max(BEGIN, NOON - half), min(END, NOON + half)
    tall = HEAD - 24
    out += [
        rect(_x(BEGIN), 6, max(0.0, _x(rise) - _x(BEGIN)), tall, "dark"),
        rect(_x(fall), 6, max(0.0, _x(END) - _x(fall)), tall, "dark"),
    ]
    for y, words in ((18, "Sun"), (66, "Warmth"), (132, "Wind")):
        out.append(label(0, y, words, "b"))
    out.append(label(0, 147, say.amount(0, "km/h", reader).split(" ")[1]))
    if limit_c is not None:
        out.append(label(0, 81, f"limit {say.degrees(limit_c, reader, 0)}"))
    if sky is not None:
        out += _sun(sky, rise, fall, _x)
        out += _warmth(sky, tmin_c, limit_c, _x, reader)
        out += _wind(sky, _x, reader)
    else:
        out.append(label((LEFT + RIGHT) / 2, 66, "no forecast for today", "s", "middle"))
    out.append(f'<path class="ground" d="M0 {HEAD - 18:.0f}H{WIDE:.0f}"/>')
    for h in range(6, 23, 2):
        out.append(label(_x(h) - (6 if h == END else 0), HEAD - 4, str(h), "s", "middle"))
    out += _now(hour, HEAD)
    size = f'viewBox="0 0 {WIDE:.0f} {HEAD:.0f}" width="{WIDE:.0f}" height="{HEAD:.0f}"'
    return f'<svg class="doorstrip" {size} role="img" aria-label="{escape(_sky_said(sky, limit_c, reader))}">{"".join(out)}</svg>'


def lanes_svg(lines: list[DoorLine], hour: float | None) -> str:
    """A lane for each batch on the same hours: its steps, and its outing as a bar."""
    if not lines:
        return ""
    high = LANE * len(lines)
    out = [HATCH]
    for n, line in enumerate(lines):
        out += _lane(line, n * LANE, n, _x)
    out += _now(hour, high)
    said = "; ".join(f"{line.item.full_name} {line.begins} to {line.ends}, {rung_said(line)}" for line in lines)
    size = f'viewBox="0 0 {WIDE:.0f} {high:.0f}" width="{WIDE:.0f}" height="{high:.0f}"'
    return f'<svg class="doorstrip" {size} role="img" aria-label="{escape(said)}">{"".join(out)}</svg>'


def _now(hour: float | None, high: float) -> list[str]:
    inside = hour is not None and BEGIN <= hour <= END
    return [f'<path class="nowline" d="M{_x(hour):.1f} 2V{high - 2:.0f}"/>'] if inside and hour is not None else []


def _sky_said(sky: DaySky | None, limit_c: float | None, reader: Reader) -> str:
    if sky is None or sky.tmax_c is None:
        return "no forecast for today"
    parts = [f"up to {say.degrees(sky.tmax_c, reader, 0)} today"]
    if limit_c is not None:
        parts.append(f"they go out from {say.degrees(limit_c, reader, 0)}")
    if sky.wind_kmh is not None:
        parts.append(f"wind behind the shelter {say.amount(sky.wind_kmh, 'km/h', reader, 0)}")
    return ", ".join(parts)


def _sun(sky: DaySky, rise: float, fall: float, x: Across) -> list[str]:
    out = []
    clear = 1 - (0.4 if sky.cloud is None else sky.cloud)
    for h in range(6, 22):
        middle = h + 0.5
        if rise < middle < fall:
            strong = math.sin(math.pi * (middle - rise) / (fall - rise)) * clear
            out.append(
                f'<rect class="sunhour" x="{x(h) + 1:.1f}" y="6" width="{x(h + 1) - x(h) - 2:.1f}" height="{3 + 26 * strong:.1f}"/>'
            )
    return out


def _warmth(sky: DaySky, tmin_c: float | None, limit_c: float | None, x: Across, reader: Reader) -> list[str]:
    if sky.tmax_c is None:
        return []
    low = sky.tmax_c - 8 if tmin_c is None else tmin_c
    curve = [(h, low + (sky.tmax_c - low) * max(0.0, math.sin(math.pi * (h - 5) / 20)) ** 1.3) for h in range(6, 23)]
    values = [c for _, c in curve] + ([limit_c] if limit_c is not None else [])
    top, bottom = max(values) + 1, min(values) - 1
    y = lambda c: 108 - 52 * (c - bottom) / max(1.0, top - bottom)  # noqa: E731
    points = "L".join(f"{x(h):.1f} {y(c):.1f}" for h, c in curve)
    out = [f'<path class="warm" d="M{x(6):.1f} 110L{points}V110Z"/><path class="warmline" d="M{points}"/>']
    if limit_c is not None:
        out.append(f'<path class="limit" d="M{LEFT:.0f} {y(limit_c):.1f}H{RIGHT:.0f}"/>')
    for h in (8, 11, 15, 19):
        c = dict(curve)[h]
        out.append(label(x(h), y(c) - 5, escape(say.degrees(c, reader, 0)), "t", "middle"))
    return out


def _wind(sky: DaySky, x: Across, reader: Reader) -> list[str]:
    if sky.wind_kmh is None:
        return [label((LEFT + RIGHT) / 2, 132, "not said", "s", "middle")]
    out = []
    for h in range(7, 22, 2):
        wind = sky.wind_kmh * (0.75 + 0.5 * max(0.0, math.sin(math.pi * (h - 7) / 14)))
        lean, bad = min(12.0, wind * 0.6), " bent" if wind > 20 else ""
        blades = "".join(f"M{x(h) + 4 * k - 6:.1f} 138q{lean / 3:.1f}-7 {lean:.1f}-12" for k in range(3))
        out.append(f'<path class="grass{bad}" d="{blades}"/>')
        if h in (7, 11, 15, 19):
            words = escape(say.amount(wind, "km/h", reader, 0).split(" ")[0])
            out.append(label(x(h), 153, words, f"t{' alarm' if wind > 20 else ''}", "middle"))
    return out


def _lane(line: DoorLine, y: float, n: int, x: Across) -> list[str]:
    out = [
        f'<rect class="lane{" even" if n % 2 else ""}" x="0" y="{y:.0f}" width="{WIDE:.0f}" height="{LANE - 2:.0f}"/>'
    ]
    out.append(steps(line, y))
    name = f"{line.plants} {line.item.full_name}"
    out.append(label(LEFT + 2, y + 15, escape(name[:34]), "b"))
    if line.at:
        out.append(label(WIDE - 4, y + 15, escape(line.at), "s", "end"))
    begins = hour_of(line.begins) if line.begins else None
    ends = END if line.night else hour_of(line.ends)
    first = begins if begins is not None else max(BEGIN, ends - line.todo.task.detail.hours)  # type: ignore[attr-defined]
    sun = 0.0 if line.half or line.rung is None else line.rung.sun
    a, b = x(max(BEGIN, first)), x(min(END, ends))
    split = a + (b - a) * sun
    out.append(f'<rect class="sunbar" x="{a:.1f}" y="{y + 22:.0f}" width="{max(0.0, split - a):.1f}" height="28"/>')
    out.append(f'<rect class="shade" x="{split:.1f}" y="{y + 22:.0f}" width="{max(0.0, b - split):.1f}" height="28"/>')
    out.append(f'<rect class="frame" x="{a:.1f}" y="{y + 22:.0f}" width="{max(1.0, b - a):.1f}" height="28"/>')
    return out


def steps(line: DoorLine, y: float) -> str:
    """Its ladder as little steps, those climbed filled."""
    count = max(1, line.rungs)
    wide = min(8.0, 54.0 / count)
    out = []
    for n in range(count):
        tall = 6 + 24 * (n + 1) / count
        kind = "done" if n + 1 < line.number else "now" if n + 1 == line.number else "next"
        out.append(
            f'<rect class="stair {kind}" x="{2 + n * wide:.1f}" y="{y + 48 - tall:.1f}" width="{wide - 1.5:.1f}" height="{tall:.1f}"/>'
        )
    return "".join(out)
