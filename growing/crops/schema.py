"""What can a crop differ in?  The fields of the library, their units and limits."""

from __future__ import annotations

from dataclasses import dataclass


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
            return "" if value in self.words else f"must be one of {', '.join(self.words)}, not {value!r}"
        if isinstance(value, bool) or not isinstance(value, int | float):
            return f"must be a number, not {value!r}"
        assert self.low is not None and self.high is not None
        if not self.low <= value <= self.high:
            return f"must lie between {self.low:g} and {self.high:g} {self.unit}, not {value:g}".replace("  ", " ")
        return ""


HARDINESS = ("hardy", "half-hardy", "tender", "very tender")
SPEEDS = ("fast", "medium", "slow", "very slow")

FIELDS: dict[str, Field] = {
    "raise_min": Field("weeks", 1, 40, "raising time, shortest"),
    "raise_max": Field("weeks", 1, 40, "raising time, longest"),
    "hold": Field("weeks", 1, 60, "sowing age limit"),
    "out_min": Field("weeks", -20, 20, "planting out from, against last frost"),
    "out_max": Field("weeks", -20, 20, "planting out until, against last frost"),
    "night_c": Field("°C", -30, 25, "lowest night once hardened"),
    "soil_c": Field("°C", 0, 30, "morning soil at planting"),
    "damage_c": Field("°C", -30, 10, "damaging temperature once hardened"),
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
    "fresh": Field("share", 0.05, 1, "emergence of fresh seed"),
    "survival": Field("share", 0.3, 1, "kept seedlings that live to planting out"),
    "per_cell": Field("seeds", 1, 12, "seeds per cell"),
    "tray": Field("cells", 6, 300, "cells in a full tray"),
    "thin_days": Field("days", 0, 60, "thin after emergence (0: stays in clumps)"),
    "pot_weeks": Field("weeks", 0, 30, "potting up after emergence (0: none)"),
    "pot_cm": Field("cm", 0, 30, "pot"),
    "mature_min": Field("days", 10, 400, "planting out to first yield, shortest"),
    "mature_max": Field("days", 10, 400, "planting out to first yield, longest"),
    "yield_days": Field("days", 1, 365, "length of harvest or bloom"),
    "yields": Field("", None, None, "what it gives", ("harvest", "bloom")),
    "transplants": Field("", None, None, "stands transplanting", ("easy", "plug", "direct")),
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
)
