"""Emergence: is it coming, what now?  All batches under the mix, counted with one hand; what was found, what the mix reads."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from django import forms
from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.beds.forms import Length
from aestiva.bench.forms import Degrees
from aestiva.course.finishing import write_done
from aestiva.course.state import SeasonState, load
from aestiva.course.warmth import MOST_C
from aestiva.emergence.around import WORDS, all_due, around, elsewhere, places, sows_anew, tray_mates, who_gains
from aestiva.emergence.coming import Coming, coming
from aestiva.emergence.draw import curves_svg, one_svg, symbols
from aestiva.emergence.heat import advice, heats, said
from aestiva.emergence.seedlings import MOST_SHOWN, choices, leaves, seedlings, verdict
from aestiva.emergence.wording import VERDICTS
from aestiva.emergence.words import headline, sentence, tone, verdict_lines
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.place.actions import keep_readings
from aestiva.place.filewords import problem_words
from aestiva.season.actions import add_event, split, typed_count
from aestiva.season.models import Batch, BatchEvent, Spot, WarmReading
from aestiva.season.places import stand, where
from growing.emergence.triggers import KINDS
from growing.place.soilsheet import read_soil
from growing.units import shown

MOST_DRAWN = 24
JUST_AFTER_MIDNIGHT = 0.5  # at 0 stands what a dial says of the whole day
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
    drawn = found[:MOST_DRAWN]
    if one is not None and one not in drawn:
        drawn = [one, *drawn[:-1]]
    up = seedlings(now, {c.batch for c in found})
    page = reverse("emergence", args=[garden.pk])
    context = {
        "view": "emergence",
        "headline": headline(found, now.today),
        "found": [(c, verdict_lines(c, now.today), tone(c.verdict.kind)) for c in found],
        "up": sum(c.up for c in found),
        "seeds": sum(c.seeds for c in found),
        "picture": curves_svg(
            drawn, now.today, request.units, [f"{page}?batch={c.batch}#one" for c in drawn], one.batch if one else None
        ),
        "more": len(found) - len(drawn),
        "one": one,
        "refused": refused,
        "troubles": now.troubles,
        "glyphs": symbols(),
        "seedlings": [
            (s, verdict(s, now.today), "" if s.seen is None else leaves(s.seen.leaves), choices(s)) for s in up
        ],
        "many_up": MOST_SHOWN,
        "length": shown(1, "cm", request.units)[1],
        "heats": [
            (h, advice(h, now.today, request.units), [(said(a, request.units), a.working) for a in h.alarms])
            for h in heats(now, found)
        ],
    }
    if one is not None:
        context |= _about(now, one, found, request.units) | _freed(request, now, found)
    return render(request, "emergence/emergence.html", context, status=422 if refused else 200)


def _about(now: SeasonState, one: Coming, found: list[Coming], units: str) -> dict[str, Any]:
    low, high = one.expected_by(now.today)
    return {
        "alone": one_svg(one, now.today, units),
        "low": low,
        "high": high,
        "sentence": sentence(one, now.today),
        "verdict": VERDICTS[one.verdict.kind].replace("{result}", ""),
        "tone": tone(one.verdict.kind),
        "lines": verdict_lines(one, now.today),
        "revision": one.item.batch.revision if one.item.batch is not None else 0,
        "elsewhere": elsewhere(now, one),
        "anew": sows_anew(one),
        "around": (there := around(one, now.today)),
        "due": all_due(there),
        "due_kinds": [s.kind for s in there if s.state == "now"],
        "mates": tray_mates(now, one, found),
        "to_sow": now.find(f"{one.item.raised.ref}.again.0") if one.verdict.sows else None,
        "said_by": ("assumed", "by one reading", "by least and most", "by probe")[one.had.by],
        "warmth": one.had.last_c,
        "found_words": FOUND,
    }


@garden_view("grower", back="emergence")
@require_POST
def count(request: Any, batch_id: int) -> HttpResponse:
    """How many are up, all together."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = _batch(garden, batch_id)
    number = typed_count(post.get("count", ""))
    with journal.change(
        garden, request.user, f"Counted {batch.planting}: {number} up"[:250], post.get("key", "")
    ) as write:
        batch = write.touch(batch, post.get("revision"))
        add_event(write, batch, "up", today, today, count=number)
    messages.success(request, f"{number} up.")
    return _back(garden, batch_id)


@garden_view("grower", back="emergence")
@require_POST
def trigger(request: Any, batch_id: int) -> HttpResponse:
    """Lamp, paper, vents, lid, mat, water from below: what was done around it today, one or several in one entry."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = _batch(garden, batch_id)
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
    return _back(garden, batch_id)


@garden_view("grower", back="emergence")
def move(request: Any, batch_id: int) -> HttpResponse:
    """Where else it could stand, with room, light and warmth; a mat that is left is offered to who gains most by it."""
    garden, today = request.garden, clock.today(request.garden)
    batch = _batch(garden, batch_id)
    if request.method == "POST":
        return _moved(request, batch)
    now = load(garden, today)
    one = next((c for c in coming(now) if c.batch == batch_id), None)
    context = {
        "view": "emergence",
        "batch": batch,
        "one": one,
        "places": [] if one is None else places(now, one),
        "revision": batch.revision,
    }
    return render(request, "emergence/move.html", context)


def _moved(request: Any, batch: Batch) -> HttpResponse:
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
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


def _freed(request: Any, now: SeasonState, found: list[Coming]) -> dict[str, Any]:
    """A mat that has just been left, and who would come up sooner on it."""
    pk = whole_number(request.GET.get("freed"))
    mat = Spot.objects.filter(pk=pk, garden=now.garden, kind="mat").first() if pk else None
    return {"freed": mat, "gains": who_gains(now, mat, found) if mat is not None else []}


@garden_view("grower", back="emergence")
@require_POST
def sow_again(request: Any, batch_id: int) -> HttpResponse:
    """Sow again, or more, as the verdict says: a batch of its own with a clock of its own, in the place that was chosen."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = _batch(garden, batch_id)
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
    return _back(garden, fresh.pk if fresh is not None else batch.pk)


@garden_view("grower", back="emergence")
@require_POST
def stage_seen(request: Any, batch_id: int) -> HttpResponse:
    """How many true leaves they have, and how high they are, if somebody measured."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = _batch(garden, batch_id)
    data = _stage(request, post.get("leaves", ""))
    said = leaves(int(data["leaves"]))
    with journal.change(
        garden, request.user, f"Looked at {batch.planting}: {said}"[:250], post.get("key", "")
    ) as write:
        batch = write.touch(batch, post.get("revision"))
        add_event(write, batch, "stage", today, today, data=data)
    messages.success(request, f"{batch.planting}: {said}.")
    return redirect(f"{reverse('emergence', args=[garden.pk])}#up")


def _stage(request: Any, typed: str) -> dict[str, float]:
    number = typed_count(typed, "leaves")
    high = _length(request.POST.get("cm", ""), request.units)
    return {"leaves": number} | ({} if high is None else {"cm": high})


@garden_view("grower", back="emergence")
@require_POST
def grade(request: Any, batch_id: int) -> HttpResponse:
    """The small ones into a batch of their own, with a stage and a clock of their own; the big ones stay."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = _batch(garden, batch_id)
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


@garden_view("grower", back="emergence")
@require_POST
def lifted(request: Any, batch_id: int) -> HttpResponse:
    """What was found on lifting some that are not up."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    batch = _batch(garden, batch_id)
    data = {k: typed_count(post.get(k, "") or "0", k) for k in FOUND}
    if not sum(data.values()):
        raise Refused("root", "how many did you lift, and what was there? Give at least one")
    said = ", ".join(f"{n} {k}" for k, n in data.items() if n)
    with journal.change(
        garden, request.user, f"Lifted some {batch.planting}: {said}"[:250], post.get("key", "")
    ) as write:
        batch = write.touch(batch, post.get("revision"))
        add_event(write, batch, "lifted", today, today, data={k: n for k, n in data.items() if n})
    messages.success(request, f"Written down: {said}.")
    return _back(garden, batch_id)


@garden_view("grower", back="emergence")
@require_POST
def reading(request: Any) -> HttpResponse:
    """What the mix reads at a place: now, or the least and the most of today off a dial."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    spot = get_object_or_404(Spot, pk=whole_number(post.get("spot")) or 0, garden=garden)
    low = _degrees(post.get("celsius", ""), request.units)
    if low is None:
        raise Refused("celsius", "what does the thermometer say? Give it in degrees")
    most = _degrees(post.get("most", ""), request.units)
    if most is not None and most < low:
        raise Refused("most", "the most is below the least: give the least first")
    hour = clock.instant().astimezone(ZoneInfo(garden.timezone)).hour or JUST_AFTER_MIDNIGHT
    with journal.change(garden, request.user, f"Read the mix on {spot.code}", post.get("key", "")) as write:
        row = WarmReading.objects.filter(spot=spot, day=today, hour=0.0 if most is not None else hour).first()
        row = row or WarmReading(garden=garden, spot=spot, day=today, hour=0.0 if most is not None else hour)
        row.celsius, row.most_c, row.source = low, most, "typed"
        write.save(row)
    messages.success(request, f"Kept for {spot.code}: clocks and verdicts use it.")
    return _back(garden, whole_number(post.get("batch")))


@garden_view("grower", back="emergence")
@require_POST
def probe_log(request: Any) -> HttpResponse:
    """What a probe in the mix of a place wrote down, as a sheet: all of it is taken, or nothing."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    spot = get_object_or_404(Spot, pk=whole_number(post.get("spot")) or 0, garden=garden)
    if "file" not in request.FILES:
        raise Refused("file", "choose the probe’s file first")
    hour = _hour(post.get("hour", ""))
    found = read_soil(request.FILES["file"].read(), today, hour, MOST_C)
    problem = found.fatal or next(iter(found.problems), None)
    if problem is not None:
        more = f" And {len(found.problems) - 1} more rows" if len(found.problems) > 1 else ""
        raise Refused("file", f"nothing was taken. {problem_words(problem)}{more}".rstrip("."))
    source = request.FILES["file"].name[:40]
    latest = {(row.day, row.hour): row for row in found.rows}
    rows = [
        WarmReading(garden=garden, spot=spot, day=row.day, hour=row.hour, celsius=row.celsius, source=source)
        for row in latest.values()
    ]
    summary = f"Brought in {len(rows)} readings of the mix on {spot.code}"
    keep_readings(garden, request.user, rows, summary, post.get("key", ""))
    when = f", all taken as read at {hour:g} o’clock" if found.no_hour else ""
    messages.success(request, f"{len(rows)} readings of {spot.code} are in{when}.")
    return _back(garden, whole_number(post.get("batch")))


def _hour(text: str) -> float:
    try:
        hour: float | None = forms.FloatField(min_value=0, max_value=24, required=False, localize=True).clean(text)
    except ValidationError as error:
        raise Refused("hour", "at which hour were they read, where the file says none? Give 0 to 24") from error
    return 8.0 if hour is None else hour


def _batch(garden: Garden, pk: int) -> Batch:
    return get_object_or_404(Batch.objects.select_related("planting"), pk=pk, planting__season__garden=garden)


def _back(garden: Garden, batch: int | None) -> HttpResponse:
    return redirect(f"{reverse('emergence', args=[garden.pk])}{f'?batch={batch}#one' if batch else ''}")


def _length(text: str, units: str) -> float | None:
    """A height as typed, in cm; None where nothing was.  Raises Refused."""
    if not text.strip():
        return None
    try:
        found: float | None = Length(units=units, low=0.1, high=200, label="height").clean(text.strip())
    except ValidationError as error:
        raise Refused("cm", "; ".join(error.messages)) from error
    return found


def _degrees(text: str, units: str) -> float | None:
    if not text.strip():
        return None
    field = Degrees(units=units, low=-10, high=55)
    try:
        found: float | None = field.clean(text.strip())
    except Exception as error:
        raise Refused("celsius", "; ".join(getattr(error, "messages", [str(error)]))) from error
    return found
