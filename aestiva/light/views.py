"""Light: is it enough, how high, how long?  A shelf from the front and from above, its hours, what another lamp would buy."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, NamedTuple

from django.core.cache import cache
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse

from aestiva.bench.things import Thing
from aestiva.course.light import Lit, daylight, lights
from aestiva.course.state import Item, SeasonState, load
from aestiva.frame import say, wording
from aestiva.frame.files import csv_response
from aestiva.frame.forms import whole_number
from aestiva.frame.version import code_version
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.light import draw, words
from aestiva.light.forms import ReadingForm, TariffForm, typed_time
from aestiva.light.shelves import Shelf, shelves
from aestiva.season.models import Batch, Spot
from aestiva.season.models import Tariff as TariffRow
from growing.light.advice import Option
from growing.light.compare import compare
from growing.light.had import Leggy, leggy
from growing.light.hours import Tariff, Timer, cheapest, cost, wrong_hours
from growing.light.lamps import flux
from growing.light.shelf import Board, Got, Limits, Setting, light_map
from growing.light.targets import against, band
from growing.units import shown, stored

LEAST_CM, MOST_CM = 2.0, 500.0  # above the place, of a lamp
KEPT_S = 3600
SILL_FACING = "south"
MOST_DRAWN = 12  # batches with a bar of their own at first sight
LEGGY_SHOWN = 8
ONE_STEP = {"links": "link", "notches": "notch", "cord": "step"}


@garden_view(no_frost="light")
def light(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, spot_id: int | None = None) -> HttpResponse:
    """The page of Light; of the shelf that was asked for, else of the one that most wants it."""
    garden = request.garden
    now = load(garden, clock.today(garden))
    found = shelves(now)
    asked = spot_id or whole_number(request.GET.get("shelf"))
    one = next((s for s in found if s.spot.pk == asked), None) or _most_wanting(found)
    context: dict[str, Any] = {
        "view": "light",
        "shelves": [(s, *words.state(s)) for s in found],
        "one": one,
        "refused": refused,
        "typed": request.POST if refused else {},
        "troubles": now.troubles,
        "leggy": _leggy(now, request),
        "unlit": Spot.objects.filter(garden=garden, kind__in=("shelf", "sill"), lit="") if not found else (),
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


class Row(NamedTuple):
    """One batch under the lamp: its day's light, as it would be, in words, its bar, its working."""

    got: Any
    after: Any
    verdict: str
    bar: str
    href: str
    working: Any


def _about(now: SeasonState, one: Shelf, request: Any) -> dict[str, Any]:
    garden, units, advice = request.garden, request.units, one.advice
    timer, watts = one.setting.timer, one.board.watts * one.setting.per_cent / 100
    best = cheapest(timer.hours, watts, one.tariff, timer)
    saved = (advice.cost.money or 0) - (cost(best, watts, one.tariff).money or 0)
    reading = one.rig.last_reading(now.today)
    return {
        "headline": words.headline(one, units),
        "reason": wording.line(advice.first.working, units) if one.board.stands and one.rig.known else "",
        "section": draw.section_svg(one, units, _addresses(garden.pk, one), request.role != "reader"),
        "ahead": draw.ahead_svg(advice.ahead, one.board.limits.top_cm, now.today, units) if one.rig.known else "",
        "raises": advice.ahead.raises,
        "options": [
            (o, *words.option_words(o, units), words.cost_words(o.cost, o_watts(one, o), units)) for o in _options(one)
        ],
        "cost": words.cost_words(advice.cost, watts, units),
        "ring": draw.ring_svg(timer, one.tariff, units),
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
        "reading_form": ReadingForm(units=units),
        "tariff_form": TariffForm(instance=TariffRow.objects.filter(garden=garden).first()),
        "length_unit": shown(1, "cm", units)[1],
        "hang_now": round(shown(one.setting.left_cm, "cm", units)[0], 1),
        "right_now": round(shown(one.setting.right_cm, "cm", units)[0], 1),
        "hours_now": say.number(timer.hours),
        "per_cent_now": say.number(one.setting.per_cent, 0),
        "on_now": draw.clock_of(timer.on_h, units),
        "step_said": _step_said(one, units),
        "sides": [
            (letter, side, letter in one.spot.white)
            for letter, side in (("l", "left"), ("r", "right"), ("b", "back"), ("f", "front"))
        ],
        **measured(one.board, one.setting, keep(garden, one).under_mix, advice.first),
    }


def o_watts(one: Shelf, option: Option) -> float:
    """What it draws after a change."""
    return one.board.watts * option.setting.per_cent / 100


def _options(one: Shelf) -> list[Option]:
    """Those that a tap can write down, the first first."""
    return [o for o in (one.advice.first, *one.advice.others) if o.kind in words.BUTTONS][:4]


def _step_said(one: Shelf, units: str) -> str:
    limits = one.board.limits
    if limits.step == "fixed":
        return "it is fixed: trays go up and down"
    if not limits.step_cm:
        return ""
    return f"a {ONE_STEP[limits.step]} is {say.amount(limits.step_cm, 'cm', units)}"


def measured(board: Board, setting: Setting, under_mix: str, first: Option | None = None) -> dict[str, Any]:
    """What hangs on how the lamp is set: the map, the bars, how even it is.  first: the change that is proposed, drawn beside it."""
    got = board.got(setting)
    after: list[Got | None] = [None] * len(got)
    if first is not None and first.kind in words.BUTTONS:
        after = list(first.got)
    most = draw.most_of(got)
    rows = [
        Row(
            g, a, words.got_words(g.dli, g.verdict), draw.bar_svg(g, a, most), g.stand.ref,
            against(g.stand.name, g.dli, g.least, g.stand.band),
        )
        for g, a in zip(got, after, strict=True)
    ]  # fmt: skip
    rows.sort(key=lambda r: -r.got.missed * r.got.stand.plants)
    found = light_map(board, setting, draw.CELL_CM, fine=draw.FINE)
    return {
        "map": draw.map_svg(board, found),
        "found": found,
        "table": [[round(float(v)) for v in row] for row in found.dli[::-1]],
        "bars": rows,
        "mean": float(found.dli.mean()),
        "even": say.percent(float(found.uniformity)),
        "under_mix": under_mix,
    }


class Kept(NamedTuple):
    """Of a shelf what a try at its lamp needs, kept for the revision of its garden: it may be dropped at any time."""

    board: Board
    setting: Setting
    tariff: Tariff
    under_mix: str


def keep(garden: Garden, one: Shelf) -> Kept:
    """Keep it for the tries that follow."""
    kept = Kept(one.board, one.setting, one.tariff, say.listed(one.under_mix, 3))
    cache.set(_key_of(garden, one.spot.pk), kept, KEPT_S)
    return kept


def _key_of(garden: Garden, spot: int) -> str:
    return f"shelf:{code_version()}:{garden.pk}:{garden.revision}:{clock.today(garden)}:{spot}"


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


class Drawn(NamedTuple):
    """A batch with the light it had since it is up, and what that has made of it."""

    item: Item
    lit: Lit
    verdict: Leggy
    low: float
    remedy: str

    @property
    def risk(self) -> str:
        return say.percent(self.verdict.risk)


REMEDIES = {
    "dark": "light it from the first one up; pot it on deep, where it may stand deep",
    "weak": "more light now: lower the lamp, more hours, a brighter place; cooler until then",
    "warm": "two to four degrees cooler at night, or more light",
}


def judged(item: Item, lit: Lit) -> Drawn:
    """Is it drawn, by the light and warmth that it had?"""
    wanted = band(item.crop, lit.growth.leaves)
    verdict = leggy(item.name, lit.want_days, lit.mean or 0.0, wanted.low, lit.warm_c, lit.dark_days)
    return Drawn(item, lit, verdict, wanted.low, "" if verdict.kind == "fine" else REMEDIES[verdict.cause])


def _leggy(now: SeasonState, request: Any) -> dict[str, Any]:
    """Those that may be drawn, the worst first; how many are stocky, and of how many nobody knows."""
    found, items = lights(now), {i.batch.pk: i for i in now.items if i.batch is not None}
    known = [judged(items[pk], lit) for pk, lit in found.items() if lit.known]
    drawn = sorted((d for d in known if d.verdict.kind != "fine"), key=lambda d: -d.verdict.risk)
    every = request.GET.get("drawn") == "all"
    return {
        "rows": drawn if every else drawn[:LEGGY_SHOWN],
        "more": 0 if every else max(0, len(drawn) - LEGGY_SHOWN),
        "stocky": len(known) - len(drawn),
        "unknown": len(found) - len(known),
    }


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
    garden, units = request.garden, request.units
    kept = cache.get(_key_of(garden, spot_id)) or keep(garden, shelf_at(request, spot_id))
    setting, problem = asked_setting(request.GET, kept.setting, kept.board.limits, units)
    watts = kept.board.watts * setting.per_cent / 100
    context = measured(kept.board, setting, kept.under_mix)
    context |= {
        "cost": words.cost_words(cost(setting.timer, watts, kept.tariff), watts, units),
        "problem": problem,
        "tried": True,
    }
    return render(request, "light/_measured.html", context, status=422 if problem else 200)


def asked_setting(typed: Any, now: Setting, limits: Limits, units: str) -> tuple[Setting, str]:
    """The lamp as somebody asks for it, in his units; what cannot be stays as it is, and is said."""
    problem = ""
    values: dict[str, float] = {}
    for name in ("left", "right", "per_cent", "hours"):
        text = typed.get(name, "").strip().replace(",", ".")
        if text:
            try:
                values[name] = float(text)
            except ValueError:
                problem = f"“{text[:20]}” is not a number"
    left = stored(values["left"], "cm", units) if "left" in values else now.left_cm
    right = left if now.level or "left" in values else now.right_cm
    right = stored(values["right"], "cm", units) if "right" in values else right
    per_cent, hours, on = values.get("per_cent", now.per_cent), values.get("hours", now.timer.hours), now.timer.on_h
    if typed.get("on", "").strip():
        try:
            on = typed_time(typed["on"])
        except ValidationError as error:
            problem = "; ".join(error.messages).rstrip(".")
    problem = problem or wrong_setting(left, right, per_cent, hours, limits, units)
    if problem:
        return now, problem
    return Setting(left, right, per_cent, Timer(on % 24, hours)), ""


def wrong_setting(left: float, right: float, per_cent: float, hours: float, limits: Limits, units: str) -> str:
    """Why a lamp cannot be set so; empty where it can."""
    for cm in (left, right):
        if not LEAST_CM <= cm <= MOST_CM:
            return f"{say.amount(cm, 'cm', units)} cannot be: give {say.amount(LEAST_CM, 'cm', units)} or more"
        if cm > limits.top_cm + 0.05:
            return f"{say.amount(cm, 'cm', units)} is higher than it can hang there: {say.amount(limits.top_cm, 'cm', units)} at most"
    if not 1 <= per_cent <= 100:
        return f"{say.number(per_cent)} % cannot be: give 1 to 100"
    if wrong := wrong_hours(hours):
        return wrong
    return ""


@garden_view(no_frost="light")
def card(request: Any, spot_id: int) -> HttpResponse:
    """The card beside the timer, to print: on, off, how high, for whom, until when."""
    one = shelf_at(request, spot_id)
    timer, units = one.setting.timer, request.units
    context = {
        "view": "light",
        "one": one,
        "timer": timer,
        "said": words.timer_words(timer, units),
        "ring": draw.ring_svg(timer, one.tariff, units),
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


@garden_view(no_frost="light")
def had_csv(request: Any) -> HttpResponse:
    """The light that every batch had, day by day."""
    now = load(request.garden, clock.today(request.garden))
    items = {i.batch.pk: i for i in now.items if i.batch is not None}
    rows = [
        [
            pk,
            items[pk].full_name,
            (lit.start + timedelta(days=k)).isoformat(),
            "" if dli != dli else round(float(dli), 2),
        ]
        for pk, lit in lights(now).items()
        for k, dli in enumerate(lit.dli)
    ]
    return csv_response("light-had.csv", ["batch", "name", "day", "dli_mol_m2_d"], rows)


@garden_view(no_frost="light")
def had(request: Any, batch_id: int) -> HttpResponse:
    """The light of one batch against what it wants: for its own page."""
    batch = get_object_or_404(Batch, pk=batch_id, planting__season__garden=request.garden)
    now = load(request.garden, clock.today(request.garden), [batch.planting_id])
    lit = lights(now).get(batch.pk)
    item = next((i for i in now.items if i.batch is not None and i.batch.pk == batch.pk), None)
    if lit is None or item is None:
        return HttpResponse("")
    spot = now.rows.here(batch.pk)
    context = {
        "view": "light",
        "batch": batch,
        "drawn": judged(item, lit),
        "line": draw.had_svg(lit.dli.tolist(), lit.start, item, request.units),
        "shelf": None if spot is None else spot.spot,
    }
    return render(request, "light/_had.html" if request.htmx else "light/had.html", context)
