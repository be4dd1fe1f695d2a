"""What goes out today, and for how long?  The ladder of outings as data, and where a batch stands on it."""

from __future__ import annotations

import tomllib
from collections.abc import Collection, Iterable, Sequence
from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

from growing.assumptions import real, whole
from growing.working import Value, Working

COUNTS_FROM = 0.75
DAY_HOURS = real("ladders.ladder.DAY_HOURS")
NIGHT_HOURS = 20.0  # from here on an outing is a night, too
DAYS_FOR_A_NIGHT = whole("ladders.ladder.DAYS_FOR_A_NIGHT")
HALVES_FOR_A_RUNG = whole("ladders.ladder.HALVES_FOR_A_RUNG")
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
    """Where a batch stands on its ladder: rungs climbed, outings had, days missed since the last; whole days had instead of the
    night of its rung, and outings that stand for half of it."""

    ladder: Ladder
    before: int  # rungs climbed before the days missed
    outings: int
    missed: int
    days_only: int = 0
    halves: int = 0
    partly: bool = False  # was the last outing no whole rung

    @property
    def climbed(self) -> int:
        """Rungs that are left of them."""
        return left_after(self.before, self.missed, self.partly)

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


MOST_RUNGS = 21
SHELTERS = ((0.1, "shade"), (0.35, "morning sun"), (0.6, "half sun"), (1.01, "open"))  # what a share of sun is called


def own_ladder(key: str, name: str, spare_days: int, rungs: Sequence[Sequence[float]]) -> Ladder:
    """A garden's own ladder.  rungs: hours [h], share of sun 0–1, and 1 for a night out, of each; raises ValueError that says
    which rung cannot be, and why."""
    if not 1 <= len(rungs) <= MOST_RUNGS:
        raise ValueError(f"{len(rungs)} rungs: give 1 to {MOST_RUNGS}")
    found: list[Rung] = []
    for number, (hours, sun, night) in enumerate(rungs, 1):
        hours = 24.0 if night else float(hours)
        if not 0.5 <= hours <= 24:
            raise ValueError(f"rung {number}: {hours:g} hours cannot be, give 0.5 to 14, or a night")
        if hours > LONGEST_DAY_HOURS and not night:
            raise ValueError(
                f"rung {number}: {hours:g} hours are longer than the day; tick the night, or give 14 at most"
            )
        if not 0 <= sun <= 1:
            raise ValueError(f"rung {number}: {sun:g} is no share of sun, give 0 to 1")
        if found and hours < found[-1].hours:
            raise ValueError(f"rung {number}: {hours:g} hours after {found[-1].hours:g}: a ladder never goes down")
        found.append(Rung(hours, float(sun), next(word for most, word in SHELTERS if sun < most), bool(night)))
    return Ladder(key, name, spare_days, tuple(found))


LONGEST_DAY_HOURS = 14.0


@lru_cache(maxsize=1)
def ladders() -> dict[str, Ladder]:
    """Every ladder by its key, from `ladders.toml`."""
    data = tomllib.loads((Path(__file__).parent / "ladders.toml").read_text(encoding="utf-8"))
    return {
        key: Ladder(key, one["name"], one["spare_days"], tuple(Rung(**rung) for rung in one["rungs"]))
        for key, one in data.items()
    }


def progress(
    ladder: Ladder,
    outings: Iterable[Outing],
    today: date,
    stressed: Collection[date] = (),
    sheltered: Collection[date] = (),
) -> LadderProgress:
    """Climb the ladder with the outings had; a step counts at three quarters of its hours.

    A rung with a night is climbed as well by three whole days whose nights were too cold; any other by two outings behind the
    shelter where it asks for the open, or of half its hours.  stressed: days on which they were limp or bleached: those are
    repeated.  Days missed: `left_after`; three lose what was had of a rung.
    """
    climbed, last, missed, days_only, halves, partly = 0, None, 0, 0, 0, False
    had = sorted(outings)
    for outing in had:
        missed = _missed(last, outing.day)
        climbed, last = left_after(climbed, missed, partly), outing.day
        partly = True
        if missed >= STEP_BACK_FROM:
            days_only, halves = 0, 0
        if outing.day in stressed:
            continue
        night = outing.wanted_hours >= NIGHT_HOURS
        whole = outing.hours >= COUNTS_FROM * outing.wanted_hours and (night or outing.day not in sheltered)
        days_only += not whole and night and outing.hours >= COUNTS_FROM * DAY_HOURS
        halves += not whole and not night and outing.hours >= outing.wanted_hours / 2
        if whole or days_only == DAYS_FOR_A_NIGHT or halves == HALVES_FOR_A_RUNG:
            climbed = min(climbed + 1, len(ladder.rungs))
            days_only, halves, partly = 0, 0, False
    if climbed == len(ladder.rungs):
        return LadderProgress(ladder, climbed, len(had), 0)
    missed = _missed(last, today)
    if missed >= STEP_BACK_FROM:
        days_only, halves = 0, 0
    return LadderProgress(ladder, climbed, len(had), missed, days_only, halves, partly)


def _missed(last: date | None, day: date) -> int:
    return 0 if last is None else max(0, (day - last).days - 1)


def left_after(climbed: int, missed: int, partly: bool) -> int:
    """Rungs that are left after days missed: 1–2 cost none, 3–7 one (4–7 where the last outing was no whole rung), more than 7 all
    but the first, which is never lost.  A half outing amid a gap so never costs more than staying in."""
    if missed > RESTART_AFTER:
        return min(climbed, 1)
    return max(climbed - 1, min(climbed, 1)) if missed >= STEP_BACK_FROM + partly else climbed
