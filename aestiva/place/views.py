"""Place: when is it safe, and how sure is that?  Typed dates, weather files, warmth, the nights ahead."""

from __future__ import annotations

from contextlib import suppress
from datetime import date
from typing import Any

import numpy as np
from django.contrib import messages
from django.core.exceptions import RequestDataTooBig
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.frame.kept import NotKept, TooLarge, seal, unseal
from aestiva.gardens import clock, journal
from aestiva.gardens.access import member
from aestiva.place import actions
from aestiva.place.forms import FrostForm, NightForm, WarmthForm, WeatherFileForm
from aestiva.place.models import ForecastNight, Station, Warmth
from aestiva.place.picture import frost_svg
from aestiva.place.queries import NoFrostDate, frost_of, place_year
from aestiva.place.wording import problem_words, unit_words
from growing.daylight import day_length_h, ten_hour_autumn
from growing.minima import ComputedFrost, DailyMinima, TooFewSeasons
from growing.weatherfile import WeatherFile, read_weather

RISKS = (0.9, 0.5, 0.1)
THRESHOLDS = ((0.0, "frost"), (2.2, "ground frost"), (-2.2, "killing frost"))


@member()
def place(request: Any) -> HttpResponse:
    garden = request.garden
    frost = frost_of(garden)
    try:
        year = place_year(garden)
    except NoFrostDate:
        return render(request, "place/empty.html", {"view": "place", "frost": frost})
    threshold = next((t for t, _ in THRESHOLDS if str(t) == request.GET.get("threshold")), 0.0)
    spring = year.climate.last(year.year, threshold)
    autumn = year.climate.first(year.year, threshold)
    computed = year.climate if isinstance(year.climate, ComputedFrost) else None
    seasons = computed.used(threshold) if computed else []
    line = spring.date_for(garden.accepted_risk)
    context = {
        "view": "place",
        "frost": frost,
        "year": year,
        "threshold": threshold,
        "thresholds": THRESHOLDS,
        "line": line,
        "spring": [(r, spring.date_for(r)) for r in RISKS],
        "autumn": [(r, autumn.date_for(r)) for r in RISKS] if autumn else [],
        "picture": frost_svg(spring, garden.accepted_risk, seasons, _typed(frost, year.season_start)),
        "seasons": seasons,
        "latest": seasons[-1] if seasons else None,
        "left_out": [s for s in computed.seasons(threshold) if s.left_out] if computed else [],
        "warmth": Warmth.objects.filter(garden=garden),
        "longest": day_length_h(garden.latitude, date(year.year, 12 if garden.southern else 6, 21)),
        "ten_hours": ten_hour_autumn(garden.latitude, year.year),
        "nights": ForecastNight.objects.filter(garden=garden, day__gte=clock.today(garden)),
    }
    return render(request, "place/place.html", context)


def _typed(frost: Any, start: date) -> date | None:
    """The typed last frost inside the cold season drawn."""
    if frost.last_on is None:
        return None
    day = frost.last_on.replace(
        year=start.year, day=min(frost.last_on.day, 28) if frost.last_on.month == 2 else frost.last_on.day
    )
    return day if day >= start else day.replace(year=start.year + 1)


@member()
def typed(request: Any) -> HttpResponse:
    """Frost dates as somebody knows them, and what they mean."""
    garden = request.garden
    frost = frost_of(garden)
    form = FrostForm(request.POST or None, instance=frost, garden=garden, units=request.units)
    if request.method == "POST" and form.is_valid():
        try:
            with journal.change(garden, request.user, "Changed the frost dates", request.POST.get("key", "")) as write:
                row = form.instance
                row.shift_c = form.cleaned_data.get("shift_c") or 0.0
                write.save(row)
            messages.success(request, "Kept. Every date now counts from it.")
        except journal.Repeated:
            pass
        return redirect("place", garden.pk)
    context = {"view": "place", "form": form, "frost": frost}
    return render(request, "place/typed.html", context, status=422 if form.errors else 200)


@member()
def warmth(request: Any) -> HttpResponse:
    """Typed days from which soil and nights are warm."""
    garden = request.garden
    if request.method == "POST" and request.POST.get("remove", "").isdigit():
        old = get_object_or_404(Warmth, pk=int(request.POST["remove"]), garden=garden)
        with (
            suppress(journal.Repeated),
            journal.change(garden, request.user, "Removed a day of warmth", request.POST.get("key", "")) as write,
        ):
            write.delete(old)
        return redirect("warmth", garden.pk)
    form = WarmthForm(request.POST or None, garden=garden, units=request.units)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        row = Warmth(
            garden=garden, kind=data["kind"], celsius=data["celsius"], month=data["on"].month, day=data["on"].day
        )
        with (
            suppress(journal.Repeated),
            journal.change(garden, request.user, "Typed a day of warmth", request.POST.get("key", "")) as write,
        ):
            write.save(row)
        return redirect("warmth", garden.pk)
    context = {"view": "place", "form": form, "warmth": Warmth.objects.filter(garden=garden)}
    return render(request, "place/warmth.html", context, status=422 if form.errors else 200)


@member()
def weather(request: Any) -> HttpResponse:
    """Bring in daily weather: read, preview with every problem by row, keep."""
    form = WeatherFileForm()
    if request.method == "POST":
        if "kept" in request.POST:
            return _keep_weather(request)
        try:
            form = WeatherFileForm(request.POST, request.FILES)
        except RequestDataTooBig:
            return render(request, "413.html", status=413)
        if form.is_valid():
            data = form.cleaned_data["file"].read()
            parsed = read_weather(data)
            name = form.cleaned_data["name"]
            return _preview(request, parsed, name, data, form)
    context = {"view": "place", "form": form, "frost": frost_of(request.garden)}
    return render(request, "place/weather.html", context, status=422 if form.errors else 200)


def _preview(request: Any, parsed: WeatherFile, name: str, data: bytes, form: Any) -> HttpResponse:
    """What the file holds and what it would say of frost, before anything is written."""
    if parsed.fatal is not None:
        form.add_error("file", problem_words(parsed.fatal))
        context = {"view": "place", "form": form, "frost": frost_of(request.garden)}
        return render(request, "place/weather.html", context, status=422)
    said: dict[str, Any] = {}
    found = ComputedFrost(request.garden.southern, _record(parsed), frost_of(request.garden).shift_c)
    try:
        used = found.used()
        spring = found.last(request.garden.year)
        said = {"dates": [(r, spring.date_for(r)) for r in RISKS], "used": len(used)}
    except TooFewSeasons as error:
        said = {"too_few": str(error)}
    try:
        stored = seal(data, f"weather {request.garden.pk}")
    except TooLarge:
        form.add_error("file", "This is more than two centuries of daily weather: cut it to the years you need.")
        context = {"view": "place", "form": form, "frost": frost_of(request.garden)}
        return render(request, "place/weather.html", context, status=422)
    context = {
        "view": "place",
        "parsed": parsed,
        "last_day": parsed.days[-1],
        "name": name,
        "unit": unit_words(parsed.unit),
        "problems": [(p.row, problem_words(p)) for p in parsed.problems[:40]],
        "more": max(0, len(parsed.problems) - 40),
        "row_problems": sum(1 for p in parsed.problems if p.row),
        "gaps": parsed.gaps[:12],
        "missing": sum((b - a).days + 1 for a, b in parsed.gaps),
        "stored": stored,
        "left_out": [s for s in found.seasons() if s.left_out],
        **said,
    }
    return render(request, "place/weather_preview.html", context)


def _record(parsed: WeatherFile) -> DailyMinima:
    full = np.full((parsed.days[-1] - parsed.days[0]).days + 1, np.nan)
    index = np.array([d.toordinal() for d in parsed.days]) - parsed.days[0].toordinal()
    full[index] = parsed.tmin
    return DailyMinima(parsed.days[0], full)


def _keep_weather(request: Any) -> HttpResponse:
    try:
        data = unseal(request.POST["kept"], f"weather {request.garden.pk}")
    except NotKept:
        messages.error(request, "The preview is too old, or another garden’s: choose the file again.")
        return redirect("weather", request.garden.pk)
    parsed = read_weather(data)
    if any(p.row for p in parsed.problems) and request.POST.get("leave_out") != "yes":
        messages.error(request, "Some rows cannot be read: tick “leave those days out”, or mend the file.")
        return _preview(request, parsed, request.POST.get("name", ""), data, None)
    name = request.POST.get("name", "").strip()[:80] or "My station"
    try:
        actions.bring_in(request.garden, request.user, name, data, request.POST.get("key", ""))
    except journal.Repeated:
        pass
    else:
        messages.success(request, f"{len(parsed.days)} days from {name} are in. Frost dates come from them now.")
    return redirect("place", request.garden.pk)


@member("grower")
@require_POST
def station(request: Any) -> HttpResponse:
    """Count from the station again, or from the typed date."""
    frost = frost_of(request.garden)
    wanted = request.POST.get("station", "")
    found = None
    if wanted.isdigit():
        found = get_object_or_404(Station, pk=int(wanted), owner=request.garden)
    if found is None and frost.last_on is None:
        messages.error(request, "Type a frost date first: without one and without a station nothing can be counted.")
        return redirect("place_typed", request.garden.pk)
    frost.station = found
    summary = f"Frost dates from {found.name}" if found else "Frost dates as typed"
    with (
        suppress(journal.Repeated),
        journal.change(request.garden, request.user, summary, request.POST.get("key", "")) as write,
    ):
        write.save(frost)
    return redirect("place", request.garden.pk)


@member()
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
        try:
            actions.keep_nights(
                garden, request.user, [night], f"Typed the night of {d['day']:%-d %B}", request.POST.get("key", "")
            )
        except journal.Repeated:
            pass
        return redirect("forecast", garden.pk)
    nights = ForecastNight.objects.filter(garden=garden, day__gte=today)
    context = {"view": "place", "form": form, "nights": nights, "problem": problem}
    return render(request, "place/forecast.html", context, status=422 if form.errors or problem else 200)


def _forecast_file(request: Any, today: date) -> str:
    """Nights from a daily CSV of the coming days; the problem in words when nothing was taken."""
    parsed = read_weather(request.FILES["file"].read())
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
    try:
        actions.keep_nights(
            request.garden,
            request.user,
            nights,
            f"Brought in {len(nights)} nights of forecast",
            request.POST.get("key", ""),
        )
    except journal.Repeated:
        return ""
    messages.success(request, f"{len(nights)} nights are in.")
    return ""
