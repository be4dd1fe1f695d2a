"""Plan: when, for everything at once?"""

from __future__ import annotations

from aestiva.gardens.providers import Stage
from aestiva.plan.wording import WORDS
from growing.chain.rules import RULES

STAGE = Stage("plan", WORDS, rules=RULES)
