"""Planting out: a row per batch, a gate per test, the verdict; one batch with the worth of each day, what to take along, and the work."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import render

from aestiva.course.state import SeasonState, load
from aestiva.emergence.views import batch_of
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.plantingout.asked import AtTheGates, GateRow, at_the_gates
from aestiva.plantingout.commands import plant_todo
from aestiva.plantingout.draw import NAMES, SAID, gate_svg, marks_svg, ways, worth_svg
from aestiva.plantingout.models import STATES
from aestiva.plantingout.tonight import tonight
from aestiva.season.models import BedArea
from growing.plantingout.kit import KitItem, dip_l, kit
from growing.plantingout.springs import SpringsAhead, springs
from growing.plantingout.verdict import working
from growing.plantingout.worth import DAYS, NEAR_BEST, worth

MOST = 24
WAY_WORDS = {
    "wait": "Wait in their pots",
    "cover": "Plant today, under the cover at hand",
    "cool": "Wait cooler and wider apart: it holds them a week longer",
    "pot": "Pot on, and wait",
    "half": "Plant half today, half then",
}


@garden_view(no_frost="plan")
def plantingout(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, **kwargs: Any) -> HttpResponse:
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found = at_the_gates(now)
    shown = found.rows if request.GET.get("all") == "1" else found.rows[:MOST]
    context = {
        "view": "plantingout",
        "headline": headline(found.rows, today),
        "sub": sub(now, found),
        "rows": [drawn(r, today) for r in shown],
        "more": len(found.rows) - len(shown),
        "names": NAMES.values(),
        "tonight": tonight(now),
        "refused": refused,
        "troubles": now.troubles,
    }
    return render(request, "plantingout/plantingout.html", context, status=422 if refused else 200)


def headline(rows: tuple[GateRow, ...], today: date) -> str:
    """“Plant 24 Snapdragon today, and 16 Cosmos with a cover; 5 others wait”: of what is due and may go."""
    if not rows:
        return "Nobody stands at the gates yet"
    parts, due = [], [r for r in rows if r.may_go and r.out_on <= today]
    for kind, words in (("go", "today"), ("evening", "this evening"), ("cover", "with a cover")):
        names = [f"{r.plants} {r.item.name}" for r in due if r.verdict.kind == kind]
        if names:
            parts.append(f"{say.listed(names, 3)} {words}")
    wait = len(rows) - len(due)
    if not parts:
        first = min(r.out_on for r in rows)
        names = list(dict.fromkeys(r.item.name for r in rows if r.out_on == first))
        return f"Plant nothing today; {say.listed(names, 2)} first, {say.day(first)}"
    rest = f"; {say.plural(wait, 'other waits', 'others wait')}" if wait else ""
    return f"Plant {' and '.join(parts)}{rest}"


def sub(now: SeasonState, found: AtTheGates) -> str:
    """The day, the frost line, what soil and nights are judged by."""
    parts = [say.day(now.today)]
    gate = now.place.spring.date_for(now.place.accepted_risk).day
    if gate is not None and gate > now.today:
        parts.append(f"your frost line is {say.day(gate)}")
    if found.springs is None:
        parts.append("no years of weather are known here: gates go by the days you typed")
    else:
        ahead = say.plural(found.springs.forecast, "night")
        led = (
            f"each begun with {ahead} of the forecast"
            if found.springs.forecast
            else "without a forecast: the years stand in"
        )
        parts.append(f"{found.springs.years} springs, {led}")
    return " · ".join(parts)


def drawn(row: GateRow, today: date) -> dict[str, Any]:
    """A row as the page shows it."""
    cells = [
        {"gate": g, "svg": gate_svg(g, way), "said": SAID[g.state], "word": NAMES[g.name]}
        for g, way in zip(row.gates, ways(row), strict=True)
    ]
    return {
        "row": row,
        "cells": cells,
        "marks": marks_svg(row, today),
        "verdict": verdict_said(row, today),
        "why": why_said(row, today),
        "left": (row.limit - today).days,
    }


def verdict_said(row: GateRow, today: date) -> str:
    """“Go: 24 today”, “Go, with a cover”, “May go; planned for Tue 12 May”, “Wait until Tue 12 May”: its day is that of the plan."""
    kind, plants, day = row.verdict.kind, row.plants, say.day(row.out_on)
    if kind == "wait":
        known = row.verdict.until is not None or row.out_on > today + timedelta(days=1)
        return f"Wait until {day}" if known else "Wait; until when is not known"
    if row.out_on > today:
        return f"May go{', with a cover' if kind == 'cover' else ''}; planned for {day}"
    if kind == "go":
        return f"Go: {plants} today"
    return f"Go this evening: {plants}" if kind == "evening" else f"Go, with a cover: {plants}"


def why_said(row: GateRow, today: date) -> str:
    """What waiting costs, and the cheapest way through."""
    left, v = (row.limit - today).days, row.verdict
    parts = []
    if v.kind == "wait" and v.until is not None and v.until < row.out_on:
        parts.append(f"nothing is likely to hold it from {say.day(v.until)}")
    if v.kind == "wait" and v.waiting is not None:
        days = v.waiting.days
        if v.waiting.over:
            parts.append(f"{say.plural(v.waiting.over, 'day')} past what its pot holds")
        elif left <= 60:
            parts.append(f"{days} of the {say.plural(left, 'day')} its pot holds")
        if v.waiting.harvest >= 0.5 and row.sort is not None and row.sort.usual:
            parts.append(f"{say.number(v.waiting.harvest)} days of harvest less")
        if v.waiting.aged >= 0.005:
            parts.append(f"age takes {say.percent(v.waiting.aged)}")
        best = v.cheapest
        if best is not None and best.key in ("cool", "pot"):
            parts.append({"cool": "stand them cooler and wider", "pot": "pot on"}[best.key])
    elif v.kind in ("go", "evening"):
        if left < 0:
            parts.append(f"{say.plural(-left, 'day')} over its limit: do not wait")
        elif v.best is not None and v.today is not None and v.best - v.today > 0.01 and v.best_day is not None:
            parts.append(f"worth more on {say.day(v.best_day)}: {round(100 * v.today / v.best)} of a hundred today")
        else:
            parts.append(f"waiting costs nothing for {say.plural(left, 'day')}" if left > 0 else "today is its limit")
    elif v.kind == "cover" and v.until is not None:
        parts.append(f"a cover at hand until {say.day(v.until)}")
    unknown = [NAMES[g.name] for g in row.gates if g.state == "unknown"]
    if unknown:
        parts.append(
            "a look at the leaves would tell the stage" if unknown == ["stage"] else f"not known: {', '.join(unknown)}"
        )
    return "; ".join(parts)


@garden_view(no_frost="plan")
def gate(request: Any, batch_id: int) -> HttpResponse:
    return gate_page(request, None, batch_id)


def gate_page(request: Any, refused: Refused | None = None, batch_id: int = 0) -> HttpResponse:
    """One batch at the gates."""
    garden, today = request.garden, clock.today(request.garden)
    batch = batch_of(garden, batch_id)
    now = load(garden, today)
    item = now.item_of(batch.pk)
    if item is None:
        raise Http404("That batch was given up, or is of another season.")
    if batch.pk not in now.held:
        before = {"view": "plantingout", "item": item, "outdoors": item.raised.facts.planted_on, "refused": refused}
        return render(request, "plantingout/not_yet.html", before, status=422 if refused else 200)
    found = at_the_gates(now, [item])
    row = found.rows[0]
    places = springs_of(now, row)
    days = worths(row, places, today)
    context: dict[str, Any] = {
        "view": "plantingout",
        "d": drawn(row, today),
        "row": row,
        "kit": kit_of(row),
        "dip": dip_l(row.plants),
        "ways": [(w, WAY_WORDS[w.key]) for w in row.verdict.ways],
        "days": days,
        "svg": "",
        "states": STATES,
        "spot": item.planting.spot_id,
        "todo": plant_todo(now, batch.pk),
        "refused": refused,
        "typed": request.POST,
    }
    if days:
        values = [d["value"] for d in days]
        context["svg"] = worth_svg(values, today, next(n for n, v in enumerate(values) if v >= max(values) - NEAR_BEST))
    return render(request, "plantingout/gate.html", context, status=422 if refused else 200)


def springs_of(now: SeasonState, row: GateRow) -> SpringsAhead | None:
    """The years of the place where it will grow."""
    assert now.shared is not None
    return springs(now.shared.dating.place_of(row.item.planting), now.today, now.nights, now.shift_c)


def worths(row: GateRow, here: SpringsAhead | None, today: date) -> list[dict[str, Any]]:
    """Each day of the fortnight with its worth and the arithmetic."""
    if row.sort is None or here is None:
        return []
    found = worth([row.sort], here)
    mean = lambda a, n: float(a[0, n].mean())  # noqa: E731
    return [
        {
            "day": today + timedelta(days=n),
            "value": float(found.value[0, n]),
            "survives": mean(found.survives, n),
            "unchilled": mean(found.unchilled, n),
            "unaged": mean(found.unaged, n),
            "harvest": mean(found.harvest, n),
            "early": mean(found.early, n),
            "working": working(found, 0, row.sort, n, today),
        }
        for n in range(DAYS)
    ]


def kit_of(row: GateRow) -> tuple[KitItem, ...]:
    """What to take along, by the length of its part of the bed."""
    areas = BedArea.objects.filter(planting=row.item.planting).values_list("length_cm", flat=True)
    return kit(row.item.crop, row.plants, sum(areas) or None)


@garden_view(no_frost="plan")
def gates_csv(request: Any) -> HttpResponse:
    """Every batch at the gates with its verdict."""
    now = load(request.garden, clock.today(request.garden))
    rows = [_row(r) for r in at_the_gates(now).rows]
    columns = [
        "what",
        "plants",
        "bed",
        "plant_out",
        "verdict",
        "until",
        "pot_holds_until",
        "worth_today",
        "worth_best",
        *NAMES,
    ]
    return csv_response("gates.csv", columns, rows)


def _row(r: GateRow) -> list[Any]:
    v = r.verdict
    until = "" if v.until is None else v.until.isoformat()
    worths_ = ["" if w is None else round(w, 3) for w in (v.today, v.best)]
    first = [r.item.full_name, r.plants, r.asked.bed.code, r.out_on.isoformat(), v.kind, until, r.limit.isoformat()]
    return [*first, *worths_, *(g.state for g in r.gates)]
