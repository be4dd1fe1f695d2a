"""Room over the season, drawn: a strip a kind of place on the season's axis, as high as what it holds; what is over stands out of it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import date, timedelta
from html import escape
from itertools import pairwise

import numpy as np

from aestiva.bench.ahead import BenchAhead
from aestiva.bench.silhouettes import HATCH
from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.plan.picture.axis import months, sky
from aestiva.plan.picture.scale import Frame, Scale
from growing.bench.ahead import Floats, Overflow, RoomAhead, Zone, causes

FRAME = Frame(1090, 150, 16, 0, 0)
BENCH = Frame(800, 128, 10, 0, 0)  # beside what would mend it
PHONE = Frame(366, 4, 4, 0, 0, names_above=True)
TOP, PLAIN_TOP, GAP, LEAST_PX, WHOLE_PX, OVER_PX = 62, 8, 16, 18.0, 190.0, 30.0
SHOWN = ("mat", "lamp", "sill", "frame", "shelf")
TEXTURES = {  # of our own: what stands there, by where
    "frame": ("#d9e3c5", "M2 7v-3M2 4q-2-1-2-3M2 4q2-1 2-3M8 12v-3M8 9q-2-1-2-3M8 9q2-1 2-3", "#5f7a4b"),
    "tunnel": ("#dfe6cf", "M0 6q3-5 6 0t6 0", "#5f7a4b"),
    "porch": ("#dbe4e6", "M0 3h7M4 9h7", "#5d7680"),
    "sill": ("#ecdfb4", "M2 1v5M8 6v5", "#8a6d24"),
    "shelf": ("#e6d8bd", "M1 3h4M7 9h4", "#8a6a45"),
    "lamp": ("#dfc090", "M2 3l2-1.4L6 3 4 4.4ZM8 9l2-1.4L12 9l-2 1.4Z", "#8a5f2b"),
    "mat": ("#e7a86a", "M0 4q3-3 6 0t6 0M0 10q3-3 6 0t6 0", "#8a3f14"),
}


def _defs(key: str) -> str:
    found = HATCH.replace('id="over"', f'id="over-{key}"')
    for zone, (ground, path, ink) in TEXTURES.items():
        found += (
            f'<pattern id="{zone}-{key}" width="12" height="12" patternUnits="userSpaceOnUse"><rect width="12" height="12" fill="{ground}"/>'
            f'<path d="{path}" fill="none" stroke="{ink}" stroke-width=".9"/></pattern>'
        )
    return f"<defs>{found}</defs>"


def shown(ahead: BenchAhead) -> list[int]:
    """The zones that are worth a strip: those that something will stand in, and the scarce ones."""
    some = ahead.room.used.max(axis=1, initial=0.0) if ahead.room.days else np.zeros(len(ahead.zones))
    return [k for k, z in enumerate(ahead.zones) if some[k] > 0 or (z.key in SHOWN and z.holds)]


def scale_of(ahead: BenchAhead, back: RoomAhead | None, frame: Frame = FRAME) -> Scale:
    """From the first day on which something stood there to the last on which something will."""
    start = ahead.now.today
    if back is not None and back.days:
        some = np.flatnonzero(back.used.sum(axis=0) > 0)
        if len(some):
            start = back.start + timedelta(days=int(some[0]))
    end = ahead.now.today + timedelta(days=ahead.days - 1)
    return Scale(start.replace(day=1), end, frame)


def strips_svg(
    ahead: BenchAhead,
    back: RoomAhead | None,
    scale: Scale,
    at: date | None,
    reader: Reader,
    axis: bool = True,
    only: Collection[str] | None = None,
) -> str:
    """Every zone as a strip; back: the days before today; at: the day that is drawn above; axis: with months and frost on top.

    only: some of the zones, None: all that are worth it.
    """
    key = f"r{scale.key}"
    start, used = _joined(ahead, back)
    y = float(TOP if axis else PLAIN_TOP)
    rows = [k for k in shown(ahead) if only is None or ahead.zones[k].key in only]
    if not rows:
        return ""
    wide, above = scale.frame.width, scale.frame.names_above
    most = sum(ahead.zones[k].holds or float(ahead.room.used[k].max(initial=1.0)) for k in rows)
    per_flat = min(9.0, WHOLE_PX / max(1.0, most))
    parts = [_defs(key)]
    overs = {o.zone.key: o for o in reversed(ahead.overflows)}
    lines = []
    for k in rows:
        zone, days = ahead.zones[k], used[k]
        limit = zone.holds if zone.holds is not None else max(1.0, float(days.max(initial=1.0)))
        high = max(LEAST_PX, limit * per_flat)
        per = high / max(limit, 1.0)
        over = max(0.0, float(days.max(initial=0.0)) - limit) if zone.holds is not None else 0.0
        y += (16 if above else 0) + (min(OVER_PX, over * per) + (30 if over else 0))
        parts.append(_strip(zone, days, start, scale, y, high, per, limit, key, reader))
        if zone.key in overs:
            parts.append(_over(ahead, overs[zone.key], days, start, scale, y, per, limit, key))
        lines.append((zone, y, high, limit))
        y += high + GAP
    height = y + 4
    head = _head(ahead, scale, reader) if axis else ""
    grid = "".join(
        f'<line class="axis" x1="{scale.x(d):.1f}" x2="{scale.x(d):.1f}" y1="{TOP if axis else 0}" y2="{height - 8:.0f}"/>'
        for d in _firsts(scale)
    )
    line = "" if at is None else _line(scale, at, height, axis)
    knob = "" if at is None else _knob(lines, used, ahead, start, scale, at, axis)
    label = escape(f"Room from {say.day(scale.start)} to {say.day(scale.end)}; the same is in the table")
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="season roomstrips{" narrow" if above else ""}" viewBox="0 0 {wide} {height:.0f}"'
        f' width="{wide}" height="{height:.0f}" role="img" aria-label="{label}">{head}{grid}{line}{"".join(parts)}{knob}</svg>'
    )


def _joined(ahead: BenchAhead, back: RoomAhead | None) -> tuple[date, Floats]:
    if back is None or not back.days:
        return ahead.now.today, ahead.room.used
    return back.start, np.hstack([back.used, ahead.room.used])


def _firsts(scale: Scale) -> list[date]:
    found, day = [], scale.start.replace(day=1)
    while day <= scale.end:
        if day > scale.start:
            found.append(day)
        day = (day + timedelta(days=32)).replace(day=1)
    return found


def _head(ahead: BenchAhead, scale: Scale, reader: Reader) -> str:
    """Months, and frost as a sky that clears, with the line that this garden takes."""
    place = ahead.now.place
    sky_ = sky(scale._replace(frame=scale.frame._replace(names_above=True)), place)
    line = place.spring.date_for(place.accepted_risk).day
    mark = ""
    if line is not None and line in scale:
        x = scale.x(line)
        mark = (
            f'<line class="line" x1="{x:.1f}" x2="{x:.1f}" y1="20" y2="58"/>'
            f'<text class="t frost" x="{x + 5:.1f}" y="44">your frost line, {say.short_day(line)}</text>'
        )
    words = "" if scale.frame.names_above else '<text class="n" x="4" y="43">Frost still to come</text>'
    return months(scale, reader) + sky_ + words + mark


def _steps(days: Floats, start: date, scale: Scale, y: float, high: float, per: float, most: float) -> str:
    """The edge of what is taken, day by day, up to what it holds."""
    path, before, drawn = "", -1.0, False
    for k in _breaks(days):
        day = start + timedelta(days=k)
        value = min(float(days[k]), most)
        x = scale.x(day)
        level = y + high - value * per
        path += (
            f"M{x:.1f} {y + high:.1f}V{level:.1f}" if not drawn else f"H{x:.1f}V{level:.1f}" if value != before else ""
        )
        drawn, before = True, value
    end = scale.x(start + timedelta(days=len(days)))
    return f"{path}H{end:.1f}V{y + high:.1f}Z" if path else ""


def _breaks(days: Floats) -> list[int]:
    if not len(days):
        return []
    return [0, *(int(k) + 1 for k in np.flatnonzero(np.abs(np.diff(days)) > 1e-9))]


def _strip(
    zone: Zone,
    days: Floats,
    start: date,
    scale: Scale,
    y: float,
    high: float,
    per: float,
    limit: float,
    key: str,
    reader: Reader,
) -> str:
    left, right, above = scale.frame.labels, scale.right, scale.frame.names_above
    holds = "size not said" if zone.holds is None else f"room for {say.number(zone.holds)}"
    name = escape(zone.name)
    if above:
        words = f'<text class="n" x="{left}" y="{y - 4:.1f}">{name} <tspan class="s">{holds}</tspan></text>'
    elif high < 30:
        words = f'<text class="n" x="4" y="{y + high / 2 + 1:.1f}">{name}</text><text class="s" x="4" y="{y + high / 2 + 15:.1f}">{holds}</text>'
    else:
        words = f'<text class="n" x="4" y="{y + high / 2 - 3:.1f}">{name}</text><text class="s" x="4" y="{y + high / 2 + 13:.1f}">{holds}</text>'
    edge = "" if zone.holds is None else f'<line class="brim" x1="{left}" x2="{right}" y1="{y:.1f}" y2="{y:.1f}"/>'
    return (
        f'{words}<rect class="vacant" x="{left}" y="{y:.1f}" width="{right - left}" height="{high:.1f}"/>'
        f'<path d="{_steps(days, start, scale, y, high, per, limit)}" fill="url(#{zone.key}-{key})" class="taken"/>'
        f'{edge}<line class="soil" x1="{left}" x2="{right}" y1="{y + high:.1f}" y2="{y + high:.1f}"/>'
    )


def _over(
    ahead: BenchAhead,
    one: Overflow,
    days: Floats,
    start: date,
    scale: Scale,
    y: float,
    per: float,
    limit: float,
    key: str,
) -> str:
    """What stands out of the strip, and by how much, until when, because of what."""
    parts = []
    over = np.maximum(days - limit, 0.0)
    for k, until in pairwise([*_breaks(over), len(over)]):
        if over[k] <= 1e-6:
            continue
        x, x1 = scale.x(start + timedelta(days=k)), scale.x(start + timedelta(days=until))
        high = min(OVER_PX, max(5.0, float(over[k]) * per))
        parts.append(
            f'<rect class="over" x="{x:.1f}" y="{y - high:.1f}" width="{max(2.0, x1 - x):.1f}" height="{high:.1f}" fill="url(#over-{key})"/>'
        )
    x = scale.x(one.since)
    top = y - min(OVER_PX, max(5.0, one.most * per))
    end = x > scale.frame.labels + scale.drawn * 0.6
    cause = "" if scale.frame.names_above else escape(cause_words(ahead, one))
    anchor, at = ("end", scale.right) if end else ("start", max(x, float(scale.frame.labels)))
    parts.append(
        f'<text class="t late" x="{at:.1f}" y="{top - 18:.1f}" text-anchor="{anchor}">{escape(over_words(one))}</text>'
        f'<text class="s" x="{at:.1f}" y="{top - 5:.1f}" text-anchor="{anchor}">{cause}</text>'
    )
    return "".join(parts)


def over_words(one: Overflow) -> str:
    """“2 trays over, Wed 6 to Fri 15 May”"""
    days = say.day(one.since) if one.since == one.until else f"{say.short_day(one.since)} to {say.short_day(one.until)}"
    return f"{say.plural(one.trays, 'tray')} over, {days}"


VERBS = {"seed": "sown", "potted": "into pots", "grown": "carried there", "stands": "standing there"}


def cause_words(ahead: BenchAhead, one: Overflow) -> str:
    """“Snapdragon, Leek carried there that day”"""
    who = causes(one, ahead.stays, ahead.within)
    day = one.since.toordinal()
    stages = {s.stage for s in ahead.stays if s.batch in who and s.since == day}
    verb = VERBS[stages.pop()] if len(stages) == 1 else "come there"
    return f"{say.listed([ahead.name_of(b) for b in who], 3)}: {verb}"


def _line(scale: Scale, at: date, height: float, axis: bool) -> str:
    x = scale.x(at)
    return f'<line class="today" x1="{x:.1f}" x2="{x:.1f}" y1="{TOP - 42 if axis else 0}" y2="{height - 6:.1f}"/>'


def _knob(
    lines: Sequence[tuple[Zone, float, float, float]],
    used: Floats,
    ahead: BenchAhead,
    start: date,
    scale: Scale,
    at: date,
    axis: bool,
) -> str:
    """The day that is drawn above, with what is taken on it."""
    x = scale.x(at)
    k = (at - start).days
    today = "today, " if at == ahead.now.today else ""
    anchor = "end" if x > scale.frame.labels + 150 else "start"
    dx = -14 if anchor == "end" else 14
    parts = []
    if axis and not scale.frame.names_above:
        parts.append(
            f'<text class="t frost" x="{x + dx:.1f}" y="44" text-anchor="{anchor}">drawn above: {today}{say.day(at)}</text>'
        )
    for zone, y, high, _ in lines:
        index = ahead.zones.index(zone)
        value = float(used[index, k]) if 0 <= k < used.shape[1] else 0.0
        words = say.number(value) + (f" of {say.number(zone.holds)}" if zone.holds is not None else "")
        wide = 9 + 7.0 * len(words)
        left = min(max(x - wide / 2, float(scale.frame.labels)), scale.right - wide)
        mid = y + high / 2
        parts.append(
            f'<rect class="tally" x="{left:.1f}" y="{mid - 9:.1f}" width="{wide:.1f}" height="18" rx="2"/>'
            f'<text class="t" x="{left + wide / 2:.1f}" y="{mid + 4:.1f}" text-anchor="middle">{words}</text>'
        )
    return "".join(parts)
