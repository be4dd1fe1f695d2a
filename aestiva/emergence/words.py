"""What is said of a batch under the mix: short for the picture, a sentence for the page."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from aestiva.emergence.coming import SowingComing
from aestiva.emergence.heat import HeatedPlace, said
from aestiva.frame import say
from aestiva.frame.say import Reader
from growing.batch.verdict import REASONS as WHY
from growing.batch.verdict import looks_a_day

TONES = {
    "again": "late", "keep_again": "late", "late": "late", "warm": "late", "top_up": "soonish", "check": "soonish", "looked": "soonish",
    "count": "soonish",
    "wait": "fine", "soon": "plain", "enough": "fine",
}  # fmt: skip
REASONS = {
    "cold": "the mix was colder than it wants", "hot": "the mix was hotter than it bears", "light": "it needs light to come",
    "dark": "it comes in the dark", "old": "old seed", "deep": "too deep, or under a crust", "soaked": "soaked too long",
    "dry": "dried out once, or wet and soft", "chilled": "warm seed that lay below 10–12 °C in its first two days",
    "rotted": "it lay wet and too cold for a week: probably rotted",
}  # fmt: skip


def tone(kind: str) -> str:
    return TONES[kind]


def verdict_lines(one: SowingComing, today: date) -> list[str]:
    """Up to three short lines: what it is, what to do, by when."""
    v = one.verdict
    by = "" if v.by is None else say.day(v.by)
    found = {
        "enough": ["Enough are up:", "air, light and", "water from below"],
        "soon": ["Too soon to tell:", "first look", by],
        "warm": ["Too cold here:", "a warmer place, or", f"first look {by}"],
        "wait": ["On its way:", f"{round(v.further)} more likely,", f"look {by}"],
        "count": ["Count today:", "the last look", "says nothing of now"],
        "check": ["Somewhat late:", "lift one and look:", "a root, or soft?"]
        if one.case.measured
        else ["Somewhat late:", "lift one and look,", "measure the mix"],
        "looked": ["One was lifted,", "look again", by],
        "top_up": ["Some stay away:", f"sow {v.sow} more", f"by {by}"],
        "again": ["Not coming:", f"sow {v.sow} again", f"by {by}"],
        "keep_again": ["Do not wait:", f"sow {v.sow}, keep these,", f"by {by}"],
        "late": ["Not coming:", "too late to sow it,", "buy, or another crop"],
    }[v.kind]
    return [text for text in found if text]


def sentence(one: SowingComing, today: date) -> str:
    """“Two more at best, 12 are wanted. The mix was colder than it wants; old seed.”"""
    v = one.verdict
    if one.up >= one.seeds:
        return f"All {one.seeds} are up ({one.case.need} wanted)."
    further = f"{say.plural(round(v.further), 'more seedling')} likely, {round(v.low)} to {round(v.high)} in the end ({one.case.need} wanted)"
    why = "" if not v.reasons else " Perhaps " + ", or ".join(REASONS[r] for r in v.reasons[:3]) + "."
    twice = (
        v.kind in ("soon", "count", "wait")
        and one.item.raised.facts.half_up is None
        and looks_a_day(one.whole_days) == 2
    )
    often = " It comes fast: look morning and evening." if twice else ""
    return f"{further}.{why}{often}"


def seed_words(found: int | None, takes: int, price: float | None, reader: Reader) -> str:
    """“The packet holds 34 seeds; this takes 12, 0.60 of it.”  found: seeds in it, None: nobody counted.  price: of a seed."""
    cost = "" if price is None else f", {say.money(takes * price, reader)}"
    if found is None:
        return f"This takes {say.plural(takes, 'seed')}{cost}; nobody has counted the packet."
    if found < takes:
        return f"The packet holds {say.plural(found, 'seed')}, this takes {takes}{cost}: sow what there is, and order."
    return f"The packet holds {say.plural(found, 'seed')}; this takes {takes}{cost}."


PRESSING = ("again", "keep_again", "top_up", "warm", "late", "check")
TOLD = (
    "injury",
    "over",
    "mat",
    "lid_sun",
    "mild",
    "under",
)  # alarms that Today says; of who stand ill together the page does
MOST_SAID = 3


class Silent(NamedTuple):
    """One sentence for Today: the batch it is of (None: of a place), and the place on the page that says why."""

    batch: int | None
    words: str


def silent(
    found: list[SowingComing], heats: Sequence[HeatedPlace], today: date, reader: Reader
) -> tuple[list[Silent], int]:
    """What Today says of batches that do not come as they should and of warmth that is wrong, the most pressing first; how many more."""
    cold = {c.name for c in found if c.verdict.kind == "warm"}
    wrong = [
        Silent(None, said(a, reader))
        for h in heats
        for a in h.alarms
        if a.kind in TOLD and not (a.kind == "under" and a.name in cold)
    ]
    told = [Silent(c.batch, headline([c], today)) for c in found if c.verdict.kind in PRESSING]
    both = [*wrong[:1], *told, *wrong[1:]]
    return both[:MOST_SAID], len(both[MOST_SAID:])


def headline(found: list[SowingComing], today: date) -> str:
    """The most pressing in a sentence."""
    if not found:
        return "Nothing is under the mix"
    one, v = found[0], found[0].verdict
    by = "" if v.by is None else say.day(v.by)
    name = one.name
    return {
        "again": f"{name} is not coming: sow again by {by}",
        "keep_again": f"{name}: sow again by {by}, and keep these",
        "late": f"{name} is not coming, and it is too late to sow it again",
        "warm": f"{name} lies too cold: in this mix the first look would be on {by}",
        "top_up": f"{name}: sow {v.sow} more by {by}",
        "check": f"{name} is late: lift one and look",
        "looked": f"{name} is late, and one was lifted: look again {by}",
        "count": f"Count {name} today",
        "wait": f"All is on its way: next look {by}",
        "enough": "Enough are up of all of it",
        "soon": f"Too soon to tell: first look {by}, {name}",
    }[v.kind]


assert set(REASONS) == set(WHY)
