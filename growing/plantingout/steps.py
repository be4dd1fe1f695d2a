"""In the garden: plant out; and over the nights ahead, what to carry in or cover."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.place.nights import AtPlant, Night, at_plant, chance_below
from growing.steps import Raised, Task
from growing.working import Value, Working

OUTDOORS = ("porch", "frame", "tunnel", "bed")
WATCH_NIGHTS = 7


def limit_c(one: Raised) -> Value:
    """The temperature at the plant it must not meet: damage once hardened, the night limit while on the ladder."""
    hardened = one.facts.planted_on is not None or (one.hardened is not None and one.hardened.rung is None)
    return one.crop.values["damage_c" if hardened else "night_out_c"]


def tasks(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Plant out on its day, or once hardened; and the frost watch over the coming week for what stands outdoors."""
    task = _plant(one, today)
    if task is not None and task.due <= until:
        yield task
    if one.stands in OUTDOORS:
        yield from watch(one, today, until)


def _plant(one: Raised, today: date) -> Task | None:
    method, due, remaining = one.dates.method, one.dates.out_on, one.plants
    ready = method == "bought" or (method == "raised" and one.facts.sown_on is not None)
    if not ready or one.facts.planted_on is not None or remaining == 0:
        return None
    why = one.course.steps["out"].working
    planted = one.accounts.planted if one.accounts else 0
    left = one.wanted - planted
    count = left if remaining is None else min(left, remaining)
    if count <= 0:
        return None
    return Task(
        f"{one.ref}.plant.0", "plant", due, count, "plants", why, int(due < today), one.wanted if planted else None
    )


def watch(one: Raised, today: date, until: date) -> Iterator[Task]:
    """A task for each coming night in which the chance of harm is over the accepted risk."""
    outside = one.accounts.outdoors if one.accounts and one.stands == "bed" else one.plants
    if not outside:
        return
    limit = limit_c(one)
    for night in one.nights:
        if not today <= night.day <= min(until, today + timedelta(days=WATCH_NIGHTS - 1)):
            continue
        plant = at_plant(night, today, one.shift_c)
        assert isinstance(limit.number, int | float)
        chance = chance_below(plant, limit.number)
        if chance < one.accepted_risk:
            continue
        kind = "cover" if one.stands == "bed" else "carry_in"
        why = _working(night, plant, limit, chance, one.accepted_risk)
        key = f"{one.ref}.watch.{night.day.isoformat()}"
        yield Task(key, kind, night.day, outside, "plants", why, 2 if night.day == today else 0)


def _working(night: Night, plant: AtPlant, limit: Value, chance: float, risk: float) -> Working:
    inputs = (
        Value("night", night.day),
        Value("at the plant", plant.celsius, "°C"),
        Value("error", plant.error_c, "Δ°C"),
        limit,
        Value("chance", chance, "share"),
        Value("accepted risk", risk, "share", "garden"),
    )
    return Working("frost_watch", inputs, (plant.working,), Value("chance", chance, "share"))
