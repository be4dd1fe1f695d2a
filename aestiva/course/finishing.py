"""What finishing a task writes: the mark, and what its stage adds; inside an entry that is open already."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.accounts.models import User
from aestiva.course.state import SeasonState, Todo
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import completion
from aestiva.season.actions import Finished, check_day
from aestiva.season.models import Batch, TaskMark


def mark_of(now: SeasonState, key: str) -> TaskMark:
    """What was said about a task so far."""
    known = TaskMark.objects.filter(garden=now.garden, key=key).first() if key in now.rows.marks else None
    return known or TaskMark(garden=now.garden, key=key)


def write_done(
    write: ChangeSet, now: SeasonState, user: User | None, todo: Todo, on: date, today: date, count: int | None
) -> Batch | None:
    """Write that a task was done, fewer than all leave the rest open; returns the batch it made or is about."""
    task, spec = todo.task, todo.task.spec
    check_day(todo.batch, on, today)
    if count is not None and count < 0:
        raise Refused("count", f"{count} cannot be: give 0 or more")
    if spec.parts and count == 0:
        raise Refused("count", "0 done: skip it or move it instead")
    if spec.at_once and todo.part_done and count is not None and task.count is not None and count > task.count:
        if count != todo.part_done + task.count:  # all of them, the ones done before counted in, is as good an answer
            raise Refused("count", f"{count} cannot be: {todo.part_done} were done before, {task.count} are left")
        count = task.count
    whole = not spec.parts or count is None or task.count is None or count >= task.count
    if whole and spec.at_once and todo.part_done:
        count = todo.part_done + ((task.count or 0) if count is None else count)
    mark = mark_of(now, task.key)
    mark.by = user
    if spec.put_off:  # tomorrow is another day for the same task
        mark.moved_to = on + timedelta(days=1)
    elif whole:
        mark.done_on = on
        if count is not None:
            mark.count_done = count if spec.at_once else (todo.part_done or 0) + count
    else:
        mark.count_done = (mark.count_done or 0) + (count or 0)
    if todo.batch is not None:
        write.touch(todo.batch)
    done = Finished(write, task, todo.planting, todo.batch, on, today, count)
    writer = completion(task.kind)
    if writer is not None and (whole or not spec.at_once):
        writer(done)
    write.save(mark)
    return done.batch
