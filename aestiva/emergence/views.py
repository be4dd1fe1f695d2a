"""Emergence: is it coming, what now?  All batches under the mix, counted with one hand; what was found, what the mix reads."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse

from aestiva.bench.models import SOAK, Timer
from aestiva.course.state import SeasonState, load
from aestiva.emergence.around import all_due, around, elsewhere, places, sows_anew, tray_mates, who_gains
from aestiva.emergence.boxes import boxes
from aestiva.emergence.boxes import headline as box_headline
from aestiva.emergence.coming import SowingComing, coming
from aestiva.emergence.commands import FOUND
from aestiva.emergence.draw import curves_svg, one_svg, symbols
from aestiva.emergence.heat import advice, heats, said
from aestiva.emergence.seedlings import MOST_SHOWN, choices, leaves, seedlings, verdict
from aestiva.emergence.words import headline, seed_words, sentence, tone, verdict_lines
from aestiva.frame.forms import whole_number
from aestiva.frame.say import Reader, shown
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.plan.choosing import prices_for
from aestiva.season.models import Batch, CellRun, Spot
from aestiva.seeds.queries import had
from growing.batch.verdict import reasons
from growing.bench.steps import SowingDetail

MOST_DRAWN, MOST_LISTED = 8, 20
USUAL_SOAK_H, SOAK_SLACK = 12.0, 1.5  # of a crop that names no hours; times those from which it was too long: estimates


@garden_view(no_frost="emergence")
def emergence(request: Any) -> HttpResponse:
    return _page(request)


def _page(request: Any, refused: Refused | None = None, batch_id: int | None = None) -> HttpResponse:
    garden = request.garden
    now = load(garden, clock.today(garden))
    found = coming(now)
    asked = batch_id or whole_number(request.GET.get("batch"))
    one = next((c for c in found if c.batch == asked), found[0] if found else None)
    outdoors = boxes(now)
    drawn = found[:MOST_DRAWN]
    listed = found if request.GET.get("list") == "all" else found[:MOST_LISTED]
    if one is not None and one not in drawn:
        drawn = [one, *drawn[:-1]]
    up = seedlings(now, {c.batch for c in found})
    shown_up = up if len(up) <= MOST_SHOWN or request.GET.get("up") == "all" else up[:MOST_SHOWN]
    page = reverse("emergence", args=[garden.pk])
    context = {
        "view": "emergence",
        "headline": headline(found, now.today) if found or not outdoors else box_headline(outdoors),
        "boxes": outdoors,
        "found": [(c, verdict_lines(c, now.today), tone(c.verdict.kind)) for c in listed],
        "total": len(found),
        "up": sum(c.up for c in found),
        "seeds": sum(c.seeds for c in found),
        "picture": curves_svg(
            drawn, now.today, request.reader, [f"{page}?batch={c.batch}#one" for c in drawn], one.batch if one else None
        ),
        "more": len(found) - len(drawn),
        "one": one,
        "refused": refused,
        "troubles": now.troubles,
        "glyphs": symbols(),
        "seedlings": [
            (s, verdict(s, now.today), "" if s.seen is None else leaves(s.seen.leaves), choices(s)) for s in shown_up
        ],
        "all_up": 0 if shown_up is up else len(up),
        "length": shown(1, "cm", request.reader)[1],
        "heats": [
            (h, advice(h, now.today, request.reader), [(said(a, request.reader), a.working) for a in h.alarms])
            for h in heats(now, found)
        ],
    }
    if one is not None:
        context |= _about(now, one, found, request.reader) | _freed(request, now, found)
    return render(request, "emergence/emergence.html", context, status=422 if refused else 200)


def _about(now: SeasonState, one: SowingComing, found: list[SowingComing], units: Reader) -> dict[str, Any]:
    low, high = one.expected_by(now.today)
    one = _with_soak(one)
    return {
        "alone": one_svg(one, now.today, units),
        "low": low,
        "high": high,
        "sentence": sentence(one, now.today),
        "tone": tone(one.verdict.kind),
        "lines": verdict_lines(one, now.today),
        "revision": one.item.batch.revision if one.item.batch is not None else 0,
        "elsewhere": elsewhere(now, one),
        "anew": sows_anew(one),
        "around": (there := around(one, now.today)),
        "due": all_due(there),
        "due_kinds": [s.kind for s in there if s.state == "now"],
        "mates": tray_mates(now, one, found),
        **_to_sow(now, one, units),
        "tray": CellRun.objects.filter(batch=one.batch, until=None).values_list("tray_id", flat=True).first(),
        "said_by": ("assumed", "by one reading", "by least and most", "by probe")[one.had.by],
        "warmth": one.had.last_c,
        "found_words": FOUND,
    }


def _with_soak(one: SowingComing) -> SowingComing:
    """Where it is late: was its seed soaked too long before it was sown?  By the timer of the soak, if there was one."""
    if not one.verdict.reasons:
        return one
    soaks = Timer.objects.filter(planting=one.item.planting, kind=SOAK, done_at__isnull=False)
    garden = one.item.planting.season.garden
    soak = next((s for s in soaks.order_by("-started") if clock.day_at(garden, s.started) <= one.had.start), None)
    if soak is None or soak.done_at is None:
        return one
    hours, most = (soak.done_at - soak.started).total_seconds() / 3600, one.item.crop.number("soak_h") or USUAL_SOAK_H
    case = one.case._replace(soak_hours=hours, soak_most=SOAK_SLACK * most)
    return replace(one, case=case, verdict=one.verdict._replace(reasons=reasons(case)))


def _to_sow(now: SeasonState, one: SowingComing, units: Reader) -> dict[str, Any]:
    """What is to be sown again, and what the packet says to it."""
    todo = now.find(f"{one.item.raised.ref}.again.0") if one.verdict.sows else None
    if todo is None or one.item.batch is None:
        return {"to_sow": None}
    lot = None if one.item.batch.lot_id is None else now.lots.get(one.item.batch.lot_id)
    takes = (todo.task.count or 0) * (todo.task.detail.per_cell if isinstance(todo.task.detail, SowingDetail) else 1)
    price = prices_for(now.garden, one.item.crop, lot).seed
    return {"to_sow": todo, "seed": seed_words(None if lot is None else had(lot), takes, price, units)}


@garden_view(no_frost="emergence")
def move(request: Any, batch_id: int) -> HttpResponse:
    """Where else it could stand, with room, light and warmth; a mat that is left is offered to who gains most by it."""
    garden, today = request.garden, clock.today(request.garden)
    batch, now = batch_of(garden, batch_id), load(garden, today)
    one = next((c for c in coming(now) if c.batch == batch_id), None)
    item = now.item_of(batch_id)
    context = {
        "view": "emergence",
        "batch": batch,
        "one": one,
        "item": item,
        "places": [] if item is None else places(now, item, one),
        "revision": batch.revision,
    }
    return render(request, "emergence/move.html", context)


def _freed(request: Any, now: SeasonState, found: list[SowingComing]) -> dict[str, Any]:
    """A mat that has just been left, and who would come up sooner on it."""
    pk = whole_number(request.GET.get("freed"))
    mat = Spot.objects.filter(pk=pk, garden=now.garden, kind="mat").first() if pk else None
    return {"freed": mat, "gains": who_gains(now, mat, found) if mat is not None else []}


def batch_of(garden: Garden, pk: int) -> Batch:
    return get_object_or_404(Batch.objects.select_related("planting"), pk=pk, planting__season__garden=garden)


def at_batch(garden: Garden, pk: int | None) -> str:
    """The page of all that is coming, where that batch is in view."""
    return f"{reverse('emergence', args=[garden.pk])}{f'?batch={pk}#one' if pk else ''}"
