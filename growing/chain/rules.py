"""The rules of the dated chain, and the inputs that each may show."""

_AUTUMN = ("finish", "finish is", "harvest", "sown in place", "shortening light")
_SOWING = (
    *("ideal", "middle of planting out", "middle raising", "window start", "window end", "sowing days", "not before"),
)
_PLANTING = ("sow", "middle raising", "shortest raising", "hold", "window start", "window end")
_FIRST = ("plant out", "mature_min", "mature_max", "sown in place", "shortening light", "frost before")
RULES = {
    "plan.out_from": ("last frost", "out_min", "by offset", "set by"),
    "plan.out_to": ("last frost", "out_max", "by offset", "set by"),
    "plan.autumn_from": (*_AUTUMN, "mature_max"),
    "plan.autumn_to": (*_AUTUMN, "mature_min"),
    "plan.sow_from": ("plant out", "raising"),
    "plan.sow_to": ("plant out", "raising"),
    "plan.packet_raising": (
        *("weeks min", "weeks max", "base", "planting offset", "raise min", "raise max", "same before last frost"),
    ),
    **dict.fromkeys((f"plan.{n}" for n in ("sowing_day", "no_sowing_day", "sow_pinned", "sow_too_late")), _SOWING),
    **dict.fromkeys((f"plan.out_{n}" for n in ("on", "pinned", "waits", "happened")), _PLANTING),
    **{
        f"plan.first_{kind}{place}{term}{known}": _FIRST
        for kind in ("harvest", "bloom")
        for place in ("", "_direct")
        for term in ("", "_autumn")
        for known in ("", "_unknown")
    },
    **{f"plan.last_{kind}": ("middle of first", "yield_days", "set by") for kind in ("harvest", "bloom")},
}
