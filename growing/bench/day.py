"""What is done next, and how long will it take?  A day at the bench by stages, each across all trays, at one's own pace."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import NamedTuple

from growing.assumptions import by_kind, real

KINDS = (("sow", "sowing day"), ("pot", "potting day"))
SOW_STAGES = ("label", "fill", "firm", "dib", "seed", "cover", "mist", "place")
POT_STAGES = ("label", "fill", "lift", "pot", "water", "place")
EVENING = ("wash", "scald", "compost", "wet", "squeeze")  # of the whole day, the evening before
STAGES = tuple(dict.fromkeys((*SOW_STAGES, *POT_STAGES, *EVENING)))
CLOCK = {"sow": "seed", "pot": "pot"}  # the stage that is written into the batch's history and starts its clock
STANDS = "place"

# minutes a tray and minutes a cell to begin with: estimates that add up to about 120 cells an hour
PER_TRAY = by_kind("bench.day.PER_TRAY")
PER_CELL = by_kind("bench.day.PER_CELL")
PRIOR_MINUTES = real("bench.day.PRIOR_MINUTES")
LONGEST_FACTOR, LEAST_FACTOR, BREAK_MINUTES = 4.0, 0.1, 5.0


def stages_of(kind: str) -> tuple[str, ...]:
    """The stages of a sowing ("sow") or potting ("pot") day, in the order of work."""
    return SOW_STAGES if kind == "sow" else POT_STAGES


class BenchLine(NamedTuple):
    """A tray's line of the day: cells, and the stages that it does not need; what waits until when, by stage."""

    key: int
    cells: int
    skips: frozenset[str] = frozenset()
    waits: Mapping[str, datetime] = {}

    def open(self, stage: str, done: Iterable[tuple[int | None, str]]) -> bool:
        return stage not in self.skips and (self.key, stage) not in done


class NextStage(NamedTuple):
    """The line and stage to do now; waiting: everything else waits for an hour."""

    line: int
    stage: str
    waits_until: datetime | None = None


def following(
    kind: str, lines: Sequence[BenchLine], done: frozenset[tuple[int | None, str]], now: datetime
) -> NextStage | None:
    """What to do now: the first stage that is open anywhere, its trays in order; a tray that waits is passed over.

    A tray never gets a stage before its earlier ones.  None: all is done.
    """
    waiting: list[NextStage] = []
    for stage in stages_of(kind):
        for line in lines:
            if not line.open(stage, done) or stage != first_open(kind, line, done):
                continue
            until = line.waits.get(stage)
            if until is None or until <= now:
                return NextStage(line.key, stage)
            waiting.append(NextStage(line.key, stage, until))
    return min(waiting, key=lambda one: one.waits_until or now, default=None)


def first_open(kind: str, line: BenchLine, done: Iterable[tuple[int | None, str]]) -> str:
    """The stage a tray is at; empty when it has been through all."""
    return next((stage for stage in stages_of(kind) if line.open(stage, done)), "")


def expected(stage: str, cells: int) -> float:
    """Minutes that a stage of a tray takes to begin with [min]."""
    return PER_TRAY.get(stage, 0.0) + PER_CELL.get(stage, 0.0) * cells


class Done(NamedTuple):
    """A stage finished: who, on which day's sheet, when, of how many cells."""

    by: int | None
    day: int
    at: datetime
    stage: str
    cells: int


def own_pace(history: Iterable[Done]) -> dict[str, float]:
    """How long each stage takes here against the estimate, learned from the time between two stages of one person.

    The estimate counts as twenty minutes of work, so a few trays move it a little.  Pauses and taps made afterwards are left out.
    """
    expects: dict[str, float] = {}
    took: dict[str, float] = {}
    last: dict[tuple[int | None, int], datetime] = {}
    for one in sorted(history, key=lambda d: d.at):
        before = last.get((one.by, one.day))
        last[one.by, one.day] = one.at
        if before is None:
            continue
        minutes, usual = (one.at - before).total_seconds() / 60, expected(one.stage, one.cells)
        if usual and LEAST_FACTOR * usual <= minutes <= LONGEST_FACTOR * usual + BREAK_MINUTES:
            expects[one.stage] = expects.get(one.stage, 0.0) + usual
            took[one.stage] = took.get(one.stage, 0.0) + minutes
    return {stage: (PRIOR_MINUTES + took[stage]) / (PRIOR_MINUTES + expects[stage]) for stage in expects}


def minutes(stage: str, cells: int, pace: Mapping[str, float]) -> float:
    """Minutes that a stage of a tray takes at one's own pace [min]."""
    return expected(stage, cells) * pace.get(stage, 1.0)


def left(
    kind: str, lines: Sequence[BenchLine], done: frozenset[tuple[int | None, str]], pace: Mapping[str, float]
) -> tuple[float, float]:
    """Minutes still to do, and of the whole day [min]."""
    whole = to_do = 0.0
    for line in lines:
        for stage in stages_of(kind):
            if stage in line.skips:
                continue
            takes = minutes(stage, line.cells, pace)
            whole += takes
            to_do += takes if (line.key, stage) not in done else 0.0
    return to_do, whole
