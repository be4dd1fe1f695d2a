"""Finishing, skipping and moving tasks; each is one journal entry.

A task is looked up again inside the entry, as the garden is then: what is done already, or no longer needed, writes
nothing.  Every function returns the season as it was found, as far as the tasks are about it; None where nothing was
written.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from typing import Any

from aestiva.accounts.models import User
from aestiva.course.finishing import mark_of, write_done
from aestiva.course.kept import at_hand_to_change
from aestiva.course.state import SeasonState, Todo, load
from aestiva.frame import say, wording
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Batch, BatchEvent, BatchLink, BatchStand, CellRun, TaskMark, Tray, TrayStand
from growing.batch.outlook import MOVED_ON
from growing.steps import TaskRef

OF_BATCHES = {row._meta.label for row in (Batch, BatchEvent, BatchLink, BatchStand, CellRun, TaskMark, Tray, TrayStand)}


def plantings_of(garden: Garden, keys: Iterable[str]) -> set[int]:
    """The plantings that these tasks are about."""
    plantings: set[int] = set()
    for key in keys:
        ref = TaskRef.of(key)
        if ref is not None and ref.subject == "planting":
            plantings.add(ref.pk)
        elif ref is not None and ref.subject == "batch":
            plantings.update(Batch._base_manager.filter(pk=ref.pk).values_list("planting_id", flat=True))
    return plantings


def state_for(garden: Garden, keys: Iterable[str], today: date) -> SeasonState:
    """The season as far as these tasks are about it."""
    return load(garden, today, plantings_of(garden, keys), like=at_hand_to_change(garden, today, SeasonState))


def find(garden: Garden, key: str, today: date) -> Todo | None:
    """The open task of that key, however far ahead."""
    return state_for(garden, [key], today).find(key)


def _written(now: SeasonState, write: journal.ChangeSet) -> SeasonState:
    """The season in which it was found, and whether what was written is of batches alone."""
    wrote = frozenset(change["model"] for change in write.changes)
    now.wrote = wrote if wrote <= OF_BATCHES else None
    now.of_seed = any(_of_seed(change) for change in write.changes)
    return now


def _of_seed(change: Mapping[str, Any]) -> bool:
    """Does it change what sowings say of their packets?  Counts do, and that those that came have gone on; a sowing says nothing yet."""
    if change["model"] != BatchEvent._meta.label:
        return False
    return change["before"] is not None or change["after"]["kind"] in ("up", *MOVED_ON)


def _said(todo: Todo, count: int | None, done: str) -> str:
    name = todo.subject.full_name
    number = todo.task.count if count is None else count
    return f"{done}: {number if number is not None else ''} {name}".replace("  ", " ")


def finish(
    garden: Garden, user: User | None, task: str, on: date, today: date, count: int | None = None, key: str = ""
) -> SeasonState | None:
    """Write what was done; fewer than all leaves the rest open (“12 of 20”)."""
    with journal.change(garden, user, key=key) as write:
        now = state_for(garden, [task], today)
        todo = now.find(task)
        if todo is None:
            return None
        write.summary = _said(todo, count, wording.STEPS[todo.task.kind].verb)
        write_done(write, now, user, todo, on, today, count)
    return _written(now, write)


def finish_all(garden: Garden, user: User, tasks: list[str], today: date, key: str = "") -> SeasonState | None:
    """One errand for several batches, done with one tap and taken back with one."""
    with journal.change(garden, user, key=key) as write:
        now = state_for(garden, tasks, today)
        todos = [todo for task in dict.fromkeys(tasks) if (todo := now.find(task)) is not None]
        if not todos:
            return None
        names = ", ".join(t.subject.name for t in todos)
        write.summary = f"{wording.STEPS[todos[0].task.kind].verb}: {names}"
        for todo in todos:
            write_done(write, now, user, todo, today, today, None)
    return _written(now, write)


def skip(garden: Garden, user: User | None, task: str, today: date, key: str = "") -> SeasonState | None:
    with journal.change(garden, user, key=key) as write:
        now = state_for(garden, [task], today)
        todo = now.find(task)
        if todo is None:
            return None
        write.summary = _said(todo, None, f"Skipped “{wording.STEPS[todo.task.kind].verb.lower()}”")
        mark = mark_of(now, task)
        mark.skipped_on, mark.by = today, user
        write.save(mark)
    return _written(now, write)


def move_all(garden: Garden, user: User, tasks: list[str], to: date, today: date, key: str = "") -> int:
    """Several tasks put off to another day, in one entry; returns how many."""
    _later(to, today)
    with journal.change(garden, user, key=key) as write:
        now = state_for(garden, tasks, today)
        todos = [todo for task in dict.fromkeys(tasks) if (todo := now.find(task)) is not None]
        for todo in todos:
            mark = mark_of(now, todo.task.key)
            mark.moved_to, mark.by = to, user
            write.save(mark)
        names = say.listed(list(dict.fromkeys(t.subject.name for t in todos)), 3)
        write.summary = f"Put off to {to:%-d %B}: {names}"
    return len(todos)


def _later(to: date, today: date) -> None:
    if to <= today:
        raise Refused("to", f"{to:%-d %B} is not after today: choose a later day")
    if (to - today).days > 365:
        raise Refused("to", f"{to:%-d %B %Y} is more than a year away: skip it instead")


def move(garden: Garden, user: User | None, task: str, to: date, today: date, key: str = "") -> SeasonState | None:
    """Put a task off to another day; the facts it waits for do not move."""
    _later(to, today)
    with journal.change(garden, user, key=key) as write:
        now = state_for(garden, [task], today)
        todo = now.find(task)
        if todo is None:
            return None
        write.summary = _said(todo, None, f"Put off to {to:%-d %B}")
        mark = mark_of(now, task)
        mark.moved_to, mark.by = to, user
        write.save(mark)
    return _written(now, write)
