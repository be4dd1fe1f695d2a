"""The season on one day as the rules see it: what each planting and batch is, its dates, its tasks."""

from __future__ import annotations

import logging
from collections.abc import Collection, Iterable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.course.outlook import Outlook, look_over
from aestiva.course.warmth import Had, Warmth
from aestiva.frame.wording import task_name
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import link, steps, steps_of_key
from aestiva.place.dating import Dating, lots_of
from aestiva.place.queries import frost_of, nights, place_year
from aestiva.season.crops import Crops, how_of
from aestiva.season.models import Batch, Lot, Planting
from aestiva.season.rows import SeasonRows, season_rows
from aestiva.season.trouble import CANNOT, Trouble, words_of
from aestiva.seeds.queries import had, seed_of, seeds_known, sowings_of, tests_of
from growing.batch.history import BatchState, Sown, replay_planting
from growing.batch.ledger import LedgerError
from growing.chain.course import Facts, course, delayed_by_hardening
from growing.crops import Crop
from growing.emergence.clock import Advance
from growing.emergence.outlook import share_by_warmth
from growing.hardening.ladder import Ladder, ladders, progress
from growing.place.nights import Night
from growing.place.year import PlaceYear
from growing.seeds.planned import InHand, sowing_of
from growing.seeds.sowing import How, NoCount, Seed, how_for
from growing.seeds.viability import Germination
from growing.steps import Raised, StepSpec, Task, derive, hardens

log = logging.getLogger("aestiva.season")
HORIZON = timedelta(days=1200)  # no task lies further from its season's beginning, or from today


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

    @property
    def full_name(self) -> str:
        """The crop with its variety, if one was given."""
        return f"{self.name} {self.variety}".strip()


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
class SeasonState:
    """One garden's season on one day."""

    garden: Garden
    today: date
    place: PlaceYear
    crops: Crops
    items: list[Item]
    rows: SeasonRows
    nights: tuple[Night, ...]
    shift_c: float = 0.0
    lots: dict[int, Lot] = field(default_factory=dict)
    known: dict[int, Germination] = field(default_factory=dict)
    troubles: list[Trouble] = field(default_factory=list)
    shared: _Shared | None = None
    warm: dict[int, Had] = field(default_factory=dict)  # of each batch under the mix
    outlooks: dict[int, Outlook] | None = None  # of the same, once somebody asked
    paces: dict[tuple[str, bool], float] | None = (
        None  # log of the speed that the garden's own sowings had, by crop and measured
    )

    @property
    def horizon(self) -> date:
        """The day until which every task of the season falls due."""
        return max(self.today, date(self.place.year, 1, 1)) + HORIZON

    def name_of(self, planting: Planting) -> str:
        """The crop's name; its key where nobody knows it any more."""
        key = planting.crop_key
        return self.crops.plain(key).name if key in self.crops else key.replace("_", " ")

    def todos(self, until: date, kinds: Collection[str] | None = None) -> list[Todo]:
        """Open tasks due by `until`, in the order of work and then of days.  kinds: only those; None: all."""
        found = []
        specs = [spec for spec in steps() if kinds is None or spec.kind in kinds]
        if any(spec.judged for spec in specs):
            look_over(self)
        for item in self.items:
            for task in self._tasks(item, until, specs):
                todo = self._marked(task, item)
                if todo is not None and todo.due <= until:
                    found.append(todo)
        return found

    def find(self, key: str) -> Todo | None:
        """The open task of that key, however far ahead; only the step that it names is asked."""
        ref, word, ordinal = ([*key.split(".", 2), "", ""])[:3]
        for item in self.items:
            if item.raised.ref == ref:
                return self._find(item, word, ordinal)
        return None

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

    def _tasks(self, item: Item, until: date, specs: Sequence[StepSpec]) -> list[Task]:
        """The item's tasks; none, and a trouble, where the rules cannot say them."""
        try:
            return list(derive(specs, item.raised, self.today, until))
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
        mark = self.rows.marks.get(task.key)
        if mark is None:
            return Todo(task, item, task.due, False, None)
        if mark.done_on is not None or mark.skipped_on is not None:
            return None
        due = mark.moved_to or task.due
        if mark.count_done and task.spec.at_once and task.count is not None:
            task = task._replace(count=max(0, task.count - mark.count_done), total=task.count)
        return Todo(task, item, due, mark.moved_to is not None, mark.count_done)


def load(
    garden: Garden,
    today: date,
    plantings: Iterable[int] | None = None,
    place: PlaceYear | None = None,
    like: SeasonState | None = None,
    rows: SeasonRows | None = None,
) -> SeasonState:
    """Everything of the garden's season in hand.  Raises NoFrostDate.

    plantings: limits it to some.  place: another place than the garden's, for a look ahead.  like: the season as this
    request saw it before it wrote about batches: its place, crops, packets and nights are still true.  rows: where
    they are in hand.
    """
    if like is not None:
        place, crops, lots, ahead, shift = place or like.place, like.crops, like.lots, like.nights, like.shift_c
    else:
        frost = frost_of(garden)
        place, crops, lots = place or place_year(garden, frost=frost), Crops(garden), lots_of(garden)
        ahead, shift = nights(garden, today), frost.shift_c
    rows = rows or season_rows(garden, plantings, None if like is None else like.rows.spots)
    dating = Dating(place, crops, rows.covers, lots, garden)
    if like is not None and like.shared is not None:
        dating.on_ground_of(like.shared.dating)
    known = (
        like.known
        if like is not None
        else seeds_known(dating, tests_of(garden), today, garden.year, sowings_of(garden, _lots(rows, plantings, lots)))
        if lots
        else {}
    )
    found = SeasonState(garden, today, place, crops, [], rows, ahead, shift, lots, known)
    warmth = Warmth(garden, today, dating, rows, None if like is None or like.shared is None else like.shared.warmth)
    shared = _Shared(dating, today, rows, ahead, shift, garden.ladder, known, {}, {}, warmth)
    found.shared = shared
    found.paces = None if like is None else like.paces
    for planting in rows.plantings:
        try:
            found.items.extend(_items(planting, dating.crop(planting), shared, found))
        except CANNOT as error:
            found.trouble(planting, None, error)
    found.troubles += dating.troubles(garden)
    return found


def _lots(rows: SeasonRows, plantings: Iterable[int] | None, lots: Mapping[int, Lot]) -> list[int] | None:
    """The packets of the crops of those plantings that were asked for; None: of all."""
    if plantings is None:
        return None
    crops = {planting.crop_key for planting in rows.plantings}
    return [pk for pk, lot in lots.items() if lot.crop_key in crops]


class Moved(NamedTuple):
    """A planting as it stands, and as it would with other days chosen."""

    before: Item
    after: Item


def moved(now: SeasonState, chosen: Mapping[int, date | None]) -> list[Moved]:
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
        for item in _items(planting, dating.crop(planting), shared, now):
            if item.batch is None and (pk in instead or item.raised.dates != plain[pk].raised.dates):
                found.append(Moved(plain[pk], item))
    return found


class _Shared(NamedTuple):
    """What all items share."""

    dating: Dating
    today: date
    rows: SeasonRows
    nights: tuple[Night, ...]
    shift_c: float
    garden_ladder: str
    known: dict[int, Germination]
    seeds: dict[tuple[int, int, int], Seed]  # by crop, lot and warmth, as far as they were asked for
    hows: dict[tuple[int, str, str, int | None], How]  # by crop and what was said
    warmth: Warmth

    def ladder(self, crop: Crop) -> Ladder:
        """The ladder its plants climb: the crop's own way, or the garden's."""
        way = crop.word("ladder_way")
        return ladders()[self.garden_ladder if way == "garden" else way]

    def how(self, crop: Crop, batch: Batch) -> How:
        """The way a batch was sown; what was not said then was as usual for the crop, whatever is chosen by now."""
        key = (id(crop), batch.sown_in, batch.surplus, batch.per_cell)
        if key not in self.hows:
            self.hows[key] = how_for(crop, batch.sown_in, batch.surplus or "usual", batch.per_cell)
        return self.hows[key]

    def seed(self, crop: Crop, lot_id: int | None, temperature_c: float | None = None) -> Seed | None:
        """What a lot will do at that warmth, None: the crop's own; without a lot fresh seed, or None where no warmth is known."""
        known = None if lot_id is None else self.known.get(lot_id)
        if known is None and temperature_c is None:
            return None
        key = (id(crop), lot_id or 0, -1 if temperature_c is None else round(temperature_c * 2))
        if key not in self.seeds:
            self.seeds[key] = seed_of(crop, known, temperature_c)
        return self.seeds[key]


def _items(planting: Planting, crop: Crop, at: _Shared, found: SeasonState) -> list[Item]:
    """One planting as the rules see it: its living batches, and itself while something is still to be sown for it."""
    batches = at.rows.batches.get(planting.pk, [])
    living = [b for b in batches if b.failed_on is None]
    failed = len(batches) - len(living)
    grows_at = at.rows.code(planting.spot_id)
    sow_mark = at.rows.marks.get(f"p{planting.pk}.sow.{failed}")
    open_sowing = sow_mark is not None and sow_mark.done_on is None and sow_mark.count_done is not None
    warm = {b.pk: had for b in batches if (had := at.warmth.had(planting, b, crop)) is not None}
    found.warm |= warm
    sown = {
        b.pk: Sown(b.sown_on, b.sown_in, b.cells, _mean_c(b, warm.get(b.pk)), at.how(crop, b).clump) for b in batches
    }
    links = [link for link in at.rows.links if link.child in sown]
    begun = _open_item(planting, crop, at, failed, bool(living), grows_at) if not living or open_sowing else None

    def to_sow(secured: int) -> int:
        return 0 if begun is None else max(0, _places_wanted(begun.raised) - secured) * begun.raised.how.clump

    state = replay_planting(
        crop, planting.wanted, sown, [b.pk for b in living], at.rows.events, links, to_sow if living else None
    )
    items = []
    if begun is not None:
        begun.raised.secured = state.secured if living else 0
        items.append(begun)
    for batch in living:
        one = state.batches[batch.pk]
        if one.wrong is not None:
            found.trouble(planting, batch, one.wrong)
        try:
            items.append(_batch_item(planting, batch, crop, one, at, grows_at, warm.get(batch.pk)))
        except CANNOT as error:
            found.trouble(planting, batch, error)
    return items


def _mean_c(batch: Batch, had: Had | None) -> float | None:
    """The warmth of its mix so far, where it was measured; otherwise as somebody typed it, if anybody did."""
    return had.of.mean_c if had is not None and had.of.measured else batch.temperature_c


def _seed(at: _Shared, crop: Crop, batch: Batch, clock: Advance | None, warmth: float | None) -> Seed | None:
    """What its lot does at the warmth that the batch had, and has; past that, as the place is taken to have been."""
    if clock is None:
        return at.seed(crop, batch.lot_id, warmth)
    known = None if batch.lot_id is None else at.known.get(batch.lot_id)
    ratio = share_by_warmth(crop, clock)
    if known is None:
        return Seed(crop.number("fresh_germination") * ratio, None, ratio)
    return Seed(known.mean * ratio, (known.a, known.b), ratio)


def _open_item(planting: Planting, crop: Crop, at: _Shared, failed: int, begun: bool, grows_at: str) -> Item:
    """The planting itself, with what is still to be sown for it."""
    dating = at.dating
    dates = dating.dates(planting, crop)
    how, lot, room = how_of(planting, crop), dating.lot(planting), dating.room(planting)
    warmth = None if room is None else room.germinates_c(dates.sow_on)
    speed = dating.speed_of(planting, crop, dates.sow_on, warmth)
    raised = Raised(
        ref=f"p{planting.pk}",
        crop=crop,
        wanted=planting.wanted,
        dates=dates,
        course=course(
            crop,
            dates,
            at.ladder(crop),
            how=how,
            speed=speed,
            hardening=hardens(planting.method, planting.stood),
            path=dating.path(planting),
        ),
        facts=Facts(),
        ladder=at.ladder(crop),
        how=how,
        grows_in=at.rows.kind(planting.spot_id),
        has_seed=lot is not None or begun,
        attempt=failed,
        stood=planting.stood,
        planned_on=planting.planned_on,
        away=dating.place.away,
        accepted_risk=dating.place.accepted_risk,
        seed=at.seed(crop, None if lot is None else lot.pk, warmth),
        packet=None if lot is None or lot.pk not in at.known else InHand(at.known[lot.pk], had(lot)),
    )
    return Item(planting, None, crop, raised, grows_at, grows_at)


def _places_wanted(raised: Raised) -> int:
    """Cells, blocks or seeds that the whole sowing takes; as many as plants where the seed gives no count."""
    try:
        return sowing_of(raised).places
    except NoCount:
        return raised.wanted


def _batch_item(
    planting: Planting, batch: Batch, crop: Crop, state: BatchState, at: _Shared, grows_at: str, had: Had | None
) -> Item:
    dating, facts = at.dating, state.facts
    climbs = hardens(planting.method, planting.stood)
    hardened = progress(at.ladder(crop), facts.outings, at.today) if climbs else None
    choice = dating.choice(planting, batch.sown_on)
    if facts.planted_on is not None:
        dates = dating.dates(planting, crop, choice._replace(out_on=facts.planted_on, out_because="happened"))
    else:
        dates = dating.dates(planting, crop, choice)
        later = delayed_by_hardening(choice, dates, facts, hardened, at.today)
        dates = dates if later is choice else dating.dates(planting, crop, later)
    kind, code = at.rows.stands.get(batch.pk, ("", ""))
    warmth, room = batch.temperature_c, dating.room(planting)
    if warmth is None and room is not None and batch.sown_on is not None:
        warmth = room.germinates_c(batch.sown_on)
    speed = dating.speed_of(planting, crop, batch.sown_on or dates.sow_on, warmth)
    how, clock = at.how(crop, batch), None if had is None else had.of
    raised = Raised(
        ref=f"b{batch.pk}",
        crop=crop,
        wanted=state.wanted,
        dates=dates,
        course=course(crop, dates, at.ladder(crop), facts, how, speed, climbs, dating.path(planting), clock),
        stood=planting.stood,
        facts=facts,
        ladder=at.ladder(crop),
        accounts=state.accounts,
        how=how,
        grows_in=at.rows.kind(planting.spot_id),
        cells=batch.cells,
        has_seed=True,
        stands=kind,
        stands_on=code,
        goes=tuple(at.rows.goes.get(planting.pk, ())),
        hardened=hardened,
        nights=at.nights,
        shift_c=at.shift_c,
        summer_night_c=None if dating.place.normals is None else dating.place.normals.summer_night_c,
        accepted_risk=dating.place.risk_for(crop.hardiness),
        seed=_seed(at, crop, batch, clock, warmth),
    )
    return Item(planting, batch, crop, raised, code, grows_at)
