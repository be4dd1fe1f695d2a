"""The rules of emergence, and the inputs that each may show."""

RULES = {
    "emergence.days": ("temperature", "rate"),
    **{f"emergence.look{known}": ("sow", "emergence", "temperature", "share") for known in ("", "_assumed")},
    **{f"emergence.up{known}": ("sow", "emergence", "temperature") for known in ("", "_assumed")},
    "emergence.lamp": ("sow", "emergence", "light"),
    "emergence.lid": ("half up", "emergence"),
}
