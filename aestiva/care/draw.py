"""The mix of a tray as ground that goes pale under a falling water line; the can and the spoon to one scale."""

from __future__ import annotations

from datetime import date, timedelta
from html import escape

from aestiva.care.round import Stop
from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.light.draw import label
from growing.care.feed import FeedVerdict, InCan, in_spoons
from growing.care.water import LOOK_AT

BACK, AHEAD = 3, 5  # days
FIGURES = {  # a pot cut open, in a box of 44 × 36
    "wet": '<path class="mixwet" d="M8 10H36L33 31H11Z"/><path class="pool" d="M8 10q7-4 14 0t14 0v3H8Z"/>',
    "fair": '<path class="mixfair" d="M8 12H36L33 31H11Z"/>',
    "pale": '<path class="mixpale" d="M8 12H36L33 31H11Z"/><path class="crack" d="M18 12l2 6l-3 4M28 12l-2 5"/>',
    "light": '<path class="mixpale" d="M8 14H36L33 31H11Z"/><path class="lifted" d="M22 27V18M18 22l4-4l4 4"/>',
    "limp": '<path class="mixpale" d="M8 16H36L33 31H11Z"/><path class="plant" d="M22 16V7q0-4 6-2t4 8"/>',
}


def figure(found: str) -> str:
    """What it looks like when it is found so."""
    pot = '<path class="potline" d="M6 8H8L11 32H33L36 8H38"/>'
    return f'<svg class="cut" viewBox="0 0 44 36" width="44" height="36" aria-hidden="true">{FIGURES[found]}{pot}</svg>'


def leaf_figure(count: int, high: float = 52.0) -> str:
    """A seedling with its seed leaves and so many true leaves, one above the other; of many only the upper ones."""
    shown = min(count, 5)
    top = 40 - 6 * shown
    out = [f'<path class="ground" d="M4 44H44"/><path class="stem" d="M24 44V{top + 4}"/>']
    out.append('<path class="seedleaf" d="M24 41q-9-7-14-1q7 5 14 1q9-7 14-1q-7 5-14 1Z"/>')
    for n in range(shown):
        y, s, wide = 36 - 6 * n, -1 if n % 2 else 1, 15 - n
        out.append(
            f'<path class="leaf" d="M24 {y}q{s * wide * 0.4:.1f}-9 {s * wide}-7q{-s * wide * 0.3:.1f} 8 {-s * wide} 7Z"/>'
        )
    return f'<svg class="seedling" viewBox="0 0 48 48" width="{high:.0f}" height="{high:.0f}" aria-hidden="true">{"".join(out)}</svg>'


def strip_svg(stop: Stop, today: date, wide: float = 330.0, small: bool = False) -> str:
    """Water left over the days: as it was, solid; as it goes on if left, dotted; if watered now, dashed; the day it is dry."""
    high, top = (26.0, 3.0) if small else (56.0, 16.0)
    begin = today.toordinal() - BACK
    x = lambda day: 2 + (day - begin) / (BACK + AHEAD) * (wide - 4)  # noqa: E731
    y = lambda left: top + (1 - left) * high  # noqa: E731
    now, limit = today.toordinal() + 0.5, LOOK_AT[stop.tray.moisture]
    a_day = max(1e-3, stop.tray.falls * stop.next.thirst)
    points: list[tuple[float, float]] = []
    for look in stop.looks:
        if look.at < now:
            points += [(look.at, look.before), (look.at, look.after)]
    left = stop.next.left
    out = [f'<rect class="mixpale" x="2" y="{top:.1f}" width="{wide - 4:.1f}" height="{high:.1f}"/>']
    if left is not None and points:
        points.append((now, left))
        shown = [(max(d, begin), v) for d, v in points if d >= begin] or [(begin, left), (now, left)]
        line = " ".join(f"L{x(d):.1f} {y(v):.1f}" for d, v in shown)
        first = shown[0]
        out.append(f'<path class="mixfair" d="M{x(first[0]):.1f} {top + high:.1f}{line}V{top + high:.1f}Z"/>')
        out.append(f'<path class="hadline" d="M{x(first[0]):.1f} {y(first[1]):.1f}{line}"/>')
        dry = now + left / a_day
        end = min(dry, begin + BACK + AHEAD)
        out.append(
            f'<path class="ifleft" d="M{x(now):.1f} {y(left):.1f}L{x(end):.1f} {y(max(0.0, left - a_day * (end - now))):.1f}"/>'
        )
        if dry <= begin + BACK + AHEAD:
            out.append(f'<path class="drymark" d="M{x(dry) - 4:.1f} {top + high - 7:.1f}h8l-4 6Z"/>')
        if not small:
            last = min(now + (1 - limit) / a_day, begin + BACK + AHEAD)
            out.append(
                f'<path class="ifwatered" d="M{x(now):.1f} {y(1.0):.1f}L{x(last):.1f} {y(1 - a_day * (last - now)):.1f}"/>'
            )
    out.append(f'<path class="lookline" d="M2 {y(limit):.1f}H{wide - 2:.1f}"/>')
    out.append(f'<path class="nowline" d="M{x(now):.1f} {top - 2:.1f}V{top + high:.1f}"/>')
    if not small:
        for k in range(-BACK + 1, AHEAD, 2):
            day = today + timedelta(days=k)
            out.append(label(x(day.toordinal() + 0.5), top + high + 14, say.short_day(day), "s", "middle"))
        out.append(label(x(now), 11, "today", "t", "middle"))
    tall = top + high + (2 if small else 18)
    said = escape(_said(stop))
    size = f'viewBox="0 0 {wide:.0f} {tall:.0f}" width="{wide:.0f}" height="{tall:.0f}"'
    return f'<svg class="waterstrip" {size} role="img" aria-label="{said}">{"".join(out)}</svg>'


def _said(stop: Stop) -> str:
    if stop.next.left is None:
        return "nobody has looked yet"
    return f"{say.percent(stop.next.left)} of its water left, dry about {say.day(stop.next.dry_on)}"


def can_svg(litres: float, amount_ml: float, found: InCan, right: FeedVerdict, reader: Reader, spoon: str) -> str:
    """The can with what it is filled to; the spoon as it is, and as it should be, drawn three times larger."""
    out = [
        '<path class="can" d="M70 40V230H190V40Z"/><path class="can" d="M70 150L18 70l14-10M190 70q40 10 34 90q-2 30-34 40" />',
        '<path class="water" d="M72 80q15-6 29 0t29 0t29 0t29 0V228H72Z"/>',
        f'<text class="n" x="130" y="160" text-anchor="middle">{escape(say.amount(litres, "l", reader))}</text>',
        '<path class="soil" d="M10 231H250"/>',
    ]
    out += _spoon(330, 60, amount_ml, min(right.right_ml, amount_ml))
    said = f"{in_spoons(amount_ml, spoon)}, {say.amount(found.grams, 'g', reader)}"
    out.append(label(330, 128, said, "t", "middle"))
    if right.right_ml > 0:
        out += _spoon(330, 170, right.right_ml, right.right_ml)
        out.append(
            f'<text class="big" x="330" y="232" text-anchor="middle">{escape(in_spoons(right.right_ml, spoon))}</text>'
        )
    return f'<svg class="cansvg" viewBox="0 0 420 244" width="420" height="244" role="img" aria-label="The can and the spoon">{"".join(out)}</svg>'


def _spoon(cx: float, y: float, ml: float, fine: float) -> list[str]:
    """A bowl of that content [ml]: what is too much in it is hatched as alarm."""
    r = min(52.0, 14.0 * max(ml, 0.2) ** (1 / 3))
    share = min(1.0, fine / ml) if ml else 1.0
    level = y + r * (1 - share ** (1 / 1.5))
    inside = f"M{cx - r:.1f} {y:.1f}A{r:.1f} {r:.1f} 0 0 0 {cx + r:.1f} {y:.1f}Z"
    half = (max(0.0, r * r - (level - y) ** 2)) ** 0.5
    fill = f"M{cx - half:.1f} {level:.1f}A{r:.1f} {r:.1f} 0 0 0 {cx + half:.1f} {level:.1f}Z"
    return [
        f'<path class="toomuch" d="{inside}"/>',
        f'<path class="powder" d="{fill}"/>',
        f'<path class="bowl" d="M{cx - r:.1f} {y:.1f}A{r:.1f} {r:.1f} 0 0 0 {cx + r:.1f} {y:.1f}q6 -14 {70 - r:.1f} -16"/>',
    ]
