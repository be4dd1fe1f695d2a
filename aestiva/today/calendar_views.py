"""The calendar: a file, and a private address that can be revoked."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from aestiva.frame import wording
from aestiva.gardens import clock
from aestiva.gardens.access import member
from aestiva.place.queries import NoFrostDate
from aestiva.plan.queries import sheet
from aestiva.today.calendar import calendar
from aestiva.today.models import CalendarLink


@member()
def page(request: Any) -> HttpResponse:
    garden = request.garden
    if request.method == "POST":
        CalendarLink.objects.filter(garden=garden, user=request.user, revoked=False).update(revoked=True)
        if request.POST.get("what") == "new":
            CalendarLink.objects.create(garden=garden, user=request.user)
            messages.success(request, "A new private address. Any older one no longer works.")
        else:
            messages.success(request, "Revoked: calendars that used the address get nothing more.")
        return redirect("calendar", garden.pk)
    link = CalendarLink.objects.filter(garden=garden, user=request.user, revoked=False).first()
    address = request.build_absolute_uri(reverse("calendar_feed", args=[link.token])) if link else ""
    weeks: list[Any] = []
    try:
        now = sheet(garden, clock.today(garden))
    except NoFrostDate:
        now = None
    if now is not None:
        todos = sorted(now.todos(now.today + timedelta(days=27)), key=lambda t: (t.due, t.task.key))
        monday = now.today - timedelta(days=now.today.weekday())
        for k in range(5):
            start = monday + timedelta(days=7 * k)
            here = [t for t in todos if start <= max(t.due, now.today) < start + timedelta(days=7)]
            if here:
                weeks.append((start, start + timedelta(days=6), sum(t.task.minutes for t in here), here))
    return render(
        request,
        "today/calendar.html",
        {"view": "calendar", "link": link, "address": address, "weeks": weeks, "words": wording.TASKS},
    )


@member()
def file(request: Any) -> HttpResponse:
    """The tasks as an iCalendar file."""
    try:
        now = sheet(request.garden, clock.today(request.garden))
    except NoFrostDate as error:
        raise Http404("There are no dates before a frost date is known.") from error
    return _response(calendar(now), "tasks.ics")


def feed(request: Any, token: str) -> HttpResponse:
    """What a subscribed calendar reads; the secret in the address is the permission."""
    link = CalendarLink.objects.select_related("garden").filter(token=token, revoked=False).first()
    if link is None or not link.garden.members.filter(user=link.user).exists():
        raise Http404("This calendar address is not in use.")
    try:
        now = sheet(link.garden, clock.today(link.garden))
    except NoFrostDate as error:
        raise Http404("There are no dates yet.") from error
    return _response(calendar(now, request.build_absolute_uri(reverse("today", args=[link.garden_id]))), "tasks.ics")


def _response(data: bytes, name: str) -> HttpResponse:
    response = HttpResponse(data, content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = f'inline; filename="{name}"'
    return response
