"""What stands on a board of the front view: trays and pots with plants as high as they are, names under them, what has no room, and
how far it is to what hangs above."""

from __future__ import annotations

from html import escape

from aestiva.beds.picture import habit_of
from aestiva.bench.silhouettes import GREENS, SPROUT_LEAVES
from aestiva.bench.things import Thing
from aestiva.frame import say
from aestiva.frame.say import Reader
from growing.bench.cells import FLAT_WIDTH_CM

BOARD = 5  # thickness of a shelf as drawn [px]
PLANT_CM = 6.0  # between plants as drawn
CHAR = 6.1  # px of a letter
SOON = 7  # days until it touches that are said aloud


class Words:
    """Names under a board, as many as have room beside each other."""

    def __init__(self, y: float) -> None:
        self.y = y
        self.found: list[tuple[float, str, bool]] = []

    def add(self, middle: float, name: str, soon: bool) -> None:
        self.found.append((middle, name, soon))

    def drawn(self, first: float, last: float) -> str:
        """first, last: between which they may stand [px]."""
        out, ends = [], [first, first]
        names: list[tuple[float, str, bool]] = []
        for middle, name, soon in sorted(self.found):
            if names and names[-1][1] == name and not soon:
                before = names.pop()
                names.append(((before[0] + middle) / 2, name, before[2]))
            else:
                names.append((middle, name, soon))
        for middle, name, soon in names:
            half = len(name) * CHAR / 2
            at = min(max(middle, first + half), last + 14 - half)
            row = next((n for n, end in enumerate(ends) if at - half >= end), None)
            if row is None:
                continue
            ends[row] = at + half + 5
            out.append(
                f'<text class="{"t al" if soon else "s"}" x="{at:.1f}" y="{self.y + 12 * row:.1f}" text-anchor="middle">{escape(name)}</text>'
            )
        return "".join(out)


def _short(thing: Thing) -> str:
    names = thing.names
    if not names:
        return thing.name
    return names[0] if len(names) == 1 else f"{names[0]} +{len(names) - 1}"


def _said(thing: Thing, reader: Reader) -> str:
    """What a thing is, in words."""
    names = say.listed(thing.names, 4) if thing.names else "empty"
    where = f" at {thing.spot.code}" if thing.spot is not None else ""
    tall = f", {say.amount(thing.growth.height_cm, 'cm', reader, 0)} high" if thing.growth.height_cm >= 0.5 else ""
    return f"{thing.tray.code}, {names}{where}{tall}" if thing.tray is not None else f"{names}{where}{tall}"


def _soon(thing: Thing) -> bool:
    return thing.headroom is not None and thing.headroom.days is not None and thing.headroom.days <= SOON


def thing_svg(
    thing: Thing, left: float, ground: float, scale: float, addresses: dict[int, str], words: Words, reader: Reader
) -> str:
    """A tray or pots from the front, with plants."""
    assert thing.rect is not None
    x, wide = left + thing.rect.x * scale, thing.rect.length * scale - 1.5
    behind = thing.rect.y > FLAT_WIDTH_CM / 2
    high = max(5.0, thing.depth_cm * scale)
    base = ground - (3.5 if behind else 0.0) - thing.box_cm * scale
    top = base - high
    pots = thing.pots
    count = max(2, min(9, int(wide / scale / PLANT_CM)))
    step = wide / count
    out = [_plants(thing, x, top, wide, count, scale)]
    if thing.box_cm:
        out.append(
            f'<rect class="box" x="{x + 4:.1f}" y="{base:.1f}" width="{wide - 8:.1f}" height="{thing.box_cm * scale:.1f}"/>'
        )
    if pots or (thing.tray is None):
        for i in range(count):
            a, b = x + step * i + 0.8, x + step * (i + 1) - 0.8
            out.append(f'<path class="pot" d="M{a:.1f} {top:.1f}H{b:.1f}L{b - 2:.1f} {base:.1f}H{a + 2:.1f}Z"/>')
    else:
        out.append(
            f'<path class="pot" d="M{x:.1f} {top:.1f}h{wide:.1f}l-1.6 {high:.1f}h{3.2 - wide:.1f}Z"/>'
            f'<path class="rim" d="M{x:.1f} {top:.1f}h{wide:.1f}"/>'
        )
    if thing.lidded:
        lid = 12.0 * scale
        out.append(
            f'<path class="lid" d="M{x - 1:.1f} {top:.1f}v{-lid + 6:.1f}q0 -6 7 -6h{wide - 12:.1f}q7 0 7 6v{lid - 6:.1f}"/>'
        )
    name = escape(_said(thing, reader))
    soon = _soon(thing)
    words.add(x + wide / 2, _short(thing), soon)
    hit = f'<rect class="hit" x="{x:.1f}" y="{min(top - 10, base - 26):.1f}" width="{wide:.1f}" height="{max(base - top + 10, 26):.1f}"/>'
    classes = "thing" + (" soon" if soon else "") + (" behind" if behind else "")
    if thing.tray is None:
        batch = thing.parts[0].batch if thing.parts else 0
        return f'<a class="{classes}" href="{addresses.get(-batch, "")}" aria-label="{name}">{"".join(out)}{hit}</a>'
    pk = thing.tray.pk
    return (
        f'<a class="{classes}" href="{addresses.get(pk, "")}" aria-label="{name}" data-tray="{pk}" data-revision="{thing.tray.revision}"'
        f' data-x="{x:.1f}" data-base="{base:.1f}" data-wide="{wide:.1f}" data-name="{escape(thing.name)}"'
        f' data-spot="{thing.spot.pk if thing.spot else ""}">{"".join(out)}{hit}</a>'
    )


def _plants(thing: Thing, x: float, top: float, wide: float, count: int, scale: float) -> str:
    """Each batch over its share of the width, as high as it is."""
    parts = [p for p in thing.parts if p.item is not None]
    if not parts:
        return ""
    whole = sum(max(1, len(p.cells) or p.standing) for p in parts)
    out, left = [], x
    for part in parts:
        share = max(1, len(part.cells) or part.standing) / whole * wide
        if part.growth.height_cm > 0:
            assert part.item is not None
            kind = "sprout" if part.growth.leaves < SPROUT_LEAVES else habit_of(part.item.crop)
            high = max(3.5, part.growth.height_cm * scale)
            fill = GREENS[kind]
            spread = min(high, share / max(1, round(count * share / wide)) * 0.75)
            number = max(1, round(count * share / wide))
            for i in range(number):
                tip = high * (1 - 0.07 * ((i * 7) % 3))
                out.append(
                    f'<use href="#f-{kind}" fill="{fill}" transform="translate({left + share / number * (i + 0.5):.1f} {top + 1:.1f})'
                    f' scale({spread:.1f} {tip:.1f})"/>'
                )
        left += share
    return f'<g class="growth">{"".join(out)}</g>' if out else ""


def no_room_svg(
    over: list[Thing], left: float, own: float, floor: float, scale: float, addresses: dict[int, str], reader: Reader
) -> str:
    """What is said to stand here and has no room: hatched, over the right edge."""
    out = []
    for n, thing in enumerate(over[:3]):
        wide = min(thing.length_cm, thing.width_cm) * scale * 0.5
        x, y = left + own + 4 - wide - n * (wide + 3), floor - 16
        name = escape(f"{_said(thing, reader)}, no room here")
        href = addresses.get(
            thing.tray.pk if thing.tray is not None else -(thing.parts[0].batch if thing.parts else 0), ""
        )
        data = (
            f' data-tray="{thing.tray.pk}" data-revision="{thing.tray.revision}" data-name="{escape(thing.name)}"'
            f' data-x="{x:.1f}" data-base="{floor:.1f}" data-wide="{wide:.1f}" data-spot=""'
            if thing.tray is not None
            else ""
        )
        out.append(
            f'<a class="thing overflow" href="{href}" aria-label="{name}"{data}>'
            f'<path class="over" d="M{x:.1f} {y:.1f}h{wide:.1f}l-2 12h{4 - wide:.1f}Z" fill="url(#over)"/>'
            f'<rect class="hit" x="{x:.1f}" y="{y - 8:.1f}" width="{wide:.1f}" height="26"/></a>'
        )
    out.append(
        f'<text class="t al halo" x="{left + own:.1f}" y="{floor + BOARD + 13:.1f}" text-anchor="end">{len(over)} without room</text>'
    )
    return "".join(out)


def gap_svg(placed: list[tuple[Thing, float, float]], scale: float, ceiling: float, reader: Reader, cut: bool) -> str:
    """The smallest distance between leaves and what hangs above them, and when it is used up."""
    known = [
        (t, left, ground)
        for t, left, ground in placed
        if t.headroom is not None and not t.lidded and t.growth.height_cm
    ]
    if not known:
        return ""
    thing, left, ground = min(known, key=lambda k: k[0].headroom.gap_cm if k[0].headroom else 0)
    assert thing.headroom is not None and thing.rect is not None
    tip = ground - (thing.rim_cm + thing.growth.height_cm) * scale
    x = left + (thing.rect.x + thing.rect.length / 2) * scale
    gap = say.amount(max(0.0, thing.headroom.gap_cm), "cm", reader, 0)
    if cut and not _soon(thing):
        return ""
    if _soon(thing):
        days = thing.headroom.days or 0
        words = ("touches now",) if not days else (f"{gap},", f"touches in {say.plural(days, 'day')}")
        y = ceiling + 16
        lines = "".join(
            f'<text class="t al halo" x="{x + 13:.1f}" y="{y + k * 13:.1f}">{word}</text>'
            for k, word in enumerate(words)
        )
        return f'<path class="touch" d="M{x - 6:.1f} {ceiling + 5:.1f}h12M{x:.1f} {ceiling + 7:.1f}l5 8h-10Z"/>{lines}'
    return (
        f'<path class="gapline" d="M{x - 3:.1f} {ceiling + 3:.1f}h6M{x:.1f} {ceiling + 3:.1f}V{tip:.1f}M{x - 3:.1f} {tip:.1f}h6"/>'
        f'<text class="t halo" x="{x + 5:.1f}" y="{(ceiling + tip) / 2 + 5:.1f}">{gap}</text>'
    )
