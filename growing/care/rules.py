"""The rules of care, and the inputs that each may show."""

from growing.care import feed, feeding, water
from growing.waiting import AGE_INPUTS

RULES = {
    **water.RULES,
    **feed.RULES,
    **feeding.RULES,
    "care.waits_thin": ("plants", "leaves", "share a day"),
    "care.waits_move": AGE_INPUTS,
    "care.thin": ("half up", "thin_days"),
    "care.prick": ("half up", "thin_days"),
    "care.pot": ("half up", "pot_weeks", "still to go"),
    "care.pot_path": ("container", "carries until"),
    **dict.fromkeys(("care.trim", "care.trim_again"), ("since", "wait", "from", "to")),
}
