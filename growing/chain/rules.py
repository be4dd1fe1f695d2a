"""The rules of the dated chain, and the inputs that each may show."""

_AUTUMN = ("finish", "finish is", "harvest", "growing", "shortening light", "counted back", "spring gates")
_SOWING = (
    *("ideal", "middle of planting out", "middle raising", "window start", "window end", "sowing days", "not before"),
)
_PLANTING = ("sow", "middle raising", "shortest raising", "hold", "window start", "window end")
_FIRST = (
    *("plant out", "days from", "days to", "sown in place", "age", "warmth", "shortening light"),
    *("frost before", "useful in"),
)
_USEFUL = ("ends", "picked", "growing", "years", "risk", "shortening light")
_WINTER = ("soil cold from", "needs", "kill_c", "winters", "killed in")
KINDS = ("harvest", "bloom")
PLACES, WARMTHS, KNOWN = ("", "_direct"), ("", "_warmth", "_never"), ("", "_unknown", "_years")
RULES = {
    "plan.out_from": ("last frost", "out_min", "by offset", "set by"),
    "plan.out_to": ("last frost", "out_max", "by offset", "opens", "length", "set by"),
    "plan.raised_bigger": ("book", "times"),
    "plan.raised_there": ("book", "place", "mean", "emergence there", "emergence in the book", "growth takes"),
    "plan.comes_up_there": ("book", "place", "emergence there", "emergence in the book"),
    "plan.carries": ("sow", "mix", "cell_ml", "raise_max", "plants"),
    "plan.path_carries": ("carries", "hold"),
    **{f"plan.winter_{end}": ("last frost", "opens", "closes") for end in ("box", "from", "to")},
    "plan.out_bed": ("bed free", "opens", "closes"),
    **{f"plan.autumn_{end}{bound}": _AUTUMN for end in ("from", "to") for bound in ("", "_spring")},
    **{f"plan.overwinter_{end}": _WINTER for end in ("from", "to")},
    "plan.useful": _USEFUL,
    "plan.useful_warmth": _USEFUL,
    "plan.sow_from": ("plant out", "raising"),
    "plan.sow_to": ("plant out", "raising"),
    "plan.packet_raising": (
        *("weeks min", "weeks max", "base", "planting offset", "raise min", "raise max", "same before last frost"),
    ),
    **dict.fromkeys((f"plan.{n}" for n in ("sowing_day", "no_sowing_day", "sow_pinned", "sow_too_late")), _SOWING),
    **dict.fromkeys(
        (f"plan.out_{n}" for n in ("on", "home", "pinned", "waits", "small", "due", "happened")), _PLANTING
    ),
    "plan.out_held": (*_PLANTING, "held by"),
    **{
        f"plan.first_{kind}{place}{warmth}{known}": _FIRST
        for kind in KINDS
        for place in PLACES
        for warmth in WARMTHS
        for known in KNOWN
    },
    **{f"plan.overwintered_{kind}": ("spring's", "sooner") for kind in KINDS},
    "plan.cost_raised": ("seeds a plant", "a seed", "mix a plant", "a litre", "current a plant", "a kWh"),
    "plan.cost_direct": ("seeds a plant", "a seed"),
    "plan.cost_bought": ("a plant",),
    **{f"plan.last_{kind}": ("middle of first", "yield_days", "set by") for kind in KINDS},
}
