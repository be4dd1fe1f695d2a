"""What comes ready week by week, drawn: a column a week, on the line of what is wanted."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from html import escape

from aestiva.frame import say
from growing.plan.supply import SupplyWeek

LABELS, RIGHT, TOP, BASE, HEIGHT = 34, 8, 14, 104, 128
SMALL_BASE, SMALL_HEIGHT = 30, 36


def weeks_svg(weeks: Sequence[SupplyWeek], width: int = 620, unit: str = "") -> str:
    """Columns of what is used, kept and spoilt against what is wanted; unknown amounts as rings; a short week is marked."""
    if not weeks:
        return ""
    most = max([w.wanted for w in weeks] + [(w.used or 0) + (w.kept or 0) + (w.spoilt or 0) for w in weeks] + [1.0])
    each = (width - LABELS - RIGHT) / len(weeks)
    per = (BASE - TOP) / most
    parts = [f'<line class="soil" x1="{LABELS}" x2="{width - RIGHT}" y1="{BASE}" y2="{BASE}"/>']
    for k, week in enumerate(weeks):
        x = LABELS + k * each
        parts.append(_column(week, x + 1.5, max(2.0, each - 3), BASE, per))
    parts += _wanted(weeks, each, per)
    parts += _months(weeks, each, BASE + 16)
    parts.append(f'<text class="s" x="{LABELS - 4}" y="{TOP + 4}" text-anchor="end">{say.number(most, 0)}</text>')
    label = escape(f"Week by week{f', in {unit}' if unit else ''}; the same is in the table")
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="season weekly" viewBox="0 0 {width} {HEIGHT}" width="{width}"'
        f' height="{HEIGHT}" role="img" aria-label="{label}">{"".join(parts)}</svg>'
    )


def small_svg(weeks: Sequence[SupplyWeek], width: int = 660) -> str:
    """The same as one line of a list."""
    most = max([w.wanted for w in weeks] + [(w.used or 0) + (w.kept or 0) + (w.spoilt or 0) for w in weeks] + [1.0])
    each, per = width / max(1, len(weeks)), (SMALL_BASE - 3) / most
    parts = [f'<line class="soil" x1="0" x2="{width}" y1="{SMALL_BASE}" y2="{SMALL_BASE}"/>']
    parts += [_column(w, k * each + 0.5, max(1.5, each - 1), SMALL_BASE, per) for k, w in enumerate(weeks)]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="season weekly" viewBox="0 0 {width} {SMALL_HEIGHT}" width="{width}"'
        f' height="{SMALL_HEIGHT}" aria-hidden="true">{"".join(parts)}</svg>'
    )


def counts_svg(counts: Sequence[int], weeks: Sequence[int], width: int = 660) -> str:
    """How many crops give something in each week; a week between with none is marked."""
    most = max([*counts, 1])
    each, per = width / max(1, len(counts)), (SMALL_BASE - 3) / most
    some = [k for k, n in enumerate(counts) if n]
    parts = [f'<line class="soil" x1="0" x2="{width}" y1="{SMALL_BASE}" y2="{SMALL_BASE}"/>']
    for k, n in enumerate(counts):
        x = k * each + 0.5
        if n:
            parts.append(
                f'<rect class="used" x="{x:.1f}" y="{SMALL_BASE - n * per:.1f}" width="{max(1.5, each - 1):.1f}" height="{n * per:.1f}"/>'
            )
        elif some and some[0] < k < some[-1]:
            parts.append(_short(x, max(1.5, each - 1), SMALL_BASE, 14))
    month = 0
    for k, week in enumerate(weeks):
        day = date.fromordinal(week) + timedelta(days=6)
        if day.month != month:
            month = day.month
            parts.append(f'<text class="s" x="{k * each:.1f}" y="{SMALL_BASE + 14}">{day:%b}</text>')
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="season weekly" viewBox="0 0 {width} {SMALL_BASE + 18}" width="{width}"'
        f' height="{SMALL_BASE + 18}" role="img" aria-label="Crops that give something, week by week; most {most}">{"".join(parts)}</svg>'
    )


def _column(week: SupplyWeek, x: float, width: float, base: int, per: float) -> str:
    if week.used is None:
        if week.giving:
            return f'<circle class="ring" cx="{x + width / 2:.1f}" cy="{base - 7}" r="{min(4.0, width / 2):.1f}"/>'
        return _short(x, width, base, 10) if week.short else ""
    parts, y = [], float(base)
    for css, amount in (("used", week.used), ("kept", week.kept or 0), ("spoilt", week.spoilt or 0)):
        if amount:
            y -= amount * per
            parts.append(
                f'<rect class="{css}" x="{x:.1f}" y="{y:.1f}" width="{width:.1f}" height="{amount * per:.1f}"/>'
            )
    if week.short:
        parts.append(_short(x, width, base - week.used * per, (week.wanted - week.used) * per))
    return "".join(parts)


def _short(x: float, width: float, base: float, height: float) -> str:
    """What is missing: strokes up to what is wanted."""
    strokes = "".join(f"M{x:.1f} {base - 4 * k - 1:.1f}l{width:.1f} -3" for k in range(max(1, int(height // 4))))
    return f'<path class="bad" d="{strokes}"/>'


def _wanted(weeks: Sequence[SupplyWeek], each: float, per: float) -> list[str]:
    """The line of what is wanted."""
    path, before = "", 0.0
    for k, week in enumerate(weeks):
        x = LABELS + k * each
        if week.wanted:
            path += f"{'M' if not before else 'L'}{x:.1f} {BASE - week.wanted * per:.1f}H{x + each:.1f}"
        before = week.wanted
    return [f'<path class="want" d="{path}"/>'] if path else []


def _months(weeks: Sequence[SupplyWeek], each: float, y: int) -> list[str]:
    parts, month = [], 0
    for k, week in enumerate(weeks):
        day = date.fromordinal(week.start) + timedelta(days=6)
        if day.month != month:
            month = day.month
            parts.append(f'<text class="s" x="{LABELS + k * each:.1f}" y="{y}">{day:%b}</text>')
    return parts
