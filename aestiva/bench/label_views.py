"""Labels: which, on what sheet, how high they stand; the page that a code opens."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from typing import Any, NamedTuple

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from aestiva.bench.labels import Label, sheets_pdf, sown_words
from aestiva.bench.models import DayLine
from aestiva.bench.things import Bench, PartOf, Thing, grid, load_bench
from aestiva.course.state import Item, SeasonState, load
from aestiva.frame.forms import whole_number
from aestiva.frame.links import root
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Member
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Batch, Planting, Tray
from growing.bench.cells import SPENT, Grid, listed
from growing.bench.codes import code, read_code
from growing.bench.labels import A4, LETTER, SHEETS, LabelSheet, most, own_sheet, stands_over

MOST_LABELS = 2000
SOON = 14  # days ahead that a sowing may be labelled without a sheet
MM_PER_INCH = 25.4


class LabelsWanted(NamedTuple):
    """A batch, or a sowing to come, and how many labels it may have at most."""

    ref: str
    item: Item
    where: str
    places: int
    thing: Thing | None
    on: Any
    planned: bool = False  # on a sheet, with its tray: the label says the day it is sown


def wanted(now: SeasonState, bench: Bench) -> list[LabelsWanted]:
    """What may be labelled: the sowings of the next two weeks first, then what stands."""
    return [*_to_sow(now), *_standing(now, bench)]


def _to_sow(now: SeasonState) -> list[LabelsWanted]:
    """Sowings to come: where a sheet was made, with the tray and cells that they go into."""
    lines: dict[int, list[DayLine]] = defaultdict(list)
    planned = DayLine.objects.filter(day__garden=now.garden, day__kind="sow", batch=None).exclude(tray=None)
    for line in planned.select_related("day", "tray__container"):
        lines[line.planting_id].append(line)
    found = []
    for item in now.items:
        dates = item.raised.dates
        if item.batch is not None or dates.method not in ("raised", "winter"):
            continue
        ref = f"P{item.planting.pk}"
        for line in lines.get(item.planting.pk, []):
            assert line.tray is not None
            box = line.places > line.tray.cells
            cells = [] if box else list(range(line.first, line.first + line.places))
            where = f"{line.tray.code} {_span(cells, grid(line.tray))}".strip()
            found.append(LabelsWanted(ref, item, where, 1 if box else line.places, None, line.day.on, True))
        if item.planting.pk not in lines and (dates.sow_on - now.today).days <= SOON:
            found.append(LabelsWanted(ref, item, item.grows_at, max(1, item.raised.wanted * 3), None, dates.sow_on))
    return sorted(found, key=lambda w: w.on)


def _standing(now: SeasonState, bench: Bench) -> list[LabelsWanted]:
    """What stands in trays and pots, the first sown first."""
    here: dict[int, list[tuple[Thing, PartOf]]] = defaultdict(list)
    for thing in bench.things:
        for part in thing.parts:
            here[part.batch].append((thing, part))
    found = []
    for item in now.items:
        if item.batch is None or item.raised.facts.planted_on is not None or item.raised.plants == 0:
            continue
        for thing, part in here.get(item.batch.pk, []):
            cells = [c for c in part.cells if thing.contents[c][1] not in SPENT]
            where = "" if thing.spot is None else thing.spot.code
            if thing.tray is not None and cells:
                where = f"{thing.tray.code} {_span(cells, grid(thing.tray))}"
            most_ = max(1, len(cells) or part.standing)
            found.append(LabelsWanted(f"B{item.batch.pk}", item, where, most_, thing, item.batch.sown_on))
    return sorted(found, key=lambda w: (w.on is None, w.on or date.min))


def _span(cells: list[int], g: Grid) -> str:
    """Cells in few signs: all of them where there are no more than two runs, else the first and the last."""
    said = listed(cells, g)
    return said if said.count(",") < 2 else f"{g.name(cells[0])}–{g.name(cells[-1])}"


def _label(one: LabelsWanted, base: str) -> Label:
    item, kind, pk = one.item, one.ref[0], int(one.ref[1:])
    typed = code(kind, pk)
    address = f"{base}{reverse('label', args=[typed])}"
    sown = sown_words(item.batch.sown_on if item.batch is not None else None, item.raised.facts.first("received"))
    if item.batch is None:
        sown = f"{'sown' if one.planned else 'to sow'} {one.on:%-d %b %Y}"
    return Label(item.name, item.variety, sown, one.where, typed, address)


def _sheet(request: Any) -> LabelSheet:
    name = request.GET.get("sheet", "strips")
    if name != "own":
        if name not in SHEETS:
            raise Refused("sheet", "choose a sheet")
        return SHEETS[name]
    sizes = []
    for field in ("width", "height"):
        text = request.GET.get(field, "").strip().replace(",", ".")
        try:
            sizes.append(float(text) * (1.0 if request.reader.units == "metric" else MM_PER_INCH))
        except ValueError:
            raise Refused(field, f"“{text[:20]}” is not a number: give the {field} of a label") from None
    try:
        return own_sheet(
            sizes[0], sizes[1], LETTER if request.GET.get("page") == "letter" else A4, "strip" in request.GET
        )
    except ValueError as wrong:
        raise Refused("width", str(wrong)) from None


def _asked(request: Any, found: list[LabelsWanted]) -> list[tuple[LabelsWanted, int]]:
    """Which are to be printed, and how many of each; Refused where more are asked for than there are cells."""
    picked = request.GET.getlist("of")
    asked = []
    for n, one in enumerate(found):
        ref = f"{one.ref}.{n}"
        if ref not in picked and one.ref not in picked:
            continue
        text = request.GET.get(f"n-{ref}", "").strip() or request.GET.get("n", "").strip() or "1"
        number = whole_number(text)
        if number is None:
            raise Refused(f"n-{ref}", f"{one.item.name}: “{text[:20]}” is not a number of labels")
        try:
            most(one.places, number)
        except ValueError as wrong:
            raise Refused(f"n-{ref}", f"{one.item.name}: {wrong}") from None
        asked.append((one, number))
    if not asked:
        raise Refused("of", "choose at least one batch: there is nothing to print")
    if sum(n for _, n in asked) > MOST_LABELS:
        raise Refused("of", f"more than {MOST_LABELS} labels at once: print them in parts")
    return asked


@garden_view(no_frost="bench", back="labels")
def labels(request: Any) -> HttpResponse:
    return _page(request)


def _page(request: Any, refused: Refused | None = None) -> HttpResponse:
    now = load(request.garden, clock.today(request.garden))
    bench = load_bench(now)
    found = wanted(now, bench)
    sheet = SHEETS.get(request.GET.get("sheet", "strips"), SHEETS["strips"])
    rows = []
    for n, one in enumerate(found):
        head = one.thing.headroom if one.thing is not None else None
        ceiling = None if head is None or one.thing is None else head.gap_cm + one.thing.growth.height_cm
        rows.append(
            (
                f"{one.ref}.{n}",
                one,
                _label(one, ""),
                stands_over(sheet, 0.0, ceiling),
                head.under if head else "",
                one.ref in request.GET.getlist("of"),
            )
        )
    context = {
        "view": "bench",
        "rows": rows,
        "sheets": SHEETS.items(),
        "chosen": request.GET.get("sheet", "strips"),
        "own": request.GET,
        "unit": "mm" if request.reader.units == "metric" else "in",
        "refused": refused,
    }
    return render(request, "bench/labels.html", context, status=422 if refused else 200)


@garden_view(no_frost="bench", back="labels", page=_page)
def labels_pdf(request: Any) -> HttpResponse:
    """The sheets."""
    now = load(request.garden, clock.today(request.garden))
    asked = _asked(request, wanted(now, load_bench(now)))
    sheet = _sheet(request)
    made = [_label(one, root(request)) for one, number in asked for _ in range(number)]
    pdf = sheets_pdf(made, sheet, f"Labels, {request.garden.name}")
    return HttpResponse(
        pdf, headers={"Content-Type": "application/pdf", "Content-Disposition": 'inline; filename="labels.pdf"'}
    )


@login_required
def opened(request: Any, typed: str) -> HttpResponse:
    """What a label is of, for who may see it."""
    try:
        kind, pk = read_code(typed)
    except ValueError as wrong:
        return render(request, "bench/code.html", {"typed": typed[:40], "wrong": str(wrong)}, status=422)
    model, garden = {
        "B": (Batch, "planting__season__garden"),
        "T": (Tray, "garden"),
        "P": (Planting, "season__garden"),
    }[kind]
    row = model._base_manager.filter(pk=pk).values_list(f"{garden}_id", flat=True).first()
    if row is None or not Member.objects.filter(garden_id=row, user=request.user).exists():
        raise Http404("There is nothing of that code here.")
    sown = list(Batch.objects.filter(planting=pk)[:2]) if kind == "P" else []
    if len(sown) == 1:  # the label was printed before it was sown
        return redirect("batch", row, sown[0].pk)
    return redirect({"B": "batch", "T": "tray", "P": "planting"}[kind], row, pk)


def ask_code(request: Any) -> HttpResponse:
    """A code typed by hand."""
    if not request.user.is_authenticated:
        return redirect(f"{reverse('login')}?next={request.path}")
    typed = request.GET.get("code", "").strip()[:40]
    if not typed:
        return render(request, "bench/code.html", {"typed": "", "wrong": ""})
    try:
        kind, pk = read_code(typed)
    except ValueError as wrong:
        return render(request, "bench/code.html", {"typed": typed, "wrong": str(wrong)}, status=422)
    return redirect("label", code(kind, pk))
