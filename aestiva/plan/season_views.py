"""The season as one picture and as a list; on a phone, as a file, as a table."""

from __future__ import annotations

from datetime import date
from typing import Any, NamedTuple

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from aestiva.course.state import SeasonState, load
from aestiva.frame.files import csv_response
from aestiva.frame.say import Reader
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.gardens.providers import link
from aestiva.plan import actions, overview
from aestiva.plan.look import LAYERS, ORDERS, PlanLook
from aestiva.plan.picture import (
    BESIDE,
    PHONE,
    WIDE,
    Frame,
    FurrowRow,
    Scale,
    axis_svg,
    close_scale,
    rows_svg,
    scale_for,
    season_svg,
)
from aestiva.plan.picture.row import small
from aestiva.plan.picture.scale import SPANS, beside
from aestiva.plan.replan import proposals
from aestiva.season.models import Planting

SMALL_FROM, SMALL_PX = 14, (58, 560)  # rows from which the whole season stands small at the side; its measures


class SeasonSeen(NamedTuple):
    """A garden's season as it is looked at: its lines in an order, and the groups that they are shown in."""

    now: SeasonState
    look: PlanLook
    all: list[overview.PlanLine]
    lines: list[overview.PlanLine]
    groups: list[overview.CropFold]
    reader: Reader
    writes: bool

    @property
    def at(self) -> date:
        return self.look.at or self.now.today

    @property
    def until(self) -> date | None:
        """The last day shown: of what has happened nothing lies after today."""
        return self.now.today if self.look.layer == "happened" else None

    def rows(self) -> list[FurrowRow]:
        made = None
        if self.look.layer == "made":
            keys = [one.planting_id for one in self.lines]
            made = dict(Planting.objects.filter(pk__in=keys).values_list("pk", "made"))
        found = overview.rows(self.groups, self.now.today, made, self.writes and self.look.layer != "happened")
        return [one._replace(href=self.look.toggled(one.fold)) if one.fold else one for one in found]

    def frame(self, rows: list[FurrowRow]) -> Frame:
        return BESIDE if len(rows) >= SMALL_FROM or self.look.span != "season" else WIDE

    def scale(self, rows: list[FurrowRow], frame: Frame) -> Scale:
        if self.look.span == "season":
            return scale_for(rows, self.now.place, self.now.today, frame)
        return close_scale(self.look.span, self.at, self.now.garden.week_starts, frame)

    def file(self) -> str:
        """All of it in one element that stands alone."""
        rows = self.rows()
        scale = self.scale(rows, WIDE)
        return season_svg(
            rows, self.now.place, self.now.today, export=True, scale=scale, reader=self.reader, until=self.until
        )

    def parts(self) -> dict[str, Any]:
        """The picture in the parts that the page keeps in place."""
        rows = self.rows()
        frame = self.frame(rows)
        scale, place, today = self.scale(rows, frame), self.now.place, self.now.today
        beside_it = ""
        if frame is BESIDE:
            beside_it = small(rows, scale_for(rows, place, today), scale, SMALL_PX[1], SMALL_PX[0])
        return {
            "axis": axis_svg(scale, place, today, self.reader),
            "rows": rows_svg(rows, scale, place, today, self.until),
            "small": beside_it,
            "scale": f"{scale.start}.{scale.end}.{'beside' if frame is BESIDE else 'wide'}",
        }


def seen(request: Any, asked: Any = None) -> SeasonSeen:
    """The season as the address asks for it; raises NoFrostDate."""
    look = PlanLook.of(request.GET if asked is None else asked)
    now = load(request.garden, clock.today(request.garden))
    every = overview.lines(now)
    found = look.ordered(every)
    return SeasonSeen(
        now, look, every, found, overview.folds(found, look.opened), request.reader, request.role != "reader"
    )


def _seen_or_404(request: Any) -> SeasonSeen:
    try:
        return seen(request)
    except NoFrostDate as error:
        raise Http404("There is no picture and no date before a frost date is known.") from error


@garden_view()
def season(request: Any) -> HttpResponse:
    try:
        found = seen(request)
    except NoFrostDate:
        return render(request, "plan/no_frost.html", {"view": "plan"})
    now, look = found.now, found.look
    line = now.place.spring.date_for(now.place.accepted_risk)
    before, after = beside(look.span, found.at)
    context = {
        "view": "plan",
        "lines": found.lines,
        "all": found.all,
        "troubles": now.troubles,
        "headline": overview.headline(found.all, now),
        "groups": [(group, look.toggled(group.key)) for group in found.groups],
        "folded": any(g.key for g in found.groups),
        "phone_picture": f"{reverse('season_phone', args=[request.garden.pk])}?{request.GET.urlencode()}",
        "line": line,
        "place": now.place,
        "last_frost": now.place.last_frost,
        "look": look,
        "orders": ORDERS,
        "layers": LAYERS,
        "spans": [(key, words, look.address(span=key, at=found.at)) for key, words in SPANS.items()],
        "before": look.address(at=before),
        "after": look.address(at=after),
        "back_to_today": look.address(at=now.today),
        "at": found.at,
        "beds": sorted({one.item.grows_at for one in found.all if one.item.grows_at}),
        "families": sorted({one.item.crop.family for one in found.all}),
        "states": overview.STATES,
        "overtaken": sum(1 for p in proposals(now) if p.kind != "surplus"),
        "room_strip": link("room_strip", request.garden.pk),
        "best_days": link("best_days", request.garden.pk),
        "room": link("room", request.garden.pk),
        "may_follow": len(actions.may_follow(request.garden)),
    }
    return render(request, "plan/season.html", context | (found.parts() if found.lines else {}))


@garden_view()
def season_phone(request: Any) -> HttpResponse:
    """The picture as narrow as a phone, for the page that asks for it there."""
    found = _seen_or_404(request)
    rows = found.rows()
    scale = found.scale(rows, PHONE)
    drawn = season_svg(rows, found.now.place, found.now.today, scale=scale, reader=found.reader, until=found.until)
    return HttpResponse(f'<div class="drawing" data-scale="{scale.start}.{scale.end}.phone">{drawn}</div>')


@garden_view()
def season_file(request: Any) -> HttpResponse:
    """The picture as an SVG file that stands alone."""
    picture = _seen_or_404(request).file()
    response = HttpResponse(picture, content_type="image/svg+xml; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="season-{request.garden.year}.svg"'
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'"
    return response


@garden_view()
def season_csv(request: Any) -> HttpResponse:
    found = _seen_or_404(request).lines
    return csv_response(f"season-{request.garden.year}.csv", overview.COLUMNS, overview.table(found))
