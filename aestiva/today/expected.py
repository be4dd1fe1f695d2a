"""What is still to come of each planting, before there is a task for it: the course from its sowing to its first harvest.

Expected days are worked out anew each time; they become tasks once the sowing, or the step before, has happened.
"""

from __future__ import annotations

from collections.abc import Collection
from datetime import date
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState, Todo
from aestiva.frame.wording import COURSE
from growing.chain.dates import PlantingDates
from growing.chain.kinds import ORDER
from growing.working import Working

FIRST = "first"
NOT_OF = {"direct": "out", "bought": "sow"}  # the step that is none of a method: what is sown in place goes nowhere


class Expected(NamedTuple):
    """One step to come: of which item, its kind, its word, the day it is expected and why."""

    item: Item
    kind: str
    word: str
    day: date
    why: Working

    @property
    def key(self) -> str:
        """Stable as long as the item is what it is."""
        return f"{self.item.raised.ref}.expected.{self.kind}"

    @property
    def name(self) -> str:
        return self.item.full_name


def expected(now: SeasonState, until: date, todos: Collection[Todo] | None = None) -> list[Expected]:
    """Every step after today and by `until` for which there is no task yet, in the order of days.

    todos: the open tasks, where they are at hand, as far as `until` or further.
    """
    open_ = now.todos(until) if todos is None else todos
    there = {(todo.facts.ref, todo.task.spec.step) for todo in open_}
    found = [
        one
        for item in now.items
        for one in _course(item)
        if now.today < one.day <= until and (item.raised.ref, one.kind) not in there
    ]
    return sorted(found, key=lambda one: one.day)  # of one day in the order of the course


def _course(item: Item) -> list[Expected]:
    raised = item.raised
    if raised.plants == 0 and raised.facts.planted_on is None:
        return []
    found = [
        Expected(item, step.kind, COURSE[step.kind], step.due, step.working)
        for step in sorted(raised.course.steps.values(), key=lambda step: ORDER.index(step.kind))
        if step.happened is None
        and step.kind != NOT_OF.get(raised.dates.method)
        and not _past(raised.facts.planted_on, raised.facts.half_up, step.kind)
    ]
    dates = raised.dates
    if dates.first.start != dates.out_on:
        found.append(Expected(item, FIRST, f"First {_yields(item)}", dates.first.start, _why_first(dates)))
    return found


def _past(planted_on: date | None, half_up: date | None, kind: str) -> bool:
    """Is it of a time that is over: on the bench when they are out, or of looks when half are up?"""
    return planted_on is not None or (half_up is not None and kind == "look")


def _yields(item: Item) -> str:
    return str(item.crop.values["yields"].number)


def _why_first(dates: PlantingDates) -> Working:
    return dates.workings["first"]
