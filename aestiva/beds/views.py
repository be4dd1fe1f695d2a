"""Beds: where will it all go, so how many?"""

from __future__ import annotations

from datetime import date, timedelta
from math import isfinite
from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.beds import actions, picture, queries
from aestiva.beds.forms import AreaForm, BedForm, PlotForm, UseForm
from aestiva.frame.forms import whole_number
from aestiva.frame.say import shown
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import link
from aestiva.place.dating import dating_of
from aestiva.season.models import BedArea, Lot, Planting, Spot
from growing.beds.bedplan import Rect, beyond, hidden, overlaps, slots, taken_share, too_dark
from growing.beds.packing import fit
from growing.beds.shading import shaded
from growing.place.kinds import SOIL
from growing.plan.follow import Follower

FULL = 0.85


def week_of(request: Any, weeks: list[date]) -> date:
    """The Monday asked for, otherwise the fullest time of year, ten weeks after the last frost; this one without frost."""
    if not weeks:
        today = clock.today(request.garden)
        return today - timedelta(days=today.weekday())
    try:
        asked = date.fromisoformat(request.GET.get("week") or request.POST.get("week", ""))
        return min(max(asked, weeks[0]), weeks[-1])
    except ValueError:
        return weeks[18]


def colours_of(request: Any) -> str:
    by = request.GET.get("by") or request.POST.get("by", "")
    return by if by in picture.BY else "kind"


@garden_view(no_frost="beds", back="beds")
def beds(request: Any) -> HttpResponse:
    """All the ground from above, what looks for a place, what a household uses."""
    garden, on, plot = request.garden, queries.standing(request.garden), queries.plot_of(request.garden)
    dating = on.dating
    spots = queries.ground(garden)
    laid = queries.laid_out(garden, on)
    weeks, by = queries.weeks(dating), colours_of(request)
    week = week_of(request, weeks)
    growing = [s for s in spots if s.kind in SOIL]
    links = {s.pk: f"/g/{garden.pk}/beds/{s.pk}/?week={week.isoformat()}" for s in growing}
    free = [
        (s, slot)
        for s in growing
        if laid.get(s.pk)
        for slot in slots([one.standing for one in laid[s.pk]], queries.season_end(dating))
    ]
    looking = queries.looking(garden, on, laid, growing, plot.grid_cm)
    context = {
        "view": "beds",
        "plot": plot,
        "picture": picture.plot_svg(plot, spots, laid, week, by, links),
        "rows": [
            (s, laid.get(s.pk, []), taken_share([o.standing for o in laid.get(s.pk, [])], queries.rect_of(s), week))
            for s in growing
        ],
        "unmeasured": [s for s in growing if s.length_cm is None],
        "legend": picture.legend([one for areas in laid.values() for one in areas], by, week, request.reader),
        "plan_add": link("plan_add", garden.pk),
        "looking": looking,
        "others": max(0, len(looking) - 1),
        "week_index": weeks.index(week) if week in weeks else 0,
        "slots": sorted(free, key=lambda f: f[1].since)[:6],
        "household": queries.household_of(garden, dating),
        "troubles": on.troubles(garden),
        "form": BedForm(garden=garden, units=request.reader, initial={"kind": "bed"}),
        "per_cm": shown(1.0, "cm", request.reader)[0],
        "places": 0 if request.reader.units == "metric" else 1,
        "weeks": weeks,
        "week": week,
        "by": by,
        "by_choices": picture.BY.items(),
    }
    return render(request, "beds/beds.html", context)


@garden_view("grower", back="beds")
@require_POST
def draw(request: Any) -> HttpResponse:
    """A new bed, drawn or typed."""
    form = BedForm(request.POST, garden=request.garden, units=request.reader)
    if not form.is_valid():
        context = {"view": "beds", "form": form, "title": "A new bed", "address": request.path}
        return render(request, "beds/form.html", context, status=422)
    spot = form.spot()
    actions.keep_spot(request.garden, request.user, spot, request.POST.get("key", ""))
    messages.success(request, f"{spot.code} is drawn.")
    return redirect("beds", request.garden.pk)


@garden_view(back="bed")
def bed_change(request: Any, spot_id: int) -> HttpResponse:
    """A bed's size, place, light and notes."""
    spot = get_object_or_404(Spot, pk=spot_id, garden=request.garden, kind__in=(*SOIL, "path"))
    form = BedForm(request.POST or None, instance=spot, garden=request.garden, units=request.reader)
    if request.method == "POST" and form.is_valid():
        post = request.POST
        actions.keep_spot(request.garden, request.user, form.spot(), post.get("key", ""), post.get("revision"))
        if spot.kind == "path":
            return redirect("beds", request.garden.pk)
        return redirect("bed", request.garden.pk, spot.pk)
    context = {"view": "beds", "form": form, "title": spot.code, "address": request.path, "row": spot}
    return render(request, "beds/form.html", context, status=422 if form.errors else 200)


@garden_view("grower", back="beds")
@require_POST
def bed_move(request: Any, spot_id: int) -> HttpResponse:
    """A bed or path dragged to another place on the plot."""
    spot = get_object_or_404(Spot, pk=spot_id, garden=request.garden, kind__in=(*SOIL, "path"))
    try:
        x, y = float(request.POST.get("x", "")), float(request.POST.get("y", ""))
        if not (isfinite(x) and isfinite(y)):
            raise ValueError
    except ValueError:
        messages.error(request, "The move did not arrive whole: drag it again, or type its place.")
        return redirect("beds", request.garden.pk)
    plot, post = queries.plot_of(request.garden), request.POST
    actions.move_spot(request.garden, request.user, spot, plot, x, y, post.get("key", ""), post.get("revision"))
    messages.success(request, f"{spot.code} is moved.")
    return redirect("beds", request.garden.pk)


@garden_view(back="beds")
def ground_settings(request: Any) -> HttpResponse:
    """Size, squares, north and the side it is seen from."""
    plot, post = queries.plot_of(request.garden), request.POST
    form = PlotForm(post or None, instance=plot, units=request.reader)
    if request.method == "POST" and form.is_valid():
        actions.keep_plot(request.garden, request.user, form.plot(), post.get("key", ""), post.get("revision"))
        return redirect("beds", request.garden.pk)
    context = {"view": "beds", "form": form, "title": "The ground", "address": request.path, "row": plot}
    return render(request, "beds/form.html", context, status=422 if form.errors else 200)


# ---------------------------------------------------------------- one bed


@garden_view(no_frost="beds", back="beds")
def bed(request: Any, spot_id: int) -> HttpResponse:
    spot = get_object_or_404(Spot, pk=spot_id, garden=request.garden, kind__in=SOIL)
    part = "beds/_board.html" if request.headers.get("X-Part") else "beds/bed.html"
    return render(request, part, _bed_context(request, spot, ""))


def _bed_context(request: Any, spot: Spot, note: str) -> dict[str, Any]:
    garden, on, plot = request.garden, queries.standing(request.garden), queries.plot_of(request.garden)
    dating = on.dating
    laid = queries.laid_out(garden, on)
    board = queries.board(garden, spot, dating, laid)
    weeks, by = queries.weeks(dating), colours_of(request)
    week = week_of(request, weeks)
    standing = [one.standing for one in board.laid]
    may_edit = request.role != "reader"
    return {
        "view": "beds",
        "spot": spot,
        "board": board,
        "plot": plot,
        "from_above": picture.bed_svg(board.bed, board.laid, week, by, plot.grid_cm, may_edit, request.reader),
        "from_the_side": picture.elevation_svg(board.bed, board.laid, week, by, plot.seen_from, request.reader),
        "legend": picture.legend(board.laid, by, week, request.reader),
        "headline": _headline(spot, board, week),
        "areas": [
            (one, AreaForm(units=request.reader, initial=_initial(one.row)), queries.room_said(one, laid))
            for one in board.laid
        ],
        "dark": [one for one in board.laid if too_dark(one.crop.word("sun"), spot.sun)],
        "beyond": [one for one in board.laid if beyond(one.rect, board.bed)],
        "overlaps": overlaps(standing),
        "hidden": hidden(standing, plot.seen_from, week),
        "shades": shaded(standing, garden.latitude, plot.north_deg, week),
        "looking": queries.looking(garden, on, laid, [spot], plot.grid_cm),
        "weeks": weeks,
        "week": week,
        "week_index": weeks.index(week) if week in weeks else 0,
        "by": by,
        "by_choices": picture.BY.items(),
        "may_write": may_edit,
        "note": note,
    }


def _initial(row: BedArea) -> dict[str, Any]:
    names = ("pattern", "edge", "spacing_cm", "x_cm", "y_cm", "length_cm", "width_cm")
    return {name: getattr(row, name) for name in names}


def _headline(spot: Spot, board: queries.BedPage, week: date) -> str:
    """The sentence that matters: how full, and what comes free."""
    if not board.laid:
        return f"{spot.code} is empty: lay something out in it"
    share = taken_share([one.standing for one in board.laid], board.bed, week)
    said = "full" if share >= FULL else "empty" if share == 0 else f"planted to {round(share * 100)}\u00a0%"
    text = f"{spot.code} is {said} in the week of {week:%-d %B}"
    slot = max(board.slots, key=lambda s: s.rect.area, default=None)
    part = 0 if slot is None else round(100 * slot.rect.area / board.bed.area)
    if slot is not None and part >= 10:
        text += f"; {'all' if part > 95 else f'{part} %'} of it is free from {slot.since:%-d %B}"
    return text + "."


@garden_view("grower", no_frost="beds", back="bed")
@require_POST
def place(request: Any, spot_id: int) -> HttpResponse:
    """Lay a planting out: where it was drawn, or on the first free ground that holds it."""
    garden = request.garden
    spot = get_object_or_404(Spot, pk=spot_id, garden=garden, kind__in=SOIL)
    wanted = whole_number(request.POST.get("planting"))
    if wanted is None:
        return _back(request, spot, "Choose first what is to be laid out here.")
    planting = get_object_or_404(Planting, pk=wanted, season__garden=garden, cancelled_on=None)
    try:
        note = actions.lay(garden, request.user, planting, spot, _rect(request), request.POST.get("key", ""))
    except journal.Repeated:
        note = ""
    except Refused as refusal:
        note = f"{refusal}."
    return _back(request, spot, note)


@garden_view("grower", no_frost="beds", back="beds")
@require_POST
def lay_chosen(request: Any) -> HttpResponse:
    """Lay the chosen planting out in the bed that has room for it."""
    wanted = whole_number(request.POST.get("planting"))
    spot_id = whole_number(request.POST.get(f"bed-{wanted}"))
    if wanted is None or spot_id is None:
        messages.info(request, "Choose first what is to be laid out.")
        return redirect("beds", request.garden.pk)
    return place(request, request.garden.pk, spot_id)


def _rect(request: Any) -> Rect | None:
    """The rectangle of a post in cm; None where none was drawn."""
    texts = [request.POST.get(name, "") for name in ("x", "y", "l", "w")]
    if not all(texts):
        return None
    try:
        return Rect(*(float(t) for t in texts))
    except ValueError as error:
        raise Refused("area", "the drawing did not arrive whole: draw it again") from error


@garden_view("grower", no_frost="beds", back="beds")
@require_POST
def area(request: Any, area_id: int) -> HttpResponse:
    """Move, resize, set out otherwise, or take out."""
    garden = request.garden
    row = get_object_or_404(
        BedArea.objects.select_related("planting", "spot"), pk=area_id, planting__season__garden=garden
    )
    spot, key, seen = row.spot, request.POST.get("key", ""), request.POST.get("revision")
    crop = dating_of(garden, waits=False).crop(row.planting)
    note = ""
    try:
        if "lift" in request.POST:
            note = actions.lift(garden, request.user, row, crop, key, seen)
        elif "as_fits" in request.POST:
            note = actions.want_as_fits(garden, request.user, row.planting, crop, request.POST["as_fits"] == "yes", key)
        elif (rect := _rect(request)) is not None:
            values = dict(zip(("x_cm", "y_cm", "length_cm", "width_cm"), rect, strict=True))
            note = actions.change(garden, request.user, row, crop, values, key, seen)
        else:
            form = AreaForm(request.POST, units=request.reader)
            if form.is_valid():
                note = actions.change(garden, request.user, row, crop, form.cleaned_data, key, seen)
            else:
                note = " ".join(str(e) for errors in form.errors.values() for e in errors)
    except journal.Repeated:
        pass
    except Refused as refusal:
        note = f"{refusal}."
    return _back(request, spot, note)


def _back(request: Any, spot: Spot, note: str) -> HttpResponse:
    """The board again: as a part for a script, otherwise the page with the note on it."""
    if request.headers.get("X-Part"):
        return render(request, "beds/_board.html", _bed_context(request, spot, note))
    if note:
        messages.info(request, note)
    week = request.POST.get("week", "")
    return redirect(f"/g/{request.garden.pk}/beds/{spot.pk}/" + (f"?week={week}" if week else ""))


@garden_view(no_frost="beds")
def following(request: Any, area_id: int) -> HttpResponse:
    """What could stand where an area comes free: of the packets in the box, or of every crop."""
    garden, today = request.garden, clock.today(request.garden)
    row = get_object_or_404(
        BedArea.objects.select_related("spot"), pk=area_id, planting__season__garden=garden, planting__cancelled_on=None
    )
    on = queries.standing(garden)
    dating = on.dating
    board = queries.board(garden, row.spot, dating, queries.laid_out(garden, on))
    slot = next((s for s in board.slots if s.after.ref == str(row.pk)), None)
    packets_only = "all" not in request.GET
    found = queries.followers(dating, row.spot, slot, today, packets_only) if slot is not None else []
    family = dating.crops[row.planting.crop_key].family
    context = {
        "view": "beds",
        "spot": row.spot,
        "slot": slot,
        "packets_only": packets_only,
        "found": [(one, lot, one.crop.family == family, _plan_it(garden, row.spot, one, lot)) for one, lot in found],
    }
    return render(request, "beds/next.html", context)


def _plan_it(garden: Any, spot: Spot, one: Follower, lot: Lot | None) -> str:
    """The address that offers it to be planned; the day of planting out only where the ground sets it."""
    pinned = one.dates.out_because == "pinned"
    offer = {
        "crop": one.crop.name,
        "wanted": one.fit.plants,
        "method": one.method,
        "term": "autumn",
        "spot": spot.pk,
        "sow_on": one.dates.sow_on.isoformat(),
    }
    offer |= {"chosen_out": one.dates.out_on.isoformat()} if pinned else {}
    offer |= {"lot": lot.pk, "variety": lot.variety} if lot is not None else {}
    return f"{link('plan_add', garden.pk)}?{urlencode(offer)}"


@garden_view(no_frost="beds")
def fits(request: Any, spot_id: int) -> HttpResponse:
    """How many would fit the rectangle being drawn: one line of text."""
    spot = get_object_or_404(Spot, pk=spot_id, garden=request.garden, kind__in=SOIL)
    dating = dating_of(request.garden, waits=False)
    row, planting = None, None
    if (asked := whole_number(request.GET.get("area"))) is not None:
        row = BedArea.objects.filter(pk=asked, spot=spot).select_related("planting").first()
    elif (asked := whole_number(request.GET.get("planting"))) is not None:
        planting = Planting.objects.filter(pk=asked, season__garden=request.garden).first()
    planting = row.planting if row is not None else planting
    try:
        length, width = float(request.GET.get("l", "")), float(request.GET.get("w", ""))
        if not (isfinite(length) and isfinite(width)):
            raise ValueError("Draw it larger.")
        if planting is None:
            raise ValueError("choose what to lay out first")
        crop = dating.crop(planting)
        pattern, edge = (row.pattern, row.edge) if row is not None else ("square", True)
        apart, clump = queries.apart_of(planting, crop), queries.clump_of(planting, crop)
        spacing = queries.spacing_of(row, planting, crop) if row is not None else apart
        found = fit(length, width, spacing, pattern, edge)
        clumps = f", {found.plants} clumps of {clump}" if clump > 1 else ""
        text = f"{found.plants * clump} {crop.name} fit{clumps}; {planting.wanted} wanted"
    except ValueError as error:
        text = f"{error}".capitalize() if planting is None else "Draw it larger."
    return HttpResponse(text, content_type="text/plain; charset=utf-8")


# ---------------------------------------------------------------- household


@garden_view("grower", back="beds")
@require_POST
def use(request: Any) -> HttpResponse:
    """What is used of a crop in a week."""
    key = request.POST.get("crop", "")[:60]
    form = UseForm(request.POST)
    known = Planting.objects.filter(season__garden=request.garden, crop_key=key).exists()
    if known and form.is_valid():
        actions.keep_use(request.garden, request.user, key, form.cleaned_data, request.POST.get("key", ""))
    else:
        messages.error(request, "Give a number a week, such as 5; from a plant may stay empty.")
    return redirect(f"/g/{request.garden.pk}/beds/#household")
