"""Weather that was and weather to come: files in and out, history, the nights ahead."""

from __future__ import annotations

from datetime import date, timedelta
from hashlib import sha256
from typing import Any

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.datastructures import MultiValueDict
from django.views.decorators.http import require_POST

from aestiva.frame.files import csv_response
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, jobs, journal, reading
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Job
from aestiva.gardens.outcomes import Refused
from aestiva.place import actions, history
from aestiva.place.filewords import UNIT_CHOICES, problem_words, unit_words
from aestiva.place.forms import MadeUpForm, NightForm, WeatherFileForm
from aestiva.place.models import ForecastNight, Station
from aestiva.place.overview import RISKS
from aestiva.place.queries import frost_of, record_of
from aestiva.season import sheets
from growing.place.minima import ComputedFrost, DailySeries, TooFewSeasons
from growing.place.nights import at_plant, chance_below
from growing.place.shift import remote
from growing.place.station import PRESETS, generate
from growing.place.sureness import how_sure
from growing.place.weatherfile import UNITS, WeatherFile
from growing.place.weathersheet import MEANINGS, NAMES, daily_of, layout_of

SHEET = "weather"

MADE_UP_YEARS = 30


@garden_view(back="place")
def weather(request: Any) -> HttpResponse:
    """Bring in daily weather: read, preview with every problem by row, keep."""
    garden = request.garden
    form = WeatherFileForm(initial={"name": getattr(frost_of(garden).station, "name", "")})
    try:
        if request.method != "POST":
            key = request.GET.get("job", "")
            return _read(request, reading.read_before(request, SHEET, key)) if key else _weather_page(request, form)
        if "kept" in request.POST:
            return _go_on(request, reading.read_before(request, SHEET, request.POST["kept"]))
        form = WeatherFileForm(request.POST, request.FILES)
        if not form.is_valid():
            return _weather_page(request, form)
        said = {
            "name": form.cleaned_data["name"],
            "near": clock.today(garden).isoformat(),
            "today": clock.today(garden).isoformat(),
            "known": sheets.known_columns(garden, SHEET),
        }
        return _read(request, reading.begin(request, SHEET, form.cleaned_data["file"].read(), said))
    except Refused as refused:
        return _refused(request, form, str(refused))


def _weather_page(request: Any, form: Any) -> HttpResponse:
    context = {
        "view": "place",
        "form": form,
        "made_up": MadeUpForm(),
        "frost": frost_of(request.garden),
        "stations": Station.objects.filter(owner=request.garden),
    }
    return render(request, "place/weather.html", context, status=422 if form.errors else 200)


def _refused(request: Any, form: Any, why: str) -> HttpResponse:
    """The page once more, with what is wrong with the file."""
    if not form.is_bound:  # only what was read before came
        form = WeatherFileForm({"name": request.POST.get("name", "")}, MultiValueDict())
        form.errors.pop("file", None)
    form.add_error("file", why)
    return _weather_page(request, form)


def _read(request: Any, job: Job) -> HttpResponse:
    """What a file holds; which column is what, where the headings do not say."""
    found = job.result or {}
    if not found["missing"]:
        parsed = daily_of(found)
        if parsed.fatal is not None:
            raise Refused("file", problem_words(parsed.fatal))
        return _preview(request, job, parsed)
    layout = layout_of(found)
    assert layout is not None
    context = {
        "view": "place",
        "name": job.options["name"],
        "stored": job.key,
        "columns": sheets.columns_shown(layout, found["missing"]),
        "above": layout.above,
        "lacks": [MEANINGS[meaning] for meaning in found["missing"]],
        "meanings": MEANINGS,
    }
    return render(request, "place/weather_columns.html", context)


def _go_on(request: Any, job: Job) -> HttpResponse:
    """What was said on the preview: what columns mean, another unit, which of two days, or that it is to be kept."""
    garden, post = request.garden, request.POST
    if "columns" in post:
        said = sheets.told(request)
        job = reading.again(request, job, {"columns": {str(at): meaning for at, meaning in said.columns.items()}})
        found = job.result or {}
        if (layout := layout_of(found)) is not None and said.columns and not found["missing"]:
            with journal.change(garden, request.user, "Said what the columns of a weather file mean") as write:
                sheets.remember_columns(write, garden, SHEET, layout, said, NAMES)
        return _read(request, job)
    unit = post.get("unit", "") if post.get("unit") in UNITS else ""
    order = post.get("order", "") if post.get("order") in ("dmy", "mdy") else ""
    if (unit, order) != (job.options.get("unit", ""), job.options.get("order", "")):
        job = reading.again(request, job, {"unit": unit, "order": order})
    return _as_wished(request, job, post.get("again", "keep"))


def _as_wished(request: Any, job: Job, wished: str) -> HttpResponse:
    """A file as it is read now: its problems, its preview, or kept."""
    garden, post, parsed = request.garden, request.POST, daily_of(job.result or {})
    if wished == "problems":
        return sheets.problems_file(
            [sheets.SheetProblem(p.row, problem_words(p._replace(row=0))) for p in parsed.problems]
        )
    if wished != "keep":
        return _read(request, job)
    if any(p.code == "ambiguous_dates" for p in parsed.problems):
        messages.error(request, "Say first which comes first in its days: the day or the month.")
        return _read(request, job)
    if any(p.row for p in parsed.problems) and post.get("leave_out") != "yes":
        messages.error(request, "Some rows cannot be read: tick “leave those days out”, or mend the file.")
        return _read(request, job)
    if parsed.fatal is not None:
        raise Refused("file", problem_words(parsed.fatal))
    name = post.get("name", "").strip()[:80] or "My station"
    said = f"{job.options.get('unit', '')}{job.options.get('order', '')}"
    digest = sha256(jobs.payload_of(job) + said.encode()).hexdigest()
    merged = actions.bring_in(garden, request.user, name, parsed, digest, post.get("key", ""))
    others = len(merged.otherwise)
    other = f" {others} days differ from what {name} had: the earlier values stay." if others else ""
    messages.success(request, f"{merged.added} new days of {name} are in, {merged.known} were known.{other}")
    return redirect("place", garden.pk)


def _preview(request: Any, job: Job, parsed: WeatherFile) -> HttpResponse:
    """What the file holds and what it would say of frost, before anything is written."""
    garden, name = request.garden, job.options["name"]
    frost = frost_of(garden)
    said: dict[str, Any] = {}
    found = ComputedFrost(garden.southern, _series(parsed), frost.shift_c)
    try:
        used, spring = found.used(), found.last(garden.year)
        said = {"dates": [(r, spring.date_for(r), how_sure(spring, len(used), r)) for r in RISKS], "used": len(used)}
    except TooFewSeasons as error:
        said = {"too_few": str(error)}
    old = Station.objects.filter(owner=garden, name=name).first()
    merged = None if old is None else actions.compared(old, parsed)
    away = None
    if parsed.where is not None:
        away = remote((garden.latitude, garden.longitude, garden.elevation_m), parsed.where)
    context = {
        "view": "place",
        "parsed": parsed,
        "last_day": parsed.days[-1],
        "name": name,
        "unit": unit_words(parsed.unit),
        "units_told": job.options.get("unit", ""),
        "order": job.options.get("order", ""),
        "ask_order": next((p.value for p in parsed.problems if p.code == "ambiguous_dates"), ""),
        "unit_choices": UNIT_CHOICES,
        "problems": [(p.row, problem_words(p)) for p in parsed.problems[:40]],
        "more": max(0, len(parsed.problems) - 40),
        "row_problems": sum(1 for p in parsed.problems if p.row),
        "gaps": parsed.gaps[:12],
        "missing": sum((b - a).days + 1 for a, b in parsed.gaps),
        "stored": job.key,
        "left_out": [s for s in found.seasons() if s.left_out],
        "merged": merged,
        "otherwise": [] if merged is None else merged.otherwise[:6],
        "remote": away,
        "coldest": float(np.nanmin(parsed.tmin)),
        "warmest": None if np.isnan(parsed.tmax).all() else float(np.nanmax(parsed.tmax)),
        **said,
    }
    return render(request, "place/weather_preview.html", context)


def _series(parsed: WeatherFile) -> DailySeries:
    full = np.full((parsed.days[-1] - parsed.days[0]).days + 1, np.nan)
    index = np.array([d.toordinal() for d in parsed.days]) - parsed.days[0].toordinal()
    full[index] = parsed.tmin
    return DailySeries(parsed.days[0], full)


@garden_view("grower", back="place")
@require_POST
def made_up(request: Any) -> HttpResponse:
    """A simulated station of a preset climate: thirty years to today, marked as made up."""
    garden, form = request.garden, MadeUpForm(request.POST)
    if not form.is_valid():
        messages.error(request, "Choose one of the climates.")
        return redirect("weather", garden.pk)
    preset = form.cleaned_data["preset"]
    today = clock.today(garden)
    first = today.replace(year=today.year - MADE_UP_YEARS, day=min(today.day, 28))
    made = generate(PRESETS[preset], garden.southern, garden.seed, first, (today - first).days)
    days = tuple(first + timedelta(days=k) for k in range(len(made.tmin)))
    parsed = WeatherFile(days=days, tmin=made.tmin, tmax=made.tmax)
    name = f"Made-up {preset}"
    key = request.POST.get("key", "")
    actions.bring_in(garden, request.user, name, parsed, f"made up {preset}", key, made_up=True)
    messages.success(request, f"{name} is in: thirty years of simulated weather, good for trying, not for trusting.")
    return redirect("place", garden.pk)


@garden_view()
def past(request: Any, station: int) -> HttpResponse:
    """One year of a station against all its years: chart, and the months as a table."""
    found = get_object_or_404(Station, pk=station, owner=request.garden)
    record = record_of(found)
    if record is None:
        raise Http404("This station has no weather.")
    years = history.years(record)
    asked = whole_number(request.GET.get("year"))
    year = asked if asked in years else years[-1]
    months = history.months(record, year, request.reader)
    context = {
        "view": "place",
        "station": found,
        "record": record.minima,
        "years": years,
        "year": year,
        "months": months,
        "chart": history.chart(record, year, request.reader),
        "stations": Station.objects.filter(owner=request.garden),
    }
    return render(request, "place/past.html", context)


@garden_view()
def daily_csv(request: Any, station: int) -> HttpResponse:
    """The station's days in °C, in the form that comes in again."""
    found = get_object_or_404(Station, pk=station, owner=request.garden)
    record = record_of(found)
    if record is None:
        raise Http404("This station has no weather.")
    low, high = record.minima, record.maxima.between(record.minima.start, record.minima.end)
    rows = (
        ((low.start + timedelta(days=k)).isoformat(), "" if a != a else round(a, 1), "" if b != b else round(b, 1))
        for k, (a, b) in enumerate(zip(low.values.tolist(), high.tolist(), strict=True))
        if a == a or b == b
    )
    return csv_response("weather.csv", ("date", "tmin", "tmax"), rows)


# ---------------------------------------------------------------- the nights ahead


@garden_view(back="forecast")
def forecast(request: Any) -> HttpResponse:
    """The nights ahead: typed one by one, or from a small CSV."""
    garden, today = request.garden, clock.today(request.garden)
    form = NightForm(
        request.POST if request.POST.get("one") else None, units=request.reader, today=today, initial={"day": today}
    )
    problem = ""
    if request.method == "POST" and (request.FILES.get("file") or "kept" in request.POST):
        problem = _forecast_file(request, today)
        if not problem:
            return redirect("forecast", garden.pk)
    elif request.method == "POST" and form.is_valid():
        d = form.cleaned_data
        night = ForecastNight(
            garden=garden,
            day=d["day"],
            tmin_c=d["tmin"],
            tmax_c=d["tmax"],
            cloud=None if d["cloud"] is None else d["cloud"] / 100,
            wind_kmh=d["wind"],
        )
        summary = f"Typed the night of {d['day']:%-d %B}"
        actions.keep_readings(garden, request.user, [night], summary, request.POST.get("key", ""))
        return redirect("forecast", garden.pk)
    shift = frost_of(garden).shift_c
    nights = []
    for row in ForecastNight.objects.filter(garden=garden, day__gte=today):
        plant = at_plant(row.night, today, shift)
        nights.append((row, plant, chance_below(plant, 0.0)))
    context = {
        "view": "place",
        "form": form,
        "nights": nights,
        "problem": problem,
        "shift": shift,
        "chart": history.nights_chart([(r.night, p) for r, p, _ in nights], request.reader)
        if len(nights) > 1
        else None,
    }
    return render(request, "place/forecast.html", context, status=422 if form.errors or problem else 200)


def _forecast_file(request: Any, today: date) -> str:
    """Nights from a daily CSV of the coming days; the problem in words when nothing was taken."""
    try:
        job = reading.taken(request, "forecast", {"near": today.isoformat(), "today": None})
    except Refused as refused:
        return str(refused)
    parsed = daily_of(job.result or {})
    if parsed.fatal is not None:
        return problem_words(parsed.fatal)
    wrong = [p for p in parsed.problems if p.row]
    if wrong:
        return f"Nothing was taken. {problem_words(wrong[0])}"
    coming = [
        (d, lo, hi)
        for d, lo, hi in zip(parsed.days, parsed.tmin, parsed.tmax, strict=True)
        if 0 <= (d - today).days <= 15 and lo == lo
    ]
    if not coming:
        return f"None of its days lies in the next two weeks: the file runs from {parsed.days[0]:%-d %B %Y} to {parsed.days[-1]:%-d %B %Y}."
    nights = [
        ForecastNight(
            garden=request.garden, day=d, tmin_c=float(lo), tmax_c=None if hi != hi else float(hi), source="file"
        )
        for d, lo, hi in coming
    ]
    summary = f"Brought in {len(nights)} nights of forecast"
    actions.keep_readings(request.garden, request.user, nights, summary, request.POST.get("key", ""))
    messages.success(request, f"{len(nights)} nights are in.")
    return ""
