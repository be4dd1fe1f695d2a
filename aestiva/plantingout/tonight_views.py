"""Tonight: what to cover with what, how long and with how many pegs; uncovering; covers at hand; losses and what fills the gaps."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.bench.hands_views import turns_on
from aestiva.course.state import Item, SeasonState, load
from aestiva.emergence.views import batch_of
from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.frame.say import shown
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.hardening.together import done_together
from aestiva.hardening.tonight import pots_tonight
from aestiva.plantingout.draw_tonight import beds_svg
from aestiva.plantingout.forms import read_cover
from aestiva.plantingout.models import CoverAtHand
from aestiva.plantingout.tonight import Tonight, tonight
from aestiva.season.actions import add_event, typed_count
from aestiva.season.places import stand
from growing.place.covers import COVERS
from growing.plantingout.steps import CARRY_IN, COVER, UNCOVER

TONIGHT = (COVER.kind, UNCOVER.kind, CARRY_IN.kind)


@garden_view(no_frost="plan")
def beds_tonight(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, **kwargs: Any) -> HttpResponse:
    """Everything that is outdoors this evening."""
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found, pots = tonight(now), pots_tonight(now)
    todos = now.todos(today, TONIGHT)
    context = {
        "view": "plantingout",
        "headline": headline(found, len(pots.must_in)),
        "tonight": found,
        "pots": pots,
        "svg": beds_svg(found, request.reader),
        "cover": [t for t in todos if t.task.kind == "cover" and t.task.due == today],
        "uncover": [t for t in todos if t.task.kind == "uncover"],
        "carry": [t for t in todos if t.task.kind == "carry_in" and t.task.due == today],
        "kinds": COVERS.items(),
        "rows": CoverAtHand.objects.filter(garden=garden),
        "metre": shown(1, "m", request.reader)[1],
        "gaps": gaps(now),
        "steps": STEPS,
        "refused": refused,
        "typed": request.POST if refused else {},
        "troubles": now.troubles,
        **turns_on(garden, today),
    }
    return render(request, "plantingout/tonight.html", context, status=422 if refused else 200)


def headline(found: Tonight, pots_in: int) -> str:
    """“Cover tonight: 16 plants under 8 m of fleece”."""
    if found.night is None:
        return "No forecast reaches tonight: nothing watches for frost"
    if found.to_cover:
        return f"Cover {say.plural(found.plants, 'plant')} tonight"
    if pots_in:
        return f"Carry in {say.plural(pots_in, 'batch', 'batches')} tonight"
    return "Nothing outdoors needs you tonight" if found.lines else "Nothing stands in the beds tonight"


def gaps(now: SeasonState) -> list[tuple[Item, int, list[Item]]]:
    """Plantings outdoors that have lost some, how many are missing, and batches with plants to fill the gaps."""
    found = []
    for item in now.items:
        accounts = item.raised.accounts
        if item.batch is None or accounts is None or not accounts.planted:
            continue
        missing = min(accounts.planted - (accounts.outdoors or 0), accounts.planted)
        if missing <= 0:
            continue
        spares = [
            o
            for o in now.items
            if o.batch is not None
            and o.batch != item.batch
            and o.crop.key == item.crop.key
            and o.raised.growing
            and o.raised.plants
        ]
        found.append((item, missing, spares))
    return found


@garden_view("grower", back="beds_tonight", page=page)
@require_POST
def covered(request: Any) -> HttpResponse:
    """Covered, uncovered or carried in: one walk, one entry."""
    said = done_together(request, TONIGHT, "that is done already: look at the list again")
    messages.success(request, f"{said}.")
    return redirect("beds_tonight", request.garden.pk)


@garden_view("grower", back="beds_tonight", page=page)
@require_POST
def lost(request: Any, batch_id: int) -> HttpResponse:
    """Lost in the garden; and the gaps filled from another batch of the crop, where one is named."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = batch_of(garden, batch_id)
    count = typed_count(post.get("count", "")) if post.get("count", "").strip() else 0
    fill = typed_count(post.get("fill", ""), "fill") if post.get("fill", "").strip() else 0
    if count < 0 or fill < 0 or not count + fill:
        raise Refused("count", "how many were lost, or filled? Give 1 or more")
    spare_pk = whole_number(post.get("spare"))
    if fill and spare_pk is None:
        raise Refused("spare", "fill the gaps from which batch? Choose one")
    said = f"{batch.planting}: {f'{count} lost' if count else ''}{', ' if count and fill else ''}{f'{fill} filled' if fill else ''}"
    with journal.change(garden, request.user, said[:250], post.get("key", "")) as write:
        batch = write.touch(batch, post.get("revision"))
        if count:
            add_event(write, batch, "lost_outside", today, today, count=count)
        if fill and spare_pk is not None:
            spare = write.touch(batch_of(garden, spare_pk))
            if spare.pk == batch.pk:
                raise Refused("spare", "gaps are filled from another batch")
            add_event(
                write, spare, "planted", today, today, count=fill, note=f"into the gaps of {batch.planting}"[:200]
            )
            now = load(garden, today, [spare.planting_id])
            left = now.item_of(spare.pk)
            if batch.planting.spot is not None and left is not None and left.raised.plants == 0:
                stand(write, spare, batch.planting.spot, today)
    messages.success(request, f"{said}.")
    return redirect("beds_tonight", garden.pk)


@garden_view("grower", back="beds_tonight", page=page)
@require_POST
def cover_keep(request: Any) -> HttpResponse:
    """A cover that the garden has."""
    garden, post = request.garden, request.POST
    row = read_cover(CoverAtHand(garden=garden), post, request.reader)
    with journal.change(garden, request.user, f"Cover at hand: {row.get_kind_display()}", post.get("key", "")) as write:
        write.save(row)
    messages.success(request, f"{row.get_kind_display()} is at hand.")
    return redirect("beds_tonight", garden.pk)


@garden_view("grower", back="beds_tonight", page=page)
@require_POST
def cover_remove(request: Any, cover_id: int) -> HttpResponse:
    """A cover that is worn out."""
    garden = request.garden
    row = get_object_or_404(CoverAtHand, pk=cover_id, garden=garden)
    with journal.change(
        garden, request.user, f"{row.get_kind_display()} is gone", request.POST.get("key", "")
    ) as write:
        write.delete(row)
    messages.success(request, f"{row.get_kind_display()} is gone. It can be taken back.")
    return redirect("beds_tonight", garden.pk)
