"""Planting out, and the frost watch over what stands outdoors."""

from __future__ import annotations

from aestiva.gardens.providers import Record, Stage
from aestiva.plantingout.actions import COMPLETE
from aestiva.plantingout.asked import holds
from aestiva.plantingout.wording import WORDS
from growing.batch.kinds import EventKind, Fact, plain
from growing.plantingout.rules import RULES
from growing.plantingout.steps import STEPS

DIPPED = EventKind("dipped", {"litres": Fact("litres", "l", 0, 1000), "hours": Fact("keeps for", "h", 0, 1000)})
STAGE = Stage(
    "plantingout",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=(*plain("planted", "lost_outside", "covered", "uncovered"), DIPPED),
    complete=COMPLETE,
    holds=holds,
    records=(
        Record(
            "lost_outside", "lost in the garden", "M2 20H22M6 20C6 14 9 15 9 11M15 20C15 15 19 16 19 12M12 4V8M9 6H15"
        ),
    ),
)
