"""Emergence: is it coming, what now?  All batches under the mix, counted with one hand; what was found, what the mix reads."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench.models import SOAK, Timer
from aestiva.course.finishing import write_done
from aestiva.course.state import SeasonState, load
from aestiva.emergence.around import WORDS, all_due, around, elsewhere, places, sows_anew, tray_mates, who_gains
from aestiva.emergence.boxes import boxes
from aestiva.emergence.boxes import headline as box_headline
from aestiva.emergence.coming import SowingComing, coming
from aestiva.emergence.draw import curves_svg, one_svg, symbols
from aestiva.emergence.heat import advice, heats, said
from aestiva.emergence.seedlings import MOST_SHOWN, choices, leaves, seedlings, verdict
from aestiva.emergence.words import headline, seed_words, sentence, tone, verdict_lines
from aestiva.frame.forms import whole_number
from aestiva.frame.say import Reader, shown
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.plan.choosing import prices_for
from aestiva.season.actions import add_event, typed_count
from aestiva.season.models import Batch, BatchEvent, CellRun, Spot
from aestiva.season.places import stand, where
from aestiva.seeds.queries import had
from growing.batch.verdict import reasons
from growing.bench.steps import SowingDetail
from growing.emergence.triggers import KINDS

MOST_DRAWN, MOST_LISTED = 8, 20
USUAL_SOAK_H, SOAK_SLACK = 12.0, 1.5  # of a crop that names no hours; times those from which it was too long: estimates
FOUND = ("root", "swollen", "soft", "nothing")


@garden_view(no_frost="emergence")
def emergence(request: Any) -> HttpResponse:
    return _page(request)


def _page(request: Any, refused: Refused | None = None, batch_id: int | None = None) -> HttpResponse:
    garden = request.garden
    now = load(garden, clock.today(garden))
    found = coming(now)
    asked = batch_id or whole_number(request.GET.get("batch"))
    one = next((c for c in found if c.batch == asked), found[0] if found else None)
    outdoors = boxes(now)
    drawn = found[:MOST_DRAWN]
    listed = found if request.GET.get("list") == "all" else found[:MOST_LISTED]
    if one is not None and one not in drawn:
        drawn = [one, *drawn[:-1]]
    up = seedlings(now, {c.batch for c in found})
    shown_up = up if len(up) <= MOST_SHOWN or request.GET.get("up") == "all" else up[:MOST_SHOWN]
    page = reverse("emergence", args=[garden.pk])
    context = {
        "view": "emergence",
        "headline": headline(found, now.today) if found or not outdoors else box_headline(outdoors),
        "boxes": outdoors,
        "found": [(c, verdict_lines(c, now.today), tone(c.verdict.kind)) for c in listed],
        "total": len(found),
        "up": sum(c.up for c in found),
        "seeds": sum(c.seeds for c in found),
        "picture": curves_svg(
            drawn, now.today, request.reader, [f"{page}?batch={c.batch}#one" for c in drawn], one.batch if one else None
        ),
        "more": len(found) - len(drawn),
        "one": one,
        "refused": refused,
        "troubles": now.troubles,
        "glyphs": symbols(),
        "seedlings": [
            (s, verdict(s, now.today), "" if s.seen is None else leaves(s.seen.leaves), choices(s)) for s in shown_up
        ],
        "all_up": 0 if shown_up is up else len(up),
        "length": shown(1, "cm", request.reader)[1],
        "heats": [
            (h, advice(h, now.today, request.reader), [(said(a, request.reader), a.working) for a in h.alarms])
            for h in heats(now, found)
        ],
    }
    if one is not None:
        context |= _about(now, one, found, request.reader) | _freed(request, now, found)
    return render(request, "emergence/emergence.html", context, status=422 if refused else 200)


def _about(now: SeasonState, one: SowingComing, found: list[SowingComing], units: Reader) -> dict[str, Any]:
    low, high = one.expected_by(now.today)
    one = _with_soak(one)
    return {
        "alone": one_svg(one, now.today, units),
        "low": low,
        "high": high,
        "sentence": sentence(one, now.today),
        "tone": tone(one.verdict.kind),
        "lines": verdict_lines(one, now.today),
        "revision": one.item.batch.revision if one.item.batch is not None else 0,
        "elsewhere": elsewhere(now, one),
        "anew": sows_anew(one),
        "around": (there := around(one, now.today)),
        "due": all_due(there),
        "due_kinds": [s.kind for s in there if s.state == "now"],
        "mates": tray_mates(now, one, found),
        **_to_sow(now, one, units),
        "tray": CellRun.objects.filter(batch=one.batch, until=None).values_list("tray_id", flat=True).first(),
        "said_by": ("assumed", "by one reading", "by least and most", "by probe")[one.had.by],
        "warmth": one.had.last_c,
        "found_words": FOUND,
    }


@garden_view("grower", back="emergence")
@require_POST
def count(request: Any, batch_id: int) -> HttpResponse:
    """How many are up, all together."""
    batch = batch_of(request.garden, batch_id)
    number = typed_count(request.POST.get("count", ""))
    write_seen(request, batch, f"Counted {batch.planting}: {number} up", "up", count=number)
    messages.success(request, f"{number} up.")
    return back_to(request.garden, batch_id)


@garden_view("grower", back="emergence")
@require_POST
def trigger(request: Any, batch_id: int) -> HttpResponse:
    """Lamp, paper, vents, lid, mat, water from below: what was done around it today, one or several in one entry."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = batch_of(garden, batch_id)
    asked = set(post.getlist("kind"))
    if not asked and "all" in post:  # all that is due
        found = next((c for c in coming(load(garden, today, [batch.planting_id])) if c.batch == batch_id), None)
        asked = {s.kind for s in around(found, today) if s.state == "now"} if found is not None else set()
    kinds = [kind for kind in KINDS if kind in asked]
    if not kinds or len(kinds) != len(asked):
        raise Refused("kind", "choose what was done: " + ", ".join(WORDS[k].lower() for k in KINDS))
    said = " · ".join(WORDS[kind].lower() for kind in kinds)
    with journal.change(garden, request.user, f"{batch.planting}: {said}"[:250], post.get("key", "")) as write:
        batch = write.touch(batch, post.get("revision"))
        done = set(BatchEvent.objects.filter(batch=batch, kind__in=kinds).values_list("kind", flat=True))
        if done == set(kinds):
            raise Refused("kind", f"{said}: that is written down already; take it back in the journal if it is not so")
        for kind in kinds:
            if kind not in done:
                add_event(write, batch, kind, today, today)
    messages.success(request, f"Written down: {said}.")
    return back_to(garden, batch_id)


def _with_soak(one: SowingComing) -> SowingComing:
    """Where it is late: was its seed soaked too long before it was sown?  By the timer of the soak, if there was one."""
    if not one.verdict.reasons:
        return one
    soaks = Timer.objects.filter(planting=one.item.planting, kind=SOAK, done_at__isnull=False)
    garden = one.item.planting.season.garden
    soak = next((s for s in soaks.order_by("-started") if clock.day_at(garden, s.started) <= one.had.start), None)
    if soak is None or soak.done_at is None:
        return one
    hours, most = (soak.done_at - soak.started).total_seconds() / 3600, one.item.crop.number("soak_h") or USUAL_SOAK_H
    case = one.case._replace(soak_hours=hours, soak_most=SOAK_SLACK * most)
    return replace(one, case=case, verdict=one.verdict._replace(reasons=reasons(case)))


def _to_sow(now: SeasonState, one: SowingComing, units: Reader) -> dict[str, Any]:
    """What is to be sown again, and what the packet says to it."""
    todo = now.find(f"{one.item.raised.ref}.again.0") if one.verdict.sows else None
    if todo is None or one.item.batch is None:
        return {"to_sow": None}
    lot = None if one.item.batch.lot_id is None else now.lots.get(one.item.batch.lot_id)
    takes = (todo.task.count or 0) * (todo.task.detail.per_cell if isinstance(todo.task.detail, SowingDetail) else 1)
    price = prices_for(now.garden, one.item.crop, lot).seed
    return {"to_sow": todo, "seed": seed_words(None if lot is None else had(lot), takes, price, units)}


@garden_view(no_frost="emergence")
def move(request: Any, batch_id: int) -> HttpResponse:
    """Where else it could stand, with room, light and warmth; a mat that is left is offered to who gains most by it."""
    garden, today = request.garden, clock.today(request.garden)
    batch, now = batch_of(garden, batch_id), load(garden, today)
    one = next((c for c in coming(now) if c.batch == batch_id), None)
    item = now.item_of(batch_id)
    context = {
        "view": "emergence",
        "batch": batch,
        "one": one,
        "item": item,
        "places": [] if item is None else places(now, item, one),
        "revision": batch.revision,
    }
    return render(request, "emergence/move.html", context)


@garden_view("grower", back="emergence")
@require_POST
def moved(request: Any, batch_id: int) -> HttpResponse:
    """It stands there from today on."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = batch_of(garden, batch_id)
    spot = Spot.objects.filter(pk=whole_number(post.get("spot")) or 0, garden=garden).first()
    if spot is None:
        raise Refused("spot", "choose where it goes")
    with journal.change(
        garden, request.user, f"Moved {batch.planting} to {spot.code}"[:250], post.get("key", "")
    ) as write:
        batch = write.touch(batch, post.get("revision"))
        left = where(batch)
        stand(write, batch, spot, today)
    messages.success(request, f"{batch.planting} stands on {spot.code} now.")
    free = f"&freed={left.pk}" if left is not None and left.kind == "mat" and left.pk != spot.pk else ""
    return redirect(f"{reverse('emergence', args=[garden.pk])}?batch={batch.pk}{free}#one")


def _freed(request: Any, now: SeasonState, found: list[SowingComing]) -> dict[str, Any]:
    """A mat that has just been left, and who would come up sooner on it."""
    pk = whole_number(request.GET.get("freed"))
    mat = Spot.objects.filter(pk=pk, garden=now.garden, kind="mat").first() if pk else None
    return {"freed": mat, "gains": who_gains(now, mat, found) if mat is not None else []}


@garden_view("grower", back="emergence")
@require_POST
def sow_again(request: Any, batch_id: int) -> HttpResponse:
    """Sow again, or more, as the verdict says: a batch of its own with a clock of its own, in the place that was chosen."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = batch_of(garden, batch_id)
    now = load(garden, today, [batch.planting_id])
    todo = now.find(f"b{batch.pk}.again.0")
    if todo is None:
        raise Refused("count", "nothing is to be sown again for it: look at it once more")
    number = typed_count(post["count"]) if post.get("count", "").strip() else None
    if number is not None and not 0 < number <= 5000:
        raise Refused("count", f"{number} cannot be: give 1 to 5000")
    spot = Spot.objects.filter(pk=whole_number(post.get("spot")) or 0, garden=garden).first()
    said = f"Sowed {number or todo.task.count} {todo.task.unit} of {batch.planting} again"
    with journal.change(garden, request.user, said[:250], post.get("key", "")) as write:
        write.touch(batch, post.get("revision"))
        fresh = write_done(write, now, request.user, todo, today, today, number)
        if fresh is not None and spot is not None:
            stand(write, fresh, spot, today)
    messages.success(request, f"{said}. The first batch stays as it is.")
    return back_to(garden, fresh.pk if fresh is not None else batch.pk)


@garden_view("grower", back="emergence")
@require_POST
def lifted(request: Any, batch_id: int) -> HttpResponse:
    """What was found on lifting some that are not up."""
    batch = batch_of(request.garden, batch_id)
    data = {k: typed_count(request.POST.get(k, "") or "0", k) for k in FOUND}
    if not sum(data.values()):
        raise Refused("root", "how many did you lift, and what was there? Give at least one")
    said = ", ".join(f"{n} {k}" for k, n in data.items() if n)
    found = {k: n for k, n in data.items() if n}
    write_seen(request, batch, f"Lifted some {batch.planting}: {said}", "lifted", data=found)
    messages.success(request, f"Written down: {said}.")
    return back_to(request.garden, batch_id)


def write_seen(request: Any, batch: Batch, summary: str, kind: str, **more: Any) -> None:
    """Write what was seen of a batch today, as one entry."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    with journal.change(garden, request.user, summary[:250], post.get("key", "")) as write:
        add_event(write, write.touch(batch, post.get("revision")), kind, today, today, **more)


def batch_of(garden: Garden, pk: int) -> Batch:
    return get_object_or_404(Batch.objects.select_related("planting"), pk=pk, planting__season__garden=garden)


def back_to(garden: Garden, batch: int | None) -> HttpResponse:
    return redirect(f"{reverse('emergence', args=[garden.pk])}{f'?batch={batch}#one' if batch else ''}")
