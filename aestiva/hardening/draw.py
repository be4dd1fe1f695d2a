"""The ladders of two weeks as one picture: steps of light over the soil line, nights under it, an arrow into the garden."""

from __future__ import annotations

from datetime import date, timedelta
from html import escape

from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.hardening.ladders import DAYS, DaySky, LadderRow, Ladders
from aestiva.light.draw import label, rect
from growing.ladders.ahead import DayAhead
from growing.ladders.climbing import COLD, GUSTY, HAIL, NOBODY, RAINY, SHELTERED, WINDY
from growing.ladders.ladder import NIGHT_HOURS

LEFT, STEP, HEAD, ROW = 190.0, 57.0, 150.0, 58.0
WIDE = LEFT + DAYS * STEP + 84
BAR = 38.0
MOST_H = 13.0
TALL = 36.0
REASONS = {COLD: "cold", WINDY: "wind", GUSTY: "gusts", RAINY: "rain", HAIL: "hail", NOBODY: "no one"}
WORDS = {
    COLD: "too cold",
    WINDY: "too windy",
    GUSTY: "too gusty",
    RAINY: "too wet",
    HAIL: "hail",
    NOBODY: "nobody at home",
}
TURN = 'patternUnits="userSpaceOnUse" patternTransform="rotate(45)"'
HATCH = f'<defs><pattern id="shade" width="6" height="6" {TURN}><path class="hatch" d="M0 0V6"/></pattern></defs>'


def ladders_svg(found: Ladders, today: date, reader: Reader, links: dict[int, str]) -> str:
    """The picture; links: by batch, the address of its work."""
    high = HEAD + ROW * len(found.rows) + 10
    out = [HATCH, *_head(found.days, reader)]
    for n, sky in enumerate(found.days):
        if sky.nobody:
            x = LEFT + n * STEP - 2
            out.append(
                f'<rect class="nobody" x="{x:.0f}" y="{HEAD - 26:.0f}" width="{STEP:.0f}" height="{high - HEAD + 22:.0f}"/>'
            )
            out.append(_door(x + STEP / 2))
    for n, row in enumerate(found.rows):
        out += _row(row, n, HEAD + n * ROW, today, links)
    out.append(f'<path class="nowline" d="M{LEFT:.0f} {HEAD - 20:.0f}V{high - 6:.0f}"/>')
    said = "; ".join(row_said(row, today) for row in found.rows)
    size = f'viewBox="0 0 {WIDE:.0f} {high:.0f}" width="{WIDE:.0f}" height="{high:.0f}"'
    return f'<svg class="ladders" {size} role="group" aria-label="{escape(said)}">{"".join(out)}</svg>'


def _head(days: tuple[DaySky, ...], reader: Reader) -> list[str]:
    known = sum(d.forecast for d in days)
    split = LEFT + known * STEP
    out = []
    if known:
        out += [rect(LEFT, 0, known * STEP, 18, "fore"), label(LEFT + 5, 13, "forecast", "b")]
    if known < len(days):
        out.append(f'<rect class="usual" x="{split:.0f}" y="0" width="{(len(days) - known) * STEP:.0f}" height="18"/>')
        out.append(f'<text class="s" x="{split + 5:.0f}" y="13">what these days usually bring</text>')
    for y, words in ((38, "Sky and warmth"), (68, "Wind behind the shelter"), (94, "Night at the plant")):
        out.append(f'<text class="b" x="4" y="{y}">{words}</text>')
    out.append(f'<path class="zero" d="M{LEFT - 4:.0f} 82H{LEFT + len(days) * STEP:.0f}"/>')
    for n, d in enumerate(days):
        x = LEFT + n * STEP
        pale = "" if d.forecast else " pale"
        out.append(f'<g class="day{pale}">{_sky(x, d)}')
        if d.tmax_c is not None:
            out.append(
                f'<text class="t" x="{x + 52:.0f}" y="42" text-anchor="end">{escape(say.degrees(d.tmax_c, reader, 0))}</text>'
            )
        if d.wind_kmh is not None:
            bad = " alarm" if d.wind_kmh > 20 else ""
            out.append(_grass(x + 4, 72, d.wind_kmh))
            out.append(
                label(x + 52, 72, escape(say.amount(d.wind_kmh, "km/h", reader, 0).split(" ")[0]), f"t{bad}", "end")
            )
        if d.plant_c is not None:
            frost = d.plant_c <= 1
            deep = min(14.0, max(3.0, (12 - d.plant_c) * 1.1))
            out.append(rect(x + 40, 82, 16, deep, "frost" if frost else "cool"))
            out.append(
                label(x + 37, 97, escape(say.degrees(d.plant_c, reader, 0)), f"t{' cold' if frost else ''}", "end")
            )
        first = n == 0
        out.append(
            f'<text class="{"b now" if first else "s"}" x="{x + 2:.0f}" y="118">{say.weekday(d.day)[:3]} {d.day.day}</text></g>'
        )
    return out


def _sky(x: float, d: DaySky) -> str:
    """Sun, sun behind bands, or bands alone; drops where it rains."""
    cloud = 0.4 if d.cloud is None else d.cloud
    out = ""
    if cloud < 0.75:
        out += f'<circle class="sun" cx="{x + 12:.0f}" cy="36" r="8"/>'
    if cloud >= 0.35:
        out += f'<path class="cloud" d="M{x + 2:.0f} 32H{x + 24:.0f}M{x + 5:.0f} 37H{x + 27:.0f}M{x + 1:.0f} 42H{x + 22:.0f}"/>'
    if d.rain_mm is not None and d.rain_mm >= 1:
        out += f'<path class="drops" d="M{x + 8:.0f} 46l-2 5M{x + 15:.0f} 46l-2 5M{x + 22:.0f} 46l-2 5"/>'
    return out


def _grass(x: float, y: float, wind: float) -> str:
    """Three blades that lean as the wind blows."""
    lean = min(14.0, wind * 0.6)
    bad = " bent" if wind > 20 else ""
    blades = "".join(f"M{x + 4 * k:.1f} {y}q{lean / 3:.1f}-8 {lean:.1f}-13" for k in range(3))
    return f'<path class="grass{bad}" d="{blades}"/>'


def _door(x: float) -> str:
    return f'<path class="shutdoor" d="M{x - 8:.0f} {HEAD - 4:.0f}v-20h16v20Z"/><circle class="knob" cx="{x + 4:.0f}" cy="{HEAD - 14:.0f}" r="1.7"/>'


def _row(row: LadderRow, n: int, y: float, today: date, links: dict[int, str]) -> list[str]:
    base = y + 44
    batch = row.item.batch_pk
    stripe = f'<rect class="stripe" x="0" y="{y:.0f}" width="{WIDE:.0f}" height="{ROW:.0f}"/>' if n % 2 == 0 else ""
    name = escape(row.item.full_name)
    count = row.item.raised.plants
    where = f"{count if count is not None else '?'} · {escape(row.item.grows_at or 'no bed yet')}"
    words = label(4, y + 26, name[:26], "b") + label(4, y + 43, where)
    out = [stripe, f'<a href="{links.get(batch, "#")}" class="rowlink">{words}</a>']
    last = row.ready if row.ready is not None else today + timedelta(days=DAYS)
    end = min((last - today).days, DAYS)
    out.append(f'<path class="ground" d="M{LEFT:.0f} {base:.0f}H{LEFT + end * STEP:.0f}"/>')
    if row.begins is not None and row.days:
        at = (row.begins - today).days
        a, b = max(0, at - 2), min(DAYS, at + 3)
        if a < DAYS:
            x1, x2 = LEFT + a * STEP, LEFT + b * STEP
            bowl = f"M{x1:.0f} {base + 1:.0f}C{x1 + 20:.0f} {base + 13:.0f} {x2 - 20:.0f} {base + 13:.0f} {x2:.0f} {base + 1:.0f}Z"
            out.append(f'<path class="maybegin" d="{bowl}"/>')
    for day in row.days:
        d = (day.day - today).days
        if 0 <= d < DAYS:
            out += _bar(row, day, LEFT + d * STEP + 2, base)
    if row.ready is not None and end < DAYS:
        out += _planted(row, LEFT + end * STEP, base, y)
    elif row.ready is not None:
        out.append(label(LEFT + DAYS * STEP + 4, base - 4, f"out {say.short_day(row.planned)}"))
    return out


def _bar(row: LadderRow, day: DayAhead, x: float, base: float) -> list[str]:
    """One day: hours as height, shade hatched below and sun above; a missed one is an empty box with its reason; the night below."""
    rung = row.item.raised.ladder.rungs[min(day.rung, len(row.item.raised.ladder.rungs) - 1)]
    if not day.out:
        tall = max(12.0, TALL * min(rung.hours, MOST_H) / MOST_H)
        return [
            f'<rect class="missed" x="{x:.0f}" y="{base - tall:.0f}" width="{BAR:.0f}" height="{tall:.0f}"/>',
            f'<text class="m alarm" x="{x + BAR / 2:.0f}" y="{base - tall - 4:.0f}" text-anchor="middle">{REASONS.get(day.code, "")}</text>',
        ]
    hours = min(day.hours if day.hours < NIGHT_HOURS else MOST_H, MOST_H)
    tall = max(6.0, TALL * hours / MOST_H)
    sun = 0.0 if day.code == SHELTERED else tall * rung.sun
    out = []
    if tall - sun > 0.5:
        out.append(
            f'<rect class="shade" x="{x:.0f}" y="{base - tall + sun:.1f}" width="{BAR:.0f}" height="{tall - sun:.1f}"/>'
        )
    if sun > 0.5:
        out.append(f'<rect class="sunbar" x="{x:.0f}" y="{base - tall:.1f}" width="{BAR:.0f}" height="{sun:.1f}"/>')
    out.append(f'<rect class="frame" x="{x:.0f}" y="{base - tall:.1f}" width="{BAR:.0f}" height="{tall:.1f}"/>')
    out.append(
        f'<text class="m" x="{x + BAR / 2:.0f}" y="{base - tall - 4:.0f}" text-anchor="middle">{hours:.0f} h</text>'
    )
    night = "nightout" if day.night else "nightin"
    out.append(f'<rect class="{night}" x="{x + BAR + 1:.0f}" y="{base:.0f}" width="16" height="9"/>')
    return out


def _planted(row: LadderRow, x: float, base: float, y: float) -> list[str]:
    words = f"hardened {say.short_day(row.ready)}"
    if row.ready is not None and row.planned > row.ready:
        words += f", out {say.short_day(row.planned)}"  # as the plan has it
    right = x + 190 > WIDE
    at, anchor = (x - 8, "end") if right else (x + 8, "start")
    out = [
        f'<path class="arrow" d="M{x:.0f} {y + 10:.0f}V{base + 4:.0f}m-5 0h10l-5 8Z"/>',
        f'<text class="t" x="{at:.0f}" y="{y + 15:.0f}" text-anchor="{anchor}">{words}</text>',
    ]
    if row.later:
        out.append(
            f'<text class="m alarm" x="{at:.0f}" y="{y + 29:.0f}" text-anchor="{anchor}">{say.plural(row.later, "day")} later</text>'
        )
    if not right:
        grow = f"M{x:.0f} {base:.0f}V{base - 8:.0f}L{LEFT + DAYS * STEP:.0f} {base - 13:.0f}V{base:.0f}Z"
        out.append(f'<path class="growing" d="{grow}"/>')
    return out


def row_said(row: LadderRow, today: date) -> str:
    """The row in words, for whoever reads and does not look."""
    parts = []
    for day in row.days[:DAYS]:
        when = "today" if day.day == today else say.short_day(day.day)
        if day.out:
            parts.append(f"{when} {say.number(min(day.hours, 24))} h{' and the night' if day.night else ''}")
        else:
            parts.append(f"{when} in, {WORDS.get(day.code, 'in')}")
    ready = (
        f"hardened {say.day(row.ready)}, out {say.day(row.planned)}"
        if row.ready is not None
        else "not climbed in the days looked at"
    )
    return f"{row.item.full_name}: {', '.join(parts)}; {ready}"
