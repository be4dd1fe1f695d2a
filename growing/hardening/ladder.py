"""What goes out today, and for how long?  The ladder of outings as data, and where a batch stands on it."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable
from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

from growing.working import Value, Working

COUNTS_FROM = 0.75
DAY_HOURS = 10.0  # of a day out that would have been a day and a night: estimate
NIGHT_HOURS = 20.0  # from here on an outing is a night, too
DAYS_FOR_A_NIGHT = 3  # so many whole days stand for a night that was too cold, as in ladders without nights: estimate
STEP_BACK_FROM, RESTART_AFTER = 3, 7


class Rung(NamedTuple):
    """One outing of a ladder: its hours [h], the share of them in sun (0 to 1), the shelter to look for, and whether the
    plants stay out for the night."""

    hours: float
    sun: float
    shelter: str
    night: bool = False


class Ladder(NamedTuple):
    """A way of hardening off: its rungs in order, and the days kept spare for weather that keeps plants in."""

    key: str
    name: str
    spare_days: int
    rungs: tuple[Rung, ...]

    @property
    def days(self) -> int:
        """Days to keep before planting out: the rungs and the spare days."""
        return len(self.rungs) + self.spare_days


class Outing(NamedTuple):
    """An outing that was had: its hours, and those its rung asked for [h]."""

    day: date
    hours: float
    wanted_hours: float


class LadderProgress(NamedTuple):
    """Where a batch stands on its ladder: rungs climbed, outings had, days missed since the last."""

    ladder: Ladder
    climbed: int
    outings: int
    missed: int

    @property
    def rungs(self) -> int:
        return len(self.ladder.rungs)

    @property
    def rung(self) -> Rung | None:
        """The rung for today; None once hardened."""
        return self.ladder.rungs[self.climbed] if self.climbed < self.rungs else None

    @property
    def working(self) -> Working:
        """How it came to stand there; put together only when somebody asks."""
        rung = self.rung
        inputs = (
            Value("ladder", self.ladder.name),
            Value("rungs", self.rungs, "days"),
            Value("outings", self.outings, "days"),
            Value("missed", self.missed, "days"),
            Value("hours", rung.hours if rung else None, "h"),
            Value("sun", rung.sun if rung else None, "share"),
            Value("shelter", rung.shelter if rung else ""),
        )
        return Working("hardening.ladder", inputs, (), Value("rung", min(self.climbed + 1, self.rungs)))


@lru_cache(maxsize=1)
def ladders() -> dict[str, Ladder]:
    """Every ladder by its key, from `ladders.toml`."""
    data = tomllib.loads((Path(__file__).parent / "ladders.toml").read_text(encoding="utf-8"))
    return {
        key: Ladder(key, one["name"], one["spare_days"], tuple(Rung(**rung) for rung in one["rungs"]))
        for key, one in data.items()
    }


def progress(ladder: Ladder, outings: Iterable[Outing], today: date) -> LadderProgress:
    """Climb the ladder with the outings had; a step counts at three quarters of its hours.

    A rung with a night is climbed as well by three whole days whose nights were too cold.  Days missed: 1–2 repeat nothing
    more than the day itself, 3–7 one step back, more than 7 from step two.
    """
    climbed, last, missed, days_only = 0, None, 0, 0
    had = sorted(outings)
    for outing in had:
        climbed, _ = _after_gap(climbed, last, outing.day)
        whole = outing.hours >= COUNTS_FROM * outing.wanted_hours
        days_only += not whole and outing.wanted_hours >= NIGHT_HOURS and outing.hours >= COUNTS_FROM * DAY_HOURS
        if whole or days_only == DAYS_FOR_A_NIGHT:
            climbed, days_only = min(climbed + 1, len(ladder.rungs)), 0
        last = outing.day
    if climbed < len(ladder.rungs):
        climbed, missed = _after_gap(climbed, last, today)
    return LadderProgress(ladder, climbed, len(had), missed)


def _after_gap(climbed: int, last: date | None, day: date) -> tuple[int, int]:
    missed = 0 if last is None else max(0, (day - last).days - 1)
    if missed > RESTART_AFTER:
        return min(climbed, 1), missed
    if missed >= STEP_BACK_FROM:
        return max(0, climbed - 1), missed
    return climbed, missed
