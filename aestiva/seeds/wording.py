"""How the rules and steps of this stage are said: seed and what it wants before sowing."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords, StepWords

RULES = {
    "seeds.seed": Said(
        "Have the seed by {result}",
        "sowing is on {sow}; {ahead} ahead leaves time to order",
        short="Sowing is on {sow}.",
    ),
    "seeds.chill": Said(
        "Chill from {result}",
        "sowing on {sow} − {chill_days} of moist cold",
        short="Moist and cold until sowing on {sow}.",
    ),
    "seeds.soak": Said(
        "Soak from {result}",
        "sowing on {sow}; soak {soak_h}, no longer: over-soaked seed rots",
        short="For sowing on {sow}; no longer, or it rots.",
    ),
    "seeds.cells_to_sow": Said(
        "{result} to sow, {seeds per cell} each",
        "each cell gives a plant with {chance per place}: emergence {emergence}, survival {survival}; enough "
        "for {wanted} in {odds} of cases (dividing alone says {even odds}, about even odds)",
    ),
    "seeds.germination": Said(
        "{result} of them will come",
        "{by age} by age {age} against a life of {life here} (the species' {seed_years} × {storage} for "
        "storage), a prior worth eight seeds, and its tests; four times in five between {low} and {high}",
    ),
    "seeds.test": Said(
        "{came} of {tested} came on {on}: counts as {result}",
        "each counts {counts as}: a warm towel brings more than mix, and the seed has aged since",
    ),
    "seeds.test_plan": Said(
        "Test {result}",
        "its emergence is known to ± {give or take}, ± {sure enough} would do; {needed} are needed for sowing of {had}",
    ),
    "seeds.order": Said(
        "Order {result}",
        "{needed} for the plan − {had}; the first sowing is on {first sowing}, {ahead} ahead leave time",
    ),
    "seeds.seeds_to_sow": Said(
        "{result} to sow",
        "each seed gives a plant with {chance per place}: emergence {emergence}, survival {survival}; enough "
        "for {wanted} in {odds} of cases",
    ),
}

STEPS = {
    "seed": StepWords(
        "plants’ worth of seed to find or order",
        "Have it",
        "Look in the seed box first. Write crop, variety and year on anything new.",
    ),
    "soak": StepWords(
        "hours to soak", "Soaking", "Room-warm water, just covering the seed; set a timer and drain when it ends."
    ),
    "chill": StepWords(
        "days of moist chill",
        "Chilling",
        "Seed in moist sand or paper in a bag in the fridge, labelled with crop and date; not with food.",
    ),
}

CAUTIONS = {
    "hot_pepper": "Very hot peppers: gloves, and nothing near the eyes.",
    "poisonous_seed": "The seed is poisonous: keep it from children and animals, wash hands.",
    "poisonous_plant": "All parts are poisonous: gloves, wash hands, not where children or animals graze.",
}

WORDS = StageWords(RULES, STEPS, cautions=CAUTIONS)
