"""Hardening: the ladder of outings."""

from __future__ import annotations

from aestiva.gardens.providers import Stage
from aestiva.hardening.actions import COMPLETE
from aestiva.hardening.frames import places
from aestiva.hardening.wording import WORDS
from growing.batch.kinds import plain
from growing.hardening.rules import RULES
from growing.hardening.steps import STEPS

LOOKS = ("looked_fine", "looked_limp", "looked_bleached")
STAGE = Stage(
    "hardening",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=plain("out", "outing", "sheltered", *LOOKS),
    complete=COMPLETE,
    places=places,
)
