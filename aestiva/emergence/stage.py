"""Emergence: looks, counts, lamp, mat and lid."""

from __future__ import annotations

from aestiva.emergence.actions import COMPLETE
from aestiva.emergence.wording import WORDS
from aestiva.gardens.providers import Record, Stage
from growing.batch.kinds import EventKind, Fact, plain
from growing.emergence.rules import RULES
from growing.emergence.steps import STEPS

LIFTED = EventKind(
    "lifted",
    {
        "root": Fact("with a root", "seeds", 0, 500),
        "swollen": Fact("swollen", "seeds", 0, 500),
        "soft": Fact("gone soft", "seeds", 0, 500),
        "nothing": Fact("as they were", "seeds", 0, 500),
    },
)

SEEN = EventKind("stage", {"leaves": Fact("true leaves", "leaves", 0, 40), "cm": Fact("height", "cm", 0.1, 200)})

STAGE = Stage(
    "emergence",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=(*plain("up", "never_up", "lamp", "paper", "vents", "ajar", "lid", "mat", "below"), LIFTED, SEEN),
    complete=COMPLETE,
    records=(
        Record(
            "up", "up so far", "M4 18H20M12 18V9M12 10C9 10 7 8 7 5C10 5 12 7 12 10C12 7 14 5 17 5C17 8 15 10 12 10"
        ),
        Record("never_up", "will not come", "M4 9H20M12 15.5A2 2 0 1 0 12 15.4M8 20L16 12"),
    ),
)
