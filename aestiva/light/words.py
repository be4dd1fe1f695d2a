"""What a shelf's light says in a line: its headline, its verdict beside its name, hours, cost, what another lamp would buy."""

from __future__ import annotations

from aestiva.frame import say, wording
from aestiva.frame.say import Reader
from aestiva.light.draw_day import clock_of
from aestiva.light.shelves import Shelf
from growing.light.advice import LampChange, gains_by_turning, weak
from growing.light.compare import Alternative
from growing.light.hours import LampTimer, SharedTimer, WeekCost
from growing.light.targets import LITTLE, MUCH

BUTTONS = {
    "raise": ("Raise it {by}", "Raised"), "lower": ("Lower it {by}", "Lowered"), "dim": ("Dim it to {to}", "Dimmed"),
    "brighten": ("Turn it up to {to}", "Turned up"), "longer": ("Burn it {to}", "Set"), "shorter": ("Burn it {to}", "Set"),
    "aslant": ("Hang it aslant", "Hung so"), "boxes": ("Boxes under the short ones", "Set up"),
}  # fmt: skip
NAMES = {
    "this": "These lamps, hung best",
    "two": "As many again",
    "panel": "A panel instead",
    "sides": "White sides",
    "sill": "A window sill",
}
STATES = {
    "out_of_room": "no room", "raise": "raise it", "lower": "too dim", "brighten": "too dim", "dim": "too bright", "longer": "too dim",
    "shorter": "too bright", "aslant": "uneven", "boxes": "uneven", "second": "too weak", "turn": "turn the trays", "none": "right",
}  # fmt: skip


def headline(shelf: Shelf, reader: Reader) -> str:
    """“Raise the lamp over R1·2 by 4 cm; the ends get half of the middle”"""
    if not shelf.rig.known:
        return f"Which lamp hangs over {shelf.code}?"
    if not shelf.board.stands:
        return f"Nothing grows on {shelf.code}: its lamp may be off"
    said = wording.headline(shelf.advice.first.working, reader)
    first = shelf.advice.first
    still = [g.stand.name for g in weak(first.got)] if first.kind in BUTTONS else []
    if still:
        said += (
            f"; {still[0]} still lacks light"
            if len(still) == 1
            else f"; {say.plural(len(still), 'batch', 'batches')} still lack light"
        )
    elif first.kind in BUTTONS and any(gains_by_turning(g) for g in first.got):
        said += "; turn its trays every week"
    return said


def state(shelf: Shelf) -> tuple[str, str]:
    """A word beside its name, and its tone."""
    if not shelf.rig.known:
        return "which lamp?", "late"
    if not shelf.board.stands:
        return "empty", "quiet"
    first = shelf.advice.first.kind
    clash = any(c.kind == "long" for c in shelf.advice.hours.clashes)
    word = "hours" if first in ("none", "turn") and clash else STATES[first]
    if first == "raise" and any(g.gap_cm < shelf.board.limits.warm_cm for g in shelf.advice.got):
        word = "at the lamp"
    return word, "fine" if first in ("none", "turn") and not clash else "late"


def got_words(dli: float, verdict: str) -> str:
    """“now little”, beside the number."""
    return {LITTLE: "too little", MUCH: "more than it can use"}.get(verdict, "right")


def option_words(option: LampChange, reader: Reader) -> tuple[str, str]:
    """What is done, and the word on the button that says it was."""
    what, button = BUTTONS[option.kind]
    values = wording.words(option.working, reader)
    return what.format_map(values), button


def cost_words(cost: WeekCost, watts: float, reader: Reader) -> str:
    """“64 W · 7.2 kWh · £1.72 a week”"""
    parts = [f"{round(watts)} W", f"{say.number(cost.kwh)} kWh"]
    if cost.money is not None:
        parts.append(say.money(cost.money, reader))
    return " · ".join(parts) + " a week"


def timer_words(timer: LampTimer, reader: Reader) -> str:
    """“5:00 to 21:00”"""
    if timer.hours >= 24:
        return "round the clock"
    if timer.hours <= 0:
        return "off"
    over = ", over midnight" if timer.over_midnight else ""
    return f"{clock_of(timer.on_h, reader)} to {clock_of(timer.off_h, reader)}{over}"


def clash_words(shared: SharedTimer, reader: Reader) -> list[str]:
    """Whom the hours do not suit, each with its reason."""
    return [f"{wording.headline(c.working, reader)}. {wording.reason(c.working, reader)}" for c in shared.clashes]


def alternative_words(one: Alternative, reader: Reader) -> str:
    """“11 mol, darkest 0.6 of the mean; 4 of 5 right; 120 W · 13 kWh a week”"""
    parts = [f"{one.right} of {one.of} have what they want"]
    if one.cost is not None:
        parts.insert(0, f"darkest {say.percent(one.even)} of the mean")
    if one.cost is not None:
        parts.append(cost_words(one.cost, one.watts, reader))
    if one.height_cm is not None:
        parts.append(
            f"hung at {say.amount(one.height_cm, 'cm', reader, 0)}" + ("" if one.fits else ": no room for that")
        )
    return "; ".join(parts)
