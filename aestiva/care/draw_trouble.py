"""Signs drawn small, the plant as the form, a fortnight of the log with its moments lettered, causes as roots as thick as they are likely."""

from __future__ import annotations

import tomllib
from datetime import timedelta
from functools import lru_cache
from html import escape
from pathlib import Path

from aestiva.care.log import Fortnight
from aestiva.frame import say
from aestiva.frame.say import Reader, shown
from aestiva.light.draw import label
from growing.care.trouble import LATELY_DAYS, Found, book


@lru_cache(maxsize=1)
def figures() -> dict[str, str]:
    """Signs drawn small, from `signs.toml`, as the inside of an svg."""
    data = tomllib.loads((Path(__file__).parent / "signs.toml").read_text(encoding="utf-8"))
    return {key: "".join(f'<path class="{kind}" d="{d}"/>' for kind, d in one["paths"]) for key, one in data.items()}


def sign_figure(key: str) -> str:
    """A sign, small."""
    return f'<svg class="signfig" viewBox="0 0 60 44" width="60" height="44" aria-hidden="true">{figures()[key]}</svg>'


LETTERS = "abcdefghijkl"
DAY_W, LEFT = 24.0, 78.0


def letters_of(found: Found | None) -> dict[str, str]:
    """A letter for each fact that speaks for or against a cause shown, in order."""
    if found is None:
        return {}
    facts = dict.fromkeys(f for c in found.causes for f in (*c.facts, *c.facts_against))
    return {fact: LETTERS[n] for n, fact in enumerate(list(facts)[: len(LETTERS)])}


ROW_OF = {
    "cold": "night", "warm": "night", "heat": "night", "coldmix": "night", "dim": "light", "glare": "light", "dark": "light", "unlit": "light",
    "wet": "water", "dry": "water", "drymix": "water", "strong": "feed", "unfed": "feed", "lid": "water", "sun": "light",
}  # fmt: skip


def log_svg(log: Fortnight, letters: dict[str, str], first_for: tuple[str, ...], reader: Reader) -> str:
    """Nights, light, water, feed of fourteen days on one axis; moments that matter carry their letter, filled where they speak for the
    first cause."""
    wide = LEFT + DAY_W * LATELY_DAYS + 6
    days = [log.first + timedelta(days=k) for k in range(LATELY_DAYS)]
    x = lambda k: LEFT + DAY_W * k  # noqa: E731
    out = [
        label(x(k) + DAY_W / 2, 12, str(day.day), "s" if k < LATELY_DAYS - 1 else "t", "middle")
        for k, day in enumerate(days)
        if k % 2 == 1
    ]
    out.append(label(0, 46, "Nights", "t", "start"))
    if log.nights:
        least, most = min(log.nights.values()), max(max(log.nights.values()), log.wants_night_c)
        span = max(4.0, most - least + 2)
        y = lambda c: 24 + 34 * (1 - (c - least + 1) / span)  # noqa: E731
        for k, day in enumerate(days):
            if day in log.nights:
                out.append(f'<path class="warmbar" d="M{x(k):.1f} 60V{y(log.nights[day]):.1f}h{DAY_W}V60Z"/>')
            else:
                out.append(f'<path class="unknown" d="M{x(k):.1f} 58h{DAY_W}"/>')
        out.append(f'<path class="wants" d="M{LEFT} {y(log.wants_night_c):.1f}H{wide - 6:.1f}"/>')
        low, unit = shown(least, "°C", reader)
        out.append(label(0, 60, f"least {low:.0f} {unit}", "s", "start"))
    else:
        out.append(label(LEFT, 50, "nobody read a thermometer there", "s", "start"))
    out.append(label(0, 84, "Light", "t", "start"))
    if log.dli:
        for k, day in enumerate(days):
            if day in log.dli:
                grains = min(4, max(1, round(log.dli[day] / 4)))
                kind = "grain" if log.dli[day] >= 0.8 * log.low_dli else "grain short"
                out += [
                    f'<circle class="{kind}" cx="{x(k) + 6 + 7 * (n % 2):.1f}" cy="{86 - 7 * (n // 2)}" r="2.8"/>'
                    for n in range(grains)
                ]
        mean = sum(log.dli.values()) / len(log.dli)
        out.append(label(0, 97, f"{mean:.0f} mol a day", "s", "start"))
    else:
        out.append(label(LEFT, 88, "not known", "s", "start"))
    out.append(label(0, 122, "Water", "t", "start"))
    for k, day in enumerate(days):
        look = log.looks.get(day)
        if look is not None:
            cx = x(k) + DAY_W / 2
            if look.watered:
                out.append(f'<path class="drop" d="M{cx:.1f} 106q7 9 0 14q-7-5 0-14Z"/>')
            if look.found in ("wet", "light", "limp"):
                out.append(label(cx, 133, look.found[0].upper(), "s", "middle"))
            elif not look.watered:
                out.append(f'<circle class="looked" cx="{cx:.1f}" cy="115" r="2"/>')
    if not log.looks:
        out.append(label(LEFT, 120, "nobody looked", "s", "start"))
    out.append(label(0, 158, "Feed", "t", "start"))
    for k, day in enumerate(days):
        if day in log.feeds:
            strength = log.feeds[day]
            out.append(f'<path class="feeddrop" d="M{x(k) + 12:.1f} 144q7 9 0 14q-7-5 0-14Z"/>')
            if strength:
                out.append(label(x(k) + 22, 158, f"{strength:.0f} mg/l N", "s", "start"))
    if not any(day in log.feeds for day in days):
        last = max(log.feeds, default=None)
        out.append(label(LEFT, 158, "none" if last is None else f"none since {say.short_day(last)}", "s", "start"))
    at = {"night": 26.0, "light": 82.0, "water": 112.0, "feed": 150.0}
    used: dict[str, int] = {}
    for fact, letter in letters.items():
        row = ROW_OF.get(fact)
        if row is None:
            continue
        n = used[row] = used.get(row, 0) + 1
        out.append(badge(wide - 16 - 26 * (n - 1), at[row], letter, fact in first_for))
    said = escape(f"The last {LATELY_DAYS} days: {len(log.nights)} nights read, looked at on {len(log.looks)} days")
    return f'<svg class="fortnight" viewBox="0 0 {wide:.0f} 172" width="{wide:.0f}" height="172" role="img" aria-label="{said}">{"".join(out)}</svg>'


def badge(x: float, y: float, letter: str, filled: bool) -> str:
    """A letter in a circle: filled speaks for the first cause, open against it or for another."""
    kind = "letter full" if filled else "letter"
    text = f'<text class="{kind}" x="{x:.1f}" y="{y + 4:.1f}" text-anchor="middle">{letter}</text>'
    return f'<circle class="{kind}" cx="{x:.1f}" cy="{y:.1f}" r="10"/>{text}'


def plant_svg(signs: list[str]) -> str:
    """The plant as it was said to be, standing on the ground that the roots go down from."""
    known = book().signs
    low = "yellow" if "yellow" in signs else "purple" if "purple" in signs else ""
    drop = 16 if "limp" in signs else 0
    tall = "leggy" in signs
    out = ['<path class="stem big thin" d="M150 150V22"/>' if tall else '<path class="stem big" d="M150 150V38"/>']
    for y, kind, w in ((126, low, 62), (92, low, 56), (58, "purple" if low == "purple" else "", 44)):
        if tall and y == 126:
            continue
        if "still" in signs and y == 58:
            kind = "ghost"
        left = f"M150 {y}q{-w * 0.5:.0f}-{22 - drop} {-w} {drop}q{w * 0.4:.0f} 18 {w} {-drop}Z"
        right = f"M150 {y}q{w * 0.5:.0f}-{22 - drop} {w} {drop}q{-w * 0.4:.0f} 18 {-w} {-drop}Z"
        out.append(f'<path class="leaf {kind}" d="{left}{right}"/>')
    out.append('<path class="leaf" d="M150 40q-10-20 0-30q10 10 0 30Z"/>')
    if "film" in signs:
        out.append(
            '<path class="film" d="M10 150q14-14 30-4q16-12 32 0q16-12 32 0q16-12 32 0q16-12 32 0q16-12 32 0q16-8 30 4Z"/>'
        )
    words = ", ".join(known[s].word for s in known if s in signs)
    said = escape(f"A seedling: {words or 'nothing chosen yet'}")
    return f'<svg class="plantsvg" viewBox="0 0 300 150" width="300" height="150" role="img" aria-label="{said}">{"".join(out)}</svg>'


def roots_svg(found: Found | None, wide: float = 1060.0) -> str:
    """From the plant roots go to each cause, as thick as that is likely."""
    out = ['<path class="soilband" d="M0 1H1060V50H0Z"/><path class="ground" d="M0 1H1060"/>']
    for n, cause in enumerate(() if found is None else found.causes):
        end = (n + 0.5) * wide / len(found.causes if found is not None else ())
        thick = max(2.0, 26 * cause.odds)
        out.append(f'<path class="rootline" stroke-width="{thick:.1f}" d="M150 1C150 30 {end:.0f} 10 {end:.0f} 50"/>')
    return (
        f'<svg class="rootsvg" viewBox="0 0 1060 50" width="1060" height="50" aria-hidden="true">{"".join(out)}</svg>'
    )
