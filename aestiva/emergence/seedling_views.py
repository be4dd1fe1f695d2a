"""Those that are up: what somebody saw of them, big and small apart."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.beds.forms import Length
from aestiva.course.light import looks_of, up_since
from aestiva.course.state import Item, load
from aestiva.emergence.seedlings import leaves
from aestiva.emergence.views import batch_of, write_seen
from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import add_event, split, typed_count
from aestiva.season.models import Batch


@garden_view("grower", back="emergence")
@require_POST
def stage_seen(request: Any, batch_id: int) -> HttpResponse:
    """How many true leaves they have, and how high they are, if somebody measured."""
    batch = batch_of(request.garden, batch_id)
    said, _ = write_stage(request, batch)
    messages.success(request, f"{batch.planting}: {said}.")
    return redirect(f"{reverse('emergence', args=[request.garden.pk])}#up")


def write_stage(request: Any, batch: Batch) -> tuple[str, Item]:
    """Write how far they are; what was said, and the batch as it was before.  Raises Refused
    where nothing is up, and, unless it is said again, where they had more leaves."""
    data = _stage(request, request.POST.get("leaves", ""))
    count, said = int(data["leaves"]), leaves(int(data["leaves"]))
    here = load(request.garden, clock.today(request.garden), [batch.planting_id])
    item = here.item_of(batch.pk)
    if item is None or up_since(item) is None:
        raise Refused(
            "leaves", f"nothing of {batch.planting} is up yet, as far as anybody wrote down: count them first"
        )
    seen = looks_of(here, [item]).get(batch.pk, [])
    if seen and count < seen[-1].leaves and request.POST.get("fewer") != "1":
        had = leaves(seen[-1].leaves)
        raise Refused(
            "fewer",
            f"{batch.planting} had the {had} on {say.day(seen[-1].on)}: if there really are fewer now, say it once more",
        )
    write_seen(request, batch, f"Looked at {batch.planting}: {said}", "stage", data=data)
    return said, item


@garden_view("grower", back="emergence")
@require_POST
def grade(request: Any, batch_id: int) -> HttpResponse:
    """The small ones into a batch of their own, with a stage and a clock of their own; the big ones stay."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = batch_of(garden, batch_id)
    count = typed_count(post.get("small", ""), "small")
    data = _stage(request, post["leaves"]) if post.get("leaves", "").strip() else None
    with journal.change(
        garden, request.user, f"Graded {batch.planting}: {count} small ones by themselves"[:250], post.get("key", "")
    ) as write:
        batch = write.touch(batch, post.get("revision"))
        child = split(write, batch, count, today, today)
        if data is not None:
            add_event(write, child, "stage", today, today, data=data)
    messages.success(request, f"{count} small ones are a batch of their own. It can be taken back.")
    return redirect(f"{reverse('emergence', args=[garden.pk])}#up")


def _stage(request: Any, typed: str) -> dict[str, float]:
    number = typed_count(typed, "leaves")
    high = _length(request.POST.get("cm", ""), request.reader)
    return {"leaves": number} | ({} if high is None else {"cm": high})


def _length(text: str, units: Reader) -> float | None:
    """A height as typed, in cm; None where nothing was.  Raises Refused."""
    if not text.strip():
        return None
    try:
        found: float | None = Length(units=units, low=0.1, high=200, label="height").clean(text.strip())
    except ValidationError as error:
        raise Refused("cm", "; ".join(error.messages)) from error
    return found
