"""The season on one day as the rules see it: what each planting and batch is, its dates, its tasks."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, field
from datetime import date
from typing import NamedTuple, cast

from aestiva.course.door import door_of, own_ladders
from aestiva.course.facts import HORIZON as HORIZON
from aestiva.course.facts import SeasonFacts
from aestiva.course.ground import free_ground
from aestiva.course.item import Item as Item
from aestiva.course.item import SeasonShared
from aestiva.course.items import items_of
from aestiva.course.kept import at_hand, keep
from aestiva.course.known import known as remembered
from aestiva.course.light import stages_of
from aestiva.course.outlook import look_over
from aestiva.course.placework import PlaceWork, place_work
from aestiva.course.warmth import SeasonWarmth
from aestiva.frame.wording import task_name
from aestiva.gardens import clock
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import stages, steps, steps_of_key
from aestiva.place.dating import Dating, Ground, last_lost, lots_of
from aestiva.place.ground import Free, beside, shared_ground
from aestiva.place.queries import frost_of, nights, place_year
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, Lot, Planting
from aestiva.season.rows import Before, SeasonRows, season_rows
from aestiva.season.trouble import CANNOT
from aestiva.seeds.queries import of_crops, seeds_known, sowings_of, tests_of
from growing.batch.facts import BatchFacts
from growing.batch.verdict import EmergenceVerdict
from growing.crops import Crop
from growing.place.year import PlaceYear
from growing.steps import PlaceFacts, StepSpec, Task, TaskRef, derive, minutes_together
from growing.waiting import waits
from growing.working import Working


class Todo(NamedTuple):
    """A derived task with what the grower said about it; subject: the planting or batch that it is of, or the place."""

    task: Task
    subject: Item | PlaceWork
    due: date
    moved: bool
    part_done: int | None

    @property
    def item(self) -> Item:
        """The planting or batch; of work that is of one.  Raises TypeError for the work of a place."""
        if not isinstance(self.subject, Item):
            raise TypeError(f"{self.task.key} is work of a place")
        return self.subject

    @property
    def planting(self) -> Planting | None:
        """None where it is the work of a place."""
        return self.subject.planting if isinstance(self.subject, Item) else None

    @property
    def batch(self) -> Batch | None:
        """None where nothing is sown yet, and for the work of a place."""
        return self.subject.batch if isinstance(self.subject, Item) else None

    @property
    def crop(self) -> Crop | None:
        """None for the work of a place."""
        return self.subject.crop if isinstance(self.subject, Item) else None

    @property
    def variety(self) -> str:
        return self.subject.variety if isinstance(self.subject, Item) else ""

    @property
    def spot_code(self) -> str:
        """Where it stands, or will grow; "" where the work is a place's, which is its name."""
        return self.subject.spot_code if isinstance(self.subject, Item) else ""

    @property
    def facts(self) -> BatchFacts | PlaceFacts:
        """What the rules see of it."""
        return self.subject.raised if isinstance(self.subject, Item) else self.subject.facts

    def waits(self, today: date) -> Working | None:
        """A day's delay from a day on in plants, with its arithmetic; None where its stage says nothing of it."""
        return waits(self.task, self.facts, today)

    @property
    def name(self) -> str:
        """What it counts, for this crop."""
        return task_name(self.task) if self.crop is None else task_name(self.task, self.crop.word("starts"))

    @property
    def together(self) -> object:
        """What is the same for tasks that are one errand, and so one walk and one row."""
        return (
            (self.task.kind, self.task.errand, self.due) if self.task.spec.errand and not self.moved else self.task.key
        )

    @property
    def anchor(self) -> str:
        """The task's key as a page anchor."""
        return self.task.key.replace(".", "-")


def by_day(todos: Iterable[Todo], today: date) -> dict[date, list[Todo]]:
    """Tasks by the day they are for; what is overdue is for today."""
    found: dict[date, list[Todo]] = defaultdict(list)
    for todo in todos:
        found[max(todo.due, today)].append(todo)
    return found


def minutes_of(todos: Iterable[Todo]) -> int:
    """Minutes that these take together, one walk for one errand."""
    return minutes_together((t.together, t.task.spec.minutes, t.task.minutes) for t in todos)


@dataclass(slots=True)
class SeasonState(SeasonFacts):
    """One garden's season on one day, and what is to be done in it."""

    derived: dict[date, list[Todo]] = field(default_factory=dict)  # all that is due by a day, once somebody asked
    places: list[PlaceWork] | None = None  # the work of places, once somebody asked

    def todos(self, until: date, kinds: Collection[str] | None = None) -> list[Todo]:
        """Open tasks due by `until`, in the order of work and then of days.  kinds: only those; None: all.  Derived once."""
        if until in self.derived:
            return [t for t in self.derived[until] if kinds is None or t.task.kind in kinds]
        found = self._derived(until, kinds)
        if kinds is None:
            self.derived[until] = found
        return list(found)

    def minutes_on(self, day: date) -> int:
        """Minutes that a day takes: its tasks, what is overdue counted today, and what stages do beside them, as the round of water."""
        return minutes_of(by_day(self.todos(day), self.today).get(day, ())) + self.upkeep_on(day)

    def upkeep_on(self, day: date) -> int:
        """Minutes of what stages do on a day beside its tasks, as the round of water."""
        return sum(stage.upkeep(self, day) for stage in stages() if stage.upkeep is not None)

    def _derived(self, until: date, kinds: Collection[str] | None) -> list[Todo]:
        found = []
        specs = tuple(spec for spec in steps() if kinds is None or spec.kind in kinds)
        named = tuple(spec.kind for spec in specs)
        if any(spec.judged for spec in specs):
            look_over(self)
        for item in self.items:
            for task in self._tasks(item, until, specs, named):
                todo = self._marked(task, item)
                if todo is not None and todo.due <= until:
                    found.append(todo)
        return found + [todo for todo in self._of_places(until) if kinds is None or todo.task.kind in kinds]

    def _of_places(self, until: date) -> list[Todo]:
        """Open work of places; only where the whole season is in hand."""
        if not self.whole:
            return []
        if self.places is None:
            self.places = place_work(self)
        found = [self._marked(task, work) for work in self.places for task in work.tasks]
        return [todo for todo in found if todo is not None and todo.due <= until]

    def find(self, key: str) -> Todo | None:
        """The open task of that key, however far ahead; only the step that it names is asked."""
        asked = TaskRef.of(key)
        if asked is None:
            return None
        if asked.subject == "place":
            season = self if self.whole else load(self.garden, self.today)
            return next((todo for todo in season._of_places(self.horizon) if todo.task.key == key), None)
        item = next((item for item in self.items if item.subject == asked[:2]), None)
        return None if item is None else self._find(item, asked.word, asked.ordinal)

    def _find(self, item: Item, word: str, ordinal: str) -> Todo | None:
        try:
            for spec in steps_of_key(word):
                if spec.judged:
                    look_over(self)
                task = spec.find(item.raised, ordinal, self.today, self.horizon)
                if task is not None:
                    return self._marked(task, item)
        except CANNOT as error:
            self.trouble(item.planting, item.batch, error)
        return None

    def _tasks(self, item: Item, until: date, specs: Sequence[StepSpec], named: tuple[str, ...]) -> list[Task]:
        """The item's tasks, as whoever asked before, where what is known of it and said of it is the same; none, and a trouble, where
        the rules cannot say them.  named: the specs by their kinds."""
        one, asked = item.raised, ("tasks", until, named)
        verdict, found = cast("tuple[EmergenceVerdict | None, list[Task] | None]", one.memo.get(asked, (None, None)))
        if found is not None and verdict == one.verdict:
            return found
        try:
            found = list(derive(specs, one, self.today, until))
        except CANNOT as error:
            self.trouble(item.planting, item.batch, error)
            return []
        one.memo[asked] = one.verdict, found
        return found

    def _marked(self, task: Task, subject: Item | PlaceWork) -> Todo | None:
        mark = self.rows.marks.get(task.key)
        if mark is None:
            return Todo(task, subject, task.due, False, None)
        if mark.done_on is not None or mark.skipped_on is not None:
            return None
        due = task.due if mark.moved_to is None else max(mark.moved_to, task.due)  # put off: not before that day
        if mark.count_done and task.spec.at_once and task.count is not None:
            task = task._replace(count=max(0, task.count - mark.count_done), total=task.count)
        return Todo(task, subject, due, mark.moved_to is not None, mark.count_done)


def load(
    garden: Garden,
    today: date,
    plantings: Iterable[int] | None = None,
    place: PlaceYear | None = None,
    like: SeasonState | None = None,
    rows: SeasonRows | None = None,
) -> SeasonState:
    """Everything of the garden's season in hand, as another page read it where nothing has changed.  Raises NoFrostDate.

    plantings: limits it to some.  place: another place than the garden's, for a look ahead.  like: the season as this
    request saw it before it wrote about batches: its place, crops, packets and nights are still true.  rows: where
    they are in hand.
    """
    plain = place is None and like is None and rows is None
    if plain and (like := at_hand(garden, today, SeasonState)) is not None and plantings is None:
        return like
    if like is not None:
        place, crops, lots, ahead, shift = place or like.place, like.crops, like.lots, like.nights, like.shift_c
    else:
        frost = frost_of(garden)
        place, crops, lots = place or place_year(garden, frost=frost), Crops(garden), lots_of(garden)
        ahead, shift = nights(garden, today), frost.shift_c
    spots = None if like is None else like.rows.spots
    ground = shared_ground(garden) if like is None or like.shared is None else like.shared.dating.shared_ground
    wanted = None if plantings is None else set(plantings)
    before = None if like is None or like.wrote is None else Before(like.rows, like.wrote)
    rows = rows or season_rows(garden, None if wanted is None else wanted | beside(wanted, ground), spots, before)
    dating = Dating(place, crops, rows.covers, lots, garden, lambda dating: free_ground(found, dating), ground)
    dating.lost_on = last_lost((pk, batch.failed_on) for pk, batches in rows.batches.items() for batch in batches)
    known = {} if like is None else like.known
    if lacking := _lots(rows, wanted, lots, crops) - known.keys():
        some = lacking if wanted is not None else None
        told = tests_of(garden, some), today, garden.year, sowings_of(garden, some)
        known = {**known, **seeds_known(dating, lacking, *told)}
    found = SeasonState(garden, today, place, crops, [], rows, ahead, shift, lots, known)
    warmth = SeasonWarmth(
        garden, today, dating, rows, None if like is None or like.shared is None else like.shared.warmth
    )
    door, own = (
        (like.shared.door, like.shared.own)
        if like is not None and like.shared is not None
        else (door_of(garden, rows.spots, place.away), own_ladders(garden))
    )
    same = (place, today, ahead, shift, garden.ladder, door, tuple(own.items()))
    shared = SeasonShared(
        dating, today, rows, ahead, shift, garden.ladder, known, {}, {}, warmth, door=door, own=own,
        packets={}, follows_from=remembered(same, object),
    )  # fmt: skip
    found.shared, found.whole = shared, wanted is None
    found.paces = None if like is None else like.paces
    for planting in rows.plantings:
        if wanted is None or planting.pk in wanted:
            try:
                found.items.extend(items_of(planting, dating.crop(planting), shared, found))
            except CANNOT as error:
                found.trouble(planting, None, error)
    _go_by_leaves(found)
    _go_by_gates(found)
    found.troubles += dating.troubles(garden)
    return keep(garden, today, found) if plain and plantings is None else found


def _go_by_leaves(found: SeasonState) -> None:
    """Once it is known what each had, those of which somebody saw the leaves go by them and not by their days."""
    assert found.shared is not None
    stages = stages_of(found, found.items) if found.rows.looks else {}
    found.shared = found.shared._replace(stages=stages)
    _again(found, {i.planting.pk for i in found.items if i.batch is not None and i.batch.pk in stages})


def _go_by_gates(found: SeasonState) -> None:
    """Once it is known when each would go out, those about to go wait for what holds them back today."""
    assert found.shared is not None
    for stage in stages():
        if stage.holds is not None:
            found.held |= stage.holds(found, found.items)
    found.shared = found.shared._replace(held=found.held)
    _again(found, {i.planting.pk for i in found.items if i.batch is not None and _held(found, i)})


def _held(found: SeasonState, item: Item) -> bool:
    held, out = found.held.get(item.batch_pk), item.raised.dates.out_on
    if held is None:
        return False
    slow = held.ready is not None and not item.raised.facts.outings and held.ready > out
    return slow or (held.until is None or held.until > out if held.by else out < found.today)


def _again(found: SeasonState, plantings: set[int]) -> None:
    """Those plantings as they are by what is known of them now, and what follows on their ground."""
    if not plantings:
        return
    assert found.shared is not None
    dating = found.shared.dating.with_others({})
    found.shared = found.shared._replace(dating=dating)
    those = plantings | dating.beside(plantings)
    by_planting: dict[int, list[Item]] = {}
    for item in found.items:
        by_planting.setdefault(item.planting.pk, []).append(item)
    for pk, items in by_planting.items():
        if pk in those:
            by_planting[pk] = items_of(items[0].planting, dating.crop(items[0].planting), found.shared, found)
    found.items = [item for items in by_planting.values() for item in items]


def _lots(rows: SeasonRows, wanted: set[int] | None, lots: Mapping[int, Lot], crops: Crops) -> set[int]:
    """The packets of the crops of those plantings that were asked for; None: of all."""
    here = of_crops(lots, crops)
    return here if wanted is None else here & of_crops(lots, {planting.crop_key for planting in rows.plantings})


class MovedPlanting(NamedTuple):
    """A planting as it stands, and as it would with other days chosen."""

    before: Item
    after: Item


def moved(now: SeasonState, chosen: Mapping[int, date | None]) -> list[MovedPlanting]:
    """What other sowing days would make of plantings of which nothing is sown, and of those that follow on their ground.

    chosen: by planting; None lets it follow the rules again.  Writes nothing; those asked for come first, in their order.
    """
    assert now.shared is not None
    plain = {item.planting.pk: item for item in now.items if item.batch is None}
    instead = {}
    for pk, day in chosen.items():
        if pk in plain:
            instead[pk] = other = copy(plain[pk].planting)
            other.chosen_sow = day
    dating = now.shared.dating.with_others(instead)
    shared, found = now.shared._replace(dating=dating), []
    for pk in [*instead, *(pk for pk in sorted(dating.beside(instead)) if pk in plain and pk not in instead)]:
        planting = instead.get(pk, plain[pk].planting)
        for item in items_of(planting, dating.crop(planting), shared, now):
            if item.batch is None and (pk in instead or item.raised.dates != plain[pk].raised.dates):
                found.append(MovedPlanting(plain[pk], item))
    return found


def ground_of(garden: Garden) -> Ground:
    """The same for whoever has no season in hand: that of the garden on its day."""

    def says(dating: Dating) -> Mapping[int, Free]:
        now = load(garden, clock.today(garden), list(dating.shared_ground))
        assert now.shared is not None
        return free_ground(now, now.shared.dating)

    return says
