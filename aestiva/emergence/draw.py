"""Is it coming?  Every batch under the mix as a line of soil: what is expected above it, what was counted, the warmth it had below."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from html import escape

from aestiva.course.warmth import ASSUMED
from aestiva.emergence.coming import SowingComing
from aestiva.emergence.words import tone, verdict_lines
from aestiva.frame import say
from aestiva.frame.say import Reader
from growing.emergence.triggers import triggers
from growing.seeds.clock import HOURS

WIDTH, ROW, TOP, LEFT, RIGHT = 720, 92, 26, 160, 548
GROUND, HIGH, BAND = 58, 44.0, 9.0
GLYPHS = {  # 16 wide, standing on 6; the lamp hangs
    "lamp": "M-8-3h16l-3 6h-10ZM-4 5v3M0 5v4M4 5v3",
    "paper": "M-8 3l12-9 4 4-12 9ZM-2-2l4 4",
    "vents": "M-8 6h16M-6 6v-5q0-7 6-7t6 7v5M-2-2h1M2-2h1",
    "ajar": "M-8 7h16M-7 4l1-8 13-3 1 6Z",
    "lid": "M-8 7h16M-6 1q0-8 6-8t6 8Z",
    "mat": "M-8 4h14l2-6h-14ZM-7-7l14 14",
    "below": "M-7-3h14l-2 6h-10ZM-3 9v-4M3 9v-4M-4 6.500l1-1.500 1 1.500M2 6.500l1-1.500 1 1.500",
}
SPROUT = "M0 0v-7M0-6q-5 0-6-5q5-1 6 5M0-6q5 0 6-5q-5-1-6 5"


def _defs(key: str) -> str:
    """The textures of warmth, measured and assumed, for one picture alone."""
    return DEFS.replace('id="', f'id="{key}-')


DEFS = (
    '<defs><pattern id="had" width="9" height="8" patternUnits="userSpaceOnUse"><rect width="9" height="8" fill="#f2c78f"/>'
    '<path d="M0 5q2.2-4 4.5 0t4.5 0" fill="none" stroke="#a0561e" stroke-width="1"/></pattern>'
    '<pattern id="guess" width="5" height="5" patternUnits="userSpaceOnUse"><rect width="5" height="5" fill="#fbf1df"/>'
    '<circle cx="2.5" cy="2.5" r=".9" fill="#a0561e"/></pattern></defs>'
)


class Axis:
    """Days across: from the first sowing shown to a fortnight from today."""

    def __init__(self, start: date, today: date, left: float, right: float, ahead: int = 14) -> None:
        self.start, self.today, self.left, self.right = start, today, left, right
        self.end = today + timedelta(days=ahead)

    def x(self, day: date) -> float:
        whole = max(1, (self.end - self.start).days)
        return self.left + min(max(0, (day - self.start).days), whole) * (self.right - self.left) / whole


def curves_svg(
    found: Sequence[SowingComing], today: date, reader: Reader, addresses: Sequence[str], chosen: int | None = None
) -> str:
    """All of them on one axis, the most pressing on top."""
    if not found:
        return ""
    first = max(min(c.had.start for c in found), today - timedelta(days=42)) - timedelta(days=2)
    axis = Axis(first, today, LEFT, RIGHT)
    height = TOP + ROW * len(found) + 6
    parts = [_defs("all")]
    day = first + timedelta(days=(6 - first.weekday()) % 7)
    while day < axis.end:
        x = axis.x(day)
        if abs((day - today).days) > 3:
            parts.append(f'<text class="s" x="{x:.1f}" y="14" text-anchor="middle">{say.short_day(day)}</text>')
        parts.append(f'<line class="axis" x1="{x:.1f}" x2="{x:.1f}" y1="{TOP - 6}" y2="{height - 6}"/>')
        day += timedelta(days=7)
    for n, one in enumerate(found):
        parts.append(_row(one, n, axis, today, reader, addresses[n], one.batch == chosen))
    x = axis.x(today)
    parts.append(f'<text class="t late" x="{x:.1f}" y="14" text-anchor="middle">today</text>')
    parts.append(f'<line class="today" x1="{x:.1f}" x2="{x:.1f}" y1="{TOP - 6}" y2="{height - 6}"/>')
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="season comingall" viewBox="0 0 {WIDTH} {height}" width="{WIDTH}" height="{height}"'
        f' role="group" aria-label="All batches under the mix; the same is in the list">{"".join(parts)}</svg>'
    )


def _row(one: SowingComing, n: int, axis: Axis, today: date, reader: Reader, address: str, chosen: bool) -> str:
    top = TOP + n * ROW
    ground = top + GROUND
    lines = verdict_lines(one, today)
    kind = tone(one.verdict.kind)
    said = "".join(
        f'<text class="{"t " + kind if k == 0 else "s"}" x="{RIGHT + 12}" y="{top + 34 + 16 * k:.0f}">{escape(text)}</text>'
        for k, text in enumerate(lines)
    )
    variety = f'<text class="s" x="6" y="{top + 36}">‘{escape(one.item.variety)}’</text>' if one.item.variety else ""
    code = (
        f'<text class="code" x="{LEFT - 14}" y="{top + 60}" text-anchor="end">{escape(one.spot_code)}</text>'
        if one.spot_code
        else ""
    )
    return (
        f'<a class="rowlink" href="{escape(address)}">'
        f'<rect class="hit{" chosen" if chosen else ""} {kind}" x="1" y="{top + 2}" width="{WIDTH - 2}" height="{ROW - 4}"/>'
        f'<text class="n" x="6" y="{top + 20}">{escape(one.name)}</text>{variety}'
        f'<text class="big" x="6" y="{top + 62}">{one.up}</text>'
        f'<text class="s" x="{14 + 16 * len(str(one.up))}" y="{top + 62}">of {one.seeds}</text>{code}'
        f"{plot(one, axis, ground, HIGH, reader)}{said}</a>"
    )


def plot(one: SowingComing, axis: Axis, ground: float, high: float, reader: Reader, steps: bool = False) -> str:
    """The line of one batch: seed in its furrow, expected band, counts, warmth."""
    per = high / max(1.0, float(one.seeds))
    start = one.had.start

    def point(k: int, value: float) -> str:
        return f"{axis.x(start + timedelta(days=k)):.1f} {ground - value * per:.1f}"

    days = [k for k in range(len(one.line.low)) if axis.start <= start + timedelta(days=k) <= axis.end]
    parts = [
        f'<line class="soil" x1="{axis.left}" x2="{axis.right}" y1="{ground}" y2="{ground}"/>',
        _warmth(one, axis, ground, steps, "one" if steps else "all"),
    ]
    if days:
        upper = "L".join(point(k, float(one.line.high[k])) for k in days)
        lower = "L".join(point(k, float(one.line.low[k])) for k in reversed(days))
        parts.append(f'<path class="band" d="M{upper}L{lower}Z"/>')
        parts.append(f'<path class="middle" d="M{"L".join(point(k, float(one.line.expected[k])) for k in days)}"/>')
    if start >= axis.start:
        x = axis.x(start)
        parts.append(
            f'<path class="furrow" d="M{x - 9:.1f} {ground}q9 13 18 0Z"/><ellipse class="seed" cx="{x:.1f}" cy="{ground + 3:.1f}" rx="5" ry="3.6"/>'
        )
    for day, count in one.counts:
        if axis.start <= day <= axis.end:
            x, y = axis.x(day), ground - count * per
            late = count < one.expected_by(day)[0]
            parts.append(
                f'<path class="sprout{" late" if late else ""}" transform="translate({x:.1f} {y:.1f})" d="{SPROUT}"/>'
            )
    warmth = one.had.last_c
    x = max(axis.left, axis.x(start)) - 12
    anchor = "end" if x - axis.left > 24 or not steps else "start"
    parts.append(
        f'<text class="t warmth" x="{x if anchor == "end" else x + 16:.1f}" y="{ground + 21:.1f}" text-anchor="{anchor}">'
        f"{say.degrees(float(warmth), reader, 0)}</text>"
    )
    parts += _around(one, axis, ground + (18.0 if not steps else 46.0))
    return "".join(parts)


def symbols() -> str:
    """The signs of what is done around a batch, to be used by name."""
    signs = (
        f'<symbol id="tr-{k}" viewBox="-11 -11 22 22" overflow="visible"><path class="sign {k}" d="{d}"/></symbol>'
        for k, d in GLYPHS.items()
    )
    return f'<svg width="0" height="0" class="position-absolute" aria-hidden="true">{"".join(signs)}</svg>'


def _around(one: SowingComing, axis: Axis, y: float) -> list[str]:
    """What was done around it hangs below its line, filled; what is expected within the picture stands open, each where there is room."""
    out, taken = [], -99.0
    for t in sorted(triggers(one.item.raised, axis.today), key=lambda t: t.done or t.due or axis.end):
        on = t.done or t.due
        if on is None or not axis.start <= on < axis.end or (t.done is None and on < axis.today and not t.now):
            continue
        x = max(axis.x(on if t.done is not None else max(on, axis.today)), taken + 20)
        if x > axis.right:
            break
        taken = x
        state = "done" if t.done is not None else "now" if t.now else "later"
        out.append(
            f'<g class="trigger {t.kind} {state}" transform="translate({x:.1f} {y:.1f})"><line x1="0" x2="0" y1="-17" y2="-9"/>'
            f'<path d="{GLYPHS[t.kind]}"/></g>'
        )
    return out


def _warmth(one: SowingComing, axis: Axis, ground: float, steps: bool, key: str) -> str:
    """The warmth it had, day by day: measured as a wave, assumed as dots; taller where it is warmer."""
    out, hours = [], one.had.hours
    for k in range(hours // HOURS + (hours % HOURS > 0)):
        day = one.had.start + timedelta(days=k)
        if not axis.start <= day <= axis.today:
            continue
        part = one.had.hourly_c[k * HOURS : (k + 1) * HOURS]
        if not len(part):
            continue
        x, x1 = axis.x(day), axis.x(day + timedelta(days=1))
        tall = BAND if not steps else max(3.0, float(part.mean()) * 1.1)
        fill = "guess" if one.had.source[min(hours - 1, k * HOURS)] == ASSUMED else "had"
        out.append(
            f'<rect x="{x:.1f}" y="{ground}" width="{max(0.0, x1 - x) + 0.4:.1f}" height="{tall:.1f}" fill="url(#{key}-{fill})"/>'
        )
    return "".join(out)


def one_svg(one: SowingComing, today: date, reader: Reader, width: int = 340) -> str:
    """One batch alone: numbers at the side, what is wanted as a line, the band, counts, warmth below."""
    left, right, top, ground = 34.0, width - 8.0, 16.0, 150.0
    axis = Axis(one.had.start, today, left, right, 12)
    high = ground - top
    per = high / max(1, one.seeds)
    need = one.case.need
    parts = [_defs("one")]
    for value in sorted({one.seeds, one.seeds // 2}):
        y = ground - value * per
        parts.append(
            f'<line class="axis" x1="{left}" x2="{right}" y1="{y:.1f}" y2="{y:.1f}"/>'
            f'<text class="s" x="{left - 4}" y="{y + 4:.1f}" text-anchor="end">{value}</text>'
        )
    parts.append(plot(one, axis, ground, high, reader, steps=True))
    y = ground - need * per
    parts.append(
        f'<line class="wanted" x1="{left}" x2="{right}" y1="{y:.1f}" y2="{y:.1f}"/>'
        f'<text class="t frost" x="{left + 4}" y="{y - 4:.1f}">{need} wanted up</text>'
    )
    x = axis.x(today)
    parts.append(f'<line class="today" x1="{x:.1f}" x2="{x:.1f}" y1="{top - 4}" y2="{ground + 58}"/>')
    parts.append(
        f'<text class="s" x="{left}" y="{ground + 70}">sown {say.short_day(one.had.start)}</text>'
        f'<text class="t late" x="{x:.1f}" y="{ground + 70}" text-anchor="middle">today</text>'
    )
    label = escape(
        f"{one.name}: {one.up} of {one.seeds} up, {one.expected_by(today)[0]} to {one.expected_by(today)[1]} expected"
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="season comingone" viewBox="0 0 {width} 226" width="{width}" height="226"'
        f' role="img" aria-label="{label}">{"".join(parts)}</svg>'
    )
