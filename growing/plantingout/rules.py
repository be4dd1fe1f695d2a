"""The rules of planting out, and the inputs that each may show."""

from growing.waiting import AGE_INPUTS, HARVEST_INPUTS

RULES = {
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
        *("night", "at the plant", "error", "damage_c", "hardened", "harm", "chill_c", "told from", "chance"),
    ),
}
