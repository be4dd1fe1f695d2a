"""The garden's own thermometer and soil probe: typed, from a file, or posted by a device."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.frame.links import outside
from aestiva.gardens import clock, reading
from aestiva.gardens.access import garden_view
from aestiva.gardens.commands import Command
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.posting import actor_of, carry_out, kept
from aestiva.gardens.providers import link
from aestiva.place import actions
from aestiva.place.commands import MakeKey, ReadNight, ReadSoil, RemoveNight, RemoveSoil, take
from aestiva.place.filewords import problem_words
from aestiva.place.keys import OPENS, NotAdmitted, key_of, problem
from aestiva.place.models import Feed, GardenNight, SoilReading
from aestiva.place.queries import estimated_shift, frost_of, record_of, soil_readings
from growing.place.computedwarmth import ComputedWarmth
from growing.place.feed import MOST_BYTES, BadPost
from growing.place.soilsheet import HIGHEST_C, soil_unpacked
from growing.place.weathersheet import daily_of

SHOWN = 30
MOST_NIGHTS = 4000  # eleven years


KEEPS: dict[str, type[Command]] = {"soil": ReadSoil, "night": ReadNight}


@garden_view(back="readings")
def readings(request: Any) -> HttpResponse:
    """Own nights against the station's, soil readings against the model."""
    garden, today, actor = request.garden, clock.today(request.garden), actor_of(request)
    which = request.POST.get("which", "")
    forms = {name: keep(actor, request.POST if which == name else None) for name, keep in KEEPS.items()}
    problem = ""
    if request.method == "POST":
        given = request.FILES.get("file") or "kept" in request.POST
        if which == "remove":
            carry_out(
                RemoveSoil if request.POST.get("of") == "soil" else RemoveNight,
                request,
                {"pk": request.POST.get("pk", "")},
            )
            return redirect("readings", garden.pk)
        if which in _FILES and given:
            problem = _FILES[which](request, today)
        elif which in forms:
            kept(request, forms[which])
        if not problem and (which not in forms or not forms[which].errors):
            return redirect("readings", garden.pk)
    soil, night = forms["soil"], forms["night"]
    frost = frost_of(garden)
    record = None if frost.station is None else record_of(frost.station)
    calibration = None
    if record is not None:
        series = (record.minima, record.maxima)
        calibration = ComputedWarmth(
            garden.southern, *series, frost.shift_c, frost.cover, soil_readings(garden)
        ).calibration
    context = {
        "view": "place",
        "soil_form": soil,
        "night_form": night,
        "problem": problem,
        "frost": frost,
        "shift": None if record is None else estimated_shift(garden, record),
        "calibration": calibration,
        "nights": Paginator(GardenNight.objects.filter(garden=garden), SHOWN).get_page(request.GET.get("nights")),
        "soil": Paginator(SoilReading.objects.filter(garden=garden), SHOWN).get_page(request.GET.get("soil")),
    }
    status = 422 if problem or soil.errors or night.errors else 200
    return render(request, "place/readings.html", context, status=status)


def _nights_file(request: Any, today: date) -> str:
    """Own minima from a daily CSV; the problem in words when nothing was taken."""
    try:
        job = reading.taken(request, "nights", {"near": today.isoformat(), "today": today.isoformat()})
    except Refused as refused:
        return f"Nothing was taken. {refused}"
    parsed = daily_of(job.result or {})
    problem = parsed.fatal or next((p for p in parsed.problems if p.row), None)
    if problem is not None:
        return f"Nothing was taken. {problem_words(problem)}"
    rows = [
        GardenNight(garden=request.garden, day=d, tmin_c=round(float(v), 2), source="file")
        for d, v in zip(parsed.days, parsed.tmin, strict=True)
        if v == v
    ]
    if len(rows) > MOST_NIGHTS:
        return f"Nothing was taken. The file has {len(rows):,} nights; up to {MOST_NIGHTS:,} are read at once: cut it down."
    summary = f"Brought in {len(rows)} of the garden’s own nights"
    actions.keep_readings(request.garden, request.user, rows, summary, request.POST.get("key", ""))
    messages.success(request, f"{len(rows)} nights are in.")
    return ""


def _soil_file(request: Any, today: date) -> str:
    """Readings of a soil probe from a sheet; the problem in words when nothing was taken."""
    form = ReadSoil(actor_of(request), {"hour": request.POST.get("hour", "0")})
    form.is_valid()
    hour = form.cleaned_data.get("hour")
    if hour is None:
        return "Nothing was taken. Say the hour of the day for readings without one: 0 to 24."
    try:
        job = reading.taken(request, "soil", {"today": today.isoformat(), "hour": hour, "highest_c": HIGHEST_C})
    except Refused as refused:
        return f"Nothing was taken. {refused}"
    hour, found = job.options["hour"], soil_unpacked(job.result or {})
    problem = found.fatal or next(iter(found.problems), None)
    if problem is not None:
        more = f" And {len(found.problems) - 1} more rows." if len(found.problems) > 1 else ""
        return f"Nothing was taken. {problem_words(problem)}{more}"
    latest = {(row.day, row.hour): row for row in found.rows}
    rows = [
        SoilReading(garden=request.garden, day=d, hour=h, celsius=r.celsius, source="file")
        for (d, h), r in latest.items()
    ]
    summary = f"Brought in {len(rows)} readings of the soil"
    actions.keep_readings(request.garden, request.user, rows, summary, request.POST.get("key", ""))
    when = f", all taken as read at {say.hour_of_day(hour, request.reader)}" if found.no_hour else ""
    messages.success(request, f"{len(rows)} readings are in{when}.")
    return ""


_FILES = {"file": _nights_file, "soilfile": _soil_file}


@garden_view("grower", back="readings")
def file_read(request: Any) -> HttpResponse:
    """What a large file holds, once it has been read: to be kept, or not."""
    garden, key = request.garden, request.GET.get("job", "")
    kind = reading.kind_of(request, key, ("soil", "nights", "forecast"))
    job = reading.read_before(request, kind, key)
    found = job.result or {}
    if kind == "soil":
        soil = soil_unpacked(found)
        problem, days = soil.fatal or next(iter(soil.problems), None), [row.day for row in soil.rows]
    else:
        parsed = daily_of(found)
        problem, days = parsed.fatal or next((p for p in parsed.problems if p.row), None), list(parsed.days)
    what, page = {"soil": ("readings of the soil", "readings"), "nights": ("nights", "readings")}.get(
        kind, ("days of weather", "forecast")
    )
    context = {
        "view": "place",
        "count": len(days),
        "what": what,
        "first": min(days, default=None),
        "last": max(days, default=None),
        "problem": "" if problem is None else problem_words(problem),
        "address": reverse(page, args=[garden.pk]),
        "again": reverse(page, args=[garden.pk]),
        "hidden": {"which": {"soil": "soilfile", "nights": "file"}.get(kind, ""), "kept": job.key},
    }
    return render(request, "place/file_read.html", context, status=422 if problem else 200)


# ---------------------------------------------------------------- devices that post


@garden_view("owner", back="feeds")
def feeds(request: Any) -> HttpResponse:
    """Keys for devices and scripts: made, shown once, revoked."""
    garden, actor, token = request.garden, actor_of(request), ""
    form = MakeKey(actor)
    if request.method == "POST":
        form = MakeKey(actor, request.POST)
        if kept(request, form):
            token, form = form.token, MakeKey(actor)
    context = {
        "view": "place",
        "form": form,
        "feeds": Feed.objects.filter(garden=garden),
        "token": token,
        "address": outside(request, "/feed/"),
        "openapi": link("openapi", garden.pk),
        "garden_address": outside(request, f"/g/{garden.pk}/"),
    }
    return render(request, "place/feeds.html", context, status=422 if form.errors else 200)


@csrf_exempt
@require_POST
def receive(request: HttpRequest) -> HttpResponse:
    """A device's post: JSON under its key.  The same message again is no error and changes nothing."""
    try:
        feed = key_of(request)
        if "readings" not in OPENS[feed.scope]:
            raise NotAdmitted("This key may not post readings.", 403)
        if (whole_number(request.headers.get("Content-Length", "")) or 0) > MOST_BYTES:
            raise NotAdmitted("The message is larger than half a megabyte: send less at once.", 413)
        count = take(feed, request.body)
        return JsonResponse({"taken": count, "repeated": count == 0})
    except NotAdmitted as refused:
        return refused.answer
    except BadPost as error:
        return problem(str(error), 422)
