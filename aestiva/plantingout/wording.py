"""How the rules and steps of this stage are said: planting out and the frost watch."""

from __future__ import annotations

from aestiva.frame import say
from aestiva.frame.wording import Said, StageWords, StepWords
from growing.crops import Crop
from growing.steps import Task

RULES = {
    "plantingout.waits_age": Said(
        "A day’s delay: {result}",
        "nothing until the age limit of what they are in, {age limit}; {over it} over it, {share a day} of {plants} a day",
    ),
    "plantingout.waits_plant": Said(
        "A day’s delay: {result}",
        "{by age} by age; the window is open until {window until}, after it {share a day} of {plants} a day (harvest of {yield_days}, cut by "
        "{cut by}). What the weather of another day is worth is not in it yet",
    ),
    "plantingout.waits_night": Said(
        "A day’s delay: {result}",
        "{share lost} of {plants} on {night}: {at the plant} at the plant, give or take {error}, harm begins at {harm}",
    ),
    "plantingout.cold": Said(
        "Due {result}: wait for a milder night",
        "about {at the plant} at the plant tonight, where harm begins at {harm}: they are safer in their pots",
        short="Wait: about {at the plant} at the plant tonight, where harm begins at {harm}.",
    ),
    "plantingout.wind": Said(
        "Due {result}: wait for a calmer day",
        "wind of {wind}, over {limit}: it dries and breaks what has just been set",
        short="Wait: wind of {wind} today, over {limit}.",
    ),
    "plantingout.hot": Said(
        "Due {result}: set them out in the evening",
        "{warmest} at best, over {limit}: in the evening, and shaded for three days",
        short="In the evening, and shaded for three days: {warmest} today, over {limit}.",
    ),
    "plantingout.frost_watch": Said(
        "Chance of harm on {night}: {result}",
        "{at the plant} at the plant, give or take {error}; hardened to {hardened}, harm begins at {harm}; told from {told from}",
        short="About {at the plant} at the plant, where harm begins at {harm}: {chance} chance that it comes near.",
    ),
    "plantingout.spare_beyond": Said(
        "{result} over",
        "all that were wanted are out since {planted on}; these are kept {kept} to fill gaps, then they need a home",
        short="All that were wanted are out since {planted on}; the gaps are filled: give, swap or compost these.",
    ),
    "plantingout.spare_unwanted": Said(
        "{result} over",
        "other sowings give all that were wanted; these would go out on {planted on} and are kept {kept} to fill gaps, then they need a home",
        short="Other sowings gave all that were wanted, and the gaps are filled: give, swap or compost these.",
    ),
    "plantingout.spare": Said(
        "{result} over",
        "{planted} of {wanted} wanted are out since {planted on}; the rest is kept {kept} to fill gaps, then it needs a home",
        short="{planted} of {wanted} are out since {planted on}; the gaps are filled: give, swap or compost the rest.",
    ),
}


def planting(task: Task, starts: str) -> str:
    """plants to set out"""
    return "clumps to set out" if task.unit == "clumps" else "plants to set out"


def set_out(task: Task, crop: Crop, system: str) -> str:
    """“Water the tray first; 30 cm apart, no deeper than it stood. In the evening or under cloud; water each in.”"""
    apart = say.amount(crop.number("spacing_cm"), "cm", system, 0)
    deep = "no deeper than it stood" if crop.word("bury") == "never" else "to the lowest leaves"
    return f"Water the tray first; {apart} apart, {deep}. In the evening or under cloud; water each one in."


STEPS = {
    "plant": StepWords(
        planting,
        "Planted",
        "In the evening or under cloud. Water the tray first, and each plant once it is in.",
        touches="plant",
        how=set_out,
        act="plant out",
    ),
    "spare": StepWords(
        "plants over",
        "Given away",
        "Fill gaps first. Then give, swap or sell them; what nobody wants goes on the compost, unless it is diseased.",
        act="find a home for",
    ),
    "cover": StepWords(
        "plants to cover before dark",
        "Covered",
        "Fleece before dusk while there is still warmth in the ground; keep it off the leaves, weigh the edges.",
        act="cover",
    ),
    "carry_in": StepWords(
        "plants to carry in before dark",
        "Carried in",
        "Before dusk. Check the labels come in with the trays.",
        caution="Loaded trays on dark steps: light the way, one at a time.",
        act="carry in",
    ),
}

WORDS = StageWords(
    RULES, STEPS, course={"out": "Plant out"}, events={"planted": "planted out", "lost_outside": "lost in the garden"}
)
