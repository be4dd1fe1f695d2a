"""The seed box in and out as files."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from aestiva.frame.files import csv_response
from aestiva.frame.upload import Refusal, received
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.place.dating import dating_of
from aestiva.season.crops import Crops, too_many_unknown
from aestiva.season.models import Lot
from aestiva.seeds import actions, queries
from growing.crops import Crop
from growing.crops.names import Meant
from growing.seeds.lotfile import LotRow, read_lots

_SAY = {
    "no_crop_column": "No column is called “crop” (found: {value}): name it in the first row.",
    "too_many_rows": "The list has more than {value} rows: cut it into several.",
    "broken_row": "the row cannot be read: is a quotation mark missing?",
    "no_crop": "no crop is named.",
    "bad_packed": "“{value}” is not a year a packet can be for.",
    "bad_seeds": "“{value}” is not a count of seeds.",
    "bad_grams": "“{value}” is not a weight in grams.",
    "bad_seeds_per_g": "“{value}” is not a number of seeds in a gram.",
    "bad_price": "“{value}” is not a price.",
    "empty": "The file is empty: choose another.",
    "binary": "This is not a text file: save the table as CSV and choose that.",
    "encoding": "The text cannot be read as {value}: save the file as UTF-8.",
    "too_wide": "The first row has {value} columns: is this the right file?",
    "too_big": "The file is larger than {value}, the most that is read: cut it into several.",
}


@garden_view("grower", back="seeds")
def lots_import(request: Any) -> HttpResponse:
    """Packets from a CSV: what they mean and what is there already first, then all of it or nothing."""
    garden, problems = request.garden, []
    context: dict[str, Any] = {"view": "seeds"}
    if request.method == "POST":
        try:
            data, context["sealed"], again = received(request, f"lots {garden.pk}")
            parsed = read_lots(data, clock.today(garden).year)
            for p in ([parsed.fatal] if parsed.fatal else []) + list(parsed.problems[:20]):
                said = _SAY[p.code].format(value=p.value)
                problems.append(f"Row {p.row}: {said}" if p.row else said)
            matches, open_ = _matches(request, parsed.rows)
            problems += too_many_unknown(open_)
            if not problems and again and not open_:
                return _keep(request, matches)
            context |= {"matches": matches, "open": open_, "all_crops": list(Crops(garden)) if open_ else []}
        except Refusal as refusal:
            problems.append(str(refusal))
    context["problems"] = problems
    return render(request, "seeds/import.html", context, status=422 if problems else 200)


def _matches(
    request: Any, rows: tuple[LotRow, ...]
) -> tuple[list[tuple[LotRow, Crop | None, bool]], dict[str, list[Crop]]]:
    """Each row with its crop and whether such a packet is there already; and the names still open."""
    crops = Crops(request.garden)
    there = {
        (k, v.lower(), y)
        for k, v, y in Lot.objects.filter(garden=request.garden, used_up=False).values_list(
            "crop_key", "variety", "packed_year"
        )
    }
    found, open_ = [], {}
    for row in rows:
        key = request.POST.get(f"means-{row.crop.lower()}", "")
        found_here = Meant(crops[key]) if key and key in crops else crops.named(row.crop)
        crop = found_here.crop
        if crop is None:
            open_[row.crop.lower()] = list(found_here.like)
        known = crop is not None and (crop.key, row.variety.lower(), row.packed) in there
        if crop is not None:
            there.add((crop.key, row.variety.lower(), row.packed))
        found.append((row, crop, known))
    return found, open_


def _keep(request: Any, matches: list[tuple[LotRow, Crop | None, bool]]) -> HttpResponse:
    garden = request.garden
    also = request.POST.get("known") == "also"
    lots = [
        Lot(garden=garden, crop_key=crop.key, variety=r.variety, packed_year=r.packed, seeds=r.seeds, grams=r.grams,
            seeds_per_g=r.seeds_per_g, origin=r.origin, price=r.price, note=r.note)
        for r, crop, known in matches
        if crop is not None and (also or not known)
    ]  # fmt: skip
    actions.insert(garden, request.user, lots, request.POST.get("key", ""))
    left = len(matches) - len(lots)
    messages.success(request, f"{len(lots)} packets are in the box." + (f" {left} were there already." if left else ""))
    return redirect("seeds", garden.pk)


@garden_view()
def lots_csv(request: Any) -> HttpResponse:
    crops = Crops(request.garden)
    columns = ("crop", "variety", "packed", "seeds", "grams", "seeds per gram", "from", "price", "note")
    rows = [
        (crops[lot.crop_key].name if lot.crop_key in crops else lot.crop_key, lot.variety, *(
            "" if v is None else v for v in (lot.packed_year, lot.seeds, lot.grams, lot.seeds_per_g, lot.origin, lot.price, lot.note)))
        for lot in Lot.objects.filter(garden=request.garden).order_by("pk")
    ]  # fmt: skip
    return csv_response("lots.csv", columns, rows)


@garden_view()
def orders_csv(request: Any) -> HttpResponse:
    try:
        dating = dating_of(request.garden)
    except NoFrostDate as error:
        raise Http404("Nothing can be counted before a frost date is known.") from error
    found = queries.orders(request.garden, dating, clock.today(request.garden))
    rows = [
        (
            o.origin,
            o.crop.name,
            o.variety,
            o.order.seeds,
            o.order.packets or "",
            "" if o.order.cost is None else round(o.order.cost, 2),
            o.order.by.isoformat(),
        )
        for o in found
    ]
    return csv_response("orders.csv", ("from", "crop", "variety", "seeds", "packets", "cost", "by"), rows)
