"""What is there to do, where and why?  Tasks are derived from facts, settings and today; nothing is stored.

Each stage of the work owns the kinds of work it knows: `growing/<stage>/steps.py` lists them as `STEPS`.  Nobody else
knows a kind by name.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, NamedTuple

from growing.batch.ledger import Accounts
from growing.calendar import Window
from growing.chain.course import Course, Facts
from growing.chain.dates import PlantingDates
from growing.chain.leaves import Stage
from growing.crops import Crop
from growing.hardening.ahead import USUAL_DOOR, Door
from growing.hardening.ladder import Ladder, LadderProgress
from growing.place.nights import Night
from growing.seeds.sowing import USUAL, How, Seed
from growing.working import Working

if TYPE_CHECKING:
    from growing.emergence.verdict import Verdict
    from growing.seeds.planned import InHand

OUTDOORS = ("porch", "frame", "tunnel", "bed")  # kinds of place
WHERE = ("door", "bench", "garden", "table")


@dataclass(frozen=True)
class StepSpec:
    """One kind of work: where it is done, what it takes, and when it falls due.

    due: (one, today, until) -> its open tasks due by `until`.  minutes, each: to begin with, and for every plant, cell or
    hour counted: estimates until the garden has its own pace.  parts: can be done in instalments; at_once: which are
    written down when the last is done.  asks: the number is the news, it must be given.  errand: for several batches with
    one walk, where `Task.errand` is the same.  daily: comes again by itself, so it is not done ahead of its day.  put_off:
    done today means that the same is asked tomorrow.  corrects: what may be told otherwise than planned ("hours").  alarm: it
    harms when forgotten, so calendars ring.  key: the word for it in its tasks' keys, where that is not its kind.  waits: what
    a day's delay of a task costs, as a working whose result is in plants.  judged: it goes by the verdict on what is under the mix.
    earlier_days: by which it may be done before its day without harm: estimates; None: not at all.
    """

    kind: str
    where: str
    due: Callable[[Raised, date, date], Iterator[Task]]
    minutes: float = 0.0
    each: float = 0.0
    parts: bool = False
    at_once: bool = False
    asks: bool = False
    errand: bool = False
    daily: bool = False
    put_off: bool = False
    corrects: str = ""
    alarm: bool = False
    key: str = ""
    waits: Callable[[Raised, Task, date], Working] | None = None
    judged: bool = False
    earlier_days: int | None = None

    @property
    def word(self) -> str:
        """The word for it in its tasks' keys."""
        return self.key or self.kind

    def find(self, one: Raised, ordinal: str, today: date, horizon: date) -> Task | None:
        """The open task of that ordinal; one named by its day is looked for no further than that day."""
        key = f"{one.ref}.{self.word}.{ordinal}"
        until = min(horizon, _day(ordinal) or horizon)
        return next((task for task in self.due(one, today, until) if task.key == key), None)


class Task(NamedTuple):
    """One thing to do.

    key: stable over days ("b7.count.2").  due: the day it is for.  count: how many, None where it does not apply.
    why: the arithmetic whose rule words the reason.  urgent: 0 may wait, 1 today, 2 harm tonight.  errand: tasks of one
    kind with the same are one walk.  detail: what its completion must know, as its stage defines it.  each: minutes for every
    one counted, where they are not those of its kind.
    """

    key: str
    spec: StepSpec
    due: date
    count: int | None  # type: ignore[assignment]
    unit: str
    why: Working
    urgent: int = 0
    total: int | None = None
    errand: tuple[object, ...] = ()
    detail: object = None
    each: float | None = None

    @property
    def kind(self) -> str:
        return self.spec.kind

    @property
    def where(self) -> str:
        return self.spec.where

    @property
    def minutes(self) -> int:
        """Minutes it is likely to take, whole."""
        each = self.spec.each if self.each is None else self.each
        return round(self.spec.minutes + each * (self.count or 0))


def minutes_together(parts: Iterable[tuple[object, float, int]]) -> int:
    """Minutes that tasks take together: those of one errand are one walk, which is begun once.

    parts: of each task the errand it belongs to, the minutes to begin with, and all its minutes.
    """
    begun: dict[object, float] = {}
    total = 0.0
    for errand, begins, whole in parts:
        total += whole if errand not in begun else whole - begins
        begun[errand] = begins
    return round(total)


PLANTS = ("received", "thinned", "pricked", "potted", "pinched", "trimmed")  # what happens to plants, and to no seed


class GoesTo(NamedTuple):
    """Plants are to stand in a place from a day on: its key, short name and kind."""

    since: date
    spot: int
    code: str
    kind: str


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
    how: How = USUAL
    cells: int | None = None
    has_seed: bool = False
    stands: str = ""  # kind of spot
    stands_on: str = ""  # its short name
    goes: tuple[GoesTo, ...] = ()  # where it is to stand from which day on
    grows_in: str = ""  # kind of spot that it is planted in; "" where nobody said
    hardened: LadderProgress | None = None
    nights: tuple[Night, ...] = ()
    shift_c: float = 0.0
    summer_night_c: float | None = None  # mean of the nights of the warmest month; None: not known
    summer_day_c: float | None = None  # mean, day and night, of the warmest fortnight; None: not known
    accepted_risk: float = 0.1
    door: Door = USUAL_DOOR
    stood: str = ""  # bought plants until now: "glass", "outdoors"; "": nobody knows
    attempt: int = 0  # batches that failed before
    planned_on: date | None = None  # what should have been done before that day is for that day
    secured: int = 0  # cells already sown in an unfinished sowing
    seed: Seed | None = None  # what its lot will do at the warmth it will have
    packet: InHand | None = None  # of what is still to be sown
    away: tuple[Window, ...] = ()  # days on which nobody is there
    verdict: Verdict | None = None  # of what lies under the mix, once it was looked at
    stage: Stage | None = None  # where somebody saw its leaves

    def night(self, day: date) -> Night | None:
        """The night of that day; None where no forecast reaches it."""
        return next((night for night in self.nights if night.day == day), None)

    def not_before(self, day: date) -> date:
        """That day, or the one on which it was planned, where that is later."""
        return day if self.planned_on is None else max(day, self.planned_on)

    @property
    def plants(self) -> int | None:
        """Plants indoors when counted; otherwise as many as the cells that were sown are for."""
        if self.accounts is not None and self.accounts.indoors is not None:
            return self.accounts.indoors
        return None if self.cells is None else self.cells * self.how.clump

    @property
    def plants_seen(self) -> int:
        """Plants indoors that somebody has seen, or fetched; none of what may still be seed, for all that anybody said."""
        facts = self.facts
        seen = (
            facts.first_up is not None or bool(facts.outings) or any(facts.first(kind) is not None for kind in PLANTS)
        )
        counted = self.accounts is not None and self.accounts.indoors is not None
        return (self.plants or 0) if counted or seen else 0

    @property
    def in_box(self) -> bool:
        """Does it stand outdoors in the box in which it was sown in winter?"""
        return self.dates.method == "winter" and self.facts.sown_on is not None and self.alive

    @property
    def outdoors_in(self) -> str:
        """The kind of place outdoors in which it stands in pots or a box; "" where it stands indoors, or nobody said."""
        return self.stands if self.stands in OUTDOORS else "box" if self.in_box and self.stands in ("", "path") else ""

    @property
    def clumps(self) -> int | None:
        """Clumps still to be set out; None where its plants do not stay in clumps, or nobody knows its cells."""
        if self.how.clump == 1 or self.cells is None or self.accounts is None:
            return None
        there, planted = self.accounts.indoors, self.accounts.planted
        if there is None:
            return max(0, self.cells - self.how.need(planted))
        return round(self.cells * there / self.accounts.whole) if there else 0

    @property
    def hardens(self) -> bool:
        """Does it climb the ladder before it goes out?  Bought plants do unless they stood outdoors; nobody knows: they do."""
        return hardens(self.dates.method, self.stood)

    @property
    def growing(self) -> bool:
        """Sown or fetched, and neither planted out nor all gone, as far as anybody counted."""
        return self._begun and self.plants != 0

    @property
    def alive(self) -> bool:
        """The same, or seed that may still come, though nothing of it is up."""
        waits = self.accounts is not None and bool(self.accounts.waiting) and not self.accounts.spent
        return self._begun and (self.plants != 0 or waits)

    @property
    def _begun(self) -> bool:
        there = self.facts.sown_on is not None or self.facts.first("received") is not None
        return there and self.facts.planted_on is None


def hardens(method: str, stood: str) -> bool:
    """What is raised climbs the ladder, and what is bought unless it stood outdoors."""
    return method == "raised" or (method == "bought" and stood != "outdoors")


def with_another(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Of a kind whose tasks are found together with another kind's: nothing by itself."""
    return iter(())


def derive(specs: Iterable[StepSpec], one: Raised, today: date, until: date) -> Iterator[Task]:
    """Every open task of one planting or batch that falls due by `until`, in the order of the steps."""
    for spec in specs:
        yield from spec.due(one, today, until)


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None
