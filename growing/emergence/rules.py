"""The rules of emergence, and the inputs that each may show."""

from growing.batch.verdict import RULES as VERDICTS
from growing.emergence.alarms import RULES as ALARMS
from growing.emergence.stage import RULES as STAGES

RULES = {
    **VERDICTS,
    **ALARMS,
    **STAGES,
    "emergence.waits_look": ("chance", "plants short", "days left"),
    "emergence.waits_lamp": ("coming", "newly up", "rescued by burying", "bury"),
    "emergence.waits_lid": ("up", "warmth", "share a day"),
    "emergence.days": ("temperature", "rate"),
    **{f"emergence.look{known}": ("sow", "emergence", "temperature", "share") for known in ("", "_assumed")},
    **{f"emergence.up{known}": ("sow", "emergence", "temperature") for known in ("", "_assumed")},
    **{
        f"emergence.lift_{how}{window}": ("half due", "up", "sown", "further", "sow again by")
        for how in ("nothing", "few")
        for window in ("", "_closed")
    },
    "emergence.lamp": ("sow", "emergence", "light"),
    **dict.fromkeys(
        (
            "emergence.lid",
            "emergence.paper",
            "emergence.ajar",
            *(f"emergence.lid_{way}" for way in ("first", "third", "most", "all")),
        ),
        ("half up", "emergence"),
    ),
    **dict.fromkeys(
        (
            "emergence.vents",
            "emergence.vents_day2",
            "emergence.vents_first",
            "emergence.mat_first",
            "emergence.mat_half",
        ),
        ("sow", "first up", "half up"),
    ),
    **{f"emergence.count{often}": ("up", "further", "wanted", "looks a day") for often in ("", "_twice")},
    "emergence.lid_few": ("up", "sown"),
}
