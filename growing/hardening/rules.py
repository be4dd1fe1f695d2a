"""The rules of hardening, and the inputs that each may show."""

from growing.hardening.frames import RULES as FRAMES
from growing.waiting import AGE_INPUTS, HARVEST_INPUTS

_OUTING = (
    "rung",
    "rungs",
    "hours",
    "shelter",
    "ladder",
    "plant out",
    "missed",
    "warmest",
    "wind",
    "gusts",
    "rain",
    "out at",
    "in by",
)
_NIGHT = (*_OUTING, "at the plant", "limit")
_TONIGHT = ("plants", "at the plant", "warned from", "harm", "cover", "adds", "lost")
RULES = {
    **FRAMES,
    "hardening.tonight_stay": _TONIGHT,
    "hardening.tonight_cover": _TONIGHT,
    "hardening.tonight_in": _TONIGHT,
    "hardening.tonight_unknown": ("plants",),
    "hardening.waits_age": AGE_INPUTS,
    "hardening.waits_outing": (*HARVEST_INPUTS, "rungs left", "plant out", "spare"),
    "hardening.waits_in": ("plants", "at the plant", "harm", "share lost"),
    "hardening.from": ("plant out", "ladder", "ladder days"),
    "hardening.outing": _OUTING,
    "hardening.hot": _OUTING,
    "hardening.night_out": _NIGHT,
    "hardening.day_only": _NIGHT,
    "hardening.in": ("out", "hours", "ladder", "in by"),
    "hardening.in_cold": ("out", "hours", "ladder", "in by"),
    "hardening.too_cold": (*_OUTING, "limit"),
    "hardening.too_windy": (*_OUTING, "limit"),
    "hardening.too_gusty": (*_OUTING, "limit"),
    "hardening.too_wet": (*_OUTING, "limit"),
    "hardening.hail": (*_OUTING, "limit"),
    "hardening.nobody": _OUTING,
    "hardening.grey": _OUTING,
    "hardening.sheltered": _OUTING,
    "hardening.brief": _OUTING,
    "hardening.ladder": ("ladder", "rungs", "outings", "missed", "hours", "sun", "shelter"),
}
