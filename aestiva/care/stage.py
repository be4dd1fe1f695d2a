"""Care: thinning, pricking out, potting up, and losses."""

from __future__ import annotations

from aestiva.care.actions import COMPLETE
from aestiva.care.air import heats
from aestiva.care.round import upkeep
from aestiva.care.wording import WORDS
from aestiva.course.placework import PlaceWork
from aestiva.course.state import SeasonState
from aestiva.gardens.providers import Record, Stage
from growing.batch.kinds import EventKind, Fact, plain
from growing.care.heat import COOL
from growing.care.rules import RULES
from growing.care.steps import STEPS
from growing.steps import Task, place_ref

FED = EventKind("fed", {"n_mg_l": Fact("nitrogen", "mg/l", 0, 2000), "litres": Fact("litres", "l", 0, 1000)})
TRIMMED = EventKind("trimmed", {"to_cm": Fact("back to", "cm", 1, 100)})


def places(now: SeasonState) -> list[PlaceWork]:
    """Places where something minds the heat that it had there lately."""
    found = []
    for spot, plants, name, why in heats(now):
        key = COOL.key_of(place_ref(spot.pk), f"{now.today:%Y%m%d}")
        task = Task(key, COOL, now.today, plants, "plants", why, 1, detail=name)
        found.append(PlaceWork(spot, plants, (task,)))
    return found


STAGE = Stage(
    "care",
    WORDS,
    rules=RULES,
    steps=STEPS,
    events=(
        *plain(
            "thinned",
            "pricked",
            "potted",
            "pinched",
            "filled",
            "roots_none",
            "roots_holes",
            "roots_circling",
            "crowded",
            "granules",
            "flushed",
            "died",
            "given",
        ),
        TRIMMED,
        FED,
    ),
    complete=COMPLETE,
    places=places,
    upkeep=upkeep,
    records=(
        Record("died", "died", "M12 21V12M12 12C12 8 17 7 18 11M4 21H20"),
        Record("given", "given away", "M4 21H20M5 14H17M13 9L18 14L13 19"),
        Record("thinned", "thinned", "M4 19H20M8 19V8M16 19V14M13 13L19 11"),
    ),
)
