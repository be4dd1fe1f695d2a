"""Sowing and potting days: what is coming, and the sheet of one by stages across all its trays."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import NamedTuple

from django.db.models import Prefetch, Q

from aestiva.bench.models import BenchDay, DayLine, Recipe, StageDone, Timer
from aestiva.bench.things import Bench, PlaceStanding, grid, has_room
from aestiva.course.state import Item, SeasonState, Todo, load
from aestiva.gardens import clock
from aestiva.gardens.models import Garden
from aestiva.season.models import Container, Planting, Spot, Tray
from growing.bench import day as core
from growing.bench.cells import listed
from growing.bench.mix import Measure, feeder_of, litres_for, weighed_out
from growing.bench.steps import STEPS
from growing.place.kinds import CARRIERS
from growing.shelves.laying import laying

SOWN = tuple(spec.kind for spec in STEPS if spec.step == "sow" and spec.where == "bench")
POT = "pot"
KINDS = (*SOWN, POT)
AHEAD = 21
WARM_SEED_C = 22.0  # what germinates best from here on stands on a mat: estimate
ML_UNKNOWN = 40.0  # of a cell of which nobody said how large it is: estimate


class DayComing(NamedTuple):
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
        return todo.task.kind == "pot" and todo.batch is not None
    return todo.task.kind in SOWN and todo.task.count is not None


def due(now: SeasonState, kind: str, on: date) -> list[Todo]:
    """Sowings or pottings that are due by that day."""
    return [t for t in now.todos(max(on, now.today), KINDS) if _of_kind(t, kind) and t.due <= on]


def coming(now: SeasonState, ahead: int = AHEAD) -> list[DayComing]:
    """The next sowing day and the next potting day within so many days; what is late belongs to today."""
    found = []
    begun = {
        (d.kind, d.on): d.pk for d in BenchDay.objects.filter(garden=now.garden, on__gte=now.today - timedelta(days=2))
    }
    todos = now.todos(now.today + timedelta(days=ahead), KINDS)
    for kind, _ in core.KINDS:
        mine = [t for t in todos if _of_kind(t, kind)]
        if not mine:
            continue
        first = max(now.today, min(t.due for t in mine))
        here = tuple(t for t in mine if t.due <= first)
        places = sum(t.task.count or 0 for t in here)
        stages = core.stages_of(kind)
        minutes = sum(core.expected(s, t.task.count or 0) for t in here for s in stages)
        found.append(DayComing(kind, first, len(here), places, round(minutes), begun.get((kind, first)), here))
    return sorted(found, key=lambda c: c.on)


def at_bench(now: SeasonState) -> list[DayComing]:
    """What Today says of the bench: several sowings or pottings today, or any tomorrow, when this is the evening before."""
    return [c for c in coming(now, 1) if c.on > now.today or c.sowings > 1 or c.begun]


@dataclass
class SheetRow:
    """A line as the sheet shows it."""

    line: DayLine
    item: Item | None
    core: core.BenchLine
    at: str  # the stage it is at; empty: through
    timer: Timer | None
    litres: float
    recipe: Recipe | None = None  # what it is filled with

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
    def per_dm2(self) -> int:
        """Seeds of a box on 10 × 10 cm; 0 where nobody said how large it is."""
        c = None if self.tray is None else self.tray.container
        return 0 if c is None else round(self.line.places / (c.length_cm * c.width_cm) * 100)

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
class BenchSheet:
    """A day at the bench: its rows, what is done, what is next, minutes left and of the whole."""

    day: BenchDay
    rows: list[SheetRow]
    done: frozenset[tuple[int | None, str]]
    next: core.NextStage | None
    left: float
    whole: float
    stages: tuple[str, ...]
    minutes: dict[str, float]
    evening: dict[str, StageDone]

    @property
    def current(self) -> SheetRow | None:
        return next((r for r in self.rows if self.next is not None and r.line.pk == self.next.line), None)

    @property
    def through(self) -> bool:
        return bool(self.rows) and self.next is None

    @property
    def litres(self) -> float:
        return sum(r.litres for r in self.rows)

    @property
    def mixed(self) -> list[tuple[Recipe, float, list[Measure]]]:
        """Each mix of the day, its litres, and what goes into them."""
        litres: dict[int, float] = defaultdict(float)
        recipes = {r.recipe.pk: r.recipe for r in self.rows if r.recipe is not None and r.litres > 0}
        for row in self.rows:
            if row.recipe is not None:
                litres[row.recipe.pk] += row.litres
        return [
            (one, litres[pk], weighed_out(one.parts, one.grams, one.millilitres, one.water_ml, litres[pk]))
            for pk, one in recipes.items()
        ]

    @property
    def matrix(self) -> list[MatrixRow]:
        """A row a tray; what is potted is a row a batch."""
        groups: dict[object, list[SheetRow]] = defaultdict(list)
        for row in self.rows:
            groups[row.tray.pk if row.tray is not None else f"l{row.line.pk}"].append(row)
        found = []
        for rows in groups.values():
            code = rows[0].tray.code if rows[0].tray is not None else ""
            names = ", ".join(dict.fromkeys(r.name.lower() for r in rows))
            found.append(MatrixRow(code, names, tuple(StageCell(s, self._state(rows, s)) for s in self.stages)))
        return found

    def _state(self, rows: list[SheetRow], stage: str) -> str:
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


LINES = DayLine.objects.select_related("planting__season", "planting__lot", "batch", "tray__container").order_by(
    "order", "pk"
)


def sheets_so_far(garden: Garden, most: int) -> list[tuple[BenchDay, BenchSheet]]:
    """The newest sheets, only what is next of each: a few queries for all of them."""
    begun = BenchDay.objects.filter(garden=garden).order_by("-on", "kind")
    begun = begun.prefetch_related(Prefetch("lines", LINES), "done")
    timers = open_timers(garden)
    return [(day, sheet(day, clock.instant(), light=True, timers=timers)) for day in begun[:most]]


def open_timers(garden: Garden) -> dict[int, Timer]:
    """What still runs, by planting."""
    rows = Timer.objects.filter(garden=garden, done_at=None).exclude(planting=None)
    return {row.planting_id: row for row in rows if row.planting_id is not None}


def sheet(day: BenchDay, at: datetime, light: bool = False, timers: dict[int, Timer] | None = None) -> BenchSheet:
    """The sheet as it stands at that hour; light: only what is next, without crops.  timers: what runs, where it is known."""
    lines = list(day.lines.all() if timers is not None else LINES.filter(day=day))
    done_rows = list(day.done.all())
    done = frozenset((d.line_id, d.stage) for d in done_rows)
    items: dict[int, Item] = {}
    batches: dict[int, Item] = {}
    if lines and not light:
        now = load(day.garden, clock.today(day.garden), plantings={line.planting_id for line in lines})
        batches = {one.batch.pk: one for one in now.items if one.batch is not None}
        for one in now.items:
            items.setdefault(one.planting.pk, one)
    timers = open_timers(day.garden) if timers is None else timers
    recipes = [] if light else recipes_of(day)
    clock_stage = core.CLOCK[day.kind]
    rows = []
    for line in lines:
        item = batches.get(line.batch_id or 0) or items.get(line.planting_id)
        timer = timers.get(line.planting_id)
        waits = {clock_stage: max(timer.due, at + timedelta(minutes=1))} if timer is not None else {}
        skips = skips_of(day.kind, item, line.planting)
        if light:  # what its crop would skip is not known: what was left out was left out
            skips = frozenset({"cover", "dib"})
        its = core.BenchLine(line.pk, line.places, skips, waits)
        mix = recipe_for(day, recipes, item)
        rows.append(SheetRow(line, item, its, core.first_open(day.kind, its, done), timer, _litres(line, item), mix))
    usual = {} if light else pace(day.garden)
    cores = [r.core for r in rows]
    left, whole = core.left(day.kind, cores, done, usual)
    stages = core.stages_of(day.kind)
    minutes = {s: sum(core.minutes(s, r.line.places, usual) for r in rows if s not in r.core.skips) for s in stages}
    return BenchSheet(
        day, rows, done, core.following(day.kind, cores, done, at), left, whole, stages, minutes,
        {d.stage: d for d in done_rows if d.line_id is None},
    )  # fmt: skip


def recipes_of(day: BenchDay) -> list[Recipe]:
    """Mixes for that kind of day."""
    return list(Recipe.objects.filter(garden=day.garden, use="seed" if day.kind == "sow" else "potting"))


def recipe_for(day: BenchDay, recipes: Sequence[Recipe], item: Item | None) -> Recipe | None:
    """The mix of a line: one for feeders like it where there is one, else the day's."""
    feeder = "" if item is None else feeder_of(item.crop.number("feed_n_mg_l"))
    return next((r for r in recipes if r.feeder and r.feeder == feeder), day.recipe)


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


def evening_of(sheet_: BenchSheet) -> list[str]:
    """What this day's evening before is made of."""
    recipe = sheet_.day.recipe
    wash = Container.objects.filter(garden=sheet_.day.garden, to_wash__gt=0).exists()
    found = ["wash"] if wash or "wash" in sheet_.evening else []
    if sheet_.day.kind == "sow":
        found.append("scald")
        if recipe is not None and recipe.living:
            found.append("compost")
    return [*found, "wet", "squeeze"]


def soaks(sheet_: BenchSheet) -> list[tuple[SheetRow, int]]:
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


def timers(garden: Garden) -> list[Timer]:
    """Those that run or ring."""
    return list(Timer.objects.filter(Q(done_at=None), garden=garden).select_related("planting__season"))


def places_for(row: SheetRow, bench: Bench) -> list[Spot]:
    """Where a line may stand, the likeliest first: with room; a mat for seed that wants warmth, else the emptiest shelf."""
    warm = row.item is not None and row.item.crop.number("germinate_c") >= WARM_SEED_C and laying(row.item.crop).mat
    thing = None if row.tray is None else bench.thing(row.tray)

    def rank(one: PlaceStanding) -> tuple[bool, int, int]:
        full = thing is not None and one.size_said and not has_room(one, thing)
        return full, {"mat": 0 if warm else 3, "shelf": 1, "sill": 2}.get(one.spot.kind, 4), len(one.things)

    places = [one for one in bench.places.values() if one.spot.kind not in CARRIERS]
    return [one.spot for one in sorted(places, key=rank)]
