"""How the rules and steps of this stage are said: seed and what it wants before sowing."""

from __future__ import annotations

from aestiva.frame.wording import CountWord, Said, StageWords, StepWords
from growing.steps import Task

_LIKELY = "{emergence} are likely to come, four times in five {low} to {high}"
_NO_TEST = {
    "late": _LIKELY + "; an answer would come too late for sowing on {sow}",
    "hopeless": _LIKELY + "; no number of it is enough for sowing on {sow}",
    "old": _LIKELY + "; it is past twice its life and nobody counted what is there",
    "short": _LIKELY + "; {needed} are needed and {had} are there, so a test would only use it up",
    "few": _LIKELY + "; {needed} are needed of {had}, which leaves too few to test",
}

RULES = {
    "seeds.waits_seed": Said(
        "A day’s delay: {result}",
        "nothing until the latest sowing day, {latest sowing}; after it {share a day} of {plants} a day (harvest of {yield_days}, cut by {cut by})"
        " × {does not catch up}; on {useful until} all of it. It is needed {ahead} before sowing, and {waiting for it} of the planting waits for it",
    ),
    "seeds.waits_before": Said(
        "A day’s delay: {result}",
        "nothing until the latest sowing day, {latest sowing}; after it {share a day} of {plants} a day (harvest of {yield_days}, cut by {cut by})"
        " × {does not catch up}; on {useful until} all of it. It is needed {ahead} before sowing, and {waiting for it} of the planting waits for it",
    ),
    "seeds.seed": Said(
        "Have the seed by {result}",
        "sowing is on {sow}; {ahead} ahead leaves time to order",
        short="Sowing is on {sow}.",
    ),
    "seeds.seed_short": Said(
        "Order more by {result}",
        "{needed} are sown on {sow}, {had} are there; {ahead} ahead leaves time to order",
        short="{needed} are sown on {sow}, and {had} are there.",
    ),
    "seeds.seed_hopeless": Said(
        "Order other seed by {result}",
        "only {emergence} of what is there will come: no number of it is enough for {sow}; {ahead} ahead leaves time to order",
        short="Only {emergence} of what is there will come: sow it as its own test, and order other seed by {result}.",
    ),
    "seeds.waits_test": Said(
        "A day’s delay: {result}",
        "its last day is {last day}; in {order changes} of cases the answer changes an order, and other seed comes a fortnight later: "
        "{share a day} of {plants} a day (harvest of {yield_days}, cut by {cut by})",
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
    "seeds.count_thin": Said(
        "{result} to sow, {seeds per cell} each, thinned to one",
        "each cell gives a plant with {chance per place}: emergence {emergence}, survival {survival}; enough "
        "for {wanted} in {odds} of cases (dividing alone says {even odds}, about even odds)",
    ),
    "seeds.count_keep": Said(
        "{result} to sow, {seeds per cell} each, separated and all kept",
        "each seed gives a plant with {chance per place}: emergence {emergence}, survival {survival}; enough "
        "for {wanted} in {odds} of cases (dividing alone says {even odds}, about even odds)",
    ),
    "seeds.count_clump": Said(
        "{result} to sow, {seeds per cell} each, left in clumps",
        "{wanted} are {clumps} of {clump}; a clump counts with {at least} or more alive, and each cell gives one with "
        "{chance per place}: emergence {emergence}, survival {survival}, {seedlings} seedlings a seed that comes; enough in "
        "{odds} of cases",
    ),
    "seeds.germination": Said(
        "{result} of them will come",
        "{by age} by age {age}: fresh {fresh_germination}, and 80 % of it after {life here} (the species' {life_room_years} in a "
        "room × {storage} for storage); that weighs as {weight} tested, and its tests come to it; four times in five between "
        "{low} and {high}",
    ),
    "seeds.own_sowing": Said(
        "Sown and counted here, {on}",
        "{came} of {sown} came; it counts {counts as} of a test, for drought, depth and warmth spoke too",
    ),
    "seeds.test": Said(
        "{came} of {tested} came on {on}: counts as {result}",
        "each counts {counts as}: a warm towel brings more than mix, and the seed has aged since",
    ),
    "seeds.test_plan": Said(
        "Test {result}",
        "{emergence} are likely to come, four times in five {low} to {high}: {needed} to sow as it stands; after a good answer "
        "{good}, after a poor one {poor}; it changes in {order changes} of cases whether a packet is ordered",
        short="{needed} to sow as it stands; after a good answer {good}, after a poor one {poor}.",
    ),
    "seeds.own_test": Said(
        "Sow what is left: it is its own test; order by {result}",
        _LIKELY + "; no test worth its seeds would change the {needed} to sow",
        short="Sow what is left of it: it is its own test. Order other seed by {result}.",
        verdicts=_NO_TEST,
    ),
    "seeds.no_test": Said(
        "No test",
        _LIKELY + "; an answer would hardly change the {needed} to sow",
        verdicts=_NO_TEST,
    ),
    "seeds.order": Said(
        "Order {result}",
        "{needed} for the plan − {had}; the first sowing is on {first sowing}, {ahead} ahead leave time",
    ),
    "seeds.count_together": Said(
        "{result} to sow",
        "each seed gives a plant with {chance per place}: emergence {emergence}, survival {survival}; enough "
        "for {wanted} in {odds} of cases",
    ),
}


def seed(task: Task, starts: str) -> str:
    """Plants’ worth of seed, or of tubers."""
    if task.unit != "seeds":
        return "plants’ worth of seed to find or order"
    return "other seed to order" if task.count is None else "seeds to order"


STEPS = {
    "test": StepWords(
        "seeds to lay out for a test",
        "Laid out",
        "On moist paper, rolled up in a bag, at the warmth of the packet’s page; write down there how many have a root.",
        touches="sow",
        act="test the seed of",
    ),
    "seed": StepWords(
        CountWord("plants’ worth of seed to find or order", seed),
        "Have it",
        "Look in the seed box first. Write crop, variety and year on anything new.",
        act="find or order seed for",
    ),
    "soak": StepWords(
        "hours to soak",
        "Soaking",
        "Room-warm water, just covering the seed; set a timer and drain when it ends.",
        touches="sow",
        act="soak",
    ),
    "chill": StepWords(
        "days of moist chill",
        "Chilling",
        "Seed in moist sand or paper in a bag in the fridge, labelled with crop and date; not with food.",
        touches="sow",
        act="chill",
    ),
}

WORDS = StageWords(RULES, STEPS)
