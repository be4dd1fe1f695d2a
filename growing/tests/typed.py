"""Typed frost dates for any year of either hemisphere."""

from __future__ import annotations

from datetime import date, timedelta

from growing.place.frost import TypedDate, TypedFrost


def frost(year: int, southern: bool, day: int, spread: float) -> tuple[date, TypedFrost]:
    """The last frost `day` days after the earliest of these climates, the first one half as many later; both averages."""
    last = (date(year, 9, 1) if southern else date(year, 3, 1)) + timedelta(days=day)
    first = (date(year, 4, 1) if southern else date(year, 9, 10)) + timedelta(days=day // 2)
    spring, autumn = (TypedDate(d.month, d.day, "average", spread) for d in (last, first))
    return last, TypedFrost(southern, spring, autumn)
