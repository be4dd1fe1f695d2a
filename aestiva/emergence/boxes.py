"""What lies, or grows, in lidded boxes outdoors: left to the weather, and looked into now and then."""

from __future__ import annotations

from datetime import date
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState, Todo
from aestiva.frame import say, wording
from growing.bench.steps import BOX_AIR, BOX_LOOK
from growing.emergence.steps import LOOK


class Box(NamedTuple):
    """One batch in a box: seeds sown, how many are up (None: nobody counted), when half are likely up; its next work, as a verb before
    its name, and the day of it."""

    item: Item
    sown_on: date
    seeds: int
    up: int | None
    half_on: date
    half_up: bool
    next_on: date | None
    next: str

    @property
    def batch_pk(self) -> int:
        return self.item.batch_pk


def boxes(now: SeasonState) -> list[Box]:
    """Every batch sown in a box outdoors and not planted out yet, the next to be looked at first."""
    here = [i for i in now.items if i.batch is not None and i.raised.in_box]
    if not here:
        return []
    first: dict[int, Todo] = {}
    for todo in now.todos(now.horizon, (BOX_LOOK.kind, BOX_AIR.kind, LOOK.kind)):
        pk = None if todo.batch is None else todo.batch.pk
        if pk is not None and (pk not in first or todo.due < first[pk].due):
            first[pk] = todo
    found = [_box(i, first.get(i.batch_pk), now.today) for i in here]
    return sorted(found, key=lambda b: (b.next_on or date.max, b.item.full_name))


def _box(item: Item, todo: Todo | None, today: date) -> Box:
    facts, accounts, step = item.raised.facts, item.raised.accounts, item.raised.course.steps["up"]
    assert facts.sown_on is not None
    seeds, up = (0, None) if accounts is None else (accounts.sown or 0, accounts.emerged)
    on, kind = (None, "") if todo is None else (max(todo.due, today), wording.STEPS[todo.task.kind].act)
    return Box(item, facts.sown_on, seeds, up, step.day, step.happened is not None, on, kind)


def headline(found: list[Box]) -> str:
    """“2 boxes outdoors: look into Sweet pea Sat 14 February”; empty where there are none."""
    if not found:
        return ""
    one = found[0]
    then = "" if one.next_on is None else f": {one.next} {one.item.name} {say.day(one.next_on)}"
    return f"{say.plural(len(found), 'box', 'boxes')} outdoors{then}"
