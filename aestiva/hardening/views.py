"""Hardening: the ladders of two weeks; and at the door, what goes out, for how long, what comes in, and how they looked."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench.hands_views import turns_on
from aestiva.bench.models import BRING_IN, Timer
from aestiva.course.finishing import mark_of, write_done
from aestiva.course.state import SeasonState, Todo, load
from aestiva.emergence.views import batch_of
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.forms import decimal
from aestiva.frame.say import Reader
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import link, steps
from aestiva.hardening.actions import had_hours, went_out_at
from aestiva.hardening.door import BETWEEN, LOOKS, DoorToday, door, rung_said
from aestiva.hardening.draw import WORDS, ladders_svg
from aestiva.hardening.draw_door import lanes_svg, strip_svg
from aestiva.hardening.ladders import DAYS, Ladders, ladders_ahead, odds, skies
from aestiva.hardening.together import done_together, names_of, todos_of
from aestiva.hardening.tonight import pots_tonight
from aestiva.season.actions import add_event
from growing.batch.climb import limits_for
from growing.hardening.steps import HARDEN, Out, OutingDetail

MOST_ROWS = 40
GONE = "that is done already, or there is nothing of it any more: look at the door again"
MOST_LINES = 10  # batches drawn and listed one by one; the rest go out and in with them
REASONS = {"wilting": "wilting", "cold": "cold", "wind": "wind", "rain": "rain"}
LOOK_WORDS = {"looked_fine": "fine", "looked_limp": "limp, recovered", "looked_bleached": "bleached"}
SAME_H = 0.02  # two times of a day that are one
CARRY_IN = "carry in what is out"


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


@garden_view("grower", back="door", page=page)
@require_POST
def carried_out(request: Any) -> HttpResponse:
    """Carried out, all or one: it is out from now on, and a timer rings when it is to come in."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    with journal.change(garden, request.user, key=post.get("key", "")) as write:
        now = load(garden, today)
        todos = todos_of(now, post.getlist("task"), ("harden",), GONE)
        if any(t.due > today for t in todos):
            raise Refused("task", "that is for another day: it goes out when its day has come")
        write.summary = f"Carried out: {names_of(todos)}"[:250]
        ends: list[datetime] = []
        for todo in todos:
            out = todo.task.detail
            assert isinstance(out, OutingDetail)
            write_done(write, now, request.user, todo, today, today, None)
            if not out.night:
                ends.append(clock.instant() + timedelta(hours=out.hours))
        for due in sorted(set(ends)):
            started = clock.instant()
            what = f"{CARRY_IN}, {say.plural(sum(1 for e in ends if e == due), 'batch', 'batches')}"
            write.save(Timer(garden=garden, kind=BRING_IN, what=what[:60], started=started, due=due))
    messages.success(request, f"Carried out: {names_of(todos)}.")
    return redirect("door", garden.pk)


@garden_view("grower", back="door", page=page)
@require_POST
def brought_in(request: Any) -> HttpResponse:
    """Brought in, as planned or early: then with its hours and the reason."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    reason, typed = post.get("reason", ""), post.get("hours", "").strip()
    if reason and reason not in REASONS:
        raise Refused("reason", f"why early: {', '.join(REASONS)}?")
    try:
        hours = decimal(typed)
    except ValueError as error:
        raise Refused("hours", f"{error}: give the hours they were out") from None
    with journal.change(garden, request.user, key=post.get("key", "")) as write:
        now = load(garden, today)
        todos = todos_of(now, post.getlist("task"), ("bring_in",), GONE)
        early = f" early, {reason}" if reason else ""
        write.summary = f"Brought in{early}: {names_of(todos)}"[:250]
        out_at = went_out_at(item.batch.pk for item in now.items if item.batch is not None and item.raised.facts.out)
        for todo in todos:
            had = _hours(garden, todo, hours, bool(reason), out_at.get(todo.item.batch_pk))
            _one_in(request, write, now, todo, had, reason)
        done = {todo.task.key for todo in todos}
        _hush(write, garden, [t for t in now.todos(today, ("bring_in",)) if t.task.key not in done], out_at)
    asked = "" if reason == "wilting" else " How did they look?"
    messages.success(request, f"Brought in{early}: {names_of(todos)}.{asked}")
    return redirect(f"{reverse('door', args=[garden.pk])}#looks")


def _hush(write: journal.ChangeSet, garden: Garden, left: list[Todo], out_at: Mapping[int, float]) -> None:
    """Timers that ring for nothing that is still out are done."""
    out = [(t.item.batch_pk, t.item.raised.facts.out) for t in left]
    rings = [out_at[pk] + had.hours for pk, had in out if had is not None and pk in out_at]
    if left and not rings:
        return  # nobody knows since when they are out: it rings for them
    for timer in Timer.objects.filter(garden=garden, done_at=None, kind=BRING_IN).order_by("due"):
        at = clock.hour_at(garden, timer.due)
        if all(abs(at - ring) > SAME_H for ring in rings):
            timer.done_at = clock.instant()
            write.save(timer)


def _hours(garden: Garden, todo: Todo, typed: float | None, early: bool, out_at: float | None) -> float:
    """The hours that this batch was out: as typed; early, those since it went, or half of those planned; otherwise as planned."""
    out = todo.task.detail
    assert isinstance(out, Out)
    if typed is not None:
        return round(had_hours(out.outing, typed, clock.today(garden)), 2)
    if early and out_at is not None:
        since = clock.hour(garden) - out_at + 24 * (clock.today(garden) - out.outing.day).days
        return round(min(out.hours, max(0.0, since)), 2)
    if early:
        return round(out.hours / 2, 2)
    return out.hours


def _one_in(request: Any, write: journal.ChangeSet, now: SeasonState, todo: Todo, hours: float, reason: str) -> None:
    out = todo.task.detail
    assert isinstance(out, Out) and todo.batch is not None
    mark = mark_of(now, todo.task.key)
    mark.by, mark.done_on, mark.count_done = request.user, now.today, round(hours)
    write.touch(todo.batch)
    day, note = out.outing.day, f"brought in early: {reason}" if reason else ""
    add_event(write, todo.batch, "outing", day, now.today, hours=hours, wanted_hours=out.outing.wanted_hours, note=note)
    if reason == "wilting":
        add_event(write, todo.batch, "looked_limp", day, now.today)
    write.save(mark)


@garden_view("grower", back="door", page=page)
@require_POST
def looked(request: Any) -> HttpResponse:
    """How they looked, once they were in: all of them, or one."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    look = post.get("look", "")
    if look not in LOOKS:
        raise Refused("look", "how did they look: fine, limp, or bleached?")
    now = load(garden, today)
    wanted = {pk for sent in post.getlist("batch") for pk in sent.split(BETWEEN)}
    items = [i for i in door(now).looked if str(i.batch_pk) in wanted]
    if not items:
        raise Refused("batch", "nobody is waiting to be looked at: somebody said it already")
    names = say.listed(list(dict.fromkeys(i.full_name for i in items)), 3)
    said = f"Looked {LOOK_WORDS[look]}: {names}"
    with journal.change(garden, request.user, said[:250], post.get("key", "")) as write:
        for item in items:
            batch = write.touch(batch_of(garden, item.batch_pk))
            add_event(write, batch, look, item.raised.facts.outings[-1].day, today)
    more = "" if look == "looked_fine" else " The same step again, in shade."
    messages.success(request, f"{said}.{more}")
    return redirect("door", garden.pk)


@garden_view("grower", back="door", page=page)
@require_POST
def done(request: Any) -> HttpResponse:
    """Kept in, carried in for the night, frame opened or shut."""
    said = done_together(
        request, tuple(s.kind for s in steps() if s.where == "door" and s is not HARDEN and not s.corrects), GONE
    )
    messages.success(request, f"{said}.")
    return redirect("door", request.garden.pk)
