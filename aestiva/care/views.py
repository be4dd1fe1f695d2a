"""The round: one list in walking order, one tap a tray; what was found, whether it was watered, and how much it takes."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.bench.days import timers
from aestiva.care.air import heats
from aestiva.care.draw import FIGURES, figure, leaf_figure, strip_svg
from aestiva.care.models import Sprayer, TrayWeight
from aestiva.care.moving import thirsty_daily
from aestiva.care.round import Round, Stop, corner_lost, headline, the_round
from aestiva.care.stages import Ask, asks
from aestiva.course.state import load
from aestiva.emergence.boxes import boxes
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.say import Reader, shown
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from growing.care.spray import seconds
from growing.care.water import WANTS, WAYS, way

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
