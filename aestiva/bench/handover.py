"""Days away: what falls due, what to do before leaving, what can wait, and a sheet for a helper who was told nothing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.bench.ahead import BenchAhead
from aestiva.bench.bench_then import bench_on
from aestiva.course.state import Item, Todo, minutes_of
from aestiva.frame.say import Reader
from aestiva.frame.wording import STEPS
from growing.batch.climb import case_of
from growing.bench.hands import CARE_MINUTES, CARRY_MINUTES, away_from
from growing.calendar import Window
from growing.ladders.ahead import ahead as ladder_of
from growing.ladders.ladder import Rung
from growing.waiting import lost

MOST_DAYS_SHOWN = 31


class HandoverLine(NamedTuple):
    """A task that falls due on a day away: of what, where it stands, what it costs to leave it until somebody is back."""

    todo: Todo
    name: str
    at: str
    how: str
    caution: str
    lost: float

    @property
    def counted(self) -> str:
        task = self.todo.task
        words = self.todo.name
        return f"{task.count} {words}" if task.count is not None else words


class Carry(NamedTuple):
    """A batch on the ladder on a day: how long out, in what shelter, and whether it stays out."""

    name: str
    at: str
    rung: Rung


@dataclass
class DaySheet:
    """A day for the helper."""

    day: date
    carry: list[Carry]
    tasks: list[HandoverLine]
    flats: float

    @property
    def minutes(self) -> int:
        ladder = CARRY_MINUTES * len(self.carry)
        return round(CARE_MINUTES * self.flats + ladder + minutes_of(t.todo for t in self.tasks))


@dataclass
class Handover:
    """An absence against what falls due."""

    window: Window
    before: list[HandoverLine]
    after: list[HandoverLine]
    days: list[DaySheet]
    places: list[tuple[str, list[str], bool]]

    @property
    def help(self) -> list[HandoverLine]:
        return [t for d in self.days for t in d.tasks]

    @property
    def carries(self) -> int:
        return sum(len(d.carry) for d in self.days)

    @property
    def minutes(self) -> int:
        return sum(d.minutes for d in self.days)

    @property
    def lost(self) -> float:
        """Plants that nobody's coming would cost, as far as the tasks say it."""
        return sum(t.lost for t in self.help)


def handover(ahead: BenchAhead, window: Window, reader: Reader) -> Handover:
    """What falls due between leaving and coming back, sorted by what becomes of it."""
    now = ahead.now
    back = window.end + timedelta(days=1)
    before: list[HandoverLine] = []
    after: list[HandoverLine] = []
    days = _days(ahead, window)
    sheets = {d.day: d for d in days}
    for todo in now.todos(window.end):
        spec = todo.task.spec
        if todo.due < window.start or (spec.daily and spec.where == "door"):
            continue  # done before leaving as every day; outings stand day by day on the sheet
        cost = _lost(todo, todo.due, back)
        one = _line(todo, cost, reader)
        when = away_from(spec, todo.due, cost, window.start)
        if when == "before":
            before.append(one)
        elif when == "after":
            after.append(one)
        elif todo.due in sheets:
            sheets[todo.due].tasks.append(one)
    return Handover(window, before, after, days, _places(ahead, max(window.start, now.today)))


def _lost(todo: Todo, due: date, back: date) -> float:
    """Plants lost by leaving it from its day until somebody is back, a day at a time."""
    whole = 0.0
    for k in range((back - due).days):
        whole += lost(todo.waits(due + timedelta(days=k)))
    return min(whole, float(max(todo.facts.wanted, 1)))


def _line(todo: Todo, cost: float, reader: Reader) -> HandoverLine:
    words = STEPS[todo.task.kind]
    how = words.how(todo.task, todo.crop, reader) if words.how is not None and todo.crop is not None else ""
    said = " ".join(filter(None, [words.instruction, how if how != words.instruction else ""]))
    name = todo.subject.full_name
    return HandoverLine(todo, name, todo.spot_code, said, words.caution, cost)


def _days(ahead: BenchAhead, window: Window) -> list[DaySheet]:
    now = ahead.now
    first = max(window.start, now.today)
    found = []
    for k in range(min(MOST_DAYS_SHOWN, max(0, (window.end - first).days + 1))):
        day = first + timedelta(days=k)
        places = {
            s.batch: ahead.bench.places[p.place].spot.code for p, s in ahead.on(day) if p.place in ahead.bench.places
        }
        found.append(DaySheet(day, list(_carries(now.items, day, now.today, places)), [], ahead.flats_on(day)))
    return found


def _carries(items: Iterable[Item], day: date, today: date, places: Mapping[int, str]) -> Iterable[Carry]:
    """Who goes out on that day, where it will stand, and on which rung: as the ladder has it with a helper at home."""
    for item in items:
        raised = item.raised
        case = case_of(raised, today) if item.batch is not None and raised.hardens else None
        if case is None or item.batch is None:
            continue
        found = ladder_of(case._replace(door=case.door._replace(away=())))
        one = next((d for d in found.days if d.day == day and d.out), None)
        if one is not None:
            yield Carry(item.full_name, places.get(item.batch.pk, item.spot_code), raised.ladder.rungs[one.rung])


def _places(ahead: BenchAhead, day: date) -> list[tuple[str, list[str], bool]]:
    """What will stand where on that day, for somebody who has never been there; whether a lid is on some of it."""
    found = []
    bench = bench_on(ahead, day)
    for pk in bench.order:
        one = bench.places[pk]
        names = list(dict.fromkeys(n for t in one.things for n in t.names))
        if names:
            label = (
                one.spot.code
                if not one.spot.name or one.spot.name == one.spot.code
                else f"{one.spot.code}, {one.spot.name}"
            )
            found.append((label, names, any(t.lidded for t in one.things)))
    return found
