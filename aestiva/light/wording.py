"""How the rules and the work of Light are said."""

from __future__ import annotations

from aestiva.frame.wording import Said, StageWords, StepWords

_HAS = "{name}: {light} a day at its tips, {above} under the lamp; it wants {low} to {high} and would have {would have}"
_SHORT = "{name} has {light}, it wants {low} to {high}."
_LAMP = (
    "{given}, {lamps} of them; {down} goes down, {left by age} of it left by age and {left under dust} under dust, "
    "dimmed to {dimmed to}: {result}"
)
_DRAWN = "about {want} without any light in all, by {light} a day on the mean where {low} are the least; {warmer} warmer than it likes"

RULES = {
    "light.flux_unread": Said("{result} downwards", _LAMP),
    "light.flux": Said("{result} downwards", _LAMP + ", times {by your reading} by your reading"),
    "light.read": Said("{result} at the leaves", "{read} × {each}: {result}, where {reckoned} were reckoned"),
    "light.read_coloured": Said(
        "A lux meter says little under coloured light",
        "{read} would be {result} if it were white; it is not used, {reckoned} are reckoned",
    ),
    "light.read_far": Said(
        "Far from what these lamps can give: look at the unit and the distance",
        "{read} would be {result} where {reckoned} are reckoned; it is not used",
    ),
    "light.has_little": Said(
        "Too little: {light}", "{light} a day where {low} to {high} are wanted; {darkest} in its darkest cell"
    ),
    "light.has_right": Said(
        "Right: {light}", "{light} a day where {low} to {high} are wanted; {darkest} in its darkest cell"
    ),
    "light.has_much": Said(
        "More than it can use: {light}", "{light} a day where {low} to {high} are wanted; {darkest} in its darkest cell"
    ),
    "light.hours": Said(
        "{result} a day",
        "{wished} by your way, {briefest} stands {most} at most, {dark} of dark are always kept",
        "{result} a day suit most here.",
    ),
    "light.hours_nobody": Said("Nothing grows here: the lamp may be off", "nothing is up under it"),
    "light.hours_round": Said(
        "Round the clock until {until}",
        "{name} has just come up; three days of it at most",
        "{name} has just come up: round the clock until {until}.",
    ),
    "light.hours_round_tomato": Said(
        "Round the clock until {until}: tomatoes bear it for three days, not longer",
        "{name} has just come up; leaves turn pale if it goes on",
        "{name} has just come up: round the clock until {until}, no longer.",
    ),
    "light.too_long": Said(
        "{hours} is too long for {name}",
        "{name} stands {limit} of light at most; longer, it bolts",
        "{name} stands {limit} at most.",
    ),
    "light.too_long_bulb": Said(
        "{hours} may make {name} bulb early",
        "over {limit} it makes a bulblet instead of leaves; some want that at sixteen weeks",
        "{name} begins to bulb over {limit}.",
    ),
    "light.too_short": Said(
        "{hours} is short for {name}",
        "in days shorter than {limit} it buds while it is small",
        "{name} buds small under {limit}.",
    ),
    "light.sill": Said(
        "{result} on a usual day",
        "{outdoors} outdoors, {diffuse} of it from the whole sky; {sky seen} of the sky and {sun comes in} of the sun ({sun} a day)"
        " through glass that lets {glass} in",
    ),
    "light.stocky": Said("Stocky", _DRAWN),
    "light.leggy_dark": Said("It stood up in the dark", _DRAWN),
    "light.leggy_weak": Said("Too little light since it is up", _DRAWN),
    "light.leggy_warm": Said("Warm for the light it has", _DRAWN),
    "light.first_raise": Said("Raise the lamp over {where} by {by}", _HAS, _SHORT),
    "light.first_raise_steps": Said("Raise the lamp over {where} by {by}, {steps}", _HAS, _SHORT),
    "light.first_raise_near": Said(
        "Raise the lamp over {where} by {by}", _HAS, "{name} grows into the lamp: {above} are left."
    ),
    "light.first_raise_near_steps": Said(
        "Raise the lamp over {where} by {by}, {steps}", _HAS, "{name} grows into the lamp: {above} are left."
    ),
    "light.first_lower": Said("Lower the lamp over {where} by {by}", _HAS, _SHORT),
    "light.first_lower_steps": Said("Lower the lamp over {where} by {by}, {steps}", _HAS, _SHORT),
    "light.first_dim": Said("Dim the lamp over {where} to {to}", _HAS, _SHORT),
    "light.first_brighten": Said("Turn the lamp over {where} up to {to}", _HAS, _SHORT),
    "light.first_longer": Said("Let the lamp over {where} burn {to}", _HAS, _SHORT),
    "light.first_shorter": Said("Let the lamp over {where} burn {to} only", _HAS, _SHORT),
    "light.first_aslant": Said("Hang the lamp over {where} aslant: left {left}, right {right}", _HAS, _SHORT),
    "light.first_boxes": Said("Set {boxes under} on {where} up on boxes", _HAS + ", on boxes of {boxes}", _SHORT),
    "light.first_turn": Said(
        "The light over {where} is right; turn its trays every week",
        "all have what they want, but one end is darker: turned end for end, week by week, they grow alike",
    ),
    "light.first_second": Said(
        "The lamp over {where} does what it can; it is too weak",
        "{name} has {light} where it wants {low}, however it hangs and burns: a second lamp, white sides, or a brighter place",
    ),
    "light.first_out_of_room": Said(
        "{name} on {where} has no room left under the lamp",
        "{above} are left where leaves want {warm}, and the lamp cannot hang higher than {top}: another place, or pot it on deep",
        "{above} left, and the lamp is at its highest.",
    ),
    "light.first_none": Said("The light over {where} is right", "everything that stands there has what it wants"),
    "light.waits": Said(
        "A day’s delay costs {result}",
        "{lacking} spoilt by want of light that the change would spare, {burnt} burnt by the warmth of the lamp",
    ),
    "light.turn": Said(
        "Turn the trays end for end",
        "the darkest cells of {name} have {even} of its mean, turned every week they would have {turned}; last {since}, every {every}",
        "One end of {name} gets {even} of the mean.",
    ),
    "light.clean": Said(
        "Wipe the lamp", "last wiped {since}; dust takes some 5 % in two months", "Dust since {since}."
    ),
    "light.tubes": Said(
        "Change the tubes",
        "burnt {burnt} of {lasts}; by then {lost} of their light is gone",
        "{burnt} burnt, they last about {lasts}.",
    ),
}

_LAMPS = (
    "Lamps and water: dry hands, plugs and timers above the trays, a residual-current device, drip loops in the leads. "
    "Do not look into the lamp."
)
_TUBES = "Fluorescent tubes hold mercury: do not break them, bring them to where lamps are taken back. Unplug first."
STEPS = {
    "hang": StepWords(
        "lamp to hang anew",
        "Done",
        "Measure from the lamp to the leaf tips of the tallest; both ends alike.",
        _LAMPS,
        act="hang the lamp of",
    ),
    "dim": StepWords(
        "lamp to dim",
        "Done",
        "Turn the dimmer, and look whether the leaves curl or stretch in the next days.",
        act="dim the lamp of",
    ),
    "timer": StepWords(
        "timer to set", "Set", "Set on and off; look tomorrow whether it switched.", _LAMPS, act="set the timer of"
    ),
    "boxes": StepWords(
        "boxes under the short ones",
        "Done",
        "Boxes, bricks or upturned trays, level and dry; the tips of all come to one height.",
        act="set boxes under",
    ),
    "headroom": StepWords(
        "leaves at the lamp",
        "Seen to",
        "Another place, deeper pots, or off the boxes: see its tray.",
        act="find room for what stands on",
    ),
    "turn": StepWords(
        "trays to turn",
        "Turned",
        "Every tray end for end, so that the dim end comes to the middle.",
        act="turn the trays of",
    ),
    "clean": StepWords(
        "lamp to wipe",
        "Wiped",
        "Off and cold; a dry cloth, then a damp one. Wipe white sides too.",
        "Unplug the lamp and let it cool before you wipe it.",
        act="wipe the lamp of",
    ),
    "tubes": StepWords(
        "tubes to change",
        "Changed",
        "Off and cold. Note the day on the end of the tube.",
        _TUBES,
        act="change the tubes of",
    ),
}

WORDS = StageWords(RULES, STEPS)
