"""How the rules and steps of this stage are said: room in the beds."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords

RULES = {
    "beds.fit": Said(
        "{result} fit",
        "{length} by {width} at {spacing}, {pattern}: {rows} of {in a row} and {in every second row}, rows "
        "{row distance} apart, {to the edge} kept to the edge",
    ),
    "beds.household": Said("{result} a week", "{plants} × {gives} over {weeks}; you use {used} a week"),
    "beds.shade": Said(
        "{result} of sun are left",
        "{sun} under an open sky, less {shaded} in the shadow of {taller}, up to {difference} higher; it wants {wants}",
    ),
}

WORDS = StageWords(RULES)
