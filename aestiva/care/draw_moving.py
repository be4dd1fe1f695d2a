"""Leaves over the days: what was seen stands on its day, what is to come is dotted, the work hangs on the line as flags."""

from __future__ import annotations

from datetime import date, timedelta
from html import escape

from aestiva.care.moving import MoveRow
from aestiva.course.light import looks_of
from aestiva.course.state import SeasonState
from aestiva.frame import say
from aestiva.light.draw import label
from growing.chain.leaves import leaf_days

BACK, AHEAD = 14, 42  # days
LATELY = 3  # days after a look in which it is not drawn once more
WIDE, HIGH, SOIL = 640.0, 108.0, 62.0


def row_svg(row: MoveRow, now: SeasonState) -> str:
    """One batch: a furrow of eight weeks."""
    begin, today = now.today - timedelta(days=BACK), now.today
    x = lambda day: 6 + (day - begin).days / (BACK + AHEAD) * (WIDE - 12)  # noqa: E731
    out = []
    if row.carries is not None and begin < row.carries < begin + timedelta(days=BACK + AHEAD):
        at = x(row.carries)
        out.append(
            f'<path class="carried" d="M6 {SOIL}H{at:.1f}V{SOIL + 14}H6Z"/><path class="over" d="M{at:.1f} {SOIL}H{WIDE - 6}V{SOIL + 14}H{at:.1f}Z"/>'
        )
    elif row.carries is not None and row.carries <= begin:
        out.append(f'<path class="over" d="M6 {SOIL}H{WIDE - 6}V{SOIL + 14}H6Z"/>')
    else:
        out.append(f'<path class="carried" d="M6 {SOIL}H{WIDE - 6}V{SOIL + 14}H6Z"/>')
    out.append(f'<path class="ground" d="M6 {SOIL}H{WIDE - 6}"/>')
    for seen in looks_of(now, [row.item]).get(row.batch, ())[-4:]:
        if begin <= seen.on <= today:
            out.append(sprout(x(seen.on), seen.leaves, "seen"))
    leaves = row.ask.growth.leaves
    stage = row.item.raised.stage
    each = 1 / stage.a_day if stage is not None and stage.a_day > 0 else leaf_days(row.item.crop, None)
    if row.ask.one.seen is None or (today - row.ask.one.seen.on).days > LATELY:
        out.append(sprout(x(today), int(leaves), "guess"))
    last = x(today)
    for n in range(int(leaves) + 1, int(leaves) + 8):
        day = today + timedelta(days=round((n - leaves) * each))
        if day > today + timedelta(days=AHEAD):
            break
        if x(day) - last >= 30:
            out.append(sprout(x(day), n, "guess"))
            last = x(day)
    out.append(f'<path class="nowline" d="M{x(today):.1f} 4V{SOIL + 14}"/>')
    right = -50.0
    for step in row.coming:
        if begin <= step.on <= begin + timedelta(days=BACK + AHEAD):
            at = max(x(max(step.on, today)), 6)
            words = f"{step.word} {say.short_day(step.on)}" if step.on > today else f"{step.word} now"
            wide = 6.6 * len(words)
            put = max(at - 4, right + 8)
            if put + wide > WIDE:
                continue
            out.append(
                f'<path class="flag{" due" if step.on <= today else ""}" d="M{at:.1f} {SOIL}V{SOIL + 22}m-5 0h10l-5 7Z"/>'
            )
            out.append(label(put, SOIL + 40, words, "t" if step.on <= today else "s", "start"))
            right = put + wide
    said = escape(_said(row, today))
    size = f'viewBox="0 0 {WIDE:.0f} {HIGH:.0f}" width="{WIDE:.0f}" height="{HIGH:.0f}"'
    return f'<svg class="leafline" {size} role="img" aria-label="{said}">{"".join(out)}</svg>'


def sprout(x: float, leaves: int, kind: str) -> str:
    """A seedling on the line with so many true leaves; one that is only reckoned is an outline."""
    shown = min(leaves, 5)
    top = SOIL - 12 - 7 * shown
    out = [f'<path class="stem" d="M{x:.1f} {SOIL}V{top + 4:.1f}"/>']
    out.append(f'<path class="leaf" d="M{x:.1f} {SOIL - 7}q-7-6-11-1q5 4 11 1q7-6 11-1q-5 4-11 1Z"/>')
    for n in range(shown):
        y, s = SOIL - 13 - 7 * n, -1 if n % 2 else 1
        out.append(f'<path class="leaf" d="M{x:.1f} {y:.1f}q{s * 5}-8 {s * 12}-6q{-s * 3} 7 {-s * 12} 6Z"/>')
    out.append(label(x + 5, SOIL + 12, str(leaves), "n", "start"))
    return f'<g class="seedlet {kind}">{"".join(out)}</g>'


def _said(row: MoveRow, today: date) -> str:
    coming = ", ".join(f"{c.word} {'now' if c.on <= today else say.day(c.on)}" for c in row.coming)
    return f"{row.item.full_name}: about {say.plural(int(row.ask.growth.leaves), 'true leaf', 'true leaves')} by now; {coming or 'nothing to come'}"
