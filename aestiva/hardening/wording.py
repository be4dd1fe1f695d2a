"""How the rules and steps of this stage are said: the ladder of outings."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords, StepWords

RULES = {
    "hardening.vent": Said(
        "Open the {result}",
        "{warmest} at best, cloud {cloud}: about {inside} inside if it stays shut, and it is opened from {open from} on sunny days",
        short="About {inside} inside if it stays shut: open it on sunny days from {open from} on.",
    ),
    "hardening.waits_vent": Said(
        "Left shut: {result}",
        "about {hours} hotter than they stand, {inside} inside at its worst: {share lost} of {plants} are lost",
    ),
    "hardening.shut": Said(
        "Shut the {result}",
        "it was opened today; the night falls to {lowest}, about {at the plant} at the plant inside",
        short="Opened today; the night falls to {lowest}.",
    ),
    "hardening.tonight_stay": Said(
        "May stay: {result} at the plant", "warned from {warned from}; harm begins at {harm} for them as they are now"
    ),
    "hardening.tonight_cover": Said(
        "May stay under a cover: {result} at the plant",
        "warned from {warned from}, harm begins at {harm}; {cover} adds about {adds}; without it {lost} are lost on average",
    ),
    "hardening.tonight_in": Said(
        "Carry in: {result} at the plant",
        "warned from {warned from}, harm begins at {harm}; left out, {lost} of {plants} are lost on average",
    ),
    "hardening.tonight_unknown": Said("The night of {result} is not known", "no forecast reaches it"),
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
    "hardening.grey": Said(
        "First outing, on a grey day",
        "{hours} outdoors, {out at} to {in by}, {shelter}: a grey, mild day near the plan is kinder than sun; out for good on {plant out}",
        short="Out {out at}, in by {in by}, {shelter}: a grey day near the plan is the kindest for a first outing.",
    ),
    "hardening.sheltered": Said(
        "Behind the shelter: outing {rung} of {rungs}",
        "{hours} asked for, {out at} to {in by}: too much wind or rain in the open today, so behind the shelter; it counts half",
        short="Out {out at}, in by {in by}, behind the shelter: too much wind or rain in the open. Counts half a step.",
    ),
    "hardening.brief": Said(
        "A short one: outing {rung} of {rungs}",
        "{hours} asked for; {out at} to {in by} is what those at home can do, and it counts half where it is half",
        short="Out {out at}, in by {in by}: nobody is at home for longer. Counts half a step.",
    ),
    "hardening.too_wet": Said(
        "Stay in",
        "{rain} of rain that day, over the limit of {limit} for trays without a roof",
        short="Too wet: {rain} of rain, and no roof out there.",
    ),
    "hardening.hail": Said(
        "Stay in",
        "hail or thunder is likely that day; {limit} is the chance from which they stay in",
        short="Hail or thunder is likely.",
    ),
    "hardening.nobody": Said(
        "Stay in",
        "nobody is at home that day to carry them out and in again for {hours}",
        short="Nobody is at home to carry them out and in.",
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
    "vent": StepWords(
        "plants to open it for",
        "Opened",
        "A hand’s width in the morning, wider towards noon; prop the lid so that wind cannot slam it.",
        caution="A closed frame cooks within an hour of sun. Fuel heaters: air first, they make carbon monoxide.",
        act="open the frame for",
    ),
    "shut": StepWords(
        "plants to shut it over",
        "Shut",
        "While there is still warmth in it, before the sun is off it.",
        act="shut the frame over",
    ),
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

WORDS = StageWords(
    RULES,
    STEPS,
    course={"harden": "Harden from"},
    events={
        "out": "carried out",
        "outing": "outdoors",
        "sheltered": "behind the shelter",
        "looked_fine": "looked fine after it",
        "looked_limp": "limp after it, recovered",
        "looked_bleached": "bleached by it",
    },
)
