"""What the day holds: tasks by where one stands, the urgent sentence, the nights against what is outdoors."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.care.round import kept
from aestiva.course.state import SeasonState, Todo
from aestiva.course.state import minutes_of as todo_minutes
from aestiva.frame import say, wording
from aestiva.today.listing import Listing, TaskLine, line, listing, minutes_of
from aestiva.today.order import TONIGHT, Fold, Rows, cost_of, fold, rows_of
from growing.place.nights import AtPlant, Night, at_plant, chance_below
from growing.plantingout.steps import WATCH_NIGHTS
from growing.waiting import CANNOT_WAIT, best_set

LATE_AFTER_DAYS = 1
TONIGHT_COST = 1000.0  # what harms tonight goes before all else
AHEAD = timedelta(days=400)  # how far the next thing is looked for on a day without any
PLACES = {  # where one stands: its title, and a note instead of its minutes
    "door": ("At the door", "out and in again"),
    "bench": ("At the bench", ""),
    "garden": ("In the garden", ""),
    "table": ("At the table", "when it rains"),
}


@dataclass(slots=True)
class Bundle:
    """Tasks done in one go: the same errand for the same reason.  cost: plants that waiting until tomorrow costs."""

    todos: list[Todo]
    cost: float = 0.0

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
        return todo_minutes(self.todos)

    @property
    def cannot_wait(self) -> bool:
        """Does it harm tonight, or cost half a plant or more by tomorrow?"""
        return self.urgent == TONIGHT or self.cost >= CANNOT_WAIT

    @property
    def names(self) -> str:
        """“Stock ×9, Scabiosa”."""
        return ", ".join(f"{n} ×{k}" if k > 1 else n for n, k in Counter(t.subject.name for t in self.todos).items())

    @property
    def codes(self) -> list[str]:
        return list(dict.fromkeys(t.spot_code for t in self.todos if t.spot_code))


@dataclass(slots=True)
class Folded:
    """Rows of one work that are opened on demand."""

    fold: Fold
    rows: list[tuple[TaskLine, ...]]

    @property
    def lines(self) -> list[TaskLine]:
        return [one for row in self.rows for one in row]

    @property
    def count(self) -> int:
        return sum(one.count or 0 for one in self.lines)

    @property
    def minutes(self) -> int:
        return minutes_of(self.lines)

    @property
    def cost(self) -> float:
        return cost_of(self.lines)

    @property
    def cannot_wait(self) -> bool:
        """Is there a row in it that cannot wait?"""
        return any(cost_of(row) >= CANNOT_WAIT for row in self.rows)

    @property
    def names(self) -> str:
        """“Stock, Scabiosa and 3 more”."""
        return say.listed(list(dict.fromkeys(one.crop for one in self.lines)), 4)


@dataclass(slots=True)
class PlaceTasks:
    """The tasks of one place to stand: rows, and folds of rows."""

    where: str
    title: str
    note: str
    rows: list[Bundle | Folded]

    @property
    def bundles(self) -> list[Bundle]:
        return [row for row in self.rows if isinstance(row, Bundle)]


class NightAhead(NamedTuple):
    night: Night
    plant: AtPlant
    frost: float  # chance of 0 °C or less at the plant
    at_risk: int  # plants outdoors that it may harm


@dataclass(slots=True)
class TodayPage:
    headline: str
    sub: str
    groups: list[PlaceTasks]
    nights: list[NightAhead]
    outside: int
    tonight: list[Todo]
    next_todo: Todo | None
    next_risk: NightAhead | None  # the first later night that may harm something outdoors
    short: Listing


def day(now: SeasonState) -> TodayPage:
    """Everything Today shows."""
    todos = now.todos(now.today)
    short = listing(now, todos)
    at_risk: Counter[date] = Counter()
    for one in short.outdoors:
        at_risk.update(dict(one.at_risk))
    nights = [_ahead(n, now, at_risk[n.day]) for n in now.nights[:WATCH_NIGHTS]]
    following = None if todos else first_task(now)
    return TodayPage(
        headline(short.lines, now.today, following),
        sub(now, short, round_minutes(now)),
        groups(todos, short.lines),
        nights,
        outside_of(short),
        [t for t in todos if t.task.urgent == 2],
        following,
        next((n for n in nights if n.at_risk and n.night.day > now.today), None),
        short,
    )


def round_minutes(now: SeasonState) -> int | None:
    """Minutes of today's round of water where it was reckoned of late; None: not yet."""
    found = kept(now)
    return None if found is None else found.minutes.get(now.today, 0)


def next_tasks(now: SeasonState) -> list[Todo]:
    """The tasks to come, however far ahead, the next first."""
    return sorted(now.todos(now.today + AHEAD), key=lambda t: (t.due, t.task.key))


def first_task(now: SeasonState) -> Todo | None:
    """The next task; None where the season holds nothing more."""
    return next(iter(next_tasks(now)), None)


def outside_of(short: Listing) -> int:
    """Plants that stand outdoors."""
    return sum(one.plants for one in short.outdoors)


def groups(todos: Iterable[Todo], lines: Iterable[TaskLine], fold_many: bool = True) -> list[PlaceTasks]:
    """The tasks by the place where one stands, what costs most to wait first; rows that are too many folded."""
    by_key = {todo.task.key: todo for todo in todos}
    rows = rows_of(lines)
    folds = fold(rows) if fold_many else {}
    opened = folded(rows, folds)
    found = []
    for where, here in rows.items():
        shown: list[Bundle | Folded] = []
        for row in here:
            inside = folds.get(row[0].anchor)
            if inside is None:
                shown.append(bundle(row, by_key))
            elif opened[inside].rows[0] is row:
                shown.append(opened[inside])
        found.append(PlaceTasks(where, PLACES[where][0], note(where, (one for row in here for one in row)), shown))
    return found


def folded(rows: Rows, folds: Mapping[str, Fold]) -> dict[Fold, Folded]:
    """Every fold with its rows, in the order of the page."""
    found: dict[Fold, Folded] = {}
    for here in rows.values():
        for row in here:
            inside = folds.get(row[0].anchor)
            if inside is not None:
                found.setdefault(inside, Folded(inside, [])).rows.append(row)
    return found


def bundle(row: Iterable[TaskLine], todos: Mapping[str, Todo]) -> Bundle:
    """A row with its tasks in full."""
    lines = list(row)
    return Bundle([todos[one.key] for one in lines], cost_of(lines))


def bundle_of(todo: Todo, today: date) -> Bundle:
    """A row of one task."""
    return bundle([line(todo, today)], {todo.task.key: todo})


def note(where: str, lines: Iterable[TaskLine]) -> str:
    """What stands beside the title of a place: its own note, or the minutes."""
    return PLACES[where][1] or f"about {say.minutes(minutes_of(lines), short=True)}"


def bundles(todos: Iterable[Todo], today: date) -> list[Bundle]:
    """Errands of one kind that are one walk become one row; all else stays by itself."""
    by_key = {todo.task.key: todo for todo in todos}
    rows = rows_of(line(todo, today) for todo in by_key.values())
    return [bundle(row, by_key) for here in rows.values() for row in here]


class InMinutes(NamedTuple):
    """What to do in the time there is: the rows chosen and those left for another day, their minutes and what is saved."""

    groups: list[PlaceTasks]
    left: list[Bundle]
    minutes: int
    saved: float
    left_cost: float


def in_minutes(now: SeasonState, budget: int) -> InMinutes:
    """The set of rows that saves most in so many minutes: exact, every row taken whole."""
    todos = now.todos(now.today)
    by_key = {todo.task.key: todo for todo in todos}
    lines = [line(todo, now.today) for todo in todos]
    rows = [row for here in rows_of(lines).values() for row in here]
    costs = [cost_of(row) + (TONIGHT_COST if max(one.urgent for one in row) == TONIGHT else 0.0) for row in rows]
    minutes = [minutes_of(row) for row in rows]
    chosen = best_set(minutes, costs, budget)
    taken = [row for row, does in zip(rows, chosen, strict=True) if does]
    rest = [row for row, does in zip(rows, chosen, strict=True) if not does]
    return InMinutes(
        groups(todos, (one for row in taken for one in row), fold_many=False),
        [bundle(row, by_key) for row in rest],
        sum(m for m, does in zip(minutes, chosen, strict=True) if does),
        round(sum(map(cost_of, taken)), 2),
        round(sum(map(cost_of, rest)), 2),
    )


def _ahead(night: Night, now: SeasonState, at_risk: int) -> NightAhead:
    plant = at_plant(night, now.today, now.shift_c)
    return NightAhead(night, plant, chance_below(plant, 0.0), at_risk)


def headline(lines: Sequence[TaskLine], today: date, following: Todo | None = None) -> str:
    """The one urgent sentence.  following: the next task, on a day without any."""
    tonight = [one for one in lines if one.urgent == 2]
    if tonight:
        plants = sum(one.count or 0 for one in tonight)
        verb = "carry in" if any(one.where == "door" for one in tonight) else "cover"
        return f"Too cold for some tonight: {verb} {_names(tonight)} ({say.plural(plants, 'plant')})."
    pressing = [one for one in sorted(lines, key=lambda one: -one.cost) if one.cost >= CANNOT_WAIT]
    if pressing:
        acts: dict[str, list[TaskLine]] = {}
        for one in pressing:
            acts.setdefault(wording.STEPS[one.kind].act, []).append(one)
        first = [f"{act} {_names(of)}" for act, of in acts.items()]
        return f"{say.plural(len(lines), 'thing')} to do today; cannot wait: {say.listed(first, 2)}."
    late = [one for one in lines if (today - one.due).days > LATE_AFTER_DAYS and one.planting is not None]
    if late:
        have = "has" if len(late) == 1 else "have"
        return f"{say.plural(len(lines), 'thing')} to do; {_names(late)} {have} waited longest."
    if lines:
        return f"{say.plural(len(lines), 'thing')} to do today."
    if following is not None:
        return f"Nothing to do today. {coming(following, today)}"
    return "Nothing is left to do this season."


def coming(first: Todo, today: date) -> str:
    """“Your next task is on Sat 7 March, in 9 days: sow Celery.”"""
    act = wording.STEPS[first.task.kind].act
    return f"Your next task is on {say.day(first.due)}, {say.away(first.due, today)}: {act} {first.item.name}."


def _names(lines: Iterable[TaskLine]) -> str:
    return say.listed(list(dict.fromkeys(one.crop for one in lines)), 3)


def sub(now: SeasonState, short: Listing, upkeep: int | None = None) -> str:
    """The day, how far the frost line is, what stands outdoors, how long it all takes.

    upkeep: minutes of what is done beside the tasks, as the round of water; None: not reckoned yet.
    """
    parts = [say.day(now.today, year=True)]
    gate = now.place.spring.date_for(now.place.accepted_risk).day
    if gate is not None and 0 < (gate - now.today).days < 200:
        parts.append(f"{(gate - now.today).days} days to your frost line")
    parts.append(f"{say.plural(outside_of(short), 'plant')} outdoors")
    minutes = minutes_of(short.lines) + (upkeep or 0)
    work = f"about {say.minutes(minutes)} of work" + (" and the round" if upkeep is None and minutes else "")
    return " · ".join([*parts, *([work] if minutes else [])])
