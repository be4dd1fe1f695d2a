"""The rules of Seeds, and the inputs that each may show."""

_ODDS = ("wanted", "emergence", "survival", "seeds per cell", "chance per place", "confidence", "odds", "even odds")
RULES = {
    "seeds.germination": ("fresh_germination", "age", "seed_years", "storage", "life here", "by age", "low", "high"),
    "seeds.test": ("came", "tested", "on", "counts as"),
    "seeds.test_plan": ("needed", "had", "give or take", "sure enough", "sow"),
    "seeds.order": ("needed", "had", "first sowing", "ahead"),
    "seeds.cells_to_sow": _ODDS,
    "seeds.seeds_to_sow": _ODDS,
    "seeds.seed": ("sow", "ahead"),
    "seeds.chill": ("sow", "chill_days"),
    "seeds.soak": ("sow", "soak_h"),
}
