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

from aestiva.bench.forms import Degrees
from aestiva.course.state import SeasonState, load
from aestiva.course.warmth import MOST_C
from aestiva.emergence.coming import Coming, coming
from aestiva.emergence.draw import curves_svg, one_svg
from aestiva.emergence.wording import VERDICTS
from aestiva.emergence.words import headline, sentence, tone, verdict_lines
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.place.actions import keep_readings
from aestiva.place.filewords import problem_words
from aestiva.season.actions import add_event, typed_count
from aestiva.season.models import Batch, Spot, WarmReading
from growing.emergence.thermal_time import relative_share
from growing.emergence.verdict import until
from growing.place.soilsheet import read_soil

MOST_DRAWN = 24
AGAIN = ("again", "keep_again", "top_up", "late")
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
    shown = found[:MOST_DRAWN]
    if one is not None and one not in shown:
        shown = [one, *shown[:-1]]
    page = reverse("emergence", args=[garden.pk])
    context = {
        "view": "emergence",
        "headline": headline(found, now.today),
        "found": [(c, verdict_lines(c, now.today), tone(c.verdict.kind)) for c in found],
        "up": sum(c.up for c in found),
        "seeds": sum(c.seeds for c in found),
        "picture": curves_svg(
            shown, now.today, request.units, [f"{page}?batch={c.batch}#one" for c in shown], one.batch if one else None
        ),
        "more": len(found) - len(shown),
        "one": one,
        "refused": refused,
        "troubles": now.troubles,
    }
    if one is not None:
        context |= _about(now, one, request.units)
    return render(request, "emergence/emergence.html", context, status=422 if refused else 200)


def _about(now: SeasonState, one: Coming, units: str) -> dict[str, Any]:
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
        "elsewhere": _elsewhere(now, one),
        "anew": one.verdict.kind in AGAIN,
        "said_by": ("assumed", "by one reading", "by least and most", "by probe")[one.had.by],
        "warmth": one.had.last_c,
        "found_words": FOUND,
    }


def _elsewhere(now: SeasonState, one: Coming) -> list[tuple[str, float, Any, int]]:
    """Other places there are: how warm, when half would be up, and how many come there; the soonest first, alike ones once.

    Of what is to be sown again, as sown today.
    """
    anew = one.verdict.kind in AGAIN
    if now.shared is None or (one.case.x >= 1 and not anew):
        return []
    dating, found, had = now.shared.dating, [], set()
    for spot in Spot.objects.filter(garden=now.garden, kind__in=("mat", "shelf", "sill", "porch", "frame")):
        room = dating.room_at(spot.pk)
        if room is None:
            continue
        given = room.germinates_c(now.today)
        celsius = one.item.crop.number("germinate_c") if given is None else given
        here = spot.pk == one.had.spot
        if not here and round(celsius) in had:
            continue
        had.add(round(celsius))
        day = until(one.case.of, 0.0 if anew else one.case.x, 0.5, one.case.batch.sigma, celsius, now.today)
        whole = round(one.seeds * one.item.crop.number("fresh_germination") * relative_share(one.item.crop, celsius))
        found.append((f"{spot.code}{', here' if here else ''}", celsius, day, whole))
    return sorted(found, key=lambda f: (f[2] is None, f[2], -f[3]))[:5]


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
    hour = float(clock.instant().astimezone(ZoneInfo(garden.timezone)).hour)
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


def _degrees(text: str, units: str) -> float | None:
    if not text.strip():
        return None
    field = Degrees(units=units, low=-10, high=55)
    try:
        found: float | None = field.clean(text.strip())
    except Exception as error:
        raise Refused("celsius", "; ".join(getattr(error, "messages", [str(error)]))) from error
    return found
