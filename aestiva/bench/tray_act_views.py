"""What hands do with a tray, as its page sends it: marks, lifting, sowing, turning; and a new tray."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.bench import tray_actions
from aestiva.bench.asked import spot_asked
from aestiva.bench.company import before_sharing, companion, said, sowing_companion
from aestiva.bench.placing import spot_for
from aestiva.bench.things import (
    Thing,
    alone,
    grid,
    load_bench,
    with_room,
)
from aestiva.bench.tray_views import alike_in, page, tray_of
from aestiva.course.finishing import write_done
from aestiva.course.state import load
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import typed_count
from aestiva.season.contents import contents_of, open_runs, put
from aestiva.season.models import Container, Spot, Tray
from aestiva.season.places import next_code, place_tray
from growing.bench.cells import (
    UNSEEN,
    cells_named,
    listed,
    uneven,
)  # fmt: skip
from growing.bench.steps import SOW, SOW_WINTER
from growing.place.kinds import HOLDS
from growing.shelves.company import Companion, Conflict


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


@garden_view("grower", back="tray", page=page)
@require_POST
def act(request: Any, tray_id: int) -> HttpResponse:
    """Mark, lift, pot, sow, sow again, turn, lid, empty, put away."""
    garden, user, post, today = request.garden, request.user, request.POST, clock.today(request.garden)
    row, what, key, seen = (
        tray_of(request, tray_id),
        post.get("what", ""),
        post.get("key", ""),
        post.get("revision", ""),
    )
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
        tray_actions.merge(garden, user, alike_in(row), today, key)
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
    return said(_in_tray(moving, into, today, "" if room is None else room.code), request.reader)


def _against_sowing(request: Any, row: Tray, today: date) -> list[str]:
    """What speaks against that sowing in this tray."""
    number = whole_number(request.POST.get("planting"))
    now = load(request.garden, today)
    bench = load_bench(now)
    item = next((i for i in now.items if i.batch is None and i.planting.pk == number), None)
    if item is None:
        return []
    return said(_in_tray([sowing_companion(item)], bench.thing(row), today), request.reader)


def _in_tray(moving: list[Companion], into: Thing, today: date, elsewhere: str = "") -> list[Conflict]:
    """Of those that would share a tray, and its lid where it has one."""
    found = before_sharing(moving, [into], "tray", today, None, elsewhere)
    kinds = {c.kind for c in found}
    lid = before_sharing(moving, [into], "lid", today, None, elsewhere) if into.lidded else []
    return found + [c for c in lid if c.kind not in kinds]


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
        todo = next((t for t in now.todos(now.horizon) if t.task.spec in (SOW, SOW_WINTER) and t.batch is None), None)
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
        "spots": Spot.objects.filter(garden=garden, kind__in=HOLDS).exclude(kind="rack"),
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
