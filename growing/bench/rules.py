"""The rules of the bench, and the inputs that each may show."""

from growing.bench.ahead import RULES as AHEAD
from growing.bench.germinating import RULES as GERMINATING
from growing.bench.hands import RULES as HANDS
from growing.bench.mending import RULES as MENDING
from growing.bench.paths import RULES as PATHS
from growing.shelves.company import RULES as COMPANY
from growing.shelves.shelf import RULES as SHELF
from growing.waiting import HARVEST_INPUTS, SOWING_INPUTS

_SOWING = ("sow", "days left", "wanted", "odds", "seeds per cell", "seeds")
_AGAIN = ("more", "on", "fewer than")
RULES = {
    "bench.waits_sow": SOWING_INPUTS,
    "bench.waits_buy": (*HARVEST_INPUTS, "due"),
    **{f"bench.buy_{stood}": ("plant out", "ladder") for stood in ("glass", "outdoors", "unknown")},
    **{
        f"bench.{kind}{late}": inputs
        for late in ("", "_late")
        for kind, inputs in (
            ("sow", _SOWING),
            ("sow_box", _SOWING),
            ("sow_hopeless", ("sow", "days left", "wanted", "emergence", "order by")),
            ("sow_direct", ("sow", "days left")),
        )
    },
    **{f"bench.{kind}_again": (*_SOWING, *_AGAIN) for kind in ("sow", "sow_box")},
    "bench.box_look": ("last look", "wait", "night"),
    "bench.box_look_up": ("last look", "wait", "night"),
    **{f"bench.box_air_{n}": ("half up", "wait") for n in range(3)},
    **{f"bench.stand{kind}": ("to", "from", "stands on") for kind in ("", "_frame", "_porch", "_tunnel")},
    **AHEAD,
    **MENDING,
    **GERMINATING,
    **HANDS,
    **COMPANY,
    **SHELF,
    **PATHS,
    "bench.again": ("up", "wanted", "survival", "short", "until", "odds"),
}
