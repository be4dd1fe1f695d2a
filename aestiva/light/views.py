"""Light: is it enough, how high, how long?  A shelf from the front and from above, its hours, what another lamp would buy."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse

from aestiva.bench.things import Thing, load_bench
from aestiva.course.light import daylight
from aestiva.course.state import SeasonState, load
from aestiva.frame import say, wording
from aestiva.frame.files import csv_response
from aestiva.frame.forms import whole_number
from aestiva.frame.say import Reader, shown
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.posting import actor_of
from aestiva.light import draw, draw_day, words
from aestiva.light.commands import MeterReading
from aestiva.light.had_views import leggy_rows
from aestiva.light.shelves import Shelf, shelves
from aestiva.light.tries import TryForm, keep, kept_of, measured
from aestiva.light.windows import windows
from aestiva.season.models import Spot
from growing.light.advice import LampChange
from growing.light.compare import compare
from growing.light.hours import cheapest, cost
from growing.light.lamps import flux
from growing.light.shelf import light_map
from growing.place.kinds import BOARDS

SILL_FACING = "south"
ONE_STEP = {"links": "link", "notches": "notch", "cord": "step"}


@garden_view(no_frost="light")
def light(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, spot_id: int | None = None) -> HttpResponse:
    """The page of Light; of the shelf that was asked for, else of the one that most wants it."""
    garden = request.garden
    now = load(garden, clock.today(garden))
    bench = load_bench(now)
    found = shelves(now, bench)
    asked = spot_id or whole_number(request.GET.get("shelf"))
    one = next((s for s in found if s.spot.pk == asked), None) or _most_wanting(found)
    context: dict[str, Any] = {
        "view": "light",
        "shelves": [(s, *words.state(s)) for s in found],
        "one": one,
        "refused": refused,
        "typed": request.POST if refused else {},
        "troubles": now.troubles,
        "windows": windows(now, bench),
        "leggy": leggy_rows(now, request),
        "unlit": Spot.objects.filter(garden=garden, kind__in=BOARDS, lit="") if not found else (),
    }
    if one is not None:
        context |= _about(now, one, request)
    return render(request, "light/light.html", context, status=422 if refused else 200)


def _most_wanting(found: list[Shelf]) -> Shelf | None:
    """Leaves at the lamp first, then what is furthest from its bands, by plants."""
    known = [s for s in found if s.rig.known and s.board.stands]
    return max(
        known,
        key=lambda s: (s.advice.first.kind == "out_of_room", s.board.missed(s.advice.got)),
        default=found[0] if found else None,
    )


def _about(now: SeasonState, one: Shelf, request: Any) -> dict[str, Any]:
    garden, units, advice = request.garden, request.reader, one.advice
    timer, watts = one.setting.timer, one.board.watts * one.setting.per_cent / 100
    best = cheapest(timer.hours, watts, one.tariff, timer)
    saved = (advice.cost.money or 0) - (cost(best, watts, one.tariff).money or 0)
    reading = one.rig.last_reading(now.today)
    return {
        "headline": words.headline(one, units),
        "reason": wording.line(advice.first.working, units) if one.board.stands and one.rig.known else "",
        "section": draw.section_svg(one, units, _addresses(garden.pk, one), request.role != "reader"),
        "ahead": draw_day.ahead_svg(advice.ahead, one.board.limits.top_cm, now.today, units) if one.rig.known else "",
        "raises": advice.ahead.raises,
        "options": [
            (o, *words.option_words(o, units), words.cost_words(o.cost, o_watts(one, o), units)) for o in _options(one)
        ],
        "cost": words.cost_words(advice.cost, watts, units),
        "ring": draw_day.ring_svg(timer, one.tariff, units),
        "timer_said": words.timer_words(timer, units),
        "dark": timer.dark,
        "cheaper": (words.timer_words(best, units), saved, best) if saved >= 0.005 else None,
        "clashes": words.clash_words(advice.hours, units),
        "compared": [(a, words.NAMES[a.kind], words.alternative_words(a, units)) for a in _compared(now, one)],
        "lamps": [
            (row, flux(one.rig.of(row, now.today, one.rig.times(now.today)))) for row in one.rig.hanging(now.today)
        ],
        "wears": any(one.rig.of(row).of.wears_out for row in one.rig.hanging(now.today)),
        "reading": reading,
        "reading_form": MeterReading(actor_of(request)),
        "length_unit": shown(1, "cm", units)[1],
        "hang_now": round(shown(one.setting.left_cm, "cm", units)[0], 1),
        "right_now": round(shown(one.setting.right_cm, "cm", units)[0], 1),
        "hours_now": say.number(timer.hours),
        "per_cent_now": say.number(one.setting.per_cent, 0),
        "on_now": draw_day.clock_of(timer.on_h, units),
        "step_said": _step_said(one, units),
        "sides": [
            (letter, side, letter in one.spot.white)
            for letter, side in (("l", "left"), ("r", "right"), ("b", "back"), ("f", "front"))
        ],
        **measured(one.board, one.setting, keep(garden, one).under_mix, advice.first),
    }


def o_watts(one: Shelf, option: LampChange) -> float:
    """What it draws after a change."""
    return one.board.watts * option.setting.per_cent / 100


def _options(one: Shelf) -> list[LampChange]:
    """Those that a tap can write down, the first first."""
    return [o for o in (one.advice.first, *one.advice.others) if o.kind in words.BUTTONS][:4]


def _step_said(one: Shelf, units: Reader) -> str:
    limits = one.board.limits
    if limits.step == "fixed":
        return "it is fixed: trays go up and down"
    if not limits.step_cm:
        return ""
    return f"a {ONE_STEP[limits.step]} is {say.amount(limits.step_cm, 'cm', units)}"


def _addresses(garden: int, one: Shelf) -> dict[int, str]:
    found = {}
    for thing, _ in one.things:
        found[_key(thing)] = (
            reverse("tray", args=[garden, thing.tray.pk])
            if thing.tray is not None
            else reverse("batch", args=[garden, thing.parts[0].batch])
            if thing.parts
            else ""
        )
    return found


def _key(thing: Thing) -> int:
    return thing.tray.pk if thing.tray is not None else -(thing.parts[0].batch if thing.parts else 0)


def _compared(now: SeasonState, one: Shelf) -> list[Any]:
    """This lamp, as many again, a panel, white sides, a sill: of a shelf on which something grows."""
    if not one.board.stands or not one.rig.known:
        return []
    own = Spot.objects.filter(garden=now.garden, kind="sill").order_by("order").first()
    sill = (
        own
        if own is not None and (own.facing or own.sun_h is not None)
        else Spot(garden=now.garden, kind="sill", facing=SILL_FACING)
    )
    return compare(one.board, one.setting, one.tariff, daylight(now, sill, now.today))


def shelf_at(request: Any, spot_id: int) -> Shelf:
    """One shelf as it stands today; 404 where no lamp is said to hang there."""
    spot = get_object_or_404(Spot, pk=spot_id, garden=request.garden)
    found = shelves(load(request.garden, clock.today(request.garden)), only=[spot.pk])
    if not found:
        raise Http404("No lamp is said to hang there.")
    return found[0]


@garden_view(no_frost="light")
def tried(request: Any, spot_id: int) -> HttpResponse:
    """What another height, dimmer or timer would give; nothing is written."""
    garden, units = request.garden, request.reader
    kept = kept_of(garden, spot_id) or keep(garden, shelf_at(request, spot_id))
    setting, problem, asked = kept.setting, "", TryForm(actor_of(request), request.GET)
    try:
        asked.checked()
        setting = asked.setting(kept.setting, kept.board.limits)
    except Refused as refused:
        problem = str(refused)
    watts = kept.board.watts * setting.per_cent / 100
    context = measured(kept.board, setting, kept.under_mix)
    context |= {
        "cost": words.cost_words(cost(setting.timer, watts, kept.tariff), watts, units),
        "problem": problem,
        "tried": True,
    }
    return render(request, "light/_measured.html", context, status=422 if problem else 200)


@garden_view(no_frost="light")
def card(request: Any, spot_id: int) -> HttpResponse:
    """The card beside the timer, to print: on, off, how high, for whom, until when."""
    one = shelf_at(request, spot_id)
    timer, units = one.setting.timer, request.reader
    context = {
        "view": "light",
        "one": one,
        "timer": timer,
        "said": words.timer_words(timer, units),
        "ring": draw_day.ring_svg(timer, one.tariff, units),
        "names": say.listed(list(dict.fromkeys(s.name for s in one.board.stands)), 8),
        "raises": one.advice.ahead.raises,
        "no_room": one.advice.ahead.no_room,
        "hangs": say.amount(one.setting.lowest_cm, "cm", units),
        "clashes": words.clash_words(one.advice.hours, units),
        "again": clock.today(request.garden) + timedelta(days=7),
    }
    return render(request, "light/card.html", context)


@garden_view(no_frost="light")
def map_csv(request: Any, spot_id: int) -> HttpResponse:
    """The light of a shelf cell by cell."""
    one = shelf_at(request, spot_id)
    found = light_map(one.board, one.setting, draw.CELL_CM / 2)
    rows = [
        [round(float(x), 1), round(float(y), 1), round(float(found.tip_cm[j, i]), 1), round(float(found.dli[j, i]), 2)]
        for j, y in enumerate(found.ys)
        for i, x in enumerate(found.xs)
    ]
    return csv_response(
        f"light-{one.spot.pk}.csv", ["cm_from_left", "cm_from_front", "leaf_tips_cm", "dli_mol_m2_d"], rows
    )
