"""The coming nights as columns over and under freezing, with the chance of frost at the plant."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.today.queries import NightAhead

STEP, TOP, COLUMNS, HEIGHT = 58, 30, 58, 134  # room for columns between the days above and the chances below
MOST_PER_C = 5.5


def nights_svg(nights: Sequence[NightAhead], reader: Reader) -> SafeString:
    """A strip of the nights: forecast minimum as a column, chance of 0 °C at the plant in words below."""
    if not nights:
        return mark_safe("")
    over, under = (max(0.0, *(sign * n.night.tmin_c for n in nights)) for sign in (1, -1))
    per = min(MOST_PER_C, COLUMNS / max(1.0, over + under))
    zero = TOP + COLUMNS - round(under * per)
    width = 20 + STEP * len(nights)
    parts = [f'<line x1="4" x2="{width - 4}" y1="{zero}" y2="{zero}" stroke="#2f6d94" stroke-width="1.4"/>']
    for i, ahead in enumerate(nights):
        x, t = 34 + i * STEP, ahead.night.tmin_c
        y = zero - t * per
        colour = "#2f6d94" if ahead.frost >= 0.1 else "#41702f"
        above = t > 0
        label = y - 5 if above else y + 12
        parts.append(
            f'<text class="s" x="{x}" y="13" text-anchor="middle">{say.weekday(ahead.night.day)[:3]}</text>'
            f'<line x1="{x}" x2="{x}" y1="{zero}" y2="{y:.1f}" stroke="{colour}" stroke-width="9"/>'
            f'<text class="t" x="{x}" y="{label:.1f}" text-anchor="middle">{say.degrees(t, reader)}</text>'
            f'<text class="s" x="{x}" y="{HEIGHT - 22}" text-anchor="middle">{escape(say.chance(ahead.frost, short=True))}</text>'
        )
        if ahead.at_risk:
            parts.append(f'<text class="t alarm" x="{x}" y="{HEIGHT - 6}" text-anchor="middle">{ahead.at_risk}</text>')
    said = "; ".join(
        f"{say.day(n.night.day)} {say.degrees(n.night.tmin_c, reader)}, frost at the plant {say.chance(n.frost)}"
        + (f", {n.at_risk} plants at risk" if n.at_risk else "")
        for n in nights
    )
    return mark_safe(
        f'<svg viewBox="0 0 {width} {HEIGHT}" width="{width}" height="{HEIGHT}" role="img" aria-label="{said}">{"".join(parts)}</svg>'
    )
