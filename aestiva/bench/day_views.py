"""A sowing or potting day at the bench: the next thing to do, large; the matrix of all of it; mix, evening before, timers."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench import day_actions, day_begin, days
from aestiva.bench.asked import spot_asked
from aestiva.bench.company import against_place, said
from aestiva.bench.models import BenchDay, Recipe, StageDone, Timer
from aestiva.bench.things import load_bench
from aestiva.bench.traymap import plain_svg
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view, safe_next
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import typed_count, typed_day
from aestiva.season.contents import contents_of, open_runs
from growing.bench import day as core
from growing.bench.mix import SAFE_C, SAFE_MINUTES, TOO_HOT_C
from growing.shelves.laying import laying

MOST_SHEETS = 12
STAGE_WORDS = {  # act, what the large button says
    "label": ("Label", "Labelled"), "fill": ("Fill", "Filled"), "firm": ("Firm", "Firmed"), "dib": ("Dib", "Dibbed"), "seed": ("Seed", "Seeded"),
    "cover": ("Cover", "Covered"), "mist": ("Mist", "Misted"), "place": ("Place", "Placed"), "lift": ("Lift", "Lifted"), "pot": ("Pot", "Potted"),
    "water": ("Water", "Watered"),
}  # fmt: skip
HOW = {
    "label": "Write it before any seed is out: crop, variety, day. The label goes in at the marked corner.",
    "fill": "Loosely, over the rim; knock once, strike off level.",
    "firm": "With finger tips, lightly: corners of the cells first.",
    "dib": "One hole a cell, to the depth.",
    "cover": "With fine mix or sand, sieved, no deeper than the seed needs.",
    "mist": "Fine spray until it shines; never a can on fresh seed.",
    "place": "Where it stands until half are up.",
    "lift": "By the leaf, never by the stem; from below, with all its mix.",
    "pot": "As deep as it stood, tomatoes to the seed leaves.",
    "water": "Each pot once, until it drains.",
}


@garden_view(no_frost="bench", back="bench_days")
def days_page(request: Any) -> HttpResponse:
    """What days lie ahead, those that were begun, and a button that begins one."""
    return _days(request)


def _days(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden, post = request.garden, request.POST
    if request.method == "POST" and refused is None:
        try:
            typed = post.get("minutes", "").strip()
            minutes = typed_count(typed, "minutes") if typed else None
            if minutes is not None and not 1 <= minutes <= 1440:
                raise Refused("minutes", "give 1 to 1440 minutes, or nothing")
            on = typed_day(post.get("on", ""), "on", clock.today(garden))
            made = day_begin.begin(
                garden, request.user, post.get("kind", "sow"), on, minutes, clock.today(garden), post.get("key", "")
            )
            return redirect("bench_day", garden.pk, made.pk)
        except Refused as wrong:
            refused = wrong
    now = load(garden, clock.today(garden))
    context = {
        "view": "bench_days",
        "coming": days.coming(now),
        "begun": days.sheets_so_far(garden, MOST_SHEETS),
        "timers": [t for t in days.timers(garden) if t.planting_id is not None],
        "refused": refused,
        "typed": post,
    }
    return render(request, "bench/days.html", context, status=422 if refused else 200)


def _sheet(request: Any, day_id: int) -> BenchDay:
    return get_object_or_404(BenchDay.objects.select_related("recipe", "garden"), pk=day_id, garden=request.garden)


@garden_view(no_frost="bench", back="bench_days")
def day(request: Any, day_id: int) -> HttpResponse:
    return _page(request, None, day_id)


def _page(request: Any, refused: Refused | None, day_id: int) -> HttpResponse:
    row, garden, at = _sheet(request, day_id), request.garden, clock.instant()
    found = days.sheet(row, at)
    current = found.current
    ahead = found.next
    waiting = ahead is not None and ahead.waits_until is not None
    stands = ahead is not None and ahead.stage in ("place", "pot")
    bench = load_bench(load(garden, clock.today(garden))) if stands else None
    laid = laying(current.item.crop) if current is not None and current.item is not None else None
    context = {
        "view": "bench_days",
        "day": row,
        "sheet": found,
        "current": current,
        "stage": ahead.stage if ahead is not None else "",
        "words": STAGE_WORDS.get(ahead.stage) if ahead is not None else None,
        "how": HOW.get(ahead.stage, "") if ahead is not None else "",
        "number": found.stages.index(ahead.stage) + 1 if ahead is not None else 0,
        "order": found.rows.index(current) + 1 if current is not None else 0,
        "waiting": waiting,
        "ahead": _after(found),
        "laid": laid,
        "map": _little_map(current),
        "where": [] if bench is None or current is None else days.places_for(current, bench),
        "timers": [t for t in days.timers(garden) if t.planting_id is not None],
        "at": at,
        "soaks": days.soaks(found),
        "evening": [(s, day_actions.EVENING_SAID[s], s in found.evening) for s in days.evening_of(found)],
        "is_ahead": row.on > clock.today(garden),
        "recipes": Recipe.objects.filter(garden=garden),
        "mixed": found.mixed,
        "litres": found.litres,
        "safe": (SAFE_C, SAFE_MINUTES, TOO_HOT_C),
        "clock_stage": core.CLOCK[row.kind],
        "refused": refused,
        "typed": request.POST,
    }
    return render(request, "bench/day.html", context, status=422 if refused else 200)


def _after(found: days.BenchSheet) -> str:
    """What comes when this is tapped, in words."""
    if found.next is None or found.next.waits_until is not None:
        return ""
    then = core.following(
        found.day.kind,
        [r.core for r in found.rows],
        found.done | {(found.next.line, found.next.stage)},
        clock.instant(),
    )
    row = next((r for r in found.rows if then is not None and r.line.pk == then.line), None)
    if then is None or row is None:
        return "then all is done"
    what = STAGE_WORDS[then.stage][0].lower()
    code = f" of {row.tray.code}" if row.tray is not None else ""
    return f"then {what}: {row.name.lower()}{code}"


def _little_map(current: days.SheetRow | None) -> str:
    if current is None or current.tray is None:
        return ""
    cells = current.cells or range(1, current.tray.cells + 1)
    return plain_svg(current.tray, cells, contents_of(open_runs(current.tray)))


@garden_view("grower", back="bench_day", page=_page)
@require_POST
def stage(request: Any, day_id: int) -> HttpResponse:
    """A tap: a stage of a line, of the evening before, the mix, a line off the sheet, the sheet itself gone."""
    row, garden, post, today = _sheet(request, day_id), request.garden, request.POST, clock.today(request.garden)
    what, key = post.get("what", "done"), post.get("key", "")
    line = whole_number(post.get("line")) or 0
    if what in ("done", "skip"):
        count = typed_count(typed) if (typed := post.get("count", "").strip()) else None
        to, rest = spot_asked(request), spot_asked(request, "rest")
        done = day_actions.finish_stage(
            garden, request.user, row, line, post.get("stage", ""), today, key, count, to, rest, what == "skip"
        )
        if done is None:
            messages.info(request, "Somebody has done that already. Nothing was written twice.")
        else:
            messages.success(request, f"{day_actions.STAGE_DONE[done.stage]}.{_mind(request, done, today)}")
    elif what == "evening":
        day_actions.evening_done(garden, request.user, row, post.get("stage", ""), key)
    elif what == "recipe":
        number = whole_number(post.get("recipe"))
        recipe = None if number is None else get_object_or_404(Recipe, pk=number, garden=garden)
        with journal.change(garden, request.user, f"The mix of {row.on:%-d %B}: {recipe or 'not said'}", key) as write:
            row.recipe = recipe
            write.save(row, post.get("revision"))
    elif what == "drop":
        day_actions.drop_line(garden, request.user, row, line, key)
    elif what == "leave":
        day_actions.leave(garden, request.user, row, key)
        return redirect("bench_days", garden.pk)
    else:
        raise Http404("There is nothing of that kind to do.")
    return redirect("bench_day", garden.pk, row.pk)


def _mind(request: Any, done: StageDone, today: date) -> str:
    """What speaks against where a tray was just put; it stays, and can be taken back."""
    if done.stage != core.STANDS or done.skipped or done.line is None or done.line.tray is None:
        return ""
    bench = load_bench(load(request.garden, today))
    thing = bench.thing(done.line.tray)
    if thing.spot is None:
        return ""
    found = said(against_place(thing, bench.places[thing.spot.pk], bench, today), request.reader)
    return f" Mind: {found[0]}" if found else ""


@garden_view("grower", back="today")
@require_POST
def timer_end(request: Any, timer_id: int) -> HttpResponse:
    """What soaked is drained."""
    mine = get_object_or_404(Timer.objects.select_related("planting"), pk=timer_id, garden=request.garden)
    day_actions.end_timer(request.garden, request.user, mine, request.POST.get("key", ""))
    return redirect(safe_next(request) or reverse("bench_days", args=[request.garden.pk]))


@garden_view("grower", back="bench_day", page=_page)
@require_POST
def timer(request: Any, day_id: int) -> HttpResponse:
    """A soak begins, or is drained."""
    row, garden, post = _sheet(request, day_id), request.garden, request.POST
    line = row.lines.select_related("planting").filter(pk=whole_number(post.get("line")) or 0).first()
    if line is None:
        raise Refused("line", "this sheet has no such line: look again")
    made = day_actions.start_timer(
        garden, request.user, row, line.planting, typed_count(post.get("minutes", ""), "minutes"), post.get("key", "")
    )
    rings = say.at_clock(made.due, garden.timezone, garden.reader())
    messages.success(request, f"It rings at {rings}, whoever is here.")
    return redirect("bench_day", garden.pk, row.pk)
