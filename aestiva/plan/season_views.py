"""The season as one picture and as a list; on a phone, as a file, as a table."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from aestiva.course.state import load
from aestiva.frame.files import csv_response
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.plan import actions, overview
from aestiva.plan.picture import PHONE, season_svg

ORDERS = {"sow": "sowing", "out": "planting out", "name": "name"}


def _order(found: list[overview.Line], by: str) -> list[overview.Line]:
    if by == "name":
        return sorted(found, key=lambda one: one.name)
    if by == "out":
        return sorted(found, key=lambda one: one.days["out"] or date.max)
    return found


@garden_view()
def season(request: Any) -> HttpResponse:
    today = clock.today(request.garden)
    try:
        now = load(request.garden, today)
    except NoFrostDate:
        return render(request, "plan/no_frost.html", {"view": "plan"})
    by = request.GET.get("by", "sow")
    found = _order(overview.lines(now), by)
    groups = overview.folds(found, request.GET.get("open", ""))
    rows = overview.rows(request.garden.pk, groups, today)
    line = now.place.spring.date_for(now.place.accepted_risk)
    return render(
        request,
        "plan/season.html",
        {
            "view": "plan",
            "lines": found,
            "troubles": now.troubles,
            "headline": overview.headline(found, today),
            "groups": groups,
            "folded": any(g.key for g in groups),
            "picture": season_svg(rows, now.place, today, overview.bench_load(found)),
            "phone_picture": f"{reverse('season_phone', args=[request.garden.pk])}?{request.GET.urlencode()}",
            "line": line,
            "place": now.place,
            "last_frost": now.place.last_frost,
            "by": by,
            "orders": ORDERS,
            "states": overview.STATES,
            "may_follow": len(actions.may_follow(request.garden)),
        },
    )


@garden_view()
def season_phone(request: Any) -> HttpResponse:
    """The picture as narrow as a phone, for the page that asks for it there."""
    today = clock.today(request.garden)
    try:
        now = load(request.garden, today)
    except NoFrostDate as error:
        raise Http404("There is no picture before a frost date is known.") from error
    found = _order(overview.lines(now), request.GET.get("by", "sow"))
    groups = overview.folds(found, request.GET.get("open", ""))
    rows = overview.rows(request.garden.pk, groups, today)
    return HttpResponse(season_svg(rows, now.place, today, overview.bench_load(found), frame=PHONE))


@garden_view()
def season_file(request: Any) -> HttpResponse:
    """The picture as an SVG file that stands alone."""
    today = clock.today(request.garden)
    try:
        now = load(request.garden, today)
    except NoFrostDate as error:
        raise Http404("There is no picture before a frost date is known.") from error
    found = overview.lines(now)
    groups = overview.folds(found)
    rows = overview.rows(request.garden.pk, groups, today)
    picture = season_svg(rows, now.place, today, overview.bench_load(found), export=True)
    response = HttpResponse(picture, content_type="image/svg+xml; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="season-{request.garden.year}.svg"'
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'"
    return response


@garden_view()
def season_csv(request: Any) -> HttpResponse:
    today = clock.today(request.garden)
    try:
        found = overview.lines(load(request.garden, today))
    except NoFrostDate as error:
        raise Http404("There are no dates before a frost date is known.") from error
    return csv_response(f"season-{request.garden.year}.csv", overview.COLUMNS, overview.table(found))
