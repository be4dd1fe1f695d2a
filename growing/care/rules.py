"""The rules of care, and the inputs that each may show."""

from growing.batch import stress
from growing.care import feed, feeding, heat, moving, trouble, water
from growing.chain.kinds import BY_LEAVES
from growing.chain.leaves import STAGE_INPUTS
from growing.waiting import AGE_INPUTS

RULES = {
    **water.RULES,
    **feed.RULES,
    **feeding.RULES,
    **stress.RULES,
    **heat.RULES,
    **moving.RULES,
    **trouble.RULES,
    "care.fill": ("since", "wait"),
    "care.waits_thin": ("plants", "leaves", "share a day"),
    "care.waits_move": AGE_INPUTS,
    "care.thin": ("half up", "thin_days"),
    "care.prick": ("half up", "thin_days"),
    "care.pot": ("half up", "pot_weeks", "still to go"),
    "care.pot_path": ("container", "carries until"),
    "care.pinch": ("half up", "pinch_leaves", "a leaf takes"),
    **{f"care.{kind}_seen": (f"{kind}_leaves", *STAGE_INPUTS) for kind in BY_LEAVES},
    "care.pot_path_seen": ("container", "carries until", "pot_leaves", *STAGE_INPUTS),
    **dict.fromkeys(("care.trim", "care.trim_again"), ("since", "wait", "from", "to")),
    "care.trim_seen": ("from", "to", "high", "on"),
}
