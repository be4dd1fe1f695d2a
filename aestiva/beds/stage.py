"""Beds: where will it all go, so how many?"""

from __future__ import annotations

from aestiva.beds.wording import WORDS
from aestiva.gardens.providers import Stage
from growing.beds.rules import RULES

STAGE = Stage("beds", WORDS, rules=RULES)
