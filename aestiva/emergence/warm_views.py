"""The warmth of the mix: read, off a dial, from a probe’s file; and as a sheet."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.course.state import load
from aestiva.course.warmth import MOST_C, NOON
from aestiva.emergence.views import at_batch, batch_of
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.forms import clock_hour, whole_number
from aestiva.gardens import clock
from aestiva.gardens import reading as files
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.place.actions import keep_readings
from aestiva.place.filewords import problem_words
from aestiva.season.models import Spot, WarmReading
from growing.place.soilsheet import soil_unpacked
from growing.seeds.clock import SOURCES

LOG = "mix"
USUAL_HOUR = 8.0  # at which a thermometer is read


@garden_view("grower", back="emergence")
@require_POST
def probe_log(request: Any) -> HttpResponse:
    """What a probe in the mix of a place wrote down, as a sheet: all of it is taken, or nothing."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    spot = get_object_or_404(Spot, pk=whole_number(post.get("spot")) or 0, garden=garden)
    said = {"today": today.isoformat(), "hour": _hour(post.get("hour", "")), "highest_c": MOST_C}
    if (file := request.FILES.get("file")) is not None:
        said |= {"source": file.name[:40], "spot": spot.pk, "batch": whole_number(post.get("batch"))}
    job = files.taken(request, LOG, said)
    hour, source, found = job.options["hour"], job.options.get("source", ""), soil_unpacked(job.result or {})
    problem = found.fatal or next(iter(found.problems), None)
    if problem is not None:
        more = f" And {len(found.problems) - 1} more rows" if len(found.problems) > 1 else ""
        raise Refused("file", f"nothing was taken. {problem_words(problem)}{more}".rstrip("."))
    latest = {(row.day, row.hour): row for row in found.rows}
    rows = [
        WarmReading(garden=garden, spot=spot, day=row.day, hour=row.hour, celsius=row.celsius, source=source)
        for row in latest.values()
    ]
    summary = f"Brought in {len(rows)} readings of the mix on {spot.code}"
    keep_readings(garden, request.user, rows, summary, post.get("key", ""))
    when = f", all taken as read at {say.hour_of_day(hour, request.reader)}" if found.no_hour else ""
    messages.success(request, f"{len(rows)} readings of {spot.code} are in{when}.")
    return redirect(at_batch(garden, whole_number(post.get("batch"))))


@garden_view("grower", back="emergence")
def log_read(request: Any) -> HttpResponse:
    """What a large log holds, once it has been read: to be kept, or not."""
    job = files.read_before(request, LOG, request.GET.get("job", ""))
    found = soil_unpacked(job.result or {})
    problem = found.fatal or next(iter(found.problems), None)
    days = [row.day for row in found.rows]
    context = {
        "view": "emergence",
        "count": len(days),
        "what": "readings of the mix",
        "first": min(days, default=None),
        "last": max(days, default=None),
        "problem": "" if problem is None else problem_words(problem),
        "address": reverse("emergence_log", args=[request.garden.pk]),
        "again": reverse("emergence", args=[request.garden.pk]),
        "hidden": {"spot": job.options["spot"], "batch": job.options["batch"] or "", "kept": job.key},
    }
    return render(request, "place/file_read.html", context, status=422 if problem else 200)


@garden_view(no_frost="emergence")
def warmth_csv(request: Any, batch_id: int) -> HttpResponse:
    """The warmth that a batch had, hour by hour, where each hour is from, and how far its clock ran."""
    garden = request.garden
    batch = batch_of(garden, batch_id)
    now = load(garden, clock.today(garden), [batch.planting_id])
    had = now.warm.get(batch.pk)
    if had is None:
        raise Http404("It does not lie under the mix any more.")
    first = datetime.combine(had.start, time(NOON))
    rows = [
        [(first + timedelta(hours=k)).isoformat(timespec="minutes"), round(float(celsius), 2), SOURCES[int(source)]]
        for k, (celsius, source) in enumerate(zip(had.hourly_c, had.source, strict=True))
    ]
    return csv_response(f"warmth-{batch.pk}.csv", ["hour", "celsius", "from"], rows)


def _hour(text: str) -> float:
    try:
        return clock_hour(text) if text.strip() else USUAL_HOUR
    except ValueError as error:
        raise Refused("hour", f"at which hour were they read, where the file says none? {error}") from error
