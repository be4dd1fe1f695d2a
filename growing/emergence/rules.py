"""The rules of emergence, and the inputs that each may show."""

RULES = {
    "emergence.days": ("temperature", "rate"),
    "emergence.look": ("sow", "emergence", "temperature"),
    "emergence.up": ("sow", "emergence", "temperature"),
    "emergence.lamp": ("sow", "emergence", "light"),
    "emergence.lid": ("half up", "emergence"),
}
