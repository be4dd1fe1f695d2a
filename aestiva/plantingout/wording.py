"""How the rules and steps of this stage are said: planting out and the frost watch."""

from __future__ import annotations

from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.frame.wording import CountWord, Said, StageWords, StepWords
from growing.crops import Crop
from growing.steps import Task

RULES = {
    "plantingout.gate_hardened": Said(
        "Hardened: {rungs climbed} of {rungs}",
        "all rungs of its ladder first, likely by {likely open}",
        verdicts={"open": "all rungs of its ladder are climbed"},
    ),
    "plantingout.gate_stage": Said(
        "Stage: {leaves} true leaves",
        "a plant that is ready has {leaves wanted}; likely by {likely open}",
        verdicts={
            "open": "a plant that is ready has {leaves wanted}",
            "unknown": "a plant that is ready has {leaves wanted}; nobody looked lately, so this is only reckoned: a look would tell",
            "free": "it has no such stage",
        },
    ),
    "plantingout.gate_soil": Said(
        "Morning soil: {soil}",
        "it wants {soil_c}, on the mean of three mornings; likely by {likely open}, so in {springs open} of springs",
        verdicts={
            "open": "it wants {soil_c}, on the mean of three mornings",
            "unknown": "it wants {soil_c}; nothing is known of the soil here: read it at eight in the morning, as deep as a finger",
        },
    ),
    "plantingout.gate_nights": Said(
        "Nights ahead: {nights}",
        "mean of the fortnight with the credit of warm days; it wants {mean_night_c}; likely by {likely open}, so in {springs open} of springs",
        verdicts={
            "open": "mean of the fortnight with the credit of warm days; it wants {mean_night_c}",
            "covered": "mean of the fortnight with the credit of warm days; it wants {mean_night_c}, and a cover at hand makes up for the rest",
            "unknown": "it wants {mean_night_c}; nothing is known of the nights here",
            "free": "it waits for no warm nights",
        },
    ),
    "plantingout.gate_frost": Said(
        "Frost still to come: {frost to come}",
        "in so many springs, each begun with the forecast, what damages it comes once more before midsummer; you accept {accepted risk}; "
        "likely open by {likely open}",
        verdicts={
            "open": "in so many springs, each begun with the forecast, what damages it comes once more before midsummer; you accept {accepted risk}",
            "covered": "in so many springs what damages it comes once more before midsummer; you accept {accepted risk}, and a cover at hand makes "
            "up for the rest until {likely open}",
            "unknown": "you accept {accepted risk}; nothing is known of frosts here",
            "free": "frost counts only once it shows",
        },
    ),
    "plantingout.gate_day": Said(
        "The day",
        "too much wind for what has just been set, at most {wind at most}",
        verdicts={
            "open": "no more wind than {wind at most}, and not too hot",
            "evening": "hot: set them out in the evening, and shade them for three days",
            "unknown": "no forecast says what the day brings; at most {wind at most} of wind",
            "free": "in shelter, so wind does not count",
        },
    ),
    "plantingout.gate_bed": Said(
        "{bed}: {ground}",
        "not free until {until}, as far as is known: {stands there}",
        verdicts={"open": "nothing stands there, and nobody saw that it is not ready"},
    ),
    "plantingout.worth": Said(
        "Worth of planting on {plant out}: {result}",
        "{survives} live × {unchilled} unchilled × {unaged} not too old × {harvest} of the harvest × {early} for being early, each year by "
        "itself, meaned over {years} years that begin with the forecast: an estimate",
    ),
    "plantingout.worth_survives": Said(
        "Live through the nights: {result}",
        "harm begins at {damage_c} once hardened ({hardened} already, a seventh more each night out)",
    ),
    "plantingout.worth_unchilled": Said(
        "Not chilled: {result}",
        "five hundredths for each night more than three degrees below {chill_c}, three tenths at most",
    ),
    "plantingout.worth_unaged": Said(
        "Not too old: {result}", "{over it} over its age limit, {share a day} a day, half at most"
    ),
    "plantingout.worth_harvest": Said(
        "Of its harvest: {result}",
        "days gathered of {usual days} before the year’s end; {mature} at standard warmth, {ahead} ahead in the pot; growth by each year’s days, "
        "slow in cold soil for three weeks, none on chilled days",
    ),
    "plantingout.worth_early": Said("For being early: {result}", "{later} later, {share a day} a day, half at most"),
    "plantingout.uncover": Said(
        "Uncover in the morning of {result}",
        "covered for the night of {covered on}; {warmest} at best by day, and it is too warm under a cover from {off from} on",
        short="Covered last night: off in the morning, before it gets warm under it.",
    ),
    "plantingout.tonight_stands": Said(
        "They bear it: {result} at the plant", "warned from {warned from}, harm begins at {harm}"
    ),
    "plantingout.tonight_covered": Said(
        "Cover: {result} at the plant",
        "warned from {warned from}, harm begins at {harm}; {cover} adds about {adds}; without it {lost} of {plants} are lost on average",
    ),
    "plantingout.tonight_beyond": Said(
        "No cover is enough: {result} at the plant",
        "warned from {warned from}, harm begins at {harm}; {lost} of {plants} are lost on average: two layers, or a bucket over each",
    ),
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
        "{at the plant} at the plant, give or take {error}; hardened to {hardened}, harm begins at {harm}; warned from {warned from}",
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
    """Plants, or clumps of them."""
    return "clumps to set out" if task.unit == "clumps" else "plants to set out"


def set_out(task: Task, crop: Crop, reader: Reader) -> str:
    """“Water the tray first; 30 cm apart, no deeper than it stood. In the evening or under cloud; water each in.”"""
    apart = say.amount(crop.number("spacing_cm"), "cm", reader, 0)
    deep = "no deeper than it stood" if crop.word("bury") == "never" else "to the lowest leaves"
    return f"Water the tray first; {apart} apart, {deep}. In the evening or under cloud; water each one in."


STEPS = {
    "plant": StepWords(
        CountWord("plants to set out", planting),
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
    "uncover": StepWords(
        "plants to uncover",
        "Uncovered",
        "Once the frost is off, before the sun is on it. Shake it dry and fold it by the bed while nights are cold.",
        act="uncover",
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
    RULES,
    STEPS,
    course={"out": "Plant out"},
    events={
        "planted": "planted out",
        "lost_outside": "lost in the garden",
        "covered": "covered for the night",
        "uncovered": "uncovered",
        "dipped": "roots dipped",
    },
)
