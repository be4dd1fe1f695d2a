"""The rules of Beds, and the inputs that each may show."""

RULES = {
    "beds.fit": (
        *("length", "width", "spacing", "pattern", "rows", "in a row", "in every second row", "row distance"),
        "to the edge",
    ),
    "beds.household": ("plants", "gives", "weeks", "used"),
    "beds.shade": ("sun", "shaded", "taller", "difference", "wants"),
}
