"""The rules of Light, and the inputs that each may show."""

from growing.light import advice, had, hours, lamps, reading, steps, targets, window

RULES = {
    **lamps.RULES,
    **reading.RULES,
    **targets.RULES,
    **hours.RULES,
    **window.RULES,
    **had.RULES,
    **advice.RULES,
    **steps.RULES,
}
