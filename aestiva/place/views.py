"""Place: when is it safe, and how sure is that?  The curve with its line, and how it is reckoned."""

from __future__ import annotations

from contextlib import suppress
from datetime import date
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.forms import whole_number
from aestiva.frame.say import Reader, stored
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate, NotHere, Refused
from aestiva.gardens.posting import actor_of, carry_out, kept
from aestiva.gardens.providers import effects, link
from aestiva.place import overview
from aestiva.place.commands import CountFrom, FrostDates, FrostLine, WarmFrom
from aestiva.place.forms import LineForm, ReckoningForm
from aestiva.place.models import ForecastNight, Frost, Station, Warmth
from aestiva.place.picture import LEAST_RISK, MOST_RISK, PHONE, WIDE, frost_svg
from aestiva.place.queries import (
    estimated_shift,
    frost_of,
    place_year,
    record_of,
    season_crops,
)
from aestiva.season.beginning import begun
from growing.place.computedwarmth import ComputedWarmth
from growing.place.minima import ComputedFrost
from growing.place.shift import remote
from growing.place.year import PlaceYear

THRESHOLDS = ((0.0, "frost"), (2.2, "ground frost"), (-2.2, "killing frost"))
EVENTS = {"spring": "last", "autumn": "first"}


def _asked(request: Any) -> tuple[str, float]:
    """Which event and which depth the address asks for."""
    data = request.POST if request.method == "POST" else request.GET
    event = EVENTS.get(data.get("season", ""), "last")
    return event, next((t for t, _ in THRESHOLDS if str(t) == data.get("threshold")), 0.0)


@garden_view()
def place(request: Any) -> HttpResponse:
    garden, frost = request.garden, frost_of(request.garden)
    try:
        year = place_year(garden, frost=frost)
    except NoFrostDate:
        context = {"view": "place", "frost": frost, "few": overview.few(garden, frost)}
        return render(request, "place/empty.html", context)
    event, threshold = _asked(request)
    season = overview.season_of(year, event, threshold)
    context = {
        "view": "place",
        "frost": frost,
        "year": year,
        "event": event,
        "threshold": threshold,
        "thresholds": THRESHOLDS,
        "computed": isinstance(year.climate, ComputedFrost),
        "warm_computed": isinstance(year.warmth, ComputedWarmth),
        "warmth": Warmth.objects.filter(garden=garden),
        "nights": ForecastNight.objects.filter(garden=garden, day__gte=clock.today(garden)).count(),
        "light": overview.light(garden),
        "soil": overview.soil_now(year),
        "growing": overview.growing(year, threshold),
        "few": None if isinstance(year.climate, ComputedFrost) else overview.few(garden, frost),
        "remote": None if frost.station is None else _remote(garden, frost.station),
        "stations": Station.objects.filter(owner=garden),
        "season": season,
    }
    if season is None:
        return render(request, "place/place.html", context)
    shown, problem, other = _comparison(request, frost, event, threshold)
    typed = overview.typed_day(frost, event, season.dates.start) if isinstance(year.climate, ComputedFrost) else None
    curve = overview.curve_of(
        season, year.accepted_risk, typed, other.dates if other else None, other.name if other else "", request.reader
    )
    context |= {
        "waits": overview.waits(overview.needs(year, season_crops(garden))),
        "picture": frost_svg(curve, WIDE),
        "phone_picture": frost_svg(curve, PHONE),
        "other": other if other and other.dates else None,
        "other_dates": [other.dates.date_for(r) for r in overview.RISKS] if other and other.dates else [],
        "compared": shown,
        "compare_problem": problem,
        "typed": typed,
        "typed_risk": season.dates.risk(typed) if typed else None,
        "form": LineForm(initial={"risk": f"{year.accepted_risk * 100:.3g}"}),
    }
    if "risk" in request.GET or "on" in request.GET:  # the line as a link or without scripts
        context |= _look(request, year, season)
    return render(request, "place/place.html", context)


@garden_view()
def waits(request: Any) -> HttpResponse:
    """Each crop's frost line, soil and nights, with the working."""
    frost = frost_of(request.garden)
    try:
        year = place_year(request.garden, frost=frost)
    except NoFrostDate:
        return render(request, "place/empty.html", {"view": "place", "frost": frost})
    needs = overview.needs(year, season_crops(request.garden), every=True)
    context = {
        "view": "place",
        "frost": frost,
        "needs": [(n, link("crop", request.garden.pk, n.crop.key)) for n in needs],
        "warm_computed": isinstance(year.warmth, ComputedWarmth),
    }
    return render(request, "place/waits.html", context)


def _remote(garden: Garden, station: Station) -> Any:
    """How far and how high the station stands from the garden, where that deserves a word."""
    if station.latitude is None or station.longitude is None:
        return None
    found = remote(
        (garden.latitude, garden.longitude, garden.elevation_m),
        (station.latitude, station.longitude, station.elevation_m),
    )
    return found if found.far or found.high else None


def _comparison(
    request: Any, frost: Frost, event: str, threshold: float
) -> tuple[dict[str, Any], str, overview.Other | None]:
    """What was asked to be compared, the problem with it, and the other curve."""
    asked, typed_shift = request.GET.get("with", ""), request.GET.get("shift", "").replace("−", "-").replace(",", ".")
    if not asked and not typed_shift:
        return {}, "", None
    station = Station.objects.filter(owner=request.garden, pk=whole_number(asked) or 0).first()
    shown = {"station": station, "shift": typed_shift}
    try:
        shift = float(typed_shift) if typed_shift else frost.shift_c / _difference(request.reader)
    except ValueError:
        return shown, f"“{typed_shift}” is not a number: give degrees, such as −2.", None
    shift *= _difference(request.reader)
    if not -10 <= shift <= 10:
        return (
            shown,
            f"{typed_shift}° is too much for one valley: give at most {say.amount(10, 'Δ°C', request.reader)} either way.",
            None,
        )
    other = overview.compare(request.garden, frost, event, threshold, station, shift)
    name = f"{other.name}, {say.amount(shift, 'Δ°C', request.reader)}"
    return shown, other.problem, other._replace(name=name)


def _difference(units: Reader) -> float:
    """°C in one degree of the reader's."""
    return stored(1.0, "Δ°C", units)


# ---------------------------------------------------------------- the line


def _look(request: Any, year: PlaceYear, season: overview.EventView) -> dict[str, Any]:
    """A line tried on: its risk, its day, and what would move; writes nothing."""
    form = LineForm(request.GET if "risk" in request.GET or "on" in request.GET else {"risk": year.accepted_risk * 100})
    if not form.is_valid():
        return {"form": form, "tried": None}
    on: date | None = form.cleaned_data["on"]
    risk = season.dates.risk(on) if on is not None else form.cleaned_data["risk"]
    limited = min(MOST_RISK, max(LEAST_RISK, risk))
    answer = season.dates.date_for(limited)
    tried = {"risk": limited, "answer": answer, "asked": risk, "on": on, "held": abs(limited - risk) > 1e-9}
    if not request.GET.get("light"):
        moved = effects(request.garden, clock.today(request.garden), year, year.accepting(limited))
        tried |= {"effects": moved[:12], "more": max(0, len(moved) - 12), "count": len(moved), "full": True}
    return {"form": form, "tried": tried}


@garden_view(back="place")
def line(request: Any) -> HttpResponse:
    """What another line would mean: risk and day while dragging, and what would move once let go."""
    if request.method == "POST":
        try:
            carry_out(FrostLine, request, {})
        except Refused as refused:
            messages.error(request, f"{str(refused)[:1].upper()}{str(refused)[1:]}. Nothing was written.")
        return redirect("place", request.garden.pk)
    event, threshold = _asked(request)
    try:
        year = place_year(request.garden)
    except NoFrostDate:
        return redirect("place", request.garden.pk)
    season = overview.season_of(year, event, threshold)
    if season is None:
        return redirect("place", request.garden.pk)
    looked = _look(request, year, season)
    context = {"year": year, "season": season, "event": event, "threshold": threshold} | looked
    status = 422 if looked["form"].errors else 200
    return render(request, "place/_line.html", context, status=status)


# ---------------------------------------------------------------- typed dates, warmth, reckoning


@garden_view(back="place")
def typed(request: Any) -> HttpResponse:
    """Frost dates as somebody knows them, and what they mean."""
    garden = request.garden
    frost = frost_of(garden)
    first = frost.last_on is None and frost.station is None and begun(garden)
    form = FrostDates(actor_of(request), request.POST or None, initial=FrostDates.filled_in(frost))
    if request.method == "POST" and kept(request, form):
        return redirect((first and link("plan_add", garden.pk)) or reverse("place", args=[garden.pk]))
    context = {"view": "place", "form": form, "frost": frost, "first": first}
    return render(request, "place/typed.html", context, status=422 if form.errors else 200)


@garden_view(back="place")
def reckoning(request: Any) -> HttpResponse:
    """From which station, which years, how much colder, on which soil; with what a change would move."""
    garden = request.garden
    frost = frost_of(garden)
    record = None if frost.station is None else record_of(frost.station)
    estimate = None if record is None else estimated_shift(garden, record)
    trying = request.method == "POST" or "shift_c" in request.GET
    data = (request.POST if request.method == "POST" else request.GET) if trying else None
    form = ReckoningForm(data, instance=frost, units=request.reader, estimate=estimate)
    moved = None
    if trying and form.is_valid():
        row = form.save(commit=False)
        if request.method == "POST":
            post = request.POST
            with journal.change(garden, request.user, "Changed how frost is reckoned", post.get("key", "")) as write:
                write.save(row, post.get("revision"))
            messages.success(request, "Kept. Every date now counts with it.")
            return redirect("place", garden.pk)
        try:
            moved = effects(garden, clock.today(garden), place_year(garden), place_year(garden, frost=row))
        except NoFrostDate:
            form.add_error(
                "station", "Type a frost date first: without one and without a station nothing can be counted."
            )
    trend = None
    with suppress(NoFrostDate):
        climate = place_year(garden, frost=frost_of(garden)).climate
        trend = climate.trend("last") if isinstance(climate, ComputedFrost) else None
    context = {
        "view": "place", "form": form, "frost": frost, "estimate": estimate, "trend": trend,
        "moved": None if moved is None else moved[:12], "more": max(0, len(moved or []) - 12), "count": len(moved or []),
    }  # fmt: skip
    return render(request, "place/reckoning.html", context, status=422 if form.errors else 200)


@garden_view(back="warmth")
def warmth(request: Any) -> HttpResponse:
    """Typed days from which soil and nights are warm."""
    garden = request.garden
    form = WarmFrom(actor_of(request), request.POST or None)
    if request.method == "POST" and kept(request, form):
        return redirect("warmth", garden.pk)
    mine = Warmth.objects.filter(garden=garden)
    context = {"view": "place", "form": form, "frost": frost_of(garden), "warmth": mine}
    return render(request, "place/warmth.html", context, status=422 if form.errors else 200)


@garden_view("grower", back="place")
@require_POST
def station(request: Any) -> HttpResponse:
    """Count from another station, or from the typed date."""
    try:
        carry_out(CountFrom, request, {})
    except NotHere as elsewhere:
        raise Http404("There is no such station here.") from elsewhere
    except Refused as refused:
        messages.error(request, f"{str(refused)[:1].upper()}{str(refused)[1:]}.")
        return redirect("place_typed", request.garden.pk)
    return redirect("place", request.garden.pk)


@garden_view()
def frost_csv(request: Any) -> HttpResponse:
    """The frost table: each year's last and first frost at the three named depths, and why a year is left out."""
    frost = frost_of(request.garden)
    try:
        climate = place_year(request.garden, frost=frost).climate
    except NoFrostDate:
        return redirect("place", request.garden.pk)
    rows: list[list[Any]] = []
    if isinstance(climate, ComputedFrost):
        rows = overview.frost_table(climate, [t for t, _ in THRESHOLDS])
    head = [
        "cold season",
        "threshold °C",
        "last frost",
        "last °C",
        "first frost",
        "first °C",
        "days missing",
        "left out",
    ]
    return csv_response("frost.csv", head, rows)
