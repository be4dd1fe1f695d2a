"""The beds as files and on paper."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.beds import picture, queries
from aestiva.beds.views import colours_of, week_of
from aestiva.frame.files import csv_response
from aestiva.gardens.access import garden_view
from growing.place.kinds import SOIL


@garden_view(no_frost="beds")
def plan_svg(request: Any) -> HttpResponse:
    """The plan as an SVG file that stands alone."""
    on, plot = queries.standing(request.garden), queries.plot_of(request.garden)
    week = week_of(request, queries.weeks(on.dating))
    svg = picture.plot_svg(
        plot, queries.ground(request.garden), queries.laid_out(request.garden, on), week, colours_of(request), {}
    )
    style = (
        "<style>text{font-family:system-ui,sans-serif;fill:#22302a;font-size:13px}.grid{stroke:#ddd4c2;stroke-width:.7;fill:none}"
        ".lawn{fill:#f0eee0}.soil{fill:#e8dcc6;stroke:#6a4c36}.path{fill:#ddd4c2}"
        ".slip{fill:#fffdf8;stroke:#b79b7f}.plants{stroke:#22302a}.north path{fill:#22302a}</style>"
    )
    svg = svg.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1).replace(">", f">{style}", 1)
    response = HttpResponse(svg, content_type="image/svg+xml")
    response["Content-Disposition"] = 'attachment; filename="beds.svg"'
    return response


@garden_view(no_frost="beds")
def beds_csv(request: Any) -> HttpResponse:
    on = queries.standing(request.garden)
    laid = queries.laid_out(request.garden, on)
    rows = [
        (
            spot.code, one.crop.name, one.planting.variety, one.rect.x, one.rect.y, one.rect.length, one.rect.width,
            one.row.pattern, one.spacing, one.plants, one.planting.wanted, one.standing.since.isoformat(), one.standing.until.isoformat(),
        )
        for spot in queries.ground(request.garden)
        for one in laid.get(spot.pk, [])
    ]  # fmt: skip
    columns = (
        "bed", "crop", "variety", "from left cm", "from above cm", "length cm", "width cm", "set out", "distance cm", "fit",
        "wanted", "from", "until",
    )  # fmt: skip
    return csv_response("beds.csv", columns, rows)


@garden_view(no_frost="beds")
def print_sheet(request: Any) -> HttpResponse:
    """The plan to scale on paper: 1 to 50 where that goes on a sheet, otherwise 1 to 100 or 200."""
    on, plot = queries.standing(request.garden), queries.plot_of(request.garden)
    spots, laid = queries.ground(request.garden), queries.laid_out(request.garden, on)
    week = week_of(request, queries.weeks(on.dating))
    scale = next(
        (s for s in (20, 50, 100, 200) if plot.width_cm * 10 / s <= 270 and plot.height_cm * 10 / s <= 180), 500
    )
    size = (f"{plot.width_cm * 10 / scale:.1f}mm", f"{plot.height_cm * 10 / scale:.1f}mm")
    context = {
        "view": "beds",
        "picture": picture.plot_svg(plot, spots, laid, week, colours_of(request), {}, size),
        "scale": scale,
        "week": week,
        "rows": [(s, laid.get(s.pk, [])) for s in spots if s.kind in SOIL],
    }
    return render(request, "beds/print.html", context)
