"""Ways of working: questions on which good growers differ, settled for the garden, a crop, a packet or a planting."""

from __future__ import annotations

from typing import Any, NamedTuple

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from aestiva.course.state import Item, SeasonState, load
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.plan.ways import told
from aestiva.season.crops import Crops
from aestiva.season.models import CropValue, Lot, Planting
from growing.practices import BY_FIELD, GARDEN_LEVEL, SCHOOLS, School

ABOVE = "above"  # what the level above has


class Level(NamedTuple):
    """What is being settled: the garden, or one crop, packet or planting of it; own: its own ways, by question."""

    kind: str
    name: str
    own: dict[str, str]
    query: str
    row: Any = None
    crop_key: str = ""


def _level(request: Any, crops: Crops) -> Level:
    """The level that the address names."""
    asked = request.GET
    if (pk := whole_number(asked.get("planting"))) is not None:
        planting = get_object_or_404(Planting, pk=pk, season__garden=request.garden)
        own = _own(planting.values)
        return Level(
            "planting",
            f"this planting of {_name(crops, planting.crop_key)}",
            own,
            f"planting={pk}",
            planting,
            planting.crop_key,
        )
    if (pk := whole_number(asked.get("lot"))) is not None:
        lot = get_object_or_404(Lot, pk=pk, garden=request.garden)
        return Level("lot", f"the packet {lot}", _own(lot.facts), f"lot={pk}", lot, lot.crop_key)
    if key := asked.get("crop", ""):
        if key not in crops:
            raise Http404("There is no such crop here.")
        rows = {field: value for field, (value, _) in crops.changed.get(key, {}).items() if field in BY_FIELD}
        return Level("crop", crops[key].name, rows, f"crop={key}", None, key)
    return Level("garden", request.garden.name, dict(request.garden.schools), "", request.garden)


def _name(crops: Crops, key: str) -> str:
    return crops[key].name if key in crops else key


def _own(values: dict[str, Any]) -> dict[str, str]:
    return {field: str(said[0]) for field, said in values.items() if field in BY_FIELD}


class WayQuestion(NamedTuple):
    """One question as the level has it: its own way or the one from above, and whose that is."""

    school: School
    own: str
    now: str
    whose: str


def _questions(level: Level, crops: Crops, garden: Garden) -> list[WayQuestion]:
    found = []
    for school in SCHOOLS:
        field = school.field
        if level.kind == "garden" and field not in GARDEN_LEVEL:
            continue
        own = level.own.get(field, "")
        if level.kind == "garden":
            above, whose = school.usual, "the usual"
        else:
            above, whose = _above(level, crops, garden, field)
        found.append(WayQuestion(school, own, own or above, "" if own else whose))
    return found


def _above(level: Level, crops: Crops, garden: Garden, field: str) -> tuple[str, str]:
    """The way that a level's crop has without its own word, and who says so."""
    said = crops.changed.get(level.crop_key, {})
    if level.kind == "planting":
        lot = level.row.lot
        if lot is not None and field in (lot.facts or {}):
            return str(lot.facts[field][0]), "its packet"
    if level.kind != "crop" and field in said:
        return str(said[field][0]), "the crop"
    if field in garden.schools:
        return str(garden.schools[field]), "the garden"
    return BY_FIELD[field].usual, "the usual"


def _items(level: Level, now: SeasonState) -> list[Item]:
    """The plantings that the level speaks of."""
    if level.kind == "planting":
        return [i for i in now.items if i.planting.pk == level.row.pk]
    if level.kind == "lot":
        assert now.shared is not None
        return [
            i for i in now.items if (lot := now.shared.dating.lot(i.planting)) is not None and lot.pk == level.row.pk
        ]
    return [i for i in now.items if level.kind == "garden" or i.crop.key == level.crop_key]


@garden_view(back="ways")
def ways(request: Any) -> HttpResponse:
    """The questions at one level, each with its ways; kept together as one entry."""
    crops = Crops(request.garden)
    level = _level(request, crops)
    questions = _questions(level, crops, request.garden)
    if request.method == "POST":
        wanted = {}
        for one in questions:
            said = request.POST.get(one.school.field, ABOVE)
            if said != ABOVE and said not in {o.key for o in one.school.options}:
                raise Refused(one.school.field, f"“{said[:30]}” is no way that there is: choose one of them")
            if said != ABOVE:
                wanted[one.school.field] = said
        _keep(request, level, wanted)
        messages.success(request, f"The ways of {level.name} are kept; what is not yet sown follows.")
        return redirect(request.get_full_path())
    context = {"view": "plan", "level": level, "questions": questions, "above": ABOVE}
    return render(request, "plan/ways.html", context)


def _keep(request: Any, level: Level, wanted: dict[str, str]) -> None:
    said, reason = f"Settled ways of working of {level.name}", request.POST.get("reason", "").strip()[:200]
    with journal.change(request.garden, request.user, said, request.POST.get("key", "")) as write:
        if level.kind == "garden":
            row = Garden.objects.get(pk=request.garden.pk)
            row.schools = {f: w for f, w in wanted.items() if w != BY_FIELD[f].usual}
            write.save(row, request.POST.get("revision"))
        elif level.kind == "crop":
            _keep_crop(write, request.garden, level.crop_key, wanted, reason)
        else:
            row, column = level.row, "values" if level.kind == "planting" else "facts"
            rest = {f: v for f, v in (getattr(row, column) or {}).items() if f not in BY_FIELD}
            setattr(row, column, rest | {f: [w, reason] for f, w in wanted.items()})
            write.save(row, request.POST.get("revision"))


def _keep_crop(write: ChangeSet, garden: Garden, key: str, wanted: dict[str, str], reason: str) -> None:
    rows = {r.field: r for r in CropValue.objects.filter(garden=garden, crop_key=key, field__in=BY_FIELD)}
    for field, row in rows.items():
        if field not in wanted:
            write.delete(row)
    for field, way in wanted.items():
        row = rows.get(field) or CropValue(garden=garden, crop_key=key, field=field)
        if row.pk is None or row.value != way:
            row.value, row.reason = way, reason
            write.save(row)


@garden_view(no_frost="plan")
def way_told(request: Any, way: str) -> HttpResponse:
    """What each way of one question would change here, for the page that asks for it."""
    if way not in BY_FIELD:
        raise Http404("There is no such question.")
    crops = Crops(request.garden)
    level = _level(request, crops)
    now = load(request.garden, clock.today(request.garden))
    question = next((q for q in _questions(level, crops, request.garden) if q.school.field == way), None)
    if question is None:
        raise Http404("This is settled elsewhere.")
    found = told(now, question.school, question.now, _items(level, now))
    return render(request, "plan/_told.html", {"question": question, "told": found, "above": ABOVE, "level": level})
