"""At the door: what goes out today, for how long, or why it stays in."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta
from typing import NamedTuple

from growing.hardening.ladder import MOST_WIND_KMH
from growing.place.nights import Night
from growing.steps import Raised, StepSpec, Task
from growing.working import Value, Working


class Outdoors(NamedTuple):
    """What finishing an outing must know: the hours its rung asks for."""

    hours: float


def _harden(one: Raised, today: date, until: date) -> Iterator[Task]:
    """The rung for today while the ladder runs, unless the weather is too harsh for it; later rungs on the days after."""
    facts, step, place = one.facts, one.course.steps.get("harden"), one.hardened
    if not one.growing or step is None or place is None or place.rung is None:
        return
    begins = max(step.due, today) if facts.outings or step.due < today else step.due
    if facts.outings and facts.outings[-1].day == today:
        begins = today + timedelta(days=1)
    for ahead, number in enumerate(range(place.climbed, len(one.ladder.rungs))):
        day = begins + timedelta(days=ahead)
        if day > until:
            return
        yield _outing(one, number, day, ahead, int(day <= today))


def _outing(one: Raised, number: int, day: date, ahead: int, urgent: int) -> Task:
    """One rung on one day."""
    assert one.hardened is not None
    rung, night = one.ladder.rungs[number], next((n for n in one.nights if n.day == day), None)
    inputs = [
        Value("rung", number + 1),
        Value("rungs", len(one.ladder.rungs)),
        Value("hours", rung.hours, "h"),
        Value("shelter", rung.shelter),
        Value("ladder", one.ladder.name),
        Value("plant out", one.dates.out_on),
        Value("missed", one.hardened.missed if ahead == 0 else 0, "days"),
    ]
    if night is not None:
        inputs += [
            Value("warmest", night.tmax_c, "°C", "forecast"),
            Value("wind", night.wind_kmh, "km/h", "forecast"),
        ]
    rule, limit = _too_harsh(one, night)
    spec, errand = (HARDEN, (day, number)) if limit is None else (STAY_IN, (day, rule, limit.number))
    why = Working(
        f"hardening.{rule}",
        (*inputs, *([] if limit is None else [limit])),
        (one.hardened.working,),
        Value("hours", rung.hours, "h"),
    )
    key = f"{one.ref}.harden.{len(one.facts.outings) + ahead + 1}"
    return Task(key, spec, day, one.plants, "plants", why, urgent, errand=errand, detail=Outdoors(rung.hours))


def _too_harsh(one: Raised, night: Night | None) -> tuple[str, Value | None]:
    """What the outing is by that day's weather, and the limit that forbids it, if any: too cold, or too windy."""
    if night is not None:
        coldest = one.crop.number("day_out_c")
        if night.tmax_c is not None and night.tmax_c < coldest:
            return "too_cold", Value("limit", coldest, "°C", one.crop.values["day_out_c"].source)
        if night.wind_kmh is not None and night.wind_kmh > MOST_WIND_KMH:
            return "too_windy", Value("limit", MOST_WIND_KMH, "km/h", "estimate")
    return "outing", None


def _with_harden(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Days indoors are found with the outings they replace."""
    return iter(())


HARDEN = StepSpec("harden", "door", _harden, minutes=3, each=0.03, errand=True, daily=True)
STAY_IN = StepSpec("stay_in", "door", _with_harden, errand=True, daily=True, put_off=True, key="harden")
STEPS = (HARDEN, STAY_IN)
