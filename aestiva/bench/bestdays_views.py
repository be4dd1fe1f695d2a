"""Best days for all that is still to be sown: a plan at once, the best one from a job, and what it would move."""

from __future__ import annotations

import json
import uuid
from datetime import date
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from aestiva.bench.ahead import BenchAhead, look_ahead, moved_ahead
from aestiva.bench.bestdays import AT_ONCE, DayQuestion, look_for_best, minutes_a_day, question
from aestiva.bench.room_views import headline
from aestiva.bench.roomdraw import over_words, scale_of, strips_svg
from aestiva.bench.things import load_bench
from aestiva.course.state import load
from aestiva.frame.say import Reader
from aestiva.gardens import clock, jobs
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Job
from growing.bench import bestdays
from growing.bench.bestdays import PlanWorth

KIND = "best_days"


def _garden_of(job: Job) -> int:
    return int(json.loads(jobs.payload_of(job))["garden"])


def register() -> None:
    """The kind of job, and where what it found is shown."""
    jobs.register_work(
        KIND,
        look_for_best,
        lambda job: reverse("best_days_found", args=[_garden_of(job), job.key]),
        "Looking for the best sowing days",
        lambda job: reverse("best_days", args=[_garden_of(job)]),
        "To the sowing days",
    )


@garden_view(no_frost="plan", back="best_days")
def best_days(request: Any) -> HttpResponse:
    """As it is, and a plan at once; posting looks for the best one."""
    garden = request.garden
    if request.method == "POST":
        payload = json.dumps({"garden": garden.pk}).encode()
        job = jobs.start(KIND, request.user, payload, request.POST.get("key", ""), long=True, garden=garden)
        return redirect("job", job.key)
    now = load(garden, clock.today(garden))
    ahead = look_ahead(now, load_bench(now))
    context: dict[str, Any] = {"view": "plan", "minutes": minutes_a_day(garden), "running": _running(request)}
    count = sum(i.batch is None for i in now.items)
    if count <= AT_ONCE:
        found = question(ahead)
        quick = bestdays.improved(found.task, bestdays.greedy(found.task))
        context |= _shown(ahead, found, found.dates(quick.days), quick.worth, request.reader)
    return render(request, "bench/best_days.html", context | {"many": count > AT_ONCE})


def _running(request: Any) -> Job | None:
    """This person's search that is under way, for this garden."""
    for job in Job.objects.filter(user=request.user, kind=KIND, state__in=("waiting", "running")).order_by("-pk"):
        if jobs.state_of(job) != "interrupted" and _garden_of(job) == request.garden.pk:
            return job
    return None


def _shown(
    ahead: BenchAhead, found: DayQuestion, days: dict[int, date], worth: PlanWorth, units: Reader
) -> dict[str, Any]:
    """What a plan moves, and the room with it."""
    start = found.start
    moves = {pk: day for pk, day in days.items() if day.toordinal() - start != found.now_days[pk]}
    then = moved_ahead(ahead, dict(moves))
    scale = scale_of(ahead, None)
    in_order = sorted(moves, key=lambda pk: (moves[pk], pk))
    names = {pk: i.full_name for pk, i in found.items.items()}
    return {
        "worth": worth,
        "before": found.weigh(found.now_days),
        "before_days": len(set(found.now_days.values())),
        "fewest": found.fewest,
        "moves": [(names[pk], date.fromordinal(start + found.now_days[pk]), moves[pk]) for pk in in_order],
        "moves_text": ",".join(f"{pk}.{day.isoformat()}" for pk, day in sorted(moves.items())),
        "sowing_days": sorted(set(days.values())),
        "stay": len(days) - len(moves),
        "closed": [i.name for i in found.closed],
        "strips": strips_svg(then, None, scale, None, units, axis=False),
        "overs": [over_words(o) for o in then.overflows],
        "over_head": headline(then.overflows[0]) if then.overflows else "",
    }  # fmt: skip


@garden_view(no_frost="plan", back="best_days")
def found(request: Any, key: uuid.UUID) -> HttpResponse:
    """What a member's search found: how good it is, how good any plan could be, and what it moves."""
    garden = request.garden
    job = get_object_or_404(Job, key=key, kind=KIND)
    if _garden_of(job) != garden.pk:
        raise Http404("That search was for another garden.")
    state = jobs.state_of(job)
    if state in ("waiting", "running", "interrupted", "cancelled"):
        return redirect("job", job.key)
    if state != "done":
        return render(request, "bench/best_days.html", {"view": "plan", "problems": job.problems})
    result = job.result or {}
    now = load(garden, clock.today(garden))
    ahead = look_ahead(now, load_bench(now))
    asked = question(ahead)
    days = {int(pk): date.fromisoformat(day) for pk, day in result["days"].items()}
    days = {pk: day for pk, day in days.items() if pk in asked.now_days and day >= now.today}
    context = _shown(ahead, asked, days, PlanWorth(*result["worth"]), request.reader)
    context |= {
        "view": "plan",
        "found": result,
        "job": job,
        "stale": result["revision"] != garden.revision,
        "quick": PlanWorth(*result["greedy"]),
    }
    return render(request, "bench/best_days.html", context)
