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
from aestiva.frame.kept import NotKept, TooLarge, seal, unseal
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
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
from growing.place.weatherfile import UNITS, WeatherFile, read_weather
from growing.place.weathersheet import MEANINGS, NAMES, as_daily, read_daily

SHEET = "weather"

MADE_UP_YEARS = 30


@garden_view(back="place")
def weather(request: Any) -> HttpResponse:
    """Bring in daily weather: read, preview with every problem by row, keep."""
    form = WeatherFileForm(initial={"name": getattr(frost_of(request.garden).station, "name", "")})
    if request.method == "POST":
        if "kept" in request.POST:
            return _keep_weather(request)
        form = WeatherFileForm(request.POST, request.FILES)
        if form.is_valid():
            return _columns(request, form.cleaned_data["name"], form.cleaned_data["file"].read(), form)
    return _weather_page(request, form)


def _weather_page(request: Any, form: Any) -> HttpResponse:
    context = {
        "view": "place",
        "form": form,
        "made_up": MadeUpForm(),
        "frost": frost_of(request.garden),
        "stations": Station.objects.filter(owner=request.garden),
    }
    return render(request, "place/weather.html", context, status=422 if form.errors else 200)


TOO_LARGE = "This is more than two centuries of daily weather: cut it to the years you need."


def _refused(request: Any, name: str, form: Any, why: str) -> HttpResponse:
    """The page once more, with what is wrong with the file.  form: as posted; None where only the sealed file came."""
    form = form or WeatherFileForm({"name": name}, MultiValueDict())
    form.add_error("file", why)
    return _weather_page(request, form)


def _columns(request: Any, name: str, data: bytes, form: Any) -> HttpResponse:
    """Which column is what, where the headings do not say; then the preview."""
    garden, today = request.garden, clock.today(request.garden)
    said = sheets.told(request)
    daily = as_daily(data, today, said.columns or None, sheets.known_columns(garden, SHEET))
    if daily.fatal is None and not daily.missing:
        if said.columns and daily.layout is not None:
            with journal.change(garden, request.user, "Said what the columns of a weather file mean") as write:
                sheets.remember_columns(write, garden, SHEET, daily.layout, said, NAMES)
        return _preview(request, name, daily.data, form)
    if daily.fatal is not None:
        return _refused(request, name, form, problem_words(daily.fatal))
    try:
        stored = seal(data, f"weather {garden.pk}")
    except TooLarge:
        return _refused(request, name, form, TOO_LARGE)
    assert daily.layout is not None
    context = {
        "view": "place",
        "name": name,
        "stored": stored,
        "columns": sheets.columns_shown(daily.layout, daily.missing),
        "above": daily.layout.above,
        "lacks": [MEANINGS[meaning] for meaning in daily.missing],
        "meanings": MEANINGS,
    }
    return render(request, "place/weather_columns.html", context)


def _preview(request: Any, name: str, data: bytes, form: Any, unit: str = "", order: str = "") -> HttpResponse:
    """What the file holds and what it would say of frost, before anything is written."""
    garden = request.garden
    parsed = read_weather(data, clock.today(garden), unit, order)
    if parsed.fatal is not None:
        return _refused(request, name, form, problem_words(parsed.fatal))
    frost = frost_of(garden)
    said: dict[str, Any] = {}
    found = ComputedFrost(garden.southern, _series(parsed), frost.shift_c)
    try:
        used, spring = found.used(), found.last(garden.year)
        said = {"dates": [(r, spring.date_for(r), how_sure(spring, len(used), r)) for r in RISKS], "used": len(used)}
    except TooFewSeasons as error:
        said = {"too_few": str(error)}
    try:
        stored = seal(data, f"weather {garden.pk}")
    except TooLarge:
        return _refused(request, name, form, TOO_LARGE)
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
        "units_told": unit,
        "order": order,
        "ask_order": next((p.value for p in parsed.problems if p.code == "ambiguous_dates"), ""),
        "unit_choices": UNIT_CHOICES,
        "problems": [(p.row, problem_words(p)) for p in parsed.problems[:40]],
        "more": max(0, len(parsed.problems) - 40),
        "row_problems": sum(1 for p in parsed.problems if p.row),
        "gaps": parsed.gaps[:12],
        "missing": sum((b - a).days + 1 for a, b in parsed.gaps),
        "stored": stored,
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


def _keep_weather(request: Any) -> HttpResponse:
    garden = request.garden
    name = request.POST.get("name", "").strip()[:80] or "My station"
    unit = request.POST.get("unit", "") if request.POST.get("unit") in UNITS else ""
    try:
        data = unseal(request.POST["kept"], f"weather {garden.pk}")
    except NotKept:
        messages.error(request, "The preview is too old, or another garden’s: choose the file again.")
        return redirect("weather", garden.pk)
    order = request.POST.get("order", "")
    if "columns" in request.POST:
        return _columns(request, name, data, None)
    if request.POST.get("again") == "problems":
        found = read_weather(data, clock.today(garden), unit, order).problems
        return sheets.problems_file([sheets.Problem(p.row, problem_words(p._replace(row=0))) for p in found])
    if "again" in request.POST:
        return _preview(request, name, data, None, unit, order)
    parsed = read_weather(data, clock.today(garden), unit, order)
    if any(p.code == "ambiguous_dates" for p in parsed.problems):
        messages.error(request, "Say first which comes first in its days: the day or the month.")
        return _preview(request, name, data, None, unit)
    if any(p.row for p in parsed.problems) and request.POST.get("leave_out") != "yes":
        messages.error(request, "Some rows cannot be read: tick “leave those days out”, or mend the file.")
        return _preview(request, name, data, None, unit, order)
    digest = sha256(data + unit.encode() + order.encode()).hexdigest()
    merged = actions.bring_in(garden, request.user, name, parsed, digest, request.POST.get("key", ""))
    others = len(merged.otherwise)
    other = f" {others} days differ from what {name} had: the earlier values stay." if others else ""
    messages.success(request, f"{merged.added} new days of {name} are in, {merged.known} were known.{other}")
    return redirect("place", garden.pk)


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
    months = history.months(record, year, request.units)
    context = {
        "view": "place",
        "station": found,
        "record": record.minima,
        "years": years,
        "year": year,
        "months": months,
        "chart": history.chart(record, year, request.units),
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
        request.POST if request.POST.get("one") else None, units=request.units, today=today, initial={"day": today}
    )
    problem = ""
    if request.method == "POST" and request.FILES.get("file"):
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
        "chart": history.nights_chart([(r.night, p) for r, p, _ in nights], request.units) if len(nights) > 1 else None,
    }
    return render(request, "place/forecast.html", context, status=422 if form.errors or problem else 200)


def _forecast_file(request: Any, today: date) -> str:
    """Nights from a daily CSV of the coming days; the problem in words when nothing was taken."""
    parsed = read_daily(request.FILES["file"].read(), None, today)
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
