"""Hardening: the ladder of outings."""

from __future__ import annotations

from aestiva.gardens.providers import Stage
from aestiva.hardening.actions import AT, COMPLETE
from aestiva.hardening.frames import places
from aestiva.hardening.wording import WORDS
from growing.batch.kinds import EventKind, Fact, plain
from growing.hardening.rules import RULES
from growing.hardening.steps import STEPS

LOOKS = ("looked_fine", "looked_limp", "looked_bleached")
STAGE = Stage(
    "hardening",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=(EventKind("out", {AT: Fact("went out at", "h", 0, 24)}), *plain("outing", "sheltered", *LOOKS)),
    complete=COMPLETE,
    places=places,
)
