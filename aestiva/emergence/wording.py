"""How the rules and steps of this stage are said: emergence, lamp, mat and lid."""

from __future__ import annotations

from aestiva.frame.wording import CountWord, Said, StageWords, StepWords
from growing.steps import Task

_WHY = (
    "{up} of {sown} up at clock {clock} (half come at 1); of such seed {share} are taken to come, {further} more expected; {chance} that"
    " {wanted} are enough; sowing again is useful until {sow again by}"
)
VERDICTS = {
    "enough": "Enough are up",
    "soon": "Too soon to tell: first look {result}",
    "warm": "Too cold here: the first look would be on {result}",
    "count": "Count today",
    "wait": "On its way: wait until {result}",
    "check": "Lift one and look",
    "looked": "One was lifted: look again {result}",
    "top_up": "Some stay away: sow more by {result}",
    "again": "Not coming: sow again by {result}",
    "keep_again": "Sow again by {result}, and keep the first",
    "late": "Too late to sow it again",
}

_STAGE = (
    "half up {half up}, a true leaf every {days for a leaf} there: {expected} by today; {seen} seen {on}; out {plant out}, sowing again "
    "until {sow again by}"
)
STAGES = {
    "unseen": "Look at the leaves: {expected} by now",
    "on_time": "On schedule: {seen} seen {on}",
    "ahead": "Ahead: {seen} seen {on}",
    "behind": "Behind: {seen} seen {on}",
    "again": "Start again by {result}",
}
RULES = {
    **{f"emergence.stage_{kind}": Said(words, _STAGE) for kind, words in STAGES.items()},
    **{f"emergence.verdict_{kind}": Said(words, _WHY) for kind, words in VERDICTS.items()},
    "emergence.alarm_injury": Said(
        "the mix has {mix}; warm seed under {limit} in its first two days is injured: onto warmth now",
        "sown {days} ago in mix of {mix}; under {limit} it is injured while it swells",
    ),
    "emergence.alarm_under": Said(
        "the mix has {mix}, under the {limit} at which it begins to move",
        "mean of the last day {mix}; it moves from {limit} on",
    ),
    "emergence.alarm_over": Said(
        "{mix} at its warmest: over {limit} it goes dormant or dies. Cooler, lid ajar, out of the sun",
        "warmest of the last day {mix}, {limit} is the most that does well; at that {share} of what could come does",
    ),
    "emergence.alarm_mat": Said(
        "the mat is on but the mix has {mix}, it should have {should give}: is it plugged in, does the probe lie in the mix?",
        "mean of the last day {mix}, a mat gives {should give}",
    ),
    "emergence.alarm_lid_sun": Said(
        "a closed lid in sun: {mix} at its warmest. Shade it, or lift the lid at noon",
        "{mix} at its warmest, {sun} of sun a day, cloud {cloud}",
    ),
    "emergence.alarm_lid_sun_ahead": Said(
        "a bright day and a closed lid in sun: shade it, or lift the lid at noon",
        "{sun} of sun a day, cloud {cloud} by the forecast",
    ),
    "emergence.alarm_mild": Said(
        "mild days ahead, {ahead} on the mean: heating runs less, and the room may be cooler than {mix}. Take a reading",
        "the next days {ahead}, usual now {usual}; nobody has read the mix for days",
    ),
    "emergence.alarm_apart": Said(
        "wants another warmth than {suits}, which wants {from} to {to}: another place",
        "{suits} comes well at {from} to {to}",
    ),
    "emergence.waits_look": Said(
        "A day’s delay: {result}",
        "{chance} chance that too few come: {plants short} short on average; a day of the {days left} left to sow again",
    ),
    "emergence.waits_lamp": Said(
        "A day’s delay: {result}",
        "of {coming} coming, {newly up} are spoilt by another day in the dark: a quarter of those newly up, half after two days, four fifths "
        "after three; × {rescued by burying} (planted {bury})",
    ),
    "emergence.waits_lid": Said(
        "A day’s delay: {result}",
        "{share a day} a day of {up} that are up, at {warmth}",
    ),
    "emergence.days": Said("Half are up after {result}", "rate {rate} at {temperature}"),
    "emergence.look": Said(
        "First look on {result}",
        "{share} of {emergence} after sowing on {sow}, in mix of {temperature}",
        short="Sown {sow}, in mix of {temperature}: the first may be up.",
    ),
    "emergence.look_assumed": Said(
        "First look on {result}",
        "{share} of {emergence} after sowing on {sow}, if its mix has {temperature}: nobody said",
        short="Sown {sow}: the first may be up, if the mix has {temperature}.",
    ),
    "emergence.up": Said(
        "Half up on {result}",
        "{sow} + {emergence} in mix of {temperature}",
        short="Half are expected up by {result}, in mix of {temperature}.",
    ),
    "emergence.up_assumed": Said(
        "Half up on {result}",
        "{sow} + {emergence} if its mix has {temperature}: nobody said",
        short="Half are expected up by {result}, if the mix has {temperature}.",
    ),
    "emergence.lamp": Said(
        "Lamp on from {result}",
        "day 3 or six tenths of {emergence} after {sow}; this crop: {light}",
        short="The first days of light decide how stocky they grow; this crop: {light}.",
    ),
    "emergence.count": Said(
        "Count on {result}",
        "{up} so far, {further} more likely, {wanted} wanted; the next when the clock has run on by a quarter",
        short="{up} so far, {further} more likely; {wanted} wanted up.",
    ),
    "emergence.count_twice": Said(
        "Count on {result}",
        "{up} so far, {further} more likely, {wanted} wanted; {looks a day} looks a day, for its whole wait is under five days",
        short="{up} so far, {further} more likely; {wanted} wanted up. Look morning and evening: it comes fast.",
    ),
    "emergence.lift_nothing": Said(
        "Lift one and look: nothing up on {result}",
        "half were due {half due}, and nothing is up of {sown}; {further} more likely. A root, or firm and pale: wait, it wants warmth or "
        "time. Soft, brown or gone: sow again by {sow again by}",
        short="Nothing up, half were due {half due}. Lift one and look; soft or gone, sow again by {sow again by}.",
    ),
    "emergence.lift_nothing_closed": Said(
        "Lift one and look: nothing up on {result}",
        "half were due {half due}, and nothing is up of {sown}; {further} more likely; its sowing window closed on {sow again by}: buy plants, "
        "or another crop",
        short="Nothing up, half were due {half due}. Lift one and look; its window closed {sow again by}: buy plants, or another crop.",
    ),
    "emergence.lift_few": Said(
        "Only {up} on {result}",
        "half were due {half due}; {up} of {sown} are up and {further} more are likely. Lift one: with a root, wait; soft or gone, write off the "
        "rest and sow what is short again by {sow again by}",
        short="Only {up} of {sown}, {further} more likely. Lift one; soft or gone, sow what is short by {sow again by}.",
    ),
    "emergence.lift_few_closed": Said(
        "Only {up} on {result}",
        "half were due {half due}; {up} of {sown} are up and {further} more are likely. Its sowing window closed on {sow again by}",
        short="Only {up} of {sown}, {further} more likely. Lift one, write off what is soft; its window closed {sow again by}.",
    ),
    "emergence.lid_few": Said(
        "Lid off on {result}",
        "{up} of {sown}, and counting has ended",
        short="Only {up} of {sown}, and counting has ended: they need air more than the others need the lid.",
    ),
    **{
        f"emergence.lid_{way}": Said(
            "Lid off on {result}", f"{when}, as you do it here; half are due {{half up}}", short=f"{short}."
        )
        for way, when, short in (
            ("first", "at the first one up", "At the first one up"),
            ("third", "when three in ten are up", "When three in ten are up"),
            ("most", "when three in four are up", "When three in four are up"),
            ("all", "when all are up: vents, then ajar, then off", "When all are up: vents first, then ajar, then off"),
        )
    },
    "emergence.lid": Said(
        "Lid off on {result}",
        "when half are up",
        short="When half are up: warm, closed and dark now draws them thin.",
    ),
    "emergence.paper": Said(
        "Paper off on {result}", "when half are up", short="When half are up: under it they grow crooked."
    ),
    "emergence.vents": Said(
        "Vents open on {result}",
        "when all are up, as you do it here",
        short="All are up: a first gap, then ajar, then off.",
    ),
    "emergence.vents_day2": Said(
        "Vents open on {result}",
        "two days after sowing on {sow}, as you do it here",
        short="Two days sown: moving air keeps white fuzz away.",
    ),
    "emergence.vents_first": Said(
        "Vents open on {result}",
        "at the first one up, expected {first up}, as you do it here",
        short="At the first one up: air for it.",
    ),
    "emergence.ajar": Said(
        "Lid ajar on {result}", "a day after the vents", short="A day after the vents: a pencil under one edge."
    ),
    "emergence.mat_first": Said(
        "Mat off on {result}",
        "at the first one up, expected {first up}, as you do it here",
        short="At the first one up: warm and dim draws them thin.",
    ),
    "emergence.mat_half": Said(
        "Mat off on {result}",
        "when half are up, as you do it here",
        short="When half are up: it stands free for the next.",
    ),
}


def _of_cells(what: str) -> CountWord:
    """“cells: lamp on”, of soil blocks and of a box by their own names."""

    def name(task: Task, starts: str) -> str:
        things = "box" if task.count is None else "blocks" if task.unit == "blocks" else "cells"
        return f"{things}: {what}"

    return CountWord(f"cells: {what}", name)


def _lid_name(task: Task, starts: str) -> str:
    """“cells: lid off”; “mat and lid off” where it stands on a mat that goes with it."""
    both = isinstance(task.detail, tuple) and "mat" in task.detail
    return _of_cells("mat and lid off" if both else "lid off").of(task, starts)


STEPS = {
    "look": StepWords(
        _of_cells("first look"),
        "Count",
        "Lift the lid, look across the surface against the light. Count what has broken the surface.",
        act="look at",
    ),
    "count": StepWords("up: count again", "Count", "Count what is up so far, not only the new ones.", act="count"),
    "lift": StepWords(
        _of_cells("lift one and look"),
        "Looked",
        "Lift one seed with a knife point. Firm and pale: keep it moist and warmer. Soft, brown, empty or gone: it will not come; "
        "give the batch up or sow again. Write down what is up now.",
        act="look under the surface of",
    ),
    "lamp": StepWords(
        _of_cells("lamp on"),
        "Lamp on",
        "Lamp a hand’s breadth over the lid; check that the timer is on.",
        caution="Electricity near water: residual-current protection, drip loops. Do not stare into lamps.",
        act="light",
    ),
    "lid": StepWords(
        CountWord("cells: lid off", _lid_name),
        "Lid off",
        "Vents, then ajar, then off over a day. From mist to watering from below. What stands on a mat comes off it.",
        caution="Unplug a heat mat before moving wet trays.",
        act="uncover",
    ),
    "paper": StepWords(
        _of_cells("paper off"),
        "Paper off",
        "Lift the strip by one end, in the evening or in shade; mist at once.",
        act="lift the paper off",
    ),
    "vents": StepWords(
        _of_cells("open the vents"),
        "Vents open",
        "A finger’s breadth on one side. Drops run down: wipe the lid.",
        act="open the vents of",
    ),
    "ajar": StepWords(
        _of_cells("lid ajar"),
        "Lid ajar",
        "A pencil under one edge for a day; look for pale mix in the evening.",
        act="set the lid ajar of",
    ),
    "mat": StepWords(
        _of_cells("mat off"),
        "Mat off",
        "Unplug it, or lift the tray off it onto a lit place. It is free for the next tray.",
        caution="Unplug a heat mat before moving wet trays.",
        act="take off the mat",
    ),
}

WORDS = StageWords(
    RULES,
    STEPS,
    course={
        "look": "First look",
        "lamp": "Lamp on",
        "up": "Half up",
        "paper": "Paper off",
        "vents": "Vents open",
        "ajar": "Lid ajar",
        "lid": "Lid off",
        "mat": "Mat off",
    },
    events={
        "up": "up so far",
        "never_up": "will not come",
        "lifted": "lifted one and looked",
        "lamp": "lamp on",
        "paper": "paper off",
        "vents": "vents open",
        "ajar": "lid ajar",
        "lid": "lid off",
        "mat": "mat off",
        "below": "water from below",
        "stage": "leaves seen",
    },
)
