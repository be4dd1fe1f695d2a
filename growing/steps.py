"""What is there to do, where and why?  Tasks are derived from facts, settings and today; nothing is stored.

Each stage of the work has a module with one function, `tasks(one, today, until)`, that yields the tasks of one
planting or batch that fall due by `until`.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from growing.batch.ledger import Accounts
from growing.chain.course import Course, Facts
from growing.chain.dates import PlantingDates
from growing.crops import Crop
from growing.hardening.ladder import Ladder, LadderProgress
from growing.place.nights import Night
from growing.seeds.sowing import Seed
from growing.working import Working

WHERE = ("door", "bench", "garden", "table")

# where it is done, minutes to begin with, minutes per unit: estimates until the garden has its own pace
KINDS: Mapping[str, tuple[str, float, float]] = {
    "seed": ("table", 5, 0),
    "soak": ("bench", 3, 0),
    "chill": ("bench", 5, 0),
    "sow": ("bench", 5, 0.5),
    "sow_direct": ("garden", 10, 0.2),
    "buy": ("table", 15, 0),
    "look": ("bench", 1, 0),
    "count": ("bench", 2, 0),
    "lamp": ("bench", 2, 0),
    "lid": ("bench", 2, 0),
    "thin": ("bench", 2, 0.1),
    "prick": ("bench", 10, 0.25),
    "pot": ("bench", 5, 0.75),
    "harden": ("door", 3, 0.03),
    "stay_in": ("door", 0, 0),
    "carry_in": ("door", 3, 0.03),
    "plant": ("garden", 10, 1.0),
    "cover": ("garden", 5, 0.05),
}


class Task(NamedTuple):
    """One thing to do.

    key: stable over days ("b7.count.2").  due: the day it is for.  count: how many, None where it does not apply.
    why: the arithmetic whose rule words the reason.  urgent: 0 may wait, 1 today, 2 harm tonight.
    """

    key: str
    kind: str
    due: date
    count: int | None  # type: ignore[assignment]
    unit: str
    why: Working
    urgent: int = 0
    total: int | None = None

    @property
    def where(self) -> str:
        return KINDS[self.kind][0]

    @property
    def minutes(self) -> int:
        _, base, each = KINDS[self.kind]
        return round(base + each * (self.count or 0))


@dataclass(slots=True)  # not frozen: hundreds a page
class Raised:
    """One batch, or a planting that has none yet, as the tasks see it."""

    ref: str
    crop: Crop
    wanted: int
    dates: PlantingDates
    course: Course
    facts: Facts
    ladder: Ladder
    accounts: Accounts | None = None
    sown_in: str = "cells"
    per_cell: int = 2
    cells: int | None = None
    has_seed: bool = False
    stands: str = ""  # kind of spot
    hardened: LadderProgress | None = None
    nights: tuple[Night, ...] = ()
    shift_c: float = 0.0
    accepted_risk: float = 0.1
    attempt: int = 0  # batches that failed before
    secured: int = 0  # cells already sown in an unfinished sowing
    seed: Seed | None = None  # what its lot will do at the warmth it will have

    @property
    def plants(self) -> int | None:
        """Plants indoors when counted; otherwise as many cells as were sown."""
        if self.accounts is not None and self.accounts.indoors is not None:
            return self.accounts.indoors
        return self.cells
