"""The seed box in and out as files."""

from __future__ import annotations

from typing import Any, NamedTuple

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.place.dating import dating_of
from aestiva.season import sheets
from aestiva.season.crops import Crops
from aestiva.season.models import Lot
from aestiva.seeds import actions, queries
from growing.crops import Crop
from growing.files.sheet import Sheet
from growing.seeds.lotfile import MEANINGS, MOST_ROWS, NAMES, LotRow, read_lots

SHEET = "lots"
SAID = {
    "bad_packed": "“{value}” is not a year a packet can be for.",
    "bad_seeds": "“{value}” is not a whole count of seeds.",
    "bad_grams": "“{value}” is not a weight.",
    "bad_seeds_per_g": "“{value}” is not a number of seeds in a gram.",
    "bad_price": "“{value}” is not a price.",
}


class PacketLine(NamedTuple):
    """One row of the list with its crop, and whether such a packet is there already."""

    row: LotRow
    crop: Crop
    known: bool


@garden_view("grower", back="seeds")
def lots_import(request: Any) -> HttpResponse:
    """A list of packets: what it means and what is there already first, then all of it or nothing."""
    context: dict[str, Any] = {"view": "seeds"}
    if request.method == "POST" or "job" in request.GET:
        try:
            sheet, context["sealed"], again = sheets.received(request, SHEET, MOST_ROWS)
        except Refused as refused:
            context["problems"] = [sheets.sentence(refused)]
            return render(request, "seeds/import.html", context, status=422)
        look = _PacketsLook(request, sheet)
        if request.POST.get("what") == "problems":
            return sheets.problems_file(look.row_problems)
        if again and request.POST.get("what") == "keep" and look.ready:
            return look.keep()
        context |= look.context()
    return render(request, "seeds/import.html", context, status=422 if context.get("problems") else 200)


class _PacketsLook:
    """A list of packets as this garden reads it, and what was said about it."""

    def __init__(self, request: Any, sheet: Sheet) -> None:
        garden = request.garden
        self.request, self.garden, self.said = request, garden, sheets.told(request)
        self.also = request.POST.get("known") == "also"
        year = clock.today(garden).year
        self.found = read_lots(sheet, year, self.said.columns or None, sheets.known_columns(garden, SHEET))
        self.crops = Crops(garden)
        written = [row.crop for row in self.found.rows]
        self.names = sheets.names_of(garden, self.crops, written, self.said.names)
        self.row_problems = sheets.in_words(self.found.problems, SAID)
        there = actions.packets_there(garden)
        self.packets: list[PacketLine] = []
        for row in self.found.rows:
            crop = self.names.crops.get(row.crop.lower())
            if crop is not None and row.row not in self.said.leave:
                which = (crop.key, row.variety.lower(), row.packed)
                self.packets.append(PacketLine(row, crop, which in there))
                there.add(which)

    @property
    def taken(self) -> list[PacketLine]:
        """The packets that would be kept."""
        return [one for one in self.packets if self.also or not one.known]

    @property
    def ready(self) -> bool:
        """Can it be kept: every question answered, and no problem that was not left out?"""
        problems = self.row_problems and not self.said.bad
        return bool(self.packets) and not (problems or self.found.missing or self.names.open or self.found.fatal)

    def context(self) -> dict[str, Any]:
        whole = sheets.stops(self.found.fatal, SAID)
        problems = [*whole, *sorted(self.row_problems)]
        shown = sheets.context_of(
            SHEET, self.found.layout, self.found.missing, self.names, problems, MEANINGS, self.crops, self.said
        )
        return shown | {
            "rows": self.packets[: sheets.MOST_ROWS_SHOWN],
            "more_rows": max(0, len(self.packets) - sheets.MOST_ROWS_SHOWN),
            "count": len(self.taken),
            "there": sum(one.known for one in self.packets),
            "also": self.also,
            "ready": self.ready,
        }

    def keep(self) -> HttpResponse:
        """All of it in one entry: packets, crops of one’s own, and what headings mean."""
        lots = [
            Lot(garden=self.garden, crop_key=crop.key, variety=r.variety, packed_year=r.packed, seeds=r.seeds, grams=r.grams,
                seeds_per_g=r.seeds_per_g, origin=r.origin, price=r.price, note=r.note)
            for r, crop, _ in self.taken
        ]  # fmt: skip
        said = f"Brought in {say.plural(len(lots), 'packet')}"
        with journal.change(self.garden, self.request.user, said, self.request.POST.get("key", "")) as write:
            sheets.keep_said(write, self.garden, SHEET, self.found.layout, self.names, self.said, NAMES)
            write.insert(lots)
        known = len(self.packets) - len(lots)
        told = (f" {known} were there already." if known else "") + sheets.left_out(self.row_problems, self.said)
        messages.success(self.request, f"{say.plural(len(lots), 'packet')} in the box.{told}")
        return redirect("seeds", self.garden.pk)


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
