"""The rules of Seeds, and the inputs that each may show."""

from growing.waiting import HARVEST_INPUTS, SOWING_INPUTS

_ODDS = ("wanted", "emergence", "survival", "seeds per cell", "chance per place", "confidence", "odds", "even odds")
_TEST = ("emergence", "low", "high", "needed", "had", "sow")
RULES = {
    "seeds.waits_seed": SOWING_INPUTS,
    "seeds.waits_before": SOWING_INPUTS,
    "seeds.germination": (
        *("fresh_germination", "life_room_years", "storage", "life here", "age", "by age", "weight", "low", "high"),
    ),
    "seeds.own_sowing": ("sown", "came", "on", "counts as"),
    "seeds.test": ("came", "tested", "on", "counts as"),
    "seeds.test_plan": (*_TEST, "good", "poor", "order changes"),
    "seeds.own_test": _TEST,
    "seeds.no_test": _TEST,
    "seeds.order": ("needed", "had", "first sowing", "ahead"),
    **{f"seeds.count_{way}": _ODDS for way in ("thin", "keep", "together")},
    "seeds.count_clump": (*_ODDS, "clump", "clumps", "at least", "seedlings"),
    "seeds.seed": ("sow", "ahead"),
    **{f"seeds.seed_{why}": ("sow", "needed", "had", "emergence", "ahead") for why in ("short", "hopeless")},
    "seeds.waits_test": (*HARVEST_INPUTS, "order changes", "last day"),
    "seeds.chill": ("sow", "chill_days"),
    "seeds.soak": ("sow", "soak_h"),
}
