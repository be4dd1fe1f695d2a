"""When might the first autumn frost come, where nobody knows?  The usual distance for the latitude: a guess, and said so."""

from __future__ import annotations

from datetime import date, timedelta

from growing.assumptions import real

USUAL_AT_DEGREES = real("place.guess.USUAL_AT_DEGREES")
USUAL_DAYS = real("place.guess.USUAL_DAYS")
DAYS_PER_DEGREE = real("place.guess.DAYS_PER_DEGREE")
SHORTEST_DAYS, LONGEST_DAYS = 60, 320


def usual_first_frost(latitude: float, last_frost: date) -> date:
    """A first autumn frost at the usual distance from the last one of spring: an estimate by latitude alone."""
    days = USUAL_DAYS + (USUAL_AT_DEGREES - abs(latitude)) * DAYS_PER_DEGREE
    return last_frost + timedelta(days=round(min(LONGEST_DAYS, max(SHORTEST_DAYS, days))))
