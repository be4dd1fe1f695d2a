"""Seeds: what have I, will it come, how many do I sow?"""

from __future__ import annotations

from aestiva.gardens.providers import Stage
from aestiva.seeds.wording import WORDS
from growing.drawer.rules import RULES
from growing.drawer.steps import STEPS

STAGE = Stage("seeds", WORDS, rules=RULES, steps=STEPS)
