"""At the door: what goes out today, for how long, or why it stays in."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.hardening.ladder import MOST_WIND_KMH
from growing.place.nights import Night
from growing.steps import Raised, Task
from growing.working import Value, Working


def tasks(one: Raised, today: date, until: date) -> Iterator[Task]:
    """The rung for today while the ladder runs; later rungs on the days after it."""
    facts, step = one.facts, one.course.steps.get("harden")
    if facts.sown_on is None or facts.planted_on is not None or step is None or one.hardened is None or one.plants == 0:
        return
    place = one.hardened
    if place.rung is None:
        return
    begins = max(step.due, today) if facts.outings or step.due < today else step.due
    if facts.outings and facts.outings[-1].day == today:
        begins = today + timedelta(days=1)
    for ahead, number in enumerate(range(place.climbed, len(one.ladder.rungs))):
        day = begins + timedelta(days=ahead)
        if day > until:
            return
        rung = one.ladder.rungs[number]
        inputs = (
            Value("rung", number + 1),
            Value("rungs", len(one.ladder.rungs)),
            Value("hours", rung.hours, "h"),
            Value("shelter", rung.shelter),
            Value("ladder", one.ladder.name),
            Value("plant out", one.dates.out_on),
            Value("missed", place.missed if ahead == 0 else 0, "days"),
        )
        night = next((n for n in one.nights if n.day == day), None)
        reason = _too_harsh(one, night)
        kind = "stay_in" if reason else "harden"
        weather = (
            ()
            if night is None
            else (
                Value("warmest", night.tmax_c, "°C", "forecast"),
                Value("wind", night.wind_kmh, "km/h", "forecast"),
            )
        )
        why = Working(kind, (*inputs, *weather, *reason), (place.working,), Value("hours", rung.hours, "h"))
        yield Task(
            f"{one.ref}.harden.{len(facts.outings) + ahead + 1}",
            kind,
            day,
            one.plants,
            "plants",
            why,
            int(day <= today),
        )


def _too_harsh(one: Raised, night: Night | None) -> tuple[Value, ...]:
    """The limit that forbids an outing that day, if any: too cold by day, or too windy."""
    if night is None:
        return ()
    coldest = one.crop.values["day_out_c"]
    if night.tmax_c is not None and night.tmax_c < one.crop.number("day_out_c"):
        return (Value("limit", coldest.number, "°C", "cold"),)
    if night.wind_kmh is not None and night.wind_kmh > MOST_WIND_KMH:
        return (Value("limit", MOST_WIND_KMH, "km/h", "wind"),)
    return ()
