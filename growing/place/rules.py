"""The rules of Place, and the inputs that each may show."""

_FROST = ("threshold", "risk", "seasons", "frost seasons")
RULES = {
    "place.last_frost": _FROST,
    "place.last_frost_none": _FROST,
    "place.last_frost_date": _FROST,
    "place.first_frost_date": _FROST,
    "place.frost_gate": ("damages at", *_FROST),
    "place.frost_spared": ("frost line", "in the ground"),
    "place.warm_date": _FROST,
    "place.soil_gate": ("needs", "typed"),
    "place.nights_gate": ("needs", "typed"),
    "place.soil_computed_gate": (
        *("needs", "share", "springs", "springs met", "smoothing", "bed", "bed adds", "morning", "calibration"),
    ),
    "place.nights_computed_gate": ("needs", "share", "springs", "shift"),
    "place.chill_gate": ("needs", "typed"),
    "place.chill_computed_gate": ("needs", "chance", "lowest", "springs", "shift"),
    "place.soil_calibration": ("median difference", "readings", "scatter", "weight"),
    "place.sureness": ("seasons", "risk", "low", "high", "undated"),
    "place.trend": ("seasons", "change over the record", "chance"),
    "place.garden_shift": ("median difference", "nights", "clear nights", "weight", "error"),
    "place.growing_season": ("threshold", "years", "shortest", "sure"),
    "place.onion_type": ("needs from", "needs to", "longest day", "latest kinds"),
    "place.at_plant": ("night", "forecast", "shift", "cloud", "wind", "radiation loss", "shelter", "error"),
}
