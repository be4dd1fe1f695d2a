"""How many will come: the share and its certainty as a bar, the ageing of a lot, the odds of a sowing."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from growing.seeds.viability import Germination, viability


def bar(found: Germination) -> str:
    """The middle four fifths as a band with its mean, on a line from none to all."""
    low, high, mean = (4 + 112 * share for share in (found.low, found.high, found.mean))
    return (
        f'<svg class="germ" viewBox="0 0 120 20" width="120" height="20" role="img" aria-label="{round(found.low * 100)} to'
        f' {round(found.high * 100)} per cent"><line class="base" x1="4" x2="116" y1="14" y2="14"/>'
        f'<rect class="range" x="{low:.1f}" y="9" width="{max(2.0, high - low):.1f}" height="10" rx="5"/>'
        f'<path class="seed" transform="translate({mean:.1f} 0)" d="M0 2C6 8 5 16 0 18C-5 16 -6 8 0 2Z"/></svg>'
    )


def ageing(found: Germination, tests: Sequence[tuple[float, float]]) -> str:
    """Viability over the years from fresh, today on it; tests as (age, share that came)."""
    fresh, life, age = found.fresh, found.life_years, found.age_years
    width, height, left, base, top = 520, 210, 44, 170, 20
    years = max(6.0, round(age + 3), 2 * life if life < 6 else life + 3)

    def x(t: float) -> float:
        return left + (width - left - 16) * t / years

    def y(share: float) -> float:
        return base - (base - top) * share

    steps = np.linspace(0, years, 60)
    curve = "".join(f"{'L' if i else 'M'}{x(t):.1f} {y(viability(fresh, life, t)):.1f}" for i, t in enumerate(steps))
    levels = "".join(
        f'<line class="dots" x1="{left}" x2="{width - 16}" y1="{y(s):.1f}" y2="{y(s):.1f}"/>'
        f'<text class="s" x="{left - 6}" y="{y(s) + 4:.1f}" text-anchor="end">{round(s * 100)} %</text>'
        for s in (0.25, 0.5, 0.75, 1.0)
    )
    marks = "".join(
        f'<text class="s" x="{x(t):.1f}" y="{base + 18}" text-anchor="middle">{t}</text>' for t in range(int(years) + 1)
    )
    dots = "".join(f'<circle class="test" cx="{x(a):.1f}" cy="{y(s):.1f}" r="5"/>' for a, s in tests)
    now = viability(fresh, life, age)
    return (
        f'<svg class="ageing" viewBox="0 0 {width} {height}" width="{width}" height="{height}" role="img"'
        f' aria-label="Share that comes, by years since it was packed; the number is above">{levels}'
        f'<path class="curve" d="{curve}"/><line class="ground" x1="{left}" x2="{width - 16}" y1="{base}" y2="{base}"/>{marks}'
        f'<text class="s" x="{width - 16}" y="{base + 36}" text-anchor="end">years since the season it was packed for</text>'
        f'<line class="now" x1="{x(age):.1f}" x2="{x(age):.1f}" y1="{y(now):.1f}" y2="{base}"/>'
        f'<circle class="grip" cx="{x(age):.1f}" cy="{y(now):.1f}" r="7"/>{dots}</svg>'
    )


def odds(chances: NDArray[np.float64], wanted: int, what: str = "plants") -> str:
    """The odds of each number as columns: those that are too few pale and hatched, enough in leaf green."""
    width, height, base, left = 640, 220, 176, 16
    total = np.cumsum(chances)
    first = int(np.searchsorted(total, 0.002))
    last = int(np.searchsorted(total, 0.998))
    first, last = min(first, wanted), max(min(last, len(chances) - 1), wanted)
    shown = chances[first : last + 1]
    step = (width - 2 * left) / len(shown)
    high = float(shown.max()) or 1.0
    columns = "".join(
        f'<rect class="{"enough" if n >= wanted else "few"}" x="{left + (n - first) * step:.1f}" y="{base - 140 * v / high:.1f}"'
        f' width="{max(1.0, step - (1 if step > 4 else 0)):.1f}" height="{140 * v / high:.1f}">'
        f"<title>{n} {what}: {v * 100:.1f} %</title></rect>"
        for n, v in enumerate(shown.tolist(), first)
    )
    every = max(1, round(len(shown) / 12))
    marks = "".join(
        f'<text class="s" x="{left + (k + 0.5) * step:.1f}" y="{base + 18}" text-anchor="middle">{first + k}</text>'
        for k in range(0, len(shown), every)
    )
    at = left + (wanted - first) * step
    end = at > width / 2
    enough = float(chances[wanted:].sum())
    return (
        f'<svg class="odds" viewBox="0 0 {width} {height}" width="{width}" height="{height}" role="img"'
        f' aria-label="Odds of each number of {what}: {wanted} or more in {round(enough * 100)} of 100">'
        f'<pattern id="few" width="6" height="6" patternUnits="userSpaceOnUse"><path d="M0 6L6 0" stroke="#9d3524" stroke-width="1.2"/></pattern>'
        f'{columns}<line class="ground" x1="{left}" x2="{width - left}" y1="{base}" y2="{base}"/>{marks}'
        f'<line class="wanted" x1="{at:.1f}" x2="{at:.1f}" y1="14" y2="{base}"/>'
        f'<text class="n" x="{at + (-8 if end else 8):.1f}" y="24" text-anchor="{"end" if end else "start"}">{wanted} wanted</text>'
        f'<text class="s" x="{left}" y="{base + 38}">{what} that come of it</text></svg>'
    )
