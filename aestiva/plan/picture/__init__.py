"""The season as one picture: the page is ground.

Sky: chance of frost; under it the soil as it warms and the length of the day.  A row a planting (`row.py`).
Plain strings from geometry; the parts that a page keeps in place, and the whole as one element.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from aestiva.frame.say import METRIC, Reader
from aestiva.plan.picture import axis
from aestiva.plan.picture.row import FurrowRow, drawn
from aestiva.plan.picture.scale import BESIDE, PHONE, WIDE, Frame, Scale, close_scale, season_scale
from growing.place.year import PlaceYear

__all__ = ["BESIDE", "PHONE", "STYLE", "WIDE", "Frame", "FurrowRow", "Scale", "close_scale", "scale_for", "season_svg"]

STYLE = """
text{font-family:"Atkinson Next",system-ui,sans-serif;fill:#22302a}
.n{font-size:13.5px;font-weight:600}.s{font-size:12px;fill:#56615a}.t{font-size:12px;font-weight:600}
.alarm{fill:#9d3524}.frost{fill:#173f59}.band{fill:#f4eee0}.clearband .band{fill-opacity:0}.axis{stroke:#ddd4c2}.soil{stroke:#6a4c36;opacity:.6}
.furrow{fill:#e2cfb4;stroke:#6a4c36;stroke-width:.8}.under{stroke:#6a4c36;stroke-width:2.2;stroke-dasharray:1.5 3}
.seed{fill:#fffdf8;stroke:#22302a;stroke-width:1.6}.sown{fill:#22302a}.up{fill:#8fb377}.potted{fill:#5f9150}
.light{fill:#f2c455}.pot{fill:#fffdf8;stroke:#22302a;stroke-width:1.2}.out{stroke:#22302a;stroke-width:1.6}
.head{fill:#22302a}.garden{fill:#cfe0c0;stroke:#47783a;stroke-width:.9}
.yield{stroke:#9c3f72;stroke-width:5;stroke-linecap:round;stroke-dasharray:.1 11}
.line{stroke:#3f7ea6;stroke-width:1.6}.dash{stroke:#3f7ea6;stroke-dasharray:2 3}.today{stroke:#ad3f2a;stroke-width:1.6}
.mark{fill:#fffdf8;stroke:#3f7ea6;stroke-width:2.4}.stayback,.grip{fill:none}
.bad{stroke:#9d3524;stroke-width:1.6;fill:none}.made{stroke:#56615a;stroke-width:1.3;fill:none;stroke-dasharray:4 3}
.away{fill:#6a4c36;opacity:.13}.warm0{fill:#e9e2d2}.warm1{fill:#e3cfa9}.warm2{fill:#d9b57c}.warm3{fill:#cf9a4d}
.warm4{fill:#8a5518}.warm-1{fill:#e3cfa9}.onwarm{font-size:12px;fill:#fff}
.handover{stroke:#6a4c36;stroke-width:2;fill:none}.stalk{stroke:#22302a;stroke-width:1.2;fill:none}.hit{fill:none}
"""


def scale_for(rows: Sequence[FurrowRow], place: PlaceYear, today: date, frame: Frame = WIDE) -> Scale:
    """The whole season of these rows."""
    spans = [(min(r.window.start, r.sow), r.last) for r in rows]
    return season_scale(spans, place, today, frame)


def ground(scale: Scale, until: date | None = None) -> str:
    """Where the shapes of a row may be: right of the names and not after `until`; in the measures of a row."""
    frame = scale.frame
    width = scale.drawn + 1 if until is None else scale.x(until) - frame.labels
    return f'<clipPath id="ground-{scale.key}"><rect x="{frame.labels}" y="-8" width="{width:.0f}" height="{frame.row + 16}"/></clipPath>'


def axis_svg(scale: Scale, place: PlaceYear, today: date, reader: Reader = METRIC) -> str:
    """What lies over the rows, as an element of its own that stays in place."""
    inside = axis.whole_axis(scale, place, today, reader)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {scale.frame.width} {axis.HEIGHT}" width="{scale.frame.width}"'
        f' height="{axis.HEIGHT}" class="season" aria-hidden="true">{inside}</svg>'
    )


def rows_svg(rows: Sequence[FurrowRow], scale: Scale, place: PlaceYear, today: date, until: date | None = None) -> str:
    """The rows as an element of its own; until: only what lies before that day."""
    height = len(rows) * scale.frame.row
    inside = [ground(scale, until), axis.grid(scale, 0, height)]
    inside += [drawn(row, scale, k * scale.frame.row, k % 2 == 0) for k, row in enumerate(rows)]
    inside.append(axis.over(scale, place, today, 0, height))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {scale.frame.width} {max(1, height)}" width="{scale.frame.width}"'
        f' height="{max(1, height)}" class="season rows" role="group" aria-label="The season in one picture; the same is in the list">'
        f"{''.join(inside)}</svg>"
    )


def season_svg(
    rows: Sequence[FurrowRow],
    place: PlaceYear,
    today: date,
    export: bool = False,
    frame: Frame = WIDE,
    scale: Scale | None = None,
    reader: Reader = METRIC,
    plain: bool = False,
    until: date | None = None,
) -> str:
    """The whole picture as one element; `export` embeds the style so that the file stands alone; plain: nothing can be operated."""
    scale = scale or scale_for(rows, place, today, frame)
    frame = scale.frame
    top = axis.PHONE_HEIGHT if frame.names_above else axis.HEIGHT
    bottom = top + len(rows) * frame.row
    height = bottom + 14
    parts = [ground(scale, until), axis.whole_axis(scale, place, today, reader)]
    parts.append(axis.grid(scale, top, bottom))
    parts += [drawn(row, scale, top + k * frame.row, k % 2 == 0, export or plain) for k, row in enumerate(rows)]
    parts.append(axis.over(scale, place, today, top, bottom))
    style = f"<style>{STYLE}</style>" if export else ""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {frame.width} {height}" width="{frame.width}" height="{height}"'
        f' class="season{" narrow" if frame.names_above else ""}" role="group"'
        f' aria-label="The season in one picture; the same is in the list">{style}{"".join(parts)}</svg>'
    )
