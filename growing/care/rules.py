"""The rules of care, and the inputs that each may show."""

RULES = {
    "care.thin": ("half up", "thin_days"),
    "care.prick": ("half up", "thin_days"),
    "care.pot": ("half up", "pot_weeks", "still to go"),
    **dict.fromkeys(("care.trim", "care.trim_again"), ("since", "wait", "from", "to")),
}
