"""Moving on: how far they are, into a bigger pot or not, what is over, what is drawn."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.care.draw import leaf_figure
from aestiva.care.draw_moving import row_svg
from aestiva.care.moving import KINDS, MoveRow, rows
from aestiva.course.finishing import write_done
from aestiva.course.light import up_since
from aestiva.course.state import SeasonState, load
from aestiva.emergence.views import batch_of
from aestiva.frame import say
from aestiva.frame.say import Reader, shown
from aestiva.frame.wording import STEPS, how
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import add_event, split, typed_count
from growing.care.moving import EVENTS

MOST = 30
OVER = {
    "keep": "Kept as spares",
    "give": "Given away",
    "sell": "Sold",
    "snip": "Snipped",
}


@garden_view(no_frost="care")
def moving(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, batch_id: int | None = None) -> HttpResponse:
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found = rows(now)
    asked = request.GET.get("batch", "")
    if asked.isdigit():
        found = [r for r in found if r.batch == int(asked)] or found
    every = request.GET.get("all") == "1"
    shown_rows = found if every else found[:MOST]
    context = {
        "view": "care",
        "headline": headline(found, now),
        "rows": [_shown(r, now, request.reader) for r in shown_rows],
        "more": len(found) - len(shown_rows),
        "length": shown(1, "cm", request.reader)[1],
        "refused": refused,
        "troubles": now.troubles,
    }
    return render(request, "care/moving.html", context, status=422 if refused else 200)


def headline(found: list[MoveRow], now: SeasonState) -> str:
    """“3 move on today: thin Lettuce, pot up Tomato and 1 more”"""
    if not found:
        return "Nothing is up that could move on"
    due = [r for r in found if r.due(now.today)]
    if due:
        names = [f"{STEPS[t.task.kind].act} {r.item.full_name}" for r in due for t in r.todos if t.due <= now.today]
        return f"{say.plural(len(due), 'batch moves', 'batches move')} on today: {say.listed(names, 2)}"
    looks = sum(r.ask.due for r in found)
    coming = min((c.on for r in found for c in r.coming if c.on > now.today), default=None)
    next_ = f"; the next {say.day(coming)}" if coming is not None else ""
    asked = f", {say.plural(looks, 'batch wants', 'batches want')} a look at the leaves" if looks else ""
    return f"Nobody moves on today{next_}{asked}"


def _shown(row: MoveRow, now: SeasonState, units: Reader) -> dict[str, Any]:
    return {
        "row": row,
        "svg": row_svg(row, now),
        "choices": [(n, name, leaf_figure(n)) for n, name in row.ask.choices],
        "heights": row.ask.heights(units),
        "works": [(t, t.due <= now.today, STEPS[t.task.kind], how(t.task, t.crop, units)) for t in row.todos],
        "ways": [(w, OVER[w.key], say.number(w.flats)) for w in row.over.ways] if row.over is not None else [],
    }


@garden_view("grower", back="care_moving", page=page)
@require_POST
def roots(request: Any, batch_id: int) -> HttpResponse:
    """What was seen of the roots, and whether leaves stand over each other: two taps."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch, seen = batch_of(garden, batch_id), post.get("roots", "")
    if seen not in EVENTS:
        raise Refused("roots", f"what do the roots look like: {', '.join(EVENTS)}?")
    _up(load(garden, today, [batch.planting_id]), batch_id)
    said = f"Roots of {batch.planting}: {seen}"
    with journal.change(garden, request.user, said[:250], post.get("key", "")) as write:
        batch = write.touch(batch, post.get("revision"))
        add_event(write, batch, EVENTS[seen], today, today)
        if post.get("crowded") == "1":
            add_event(write, batch, "crowded", today, today)
    messages.success(request, f"{said}.")
    return _back(request, batch_id)


@garden_view("grower", back="care_moving", page=page)
@require_POST
def done(request: Any, batch_id: int) -> HttpResponse:
    """The work that is due, done; fewer than all leave the rest open."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch, kind = batch_of(garden, batch_id), post.get("kind", "")
    now = load(garden, today, [batch.planting_id])
    todo = next((t for t in now.todos(now.horizon, KINDS) if t.batch == batch and t.task.kind == kind), None)
    if todo is None:
        raise Refused("kind", "there is nothing of that kind to do with them any more: look at the page again")
    count = typed_count(post["count"]) if post.get("count", "").strip() else None
    said = f"{STEPS[kind].verb} {batch.planting}{'' if count is None else f', {count}'}"
    with journal.change(garden, request.user, said[:250], post.get("key", "")) as write:
        write.touch(batch, post.get("revision"))
        write_done(write, now, request.user, todo, today, today, count)
    messages.success(request, f"{said}. It can be taken back.")
    return _back(request, batch_id)


@garden_view("grower", back="care_moving", page=page)
@require_POST
def separate(request: Any, batch_id: int) -> HttpResponse:
    """Those that are too many in their cells are separated and all kept, not thinned."""
    garden, post = request.garden, request.POST
    batch = batch_of(garden, batch_id)
    with journal.change(
        garden, request.user, f"{batch.planting}: separated, not thinned"[:250], post.get("key", "")
    ) as write:
        batch = write.touch(batch, post.get("revision"))
        if batch.surplus == "keep":
            raise Refused("surplus", "they are to be separated already")
        batch.surplus = "keep"
        write.save(batch)
    messages.success(request, f"{batch.planting}: separated and all kept, each in a cell of its own.")
    return _back(request, batch_id)


@garden_view("grower", back="care_moving", page=page)
@require_POST
def over(request: Any, batch_id: int) -> HttpResponse:
    """What becomes of those that are over."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch, way = batch_of(garden, batch_id), post.get("way", "")
    if way not in OVER:
        raise Refused("way", "choose what becomes of them")
    count = typed_count(post.get("count", ""), "count")
    if count < 1:
        raise Refused("count", f"{count} cannot be: give 1 or more")
    said = f"{OVER[way]}: {count} {batch.planting}"
    with journal.change(garden, request.user, said[:250], post.get("key", "")) as write:
        batch = write.touch(batch, post.get("revision"))
        if way == "keep":
            split(write, batch, count, today, today)
        else:
            kind = "thinned" if way == "snip" else "given"
            add_event(write, batch, kind, today, today, count=count, note="sold" if way == "sell" else "")
    messages.success(request, f"{said}. It can be taken back.")
    return _back(request, batch_id)


def _up(now: SeasonState, batch_id: int) -> None:
    item = now.item_of(batch_id)
    if item is None or up_since(item) is None:
        raise Refused("batch", "nothing of it is up yet, as far as anybody wrote down: count them first")


def _back(request: Any, batch_id: int) -> HttpResponse:
    return redirect(f"{reverse('care_moving', args=[request.garden.pk])}#b{batch_id}")
