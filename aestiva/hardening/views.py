"""Hardening: the ladders of two weeks; and at the door, what goes out, for how long, what comes in, and how they looked."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse

from aestiva.bench.hands_views import turns_on
from aestiva.bench.models import BRING_IN, Timer
from aestiva.course.state import SeasonState, load
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.say import Reader
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import link
from aestiva.hardening.commands.door import LOOK_WORDS, REASONS
from aestiva.hardening.door import DoorToday, door, rung_said
from aestiva.hardening.draw import WORDS, ladders_svg
from aestiva.hardening.draw_door import lanes_svg, strip_svg
from aestiva.hardening.ladders import DAYS, Ladders, ladders_ahead, odds, skies
from aestiva.hardening.tonight import pots_tonight
from growing.batch.climb import limits_for

MOST_ROWS = 40
MOST_LINES = 10  # batches drawn and listed one by one; the rest go out and in with them


@garden_view(no_frost="plan")
def hardening(request: Any) -> HttpResponse:
    """The ladders of two weeks."""
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found = ladders_ahead(now)
    listed = found.rows if request.GET.get("all") == "1" else found.rows[:MOST_ROWS]
    shown = found._replace(rows=odds(now, listed))
    links = {r.item.batch_pk: reverse("batch", args=[garden.pk, r.item.batch_pk]) for r in listed}
    context = {
        "view": "hardening",
        "headline": headline(found, now),
        "sub": sub(found),
        "found": shown,
        "svg": ladders_svg(shown, today, request.reader, links),
        "days": [today + timedelta(days=n) for n in range(DAYS)],
        "table": [(r, cells(r, today)) for r in shown.rows],
        "more": len(found.rows) - len(listed),
        "missed": [r for r in found.rows if r.later],
        "troubles": now.troubles,
        "shelter": garden.get_shelter_display(),
        "calendar": link("calendar", garden.pk),
    }
    return render(request, "hardening/hardening.html", context)


def cells(row: Any, today: Any) -> list[str]:
    """One row of the table beside the picture: a word for each day."""
    by_day = {d.day: d for d in row.days}
    found = []
    for n in range(DAYS):
        day = by_day.get(today + timedelta(days=n))
        if day is None:
            found.append("hardened" if row.ready == today + timedelta(days=n) else "")
        elif day.out:
            found.append(f"{say.number(min(day.hours, 24))} h{', night' if day.night else ''}")
        else:
            found.append(f"in: {WORDS.get(day.code, '')}")
    return found


def headline(found: Ladders, now: SeasonState) -> str:
    """“Snapdragons go out first on Tuesday, mild and grey”, or who is out today."""
    today = now.today
    if not found.rows:
        return "Nobody is on a ladder, and nobody begins within two weeks"
    out = [r for r in found.rows if r.days and r.days[0].day == today and r.days[0].out]
    first = [(r, d) for r in found.rows if not r.item.raised.facts.outings for d in r.days[:1] if d.day > today]
    if out:
        plants = sum(r.item.raised.plants or 0 for r in out)
        names = say.listed(list(dict.fromkeys(r.item.name for r in out)), 3)
        return f"{plants} plants go out today: {names}"
    if first:
        day = min(d.day for _, d in first)
        names = say.listed(list(dict.fromkeys(r.item.name for r, d in first if d.day == day)), 2)
        verb = "goes" if len({r.item.name for r, d in first if d.day == day}) == 1 else "go"
        return f"{names} {verb} out first on {say.day(day)}"
    return "Nobody goes out today"


def sub(found: Ladders) -> str:
    """What missed days cost."""
    later = [r for r in found.rows if r.later]
    if not later:
        return "Nothing is missed in the days ahead."
    days = sorted({d.day for r in later for d in r.missed})
    whys = list(dict.fromkeys(WORDS.get(d.code, "") for r in later for d in r.missed))
    least, most = min(r.later for r in later), max(r.later for r in later)
    cost = say.plural(most, "day") if least == most else f"{least} to {most} days"
    plants = say.plural(len(later), "batch is", "batches are")
    return f"{say.listed([say.day(d) for d in days], 3)} {say.listed(whys)}: {plants} hardened {cost} later."


@garden_view(no_frost="plan")
def ladders_csv(request: Any) -> HttpResponse:
    """Every day ahead of every batch on its ladder."""
    now = load(request.garden, clock.today(request.garden))
    rows = [
        [
            r.item.full_name,
            r.item.raised.ladder.name,
            d.day.isoformat(),
            d.rung + 1,
            "out" if d.out else WORDS.get(d.code, ""),
            d.hours,
            int(d.night),
        ]
        for r in ladders_ahead(now).rows
        for d in r.days
    ]
    return csv_response("ladders.csv", ["what", "ladder", "day", "rung", "what_it_brings", "hours", "night"], rows)


# ---- at the door


@garden_view(no_frost="plan")
def the_door(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, **kwargs: Any) -> HttpResponse:
    garden, today = request.garden, clock.today(request.garden)
    now = load(garden, today)
    found = door(now)
    night = now.night
    sky = next((d for d in skies(now, 1) if d.forecast), None)
    every = request.GET.get("all") == "1"
    lines = list(found.lines) if every else list(found.lines)[:MOST_LINES]
    limit = max((limits_for(line.item.raised).day_c for line in lines), default=None)
    hour = None if garden.simulated_on else clock.hour(garden)
    context = {
        "view": "door",
        "headline": door_headline(found, request.reader),
        "door": found,
        "svg": strip_svg(sky, None if night is None else night.tmin_c, limit, hour, garden.latitude, request.reader),
        "lanes": lanes_svg(lines, hour),
        "lines": [(line, rung_said(line), link("task_why", garden.pk, line.key)) for line in lines],
        "more": len(found.lines) - len(lines),
        "shown": {line.key for line in lines},
        "looked": found.looked if every else found.looked[:MOST_LINES],
        "kept_in": found.kept_in if every else found.kept_in[:MOST_LINES],
        "more_in": 0 if every else max(0, len(found.kept_in) - MOST_LINES),
        "reasons": REASONS.values(),
        "looks": LOOK_WORDS.items(),
        "tonight": pots_tonight(now),
        "timers": Timer.objects.filter(garden=garden, done_at=None, kind=BRING_IN),
        "instant": clock.instant(),
        "early": found.out_now,
        "steps": STEPS,
        "water": link("care_round", garden.pk),
        "beds_tonight": link("beds_tonight", garden.pk),
        "refused": refused,
        "troubles": now.troubles,
        **turns_on(garden, today),
    }
    return render(request, "hardening/door.html", context, status=422 if refused else 200)


def door_headline(found: DoorToday, units: Reader) -> str:
    """“Out now: 76 plants. In again by 13:00.”"""
    if found.out_now:
        first = next((g for g in found.out_now if g.ends), None)
        by = f" In again by {say.time_of_day(first.ends, units)}." if first is not None else ""
        return f"Out now: {say.plural(found.plants_out, 'plant')}.{by}"
    if found.out:
        first = found.out[0]
        return f"Carry out {say.plural(found.plants_to_go, 'plant')} from {say.time_of_day(first.begins, units)}."
    if found.kept_in:
        return f"Nothing goes out today: {say.plural(sum(line.plants for line in found.kept_in), 'plant')} stay in."
    if found.tonight:
        return f"Carry in {say.plural(sum(t.task.count or 0 for t in found.tonight), 'plant')} before dark."
    return "Nothing goes through the door today."
