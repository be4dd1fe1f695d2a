"""A shelf's day as a ring, its plants against what they want, its lamp in the days ahead, the light that a batch had."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from html import escape
from math import cos, pi, sin

from aestiva.course.state import Item
from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.light.draw import LEFT, RIGHT, WIDTH, label, rect
from growing.light.advice import LightAhead
from growing.light.hours import CurrentPrice, LampTimer
from growing.light.shelf import Got
from growing.light.targets import band

RAISE_WORDS = 100.0  # px that the words of a raise take


def ring_svg(timer: LampTimer, tariff: CurrentPrice, reader: Reader) -> str:
    """A day as a ring: noon above the soil line, midnight below it; lamp, dark, cheap hours."""
    cx, cy, r = 105.0, 100.0, 62.0
    out = [
        f'<rect class="night" x="0" y="{cy}" width="210" height="100"/><path class="soil" d="M0 {cy}H210"/>',
        f'<circle class="dark" cx="{cx}" cy="{cy}" r="{r}"/>',
    ]
    if timer.hours >= 24:
        out.append(f'<circle class="burn" cx="{cx}" cy="{cy}" r="{r}"/>')
    elif timer.hours > 0:
        arc = _arc(cx, cy, r, timer.on_h, timer.hours)
        out.append(f'<path class="burnedge" d="{arc}"/><path class="burn" d="{arc}"/>')
    for begin, end in tariff.spans:
        out.append(f'<path class="cheap" d="{_arc(cx, cy, r + 20, begin, (end - begin) % 24)}"/>')
    for hour in range(24):
        x, y = _on(cx, cy, r - 20, hour)
        x2, y2 = _on(cx, cy, r - (26 if hour % 6 == 0 else 23), hour)
        out.append(f'<path class="axis" d="M{x:.1f} {y:.1f}L{x2:.1f} {y2:.1f}"/>')
    for hour in (0, 12):
        x, y = _on(cx, cy, r - 34, hour)
        out.append(label(x, y + 4, str(hour), "s", "middle"))
    hours = say.number(timer.hours)
    out.append(f'<text class="big" x="{cx}" y="{cy + 7}" text-anchor="middle">{hours} h</text>')
    said = f"Lamp on {clock_of(timer.on_h, reader)} to {clock_of(timer.off_h, reader)}"
    return f'<svg class="dayring" viewBox="0 0 210 200" width="210" height="200" role="img" aria-label="{said}">{"".join(out)}</svg>'


def clock_of(hour: float, reader: Reader) -> str:
    """“4:00”, “4:30 pm”."""
    return say.hour_of_day(round((hour % 24) * 60) % (24 * 60) / 60, reader)


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


def ahead_svg(found: LightAhead, top_cm: float, today: date, reader: Reader) -> str:
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
            f'<path class="roof" d="M{x(0):.1f} {y(top_cm):.1f}H{x(days):.1f}"/>'
            + label(x(0) + 4, y(top_cm) - 4, "as high as it can hang")
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
        said = f"{say.weekday(up.on)[:3]}: {say.amount(up.by_cm, 'cm', reader, 1)} up"
        end = k > days - 3
        at = f'x="{x(k) + (-4 if end else 4):.1f}" y="{y(up.to_cm) + 15:.1f}" text-anchor="{"end" if end else "start"}"'
        out.append(f'<text class="t halo" {at}>{said}</text>')
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
            label(x(k), y(0) + 16, say.short_day(today + timedelta(days=k)), f"s{every}", "middle")
            if k
            else label(x(0), y(0) + 16, "today")
        )
    out.append(
        f'<text class="s halo" x="{x(days) - 4:.1f}" y="{y(0) - 6:.1f}" text-anchor="end">tips of {escape(found.name)}</text>'
    )
    said = (
        "; ".join(f"{say.day(up.on)} {say.amount(up.by_cm, 'cm', reader)} up" for up in found.raises)
        or "no raise in a fortnight"
    )
    return _svg("lampahead", WIDTH, high + 36, f"The lamp in the coming days: {said}", out)


def most_of(got: Sequence[Got]) -> float:
    """The end of the axis of all bars [mol]."""
    return max([20.0, *(1.3 * g.stand.band.high for g in got), *(1.1 * g.dli for g in got)])


def had_svg(dli: Sequence[float], start: date, item: Item, reader: Reader) -> str:
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
            out.append(rect(left + k * step, y(float(v)), max(1.0, step - 1), high - y(float(v)), kind))
    for value in (0, round(bands[1].low), round(bands[1].high)):
        out.append(f'<text class="s" x="{left - 6}" y="{y(value) + 4:.1f}" text-anchor="end">{value}</text>')
    out.append(
        f'<path class="soil" d="M{left} {high}H{wide - 6}"/><text class="s" x="{left}" y="{high + 15}">{say.short_day(start)}</text>'
    )
    out.append(f'<text class="s" x="{wide - 6}" y="{high + 15}" text-anchor="end">today</text>')
    return _svg("lighthad", wide, high + 20, "Light of each day since it is up, mol; the band is what it wants", out)


def _svg(classes: str, wide: float, high: float, said: str, parts: Sequence[str]) -> str:
    """A drawing that is looked at."""
    size = f'viewBox="0 0 {wide:.0f} {high:.0f}" width="{wide:.0f}" height="{high:.0f}"'
    return f'<svg class="{classes}" {size} role="img" aria-label="{said}">{"".join(parts)}</svg>'
