"""Finishing, skipping and moving tasks; each is one journal entry."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.accounts.models import User
from aestiva.frame import wording
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import completion
from aestiva.plan.queries import AT_ONCE, Todo
from aestiva.season.actions import Finished, Refused, check_day
from aestiva.season.models import TaskMark

PARTS = frozenset(("sow", "plant", *AT_ONCE))  # can be done in instalments
COUNTS = frozenset(("look", "count"))  # the number is the news


def _mark(garden: Garden, key: str) -> TaskMark:
    return TaskMark.objects.filter(garden=garden, key=key).first() or TaskMark(garden=garden, key=key)


def _said(todo: Todo, count: int | None, done: str) -> str:
    name = f"{todo.item.name} {todo.item.variety}".strip()
    number = todo.task.count if count is None else count
    return f"{done}: {number if number is not None else ''} {name}".replace("  ", " ")


def finish(
    garden: Garden, user: User | None, todo: Todo, on: date, today: date, count: int | None = None, key: str = ""
) -> None:
    """Write what was done; fewer than all leaves the rest open ("12 of 20")."""
    with journal.change(garden, user, _said(todo, count, wording.TASKS[todo.task.kind][1]), key) as write:
        _write(write, garden, user, todo, on, today, count)


def finish_all(garden: Garden, user: User, todos: list[Todo], today: date, key: str = "") -> None:
    """One errand for several batches, done with one tap and taken back with one."""
    names = ", ".join(t.item.name for t in todos)
    with journal.change(garden, user, f"{wording.TASKS[todos[0].task.kind][1]}: {names}", key) as write:
        for todo in todos:
            _write(write, garden, user, todo, today, today, None)


def _write(
    write: journal.Write, garden: Garden, user: User | None, todo: Todo, on: date, today: date, count: int | None
) -> None:
    task, item = todo.task, todo.item
    check_day(item.batch, on, today)
    if count is not None and count < 0:
        raise Refused("count", f"{count} cannot be: give 0 or more")
    if task.kind in PARTS and count == 0:
        raise Refused("count", "0 done: skip it or move it instead")
    whole = task.kind not in PARTS or count is None or task.count is None or count >= task.count
    if whole and task.kind in AT_ONCE and todo.part_done:
        count = todo.part_done + ((task.count or 0) if count is None else count)
    mark = _mark(garden, task.key)
    mark.by = user
    if task.kind == "stay_in":  # tomorrow is another day for the same rung
        mark.moved_to = on + timedelta(days=1)
    elif whole:
        mark.done_on = on
        if count is not None:
            mark.count_done = count if task.kind in AT_ONCE else (todo.part_done or 0) + count
    else:
        mark.count_done = (mark.count_done or 0) + (count or 0)
    writer = completion(task.kind)
    if writer is not None and (whole or task.kind not in AT_ONCE):
        spot = item.planting.spot if task.kind == "plant" else None
        writer(Finished(write, task, item.planting, item.batch, on, today, count, spot))
    write.save(mark)
    if item.batch is not None:
        write.save(item.batch)


def skip(garden: Garden, user: User | None, todo: Todo, today: date, key: str = "") -> None:
    with journal.change(
        garden, user, _said(todo, None, f"Skipped “{wording.TASKS[todo.task.kind][1].lower()}”"), key
    ) as write:
        mark = _mark(garden, todo.task.key)
        mark.skipped_on, mark.by = today, user
        write.save(mark)


def move(garden: Garden, user: User | None, todo: Todo, to: date, today: date, key: str = "") -> None:
    """Put a task off to another day; the facts it waits for do not move."""
    if to <= today:
        raise Refused("to", f"{to:%-d %B} is not after today: choose a later day")
    if (to - today).days > 365:
        raise Refused("to", f"{to:%-d %B %Y} is more than a year away: skip it instead")
    with journal.change(garden, user, _said(todo, None, f"Put off to {to:%-d %B}"), key) as write:
        mark = _mark(garden, todo.task.key)
        mark.moved_to, mark.by = to, user
        write.save(mark)
