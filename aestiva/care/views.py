"""The round: one list in walking order, one tap a tray; what was found, whether it was watered, and how much it takes."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench.days import timers
from aestiva.bench.models import POUR, Timer
from aestiva.care.air import heats
from aestiva.care.draw import FIGURES, figure, leaf_figure, strip_svg
from aestiva.care.models import PotLook, Sprayer, TrayLook, TrayWeight, WaterLook
from aestiva.care.moving import thirsty_daily
from aestiva.care.round import Round, Stop, corner_lost, headline, the_round
from aestiva.care.stages import Ask, asks, moved, moved_said
from aestiva.course.state import load
from aestiva.emergence.boxes import boxes
from aestiva.emergence.seedling_views import write_stage
from aestiva.emergence.views import batch_of
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.forms import whole_number
from aestiva.frame.say import Reader, shown
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Batch, Tray
from growing.care.spray import seconds
from growing.care.water import FOUND, WANTS, WAYS, way

POUR_OFF = timedelta(minutes=20)
POURS = "pour off what stands under the trays"
MOST_TOGETHER = 400
MOST_LISTED = 16  # trays at a time, in walking order
MOST_ASKED = 6  # batches whose leaves are asked for on the round; the rest stand under Moving on


@garden_view(no_frost="care")
def care(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, batch_id: int | None = None) -> HttpResponse:
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found = the_round(now)
    asked = request.GET.get("open", "")
    stages = asks(now)
    one = next((s for s in found.stops if s.key == asked), None) or next(iter(found.due), None)
    listed = len(found.due) if request.GET.get("all") == "1" else MOST_LISTED
    asked = [a for a in stages if a.due and (one is None or a.batch not in one.batches)]
    context = {
        "view": "care",
        "headline": headline(found),
        "round": found,
        "one": one,
        "choices": _choices(one, request.reader) if one is not None else [],
        "pours": pours(one, request.reader) if one is not None else [],
        "strip": strip_svg(one, today) if one is not None else "",
        "due": [
            (s, strip_svg(s, today, 96.0, small=True), likely(s, request.reader))
            for s in found.due[:listed]
            if s is not one
        ],
        "more_due": max(0, len(found.due) - listed),
        "waiting": found.waiting,
        "fine": [s.key for s in found.due if not s.thirsty and s.next.left is not None],
        "done": found.done,
        "stages": [_stage(a, request.reader) for a in stages if one is not None and a.batch in one.batches],
        "stages_due": [_stage(a, request.reader) for a in asked[:MOST_ASKED]],
        "more_asked": max(0, len(asked) - MOST_ASKED),
        "length": shown(1, "cm", request.reader)[1],
        "gram": shown(1, "g", request.reader)[1],
        "weighed": one is not None
        and one.thing.tray is not None
        and TrayWeight.objects.filter(tray=one.thing.tray).exists(),
        "daily": one is not None and bool(thirsty_daily(found) & one.batches),
        "lopsided": corner_lost(one) if one is not None else "",
        "spray": _spray(garden, one) if one is not None else "",
        "heats": [(spot.code, name, why) for spot, _, name, why in heats(now)],
        "airs": airs_said(found),
        "boxes": boxes(now),
        "timers": [t for t in timers(garden) if t.planting_id is None],
        "instant": clock.instant(),
        "refused": refused,
        "troubles": now.troubles,
    }
    return render(request, "care/round.html", context, status=422 if refused else 200)


def _spray(garden: Garden, stop: Stop) -> str:
    """Seconds for a cell, where the dose is measured from above and the sprayer was measured once; empty otherwise."""
    row = Sprayer.objects.filter(garden=garden).first() if not stop.tray.drains or stop.lying else None
    if row is None:
        return ""
    ml = stop.tray.dose_ml("pale") / max(1, stop.tray.cells)
    return f"{say.number(seconds(ml, row.ml, row.seconds))} s of the sprayer a cell"


def airs_said(found: Round) -> list[str]:
    """Places whose air is too damp or too dry."""
    here = found.air
    spots = {s.spot.pk: s.spot.code for s in found.stops if s.spot is not None}
    return [f"{code}: {here[pk].said}" for pk, code in spots.items() if pk in here and here[pk].said]


def _stage(ask: Ask, units: Reader) -> tuple[Ask, list[tuple[int, str, str]], list[str]]:
    """One batch with the leaves and heights to choose from, the leaves drawn."""
    return ask, [(n, name, leaf_figure(n)) for n, name in ask.choices], ask.heights(units)


def likely(stop: Stop, units: Reader) -> tuple[str, str, str]:
    """The likely answer in one tap: what is found, whether watered ("1"), and the words on the button."""
    if stop.lying:
        return "fair", "", "Moist"
    found = stop.next.expects if stop.next.left is not None else "fair"
    if found in WANTS:
        return found, "1", f"Watered {firm(say.amount(stop.litres, 'l', units))}"
    return found, "", found.capitalize()


def _choices(stop: Stop, units: Reader) -> list[tuple[str, str, str, str, bool]]:
    """What can be found: word, figure, dose, watered, and whether it is expected."""
    expects = stop.next.expects if stop.next.left is not None else ""
    found = []
    for kind in FIGURES:
        dose = stop.tray.dose_ml(kind) / 1000
        words = f"water {say.amount(dose, 'l', units)}" if kind in WANTS else "leave it"
        found.append((kind, figure(kind), words, "1" if kind in WANTS else "", kind == expects))
    return found


def firm(amount: str) -> str:
    """A number that is never parted from its unit."""
    return amount.replace(" ", "\u00a0")


def pours(stop: Stop, units: Reader) -> list[tuple[str, str, str]]:
    """What it may have been before it was watered, the likely one first, with what it takes and how: “0.3 l”, “from below”."""
    likely_one = stop.next.expects if stop.next.left is not None and stop.next.expects in WANTS else "pale"
    kinds = [likely_one, *(k for k in WANTS if k != likely_one)]
    tray = stop.tray
    return [
        (k, firm(say.amount(tray.dose_ml(k) / 1000, "l", units)), WAYS[way(tray.blocks, tray.drains, stop.lying, k)])
        for k in kinds
    ]


def _subject(garden: Garden, key: str) -> tuple[Tray | None, Batch | None]:
    """The tray or the pots that a key names; Refused where there is none."""
    pk = whole_number(key[1:]) if key[:1] in ("t", "b") else None
    if pk is not None and key[0] == "t" and (tray := Tray.objects.filter(pk=pk, garden=garden).first()) is not None:
        return tray, None
    if pk is not None and key[0] == "b":
        batch = Batch.objects.filter(pk=pk, planting__season__garden=garden).first()
        if batch is not None:
            return None, batch
    raise Refused("stop", "that tray is not here any more: look at the round again")


def _write(request: Any, write: journal.ChangeSet, stop: Stop, key: str, found: str, watered: bool) -> None:
    garden = request.garden
    tray, batch = _subject(garden, key)
    row: WaterLook
    if tray is not None:
        row = TrayLook(tray=tray)
    else:
        assert batch is not None
        row = PotLook(batch=batch)
    row.day, row.hour = clock.today(garden), round(clock.hour(garden), 2)
    row.found, row.watered = found, watered
    if watered:
        row.given_ml = round(stop.tray.dose_ml(found) or stop.tray.dose_ml("pale"))
    write.save(row)


@garden_view("grower", back="care", page=page)
@require_POST
def look(request: Any) -> HttpResponse:
    """One tray: how it was found, and whether it was watered."""
    garden, post = request.garden, request.POST
    key, found, watered = post.get("stop", ""), post.get("found", ""), post.get("watered") == "1"
    if found not in FOUND:
        raise Refused("found", f"how was it: {', '.join(FOUND)}?")
    tray, batch = _subject(garden, key)
    stop = next((s for s in the_round(load(garden, clock.today(garden))).stops if s.key == key), None)
    if stop is None:
        raise Refused("stop", "nothing lives there any more that wants water")
    said = f"{tray.code if tray is not None else batch}: {'watered' if watered else f'found {found}'}"
    with journal.change(garden, request.user, said[:250], post.get("key", "")) as write:
        _write(request, write, stop, key, found, watered)
        if watered:
            _pour_off(garden, write)
    messages.success(request, f"{stop.who}: {'watered' if watered else found}.")
    return redirect(f"{reverse('care', args=[garden.pk])}#round")


def _pour_off(garden: Garden, write: journal.ChangeSet) -> None:
    """One timer for the round: it rings twenty minutes after the last that was watered from below."""
    now = clock.instant()
    row = Timer.objects.filter(garden=garden, kind=POUR, done_at=None).first()
    if row is None:
        row = Timer(garden=garden, kind=POUR, what=POURS, started=now, due=now)
    row.due = now + POUR_OFF
    write.save(row)


@garden_view("grower", back="care", page=page)
@require_POST
def stage(request: Any, batch_id: int) -> HttpResponse:
    """How far one batch is; what its days become by it."""
    garden, today = request.garden, clock.today(request.garden)
    batch = batch_of(garden, batch_id)
    said, before = write_stage(request, batch)
    after = load(garden, today, [batch.planting_id]).item_of(batch.pk)
    changed = "" if after is None else moved_said(moved(before, after), today)
    messages.success(request, f"{batch.planting}: {said}. {changed}{'.' if changed else ''}".strip())
    back = {"moving": "care_moving"}.get(request.POST.get("next", ""), "care")
    opened = f"?open={request.POST['open']}" if request.POST.get("open", "")[1:].isdigit() and back == "care" else ""
    return redirect(f"{reverse(back, args=[garden.pk])}{opened}#round")


@garden_view("grower", back="care", page=page)
@require_POST
def fine(request: Any) -> HttpResponse:
    """Those of which nobody expects that they want water: looked at, and left, in one entry."""
    garden, post = request.garden, request.POST
    stops = {s.key: s for s in the_round(load(garden, clock.today(garden))).stops}
    keys = [k for k in dict.fromkeys(post.getlist("stop")[:MOST_TOGETHER]) if k in stops]
    if not keys:
        raise Refused("stop", "choose at least one tray")
    with journal.change(
        garden, request.user, f"{say.plural(len(keys), 'tray')} looked at and left", post.get("key", "")
    ) as write:
        for key in keys:
            _write(request, write, stops[key], key, stops[key].next.expects, False)
    messages.success(request, f"{say.plural(len(keys), 'tray')} looked at and left.")
    return redirect(f"{reverse('care', args=[garden.pk])}#round")


@garden_view(no_frost="care")
def water_csv(request: Any) -> HttpResponse:
    """Every tray with its water, and what was found of late."""
    found = the_round(load(request.garden, clock.today(request.garden)))
    rows = [
        [
            s.code, s.who, s.place, "" if s.next.left is None else round(s.next.left, 2), s.next.look_on.isoformat(),
            "" if s.next.dry_on is None else s.next.dry_on.isoformat(), round(s.litres, 2), round(s.next.thirst, 2), len(s.looks),
        ]
        for s in found.stops
    ]  # fmt: skip
    columns = ["tray", "what", "place", "left", "look_on", "dry_on", "litres", "thirst", "looks"]
    return csv_response("water.csv", columns, rows)
