"""Beginning the sheet of a day: a line for each sowing or potting, and trays that hold what gets on."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from aestiva.accounts.models import User
from aestiva.bench.company import sowing_companion
from aestiva.bench.days import AHEAD, due
from aestiva.bench.models import BenchDay, DayLine, Recipe
from aestiva.course.state import SeasonState, Todo, load
from aestiva.gardens import journal
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Container, Tray
from aestiva.season.places import next_code
from growing.bench import day as core
from growing.bench.steps import SowingDetail
from growing.chain.path import Vessel, usual_vessels
from growing.shelves.company import Companion, conflicts

MOST_LINES = 60
ALIKE = 2.5  # times as much mix in a cell, or as little, is still the same kind of cell: estimate


def begin(garden: Garden, user: User, kind: str, on: date, minutes: int | None, today: date, key: str) -> BenchDay:
    """The sheet of a day: a line for each sowing or potting that is due, and a tray for what is sown."""
    if kind not in dict(core.KINDS):
        raise Refused("kind", "choose a sowing day or a potting day")
    if not today - timedelta(days=3) <= on <= today + timedelta(days=AHEAD):
        raise Refused("on", f"{on:%-d %B} is too far from today: begin a sheet at most {AHEAD} days ahead")
    with journal.change(garden, user, f"Began the {dict(core.KINDS)[kind]} of {on:%-d %B}", key) as write:
        known = BenchDay.objects.filter(garden=garden, kind=kind, on=on).first()
        if known is not None:  # somebody else has begun it
            return known
        now = load(garden, today)
        todos = due(now, kind, on)[:MOST_LINES]
        if not todos:
            raise Refused("on", f"nothing is to be {'sown' if kind == 'sow' else 'potted'} by {on:%-d %B}")
        recipe = Recipe.objects.filter(garden=garden, use="seed" if kind == "sow" else "potting").first()
        day = write.save(BenchDay(garden=garden, kind=kind, on=on, minutes=minutes, recipe=recipe))
        if kind == "sow":
            _sow_lines(write, now, day, todos)
        else:
            for order, todo in enumerate(todos):
                line = DayLine(day=day, order=order, task=todo.task.key, planting=todo.item.planting)
                line.batch, line.places = todo.item.batch, max(1, todo.task.count or 1)
                write.save(line)
    return day


@dataclass
class _Filling:
    """A tray that is being filled with lines."""

    tray: Tray
    taken: int
    company: list[Companion]


def _sow_lines(write: ChangeSet, now: SeasonState, day: BenchDay, todos: Sequence[Todo]) -> None:
    """Each sowing into the smallest container that holds it, beside the one before where they get on; a large one into several."""
    own = list(Container.objects.filter(garden=now.garden).order_by("cells"))
    open_: _Filling | None = None
    order = 0
    for todo in todos:
        detail = todo.task.detail
        box = isinstance(detail, SowingDetail) and detail.sown_in == "box"
        left = todo.task.count or 0
        per = detail.per_cell if isinstance(detail, SowingDetail) else 1
        one = sowing_companion(todo.item)
        if box:
            kept = next((c for c in own if c.kind in ("open_flat", "open_box")), None)
            tray = write.save(
                Tray(garden=now.garden, code=next_code(now.garden.pk), container=kept, cells=kept.cells if kept else 1)
            )
            write.save(
                DayLine(
                    day=day,
                    order=order,
                    task=todo.task.key,
                    planting=todo.item.planting,
                    tray=tray,
                    first=1,
                    places=max(1, left),
                    per_cell=1,
                )
            )
            order += 1
            continue
        while left > 0:
            if open_ is None or not _joins(open_, one, left):
                open_ = _Filling(_tray_for(write, now, own, todo, left), 0, [])
            here = min(left, open_.tray.cells - open_.taken)
            write.save(
                DayLine(
                    day=day, order=order, task=todo.task.key, planting=todo.item.planting, tray=open_.tray, first=open_.taken + 1,
                    places=here, per_cell=per,
                )
            )  # fmt: skip
            order += 1
            open_.taken += here
            open_.company.append(one)
            left -= here
            if open_.taken >= open_.tray.cells:
                open_ = None


def _joins(filling: _Filling, one: Companion, count: int) -> bool:
    """May it share that tray: whole, and with nothing that wants otherwise?"""
    return filling.tray.cells - filling.taken >= count and not conflicts("tray", [*filling.company, one])


def _tray_for(write: ChangeSet, now: SeasonState, own: Sequence[Container], todo: Todo, left: int) -> Tray:
    assert now.shared is not None
    path = now.shared.dating.path(todo.item.planting)
    usual = path[0] if path else usual_vessels(todo.item.crop, todo.item.raised.how, False)[0]
    kept = _holds(own, usual, left)
    cells = left if kept is None or kept.cells == 1 else kept.cells
    return write.save(Tray(garden=now.garden, code=next_code(now.garden.pk), container=kept, cells=cells))


def _holds(own: Sequence[Container], usual: Vessel, left: int) -> Container | None:
    """Of her containers with cells the one that takes fewest of them, then the one most like the usual in the mix of a cell."""
    aim = usual.measures.cell_ml
    many = [c for c in own if c.cells > 1 and not c.kind.startswith(("block", "row_flat"))]
    alike = [c for c in many if 1 / ALIKE <= c.cell_ml / aim <= ALIKE] or many
    return min(alike, key=lambda c: (-(-left // c.cells), abs(math.log(c.cell_ml / aim)), c.cells), default=None)
