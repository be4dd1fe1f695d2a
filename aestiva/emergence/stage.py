"""Emergence: looks, counts, lamp, mat and lid."""

from __future__ import annotations

from aestiva.emergence.actions import COMPLETE
from aestiva.emergence.wording import WORDS
from aestiva.gardens.providers import Record, Stage
from growing.batch.kinds import plain
from growing.emergence.rules import RULES
from growing.emergence.steps import STEPS

STAGE = Stage(
    "emergence",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=plain("up", "never_up", "lamp", "lid"),
    complete=COMPLETE,
    records=(Record("up", "up so far", "Count seedlings"), Record("never_up", "will not come", "Give up waiting")),
)
