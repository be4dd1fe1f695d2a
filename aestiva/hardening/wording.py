"""How the rules and steps of this stage are said: the ladder of outings."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords, StepWords

RULES = {
    "hardening.from": Said("Harden from {result}", "planting out {plant out} − {ladder days}: {ladder} and spare days"),
    "hardening.ladder": Said("Rung {result} of {rungs}", "{outings} had on the ladder of {ladder}, {missed} missed"),
    "hardening.outing": Said(
        "Outing {rung} of {rungs}",
        "{hours} outdoors, {shelter}; {ladder}, out for good on {plant out}",
        short="Outing {rung} of {rungs}, {shelter}; out for good on {plant out}.",
    ),
    "hardening.too_cold": Said(
        "Stay in",
        "at best {warmest} that day, under the limit of {limit} for an outing",
        short="Too cold for them: {warmest} at best, they want {limit}.",
    ),
    "hardening.too_windy": Said(
        "Stay in",
        "wind of {wind} that day, over the limit of {limit} for an outing",
        short="Too windy: {wind}; {limit} is the most they stand.",
    ),
}

STEPS = {
    "harden": StepWords("plants out", "Carried out", "Water lightly first. Set a timer for carrying in."),
    "stay_in": StepWords(
        "plants stay in", "Kept in", "Nothing to carry. A fan or an open window indoors helps meanwhile."
    ),
}

WORDS = StageWords(RULES, STEPS, course={"harden": "Harden from"}, events={"outing": "outdoors"})
