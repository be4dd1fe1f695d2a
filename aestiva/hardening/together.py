"""Several tasks done with one walk: one entry for all of them, and one undo."""

from __future__ import annotations

from typing import Any

from aestiva.course.finishing import write_done
from aestiva.course.state import SeasonState, Todo, load
from aestiva.frame import say
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock, journal
from aestiva.gardens.outcomes import Refused
from aestiva.hardening.door import BETWEEN

MOST_TOGETHER = 400


def todos_of(now: SeasonState, keys: list[str], kinds: tuple[str, ...], gone: str) -> list[Todo]:
    """The open tasks of those keys and kinds; raises Refused, worded as `gone`, where there is none."""
    found = [
        todo
        for key in dict.fromkeys([key for sent in keys for key in sent.split(BETWEEN)][:MOST_TOGETHER])
        if (todo := now.find(key)) is not None and todo.task.kind in kinds
    ]
    if not found:
        raise Refused("task", gone)
    return found


def names_of(todos: list[Todo]) -> str:
    """“Kale Quarry Curl, Larkspur Blue Slate and 3 more”."""
    return say.listed(list(dict.fromkeys(t.subject.full_name for t in todos)), 3)


def done_together(request: Any, kinds: tuple[str, ...], gone: str) -> str:
    """All that were sent are done today; says what was."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    with journal.change(garden, request.user, key=post.get("key", "")) as write:
        now = load(garden, today)
        todos = todos_of(now, post.getlist("task"), kinds, gone)
        said = f"{STEPS[todos[0].task.kind].verb}: {names_of(todos)}"
        write.summary = said[:250]
        for todo in todos:
            write_done(write, now, request.user, todo, today, today, None)
    return said
