"""What would move in the plan if something else were otherwise."""

from __future__ import annotations

from datetime import date

from aestiva.course.state import load
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import Effect
from growing.place.year import PlaceYear


def moved_by(garden: Garden, today: date, here: PlaceYear, ahead: PlaceYear) -> list[Effect]:
    """What would move in the plan if the place were another: planting out that has not happened, and its window."""
    now = load(garden, today, place=here)
    before = {i.raised.ref: i for i in now.items}
    found = []
    for item in load(garden, today, place=ahead, like=now, rows=now.rows).items:
        if item.raised.facts.planted_on is not None or item.raised.ref not in before:
            continue
        old, new = before[item.raised.ref].raised.dates, item.raised.dates
        name = item.full_name
        for step, a, b in (
            ("plant out", old.out_on, new.out_on),
            ("may go out from", old.out.start, new.out.start),
            ("may go out until", old.out.end, new.out.end),
        ):
            if a != b:
                found.append(Effect(name, step, a, b))
                break  # the day says it; the window only where the day stays
    return found
