"""One tray: its map, what is in it and whose, and everything that hands do with it."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any, NamedTuple

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench import tray_actions, traymap
from aestiva.bench.asked import spot_asked
from aestiva.bench.company import before_sharing, clashes_in, companion, said, sowing_companion
from aestiva.bench.path_views import bars, path_now
from aestiva.bench.placing import spot_for
from aestiva.bench.supplies import standing_in
from aestiva.bench.things import (
    STANDS,
    Bench,
    Thing,
    alone,
    grid,
    load_bench,
    with_room,
)
from aestiva.course.finishing import write_done
from aestiva.course.state import Item, SeasonState, load
from aestiva.frame import say, wording
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import typed_count
from aestiva.season.contents import contents_of, marks_in, open_runs, put
from aestiva.season.ledgers import balance_of
from aestiva.season.models import Batch, CellRun, Container, Spot, Tray
from aestiva.season.places import next_code, place_tray
from aestiva.season.things import own_vessels
from growing.batch.ledger import Accounts
from growing.bench.cells import (
    DIED,
    LYING,
    NEVER,
    SMALL,
    SPENT,
    STRONG,
    UNSEEN,
    UP,
    cells_named,
    disagreement,
    listed,
    uneven,
)  # fmt: skip
from growing.bench.cells import Uneven as Split
from growing.bench.company import Companion, Conflict
from growing.bench.paths import Rival

MARKS = ((UP, "up"), (STRONG, "strong"), (SMALL, "small"), (LYING, "seed lying"), (NEVER, "never came"), (DIED, "died"))
MOST_TARGETS = 60
MOST_PATHS = 3


class InIt(NamedTuple):
    """A batch of this tray: its letter, its sums, and where map and sums differ."""

    lot: traymap.Lot
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


def _tray(request: Any, tray_id: int) -> Tray:
    return get_object_or_404(Tray.objects.select_related("container"), pk=tray_id, garden=request.garden)


def _in_it(thing: Thing, day: date) -> list[InIt]:
    own = traymap.lots(thing)
    rows = {b.pk: b for b in Batch.objects.filter(pk__in=own).select_related("planting", "lot")}
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
    return _page(request, None, tray_id)


def _page(request: Any, refused: Refused | None, tray_id: int) -> HttpResponse:
    row, garden, today = _tray(request, tray_id), request.garden, clock.today(request.garden)
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
    due = [t for t in now.todos(today) if t.item.raised.ref in refs]
    clash = clashes_in(thing, bench, today)
    context = {
        "view": "bench",
        "tray": row,
        "thing": thing,
        "headline": _headline(thing, due, clash, split, request.units),
        "map": traymap.map_svg(thing, picks=True, marked=marked),
        "symbols": traymap.symbols(),
        "legend": traymap.legend(found, thing.free > sum(m in SPENT for _, m in thing.contents.values())),
        "inside": inside,
        "clashes": clash,
        "due": [(t, reverse("batch", args=[garden.pk, t.item.batch.pk])) for t in due if t.item.batch is not None][:4],
        "uneven": split,
        "tall": listed(split.tall, grid(row)) if split else "",
        "short": listed(split.short, grid(row)) if split else "",
        "regroup_at": with_room(bench, thing) if split else None,
        "targets": _targets(bench, thing),
        "containers": Container.objects.filter(garden=garden).order_by("-cells", "name"),
        "spots": [bench.places[pk].spot for pk in bench.order if bench.places[pk].spot.kind != "rack"],
        "to_sow": _to_sow(now),
        "alike": len(_alike(row)),
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
    row, today = _tray(request, tray_id), clock.today(request.garden)
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


def _headline(thing: Thing, due: list[Any], clash: list[Any], split: Split | None, system: str) -> str:
    """What there is to say of this tray, the worst first."""
    parts = []
    if thing.headroom is not None and thing.headroom.days is not None and thing.headroom.days <= 7:
        parts.append(wording.headline(thing.headroom.working, system))
    for todo in due[:1]:
        count = f"{todo.task.count} " if todo.task.count else ""
        parts.append(f"{count}{todo.name}: {todo.item.name}")
    if clash:
        parts.append(wording.headline(clash[0].conflict.working, system))
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


def _cells(request: Any, row: Tray) -> list[int]:
    try:
        return cells_named(request.POST.get("cells", ""), grid(row))
    except ValueError as wrong:
        raise Refused("cells", str(wrong)) from None


def _target(request: Any) -> tuple[Tray | None, Container | None]:
    """Where they go: a tray that is there, or a new one of a container."""
    said = request.POST.get("target", "")
    number = whole_number(said[1:])
    if said[:1] == "t" and number is not None:
        return get_object_or_404(Tray.objects.select_related("container"), pk=number, garden=request.garden), None
    if said[:1] == "c" and number is not None:
        return None, get_object_or_404(Container, pk=number, garden=request.garden)
    if said == "new":
        return None, None
    raise Refused("target", "choose where they go: a tray with free cells, or a new one")


@garden_view("grower", back="tray", page=_page)
@require_POST
def act(request: Any, tray_id: int) -> HttpResponse:
    """Mark, lift, pot, sow, sow again, turn, lid, empty, put away."""
    garden, user, post, today = request.garden, request.user, request.POST, clock.today(request.garden)
    row, what, key, seen = _tray(request, tray_id), post.get("what", ""), post.get("key", ""), post.get("revision", "")
    back = redirect("tray", garden.pk, row.pk)
    if what.startswith("mark") and len(what) == 5:
        tray_actions.mark(garden, user, row, _cells(request, row), what[4], today, key, seen)
    elif what in ("lift", "pot"):
        target, container = _target(request)
        spot = spot_asked(request)
        if target is not None and not is_sure(request) and (against := _against_lifting(request, row, target, today)):
            return ask(request, f"Set them into {target.code}?", against, "Set them there all the same", "tray", row.pk)
        child = tray_actions.lift(
            garden, user, row, _cells(request, row), target, today, key, seen, what == "pot", container, spot
        )
        stands = child.runs.filter(until=None).select_related("tray").last()
        messages.success(request, f"They are in {stands.tray.code if stands else 'their pots'} now.")
    elif what == "regroup":
        _regroup(request, row, today, key, seen)
    elif what == "sow":
        if not is_sure(request) and (against := _against_sowing(request, row, today)):
            return ask(request, f"Sow it into {row.code}?", against, "Sow it there all the same", "tray", row.pk)
        _sow(request, row, today, key, seen)
    elif what == "again":
        per = typed_count(post.get("per_cell") or "1", "per_cell")
        tray_actions.sow_again(garden, user, row, _cells(request, row), per, today, key, seen)
    elif what == "merge":
        tray_actions.merge(garden, user, _alike(row), today, key)
    elif what == "turn":
        tray_actions.turn(garden, user, row, 1, today, key, seen)
    elif what == "clear":
        tray_actions.clear(garden, user, row, _cells(request, row), today, key, seen)
    elif what in ("lid", "nolid"):
        tray_actions.cover(garden, user, row, "lid" if what == "lid" else "none", today, key, seen)
    elif what == "delete":
        tray_actions.delete(garden, user, row, today, key, seen)
        messages.success(request, f"{row.code} is put away.")
        return redirect("bench", garden.pk)
    else:
        raise Http404("There is nothing of that kind to do.")
    return back


def _against_lifting(request: Any, row: Tray, target: Tray, today: date) -> list[str]:
    """What speaks against these plants in that tray."""
    now = load(request.garden, today)
    bench = load_bench(now)
    from_, into, cells = bench.thing(row), bench.thing(target), set(_cells(request, row))
    moving = [c for p in from_.parts if cells & set(p.cells) and (c := companion(p, from_, today)) is not None]
    room = with_room(bench, from_)
    return said(_in_tray(moving, into, today, "" if room is None else room.code), request.units)


def _against_sowing(request: Any, row: Tray, today: date) -> list[str]:
    """What speaks against that sowing in this tray."""
    number = whole_number(request.POST.get("planting"))
    now = load(request.garden, today)
    bench = load_bench(now)
    item = next((i for i in now.items if i.batch is None and i.planting.pk == number), None)
    if item is None:
        return []
    return said(_in_tray([sowing_companion(item)], bench.thing(row), today), request.units)


def _in_tray(moving: list[Companion], into: Thing, today: date, elsewhere: str = "") -> list[Conflict]:
    """Of those that would share a tray, and its lid where it has one."""
    found = before_sharing(moving, [into], "tray", today, None, elsewhere)
    kinds = {c.kind for c in found}
    lid = before_sharing(moving, [into], "lid", today, None, elsewhere) if into.lidded else []
    return found + [c for c in lid if c.kind not in kinds]


def _alike(row: Tray) -> list[Batch]:
    """Batches of this tray that were one sowing: of one planting, packet and day."""
    runs = CellRun.objects.filter(tray=row, until=None).select_related("batch__planting")
    groups: dict[object, dict[int, Batch]] = {}
    for run in runs:
        b = run.batch
        groups.setdefault((b.planting_id, b.lot_id, b.sown_on), {})[b.pk] = b
    return next((list(g.values()) for g in groups.values() if len(g) > 1), [])


def _regroup(request: Any, row: Tray, today: date, key: str, seen: str) -> None:
    """The short ones to a tray of their own, each batch by itself where there are several."""
    contents = contents_of(open_runs(row))
    split = uneven(contents)
    if split is None:
        raise Refused("", "this tray is not uneven any more: look again")
    owners = {contents[c][0] for c in split.short}
    if len(owners) != 1:
        raise Refused("cells", "the short ones are of several sowings: lift each by itself")
    child = tray_actions.lift(
        request.garden, request.user, row, split.short, None, today, key, seen, False, row.container, spot_asked(request)
    )  # fmt: skip
    run = child.runs.filter(until=None).select_related("tray").last()
    messages.success(
        request, f"The {len(split.short)} short ones are in {run.tray.code if run else 'a tray of their own'}."
    )


def _sow(request: Any, row: Tray, today: date, key: str, seen: str) -> None:
    """A sowing that is still to be done, into these cells: its task is finished as far as they go."""
    number = whole_number(request.POST.get("planting"))
    cells = _cells(request, row)
    with journal.change(request.garden, request.user, "", key) as write:
        now = load(request.garden, today, plantings=[number or 0])
        todo = next(
            (t for t in now.todos(now.horizon) if t.task.kind in ("sow", "sow_winter") and t.item.batch is None), None
        )
        if todo is None:
            raise Refused("planting", "choose what is sown: nothing of that is still to be sown")
        held, contents = tray_actions.held(write, row, seen)
        tray_actions.free(held, contents, cells)
        batch = write_done(write, now, request.user, todo, today, today, len(cells))
        assert batch is not None
        put(write, held, contents | dict.fromkeys(cells, (batch.pk, UNSEEN)), today)
        write.summary = f"Sowed {todo.item.name} into {listed(cells, grid(row))} of {row.code}"[:250]


@garden_view(back="bench")
def tray_new(request: Any) -> HttpResponse:
    """A tray to be filled: of a container, or of so many cells."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    refused = None
    if request.method == "POST":
        try:
            made = _made(request, today)
            return redirect("tray", garden.pk, made.pk)
        except Refused as wrong:
            refused = wrong
    context = {
        "view": "bench",
        "containers": Container.objects.filter(garden=garden).order_by("name"),
        "spots": Spot.objects.filter(garden=garden, kind__in=STANDS).exclude(kind="rack"),
        "code": post.get("code") or next_code(garden.pk),
        "refused": refused,
        "typed": post,
    }
    return render(request, "bench/tray_new.html", context, status=422 if refused else 200)


def _made(request: Any, today: date) -> Tray:
    garden, post = request.garden, request.POST
    code = " ".join(post.get("code", "").split())[:12]
    if not code:
        raise Refused("code", "give it a short name, such as T12")
    number = whole_number(post.get("container"))
    container = None if number is None else get_object_or_404(Container, pk=number, garden=garden)
    typed = post.get("cells", "").strip()
    cells = typed_count(typed, "cells") if typed else container.cells if container is not None else 0
    if container is not None and container.cells > 1 and cells != container.cells:
        raise Refused(
            "cells", f"a {container.name} has {container.cells} cells: leave the number empty, or choose no container"
        )
    if not 1 <= cells <= 2000:
        raise Refused("cells", "give the number of its cells, 1 to 2000, or choose a container")
    spot = spot_asked(request)
    with journal.change(garden, request.user, f"Took tray {code}", post.get("key", "")) as write:
        if Tray.objects.filter(garden=garden, code=code).exists():
            raise Refused("code", f"there is a tray {code} already: give another name")
        made = write.save(Tray(garden=garden, code=code, container=container, cells=cells))
        if spot is not None:
            bench = load_bench(load(garden, today))
            place_tray(write, made, spot, today, spot_for(alone(made), bench.places[spot.pk], None))
    return made


@garden_view(back="bench")
def find(request: Any) -> HttpResponse:
    """A lost name by tray and cell, a code, or a name by where it stands."""
    garden, asked = request.garden, " ".join(request.GET.get("q", "").split())[:60]
    first, _, rest = asked.partition(" ")
    tray = Tray.objects.filter(garden=garden, code__iexact=first).first()
    if tray is not None:
        address = reverse("tray", args=[garden.pk, tray.pk])
        return redirect(f"{address}?cells={rest.strip().upper()}" if rest.strip() else address)
    spot = Spot.objects.filter(garden=garden, code__iexact=asked, kind__in=STANDS).first()
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
