"""Bench: sowing, and what happens to batches whatever they are at."""

from __future__ import annotations

from aestiva.bench.actions import COMPLETE
from aestiva.bench.wording import WORDS
from aestiva.gardens.providers import Record, Stage
from growing.batch.kinds import plain
from growing.bench.rules import RULES
from growing.bench.steps import STEPS

STAGE = Stage(
    "bench",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=plain("sown", "received", "moved", "note", "boxed", "aired"),
    complete=COMPLETE,
    records=(Record("note", "a note", "M5 7H19M5 12H19M5 17H13", counts=False),),
)
