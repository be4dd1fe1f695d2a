"""Bench: sowing, and what happens to batches whatever they are at."""

from __future__ import annotations

from aestiva.bench.actions import COMPLETE
from aestiva.bench.wording import WORDS
from aestiva.gardens.providers import Stage
from growing.batch.kinds import plain
from growing.bench.rules import RULES
from growing.bench.steps import STEPS

STAGE = Stage(
    "bench", WORDS, rules=RULES, steps=STEPS, events=plain("sown", "received", "moved", "note"), complete=COMPLETE
)
