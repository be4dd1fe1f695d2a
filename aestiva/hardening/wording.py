"""How the rules and steps of this stage are said: the ladder of outings."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords, StepWords

RULES = {
    "hardening.waits_age": Said(
        "A day’s delay: {result}",
        "nothing until the age limit of what they are in, {age limit}; {over it} over it, {share a day} of {plants} a day",
    ),
    "hardening.waits_outing": Said(
        "A day’s delay: {result}",
        "{rungs left} rungs are left until planting out on {plant out}: {spare} to spare; without any, {share a day} of {plants} a day "
        "(harvest of {yield_days}, cut by {cut by}), and what age takes",
    ),
    "hardening.waits_in": Said(
        "A day’s delay: {result}",
        "{share lost} of {plants} left out tonight: {at the plant} at the plant, harm begins at {harm}",
    ),
    "hardening.from": Said("Harden from {result}", "planting out {plant out} − {ladder days}: {ladder} and spare days"),
    "hardening.ladder": Said("Rung {result} of {rungs}", "{outings} had on the ladder of {ladder}, {missed} missed"),
    "hardening.outing": Said(
        "Outing {rung} of {rungs}",
        "{hours} outdoors, {out at} to {in by}, {shelter}; {ladder}, out for good on {plant out}",
        short="Out {out at}, in by {in by}, {shelter}: outing {rung} of {rungs}; out for good on {plant out}.",
    ),
    "hardening.hot": Said(
        "Outing {rung} of {rungs}, in shade",
        "{hours} outdoors, {out at} to {in by}, in shade for it gets {warmest}; water at noon; out for good on {plant out}",
        short="Out {out at}, in by {in by}, in shade: it gets {warmest}. Water at noon. Outing {rung} of {rungs}.",
    ),
    "hardening.night_out": Said(
        "Outing {rung} of {rungs}: stay out tonight",
        "a day and a night, {shelter}; {ladder}, out for good on {plant out}",
        short="Stay out tonight too: out {out at}, {shelter}; outing {rung} of {rungs}, out for good on {plant out}.",
    ),
    "hardening.day_only": Said(
        "Out for the day, in for the night",
        "about {at the plant} at the plant tonight, and they bear {limit} at the risk you accept: the night waits for another day",
        short="Out {out at}, in by {in by}: about {at the plant} at the plant tonight, they bear {limit}.",
    ),
    "hardening.in": Said(
        "Bring in what went out on {result}",
        "out for {hours} on the ladder of {ladder}",
        short="In by {in by}, after {hours} out; or say how long they were out.",
    ),
    "hardening.in_cold": Said(
        "Bring in before dark what went out on {result}",
        "out for {hours} on the ladder of {ladder}; tonight comes near what harms them",
        short="In by {in by}, before dark: tonight comes near what harms them.",
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
    "hardening.too_gusty": Said(
        "Stay in",
        "gusts of {gusts} that day, over the limit of {limit} for an outing",
        short="Too gusty: {gusts}; {limit} is the most they stand.",
    ),
}

STEPS = {
    "harden": StepWords(
        "plants out", "Carried out", "Water lightly first. Set a timer for carrying in.", act="carry out"
    ),
    "bring_in": StepWords(
        "plants to bring in",
        "Brought in",
        "Look under the leaves before carrying pests back in. Limp or bleached? Give the next outing more shade.",
        caution="Loaded trays on dark steps: light the way, one at a time.",
        act="carry in",
    ),
    "stay_in": StepWords(
        "plants stay in", "Kept in", "Nothing to carry. A fan or an open window indoors helps meanwhile.", act="keep in"
    ),
}

WORDS = StageWords(RULES, STEPS, course={"harden": "Harden from"}, events={"out": "carried out", "outing": "outdoors"})
