"""What can a crop differ in?  The fields of the library, their units and limits."""

from __future__ import annotations

from dataclasses import dataclass

from growing.practices import BY_FIELD

MOST = 10**9
CHECK_DAYS = 8  # 7–10 days that a transplant loses against a plant sown in place


@dataclass(frozen=True, slots=True)
class Field:
    """A field: unit, lowest and highest value accepted, or the words it may be; what it says to a grower."""

    unit: str
    low: float | None
    high: float | None
    label: str
    words: tuple[str, ...] = ()

    def check(self, value: object) -> str:
        """Empty when the value may stand; otherwise what is wrong with it."""
        if self.words:
            return "" if value in self.words else f"must be one of {', '.join(self.words)}, not {str(value)[:40]!r}"
        if isinstance(value, bool) or not isinstance(value, int | float):
            return f"must be a number, not {str(value)[:40]!r}"
        if abs(value) > MOST:
            return "is no number that can be meant"
        assert self.low is not None and self.high is not None
        if not self.low <= value <= self.high:
            return f"must lie between {self.low:g} and {self.high:g} {self.unit}, not {value:g}".replace("  ", " ")
        return ""


YES_NO = ("yes", "no")


def _way(field: str) -> Field:
    """A question on which growers go different ways, as a word of the crop."""
    school = BY_FIELD[field]
    return Field("", None, None, school.question, tuple(o.key for o in school.options))


HARDINESS = ("hardy", "half-hardy", "tender", "very tender")
SPEEDS = ("fast", "medium", "slow", "very slow")

FIELDS: dict[str, Field] = {
    "raise_min": Field("weeks", 1, 40, "raising time, shortest"),
    "raise_max": Field("weeks", 1, 40, "raising time, longest"),
    "hold": Field("weeks", 1, 60, "sowing age limit"),
    "out_min": Field("weeks", -20, 20, "planting out from, against last frost"),
    "out_max": Field("weeks", -20, 20, "planting out until, against last frost"),
    "mean_night_c": Field("°C", -30, 25, "mean of the nights it waits for"),
    "chill_c": Field("°C", -5, 20, "night that chills it, below"),
    "soil_c": Field("°C", 0, 30, "morning soil at planting"),
    "damage_c": Field("°C", -30, 10, "damaging temperature once hardened"),
    "kill_c": Field("°C", -40, 10, "ends a full-grown, hardened plant"),
    "harvest_c": Field("°C", -30, 10, "spoils what is eaten of it"),
    "heat_c": Field("°C", 10, 40, "heat that ends its harvest, mean of a fortnight"),
    "heat_night_c": Field("°C", 10, 35, "warm nights that end its harvest, mean of a fortnight"),
    "frost_gate": Field("", None, None, "frost counts", ("from planting", "from its shoots")),
    "spring_bound": Field("", None, None, "never planted out before its spring gates", YES_NO),
    "autumn_ok": Field("", None, None, "has an autumn crop", YES_NO),
    "overwinters": Field("", None, None, "can be planted in autumn for next year", YES_NO),
    "every_days": Field("days", 3, 120, "sown again every"),
    "late": Field("", None, None, "when late", ("catches up", "stays small", "bulbs small", "rosettes in heat")),
    "life": Field("", None, None, "as grown", ("annual", "biennial", "perennial")),
    "day_out_c": Field("°C", 0, 25, "coldest day for an outing"),
    "night_out_c": Field("°C", 0, 25, "coldest night out while hardening"),
    "germinate_c": Field("°C", 5, 35, "warmth for germination"),
    "min_c": Field("°C", 0, 25, "lowest temperature for germination"),
    "high_c": Field("°C", 10, 42, "top of the germination optimum"),
    "max_c": Field("°C", 12, 45, "highest temperature for germination"),
    "best_days": Field("days", 1, 90, "days to emergence at best warmth"),
    "proxy_factor": Field("×", 0.5, 3, "slower than its proxy"),
    "sigma": Field("", 0.05, 1, "spread of emergence (log)"),
    "light": Field("", None, None, "light for germination", ("light", "dark", "either")),
    "depth_cm": Field("cm", 0, 10, "sowing depth"),
    "soak_h": Field("h", 0, 72, "soak before sowing"),
    "chill_days": Field("days", 0, 120, "moist chill before sowing"),
    "fresh_germination": Field("share", 0.05, 1, "emergence of fresh seed"),
    "survival": Field("share", 0.3, 1, "kept seedlings that live to planting out"),
    "per_cell": Field("seeds", 1, 12, "seeds per cell"),
    "cells_per_tray": Field("cells", 6, 300, "cells in a full tray"),
    "cell_ml": Field("ml", 5, 20000, "mix that carries one plant without potting up"),
    "plants_per_cell": Field("plants", 1, 12, "plants left together"),
    "seedlings_per_seed": Field("", 1, 4, "seedlings of a seed that comes"),
    "seeds_per_g": Field("seeds", 0.5, 200000, "seeds in a gram"),
    "plants_min": Field("plants", 1, 100, "plants that are needed together"),
    "planting": Field("", None, None, "set out", ("rows", "block")),
    "slips_per_root": Field("slips", 1, 40, "slips of a root, at least"),
    "thin_days": Field("days", 0, 60, "thinned after emergence (0: nothing to thin)"),
    "prick_days": Field("days", 0, 60, "pricked out after emergence"),
    "thin_leaves": Field("leaves", 0, 20, "thinned at true leaves"),
    "prick_leaves": Field("leaves", 0, 20, "pricked out at true leaves"),
    "pot_leaves": Field("leaves", 0, 30, "potted up at true leaves"),
    "pinch_leaves": Field("leaves", 0, 30, "pinched at true leaves (0: not)"),
    "ready_leaves_min": Field("leaves", 0, 40, "ready to go out from, true leaves"),
    "ready_leaves_max": Field("leaves", 0, 40, "ready to go out until, true leaves"),
    "ready_height_cm": Field("cm", 1, 100, "height when ready"),
    "leaf_days": Field("days", 1, 60, "days for a true leaf"),
    "first_feed_leaves": Field("leaves", 0, 20, "first fed at true leaves"),
    "feed_n_mg_l": Field("mg/l", 0, 400, "nitrogen of a feed"),
    "moisture": Field("", None, None, "moisture", ("even", "dry between", "never dry")),
    "pot_weeks": Field("weeks", 0, 30, "potting up after emergence (0: none)"),
    "pot_cm": Field("cm", 0, 30, "pot"),
    "mature_min": Field("days", 10, 1100, "planting out to first yield, shortest"),
    "mature_max": Field("days", 10, 1100, "planting out to first yield, longest"),
    "yield_days": Field("days", 1, 365, "length of harvest or bloom"),
    "picked": Field("", None, None, "gathered", ("once", "over weeks")),
    "yields": Field("", None, None, "what it gives", ("harvest", "bloom")),
    "transplants": Field("", None, None, "stands transplanting", ("easy", "plug", "direct")),
    "starts": Field("", None, None, "is started from", ("seed", "tuber", "slip", "corm", "set", "cutting", "division")),
    "life_room_years": Field("years", 0.1, 30, "life of seed in a room, to 80 % of fresh"),
    "prior_seeds": Field("seeds", 1, 200, "how sure its age alone makes it, in seeds tested"),
    "crosses": Field("", None, None, "saved seed", ("comes true", "crosses")),
    "base_c": Field("°C", 0, 15, "growth stops below"),
    "std_c": Field("°C", 10, 30, "warmth at which its days to yield are reckoned"),
    "cool_days": Field("days", 0, 60, "cool days it needs after planting"),
    "day_c": Field("°C", 8, 32, "day warmth once up"),
    "grow_night_c": Field("°C", 5, 28, "night warmth once up"),
    "dli_up": Field("mol/m²/d", 2, 30, "daily light, just up"),
    "dli_grow": Field("mol/m²/d", 4, 40, "daily light, growing"),
    "hours": Field("h", 8, 18, "hours of lamp a day"),
    "most_light_h": Field("h", 8, 24, "longest day it stands"),
    "photoperiod": Field(
        "", None, None, "day length", ("neutral", "long days bolt it", "short days bud it", "long days bulb it")
    ),
    "bury": Field(
        "", None, None, "planting depth when potted", ("to the seed leaves", "deep", "progressively", "never")
    ),
    "pinch": Field("", None, None, "pinching", ("pinch", "single stem", "none")),
    "bloom_group": Field("", 0, 4, "bloom group (0: none)"),
    "bolt_c": Field("°C", 0, 15, "cold that makes it bolt, below"),
    "bolt_days": Field("days", 0, 60, "days of such cold it stands (0: no limit known)"),
    "sun": Field("", None, None, "light in the garden", ("full sun", "half shade")),
    "spacing_cm": Field("cm", 2, 200, "distance in the bed"),
    "height_cm": Field("cm", 3, 400, "height in the garden"),
    **{field: _way(field) for field in BY_FIELD},
}

# Where a crop has no value it has no such limit, or the step is not done.
OPTIONAL = frozenset(
    (
        *(
            "mean_night_c",
            "chill_c",
            "harvest_c",
            "heat_c",
            "heat_night_c",
            "every_days",
            "seeds_per_g",
            "slips_per_root",
        ),
        *("raise_min", "raise_max", "hold", "per_cell"),
        *("prick_days", "thin_leaves", "prick_leaves", "pot_leaves", "leaf_days", "first_feed_leaves"),
    )
)

# The fields in the order of the work, under the words a grower looks for.
GROUPS: dict[str, tuple[str, ...]] = {
    "Seed": (
        *("starts", "fresh_germination", "survival", "life_room_years", "prior_seeds", "crosses", "seeds_per_g"),
        *("seedlings_per_seed", "plants_per_cell", "per_cell", "slips_per_root"),
    ),
    "When": (*("raise_min", "raise_max", "hold", "out_min", "out_max", "late", "every_days"), "overwinters"),
    "Emergence": (
        *("germinate_c", "min_c", "high_c", "max_c", "best_days", "proxy_factor", "sigma", "light", "depth_cm"),
        *("soak_h", "chill_days"),
    ),
    "Warmth and light once up": (
        *("day_c", "grow_night_c", "dli_up", "dli_grow", "hours", "most_light_h", "photoperiod"),
    ),
    "Raising": (
        *("transplants", "cells_per_tray", "cell_ml", "thin_days", "thin_leaves", "prick_days", "prick_leaves"),
        *("pot_weeks", "pot_leaves", "pot_cm", "bury", "pinch", "pinch_leaves", "leaf_days"),
        *("ready_leaves_min", "ready_leaves_max", "ready_height_cm", "first_feed_leaves", "feed_n_mg_l", "moisture"),
    ),
    "Hardening off": ("day_out_c", "night_out_c"),
    "Planting out: what it waits for, and what ends it": (
        *("mean_night_c", "chill_c", "soil_c", "damage_c", "frost_gate", "spring_bound", "autumn_ok", "kill_c"),
        *("harvest_c", "heat_c", "heat_night_c", "bolt_c", "bolt_days", "cool_days"),
    ),
    "In the garden": ("sun", "spacing_cm", "height_cm", "planting", "plants_min"),
    "Ways of working": tuple(BY_FIELD),
    "Harvest or bloom": (
        *("mature_min", "mature_max", "yield_days", "picked", "yields", "base_c", "std_c", "life", "bloom_group"),
    ),
}

# Pairs that must not be the wrong way round.
ORDERED = (
    ("raise_min", "raise_max"),
    ("raise_max", "hold"),
    ("out_min", "out_max"),
    ("min_c", "germinate_c"),
    ("germinate_c", "high_c"),
    ("high_c", "max_c"),
    ("mature_min", "mature_max"),
    ("dli_up", "dli_grow"),
    ("hours", "most_light_h"),
    ("ready_leaves_min", "ready_leaves_max"),
)

RENAMED = {  # fields by names that older files know
    "seed_years": "life_room_years",
    "fresh": "fresh_germination",
    "tray": "cells_per_tray",
    "night_c": "mean_night_c",
    "hours_max": "most_light_h",
    "dli_min": "dli_up",
    "dli_max": "dli_grow",
}


def present_name(field: str) -> str:
    """A field's name as it is now."""
    return RENAMED.get(field, field)
