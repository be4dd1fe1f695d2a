"""The rules of planting out, and the inputs that each may show."""

RULES = {
    "plantingout.cold": ("at the plant", "harm"),
    "plantingout.wind": ("wind", "limit"),
    "plantingout.hot": ("warmest", "limit"),
    "plantingout.spare_beyond": ("planted on", "kept"),
    "plantingout.spare": ("planted", "wanted", "planted on", "kept"),
    "plantingout.frost_watch": (
        *("night", "at the plant", "error", "damage_c", "hardened", "harm", "chill_c", "told from", "chance"),
    ),
}
