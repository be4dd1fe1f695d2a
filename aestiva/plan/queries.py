"""The season's plantings as the rules see them: rows in a constant number of queries, dates computed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from operator import itemgetter
from typing import Any, NamedTuple

from django.db.models import CharField, IntegerField
from django.db.models.functions import Cast

from aestiva.frame.wording import task_name
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import Effect, stages
from aestiva.place.dating import Dating, lots_of
from aestiva.place.queries import frost_of, nights, place_year
from aestiva.season.actions import COUNTED
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, BatchEvent, BatchStand, Planting, Spot, TaskMark
from aestiva.seeds.queries import seed_of, seeds_known, tests_of
from growing.crops import Crop
from growing.emergence import share_coming
from growing.hardening import Outing, Standing, ladders, stand
from growing.ledger import Accounts, accounts
from growing.place import PlaceYear
from growing.raising import Facts, course
from growing.season import Choice, PlantingDates
from growing.tasks import Raised, Task
from growing.viability import Germination
from growing.watch import Night

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

    def todos(self, until: date) -> list[Todo]:
        """Open tasks due by `until`, in the order of work and then of days."""
        found = []
        for item in self.items:
            for task in derive(item.raised, self.today, until):
                todo = self._marked(task, item)
                if todo is not None and todo.due <= until:
                    found.append(todo)
        return found

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
                for task in derive(item.raised, self.today, FAR):
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
        if item.raised.facts.planted_on is not None:
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
    items: list[Item] = []
    for planting in plantings:
        crop = dating.crop(planting)
        items.extend(
            _items(
                planting,
                crop,
                batches[planting.pk],
                events,
                stands,
                marks,
                dating,
                today,
                ahead,
                shift,
                ladder,
                codes,
                known,
            )
        )
    return Sheet(garden, today, place, crops, items, marks, ahead, shift)


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


def _items(
    planting: Planting,
    crop: Crop,
    batches: list[Batch],
    events: dict[int, list[Event]],
    stands: dict[int, tuple[str, str]],
    marks: dict[str, Mark],
    dating: Dating,
    today: date,
    ahead: tuple[Night, ...],
    shift: float,
    ladder: Any,
    codes: dict[int, str],
    known: dict[int, Germination],
) -> Iterator[Item]:
    living = [b for b in batches if b.failed_on is None]
    failed = len(batches) - len(living)
    grows_at = codes.get(planting.spot_id or 0, "")
    secured = sum(_places_sown(b, events[b.pk]) for b in living if b.parent_id is None)
    per_cell = planting.per_cell or int(crop.number("per_cell"))
    sow_mark = marks.get(f"p{planting.pk}.sow.{failed}")
    open_sowing = sow_mark is not None and sow_mark.done_on is None and sow_mark.count_done is not None
    if not living or open_sowing:
        dates = dating.dates(planting, crop)
        raised = Raised(
            ref=f"p{planting.pk}",
            crop=crop,
            wanted=planting.wanted,
            dates=dates,
            course=course(
                crop, dates, ladder, sown_in=planting.sown_in, per_cell=per_cell, speed=dating.speed(crop, None)
            ),
            facts=Facts(),
            ladder=ladder,
            sown_in=planting.sown_in,
            per_cell=per_cell,
            has_seed=planting.lot_id is not None or bool(living),
            attempt=failed,
            secured=secured if open_sowing else 0,
            accepted_risk=dating.place.accepted_risk,
            seed=seed_of(crop, known[planting.lot_id]) if planting.lot_id in known else None,
        )
        yield Item(planting, None, crop, raised, grows_at, grows_at)
    for batch in living:
        yield _batch_item(
            planting, batch, crop, events[batch.pk], stands, dating, today, ahead, shift, ladder, grows_at
        )


def _batch_item(
    planting: Planting,
    batch: Batch,
    crop: Crop,
    events: list[Event],
    stands: dict[int, tuple[str, str]],
    dating: Dating,
    today: date,
    ahead: tuple[Night, ...],
    shift: float,
    ladder: Any,
    grows_at: str,
) -> Item:
    ledger = accounts((e[0], e[2], e[3]) for e in events if e[0] in COUNTED)
    facts = facts_of(batch, crop, events, ledger, planting.wanted)
    hardened = stand(ladder, facts.outings, today) if planting.method == "raised" else None
    choice = dating.choice(planting, batch.sown_on)
    if facts.planted_on is not None:
        dates = dating.dates(planting, crop, choice._replace(out_on=facts.planted_on, out_because="happened"))
    else:
        dates = dating.dates(planting, crop, choice)
        later = overtaken(choice, dates, facts, hardened, today)
        dates = dates if later is choice else dating.dates(planting, crop, later)
    kind, code = stands.get(batch.pk, ("", ""))
    raised = Raised(
        ref=f"b{batch.pk}",
        crop=crop,
        wanted=planting.wanted,
        dates=dates,
        course=course(
            crop, dates, ladder, facts, batch.sown_in, batch.per_cell, dating.speed(crop, batch.temperature_c)
        ),
        facts=facts,
        ladder=ladder,
        accounts=ledger,
        sown_in=batch.sown_in,
        per_cell=batch.per_cell,
        cells=batch.cells,
        has_seed=True,
        stands=kind,
        hardened=hardened,
        nights=ahead,
        shift_c=shift,
        accepted_risk=dating.place.risk_for(crop.hardiness),
    )
    return Item(planting, batch, crop, raised, code, grows_at)


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
