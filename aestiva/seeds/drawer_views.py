"""A drawer of packets, put in in one go: a row a packet, every name that is not known asked in its row."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render

from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.frame.say import US, stored
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.season.crops import Crops, own_crop
from aestiva.season.models import GardenCrop, Lot
from aestiva.seeds import actions
from aestiva.seeds.forms import check_year
from growing.crops import Crop
from growing.files.numbers import read_number

ROWS, MOST_ROWS = 15, 60
FIELDS = ("crop", "variety", "packed", "amount")


class DrawerRow(NamedTuple):
    """A row as typed: its number, its fields, what is wrong by field, the crops its name might mean, and whether such a packet
    is in the box already."""

    number: int
    typed: Mapping[str, str]
    wrong: Mapping[str, str]
    like: tuple[Crop, ...]
    there: bool
    lot: Lot | None
    own: str = ""  # the crop that one’s own of this name grows like

    @property
    def is_open(self) -> bool:
        return bool(self.wrong)


@garden_view("grower", back="seeds")
def drawer(request: Any) -> HttpResponse:
    """Fifteen packets or more, kept together and taken back together."""
    crops, made = Crops(request.garden), list[GardenCrop]()
    count = min(MOST_ROWS, max(ROWS, whole_number(request.POST.get("rows")) or ROWS))
    rows: list[DrawerRow] = []
    what = request.POST.get("what", "")
    if request.method == "POST":
        there = actions.packets_there(request.garden)
        rows = [_row(request, n, crops, made, there) for n in range(count)]
        filled = [row for row in rows if row.lot is not None or row.is_open]
        also = request.POST.get("known") == "also"
        if what == "keep" and filled and not any(row.is_open for row in filled):
            lots = [row.lot for row in filled if row.lot is not None and (also or not row.there)]
            if lots or not any(row.there for row in filled):
                return _keep(request, lots, made, len(filled) - len(lots))
    if what == "more":
        count = min(MOST_ROWS, count + 10)
    empty = [DrawerRow(n, dict.fromkeys(FIELDS, ""), {}, (), False, None) for n in range(len(rows), count)]
    problems = sum(row.is_open for row in rows)
    context = {
        "view": "seeds",
        "rows": [*rows, *empty],
        "count": count,
        "crops": list(crops),
        "weight": say.amount(2.0, "g", request.reader),
        "problems": problems,
        "there": sum(row.there for row in rows),
        "nothing": what == "keep" and not any(row.lot is not None or row.is_open for row in rows),
    }
    return render(request, "seeds/drawer.html", context, status=422 if problems and what == "keep" else 200)


def _row(
    request: Any, number: int, crops: Crops, made: list[GardenCrop], there: set[tuple[str, str, int | None]]
) -> DrawerRow:
    """One row, read; a crop tapped among the suggestions takes the place of its name."""
    typed = {name: " ".join(request.POST.get(f"{name}-{number}", "").split()) for name in FIELDS}
    row, _, tapped = request.POST.get("take", "").partition(":")
    if row == str(number) and tapped in crops:
        typed["crop"] = crops[tapped].name
    own = request.POST.get(f"own-{number}", "")
    if own not in crops or not typed["crop"] or crops.named(typed["crop"]).crop is not None:
        own = ""
    if own:
        made.append(own_crop(request.garden, typed["crop"], crops, own))
    if not any(typed.values()):
        return DrawerRow(number, typed, {}, (), False, None)
    wrong: dict[str, str] = {}
    found = crops.named(typed["crop"]) if typed["crop"] else None
    crop = None if found is None else found.likely
    if crop is None:
        wrong["crop"] = f"“{typed['crop']}” is not one crop the garden knows" if typed["crop"] else "Which crop is it?"
    packed = _year(request, typed["packed"], wrong)
    seeds, grams = _amount(typed["amount"], wrong)
    if crop is None or wrong:
        return DrawerRow(number, typed, wrong, () if found is None else found.like[:6], False, None)
    typed["crop"] = crop.name
    which = (crop.key, typed["variety"].lower(), packed)
    known = which in there
    there.add(which)
    lot = Lot(
        garden=request.garden,
        crop_key=crop.key,
        variety=typed["variety"][:60],
        packed_year=packed,
        seeds=seeds,
        grams=grams,
    )
    return DrawerRow(number, typed, {}, (), known, lot, own)


def _year(request: Any, text: str, wrong: dict[str, str]) -> int | None:
    """The year packed for; two figures do; None where it says none."""
    if not text:
        return None
    year = whole_number(text)
    try:
        if year is None or len(text) > 4:
            raise forms.ValidationError(f"“{text[:20]}” is not a year: two or four figures")
        return check_year(2000 + year if year < 100 else year, clock.today(request.garden))
    except forms.ValidationError as error:
        wrong["packed"] = str(error.message)
        return None


def _amount(text: str, wrong: dict[str, str]) -> tuple[int | None, float | None]:
    """Seeds, or grams where it says so: “30”, “2 g”, “0,5 g”, “0.1 oz”."""
    if not text:
        return None, None
    number, said = read_number(text), text.lower().rstrip(".")
    ounces = said.endswith("oz")
    weighed = ounces or said.endswith(("g", "gram", "grams"))
    if number is not None and ounces:
        number = round(stored(number, "g", US), 3)
    if number is None or not 0 <= number <= actions.MOST_SEEDS or (not weighed and number != int(number)):
        wrong["amount"] = f"“{text[:20]}” is no count of seeds and no weight, such as 30, or so many g or oz"
        return None, None
    return (None, number) if weighed else (int(number), None)


def _keep(request: Any, lots: list[Lot], made: list[GardenCrop], left: int) -> HttpResponse:
    said = f"Put {say.plural(len(lots), 'packet')} in the box"
    with journal.change(request.garden, request.user, said, request.POST.get("key", "")) as write:
        for own in made:
            write.save(own)
        write.insert(lots)
    known = f" {left} were there already and were left out." if left else ""
    messages.success(request, f"{say.plural(len(lots), 'packet')} in the box.{known}")
    return redirect("seeds", request.garden.pk)
