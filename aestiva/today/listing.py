"""The day's list in short, kept per revision: what a tap needs to know of all the rows that it does not change.

It may be dropped at any time; nothing is read from it that could not be worked out anew.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import NamedTuple

from django.core.cache import cache

from aestiva.course.state import SeasonState, Todo
from aestiva.frame.version import code_version
from aestiva.gardens.models import Garden, JournalEntry
from growing.batch.facts import BatchFacts
from growing.plantingout.steps import watch
from growing.steps import minutes_together
from growing.waiting import lost

KEPT_S = 2 * 24 * 3600


class TaskLine(NamedTuple):
    """One task in short.  together: lines with the same are one errand and one row."""

    planting: int | None  # None: it is the work of a place
    key: str
    kind: str
    where: str
    urgent: int
    due: date
    minutes: int
    count: int | None  # type: ignore[assignment]
    name: str
    crop: str
    variety: str
    spot_code: str
    together: object
    cost: float  # plants that waiting until tomorrow costs
    begins: float = 0.0  # minutes of it that the first of one errand takes for all

    @property
    def anchor(self) -> str:
        """The task's key as a page anchor."""
        return self.key.replace(".", "-")


def minutes_of(lines: Iterable[TaskLine]) -> int:
    """Minutes that these take together, one walk for one errand."""
    return minutes_together((one.together, one.begins, one.minutes) for one in lines)


class OutdoorPlants(NamedTuple):
    """Plants of one batch that stand outdoors, and those at risk by night."""

    planting: int
    plants: int
    at_risk: tuple[tuple[date, int], ...]


class Listing(NamedTuple):
    """The lines of a season on one day, and what stands outdoors."""

    lines: tuple[TaskLine, ...]
    outdoors: tuple[OutdoorPlants, ...] = ()

    def patched(self, plantings: set[int], fresh: Listing) -> Listing:
        """This list with the lines of some plantings as they are now."""
        lines = (*(one for one in self.lines if one.planting not in plantings), *fresh.lines)
        outdoors = (*(one for one in self.outdoors if one.planting not in plantings), *fresh.outdoors)
        return Listing(lines, outdoors)


def line(todo: Todo, today: date) -> TaskLine:
    task, planting = todo.task, todo.planting
    return TaskLine(
        None if planting is None else planting.pk, task.key, task.kind, task.where, task.urgent, todo.due, task.minutes, task.count, todo.name,
        todo.subject.name, todo.variety, todo.spot_code, todo.together, lost(todo.waits(today)), task.spec.minutes,
    )  # fmt: skip


def listing(now: SeasonState, todos: Iterable[Todo]) -> Listing:
    """The season in short: these tasks, and everything that stands outdoors or was carried out and is not in again."""
    found = list(todos)
    tonight = {t.facts.ref for t in found if t.task.urgent == 2}
    outdoors = []
    for item in now.items:
        one = item.raised
        plants = outside(one)
        if not plants:
            continue
        nights = tuple((task.due, task.count or 0) for task in watch(one, now.today, date.max))
        if not nights and one.ref in tonight:
            nights = ((now.today, plants),)
        outdoors.append(OutdoorPlants(item.planting.pk, plants, nights))
    return Listing(tuple(line(todo, now.today) for todo in found), tuple(outdoors))


def outside(raised: BatchFacts) -> int:
    """Plants that stand outdoors: those planted out and not lost, and those in pots that stand there or were carried out."""
    planted = raised.accounts.outdoors if raised.accounts is not None else 0
    carried = raised.outdoors_in or raised.facts.out is not None
    return planted + (raised.plants_seen if carried else 0)


class StepComing(NamedTuple):
    """A step expected, in short."""

    day: date
    word: str
    name: str


class CalendarOutlook(NamedTuple):
    """What the calendar page shows beyond its weeks: whether anything is planted, the sentence about the first task and the next
    tasks where the weeks hold none, and what is expected."""

    planted: bool
    first: str
    following: tuple[TaskLine, ...]
    coming: tuple[StepComing, ...]


class State(NamedTuple):
    """What a list is of: a garden's revision and its last entry (whose key no other garden, and no garden brought back from
    a backup, has at that revision), on a day."""

    garden: int
    revision: int
    readings: int
    entry: str
    today: date

    def key(self, what: str) -> str:
        return f"{what}-{code_version()}-{self.garden}-{self.revision}-{self.readings}-{self.entry}-{self.today.toordinal()}"


def states(garden: Garden, today: date) -> tuple[State, State]:
    """The state of a garden as it is, and as it was one entry before."""
    entries = JournalEntry.objects.filter(garden=garden).order_by("-pk")
    last = list(entries.values_list("key", "garden__revision", "garden__readings_revision")[:2])
    newest, older = [*(key for key, _, _ in last), "", ""][:2]
    revision, readings = last[0][1:] if last else (garden.revision, garden.readings_revision)
    return State(garden.pk, revision, readings, newest, today), State(garden.pk, revision - 1, readings, older, today)


def keep_outlook(state: State, found: CalendarOutlook) -> None:
    cache.set(state.key("outlook"), found, KEPT_S)


def kept_outlook(state: State) -> CalendarOutlook | None:
    """The outlook of that state, where it is still there."""
    found = cache.get(state.key("outlook"))
    return found if isinstance(found, CalendarOutlook) else None


def keep(state: State, what: str, found: Listing) -> None:
    """Keep the list of that state; what: "today", or "ahead" for the weeks of the calendar."""
    cache.set(state.key(what), found, KEPT_S)


def kept(state: State, what: str) -> Listing | None:
    """The list of that state, where it is still there."""
    found = cache.get(state.key(what))
    return found if isinstance(found, Listing) else None
