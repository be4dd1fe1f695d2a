"""The season's plantings as the rules see them: rows in a constant number of queries, dates computed."""

from __future__ import annotations

import logging
from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import date, timedelta
from operator import itemgetter
from typing import Any, NamedTuple

from django.db.models import CharField, IntegerField
from django.db.models.functions import Cast

from aestiva.frame.wording import task_name
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import Effect, link, stages
from aestiva.place.dating import Dating, lots_of
from aestiva.place.queries import frost_of, nights, place_year
from aestiva.season.actions import COUNTED
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, BatchEvent, BatchStand, Planting, Spot, TaskMark
from aestiva.season.trouble import CANNOT, Trouble, words_of
from aestiva.seeds.queries import seed_of, seeds_known, tests_of
from growing.crops import Crop
from growing.emergence import share_coming
from growing.hardening import Outing, Standing, ladders, stand
from growing.ledger import Accounts, LedgerError, balance
from growing.place import PlaceYear
from growing.raising import Facts, course
from growing.season import Choice, PlantingDates
from growing.sharing import shares
from growing.sowing import NoCount
from growing.tasks import Raised, Task
from growing.tasks.bench import count_for
from growing.viability import Germination
from growing.watch import Night

log = logging.getLogger("aestiva.season")
FAR = date(9999, 1, 1)
AT_ONCE = frozenset(("thin", "prick", "pot"))  # in instalments, written down when all are done


class Mark(NamedTuple):
    done_on: date | None
    skipped_on: date | None
    moved_to: date | None
    count_done: int | None


class Item(NamedTuple):
    """One planting or batch of the season: its rows, and the rules' view of it."""

    planting: Planting
    batch: Batch | None
    crop: Crop
    raised: Raised
    spot_code: str  # where it stands; for a planting not yet sown, where it will grow
    grows_at: str

    @property
    def name(self) -> str:
        return self.crop.name

    @property
    def variety(self) -> str:
        return self.planting.variety


class Todo(NamedTuple):
    """A derived task with what the grower said about it."""

    task: Task
    item: Item
    due: date
    moved: bool
    part_done: int | None

    @property
    def name(self) -> str:
        """What it counts, for this crop."""
        return task_name(self.task, self.item.crop.word("starts"))

    @property
    def anchor(self) -> str:
        """The task's key as a page anchor."""
        return self.task.key.replace(".", "-")


@dataclass(slots=True)
class Sheet:
    """One garden's season on one day."""

    garden: Garden
    today: date
    place: PlaceYear
    crops: Crops
    items: list[Item]
    marks: dict[str, Mark]
    nights: tuple[Night, ...]
    shift_c: float = 0.0
    troubles: list[Trouble] = field(default_factory=list)

    def name_of(self, planting: Planting) -> str:
        """The crop's name; its key where nobody knows it any more."""
        key = planting.crop_key
        return self.crops.plain(key).name if key in self.crops else key.replace("_", " ")

    def todos(self, until: date) -> list[Todo]:
        """Open tasks due by `until`, in the order of work and then of days."""
        found = []
        for item in self.items:
            for task in self._tasks(item, until):
                todo = self._marked(task, item)
                if todo is not None and todo.due <= until:
                    found.append(todo)
        return found

    def _tasks(self, item: Item, until: date) -> list[Task]:
        """The item's tasks; none, and a trouble, where the rules cannot say them."""
        try:
            return list(derive(item.raised, self.today, until))
        except CANNOT as error:
            self.trouble(item.planting, item.batch, error)
            return []

    def trouble(self, planting: Planting, batch: Batch | None, error: Exception) -> None:
        """Note what cannot be said, once."""
        name = f"{self.name_of(planting)} {planting.variety}".strip()
        pk, kind = (planting.pk, "planting") if batch is None else (batch.pk, "batch")
        address = link(kind, self.garden.pk, pk)
        found = Trouble(name, words_of(error), address, None if batch is None else batch.pk)
        if found not in self.troubles:
            if not isinstance(error, LedgerError):
                log.warning("%s %s cannot be reckoned with", kind, pk, exc_info=error)
            self.troubles.append(found)

    def _marked(self, task: Task, item: Item) -> Todo | None:
        mark = self.marks.get(task.key)
        if mark is None:
            return Todo(task, item, task.due, False, None)
        if mark.done_on is not None or mark.skipped_on is not None:
            return None
        due = mark.moved_to or task.due
        if mark.count_done and task.kind in AT_ONCE and task.count is not None:
            task = task._replace(count=max(0, task.count - mark.count_done), total=task.count)
        return Todo(task, item, due, mark.moved_to is not None, mark.count_done)

    def find(self, key: str) -> Todo | None:
        """The open task of that key, however far ahead."""
        ref = key.split(".", 1)[0]
        for item in self.items:
            if item.raised.ref == ref:
                for task in self._tasks(item, FAR):
                    if task.key == key:
                        return self._marked(task, item)
        return None


def derive(raised: Raised, today: date, until: date) -> Iterator[Task]:
    """The tasks of every registered stage for one planting or batch."""
    for stage in stages():
        yield from stage.tasks(raised, today, until)


def overtaken(choice: Choice, dates: PlantingDates, facts: Facts, hardened: Standing | None, today: date) -> Choice:
    """The choice as events have overtaken it: not yet hardened on the day it was to go out."""
    if hardened is None or hardened.rung is None or dates.method != "raised":
        return choice
    free = today + timedelta(days=hardened.rungs - hardened.climbed)
    begun = bool(facts.outings) or dates.out_on <= today
    return choice._replace(out_on=free, out_because="waits") if begun and free > dates.out_on else choice


def moved_by(garden: Garden, today: date, place: PlaceYear) -> list[Effect]:
    """What would move in the plan if the place were another: planting out that has not happened, and its window."""
    before = {i.raised.ref: i for i in sheet(garden, today).items}
    found = []
    for item in sheet(garden, today, place=place).items:
        if item.raised.facts.planted_on is not None or item.raised.ref not in before:
            continue
        old, new = before[item.raised.ref].raised.dates, item.raised.dates
        name = f"{item.name} {item.variety}".strip()
        for step, a, b in (
            ("plant out", old.out_on, new.out_on),
            ("may go out from", old.out.start, new.out.start),
            ("may go out until", old.out.end, new.out.end),
        ):
            if a != b:
                found.append(Effect(name, step, a, b))
                break  # the day says it; the window only where the day stays
    return found


def sheet(garden: Garden, today: date, only: Iterable[int] | None = None, place: PlaceYear | None = None) -> Sheet:
    """Everything of the garden's season in hand.  Raises NoFrostDate.

    only: limits it to some plantings.  place: another place than the garden's, for a look ahead.
    """
    place = place or place_year(garden)
    crops, lots = Crops(garden), lots_of(garden)
    spots = list(Spot.objects.filter(garden=garden).values_list("pk", "code", "kind"))
    dating = Dating(place, crops, frozenset(pk for pk, _, kind in spots if kind == "tunnel"), lots)
    known = seeds_known(dating, tests_of(garden) if lots else {}, today)
    wanted = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None)
    if only is not None:
        wanted = wanted.filter(pk__in=list(only))
    plantings = list(wanted.defer("made", "note").order_by("pk"))
    codes = {pk: code for pk, code, _ in spots}
    batches: dict[int, list[Batch]] = defaultdict(list)
    for batch in Batch.objects.filter(planting__in=wanted).order_by("pk"):
        batches[batch.planting_id].append(batch)
    events = _events(wanted)
    stands = {
        b: (kind, code)
        for b, kind, code in BatchStand.objects.filter(batch__planting__in=wanted, until=None).values_list(
            "batch_id", "spot__kind", "spot__code"
        )
    }
    marks = {
        row[0]: Mark(*row[1:])
        for row in TaskMark.objects.filter(garden=garden).values_list(
            "key", "done_on", "skipped_on", "moved_to", "count_done"
        )
    }
    shift = frost_of(garden).shift_c
    ahead = nights(garden, today)
    ladder = ladders()[garden.ladder]
    found = Sheet(garden, today, place, crops, [], marks, ahead, shift)
    context = _Context(dating, today, events, stands, marks, ahead, shift, ladder, codes, known)
    for planting in plantings:
        try:
            found.items.extend(_items(planting, dating.crop(planting), batches[planting.pk], context, found))
        except CANNOT as error:
            found.trouble(planting, None, error)
    found.troubles += dating.troubles(garden)
    return found


Event = tuple[str, date, int | None, bool, float | None, float | None]


def _events(plantings: Any) -> dict[int, list[Event]]:
    """Every event of those plantings by batch; thousands of rows, so days are read as text at C speed."""
    found: dict[int, list[Event]] = defaultdict(list)
    rows = BatchEvent.objects.filter(batch__planting__in=plantings).order_by("pk")
    rows = rows.annotate(day=Cast("on", CharField()), guess=Cast("estimated", IntegerField()))
    for batch, kind, day, count, guess, hours, wanted in rows.values_list(
        "batch_id", "kind", "day", "count", "guess", "hours", "wanted_hours"
    ):
        found[batch].append((kind, date.fromisoformat(day), count, bool(guess), hours, wanted))
    for events in found.values():
        events.sort(key=itemgetter(1))  # by day; of one day in the order they were written
    return found


class _Context(NamedTuple):
    """What all items of a sheet share."""

    dating: Dating
    today: date
    events: dict[int, list[Event]]
    stands: dict[int, tuple[str, str]]
    marks: dict[str, Mark]
    nights: tuple[Night, ...]
    shift_c: float
    ladder: Any
    codes: dict[int, str]
    known: dict[int, Germination]


def _items(planting: Planting, crop: Crop, batches: list[Batch], at: _Context, found: Sheet) -> list[Item]:
    """One planting as the rules see it: its living batches, and itself while something is still to be sown for it."""
    living = [b for b in batches if b.failed_on is None]
    failed = len(batches) - len(living)
    grows_at = at.codes.get(planting.spot_id or 0, "")
    secured = sum(_places_sown(b, at.events[b.pk]) for b in living if b.parent_id is None)
    sow_mark = at.marks.get(f"p{planting.pk}.sow.{failed}")
    open_sowing = sow_mark is not None and sow_mark.done_on is None and sow_mark.count_done is not None
    items = []
    if not living or open_sowing:
        items.append(_open_item(planting, crop, at, failed, secured if open_sowing else 0, bool(living), grows_at))
    ledgers = {b.pk: balance((e[0], e[2], e[3]) for e in at.events[b.pk] if e[0] in COUNTED) for b in batches}
    for batch in living:
        if (wrong := ledgers[batch.pk][1]) is not None:
            found.trouble(planting, batch, wrong)
    accounts = {pk: one for pk, (one, _) in ledgers.items()}
    wanted = _shares(planting.wanted, living, accounts, items[0].raised if items else None, secured)
    every = {b.pk: b for b in batches}
    for batch, share in zip(living, wanted, strict=True):
        try:
            items.append(_batch_item(planting, batch, crop, accounts, share, every, at, grows_at))
        except CANNOT as error:
            found.trouble(planting, batch, error)
    return items


def _open_item(
    planting: Planting, crop: Crop, at: _Context, failed: int, secured: int, begun: bool, grows_at: str
) -> Item:
    """The planting itself, with what is still to be sown for it."""
    dating = at.dating
    dates = dating.dates(planting, crop)
    per_cell = planting.per_cell or int(crop.number("per_cell"))
    speed = dating.speed(crop, None)
    raised = Raised(
        ref=f"p{planting.pk}",
        crop=crop,
        wanted=planting.wanted,
        dates=dates,
        course=course(crop, dates, at.ladder, sown_in=planting.sown_in, per_cell=per_cell, speed=speed),
        facts=Facts(),
        ladder=at.ladder,
        sown_in=planting.sown_in,
        per_cell=per_cell,
        has_seed=planting.lot_id is not None or begun,
        attempt=failed,
        secured=secured,
        accepted_risk=dating.place.accepted_risk,
        seed=seed_of(crop, at.known[planting.lot_id]) if planting.lot_id in at.known else None,
    )
    return Item(planting, None, crop, raised, grows_at, grows_at)


def _shares(
    wanted: int, living: list[Batch], accounts: dict[int, Accounts], open_: Raised | None, secured: int
) -> list[int]:
    """How many of the plants wanted each batch is to give: all of them, where there is just one."""
    weights, given = [], []
    for batch in living:
        ledger = accounts[batch.pk]
        sown = batch.cells or 0 if ledger.indoors is None else ledger.indoors + ledger.planted
        if ledger.indoors is None and batch.sown_in == "box":
            sown = ledger.sown or 0
        weights.append(float(sown))
        given.append(ledger.planted)
    if open_ is not None and living:  # what is still to be sown gives its part, too
        rest = max(0, _places_wanted(open_) - secured)
        return shares(wanted, [*weights, float(rest)], [*given, 0])[: len(living)]
    return shares(wanted, weights, given)


def _places_wanted(raised: Raised) -> int:
    """Cells, blocks or seeds that the whole sowing takes; as many as plants where the seed gives no count."""
    try:
        return count_for(raised.crop, raised.wanted, raised.sown_in, raised.per_cell, raised.seed).places
    except NoCount:
        return raised.wanted


def _batch_item(
    planting: Planting,
    batch: Batch,
    crop: Crop,
    accounts: dict[int, Accounts],
    wanted: int,
    every: dict[int, Batch],
    at: _Context,
    grows_at: str,
) -> Item:
    dating, ledger = at.dating, accounts[batch.pk]
    facts = _history(batch, crop, accounts, wanted, every, at)
    hardened = stand(at.ladder, facts.outings, at.today) if planting.method == "raised" else None
    choice = dating.choice(planting, batch.sown_on)
    if facts.planted_on is not None:
        dates = dating.dates(planting, crop, choice._replace(out_on=facts.planted_on, out_because="happened"))
    else:
        dates = dating.dates(planting, crop, choice)
        later = overtaken(choice, dates, facts, hardened, at.today)
        dates = dates if later is choice else dating.dates(planting, crop, later)
    kind, code = at.stands.get(batch.pk, ("", ""))
    speed = dating.speed(crop, batch.temperature_c)
    raised = Raised(
        ref=f"b{batch.pk}",
        crop=crop,
        wanted=wanted,
        dates=dates,
        course=course(crop, dates, at.ladder, facts, batch.sown_in, batch.per_cell, speed),
        facts=facts,
        ladder=at.ladder,
        accounts=ledger,
        sown_in=batch.sown_in,
        per_cell=batch.per_cell,
        cells=batch.cells,
        has_seed=True,
        stands=kind,
        hardened=hardened,
        nights=at.nights,
        shift_c=at.shift_c,
        accepted_risk=dating.place.risk_for(crop.hardiness),
    )
    return Item(planting, batch, crop, raised, code, grows_at)


def _history(
    batch: Batch, crop: Crop, accounts: dict[int, Accounts], wanted: int, every: dict[int, Batch], at: _Context
) -> Facts:
    """What has happened to a batch, and to what it was split from before that."""
    events = at.events[batch.pk]
    own = facts_of(batch, crop, events, accounts[batch.pk], wanted)
    parent = every.get(batch.parent_id) if batch.parent_id is not None else None
    split = next((e[1] for e in events if e[0] == "received"), None)
    if parent is None or split is None:
        return own
    return own.split_from(_history(parent, crop, accounts, wanted, every, at), split)


def facts_of(batch: Batch, crop: Crop, events: list[Event], ledger: Accounts, wanted: int) -> Facts:
    """What has happened to a batch, read from its events in order."""
    first: dict[str, date] = {}
    first_up = half_up = last_count = planted_on = None
    counts, outings = 0, []
    half = _half(batch, crop, ledger)
    for kind, on, count, _, hours, wanted_hours in events:
        if kind == "up":
            counts, last_count = counts + 1, on
            if count and first_up is None:
                first_up = on
            if count and half is not None and count >= half and half_up is None:
                half_up = on
        elif kind == "outing":
            outings.append(Outing(on, hours or 0.0, wanted_hours or hours or 1.0))
        elif kind == "planted":
            planted_on = on
        else:
            first.setdefault(kind, on)
    all_out = ledger.planted > 0 and (ledger.indoors == 0 or ledger.planted >= wanted)
    return Facts(
        sown_on=batch.sown_on,
        temperature_c=batch.temperature_c,
        first_up=first_up,
        half_up=half_up,
        lamp_on=first.get("lamp"),
        lid_off=first.get("lid"),
        thinned_on=first.get("thinned"),
        pricked_on=first.get("pricked"),
        potted_on=first.get("potted"),
        planted_on=planted_on if all_out else None,
        last_count=last_count,
        counts=counts,
        outings=tuple(outings),
    )


def _places_sown(batch: Batch, events: list[Event]) -> int:
    """Cells or blocks filled by this sowing; of a box its seeds."""
    if batch.sown_in == "box":
        return sum(e[2] or 0 for e in events if e[0] == "sown")
    return batch.cells or 0


def _half(batch: Batch, crop: Crop, ledger: Accounts) -> float | None:
    """Half of the seeds that will come, at the warmth they have."""
    if not ledger.sown:
        return None
    warmth = crop.number("germinate_c") if batch.temperature_c is None else batch.temperature_c
    coming = share_coming(crop, warmth).number
    assert isinstance(coming, int | float)
    return 0.5 * ledger.sown * coming
