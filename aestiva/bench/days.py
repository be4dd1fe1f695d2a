"""Sowing and potting days: what is coming, the sheet of one by stages across all its trays, and what a tap writes."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import NamedTuple

from django.db.models import Q

from aestiva.accounts.models import User
from aestiva.bench.models import BenchDay, DayLine, Filled, Recipe, StageDone, Store, Timer
from aestiva.bench.things import Thing, depth, footprint, grid, load_bench
from aestiva.course.finishing import write_done
from aestiva.course.state import Item, SeasonState, Todo, load
from aestiva.gardens import clock, journal
from aestiva.gardens.journal import Write
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import add_event, split
from aestiva.season.contents import contents_of, open_runs, put
from aestiva.season.models import Container, Planting, Spot, Tray
from aestiva.season.places import move_on, next_code, place_tray, stand
from growing.bench import day as core
from growing.bench.cells import SPENT, UNSEEN, listed
from growing.bench.company import Companion, conflicts
from growing.bench.how import laying
from growing.bench.mix import Measure, litres_for, scald_wrong, weighed_out
from growing.bench.steps import Sowing
from growing.chain.path import Vessel, usual_vessels

SOWN = ("sow", "sow_winter", "again")
KINDS = (*SOWN, "pot")
AHEAD = 21
MOST_LINES = 60
ALIKE = 2.5  # times as much mix in a cell, or as little, is still the same kind of cell: estimate
ML_UNKNOWN = 40.0  # of a cell of which nobody said how large it is: estimate


class Coming(NamedTuple):
    """A day at the bench that is due or near: how many sowings or pottings, cells or pots, minutes to begin with."""

    kind: str
    on: date
    sowings: int
    places: int
    minutes: int
    begun: int | None  # the sheet's key
    tasks: tuple[Todo, ...]


def _of_kind(todo: Todo, kind: str) -> bool:
    if kind == "pot":
        return todo.task.kind == "pot" and todo.item.batch is not None
    return todo.task.kind in SOWN and todo.task.count is not None


def due(now: SeasonState, kind: str, on: date) -> list[Todo]:
    """Sowings or pottings that are due by that day."""
    return [t for t in now.todos(max(on, now.today), KINDS) if _of_kind(t, kind) and t.due <= on]


def coming(now: SeasonState) -> list[Coming]:
    """The next sowing day and the next potting day within three weeks; what is late belongs to today."""
    found = []
    begun = {
        (d.kind, d.on): d.pk for d in BenchDay.objects.filter(garden=now.garden, on__gte=now.today - timedelta(days=2))
    }
    todos = now.todos(now.today + timedelta(days=AHEAD), KINDS)
    for kind, _ in core.KINDS:
        mine = [t for t in todos if _of_kind(t, kind)]
        if not mine:
            continue
        first = max(now.today, min(t.due for t in mine))
        here = tuple(t for t in mine if t.due <= first)
        places = sum(t.task.count or 0 for t in here)
        stages = core.stages_of(kind)
        minutes = sum(core.expected(s, t.task.count or 0) for t in here for s in stages)
        found.append(Coming(kind, first, len(here), places, round(minutes), begun.get((kind, first)), here))
    return sorted(found, key=lambda c: c.on)


def at_bench(now: SeasonState) -> list[Coming]:
    """What Today says of the bench: several sowings or pottings today, or any tomorrow, when this is the evening before."""
    near = [c for c in coming(now) if c.on <= now.today + timedelta(days=1)]
    return [c for c in near if c.on > now.today or c.sowings > 1 or c.begun]


# ---------------------------------------------------------------- begin a sheet


def begin(garden: Garden, user: User, kind: str, on: date, minutes: int | None, today: date, key: str) -> BenchDay:
    """The sheet of a day: a line for each sowing or potting that is due, and a tray for what is sown."""
    if kind not in dict(core.KINDS):
        raise Refused("kind", "choose a sowing day or a potting day")
    if not today - timedelta(days=3) <= on <= today + timedelta(days=AHEAD):
        raise Refused("on", f"{on:%-d %B} is too far from today: begin a sheet at most {AHEAD} days ahead")
    known = BenchDay.objects.filter(garden=garden, kind=kind, on=on).first()
    if known is not None:
        return known
    with journal.change(garden, user, f"Began the {dict(core.KINDS)[kind]} of {on:%-d %B}", key) as write:
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


def _sow_lines(write: Write, now: SeasonState, day: BenchDay, todos: Sequence[Todo]) -> None:
    """Each sowing into the smallest container that holds it, beside the one before where they get on; a large one into several."""
    own = list(Container.objects.filter(garden=now.garden).order_by("cells"))
    open_: _Filling | None = None
    order = 0
    for todo in todos:
        detail = todo.task.detail
        box = isinstance(detail, Sowing) and detail.sown_in == "box"
        left = todo.task.count or 0
        per = detail.per_cell if isinstance(detail, Sowing) else 1
        one = _companion(todo)
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


def _companion(todo: Todo) -> Companion:
    item = todo.item
    return Companion(
        item.raised.ref, f"{item.name} {item.variety}".strip(), item.crop, item.raised.course.emergence_days
    )


def _joins(filling: _Filling, one: Companion, count: int) -> bool:
    """May it share that tray: whole, and with nothing that wants otherwise?"""
    return filling.tray.cells - filling.taken >= count and not conflicts("tray", [*filling.company, one])


def _tray_for(write: Write, now: SeasonState, own: Sequence[Container], todo: Todo, left: int) -> Tray:
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


# ---------------------------------------------------------------- the sheet


@dataclass
class Row:
    """A line as the sheet shows it."""

    line: DayLine
    item: Item | None
    core: core.Line
    at: str  # the stage it is at; empty: through
    timer: Timer | None
    litres: float

    @property
    def name(self) -> str:
        return self.item.name if self.item is not None else self.line.planting.crop_key.replace("_", " ")

    @property
    def tray(self) -> Tray | None:
        return self.line.tray

    @property
    def box(self) -> bool:
        return self.tray is not None and self.line.places > self.tray.cells

    @property
    def cells(self) -> list[int]:
        if self.tray is None or self.box:
            return []
        return list(range(self.line.first, self.line.first + self.line.places))

    @property
    def cells_said(self) -> str:
        return listed(self.cells, grid(self.tray)) if self.tray is not None and self.cells else ""


class StageCell(NamedTuple):
    """One mark of the matrix: done, skipped (not needed), waits, now, or open."""

    stage: str
    state: str


class MatrixRow(NamedTuple):
    """A tray of the sheet with its stages."""

    code: str
    names: str
    cells: tuple[StageCell, ...]


@dataclass
class Sheet:
    """A day at the bench: its rows, what is done, what is next, minutes left and of the whole."""

    day: BenchDay
    rows: list[Row]
    done: frozenset[tuple[int | None, str]]
    next: core.Next | None
    left: float
    whole: float
    stages: tuple[str, ...]
    minutes: dict[str, float]
    evening: dict[str, StageDone]

    @property
    def current(self) -> Row | None:
        return next((r for r in self.rows if self.next is not None and r.line.pk == self.next.line), None)

    @property
    def through(self) -> bool:
        return bool(self.rows) and self.next is None

    @property
    def litres(self) -> float:
        return sum(r.litres for r in self.rows)

    @property
    def mixed(self) -> list[Measure]:
        recipe = self.day.recipe
        if recipe is None or self.litres <= 0:
            return []
        return weighed_out(recipe.parts, recipe.grams, recipe.millilitres, recipe.water_ml, self.litres)

    @property
    def matrix(self) -> list[MatrixRow]:
        """A row a tray; what is potted is a row a batch."""
        groups: dict[object, list[Row]] = defaultdict(list)
        for row in self.rows:
            groups[row.tray.pk if row.tray is not None else f"l{row.line.pk}"].append(row)
        found = []
        for rows in groups.values():
            code = rows[0].tray.code if rows[0].tray is not None else ""
            names = ", ".join(dict.fromkeys(r.name.lower() for r in rows))
            found.append(MatrixRow(code, names, tuple(StageCell(s, self._state(rows, s)) for s in self.stages)))
        return found

    def _state(self, rows: list[Row], stage: str) -> str:
        if all(stage in r.core.skips for r in rows):
            return "skipped"
        if all((r.line.pk, stage) in self.done or stage in r.core.skips for r in rows):
            return "done"
        here = [r.line.pk for r in rows]
        if (
            self.next is not None
            and self.next.line in here
            and self.next.stage == stage
            and self.next.waits_until is None
        ):
            return "now"
        if any(stage in r.core.waits and (r.line.pk, stage) not in self.done for r in rows):
            return "waits"
        return "open"


def skips_of(kind: str, item: Item | None, planting: Planting) -> frozenset[str]:
    """Stages that a sowing does not need: no cover over seed that wants light."""
    if kind != "sow" or item is None:
        return frozenset()
    found = {"cover"} if laying(item.crop).depth_cm == 0 and item.crop.word("starts") == "seed" else set()
    if planting.sown_in in ("box", "blocks"):
        found.add("dib")
    return frozenset(found)


def pace(garden: Garden) -> dict[str, float]:
    """How long each stage takes here against the estimate, from the days there were."""
    rows = StageDone.objects.filter(day__garden=garden, skipped=False).exclude(line=None).select_related("line")
    return core.own_pace(core.Done(r.by_id, r.day_id, r.at, r.stage, r.line.places if r.line else 0) for r in rows)


def sheet(day: BenchDay, at: datetime, light: bool = False) -> Sheet:
    """The sheet as it stands at that hour; light: only what is next, without crops."""
    lines = list(
        day.lines.select_related("planting__season", "planting__lot", "batch", "tray__container").order_by(
            "order", "pk"
        )
    )
    done_rows = list(StageDone.objects.filter(day=day))
    done = frozenset((d.line_id, d.stage) for d in done_rows)
    items: dict[int, Item] = {}
    batches: dict[int, Item] = {}
    if lines and not light:
        now = load(day.garden, clock.today(day.garden), plantings={line.planting_id for line in lines})
        batches = {one.batch.pk: one for one in now.items if one.batch is not None}
        for one in now.items:
            items.setdefault(one.planting.pk, one)
    open_ = Timer.objects.filter(garden=day.garden, done_at=None, planting__in={line.planting_id for line in lines})
    timers = {t.planting_id: t for t in open_}
    clock_stage = core.CLOCK[day.kind]
    rows = []
    for line in lines:
        item = batches.get(line.batch_id or 0) or items.get(line.planting_id)
        timer = timers.get(line.planting_id)
        waits = {clock_stage: max(timer.due, at + timedelta(minutes=1))} if timer is not None else {}
        skips = skips_of(day.kind, item, line.planting)
        if light:  # what its crop would skip is not known: what was left out was left out
            skips = frozenset({"cover", "dib"})
        its = core.Line(line.pk, line.places, skips, waits)
        rows.append(Row(line, item, its, core.first_open(day.kind, its, done), timer, _litres(line, item)))
    usual = {} if light else pace(day.garden)
    cores = [r.core for r in rows]
    left, whole = core.left(day.kind, cores, done, usual)
    stages = core.stages_of(day.kind)
    minutes = {s: sum(core.minutes(s, r.line.places, usual) for r in rows if s not in r.core.skips) for s in stages}
    return Sheet(
        day, rows, done, core.following(day.kind, cores, done, at), left, whole, stages, minutes,
        {d.stage: d for d in done_rows if d.line_id is None},
    )  # fmt: skip


def _litres(line: DayLine, item: Item | None) -> float:
    """Loose mix that a line takes [l]."""
    if line.tray is not None and line.places > line.tray.cells:  # a box
        ml = line.tray.container.cell_ml if line.tray.container is not None else 1500.0
        return litres_for(1, ml)
    if line.tray is not None and line.tray.container is not None:
        return litres_for(line.places, line.tray.container.cell_ml)
    if line.tray is None and item is not None:
        side = item.crop.number("pot_cm")
        return litres_for(line.places, 0.6 * side**3)
    return litres_for(line.places, ML_UNKNOWN)


# ---------------------------------------------------------------- what a tap writes


def finish_stage(
    garden: Garden,
    user: User,
    day: BenchDay,
    line_id: int,
    stage: str,
    today: date,
    key: str,
    count: int | None = None,
    spot: Spot | None = None,
    rest: Spot | None = None,
    skipped: bool = False,
) -> StageDone | None:
    """One stage of one line is done: written once, by whoever taps first; sowing and potting go into the history.

    None: somebody has done it already.  rest: where plants stay that were not potted.
    """  # fmt: skip
    with journal.change(garden, user, "", key) as write:
        day = write.touch(BenchDay.objects.get(pk=day.pk))
        line = DayLine.objects.select_related("planting", "tray", "batch").filter(day=day, pk=line_id).first()
        if line is None or stage not in core.stages_of(day.kind):
            raise Refused("stage", "this sheet has no such line: look again")
        if StageDone.objects.filter(line=line, stage=stage).exists():
            return None
        for other in _beside(day, line, stage):
            write.save(StageDone(day=day, line=other, stage=stage, at=clock.instant(), skipped=skipped, by=user))
        done = write.save(StageDone(day=day, line=line, stage=stage, at=clock.instant(), skipped=skipped, by=user))
        what = f"Left out “{stage}”" if skipped else f"{STAGE_DONE[stage]}"
        code = line.tray.code if line.tray is not None else ""
        write.summary = f"{what}: {code} {line.planting}".replace("  ", " ")[:250]
        if skipped and stage == core.CLOCK[day.kind]:
            raise Refused(
                "stage", "that stage cannot be left out: put the sowing off on Today, or take the line off this sheet"
            )
        if not skipped and stage == core.CLOCK[day.kind]:
            if day.kind == "sow":
                _sown(write, garden, user, day, line, today, count)
            else:
                _potted(write, user, day, line, today, count, rest)
        if not skipped and stage == core.STANDS:
            _placed(write, garden, line, today, spot)
    return done


STAGE_DONE = {
    "label": "Labels", "fill": "Filled", "firm": "Firmed", "dib": "Dibbed", "seed": "Sowed", "cover": "Covered", "mist": "Misted",
    "place": "Placed", "lift": "Lifted", "pot": "Potted", "water": "Watered",
}  # fmt: skip


def _beside(day: BenchDay, line: DayLine, stage: str) -> list[DayLine]:
    """Other lines of the same tray for which one tap does as well: filling a tray fills it whole."""
    if line.tray_id is None or stage in (core.CLOCK[day.kind], "label", "dib", "cover"):
        return []
    done = StageDone.objects.filter(day=day, stage=stage).values("line")
    return list(day.lines.filter(tray=line.tray_id).exclude(pk=line.pk).exclude(pk__in=done))


def _todo(garden: Garden, line: DayLine, today: date) -> tuple[SeasonState, Todo | None]:
    now = load(garden, today, plantings=[line.planting_id])
    return now, now.find(line.task)


def _sown(
    write: Write, garden: Garden, user: User, day: BenchDay, line: DayLine, today: date, count: int | None
) -> None:
    """The sowing itself: a batch, in its cells, in the mix of the day."""
    if day.on > today:
        raise Refused("stage", f"this sheet is for {day.on:%-d %B}: what can be done before is on it, sowing is not")
    now, todo = _todo(garden, line, today)
    if todo is None:
        raise Refused("stage", "this sowing is done already, or no longer needed: take the line off this sheet")
    tray = line.tray
    box = tray is not None and line.places > tray.cells
    places = line.places if count is None else count
    if not 1 <= places <= 20_000:
        raise Refused("count", f"{places} is not a number to sow: give 1 or more")
    if tray is not None and not box and line.first + places - 1 > tray.cells:
        raise Refused(
            "count",
            f"{tray.code} has {tray.cells - line.first + 1} cells from {grid(tray).name(line.first)} on: sow the others in another tray",
        )
    batch = write_done(write, now, user, todo, today, today, places)
    assert batch is not None
    if batch.per_cell != line.per_cell and not box:
        raise Refused(
            "per_cell", "seeds in a cell have changed since the sheet was begun: take this line off and begin again"
        )
    line.batch, line.places = batch, places
    write.save(line)
    if tray is not None:
        tray = write.touch(tray)
        held = contents_of(open_runs(tray))
        cells = range(1, tray.cells + 1) if box else range(line.first, line.first + places)
        taken = [c for c in cells if c in held and held[c][1] not in SPENT]
        if taken:
            raise Refused("cells", f"{listed(taken, grid(tray))} of {tray.code} are booked already: choose other cells")
        put(
            write,
            tray,
            {c: v for c, v in held.items() if c not in cells} | dict.fromkeys(cells, (batch.pk, UNSEEN)),
            today,
        )
    if day.recipe_id is not None:
        write.save(Filled(batch=batch, recipe_id=day.recipe_id, on=today))


def _potted(
    write: Write, user: User, day: BenchDay, line: DayLine, today: date, count: int | None, rest: Spot | None
) -> None:
    """Potted up, whole or in part: those potted are a batch of their own where others stay behind."""
    assert line.batch is not None
    now, todo = _todo(day.garden, line, today)
    if todo is None or todo.item.batch is None:
        raise Refused("stage", "these are potted already, or gone: take the line off this sheet")
    all_of = todo.item.raised.plants or line.places
    number = line.places if count is None else count
    if not number >= 1:
        raise Refused("count", f"{number} potted cannot be: give 1 or more, or take the line off this sheet")
    if number > max(all_of, todo.task.count or 0):
        raise Refused("count", f"{number} are more than there are ({all_of}): count again")
    batch = write.touch(todo.item.batch)
    if number < all_of:
        batch_of = split(write, batch, number, today, today)
        add_event(write, batch_of, "potted", today, today, count=number)
        move_on(write, batch_of, today)
        if rest is not None:
            stand(write, batch, rest, today)
        line.batch = batch_of
    else:
        made = write_done(write, now, user, todo, today, today, None)
        assert made is not None
        line.batch = made
    line.places = number
    write.save(line)
    if day.recipe_id is not None and line.batch is not None:
        write.save(Filled(batch=line.batch, recipe_id=day.recipe_id, on=today))


def _placed(write: Write, garden: Garden, line: DayLine, today: date, spot: Spot | None) -> None:
    if spot is None:
        raise Refused("spot", "choose where it stands")
    if line.tray is None:
        if line.batch is not None:
            stand(write, write.touch(line.batch), spot, today, potted=True)
        return
    from aestiva.bench.placing import spot_for

    bench = load_bench(load(garden, today))
    tray = write.touch(line.tray)
    thing = bench.thing(tray.pk) or Thing(tray, [], {}, *footprint(tray), depth(tray))
    at = spot_for(thing, bench.places[spot.pk], None) if spot.pk in bench.places else None
    place_tray(write, tray, spot, today, at)


def drop_line(garden: Garden, user: User, day: BenchDay, line_id: int, key: str) -> None:
    """A line off the sheet; its tray goes back where nothing is in it and nobody else's line needs it."""
    with journal.change(garden, user, "", key) as write:
        line = DayLine.objects.select_related("tray", "planting").filter(day=day, pk=line_id).first()
        if line is None:
            raise Refused("", "this line is gone already")
        if StageDone.objects.filter(line=line, stage=core.CLOCK[day.kind]).exists():
            raise Refused("", "this is sown or potted already: take that back in the journal instead")
        write.summary = f"Took {line.planting} off the sheet of {day.on:%-d %B}"[:250]
        for done in StageDone.objects.filter(line=line):
            write.delete(done)
        tray = line.tray
        write.delete(line)
        if tray is not None and not (tray.runs.exists() or tray.stands.exists() or tray.bench_lines.exists()):
            write.delete(tray)


def leave(garden: Garden, user: User, day: BenchDay, key: str) -> None:
    """A sheet of which nothing is sown or potted goes, with the trays that were only meant."""
    with journal.change(garden, user, f"Dropped the sheet of {day.on:%-d %B}", key) as write:
        day = write.touch(BenchDay.objects.get(pk=day.pk))
        if StageDone.objects.filter(day=day, stage=core.CLOCK[day.kind]).exists():
            raise Refused("", "something of this sheet is sown or potted: it stays, as part of what happened")
        for done in StageDone.objects.filter(day=day):
            write.delete(done)
        trays = {}
        for line in day.lines.select_related("tray"):
            if line.tray is not None:
                trays[line.tray.pk] = line.tray
            write.delete(line)
        for tray in trays.values():
            if not (tray.runs.exists() or tray.stands.exists() or tray.bench_lines.exists()):
                write.delete(tray)
        write.delete(day)


def evening_done(garden: Garden, user: User, day: BenchDay, stage: str, key: str) -> None:
    """Something of the evening before is done; heat after compost is refused."""
    if stage not in core.EVENING:
        raise Refused("stage", "there is nothing of that kind to do")
    with journal.change(garden, user, f"The evening before {day.on:%-d %B}: {EVENING_SAID[stage]}", key) as write:
        day = write.touch(BenchDay.objects.select_related("recipe").get(pk=day.pk))
        done = set(StageDone.objects.filter(day=day, line=None).values_list("stage", flat=True))
        if stage in done:
            return
        if stage == "scald":
            living = day.recipe is not None and day.recipe.living
            if wrong := scald_wrong(living, "compost" in done):
                raise Refused("stage", wrong)
        write.save(StageDone(day=day, line=None, stage=stage, at=clock.instant(), by=user))
        if stage == "wash":
            for one in Container.objects.filter(garden=garden, to_wash__gt=0):
                one.to_wash = 0
                write.save(one)
            for store in Store.objects.filter(garden=garden, to_wash__gt=0):
                store.to_wash = 0
                write.save(store)


EVENING_SAID = {
    "wash": "trays and lids washed", "scald": "mix scalded", "compost": "compost mixed in", "wet": "mix wetted",
    "squeeze": "trays filled and drained",
}  # fmt: skip


def evening_of(sheet_: Sheet) -> list[str]:
    """What this day's evening before is made of."""
    recipe = sheet_.day.recipe
    wash = Container.objects.filter(garden=sheet_.day.garden, to_wash__gt=0).exists()
    found = ["wash"] if wash or "wash" in sheet_.evening else []
    if sheet_.day.kind == "sow":
        found.append("scald")
        if recipe is not None and recipe.living:
            found.append("compost")
    return [*found, "wet", "squeeze"]


def soaks(sheet_: Sheet) -> list[tuple[Row, int]]:
    """Lines whose seed is to be soaked first and does not yet: hours of it."""
    soaked = set(
        Timer.objects.filter(
            garden=sheet_.day.garden, planting__in=[r.line.planting_id for r in sheet_.rows]
        ).values_list("planting_id", flat=True)
    )
    found, seen = [], set()
    for row in sheet_.rows:
        hours = 0 if row.item is None else int(row.item.crop.number("soak_h"))
        sown = (row.line.pk, core.CLOCK[sheet_.day.kind]) in sheet_.done
        if hours and not sown and row.line.planting_id not in soaked and row.line.planting_id not in seen:
            seen.add(row.line.planting_id)
            found.append((row, hours))
    return found


def start_timer(garden: Garden, user: User, day: BenchDay, planting: Planting, minutes: int, key: str) -> Timer:
    """A soak begins: its end is known to the server, to Today and to the calendar."""
    if not 1 <= minutes <= 96 * 60:
        raise Refused("minutes", "give 1 minute to 4 days")
    at = clock.instant()
    with journal.change(garden, user, f"Put {planting} to soak"[:250], key) as write:
        write.touch(day)
        if Timer.objects.filter(garden=garden, planting=planting, done_at=None).exists():
            raise Refused("", "it soaks already")
        return write.save(
            Timer(garden=garden, what="soak", planting=planting, started=at, due=at + timedelta(minutes=minutes))
        )


def end_timer(garden: Garden, user: User, timer: Timer, key: str) -> None:
    with journal.change(garden, user, f"Drained {timer.planting or timer.what}"[:250], key) as write:
        timer = write.touch(timer)
        if timer.done_at is None:
            timer.done_at = clock.instant()
            write.save(timer)


def timers(garden: Garden) -> list[Timer]:
    """Those that run or ring."""
    return list(Timer.objects.filter(Q(done_at=None), garden=garden).select_related("planting__season"))


def places_for(row: Row, spots: Sequence[Spot], taken: Mapping[int, int]) -> list[Spot]:
    """Where a line may stand, the likeliest first: a mat for seed that wants warmth, else the emptiest shelf."""
    warm = row.item is not None and row.item.crop.number("germinate_c") >= 22 and laying(row.item.crop).mat

    def rank(spot: Spot) -> tuple[int, int]:
        order = {"mat": 0 if warm else 3, "shelf": 1, "sill": 2}.get(spot.kind, 4)
        return order, taken.get(spot.pk, 0)

    return sorted(spots, key=rank)
