"""What the day holds: tasks by where one stands, the urgent sentence, the nights against what is outdoors."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState, Todo
from aestiva.frame import say
from growing.place.nights import AtPlant, Night, at_plant, chance_below
from growing.plantingout.steps import OUTDOORS, watch
from growing.steps import WHERE

LATE_AFTER_DAYS = 1
AHEAD = timedelta(days=400)  # how far the next thing is looked for on a day without any
PLACES = {  # where one stands: its title, and a note instead of its minutes
    "door": ("At the door", "out and in again"),
    "bench": ("At the bench", ""),
    "garden": ("In the garden", ""),
    "table": ("At the table", "when it rains"),
}


@dataclass(slots=True)
class Bundle:
    """Tasks done in one go: the same errand for the same reason."""

    todos: list[Todo]

    @property
    def kind(self) -> str:
        return self.todos[0].task.kind

    @property
    def key(self) -> str:
        return self.todos[0].task.key.replace(".", "-")

    @property
    def urgent(self) -> int:
        return max(t.task.urgent for t in self.todos)

    @property
    def count(self) -> int:
        return sum(t.task.count or 0 for t in self.todos)

    @property
    def minutes(self) -> int:
        return sum(t.task.minutes for t in self.todos)

    @property
    def names(self) -> str:
        """“Stock ×9, Scabiosa”."""
        return ", ".join(f"{n} ×{k}" if k > 1 else n for n, k in Counter(t.item.name for t in self.todos).items())

    @property
    def codes(self) -> list[str]:
        return list(dict.fromkeys(t.item.spot_code for t in self.todos if t.item.spot_code))


@dataclass(slots=True)
class Group:
    """The tasks of one place to stand."""

    where: str
    title: str
    note: str
    minutes: int
    bundles: list[Bundle]


class NightAhead(NamedTuple):
    night: Night
    plant: AtPlant
    frost: float  # chance of 0 °C or less at the plant
    at_risk: int  # plants outdoors that it may harm


@dataclass(slots=True)
class Day:
    headline: str
    sub: str
    groups: list[Group]
    nights: list[NightAhead]
    outdoors: list[Item]
    outside: int
    minutes: int
    tonight: list[Todo]
    next_todo: Todo | None
    next_risk: NightAhead | None  # the first later night that may harm something outdoors


def day(now: SeasonState) -> Day:
    """Everything Today shows."""
    today = now.today
    todos = now.todos(today)
    groups = _groups(todos)
    outdoors = [i for i in now.items if i.raised.stands in OUTDOORS and _outside(i)]
    at_risk: Counter[date] = Counter()
    for item in outdoors:
        for task in watch(item.raised, today, today + timedelta(days=6)):
            at_risk[task.due] += task.count or 0
    nights = [_ahead(n, now, at_risk[n.day]) for n in now.nights[:7]]
    outside = sum(_outside(i) for i in outdoors)
    tonight = [t for t in todos if t.task.urgent == 2]
    following = None if todos else min(now.todos(today + AHEAD), key=lambda t: t.due, default=None)
    minutes = sum(g.minutes for g in groups)
    return Day(
        _headline(todos, tonight, minutes, following, today),
        _sub(now, outside),
        groups,
        nights,
        outdoors,
        outside,
        minutes,
        tonight,
        following,
        next((n for n in nights if n.at_risk and n.night.day > today), None),
    )


def _outside(item: Item) -> int:
    """Plants of an item that stand outdoors now."""
    raised = item.raised
    if raised.stands == "bed" and raised.accounts is not None:
        return raised.accounts.outdoors
    return raised.plants or 0


def _groups(todos: list[Todo]) -> list[Group]:
    groups = []
    for where in WHERE:
        here = [t for t in todos if t.task.where == where]
        if not here:
            continue
        here.sort(key=lambda t: (-t.task.urgent, t.due, t.task.key))
        minutes = sum(t.task.minutes for t in here)
        title, note = PLACES[where]
        groups.append(Group(where, title, note or f"about {minutes} min", minutes, bundles(here)))
    return groups


def bundles(todos: list[Todo]) -> list[Bundle]:
    """Errands of one kind that are one walk become one line; all else stays by itself."""
    found: dict[object, Bundle] = {}
    for todo in todos:
        task = todo.task
        same: object = task.key
        if task.spec.errand and not todo.moved:
            same = (task.kind, task.errand, todo.due)
        found.setdefault(same, Bundle([])).todos.append(todo)
    return list(found.values())


def _ahead(night: Night, now: SeasonState, at_risk: int) -> NightAhead:
    plant = at_plant(night, now.today, now.shift_c)
    return NightAhead(night, plant, chance_below(plant, 0.0), at_risk)


def _headline(todos: list[Todo], tonight: list[Todo], minutes: int, following: Todo | None, today: date) -> str:
    """The one urgent sentence."""
    if tonight:
        plants = sum(t.task.count or 0 for t in tonight)
        names = _names(tonight)
        verb = "carry in" if any(t.task.where == "door" for t in tonight) else "cover"
        return f"Too cold for some tonight: {verb} {names} ({say.plural(plants, 'plant')})."
    late = [t for t in todos if (today - t.due).days > LATE_AFTER_DAYS]
    if late:
        return f"{say.plural(len(todos), 'thing')} to do; {_names(late)} {'has' if len(late) == 1 else 'have'} waited longest."
    if todos:
        return f"{say.plural(len(todos), 'thing')} to do today, about {minutes} minutes."
    if following is not None:
        what = following.name.split(":")[0]
        return f"Nothing to do today. Next, {say.day(following.due)}: {following.task.count or ''} {what}, {following.item.name}."
    return "Nothing to do. Add a planting, and its days will appear here."


def _names(todos: list[Todo]) -> str:
    return say.listed(list(dict.fromkeys(t.item.name for t in todos)), 3)


def _sub(now: SeasonState, outside: int) -> str:
    parts = [say.day(now.today, year=True)]
    line = now.place.spring.date_for(now.place.accepted_risk).day
    if line is not None and 0 < (line - now.today).days < 200:
        parts.append(f"{(line - now.today).days} days to your frost line")
    parts.append(f"{say.plural(outside, 'plant')} outdoors")
    return " · ".join(parts)
