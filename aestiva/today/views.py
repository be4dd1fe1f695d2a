"""Today: what do I do now, where, why?"""

from __future__ import annotations

from contextlib import suppress
from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from aestiva.frame import wording
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import member
from aestiva.gardens.models import JournalEntry
from aestiva.gardens.views import safe_next
from aestiva.place.queries import NoFrostDate
from aestiva.plan import overview
from aestiva.plan.queries import Todo, sheet
from aestiva.season.actions import Refused, typed_count, typed_day
from aestiva.season.models import Batch, Planting, Spot
from aestiva.today import actions, queries
from aestiva.today.picture import nights_svg


@member()
def today(request: Any) -> HttpResponse:
    return _page(request)


def _page(request: Any, refused: Refused | None = None, at: str = "") -> HttpResponse:
    garden = request.garden
    request.session["garden"] = garden.pk
    try:
        now = sheet(garden, clock.today(garden))
    except NoFrostDate:
        return render(request, "today/first_run.html", {"view": "today"})
    if not now.items:
        sample = overview.sample(now.place, now.crops, now.today)
        return render(request, "today/empty.html", {"view": "today", "line": now.place.last_frost, "sample": sample})
    day = queries.day(now)
    context = {
        "view": "today",
        "day": day,
        "strip": nights_svg(day.nights, request.units),
        "words": wording.TASKS,
        "counts": actions.COUNTS,
        "parts": actions.PARTS,
        "refused": refused,
        "at": at,
        "typed": request.POST,
        "done": JournalEntry.objects.filter(garden=garden, day=now.today, undoes=None, undone_by=None)
        .select_related("undone_by")
        .defer("changes")
        .order_by("-pk")[:8],
        "tomorrow": now.today + timedelta(days=1),
    }
    return render(request, "today/today.html", context, status=422 if refused else 200)


def _todo(request: Any, key: str) -> Todo | None:
    try:
        ref = key.split(".", 1)[0]
        only = None
        if (pk := whole_number(ref[1:])) is not None:
            rows = Planting if ref[0] == "p" else Batch
            column = "pk" if ref[0] == "p" else "planting_id"
            only = list(rows._base_manager.filter(pk=pk).values_list(column, flat=True))
        now = sheet(request.garden, clock.today(request.garden), only)
    except NoFrostDate as error:
        raise Http404("There are no tasks before a frost date is known.") from error
    return now.find(key)


def _back(request: Any) -> HttpResponse:
    target = safe_next(request)
    return redirect(target) if target else redirect("today", request.garden.pk)


@member("grower")
@require_POST
def act(request: Any, key: str) -> HttpResponse:
    """Done, done on another day, part done, skipped, moved."""
    today_ = clock.today(request.garden)
    todo = _todo(request, key)
    if todo is None:
        if not JournalEntry.objects.filter(garden=request.garden, key=request.POST.get("key", "-")).exists():
            messages.info(request, "That is done already, or no longer needed.")
        return _back(request)
    post = request.POST
    try:
        what = post.get("what", "done")
        if what == "skip":
            actions.skip(request.garden, request.user, todo, today_, post.get("key", ""))
        elif what == "move":
            actions.move(
                request.garden,
                request.user,
                todo,
                typed_day(post.get("to", ""), "to", today_),
                today_,
                post.get("key", ""),
            )
        else:
            on = typed_day(post.get("on", ""), "on", today_)
            actions.finish(
                request.garden,
                request.user,
                todo,
                on,
                today_,
                typed_count(count) if (count := post.get("count", "").strip()) else None,
                post.get("key", ""),
            )
    except Refused as error:
        return _page(request, error, key)
    except journal.Repeated:
        pass
    return _back(request)


@member("grower")
@require_POST
def act_together(request: Any) -> HttpResponse:
    """One errand for several batches."""
    today_ = clock.today(request.garden)
    try:
        now = sheet(request.garden, today_)
    except NoFrostDate as error:
        raise Http404("There are no tasks before a frost date is known.") from error
    todos = [t for key in request.POST.getlist("task") if (t := now.find(key)) is not None]
    if todos:
        try:
            actions.finish_all(request.garden, request.user, todos, today_, request.POST.get("key", ""))
        except Refused as error:
            return _page(request, error)
        except journal.Repeated:
            pass
    return _back(request)


@member()
def why(request: Any, key: str) -> HttpResponse:
    """The working of one task, opened beside it or as a page of its own."""
    todo = _todo(request, key)
    if todo is None:
        raise Http404("That task is done or no longer needed.")
    instruction = wording.INSTRUCTIONS[todo.task.kind]
    cautions = [wording.CAUTIONS[c] for c in (todo.task.kind, *todo.item.crop.cautions) if c in wording.CAUTIONS]
    template = "today/_why.html" if request.htmx else "today/why.html"
    context = {"view": "today", "todo": todo, "instruction": instruction, "cautions": cautions}
    return render(request, template, context)


@member("grower")
def more(request: Any, key: str) -> HttpResponse:
    """What else may be said of a task: done on another day, in part, put off, skipped."""
    todo = _todo(request, key)
    if todo is None:
        raise Http404("That task is done or no longer needed.")
    context = {
        "view": "today",
        "todo": todo,
        "counts": actions.COUNTS,
        "parts": actions.PARTS,
        "tomorrow": clock.today(request.garden) + timedelta(days=1),
    }
    return render(request, "today/_more.html" if request.htmx else "today/more.html", context)


@member("grower")
@require_POST
def clock_step(request: Any) -> HttpResponse:
    """In a simulated garden: the next day or week, or today's tasks done for me."""
    from demo.simulation import do_tasks, step

    garden = request.garden
    if garden.simulated_on is None:
        raise Http404("This garden lives in real time.")
    what = request.POST.get("what", "")
    try:
        if what == "tasks":
            done = do_tasks(garden, request.user, request.POST.get("key", ""))
            messages.success(request, f"{done} done for you; each can be taken back.")
        elif what in ("day", "week"):
            step(garden, 7 if what == "week" else 1, request.POST.get("key", ""))
    except journal.Repeated:
        pass
    return redirect("today", garden.pk)


@member()
def spots(request: Any) -> HttpResponse:
    """Places where batches stand and plants will grow."""
    refused = ""
    if request.method == "POST":
        code, kind = request.POST.get("code", "").strip()[:12], request.POST.get("kind", "")
        kinds = {k for k, _ in Spot._meta.get_field("kind").choices or ()}
        if not code or kind not in kinds:
            refused = "Give a short code, such as R1·2 or Bed A, and choose what it is."
        elif Spot.objects.filter(garden=request.garden, code=code).exists():
            refused = f"There is a place {code} already: give this one another code."
        else:
            with (
                suppress(journal.Repeated),
                journal.change(
                    request.garden, request.user, f"Added the place {code}", request.POST.get("key", "")
                ) as write,
            ):
                write.save(Spot(garden=request.garden, code=code, kind=kind, name=request.POST.get("name", "")[:60]))
            return redirect("spots", request.garden.pk)
    context = {
        "view": "settings",
        "spots": Spot.objects.filter(garden=request.garden),
        "refused": refused,
        "typed": request.POST,
        "kinds": Spot._meta.get_field("kind").choices,
    }
    return render(request, "today/spots.html", context, status=422 if refused else 200)
