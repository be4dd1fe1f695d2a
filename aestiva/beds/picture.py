"""Beds from above and from the side: plants at the size they have that week, our own glyphs by habit, a letter each."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from html import escape

from aestiva.beds.models import Plot
from aestiva.beds.queries import Laid
from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.season.models import Spot
from growing.beds.bedplan import Rect, seen_from
from growing.crops import Crop

WIDTH = 700
GAP = ' class="nothere"'  # a place whose plant is not out, or was lost
SHARES = (0.5, 0.25, 0.75, 0.1, 0.9)  # of an area's length, where its sign may stand
MOST_SEEN = 900  # plants drawn from the side: behind so many nothing is seen
COLOURS = {
    "harvest": "#a9c191", "bloom": "#c7a9c1", "low": "#dfe6b5", "middle": "#b9cf9c", "high": "#8fb377", "tall": "#5f9150",
}  # fmt: skip
FAMILIES = (
    "#a9c191",
    "#c7a9c1",
    "#dfc98a",
    "#9cc0d4",
    "#d9a58c",
    "#b9b08a",
    "#8fb8a8",
    "#cdb6dd",
    "#e0b9a4",
    "#b7c6dd",
)
BY = {
    "kind": "harvest or bloom",
    "family": "family",
    "height": "height",
    "now": "what it does this week",
    "bloom": "flower colour this week",
}
FLOWERS = {  # a flower's colour as drawn: soft, so that letters stand out on each
    "white": "#fbfaf4", "cream": "#f3e6bd", "yellow": "#f0d25c", "orange": "#e9a55b", "red": "#d97a6c", "pink": "#e6a9bb",
    "purple": "#b79ad0", "blue": "#93b0dc", "green": "#a5c58a", "brown": "#bf9a77", "mixed": "#d3c3d9",
}  # fmt: skip
NOT_SAID = "#d8d2c4"
NOW = {"away": "#e8dcc6", "growing": "#b9cf9c", "yields": "#c7a9c1"}


def habit(laid: Laid) -> str:
    """The shape of our glyph."""
    return habit_of(laid.crop)


def habit_of(crop: Crop) -> str:
    """Blade, rosette, bush or spire, by family and by height against spread."""
    ratio = crop.number("height_cm") / crop.number("spacing_cm")
    if crop.family == "onion family":
        return "blade"
    return "rosette" if ratio < 1.1 else "bush" if ratio < 2.4 else "spire"


_POINTS = {"blade": (5, 0.3), "rosette": (14, 0.78), "bush": (9, 0.68), "spire": (7, 0.6)}


def _glyph(kind: str) -> str:
    """The outline of a plant from above, of radius 1."""
    points, inner = _POINTS[kind]
    corners = []
    for k in range(2 * points):
        r, turn = (1.0 if k % 2 == 0 else inner), math.pi * k / points + 0.3
        corners.append(f"{r * math.cos(turn):.3f} {r * math.sin(turn):.3f}")
    return f"M{'L'.join(corners)}Z"


def _symbol(name: str, outline: str) -> str:
    """An outline to be used at any size; its line stays as thin."""
    path = f'<path d="{outline}" vector-effect="non-scaling-stroke"/>'
    return f'<symbol id="{name}" overflow="visible">{path}</symbol>'


def colour(laid: Laid, by: str, day: date, families: Sequence[str]) -> str:
    if by == "family":
        return (
            FAMILIES[families.index(laid.crop.family) % len(FAMILIES)] if laid.crop.family in families else FAMILIES[0]
        )
    if by == "height":
        height = laid.crop.number("height_cm")
        return COLOURS["low" if height < 35 else "middle" if height < 70 else "high" if height < 120 else "tall"]
    if by == "now":
        if not laid.standing.stands(day):
            return NOW["away"]
        return NOW["yields" if day >= laid.standing.yields_from else "growing"]
    if by == "bloom":
        return _flower(laid, day)[0]
    return COLOURS[laid.crop.word("yields")] if laid.crop.word("yields") in COLOURS else COLOURS["harvest"]


def _flower(laid: Laid, day: date) -> tuple[str, str]:
    """The colour it is drawn in that week, and what it means in words."""
    if not laid.standing.stands(day):
        return NOW["away"], "not there"
    if laid.crop.word("yields") != "bloom" or day < laid.standing.yields_from:
        return NOW["growing"], "not in bloom"
    return (FLOWERS[laid.flower], laid.flower) if laid.flower in FLOWERS else (NOT_SAID, "in bloom, colour not said")


def legend(laid: Sequence[Laid], by: str, day: date, units: Reader) -> list[tuple[str, str]]:
    """What each colour means, as (swatch, word)."""
    families = sorted({one.crop.family for one in laid})
    if by == "family":
        words = {name: FAMILIES[k % len(FAMILIES)] for k, name in enumerate(families)}
    elif by == "height":
        words = {
            f"under {say.amount(35, 'cm', units, 0)}": COLOURS["low"],
            f"to {say.amount(70, 'cm', units, 0)}": COLOURS["middle"],
            f"to {say.amount(120, 'cm', units, 0)}": COLOURS["high"],
            "taller": COLOURS["tall"],
        }
    elif by == "now":
        words = {"growing": NOW["growing"], "harvest or bloom": NOW["yields"], "not there": NOW["away"]}
    elif by == "bloom":
        words = {word: fill for fill, word in sorted({_flower(one, day) for one in laid}, key=lambda found: found[1])}
    else:
        words = {"harvest": COLOURS["harvest"], "bloom": COLOURS["bloom"]}
    return [
        (
            f'<svg width="16" height="12" aria-hidden="true"><rect width="16" height="12" rx="2" fill="{c}" stroke="#22302a"/></svg>',
            word,
        )
        for word, c in words.items()
    ]


def bed_svg(bed: Rect, laid: Sequence[Laid], day: date, by: str, grid: float, edit: bool, units: Reader) -> str:
    """The bed from above; areas can be moved by pointer and keys where `edit`."""
    scale = min((WIDTH - 8) / bed.length, 420 / bed.width)
    width, height = bed.length * scale + 8, bed.width * scale + 8
    families = sorted({one.crop.family for one in laid})
    lines = "".join(
        f'<path class="grid" d="M{4 + k * grid * scale:.1f} 4V{height - 4:.1f}"/>'
        for k in range(1, math.ceil(bed.length / grid))
    ) + "".join(
        f'<path class="grid" d="M4 {4 + k * grid * scale:.1f}H{width - 4:.1f}"/>'
        for k in range(1, math.ceil(bed.width / grid))
    )
    glyphs = "".join(_symbol(f"g-{kind}", _glyph(kind)) for kind in _POINTS)
    body = "".join(_area(one, scale, day, by, families, edit) for one in laid)
    return (
        f'<svg class="bed" viewBox="0 0 {width:.0f} {height:.0f}" width="{width:.0f}" height="{height:.0f}" role="group"'
        f' aria-label="The bed from above, {say.amount(bed.length, "cm", units)} by {say.amount(bed.width, "cm", units)}"'
        f' data-scale="{scale:.5f}" data-grid="{grid:g}"'
        f' data-length="{bed.length:g}" data-width="{bed.width:g}">{glyphs}'
        f'<rect class="soil" x="4" y="4" width="{width - 8:.1f}" height="{height - 8:.1f}" rx="5"/>{lines}{body}</svg>'
    )


def _area(one: Laid, scale: float, day: date, by: str, families: Sequence[str], edit: bool) -> str:
    rect, stands = one.rect, one.standing.stands(day)
    x, y = 4 + rect.x * scale, 4 + rect.y * scale
    w, h = rect.length * scale, rect.width * scale
    radius = one.spread(day) / 2 * scale
    fill = colour(one, by, day, families)
    spots = one.places
    plants = ""
    out = len(spots) if one.there is None else min(len(spots), math.ceil(one.there / one.clump))
    if stands:
        plants = "".join(
            f'<use{"" if n < out else GAP} href="#g-{habit(one)}" transform="translate({sx * scale:.1f} {sy * scale:.1f}) scale({radius:.1f})"/>'
            for n, (sx, sy) in enumerate(spots)
        )
        plants = f'<g class="plants" fill="{fill}">{plants}</g>'
    size = max(11.0, min(22.0, one.spacing * scale * 0.45))
    letters = "".join(
        f'<text x="{sx * scale:.1f}" y="{sy * scale + size * 0.35:.1f}" font-size="{size:.0f}" text-anchor="middle">{one.letter}</text>'
        for sx, sy in (spots if len(spots) <= 40 and stands else [[rect.length / 2, rect.width / 2]])
    )
    wanted = f"{one.plants} fit, {one.planting.wanted} wanted"
    if not stands:
        said = "not there that week"
    elif by == "bloom":
        said = _flower(one, day)[1]
    else:
        said = "to be set out" if one.there is None else f"{one.there} stand there"
    label = escape(f"{one.name}: {wanted}; {said}")
    handle = f'<rect class="corner" x="{w - 12:.1f}" y="{h - 12:.1f}" width="16" height="16" rx="3"/>' if edit else ""
    data = (
        f' tabindex="0" role="button" data-area="{one.row.pk}" data-revision="{one.row.revision}"'
        f' data-x="{rect.x:g}" data-y="{rect.y:g}" data-l="{rect.length:g}"'
        f' data-w="{rect.width:g}"'
        if edit
        else ""
    )
    return (
        f'<g class="area{"" if stands else " away"}" transform="translate({x:.1f} {y:.1f})" aria-label="{label}"{data}>'
        f'<rect class="edge" width="{w:.1f}" height="{h:.1f}"/>{plants}{handle}<title>{label}</title></g>'
        f'<g class="letters" transform="translate({x:.1f} {y:.1f})" aria-hidden="true">{letters}</g>'
    )


SIDE = {  # silhouettes in a box one wide and one high, from the ground up
    "blade": "M-.2 0L-.5 -.9L-.1 -.2L0 -1L.1 -.2L.5 -.9L.2 0Z",
    "rosette": "M-.5 0C-.5 -.8 -.3 -1 0 -1C.3 -1 .5 -.8 .5 0Z",
    "bush": "M-.42 0C-.6 -.9 -.35 -1 0 -.98C.35 -1 .6 -.9 .42 0Z",
    "spire": "M-.3 0C-.34 -.4 -.12 -.7 0 -1C.12 -.7 .34 -.4 .3 0Z",
}


def elevation_svg(bed: Rect, laid: Sequence[Laid], day: date, by: str, side: str, units: Reader) -> str:
    """The bed as it is seen from its side: what is far is drawn first, heights in the same measure as widths."""
    across = bed.length if side in ("below", "above") else bed.width
    scale = min((WIDTH - 8) / bed.length, 420 / bed.width)
    tall = max([60.0, *(one.crop.number("height_cm") for one in laid)])
    up = min(scale, 230 / tall)
    width, ground = across * scale + 60, 22 + tall * up
    families = sorted({one.crop.family for one in laid})
    drawn = []
    for one in laid:
        high = one.standing.height(day)
        if not high:
            continue
        spread = one.spread(day)
        for sx, sy in one.places:
            spot = Rect(one.rect.x + sx, one.rect.y + sy, 0.0, 0.0)
            at, _, near = seen_from(spot, side)
            at = across - at if side in ("above", "right") else at
            drawn.append((near, at, high, spread, one))
    drawn.sort(key=lambda d: -d[0])
    shapes = "".join(_symbol(f"s-{k}", d) for k, d in SIDE.items())
    looks = {one.row.pk: (habit(one), colour(one, by, day, families)) for one in laid}
    plants = "".join(
        f'<use href="#s-{looks[one.row.pk][0]}" fill="{looks[one.row.pk][1]}"'
        f' transform="translate({4 + at * scale:.0f} {ground:.0f}) scale({spread * scale:.1f} {high * up:.1f})"/>'
        for _, at, high, spread, one in drawn[:MOST_SEEN]
    )
    mark = (50 if tall < 120 else 100) if units.units == "metric" else (20 if tall < 120 else 40) * 2.54
    return (
        f'<svg class="elevation" viewBox="0 0 {width:.0f} {ground + 12:.0f}" width="{width:.0f}" height="{ground + 12:.0f}" role="img"'
        f' aria-label="The bed from its side; heights are in the list">{shapes}<g class="plants">{plants}</g>'
        f'<path class="ground" d="M0 {ground:.1f}H{across * scale + 8:.1f}"/>'
        f'<path class="rule" d="M{across * scale + 14:.1f} {ground:.1f}V{ground - mark * up:.1f}h6"/>'
        f'<text class="s" x="{across * scale + 20:.1f}" y="{ground - mark * up + 14:.1f}">{say.amount(mark, "cm", units, 0)}</text></svg>'
    )


def plot_svg(
    plot: Plot, spots: Sequence[Spot], laid: dict[int, list[Laid]], day: date, by: str, links: dict[int, str],
    size: tuple[str, str] | None = None,
) -> str:  # fmt: skip
    """The whole ground from above with its beds and north; `links` by spot; `size` in mm for paper."""
    scale = WIDTH / plot.width_cm
    height = plot.height_cm * scale
    step = plot.grid_cm * scale
    drawn = [s for s in spots if s.x_cm is not None and s.length_cm]
    families = sorted({one.crop.family for areas in laid.values() for one in areas})
    glyphs = "".join(_symbol(f"p-{kind}", _glyph(kind)) for kind in _POINTS)
    beds = "".join(_plot_bed(s, laid.get(s.pk, []), scale, day, by, families, links.get(s.pk, "")) for s in drawn)
    turn = plot.north_deg
    wide, high = size or (f"{WIDTH}", f"{height:.0f}")
    return (
        f'<svg class="plot" viewBox="0 0 {WIDTH} {height:.0f}" width="{wide}" height="{high}" role="group"'
        f' aria-label="The ground from above" data-scale="{scale:.5f}" data-grid="{plot.grid_cm:g}"'
        f' data-length="{plot.width_cm:g}" data-width="{plot.height_cm:g}">{glyphs}'
        f'<pattern id="squares" width="{step:.2f}" height="{step:.2f}" patternUnits="userSpaceOnUse"><path class="grid"'
        f' d="M{step:.2f} 0H0V{step:.2f}" fill="none"/></pattern><rect class="lawn" width="{WIDTH}" height="{height:.0f}"/>'
        f'<rect width="{WIDTH}" height="{height:.0f}" fill="url(#squares)"/>{beds}'
        f'<g class="north" transform="translate({WIDTH - 30} 34) rotate({turn:g})"><path d="M0 -20L7 8L0 3L-7 8Z"/>'
        f'<text class="t" y="-23" text-anchor="middle">N</text></g></svg>'
    )


def _sign(one: Laid, scale: float, taken: list[Rect]) -> str:
    """The area's sign on a slip of paper, so that no plant and no other sign runs into it: along its middle, where it is free."""
    width, height = 8.0 + 7.0 * len(one.letter), 14.0
    across, y = one.rect.length * scale, (one.rect.y + one.rect.width / 2) * scale
    centres = [min(max(across * share, width / 2), max(across - width / 2, width / 2)) for share in SHARES]
    slips = [Rect(one.rect.x * scale + x - width / 2, y - height / 2, width, height) for x in centres]
    found = next((slip for slip in slips if not any(slip.overlap(other) for other in taken)), slips[0])
    taken.append(found)
    return (
        f'<rect class="slip" x="{found.x:.1f}" y="{found.y:.1f}" width="{width:.1f}" height="{height:.1f}" rx="2"/>'
        f'<text class="t" x="{found.x + width / 2:.1f}" y="{y + 4.5:.1f}" text-anchor="middle">{one.letter}</text>'
    )


def _plot_bed(
    spot: Spot, laid: Sequence[Laid], scale: float, day: date, by: str, families: Sequence[str], href: str
) -> str:
    assert spot.x_cm is not None and spot.y_cm is not None and spot.length_cm and spot.width_cm
    w, h = spot.length_cm * scale, spot.width_cm * scale
    plants, signs, taken = [], [], list[Rect]()
    for one in laid:
        if not one.standing.stands(day):
            continue
        radius = max(1.5, one.spread(day) / 2 * scale)
        uses = "".join(
            f'<use href="#p-{habit(one)}" transform="translate({(one.rect.x + x) * scale:.1f} {(one.rect.y + y) * scale:.1f}) scale({radius:.1f})"/>'
            for x, y in one.places
        )
        plants.append(f'<g class="plants" fill="{colour(one, by, day, families)}">{uses}</g>')
        signs.append(_sign(one, scale, taken))
    body = (
        f'<rect class="soil k-{spot.kind}" width="{w:.1f}" height="{h:.1f}" rx="3"/>'
        f'<text class="n halo" x="2" y="-4">{escape(spot.code)}</text>{" ".join(plants)}{"".join(signs)}'
    )
    group = f'<g transform="translate({spot.x_cm * scale:.1f} {spot.y_cm * scale:.1f})">{body}</g>'
    if not href:
        return group
    at = f'data-bed="{spot.pk}" data-revision="{spot.revision}" '
    at += f'data-x="{spot.x_cm:g}" data-y="{spot.y_cm:g}" data-l="{spot.length_cm:g}" data-w="{spot.width_cm:g}"'
    return f'<a href="{escape(href)}" class="bedlink" {at}>{group}</a>'
