"""The light that batches had: are they drawn, why, what would mend it; of one batch day by day, of all as a sheet."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render

from aestiva.course.item import Lit
from aestiva.course.light import lights
from aestiva.course.state import Item, SeasonState, load
from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.light import draw_day
from aestiva.season.models import Batch
from growing.light.had import Leggy, leggy
from growing.light.targets import band

LEGGY_SHOWN = 8


class Drawn(NamedTuple):
    """A batch with the light it had since it is up, and what that has made of it."""

    item: Item
    lit: Lit
    verdict: Leggy
    low: float
    remedy: str

    @property
    def risk(self) -> str:
        return say.percent(self.verdict.risk)


REMEDIES = {
    "dark": "light it from the first one up; pot it on deep, where it may stand deep",
    "weak": "more light now: lower the lamp, more hours, a brighter place; cooler until then",
    "warm": "two to four degrees cooler at night, or more light",
}


def judged(item: Item, lit: Lit) -> Drawn:
    """Is it drawn, by the light and warmth that it had?"""
    wanted = band(item.crop, lit.growth.leaves)
    verdict = leggy(item.name, lit.want_days, lit.mean or 0.0, wanted.low, lit.warm_c, lit.dark_days)
    return Drawn(item, lit, verdict, wanted.low, "" if verdict.kind == "fine" else REMEDIES[verdict.cause])


def leggy_rows(now: SeasonState, request: Any) -> dict[str, Any]:
    """Those that may be drawn, the worst first; how many are stocky, and of how many nobody knows."""
    found, items = lights(now), {i.batch.pk: i for i in now.items if i.batch is not None}
    known = [judged(items[pk], lit) for pk, lit in found.items() if lit.known]
    drawn = sorted((d for d in known if d.verdict.kind != "fine"), key=lambda d: -d.verdict.risk)
    every = request.GET.get("drawn") == "all"
    return {
        "rows": drawn if every else drawn[:LEGGY_SHOWN],
        "more": 0 if every else max(0, len(drawn) - LEGGY_SHOWN),
        "stocky": len(known) - len(drawn),
        "unknown": len(found) - len(known),
    }


@garden_view(no_frost="light")
def had_csv(request: Any) -> HttpResponse:
    """The light that every batch had, day by day."""
    now = load(request.garden, clock.today(request.garden))
    items = {i.batch.pk: i for i in now.items if i.batch is not None}
    rows = [
        [
            pk,
            items[pk].full_name,
            (lit.start + timedelta(days=k)).isoformat(),
            "" if dli != dli else round(float(dli), 2),
        ]
        for pk, lit in lights(now).items()
        for k, dli in enumerate(lit.dli)
    ]
    return csv_response("light-had.csv", ["batch", "name", "day", "dli_mol_m2_d"], rows)


@garden_view(no_frost="light")
def had(request: Any, batch_id: int) -> HttpResponse:
    """The light of one batch against what it wants: for its own page."""
    batch = get_object_or_404(Batch, pk=batch_id, planting__season__garden=request.garden)
    now = load(request.garden, clock.today(request.garden), [batch.planting_id])
    lit = lights(now).get(batch.pk)
    item = now.item_of(batch.pk)
    if lit is None or item is None:
        return HttpResponse("")
    spot = now.rows.here(batch.pk)
    context = {
        "view": "light",
        "batch": batch,
        "drawn": judged(item, lit),
        "line": draw_day.had_svg(lit.dli.tolist(), lit.start, item, request.reader),
        "shelf": None if spot is None else spot.spot,
    }
    return render(request, "light/_had.html" if request.htmx else "light/had.html", context)
