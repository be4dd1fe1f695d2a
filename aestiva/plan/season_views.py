"""The season as one picture and as a list; on a phone, as a file, as a table."""

from __future__ import annotations

from datetime import date
from typing import Any, NamedTuple

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from aestiva.course.state import SeasonState, load
from aestiva.frame.files import csv_response
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.plan import actions, overview
from aestiva.plan.picture import PHONE, WIDE, Frame, season_svg

ORDERS = {"sow": "sowing", "out": "planting out", "name": "name"}


def _order(found: list[overview.Line], by: str) -> list[overview.Line]:
    if by == "name":
        return sorted(found, key=lambda one: one.name)
    if by == "out":
        return sorted(found, key=lambda one: one.days["out"] or date.max)
    return found


class Seen(NamedTuple):
    """A garden's season as it is looked at: its lines in an order, and the groups that they are shown in."""

    now: SeasonState
    lines: list[overview.Line]
    groups: list[overview.Fold]

    def picture(self, export: bool = False, frame: Frame = WIDE) -> str:
        rows = overview.rows(self.now.garden.pk, self.groups, self.now.today)
        return season_svg(rows, self.now.place, self.now.today, overview.bench_load(self.lines), export, frame)


def _seen(request: Any, by: str = "sow", opened: str = "") -> Seen:
    """The season; raises NoFrostDate."""
    now = load(request.garden, clock.today(request.garden))
    found = _order(overview.lines(now), by)
    return Seen(now, found, overview.folds(found, opened))


def _seen_or_404(request: Any, by: str = "sow", opened: str = "") -> Seen:
    try:
        return _seen(request, by, opened)
    except NoFrostDate as error:
        raise Http404("There is no picture and no date before a frost date is known.") from error


@garden_view()
def season(request: Any) -> HttpResponse:
    by = request.GET.get("by", "sow")
    try:
        now, found, groups = seen = _seen(request, by, request.GET.get("open", ""))
    except NoFrostDate:
        return render(request, "plan/no_frost.html", {"view": "plan"})
    line = now.place.spring.date_for(now.place.accepted_risk)
    return render(
        request,
        "plan/season.html",
        {
            "view": "plan",
            "lines": found,
            "troubles": now.troubles,
            "headline": overview.headline(found, now.today),
            "groups": groups,
            "folded": any(g.key for g in groups),
            "picture": seen.picture(),
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
    seen = _seen_or_404(request, request.GET.get("by", "sow"), request.GET.get("open", ""))
    return HttpResponse(seen.picture(frame=PHONE))


@garden_view()
def season_file(request: Any) -> HttpResponse:
    """The picture as an SVG file that stands alone."""
    picture = _seen_or_404(request).picture(export=True)
    response = HttpResponse(picture, content_type="image/svg+xml; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="season-{request.garden.year}.svg"'
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'"
    return response


@garden_view()
def season_csv(request: Any) -> HttpResponse:
    found = _seen_or_404(request).lines
    return csv_response(f"season-{request.garden.year}.csv", overview.COLUMNS, overview.table(found))
