"""Care: thinning, pricking out, potting up, and losses."""

from __future__ import annotations

from aestiva.care.actions import COMPLETE
from aestiva.care.wording import WORDS
from aestiva.gardens.providers import Record, Stage
from growing.batch.kinds import EventKind, Fact, plain
from growing.care.rules import RULES
from growing.care.steps import STEPS

TRIMMED = EventKind("trimmed", {"to_cm": Fact("back to", "cm", 1, 100)})

STAGE = Stage(
    "care",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=(*plain("thinned", "pricked", "potted", "died", "given"), TRIMMED),
    complete=COMPLETE,
    records=(
        Record("died", "died", "Record deaths"),
        Record("given", "given away", "Give away"),
        Record("thinned", "thinned", "Record thinning"),
    ),
)
