"""In the garden: plant out; and over the nights ahead, what to carry in or cover."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.place.nights import AtPlant, Night, at_plant, chance_below
from growing.steps import Raised, StepSpec, Task
from growing.working import Value, Working

OUTDOORS = ("porch", "frame", "tunnel", "bed")
WATCH_NIGHTS = 7


def limit_c(one: Raised) -> Value:
    """The temperature at the plant it must not meet: damage once hardened, the night limit while on the ladder."""
    hardened = one.facts.planted_on is not None or (one.hardened is not None and one.hardened.rung is None)
    return one.crop.values["damage_c" if hardened else "night_out_c"]


def _plant(one: Raised, today: date, until: date) -> Iterator[Task]:
    """On its day, or once hardened; what is left of the plants wanted."""
    method, due, remaining = one.dates.method, one.dates.out_on, one.plants
    ready = method == "bought" or (method == "raised" and one.facts.sown_on is not None)
    if not ready or one.facts.planted_on is not None or remaining == 0 or due > until:
        return
    why = one.course.steps["out"].working
    planted = one.accounts.planted if one.accounts else 0
    left = one.wanted - planted
    count = left if remaining is None else min(left, remaining)
    if count > 0:
        total = one.wanted if planted else None
        yield Task(f"{one.ref}.plant.0", PLANT, due, count, "plants", why, int(due < today), total)


def watch(one: Raised, today: date, until: date) -> Iterator[Task]:
    """A task for each coming night in which the chance of harm to what stands outdoors is over the accepted risk."""
    outside = one.accounts.outdoors if one.accounts and one.stands == "bed" else one.plants
    if not outside or one.stands not in OUTDOORS:
        return
    limit, celsius = limit_c(one), one.crop.number(limit_c(one).name)
    for night in one.nights:
        if not today <= night.day <= min(until, today + timedelta(days=WATCH_NIGHTS - 1)):
            continue
        plant = at_plant(night, today, one.shift_c)
        chance = chance_below(plant, celsius)
        if chance < one.accepted_risk:
            continue
        spec = COVER if one.stands == "bed" else CARRY_IN
        why = _working(night, plant, limit, chance, one.accepted_risk)
        key, urgent = f"{one.ref}.watch.{night.day.isoformat()}", 2 if night.day == today else 0
        yield Task(key, spec, night.day, outside, "plants", why, urgent, errand=(night.day,))


def _working(night: Night, plant: AtPlant, limit: Value, chance: float, risk: float) -> Working:
    inputs = (
        Value("night", night.day),
        Value("at the plant", plant.celsius, "°C"),
        Value("error", plant.error_c, "Δ°C"),
        limit,
        Value("chance", chance, "share"),
        Value("accepted risk", risk, "share", "garden"),
    )
    return Working("plantingout.frost_watch", inputs, (plant.working,), Value("chance", chance, "share"))


def _with_cover(one: Raised, today: date, until: date) -> Iterator[Task]:
    """What is carried in is found by the same watch as what is covered."""
    return iter(())


PLANT = StepSpec("plant", "garden", _plant, minutes=10, each=1.0, parts=True)
COVER = StepSpec("cover", "garden", watch, minutes=5, each=0.05, errand=True, daily=True, key="watch")
CARRY_IN = StepSpec("carry_in", "door", _with_cover, minutes=3, each=0.03, errand=True, daily=True, key="watch")
STEPS = (PLANT, COVER, CARRY_IN)
