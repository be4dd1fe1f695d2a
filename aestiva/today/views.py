"""Today: what do I do now, where, why?"""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench import days
from aestiva.bench.hands_views import turns_on
from aestiva.care.round import in_short
from aestiva.course.state import Todo, load
from aestiva.emergence.coming import coming
from aestiva.emergence.heat import heats
from aestiva.emergence.words import silent
from aestiva.frame import wording
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view, refresh_page, safe_next
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.gardens.posting import carry_out, posts
from aestiva.plan import overview
from aestiva.today import finding, queries, tap
from aestiva.today.commands import Finish, FinishTogether, Note, OfTasks, PutOff, PutOffTogether, Skip
from aestiva.today.listing import keep, listing, states
from aestiva.today.notes import notes_of
from aestiva.today.picture import nights_svg
from growing.waiting import lost


@garden_view()
def today(request: Any) -> HttpResponse:
    return _page(request)


def _page(request: Any, refused: Refused | None = None, key: str = "") -> HttpResponse:
    garden = request.garden
    if refused is not None and request.htmx:
        return _refused_row(request, refused, key)
    try:
        now = load(garden, clock.today(garden))
    except NoFrostDate:
        return render(request, "today/first_run.html", {"view": "today"})
    if not now.items and not now.troubles:
        sample = overview.sample(now.place, now.crops, now.today)
        empty = {
            "view": "today",
            "line": now.place.last_frost,
            "sample": sample,
            "late": reverse("late", args=[garden.pk]),
        }
        return render(request, "today/empty.html", empty)
    day = queries.day(now)
    if refused is None:
        keep(states(garden, now.today)[0], "today", day.short)
    context = {
        "view": "today",
        "day": day,
        "strip": nights_svg(day.nights, request.reader),
        "refused": refused,
        "at": key,
        "typed": request.POST,
        "troubles": now.troubles,
        "done": tap.done_today(garden, now.today),
        "timers": days.timers(garden),
        "instant": clock.instant(),
        "bench": days.at_bench(now),
        "alive": any(i.batch is not None and i.raised.alive for i in now.items),
        "silent": silent(under := coming(now), heats(now, under), now.today, request.reader),
        **turns_on(garden, now.today),
        **tap.beside_rows(garden, now.today),
    }
    return render(request, "today/today.html", context, status=422 if refused else 200)


@garden_view(no_frost="today")
def round_line(request: Any) -> HttpResponse:
    """The round of water in a line, and the minutes of the day with it: fetched when the rest is there."""
    now = load(request.garden, clock.today(request.garden))
    found = in_short(now)
    said = queries.sub(now, listing(now, now.todos(now.today)), found.minutes.get(now.today, 0))
    return render(request, "today/_round_line.html", {"said": found.said, "sub": said})


@garden_view()
def fold_rows(request: Any) -> HttpResponse:
    """The rows of one fold, opened in place, or as a page of its own."""
    try:
        now = load(request.garden, clock.today(request.garden))
    except NoFrostDate as error:
        raise Http404("There are no tasks before a frost date is known.") from error
    todos, name = now.todos(now.today), request.GET.get("of", "")
    rows = queries.rows_of(listing(now, todos).lines)
    found = next((one for key, one in queries.folded(rows, queries.fold(rows)).items() if key.anchor == name), None)
    by_key = {todo.task.key: todo for todo in todos}
    context = {
        "view": "today",
        "fold": found,
        "bundles": [queries.bundle(row, by_key) for row in found.rows] if found is not None else [],
        **tap.beside_rows(request.garden, now.today),
    }
    return render(request, "today/_fold_rows.html" if request.htmx else "today/fold.html", context)


MOST_MINUTES = 24 * 60


@garden_view()
def minutes(request: Any) -> HttpResponse:
    """“I have 40 minutes”: the set that saves most, and the rest for another day."""
    typed = request.GET.get("m", "").strip() or "40"
    budget, problem = whole_number(typed), ""
    if budget is None or not 1 <= budget <= MOST_MINUTES:
        problem, budget = f"“{typed[:20]}” is not a number of minutes: give 1 to {MOST_MINUTES}.", 40
    try:
        now = load(request.garden, clock.today(request.garden))
    except NoFrostDate:
        return render(request, "today/first_run.html", {"view": "today"})
    found = queries.in_minutes(now, budget)
    context = {
        "view": "today",
        "found": found,
        "budget": budget,
        "typed": typed,
        "problem": problem,
        **tap.beside_rows(request.garden, now.today),
    }
    return render(request, "today/minutes.html", context, status=422 if problem else 200)


def _refused_row(request: Any, refused: Refused, key: str) -> HttpResponse:
    """One row with what was wrong, open, and what was typed still in it."""
    todo = finding.find(request.garden, key, clock.today(request.garden)) if key else None
    if todo is None:
        messages.error(request, f"{refused}. Nothing was written.")
        return refresh_page()
    context = {
        "bundle": queries.bundle_of(todo, clock.today(request.garden)),
        "refused": refused,
        "at": key,
        "typed": request.POST,
        "oob": True,
        **tap.beside_rows(request.garden, clock.today(request.garden)),
    }
    return render(request, "today/_row.html", context, status=422)


def _todo(request: Any, key: str) -> Todo:
    try:
        found = finding.find(request.garden, key, clock.today(request.garden))
    except NoFrostDate as error:
        raise Http404("There are no tasks before a frost date is known.") from error
    if found is None:
        raise Http404("That task is done or no longer needed.")
    return found


def _back(request: Any) -> HttpResponse:
    target = safe_next(request)
    return redirect(target) if target else redirect("today", request.garden.pk)


DOES = {"skip": Skip, "move": PutOff}


@garden_view("grower", page=_page)
@require_POST
def act(request: Any, key: str) -> HttpResponse:
    """Done, done on another day, part done, skipped, moved."""
    command = DOES.get(request.POST.get("what", ""), Finish)
    return _answer(request, carry_out(command, request, {"task": key}))


def _answer(request: Any, done: OfTasks) -> HttpResponse:
    """What changed on the page of Today, or the page that one came from."""
    if done.written is None:
        messages.info(request, "That is done already, or no longer needed.")
    if not request.htmx:
        return _back(request)
    return refresh_page() if done.written is None else tap.answer(request, done.written)


@garden_view("grower", page=_page)
@require_POST
def act_together(request: Any) -> HttpResponse:
    """One errand for several batches."""
    return _answer(request, carry_out(FinishTogether, request, {}))


@garden_view()
def why(request: Any, key: str) -> HttpResponse:
    """The working of one task, opened beside it or as a page of its own."""
    todo = _todo(request, key)
    instruction = wording.STEPS[todo.task.kind].instruction
    cautions = wording.cautions(todo.task, todo.crop)
    template = "today/_why.html" if request.htmx else "today/why.html"
    waiting = todo.waits(clock.today(request.garden))
    context = {
        "view": "today",
        "todo": todo,
        "instruction": instruction,
        "cautions": cautions,
        "waiting": waiting,
        "cost": round(lost(waiting), 2),
    }
    return render(request, template, context)


@garden_view("grower")
def more(request: Any, key: str) -> HttpResponse:
    """What else may be said of a task: done on another day, in part, put off, skipped."""
    todo = _todo(request, key)
    context = {
        "view": "today",
        "todo": todo,
        "tomorrow": clock.today(request.garden) + timedelta(days=1),
    }
    return render(request, "today/_more.html" if request.htmx else "today/more.html", context)


@garden_view(readers_post=True)
def note(request: Any, key: str) -> HttpResponse:
    """A word beside a task: everybody's, the one thing that a reader may write."""
    todo = _todo(request, key)
    context: dict[str, Any] = {"view": "today", "todo": todo, "typed": request.POST}
    if request.method == "POST":
        try:
            carry_out(Note, request, {"task": key})
            return refresh_page() if request.htmx else _back(request)
        except Refused as refused:
            context["refused"] = refused
            if request.htmx:
                messages.error(request, f"{refused}. Nothing was written.")
                return refresh_page()
    context["said"] = notes_of(request.garden, clock.today(request.garden)).get(key, [])
    template = "today/_note.html" if request.htmx else "today/note.html"
    return render(request, template, context, status=422 if "refused" in context else 200)


put_off = posts(PutOffTogether, back="today", page=_page)
