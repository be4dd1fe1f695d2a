"""The calendar: a file, and a private address that can be revoked."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.cache import get_conditional_response
from django.utils.http import quote_etag

from aestiva.course.state import SeasonState, load
from aestiva.frame import say
from aestiva.frame.links import outside
from aestiva.frame.version import code_version
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.season.beginning import begun
from aestiva.today.calendar import calendar
from aestiva.today.expected import expected
from aestiva.today.listing import (
    CalendarOutlook,
    StepComing,
    keep,
    keep_outlook,
    kept,
    kept_outlook,
    line,
    listing,
    states,
)
from aestiva.today.models import CalendarLink
from aestiva.today.queries import coming, next_tasks
from aestiva.today.week import AHEAD, WeekAhead, month, week, weeks

COMING_DAYS = 90  # what is expected is listed so far ahead


@garden_view(back="calendar")
def page(request: Any) -> HttpResponse:
    garden = request.garden
    if request.method == "POST":
        if (
            not is_sure(request)
            and CalendarLink.objects.filter(garden=garden, user=request.user, revoked=False).exists()
        ):
            follows = ["Calendars that use the address get nothing more.", "Another address can be made any time."]
            question = "Make a new address?" if request.POST.get("what") == "new" else "Revoke this address?"
            return ask(request, question, follows, "Yes, end the old one", "calendar")
        key = request.POST.get("key", "")
        with journal.noted(garden):
            said = "Made a new" if request.POST.get("what") == "new" else "Revoked the"
            journal.note(garden, request.user, f"{said} private calendar address", key)
            CalendarLink.objects.filter(garden=garden, user=request.user, revoked=False).update(revoked=True)
            if request.POST.get("what") == "new":
                CalendarLink.objects.create(garden=garden, user=request.user)
                messages.success(request, "A new private address. Any older one no longer works.")
            else:
                messages.success(request, "Revoked: calendars that used the address get nothing more.")
        return redirect("calendar", garden.pk)
    link = CalendarLink.objects.filter(garden=garden, user=request.user, revoked=False).first()
    address = outside(request, reverse("calendar_feed", args=[link.token])) if link else ""
    context: dict[str, Any] = {"view": "calendar", "link": link, "address": address}
    try:
        context["weeks"] = _ahead(garden)
        context |= _outlook(garden, bool(context["weeks"]))._asdict()
        context["begun"] = begun(garden)
    except NoFrostDate:
        context["no_frost"] = True
    return render(request, "today/calendar.html", context)


MOST_COMING = 12


def _outlook(garden: Garden, busy: bool) -> CalendarOutlook:
    """What lies beyond the next weeks, kept for the garden as it is now; raises NoFrostDate.  busy: the weeks hold tasks."""
    today = clock.today(garden)
    state = states(garden, today)[0]
    found = kept_outlook(state)
    if found is None:
        now = load(garden, today)
        following = [] if busy else next_tasks(now)
        until = max(following[-1].due if following else today, today + timedelta(days=COMING_DAYS))
        found = CalendarOutlook(
            bool(now.items),
            coming(following[0], today) if following else "",
            tuple(line(todo, today) for todo in following[:MOST_COMING]),
            tuple(StepComing(one.day, one.word, one.name) for one in expected(now, until)[:MOST_COMING]),
        )
        keep_outlook(state, found)
    return found


@garden_view()
def week_rows(request: Any, start: str) -> HttpResponse:
    """All tasks of one week of the calendar page."""
    try:
        found = _ahead(request.garden)
    except NoFrostDate as error:
        raise Http404("There are no dates before a frost date is known.") from error
    here = next((one.lines for one in found if one.start.isoformat() == start), [])
    return render(request, "today/_week_rows.html", {"lines": here})


def _ahead(garden: Garden) -> list[WeekAhead]:
    """The weeks ahead, from the list kept for the garden as it is now; raises NoFrostDate."""
    today = clock.today(garden)
    state = states(garden, today)[0]
    found = kept(state, "ahead")
    if found is None:
        now = load(garden, today)
        found = listing(now, now.todos(today + timedelta(days=AHEAD - 1)))
        keep(state, "ahead", found)
    return weeks(found.lines, today, garden.week_starts)


def _state(garden: Garden) -> SeasonState:
    try:
        return load(garden, clock.today(garden))
    except NoFrostDate as error:
        raise Http404("There are no dates before a frost date is known.") from error


@garden_view()
def week_page(request: Any) -> HttpResponse:
    """Seven days with their minutes, for the screen and for paper."""
    now = _state(request.garden)
    try:
        start = date.fromisoformat(request.GET.get("from", ""))
    except ValueError:
        start = now.today
    start = min(max(start, now.today), now.today + timedelta(days=400))
    days = week(now, start)
    context = {
        "view": "calendar",
        "days": days,
        "minutes": sum(d.minutes for d in days),
        "longest": max(days, key=lambda d: d.minutes),
        "before": start - timedelta(days=7) if start > now.today else None,
        "after": start + timedelta(days=7),
    }
    return render(request, "today/week.html", context)


@garden_view()
def month_page(request: Any) -> HttpResponse:
    """A month to hang on the wall."""
    now = _state(request.garden)
    try:
        first = date.fromisoformat(f"{request.GET.get('month', '')}-01")
    except ValueError:
        first = now.today.replace(day=1)
    if abs((first - now.today).days) > 800:
        first = now.today.replace(day=1)
    context = {
        "view": "calendar",
        "first": first,
        "weeks": month(now, first),
        "names": [say.WEEKDAYS[(request.garden.week_starts + k) % 7][:3] for k in range(7)],
        "before": first - timedelta(days=1),
        "after": first + timedelta(days=32),
    }
    return render(request, "today/month.html", context)


@garden_view()
def file(request: Any) -> HttpResponse:
    """The tasks as an iCalendar file."""
    return _response(calendar(_state(request.garden)), "tasks.ics")


def feed(request: Any, token: str) -> HttpResponse:
    """What a subscribed calendar reads, many times a day; the secret in the address is the permission.

    A calendar that has what there is gets a 304 before anything is worked out.
    """
    link = CalendarLink.objects.select_related("garden").filter(token=token, revoked=False).first()
    if link is None or not link.garden.members.filter(user=link.user).exists():
        raise Http404("This calendar address is not in use.")
    today = clock.today(link.garden)
    etag = _etag(link.garden, today)
    if (known := get_conditional_response(request, etag=etag)) is not None:
        return known
    now = _state(link.garden)
    response = _response(calendar(now, outside(request, reverse("today", args=[link.garden_id]))), "tasks.ics")
    response["ETag"] = etag
    response["Cache-Control"] = "private, no-cache"  # may be kept, and is asked for each time
    return response


def _etag(garden: Garden, today: date) -> str:
    """What the tasks of a day follow from: what was written of the garden, the day, and the rules."""
    return quote_etag(f"{code_version()}-{garden.pk}-{garden.revision}.{garden.readings_revision}-{today.toordinal()}")


def _response(data: bytes, name: str) -> HttpResponse:
    response = HttpResponse(data, content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = f'inline; filename="{name}"'
    return response
