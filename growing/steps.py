"""What is there to do, where and why?  Tasks are derived from facts, settings and today; nothing is stored.

Each stage of the work owns the kinds of work it knows: `growing/<stage>/steps.py` lists them as `STEPS`.  Nobody else
knows a kind by name.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import date
from typing import Any, NamedTuple

from growing.batch.facts import BatchFacts
from growing.working import Working

WHERE = ("door", "bench", "garden", "table")
SUBJECTS = {
    "b": "batch",
    "p": "planting",
    "s": "place",
    "g": "garden",
}  # of what work is, by the letter of its reference


class TaskRef(NamedTuple):
    """What a task's key says ("b7.count.2"): of what it is, the word of its kind, and which one of that kind.

    subject: "batch", "planting", "place" or "garden".  pk: the subject's own key.  ordinal: a count, or an ISO day for daily work.
    """

    subject: str
    pk: int
    word: str
    ordinal: str

    @classmethod
    def of(cls, key: str) -> TaskRef | None:
        """The one that a key says; None where it is no key of a task."""
        ref, _, rest = key.partition(".")
        word, _, ordinal = rest.partition(".")
        subject, number = SUBJECTS.get(ref[:1]), ref[1:]
        if subject is None or not (number.isascii() and number.isdigit()) or len(number) > 18:
            return None
        return cls(subject, int(number), word, ordinal)


def place_ref(pk: int) -> str:
    """How the keys of a place's tasks begin."""
    return f"s{pk}"


class PlaceFacts(NamedTuple):
    """A place as its tasks see it: how their keys begin, and the plants that they are about."""

    ref: str
    wanted: int


@dataclass(frozen=True, eq=False)
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
    of: the step of a batch's course that it is, where that has another name.
    """

    kind: str
    where: str
    due: Callable[[BatchFacts, date, date], Iterator[Task]]
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
    waits: Callable[[Any, Task, date], Working] | None = None
    judged: bool = False
    earlier_days: int | None = None
    of: str = ""

    def __eq__(self, other: object) -> bool:
        """Each kind is there once; what comes out of a cache is the same kind."""
        return isinstance(other, StepSpec) and self.kind == other.kind

    def __hash__(self) -> int:
        return hash(self.kind)

    @property
    def step(self) -> str:
        """The step of a batch's course that it is."""
        return self.of or self.kind

    @property
    def word(self) -> str:
        """The word for it in its tasks' keys."""
        return self.key or self.kind

    def key_of(self, ref: str, ordinal: object) -> str:
        """The key of one task of this kind."""
        return f"{ref}.{self.word}.{ordinal}"

    def find(self, one: BatchFacts, ordinal: str, today: date, horizon: date) -> Task | None:
        """The open task of that ordinal; one named by its day is looked for no further than that day."""
        key = self.key_of(one.ref, ordinal)
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


def with_another(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Of a kind whose tasks are found together with another kind's: nothing by itself."""
    return iter(())


def derive(specs: Iterable[StepSpec], one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Every open task of one planting or batch that falls due by `until`, in the order of the steps."""
    for spec in specs:
        yield from spec.due(one, today, until)


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None
