"""The rules of planting out, and the inputs that each may show."""

from growing.waiting import AGE_INPUTS, HARVEST_INPUTS

_TONIGHT = ("plants", "at the plant", "warned from", "harm", "cover", "adds", "lost")
_GATE = ("likely open", "springs open")
RULES = {
    "plantingout.gate_hardened": (*_GATE, "rungs climbed", "rungs"),
    "plantingout.gate_stage": (*_GATE, "leaves", "leaves wanted"),
    "plantingout.gate_soil": (*_GATE, "soil", "soil_c"),
    "plantingout.gate_nights": (*_GATE, "nights", "mean_night_c", "chance of chill", "at most", "no limit"),
    "plantingout.gate_frost": (*_GATE, "frost to come", "accepted risk", "damage_c", "years", "forecast"),
    "plantingout.gate_day": (*_GATE, "wind", "wind at most", "warmest", "hot from", "in shelter"),
    "plantingout.gate_bed": (*_GATE, "ground", "bed", "until", "stands there"),
    "plantingout.uncover": ("covered on", "warmest", "off from"),
    "plantingout.tonight_stands": _TONIGHT,
    "plantingout.tonight_covered": _TONIGHT,
    "plantingout.tonight_beyond": _TONIGHT,
    "plantingout.worth": ("plant out", "survives", "unchilled", "unaged", "harvest", "early", "years"),
    "plantingout.worth_survives": ("damage_c", "hardened"),
    "plantingout.worth_unchilled": ("chill_c",),
    "plantingout.worth_unaged": ("over it", "share a day"),
    "plantingout.worth_harvest": ("usual days", "mature", "ahead"),
    "plantingout.worth_early": ("later", "share a day"),
    "plantingout.waits_age": AGE_INPUTS,
    "plantingout.waits_plant": (*HARVEST_INPUTS, "window until", "by age"),
    "plantingout.waits_night": ("plants", "night", "at the plant", "error", "harm", "share lost"),
    "plantingout.cold": ("at the plant", "harm"),
    "plantingout.wind": ("wind", "limit"),
    "plantingout.hot": ("warmest", "limit"),
    "plantingout.spare_beyond": ("planted on", "kept"),
    "plantingout.spare_unwanted": ("planted on", "kept"),
    "plantingout.spare": ("planted", "wanted", "planted on", "kept"),
    "plantingout.frost_watch": (
        *("night", "at the plant", "error", "damage_c", "hardened", "harm", "chill_c", "warned from", "chance"),
    ),
}
