"""One tray: its map, what is in it and whose, its card; and where a lost name stands."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from aestiva.bench import traymap
from aestiva.bench.company import clashes_in
from aestiva.bench.path_views import bars, path_now
from aestiva.bench.supplies import standing_in
from aestiva.bench.things import (
    Bench,
    Thing,
    grid,
    load_bench,
    with_room,
)
from aestiva.course.state import Item, SeasonState, load
from aestiva.frame import say, wording
from aestiva.frame.say import Reader
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.season.contents import marks_in
from aestiva.season.ledgers import balance_of, in_ledgers
from aestiva.season.models import Batch, CellRun, Container, Spot, Tray
from aestiva.season.things import own_vessels
from growing.batch.ledger import Accounts
from growing.bench.cells import (
    DIED,
    LYING,
    NEVER,
    SMALL,
    SPENT,
    STRONG,
    UP,
    cells_named,
    disagreement,
    listed,
    uneven,
)  # fmt: skip
from growing.bench.cells import Uneven as Split
from growing.bench.paths import Rival
from growing.place.kinds import HOLDS

MARKS = ((UP, "up"), (STRONG, "strong"), (SMALL, "small"), (LYING, "seed lying"), (NEVER, "never came"), (DIED, "died"))
MOST_TARGETS = 60
MOST_PATHS = 3


class InIt(NamedTuple):
    """A batch of this tray: its letter, its sums, and where map and sums differ."""

    lot: traymap.MapKey
    batch: Batch
    item: Item | None
    accounts: Accounts
    again: bool
    here: int
    differs: Any
    day: int | None  # since it was sown

    @property
    def plants(self) -> int:
        """That ever stood in it."""
        return (self.accounts.emerged or 0) + self.accounts.received

    @property
    def lost(self) -> int:
        return self.accounts.thinned + self.accounts.given + self.accounts.died


def tray_of(request: Any, tray_id: int) -> Tray:
    return get_object_or_404(Tray.objects.select_related("container"), pk=tray_id, garden=request.garden)


def _in_it(thing: Thing, day: date) -> list[InIt]:
    own = traymap.lots(thing)
    rows = {b.pk: b for b in in_ledgers(Batch.objects.filter(pk__in=own)).select_related("planting", "lot")}
    marks: dict[int, list[str]] = {pk: [] for pk in own}
    for run in CellRun.objects.filter(batch__in=own, until=None):
        marks[run.batch_id] += marks_in(run)
    found = []
    for pk, lot in own.items():
        batch = rows[pk]
        accounts, _, _ = balance_of(batch)
        single = (
            batch.per_cell == 1
            and batch.sown_in != "box"
            and (lot.part.item is None or lot.part.item.raised.how.clump == 1)
        )
        here = sum(mark not in SPENT for b, mark in thing.contents.values() if b == pk)
        differs = disagreement(pk, marks[pk], accounts, single)
        days = None if batch.sown_on is None else (day - batch.sown_on).days
        found.append(InIt(lot, batch, lot.part.item, accounts, pk in thing.again, here, differs, days))
    return found


def _targets(bench: Bench, thing: Thing) -> list[tuple[str, str]]:
    """Trays with free cells, this place's first."""
    found = [t for t in bench.things if t.tray is not None and t is not thing and t.free]
    found.sort(key=lambda t: (t.spot != thing.spot, t.name))
    return [
        (f"t{t.tray.pk}", f"{t.name}, {t.free} free{f' at {t.spot.code}' if t.spot else ''}")
        for t in found[:MOST_TARGETS]
        if t.tray is not None
    ]


def _before(tray: Tray, cells: list[int]) -> list[tuple[str, CellRun]]:
    """What was in these cells, the last first."""
    if not cells:
        return []
    runs = CellRun.objects.filter(tray=tray).select_related("batch__planting").order_by("-since", "-pk")
    g = grid(tray)
    found = []
    for run in runs:
        mine = [c for c in cells if run.first <= c < run.first + run.count]
        if mine:
            found.append((listed(mine, g), run))
    return found[:12]


@garden_view(no_frost="bench")
def tray(request: Any, tray_id: int) -> HttpResponse:
    return page(request, None, tray_id)


def page(request: Any, refused: Refused | None, tray_id: int) -> HttpResponse:
    row, garden, today = tray_of(request, tray_id), request.garden, clock.today(request.garden)
    now = load(garden, today)
    bench = load_bench(now)
    thing = bench.thing(row)
    asked = request.POST.get("cells") or request.GET.get("cells", "")
    try:
        marked = cells_named(asked, grid(row)) if asked else []
    except ValueError:
        marked = []
    inside = _in_it(thing, today)
    split = uneven(thing.contents)
    found = {traymap.shown_mark(thing, c) for c in thing.contents}
    refs = {f"b{one.batch.pk}" for one in inside}
    due = [t for t in now.todos(today) if t.facts.ref in refs]
    clash = clashes_in(thing, bench, today)
    context = {
        "view": "bench",
        "tray": row,
        "thing": thing,
        "headline": _headline(thing, due, clash, split, request.reader),
        "map": traymap.map_svg(thing, picks=True, marked=marked),
        "symbols": traymap.symbols(),
        "legend": traymap.legend(found, thing.free > sum(m in SPENT for _, m in thing.contents.values())),
        "inside": inside,
        "clashes": clash,
        "due": [(t, reverse("batch", args=[garden.pk, t.batch.pk])) for t in due if t.batch is not None][:4],
        "uneven": split,
        "tall": listed(split.tall, grid(row)) if split else "",
        "short": listed(split.short, grid(row)) if split else "",
        "regroup_at": with_room(bench, thing) if split else None,
        "targets": _targets(bench, thing),
        "containers": Container.objects.filter(garden=garden).order_by("-cells", "name"),
        "spots": [bench.places[pk].spot for pk in bench.order if bench.places[pk].spot.kind != "rack"],
        "to_sow": _to_sow(now),
        "alike": len(alike_in(row)),
        "paths": _paths(now, inside),
        "marks": MARKS,
        "asked": asked,
        "before": _before(row, marked) if asked else [],
        "full": sum(m not in SPENT for _, m in thing.contents.values()),
        "refused": refused,
        "typed": request.POST,
    }
    return render(request, "bench/tray.html", context, status=422 if refused else 200)


class Strip(NamedTuple):
    """The path of a planting in this tray, drawn."""

    planting: int
    name: str
    rival: Rival
    bars: str


def _paths(now: SeasonState, inside: list[InIt]) -> list[Strip]:
    """Of each planting in the tray, how its containers go on."""
    own, stands_in, found = own_vessels(now.garden), standing_in(now.garden), {}
    for one in inside[:MOST_PATHS]:
        if one.item is None or one.batch.planting_id in found:
            continue
        path = path_now(now, one.item, own, stands_in)
        if path is not None:
            begins, ends = path.standings[0].since, path.standings[-1].until
            drawn = bars(path, begins, max(ends, begins + timedelta(days=1)))
            found[one.batch.planting_id] = Strip(one.batch.planting_id, one.lot.part.name, path, drawn)
    return list(found.values())


@garden_view(no_frost="bench")
def tray_card(request: Any, tray_id: int) -> HttpResponse:
    """A card to stand in the tray: its map, whose cells are whose, and when the next things are due."""
    row, today = tray_of(request, tray_id), clock.today(request.garden)
    now = load(request.garden, today)
    thing = load_bench(now).thing(row)
    inside = _in_it(thing, today)
    steps = {
        one.batch.pk: [
            (wording.COURSE[k], s)
            for k, s in one.item.raised.course.steps.items()
            if k in wording.COURSE and s.happened is None
        ]
        for one in inside
        if one.item is not None
    }
    context = {
        "view": "bench",
        "tray": row,
        "thing": thing,
        "map": traymap.map_svg(thing),
        "symbols": traymap.symbols(),
        "inside": [(one, listed(one.lot.part.cells, grid(row)), steps.get(one.batch.pk, [])[:5]) for one in inside],
    }
    return render(request, "bench/tray_card.html", context)


def _headline(thing: Thing, due: list[Any], clash: list[Any], split: Split | None, reader: Reader) -> str:
    """What there is to say of this tray, the worst first."""
    parts = []
    if thing.headroom is not None and thing.headroom.days is not None and thing.headroom.days <= 7:
        parts.append(wording.headline(thing.headroom.working, reader))
    for todo in due[:1]:
        count = f"{todo.task.count} " if todo.task.count else ""
        parts.append(f"{count}{todo.name}: {todo.subject.name}")
    if clash:
        parts.append(wording.headline(clash[0].conflict.working, reader))
    if split is not None:
        parts.append(f"{len(split.tall)} tall and {len(split.short)} short share it")
    if parts:
        return "; ".join(parts[:2])
    alive = sum(m not in SPENT for _, m in thing.contents.values())
    if not alive:
        return f"{thing.name} is empty"
    return f"{say.listed(thing.names, 3)} in {say.plural(alive, 'cell')} of {thing.name}"


def _to_sow(now: SeasonState) -> list[Any]:
    """Sowings of which nothing is sown yet, those of the next four weeks first."""
    found = []
    for item in now.items:
        if item.batch is None and item.raised.dates.method in ("raised", "winter"):
            found.append((item.raised.dates.sow_on, item))
    return [item for _, item in sorted(found, key=lambda f: f[0])][:40]


def alike_in(row: Tray) -> list[Batch]:
    """Batches of this tray that were one sowing: of one planting, packet and day."""
    runs = CellRun.objects.filter(tray=row, until=None).select_related("batch__planting")
    groups: dict[object, dict[int, Batch]] = {}
    for run in runs:
        b = run.batch
        groups.setdefault((b.planting_id, b.lot_id, b.sown_on), {})[b.pk] = b
    return next((list(g.values()) for g in groups.values() if len(g) > 1), [])


@garden_view(back="bench")
def find(request: Any) -> HttpResponse:
    """A lost name by tray and cell, a code, or a name by where it stands."""
    garden, asked = request.garden, " ".join(request.GET.get("q", "").split())[:60]
    first, _, rest = asked.partition(" ")
    tray = Tray.objects.filter(garden=garden, code__iexact=first).first()
    if tray is not None:
        address = reverse("tray", args=[garden.pk, tray.pk])
        return redirect(f"{address}?cells={rest.strip().upper()}" if rest.strip() else address)
    spot = Spot.objects.filter(garden=garden, code__iexact=asked, kind__in=HOLDS).first()
    if spot is not None:
        return redirect("bench_place", garden.pk, spot.pk)
    runs = []
    if asked:
        every = (
            CellRun.objects.filter(tray__garden=garden, until=None)
            .select_related("tray", "batch__planting__season")
            .order_by("tray__code", "first")
        )
        low = asked.casefold()
        runs = [
            (grid(r.tray), r)
            for r in every
            if low in f"{r.batch.planting.crop_key.replace('_', ' ')} {r.batch.planting.variety}".casefold()
        ][:60]
    rows = [(f"{listed(range(r.first, r.first + r.count), g)}", r) for g, r in runs]
    return render(
        request, "bench/find.html", {"view": "bench", "asked": asked, "rows": rows, "wrong": bool(asked) and not rows}
    )
