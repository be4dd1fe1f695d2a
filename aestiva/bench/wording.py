"""How the rules and steps of this stage are said: sowing."""

from __future__ import annotations

from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.frame.wording import CountWord, Said, StageWords, StepWords
from growing.batch.facts import GoesTo
from growing.bench.steps import SowingDetail
from growing.crops import Crop
from growing.shelves.laying import laying
from growing.steps import Task

_TOGETHER = {
    "warmth": "{one} wants {high} at most, {other} {low} at least: no warmth does for both",
    "speed": "{one} comes {days longer} after {other}, in one tray",
    "speed_mat": "{one} wants the mat {days longer} longer; {other} grows leggy on it once it is up",
    "light": "{one} comes in the dark, {other} only in light",
    "moisture": "{one} dries between waterings, {other} must never dry",
    "height": "{one} is {taller} taller than {other} under one lamp",
    "hours": "{one} stands {most} of light at most, {other} wants {least} at least: one timer does not do for both",
    "set": "{one} wants {low} to {high}, and it is set to {set to}",
}
_MENDS = {
    "warmth": "Give {one} another place: {elsewhere} has room.",
    "speed": "Lift {one} out: {elsewhere} has room.",
    "speed_mat": "Lift {one} to another warm place: {elsewhere} has room.",
    "light": "Cover the cells of {one} alone, or stand them at {elsewhere}.",
    "moisture": "Water each by itself, or stand {one} at {elsewhere}.",
    "height": "Stand {one} at {elsewhere}, or boxes under the short.",
    "hours": "Stand {one} at {elsewhere}, under another timer.",
    "set": "Set it otherwise, or stand {one} at {elsewhere}.",
}
_NOWHERE = {
    "warmth": "No other place has room: the warmer one first, the other after it.",
    "speed": "No other place has room: split the tray when the first are up.",
    "speed_mat": "No other place has room: take the mat away when half of the first are up.",
    "light": "No other place has room: cover the cells of {one} alone, with card.",
    "moisture": "No other place has room: water each by itself.",
    "height": "No other place has room: boxes under the short ones.",
    "hours": "No other place has room: the shorter day does least harm.",
    "set": "Set it otherwise.",
}


def _company() -> dict[str, Said]:
    """What is said of two that share something, with what would mend it."""
    found = {}
    for kind, why in _TOGETHER.items():
        found[f"bench.company_{kind}"] = Said(why, f"{why}; {{elsewhere}} has room", short=_MENDS[kind])
        found[f"bench.company_{kind}_nowhere"] = Said(why, why, short=_NOWHERE[kind])
    return found


RULES = {
    "bench.waits_sow": Said(
        "A day’s delay: {result}",
        "nothing until the latest sowing day, {latest sowing}; after it {share a day} of {plants} a day (harvest of {yield_days}, cut by {cut by})"
        " × {does not catch up}; on {useful until} all of it. It is needed {ahead} before sowing, and {waiting for it} of the planting waits for it",
    ),
    "bench.waits_buy": Said(
        "A day’s delay: {result}",
        "due {due}: from then on {share a day} of {plants} a day (harvest of {yield_days}, cut by {cut by})",
    ),
    "bench.sow": Said(
        "Sow {result}",
        "{odds} sure of {wanted}; {days left} left in the window",
        short="{odds} sure of {wanted}, {seeds per cell} a cell; {days left} left in the window.",
    ),
    "bench.sow_box": Said(
        "Sow {result} together in a box",
        "{odds} sure of {wanted}; {days left} left in the window",
        short="{odds} sure of {wanted}, together in a box; {days left} left in the window.",
    ),
    "bench.sow_again": Said(
        "Sow {result}",
        "{odds} sure of {wanted}; {more} more by {on} if fewer than {fewer than} then; {days left} left in the window",
        short="{odds} sure of {wanted}, {seeds per cell} a cell; {more} more by {on} if fewer than {fewer than}.",
    ),
    "bench.sow_box_again": Said(
        "Sow {result} together in a box",
        "{odds} sure of {wanted}; {more} more by {on} if fewer than {fewer than}; {days left} left in the window",
        short="{odds} sure of {wanted}, together in a box; {more} more by {on} if fewer than {fewer than}.",
    ),
    "bench.again": Said(
        "Sow {result} more",
        "{up} are there, of which {survival} will live: {short} short of {wanted}; {odds} sure with these; the window is open until {until}",
        short="Only {up}: {short} short. These make it {odds} sure; the window is open until {until}.",
    ),
    "bench.box_look": Said(
        "Look into the box {result}",
        "last look {last look}, again after {wait}; lowest forecast for that night: {night}",
        short="Lift the lid and feel: pale and light means water. Snow may lie on it.",
    ),
    "bench.box_look_up": Said(
        "Look into the box {result}",
        "last look {last look}, again after {wait} once something is up; lowest forecast for that night: {night}",
        short="They are up: open it on a mild sunny day, shut it before a frosty night ({night} forecast).",
    ),
    "bench.box_air_0": Said(
        "A gap from {result}",
        "half up {half up} + {wait}",
        short="Prop the lid open a finger wide, day and night unless it freezes hard.",
    ),
    "bench.box_air_1": Said(
        "Ajar from {result}", "half up {half up} + {wait}", short="Half open, day and night unless it freezes hard."
    ),
    "bench.box_air_2": Said(
        "Without a lid from {result}",
        "half up {half up} + {wait}",
        short="Off for good; keep it at hand for a hard frost.",
    ),
    "bench.stand": Said(
        "Carry to {to} on {result}",
        "you named {to} for it from {from} on; it stands on {stands on}",
        short="From {stands on} to {to}, as you planned: there is room for it.",
    ),
    "bench.stand_frame": Said(
        "Carry to {to} on {result}",
        "you named {to} for it from {from} on; it stands on {stands on}",
        short="From {stands on} to {to}. Shut it at night; open it as soon as sun is on it.",
    ),
    "bench.stand_porch": Said(
        "Carry to {to} on {result}",
        "you named {to} for it from {from} on; it stands on {stands on}",
        short="From {stands on} to {to}. Cooler: less water, and look at the coming nights.",
    ),
    "bench.stand_tunnel": Said(
        "Carry to {to} on {result}",
        "you named {to} for it from {from} on; it stands on {stands on}",
        short="From {stands on} to {to}. Open it when sun is on it; a cover at hand for frost.",
    ),
    "bench.overflow": Said(
        "{result} have no room: {place}, {on}",
        "{taken} would stand there on {on}, and it holds {holds}; it is too small until {until}",
    ),
    "bench.comes": Said(
        "Half up after {result} on {place}",
        "mix at {mix}; it wants {low} to {high}; {share} of what could come, comes; current until then, for its part: {current}",
    ),
    "bench.comes_never": Said(
        "Nothing comes up on {place}",
        "mix at {mix}; it wants {low} to {high}",
    ),
    "bench.comes_unknown": Said(
        "Nobody can say for {place}",
        "nobody said how {place} is heated, and no temperature is known for it",
    ),
    "bench.week": Said(
        "{result} in that week",
        "{tasks} of tasks + {care} of daily care (a minute a full flat and day) + {carrying} of carrying out and in "
        "(three a full flat and day); there are {have}",
    ),
    "bench.repair": Said(
        "{result} a price",
        "{plants} fewer + a delay of {days} worth {delay} + {minutes} ÷ {minutes a plant} a plant",
    ),
    **_company(),
    "bench.path": Said(
        "{result}, {moves}",
        "{cells} and then {plants}: {room days} of room, {mix} of loose mix, {minutes} of hands; it holds until {holds until}",
    ),
    "bench.touches": Said(
        "{name} touches the {above} in {result}",
        "{ceiling} above − {container} of container − {height} of leaves, growing {a day} a day ({leaves} by the days since it came up)",
    ),
    "bench.touching": Said(
        "{name} touches the {above}",
        "{ceiling} above − {container} of container − {height} of leaves ({leaves} by the days since it came up)",
    ),
    "bench.clear": Said(
        "{name} has {result} to the {above}",
        "{ceiling} above − {container} of container − {height} of leaves, growing {a day} a day ({leaves} by the days since it came up)",
    ),
    "bench.sow_box_late": Said(
        "Sow {result} together in a box",
        "{odds} sure of {wanted}; the window closed {days left} ago",
        short="{odds} sure of {wanted}, together in a box; its window closed {days left} ago.",
    ),
    "bench.sow_hopeless": Said(
        "No count for {wanted}",
        "only {emergence} of this seed will come: sow what is left, it is its own test, and order other seed by {order by}; "
        "{days left} left in the window",
        short="Only {emergence} of it will come: sow what is left, it is its own test. Order other seed by {order by}.",
    ),
    "bench.sow_hopeless_late": Said(
        "No count for {wanted}",
        "only {emergence} of this seed will come: sow what is left, it is its own test; other seed was to be ordered by "
        "{order by}; the window closed {days left} ago",
        short="Only {emergence} of it will come, and the window closed {days left} ago: sow what is left, or buy plants.",
    ),
    "bench.sow_direct": Said(
        "Sow in place on {result}",
        "the chosen day {sow}; {days left} left in the window",
        short="Your chosen day; {days left} left in the window.",
    ),
    "bench.sow_late": Said(
        "Sow {result}",
        "{odds} sure of {wanted}; the window closed {days left} ago",
        short="{odds} sure of {wanted}, {seeds per cell} a cell; its window closed {days left} ago.",
    ),
    "bench.sow_direct_late": Said(
        "Sow in place on {result}",
        "the chosen day {sow}; the window closed {days left} ago",
        short="Its window closed {days left} ago: fast crops catch up.",
    ),
    "bench.buy_glass": Said(
        "Fetch plants by {result}",
        "from under glass they climb the whole ladder of {ladder}, and go out on {plant out}",
        short="From under glass: the whole ladder first, out on {plant out}.",
    ),
    "bench.buy_unknown": Said(
        "Fetch plants by {result}",
        "ask where they stood: taken as under glass, they climb the whole ladder of {ladder}, and go out on {plant out}",
        short="Ask where they stood: taken as under glass, the whole ladder first, out on {plant out}.",
    ),
    "bench.buy_outdoors": Said(
        "Fetch plants by {result}",
        "they stood outdoors and go out at once, on {plant out}",
        short="They stood outdoors: out at once, on {plant out}.",
    ),
}

_STARTS = {
    "tuber": "tubers to pot up into growth",
    "slip": "slips to start",
    "corm": "corms or cloves to start",
    "set": "sets to start",
    "cutting": "cuttings to strike",
    "division": "pieces to pot up",
}
_IN_PLACE = {
    "seed": "plants to sow in place",
    "set": "sets to plant",
    "corm": "corms or cloves to plant",
    "tuber": "tubers to plant",
}


def sowing(task: Task, starts: str) -> str:
    """Cells, blocks, seeds together, tubers."""
    if task.count is None:
        return "seed that will hardly come"
    if task.unit == "seeds":
        return "seeds to sow together"
    return _STARTS.get(starts, "blocks to sow" if task.unit == "blocks" else "cells to sow")


def in_place(task: Task, starts: str) -> str:
    """Plants, or what they start from."""
    return _IN_PLACE.get(starts, "plants to set in place")


def again(task: Task, starts: str) -> str:
    """Cells, blocks or seeds."""
    return f"{'seeds' if task.unit == 'seeds' else task.unit} to sow again"


def laid(task: Task, crop: Crop, reader: Reader) -> str:
    """“On the surface, do not cover; 16–21 °C, not on the mat. Label first.”"""
    if crop.word("starts") != "seed":
        return "Just under moist mix, buds or tips up; warm and bright. Label first."
    found = laying(crop)
    return f"{_unseen(task)}{_depth(found.depth_cm, found.light, reader)}; {_warmth(crop, reader)}. Label first."


def _unseen(task: Task) -> str:
    """That nobody is there when it comes up, before it is sown; nothing where somebody is."""
    gone = task.detail.missed if isinstance(task.detail, SowingDetail) else None
    if gone is None:
        return ""
    what = "the first look is due" if gone.what == "look" else "half are up"
    return (
        f"You are away {say.span(gone.since, gone.until)}, when {what} ({say.day(gone.on)}): lamp on a timer and vents open before you go, "
        f"or sow after {say.day(gone.until)}. "
    )


def carried(task: Task, starts: str) -> str:
    """“plants to Frame”, where the task knows it."""
    return f"plants to {task.detail.code}" if isinstance(task.detail, GoesTo) else "plants to their next place"


def laid_outdoors(task: Task, crop: Crop, reader: Reader) -> str:
    """“On the surface, do not cover; in a lidded box outdoors. Label inside and out.”"""
    found = laying(crop)
    return f"{_depth(found.depth_cm, found.light, reader)}; in a lidded box outdoors. Label inside and out."


def laid_in_place(task: Task, crop: Crop, reader: Reader) -> str:
    """“1 cm deep, cover; plants 5 cm apart. Water the row first, label both ends.”"""
    apart = say.amount(crop.number("spacing_cm"), "cm", reader, 0 if crop.number("spacing_cm") >= 10 else 1)
    if crop.word("starts") != "seed":
        return f"Buds or tips up, {apart} apart; firm, water, label both ends."
    found = laying(crop)
    return f"Water the row first. {_depth(found.depth_cm, found.light, reader)}; plants {apart} apart. Label both ends."


def _depth(depth_cm: float, light: str, reader: Reader) -> str:
    if depth_cm < SURFACE_CM:
        return "On the surface, do not cover" if light == "light" else "On the surface, a dusting of mix or vermiculite"
    covered = ", cover and keep it dark" if light == "dark" else ", cover with mix"
    return f"{say.amount(depth_cm, 'cm', reader)} deep{covered}"


def _warmth(crop: Crop, reader: Reader) -> str:
    found = laying(crop)
    return say.between(found.low_c, found.high_c, "°C", reader) + ("" if found.mat else ", not on the mat")


SURFACE_CM = 0.15  # less is a dusting

STEPS = {
    "again": StepWords(
        CountWord("cells to sow again", again),
        "Sown",
        "The same seed, or better. Label it with today’s day: it is a batch of its own.",
        touches="sow",
        how=laid,
        act="sow more",
    ),
    "sow": StepWords(
        CountWord("cells to sow", sowing),
        "Sown",
        "Moist mix, firmed lightly. Label every tray before the seed goes in: crop, variety, day.",
        caution=(
            "Dry mix, perlite and vermiculite: wet them first, mask, wash hands. Treated seed: gloves, never eat it."
        ),
        touches="sow",
        how=laid,
        act="sow",
    ),
    "sow_winter": StepWords(
        CountWord("cells to sow", sowing),
        "Sown",
        "A box with holes below and in the lid; moist mix a hand deep, label inside and out. Outdoors, where rain and snow reach it.",
        caution="Cutting or melting holes: away from your hand, in the open air.",
        touches="sow",
        how=laid_outdoors,
        act="sow outdoors",
    ),
    "box": StepWords(
        "a look into the box",
        "Looked",
        "Feel the mix: pale and light means water. Open on mild sunny days, shut before a frosty night.",
        act="look into the box of",
    ),
    "box_air": StepWords(
        "the box a step further open",
        "Opened",
        "A gap first, then ajar, then off; shut for a hard frost.",
        act="open the box of",
    ),
    "stand": StepWords(
        CountWord("plants to their next place", carried),
        "Carried",
        "Water before, not after; label on the tray. Look at the nights that are forecast first.",
        act="carry to its next place",
    ),
    "sow_direct": StepWords(
        CountWord("plants to sow in place", in_place),
        "Sown",
        "Rake fine, water the row, sow, cover, firm, label both ends.",
        touches="sow",
        how=laid_in_place,
        act="sow in place",
    ),
    "buy": StepWords("plants to order", "Ordered", "Choose short, unflowering plants with white roots.", act="order"),
}

WORDS = StageWords(
    RULES,
    STEPS,
    course={"sow": "Sow"},
    events={
        "sown": "sown, seeds",
        "received": "received",
        "moved": "split off",
        "note": "note",
        "boxed": "looked into the box",
        "aired": "box a step further open",
    },
)
