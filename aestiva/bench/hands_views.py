"""Hands: minutes a week against the time there is, who does what, days away, and a helper's sheet with an address that ends."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta
from typing import Any, NamedTuple

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from aestiva.bench.ahead import BenchAhead, look_ahead
from aestiva.bench.handover import handover
from aestiva.bench.models import HelpLink, Turn
from aestiva.bench.stays import ref_of
from aestiva.bench.things import load_bench
from aestiva.course.state import SeasonState, Todo, by_day, load, minutes_of
from aestiva.frame import say
from aestiva.frame.links import outside
from aestiva.frame.say import Reader
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden, Member
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.season.models import Absence
from growing.bench.hands import HandsWeek, Postponable, minutes_there_are, to_drop, weeks
from growing.calendar import Window
from growing.steps import WHERE
from growing.waiting import lost

WEEKS, TURN_DAYS = 10, 7


class WeekLine(NamedTuple):
    """A week with what to leave for another where there is too little time."""

    week: HandsWeek
    drop: list[tuple[Todo, float]]
    share: float

    @property
    def end(self) -> date:
        return self.week.start + timedelta(days=6)


def week_lines(now: SeasonState, ahead: BenchAhead, have: dict[int, float] | None) -> list[WeekLine]:
    """The weeks ahead; days away have no minutes."""
    start = now.today - timedelta(days=(now.today.weekday() - now.garden.week_starts) % 7)
    todos = now.todos(start + timedelta(weeks=WEEKS) - timedelta(days=1))
    tasks = [(day, float(minutes_of(mine))) for day, mine in by_day(todos, now.today).items()]
    days = [start + timedelta(days=k) for k in range(7 * WEEKS)]
    flats: dict[date, float] = {}
    for day in days:
        flats[day] = 0.0 if day < now.today else ahead.flats_on(day)
    found = []
    for week in weeks(tasks, flats, _on_ladder(now, ahead, days), have, start, WEEKS):
        if have is not None:
            gone = sum(
                have[d.weekday()] for d in _days_of(week) if d < now.today or any(d in w for w in now.place.away)
            )
            week = week._replace(have=max(0.0, (week.have or 0.0) - gone))
        drop = []
        if week.over:
            mine = [t for t in todos if week.start <= max(t.due, now.today) <= week.start + timedelta(days=6)]
            jobs = {t.task.key: (t, _week_lost(t, max(t.due, now.today))) for t in mine if not t.task.spec.alarm}
            chosen = to_drop([Postponable(k, float(t.task.minutes), cost) for k, (t, cost) in jobs.items()], week.over)
            drop = sorted((jobs[j.key] for j in chosen), key=lambda one: (one[1], one[0].task.key))
        most = max(week.needs, week.have or 0.0, 1.0)
        found.append(WeekLine(week, drop, week.needs / most))
    return found


def _days_of(week: HandsWeek) -> list[date]:
    return [week.start + timedelta(days=k) for k in range(7)]


def _week_lost(todo: Todo, due: date) -> float:
    one = lost(todo.waits(due))
    later = lost(todo.waits(due + timedelta(days=6)))
    return min(3.5 * (one + later), float(max(1, todo.facts.wanted)))


def _on_ladder(now: SeasonState, ahead: BenchAhead, days: list[date]) -> dict[date, float]:
    """Full flats that are carried out and in, by day."""
    found: dict[date, float] = defaultdict(float)
    for item in now.items:
        begin, out = item.raised.course.day("harden"), item.raised.dates.out_on
        if begin is None or not item.raised.hardens or item.raised.facts.planted_on is not None:
            continue
        own = [s for s in ahead.stays if s.batch == ref_of(item)]
        for day in days:
            if now.today <= day and begin <= day < out:
                found[day] += sum(s.flats for s in own if s.since <= day.toordinal() < s.until)
    return found


class HandsSlot(NamedTuple):
    """The work of one place on one day, and who has taken it."""

    day: date
    where: str
    tasks: int
    minutes: int
    turn: Turn | None


def slots(garden: Garden, now: SeasonState) -> list[list[HandsSlot]]:
    """A row a place, a column a day."""
    days = [now.today + timedelta(days=k) for k in range(TURN_DAYS)]
    turns = {(t.on, t.where): t for t in Turn.objects.filter(garden=garden, on__in=days).select_related("member__user")}
    held: dict[tuple[date, str], list[Todo]] = defaultdict(list)
    for todo in now.todos(days[-1]):
        held[max(todo.due, now.today), todo.task.where].append(todo)
    found = []
    for where in WHERE:
        row = [
            HandsSlot(d, where, len(held[d, where]), minutes_of(held[d, where]), turns.get((d, where))) for d in days
        ]
        if any(s.tasks or s.turn for s in row):
            found.append(row)
    return found


def turns_on(garden: Garden, day: date) -> dict[str, Any]:
    """Who has taken which place on a day, and whether there is anybody to share with."""
    taken = Turn.objects.filter(garden=garden, on=day).select_related("member__user")
    several = Member.objects.filter(garden=garden).exclude(role="reader").count() > 1
    return {"turns": {t.where: t.member.user.get_short_name() for t in taken}, "shared": several}


@garden_view(back="hands")
def hands(request: Any) -> HttpResponse:
    """Minutes a week against the time there is; what breaks, what to drop; who does what."""
    return hands_page(request)


def hands_page(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden = request.garden
    members = list(Member.objects.filter(garden=garden).select_related("user").order_by("pk"))
    have = minutes_there_are(m.minutes for m in members)
    context: dict[str, Any] = {
        "view": "bench",
        "members": members,
        "days": say.WEEKDAYS,
        "have": have,
        "refused": refused,
        "me": _me(request),
    }
    try:
        now = load(garden, clock.today(garden))
    except NoFrostDate:
        return render(request, "bench/hands.html", context | {"lines": []}, status=422 if refused else 200)
    ahead = look_ahead(now, load_bench(now))
    lines = week_lines(now, ahead, have)
    breaks = next((one for one in lines if one.week.over), None)
    context |= {
        "lines": lines,
        "breaks": breaks,
        "slots": slots(garden, now),
        "slot_days": [now.today + timedelta(days=k) for k in range(TURN_DAYS)],
        "this": lines[0] if lines else None,
        "absences": Absence.objects.filter(garden=garden, until__gte=now.today).order_by("since"),
        "troubles": now.troubles,
    }
    return render(request, "bench/hands.html", context, status=422 if refused else 200)


def _me(request: Any) -> Member | None:
    found: Member | None = Member.objects.filter(garden=request.garden, user=request.user).first()
    return found


# ---- days away


def _sheet(garden: Garden, absence: Absence, reader: Reader) -> dict[str, Any]:
    now = load(garden, clock.today(garden))
    ahead = look_ahead(now, load_bench(now))
    window = Window(absence.since, absence.until)
    found = handover(ahead, window, reader)
    return {"absence": absence, "window": window, "found": found, "now": now, "over": absence.until < now.today}


@garden_view(no_frost="plan")
def away_sheet(request: Any, absence_id: int) -> HttpResponse:
    """An absence against what falls due: before leaving, by a helper, after."""
    absence = get_object_or_404(Absence, pk=absence_id, garden=request.garden)
    today = clock.today(request.garden)
    links = HelpLink.objects.filter(garden=request.garden, since=absence.since, until=absence.until, expires__gte=today)
    context = _sheet(request.garden, absence, request.reader) | {"view": "plan", "help_link": links.first()}
    if context["help_link"] is not None:
        context["address"] = outside(request, reverse("help_sheet", args=[context["help_link"].token]))
    return render(request, "bench/away_sheet.html", context)


@require_GET
def help_sheet(request: Any, token: str) -> HttpResponse:
    """The sheet for somebody without an account; once it has ended there is nothing under its address."""
    link = HelpLink.objects.filter(token=token).select_related("garden").first()
    absence = (
        None if link is None else Absence.objects.filter(garden=link.garden, since=link.since, until=link.until).first()
    )
    if link is None or absence is None or clock.today(link.garden) > link.expires:
        raise Http404("There is no sheet under this address any more. Ask whoever gave it to you.")
    try:
        context = _sheet(link.garden, absence, link.garden.reader())
    except NoFrostDate as error:
        raise Http404("There is no sheet under this address yet.") from error
    request.reader, request.garden = link.garden.units, None
    answer = render(
        request, "bench/help_sheet.html", context | {"garden_name": link.garden.name, "expires": link.expires}
    )
    answer["Cache-Control"] = "no-store, private"
    answer["Referrer-Policy"] = "no-referrer"
    answer["X-Robots-Tag"] = "noindex, nofollow"
    return answer
