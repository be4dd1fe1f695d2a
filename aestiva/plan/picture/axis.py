"""What lies over all rows: frost as a sky that clears, the soil as it warms, the length of the day, days away, today."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from html import escape
from itertools import pairwise

from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.plan.picture.scale import Scale
from growing.place.daylight import day_length_h
from growing.place.year import PlaceYear

SKY_TOP, SKY_BOTTOM = 20, 58
SOIL_TOP, SOIL_BOTTOM = 61, 76
HOURS_LINE = 89
HEIGHT = 112
PHONE_HEIGHT = 112
SOILS_C = (8, 12, 15, 18)
LEAST_PX = 46  # of a stretch of soil for its words


def months(scale: Scale, reader: Reader) -> str:
    """The names along the top, by month, by week or by day, as close as the scale is."""
    parts: list[str] = []
    free = 0.0  # up to where the last name reaches
    for day in ticks(scale):
        x = scale.x(day)
        parts.append(f'<line class="axis" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_BOTTOM}" y2="{HEIGHT}"/>')
        if x < free or x > scale.right - 6 * len(_named(day, scale)):
            continue
        free = x + 7 * len(_named(day, scale)) + 4
        parts.append(f'<text class="s" x="{x + 3:.1f}" y="13">{_named(day, scale)}</text>')
    return "".join(parts)


def ticks(scale: Scale) -> list[date]:
    """First days of months; of a month its Mondays; of a week its days."""
    if scale.days <= 8:
        return [scale.start + timedelta(days=k) for k in range(scale.days)]
    if scale.days <= 31:
        every = [scale.start + timedelta(days=k) for k in range(scale.days)]
        return [day for day in every if day.weekday() == 0 or day == scale.start]
    found, day = [], scale.start.replace(day=1)
    while day <= scale.end:
        if day >= scale.start:
            found.append(day)
        day = (day + timedelta(days=32)).replace(day=1)
    return found


def _named(day: date, scale: Scale) -> str:
    if scale.days <= 8:
        return f"{day:%a} {day.day} {day:%b}"
    if scale.days <= 31:
        return f"{day.day} {day:%B}" if day == scale.start else f"{day:%a} {day.day}"
    name = f"{day:%B}" if scale.drawn > 3 * scale.days else f"{day:%b}"
    return name[:1] if scale.frame.names_above else name


def sky(scale: Scale, place: PlaceYear) -> str:
    """A gradient of the chance of frost, with the dates that matter."""
    step = max(1, scale.days // 90)
    days = [scale.start + timedelta(days=k) for k in range(0, scale.days + 1, step)]
    width, labels = scale.drawn, scale.frame.labels
    stops, previous = [], ""
    name = f"sky-{scale.key}"
    colours = [_blend((250, 252, 252), (128, 175, 205), r) for r in place.sky(days)]
    for i, (day, colour) in enumerate(zip(days, colours, strict=True)):
        following = colours[i + 1] if i + 1 < len(colours) else ""
        if colour != previous or colour != following:  # flat stretches need only their ends
            stops.append(f'<stop offset="{(scale.x(day) - labels) / width:.3f}" stop-color="{colour}"/>')
        previous = colour
    parts = [
        f'<linearGradient id="{name}">{"".join(stops)}</linearGradient>'
        f'<rect x="{labels}" y="{SKY_TOP}" width="{width}" height="{SKY_BOTTOM - SKY_TOP}" fill="url(#{name})"/>'
    ]
    if scale.frame.names_above:
        return "".join(parts)
    parts.append('<text class="n" x="4" y="34">Frost still to come</text>')
    parts.append('<text class="s" x="4" y="50">the bluer, the likelier</text>')
    taken = 0.0
    for risk, text in ((0.9, "9 in 10"), (0.5, "1 in 2")):
        found = place.spring.date_for(risk).day
        if found is not None and found in scale and (x := scale.x(found)) - taken >= 62:
            taken = x
            parts.append(_dash(x) + _two(x - 4, "end", text, say.short_day(found)))
    first = None if place.autumn is None else place.autumn.date_for(0.5).day
    if first is not None and first in scale:
        x = scale.x(first)
        parts.append(_dash(x) + _two(x - 4, "end", "first frost, 1 in 2", say.short_day(first)))
    return "".join(parts)


def _dash(x: float) -> str:
    return f'<line class="dash" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_TOP}" y2="{SKY_BOTTOM}"/>'


def _two(x: float, anchor: str, top: str, below: str) -> str:
    return (
        f'<text class="t frost" x="{x:.1f}" y="34" text-anchor="{anchor}">{escape(top)}</text>'
        f'<text class="s frost" x="{x:.1f}" y="50" text-anchor="{anchor}">{escape(below)}</text>'
    )


def _blend(pale: tuple[int, int, int], deep: tuple[int, int, int], share: float) -> str:
    return "#" + "".join(f"{round(a + (b - a) * share):02x}" for a, b in zip(pale, deep, strict=True))


def soil(scale: Scale, place: PlaceYear, reader: Reader) -> str:
    """The morning soil from one warmth to the next, and as it cools; nothing where nobody knows it."""
    marks = soil_marks(place)
    parts = [] if scale.frame.names_above else ['<text class="s" x="4" y="73">Morning soil</text>']
    if not marks:
        return f'{parts[0]}<text class="s" x="{scale.frame.labels + 4}" y="73">not known here</text>' if parts else ""
    ends = [day for day, _ in marks[1:]] + [scale.end]
    for (start, level), end in zip(marks, ends, strict=True):
        x, right = scale.x(start), scale.x(end)
        if right - x < 1 or start > scale.end or end < scale.start:
            continue
        parts.append(
            f'<rect class="warm{level}" x="{x:.1f}" y="{SOIL_TOP}" width="{right - x:.1f}" height="{SOIL_BOTTOM - SOIL_TOP}"/>'
        )
        words = _soil_words(level, reader)
        if right - x > max(LEAST_PX, 6.2 * len(words)):
            ink = "onwarm" if level == len(SOILS_C) else "s"
            parts.append(f'<text class="{ink}" x="{(x + right) / 2:.1f}" y="73" text-anchor="middle">{words}</text>')
    return "".join(parts)


def _soil_words(level: int, reader: Reader) -> str:
    if level < 0:
        return "cooling"
    if level == 0:
        return f"under {say.amount(SOILS_C[0], '°C', reader, 0)}"
    if level == len(SOILS_C):
        return f"over {say.amount(SOILS_C[-1], '°C', reader, 0)}"
    return say.between(SOILS_C[level - 1], SOILS_C[level], "°C", reader)


def soil_marks(place: PlaceYear) -> list[tuple[date, int]]:
    """From when on the morning soil is how warm: (day, how many of the steps it is over); −1 where it cools again."""
    found: list[tuple[date, int]] = [(place.season_start, 0)]
    for level, celsius in enumerate(SOILS_C, 1):
        gate = place.warm_gate("soil", celsius)
        day = place.season_start if gate.verdict == "always" else gate.day
        if day is None or gate.never:
            break
        found.append((max(day, found[-1][0]), level))
    if len(found) == 1:
        return []
    cold = place.warmth.soil_cold_from(place.year, SOILS_C[0])
    cool = place.warmth.soil_cold_from(place.year, SOILS_C[found[-1][1] - 1]) if cold is not None else None
    if cool is not None and cool > found[-1][0]:
        found.append((cool, -1))
    if cold is not None and cold > found[-1][0]:
        found.append((cold, 0))
    return found


def hours(scale: Scale, place: PlaceYear) -> str:
    """The days on which the light from sunrise to sunset passes whole hours, longer or shorter."""
    if place.latitude is None:
        return ""
    lengths = [day_length_h(place.latitude, scale.start + timedelta(days=k)) for k in range(scale.days + 1)]
    parts = [] if scale.frame.names_above else [f'<text class="s" x="4" y="{HOURS_LINE + 3}">Day length</text>']
    if scale.days <= 31:
        for k in {0, scale.days - 1}:
            x, anchor = (scale.x(scale.start) + 3, "start") if k == 0 else (scale.right - 2, "end")
            parts.append(_hour(x, anchor, f"{say.number(lengths[k])} h"))
        return "".join(parts)
    wanted = (10, 14) if scale.frame.names_above else (8, 10, 12, 14, 16)
    for k, (before, after) in enumerate(pairwise(lengths), 1):
        for whole in wanted:
            if (before < whole) != (after < whole):
                x = scale.x(scale.start + timedelta(days=k))
                parts.append(f'<line class="axis" x1="{x:.1f}" x2="{x:.1f}" y1="{SOIL_BOTTOM}" y2="{HOURS_LINE + 4}"/>')
                if x < scale.right - 30:
                    parts.append(_hour(x + 3, "start", f"{whole} h"))
    return "".join(parts)


def _hour(x: float, anchor: str, words: str) -> str:
    return f'<text class="s" x="{x:.1f}" y="{HOURS_LINE + 3}" text-anchor="{anchor}">{words}</text>'


def line(scale: Scale, place: PlaceYear) -> str:
    """The accepted risk on the sky; through the rows it goes on by `through`."""
    found = place.spring.date_for(place.accepted_risk).day
    if found is None or found not in scale:
        return ""
    x = scale.x(found)
    side = (x - 9, "end") if x > scale.right - 130 else (x + 9, "start")
    return (
        f'<line class="line" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_TOP}" y2="{HEIGHT}"/>'
        f'<circle class="mark" cx="{x:.1f}" cy="{SKY_BOTTOM}" r="6"/>'
        + _two(*side, f"{say.odds(place.accepted_risk)} · your line", say.short_day(found))
    )


def today_said(scale: Scale, today: date, height: int) -> str:
    if today not in scale:
        return ""
    x = scale.x(today)
    anchor, dx = ("end", -4) if x > scale.frame.labels + 120 else ("start", 4)
    return (
        f'<line class="today" x1="{x:.1f}" x2="{x:.1f}" y1="{SKY_BOTTOM}" y2="{height}"/>'
        f'<text class="t alarm" x="{x + dx:.1f}" y="{height - 5}" text-anchor="{anchor}">today, {say.day(today)}</text>'
    )


def away_said(scale: Scale, place: PlaceYear) -> str:
    """The days away named over the rows."""
    parts = []
    for gone in place.away:
        if gone.end < scale.start or gone.start > scale.end:
            continue
        x, right = scale.x(gone.start), scale.x(gone.end + timedelta(days=1))
        parts.append(f'<rect class="away" x="{x:.1f}" y="{HEIGHT - 16}" width="{right - x:.1f}" height="16"/>')
        if not scale.frame.names_above:
            parts.append(f'<text class="s" x="{x + 2:.1f}" y="{HEIGHT - 4}">away</text>')
    return "".join(parts)


def grid(scale: Scale, top: int, bottom: int) -> str:
    """The months, Mondays or days behind all rows."""
    xs = [scale.x(day) for day in ticks(scale)]
    return "".join(f'<line class="axis" x1="{x:.1f}" x2="{x:.1f}" y1="{top}" y2="{bottom}"/>' for x in xs)


def over(scale: Scale, place: PlaceYear, today: date, top: int, bottom: int) -> str:
    """What goes over all rows: days away, the accepted risk, today."""
    parts = []
    for gone in place.away:
        if gone.start <= scale.end and gone.end >= scale.start:
            x, right = scale.x(gone.start), scale.x(gone.end + timedelta(days=1))
            parts.append(f'<rect class="away" x="{x:.1f}" y="{top}" width="{right - x:.1f}" height="{bottom - top}"/>')
    for css, found in (("line", place.spring.date_for(place.accepted_risk).day), ("today", today)):
        if found is not None and found in scale:
            x = scale.x(found)
            parts.append(f'<line class="{css}" x1="{x:.1f}" x2="{x:.1f}" y1="{top}" y2="{bottom}"/>')
    return f'<g class="over">{"".join(parts)}</g>'


def whole_axis(scale: Scale, place: PlaceYear, today: date, reader: Reader) -> str:
    """All of it, `HEIGHT` pixels high; on a phone without the words."""
    height = PHONE_HEIGHT if scale.frame.names_above else HEIGHT
    parts: Iterable[str] = (
        months(scale, reader),
        sky(scale, place),
        soil(scale, place, reader),
        hours(scale, place),
        line(scale, place),
        away_said(scale, place),
        today_said(scale, today, height),
    )
    return "".join(parts)
