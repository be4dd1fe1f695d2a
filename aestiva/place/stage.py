"""Place: when is it safe, and how sure is that?"""

from __future__ import annotations

from aestiva.gardens.providers import Stage
from aestiva.place.wording import WORDS
from growing.place.rules import RULES

STAGE = Stage("place", WORDS, rules=RULES)
