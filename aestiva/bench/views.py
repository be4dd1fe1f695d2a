"""One batch: what has happened, both ledgers, what comes next; and everything that can be written about it."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.frame import wording
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import member
from aestiva.gardens.providers import link
from aestiva.place.queries import NoFrostDate
from aestiva.plan.queries import FAR, Item, sheet
from aestiva.season.actions import Refused, accounts_of, add_event, fail, split, stand, typed_count, typed_day
from aestiva.season.models import Batch, Spot

# What can be recorded: words on the page, and the verb of the button.
RECORDS = (
    ("up", "up so far", "Count seedlings"),
    ("died", "died", "Record deaths"),
    ("given", "given away", "Give away"),
    ("thinned", "thinned", "Record thinning"),
    ("never_up", "will not come", "Give up waiting"),
    ("lost_outside", "lost in the garden", "Record a loss outdoors"),
)
EVENTS = {
    "sown": "sown, seeds",
    "up": "up so far",
    "never_up": "will not come",
    "received": "received",
    "thinned": "thinned",
    "pricked": "pricked out",
    "died": "died",
    "given": "given away",
    "moved": "split off",
    "planted": "planted out",
    "lost_outside": "lost in the garden",
    "lamp": "lamp on",
    "lid": "mat and lid off",
    "potted": "potted up",
    "outing": "outdoors",
    "note": "note",
}
STEPS = (
    ("sow", "Sow"),
    ("look", "First up"),
    ("lamp", "Lamp on"),
    ("up", "Half up"),
    ("lid", "Mat and lid off"),
    ("thin", "Thin"),
    ("prick", "Prick out"),
    ("pot", "Pot up"),
    ("harden", "Harden from"),
    ("out", "Plant out"),
)


def _mine(request: Any, batch_id: int) -> Batch:
    return get_object_or_404(
        Batch.objects.select_related("planting", "planting__spot", "parent"),
        pk=batch_id,
        planting__season__garden=request.garden,
    )


def _item(request: Any, batch: Batch, today: date) -> tuple[Any, Item | None]:
    now = sheet(request.garden, today, only=[batch.planting_id])
    return now, next((i for i in now.items if i.batch is not None and i.batch.pk == batch.pk), None)


@member()
def batch(request: Any, batch_id: int) -> HttpResponse:
    return _page(request, batch_id)


def _page(request: Any, batch_id: int, refused: Refused | None = None) -> HttpResponse:
    mine, today = _mine(request, batch_id), clock.today(request.garden)
    try:
        now, item = _item(request, mine, today)
    except NoFrostDate:
        return redirect("place", request.garden.pk)
    context: dict[str, Any] = {
        "view": "plan",
        "batch": mine,
        "planting": mine.planting,
        "crop": now.crops[mine.planting.crop_key],
        "events": list(mine.events.all()),
        "accounts": accounts_of(mine),
        "stands": list(mine.stands.select_related("spot").order_by("since", "pk")),
        "spots": Spot.objects.filter(garden=request.garden),
        "children": list(mine.children.all()),
        "records": RECORDS,
        "refused": refused,
        "typed": request.POST,
        "kinds": EVENTS,
        "words": wording.TASKS,
        "daily": ("look", "count", "harden", "stay_in", "carry_in", "cover"),
    }
    if item is not None:
        course = item.raised.course
        made = {k: date.fromisoformat(v) for k, v in mine.planting.made.items()}
        planned = {"sow": made.get("sow_on"), "out": made.get("out_on")}
        context["steps"] = [(name, course.steps[key], planned.get(key)) for key, name in STEPS if key in course.steps]
        context["dates"] = item.raised.dates
        context["item"] = item
        todos = sorted((t for t in now.todos(FAR) if t.item is item), key=lambda t: t.due)
        context["coming"] = [(t, link("task", request.garden.pk, t.task.key)) for t in todos[:6]]
    return render(request, "bench/batch.html", context, status=422 if refused else 200)


@member()
def card(request: Any, batch_id: int) -> HttpResponse:
    """A card to stand in the tray: what it is, when it was sown, what comes."""
    mine, today = _mine(request, batch_id), clock.today(request.garden)
    try:
        now, item = _item(request, mine, today)
    except NoFrostDate:
        return redirect("place", request.garden.pk)
    crop = now.crops[mine.planting.crop_key]
    steps = (
        [(name, item.raised.course.steps[key]) for key, name in STEPS if key in item.raised.course.steps]
        if item
        else []
    )
    cautions = [wording.CAUTIONS[c] for c in crop.cautions]
    context = {
        "view": "plan",
        "batch": mine,
        "planting": mine.planting,
        "crop": crop,
        "steps": steps,
        "cautions": cautions,
    }
    return render(request, "bench/card.html", context)


def _name(request: Any, mine: Batch) -> str:
    return f"{mine.planting.crop_key.replace('_', ' ')} {mine.planting.variety}".strip()


@member("grower")
@require_POST
def record(request: Any, batch_id: int) -> HttpResponse:
    """A count, a loss, a gift: an event that the ledgers must hold."""
    mine, today = _mine(request, batch_id), clock.today(request.garden)
    kind = request.POST.get("kind", "")
    words = {k: w for k, w, _ in RECORDS}
    if kind not in words:
        raise Http404("There is nothing of that kind to record.")
    try:
        count, on = typed_count(request.POST.get("count", "")), typed_day(request.POST.get("on", ""), "on", today)
        journal.check_revision(mine, request.POST.get("revision"))
        with journal.change(
            request.garden, request.user, f"{_name(request, mine)}: {count} {words[kind]}", request.POST.get("key", "")
        ) as write:
            add_event(
                write, mine, kind, on, today, count, "about" in request.POST, note=request.POST.get("note", "")[:200]
            )
            write.save(mine)
    except Refused as error:
        return _page(request, batch_id, error)
    except journal.Repeated:
        pass
    except journal.Stale:
        messages.error(
            request, "Somebody wrote about this batch in the meantime: look at the counts below, then record again."
        )
    return redirect("batch", request.garden.pk, batch_id)


@member("grower")
@require_POST
def change(request: Any, batch_id: int) -> HttpResponse:
    """Move to a spot, split, or give the whole batch up."""
    mine, today = _mine(request, batch_id), clock.today(request.garden)
    what, key = request.POST.get("what", ""), request.POST.get("key", "")
    target: Batch | None = None
    try:
        on = typed_day(request.POST.get("on", ""), "on", today)
        journal.check_revision(mine, request.POST.get("revision"))
        spot_id = whole_number(request.POST.get("spot"))
        spot = None if spot_id is None else get_object_or_404(Spot, pk=spot_id, garden=request.garden)
        if what == "move":
            if spot is None:
                raise Refused("spot", "choose where it goes")
            with journal.change(
                request.garden, request.user, f"Moved {_name(request, mine)} to {spot.code}", key
            ) as write:
                stand(write, mine, spot, on)
        elif what == "split":
            count = typed_count(request.POST.get("count", ""))
            with journal.change(
                request.garden, request.user, f"Split {count} off {_name(request, mine)}", key
            ) as write:
                target = split(write, mine, count, on, today, spot)
        elif what == "fail":
            with journal.change(
                request.garden, request.user, f"Gave up a batch of {_name(request, mine)}", key
            ) as write:
                fail(write, mine, on, today, request.POST.get("note", "")[:200])
            messages.success(request, "Given up. The sowing is back on Today while its window lasts.")
        else:
            raise Http404("There is nothing of that kind to do.")
    except Refused as error:
        return _page(request, batch_id, error)
    except journal.Repeated:
        pass
    except journal.Stale:
        messages.error(request, "Somebody wrote about this batch in the meantime: look at it first.")
    return redirect("batch", request.garden.pk, target.pk if target else batch_id)
