"""In the garden: plant out; and over the nights ahead, what to carry in or cover."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta
from functools import partial
from typing import NamedTuple

from growing.assumptions import shown, whole
from growing.batch.facts import BatchFacts
from growing.batch.harm import Harm, harm, struck
from growing.place.covers import OPEN_FROM_C
from growing.place.nights import AtPlant, Night, at_plant, chance_below
from growing.plantingout.gates import HOT_C, HOT_COOL_C, WINDY_KMH
from growing.steps import StepSpec, Task
from growing.waiting import cost, harvest_day, lost, of_age
from growing.working import Value, Working

WATCH_NIGHTS = 7
SPARE_DAYS = whole("plantingout.steps.SPARE_DAYS")


class Clumps(NamedTuple):
    """What planting clumps must know: how many are still to be set out, wanted or not, and how many plants each is to hold."""

    there: int
    plants: int


def _plant(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """On its day, or once hardened; what is left of the plants wanted."""
    method, due, remaining = one.dates.method, one.dates.out_on, one.plants
    ready = (one.growing and method != "direct") or (method == "bought" and not one.hardens)
    if not ready or one.facts.planted_on is not None or remaining == 0 or due > until:
        return
    why = _day_speaks(one, today, due) or one.course.steps["out"].working
    planted = one.accounts.planted if one.accounts else 0
    left, wanted = one.wanted - planted, one.wanted
    count, unit, detail = left if remaining is None else min(left, remaining), "plants", None
    if count <= 0:
        return
    if one.clumps is not None and one.cells is not None:
        wanted, unit, detail = one.how.need(wanted), "clumps", Clumps(one.clumps, one.how.clump)
        count = min(one.clumps, max(1, wanted - (one.cells - one.clumps)))
    total = wanted if planted else None
    yield Task(PLANT.key_of(one.ref, 0), PLANT, due, count, unit, why, int(due < today), total, detail=detail)


def _spare(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """What is left once all that were wanted are out: kept a week for gaps, then given a home.

    So is what nobody waits for, because other sowings give all that were wanted, counted from its own planting out."""
    left = one.accounts.indoors if one.accounts else None
    if not left or one.accounts is None:
        return
    since, rule = one.facts.planted_on, "spare"
    if one.wanted == 0 and one.growing:
        since, rule = (
            (one.facts.split_on, "spare_beyond") if one.facts.split_on else (one.dates.out_on, "spare_unwanted")
        )
    if since is None or (due := since + timedelta(days=SPARE_DAYS)) > until:
        return
    inputs = (
        Value("planted", one.accounts.planted, "plants"),
        Value("wanted", one.wanted, "plants"),
        Value("planted on", since),
        shown("kept", "plantingout.steps.SPARE_DAYS"),
    )
    why = Working(f"plantingout.{rule}", inputs, (), Value("left", left, "plants"))
    yield Task(SPARE.key_of(one.ref, 0), SPARE, due, left, "plants", why)


def _day_speaks(one: BatchFacts, today: date, due: date) -> Working | None:
    """Why they had better wait, or go in the evening, on a day that is due: a night that harms, wind, heat; None on a good day."""
    night = one.night(today)
    if night is None or due > today:
        return None
    found = struck(one, night, today)
    hot = HOT_COOL_C if one.crop.hardiness == "hardy" else HOT_C
    if found.cold:
        said, rule = found.inputs, "cold"
    elif night.wind_kmh is not None and night.wind_kmh > WINDY_KMH:
        said, rule = (
            (Value("wind", night.wind_kmh, "km/h", "forecast"), shown("limit", "plantingout.gates.WINDY_KMH")),
            "wind",
        )
    elif night.tmax_c is not None and night.tmax_c > hot:
        said, rule = (Value("warmest", night.tmax_c, "°C", "forecast"), Value("limit", hot, "°C", "estimate")), "hot"
    else:
        return None
    steps = (one.course.steps["out"].working, *((found.plant.working,) if rule == "cold" else ()))
    return Working(f"plantingout.{rule}", said, steps, Value("plant out", due))


def watch(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """A task for each coming night that comes near what harms what stands outdoors, its shelter counted: what is planted in
    the open, and what stands under cover or was left out."""
    yield from _cover(one, today, until)
    yield from _carry_in(one, today, until)


def _cover(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """In the bed: those planted out and not lost."""
    if one.accounts is not None and one.accounts.outdoors:
        yield from _watched(one, COVER, one.accounts.outdoors, one.grows_in or "bed", today, until)


def _carry_in(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """In pots outdoors: those still to be planted, and those over; without a number where nobody has seen any of them up."""
    if one.outdoors_in and one.plants:
        yield from _watched(one, CARRY_IN, one.plants_seen or None, one.outdoors_in, today, until)


def _watched(
    one: BatchFacts, spec: StepSpec, outside: int | None, shelter: str, today: date, until: date
) -> Iterator[Task]:
    limit = harm(one)
    for night in one.nights:
        if not today <= night.day <= min(until, today + timedelta(days=WATCH_NIGHTS - 1)):
            continue
        plant = at_plant(night, today, one.shift_c, shelter)
        if plant.celsius > limit.told_c:
            continue
        why = _working(one, night, plant, limit)
        key = spec.key_of(one.ref, night.day.isoformat())
        urgent = 2 if night.day == today else 0
        yield Task(key, spec, night.day, outside, "plants", why, urgent, errand=(night.day,))


def _uncover(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """What was covered for a night is uncovered in the morning."""
    covered = one.facts.days.get("covered", ())
    off = one.facts.days.get("uncovered", ())
    if not covered or (off and off[-1] > covered[-1]) or (off and off[-1] == covered[-1] and len(off) >= len(covered)):
        return
    outside = one.accounts.outdoors if one.accounts is not None else 0
    due = covered[-1] + timedelta(days=1)
    if not outside or due > until:
        return
    night = one.night(max(due, today))
    inputs = (
        Value("covered on", covered[-1]),
        Value("warmest", None if night is None else night.tmax_c, "°C", "forecast"),
        Value("off from", OPEN_FROM_C, "°C", "working"),
    )
    why = Working("plantingout.uncover", inputs, (), Value("uncover", due))
    key = UNCOVER.key_of(one.ref, due.isoformat())
    yield Task(key, UNCOVER, due, outside, "plants", why, int(due <= today), errand=(due,))


def _working(one: BatchFacts, night: Night, plant: AtPlant, limit: Harm) -> Working:
    chance = chance_below(plant, limit.told_c)
    inputs = (
        Value("night", night.day),
        Value("at the plant", plant.celsius, "°C"),
        Value("error", plant.error_c, "Δ°C"),
        one.crop.values["damage_c"],
        Value("hardened", limit.hardened, "share"),
        Value("harm", limit.harm_c, "°C", "working"),
        *([] if limit.chill_c is None else [one.crop.values["chill_c"]]),
        Value("warned from", limit.told_c, "°C", "working"),
        Value("chance", chance, "share"),
    )
    return Working("plantingout.frost_watch", inputs, (plant.working,), Value("chance", chance, "share"))


def _plant_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Past the age limit of what they are in, plants of them a day; past the window a harvest day besides."""
    aged = of_age("plantingout.waits_age", one, one.dates.hold_until, today)
    late, values = harvest_day(one)
    over = today >= one.dates.out.end
    inputs = (*values, Value("window until", one.dates.out.end), Value("by age", lost(aged), "plants"))
    return cost("plantingout.waits_plant", inputs, lost(aged) + (late if over else 0.0), (aged,))


def _night_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Tonight's share of them, by the forecast; a later night can wait until its day."""
    night, count = one.night(task.due), task.count or 0
    if night is None:
        return cost("plantingout.waits_night", (Value("plants", count, "plants"),), 0.0)
    shelter = one.outdoors_in if task.kind == CARRY_IN.kind else one.grows_in or "bed"
    found = struck(one, night, today, shelter)
    at, limit = found.inputs
    inputs = (
        Value("plants", count, "plants"),
        Value("night", task.due),
        at,
        Value("error", found.plant.error_c, "Δ°C"),
        limit,
        Value("share lost", found.share, "share", "estimate"),
    )
    return cost("plantingout.waits_night", inputs, count * found.share if task.due <= today else 0.0)


PLANT = StepSpec("plant", "garden", _plant, minutes=10, each=1.0, parts=True, waits=_plant_waits, of="out")
TONIGHT = partial(StepSpec, errand=True, daily=True, alarm=True, waits=_night_waits)
COVER = TONIGHT("cover", "garden", _cover, minutes=5, each=0.05, key="watch")
CARRY_IN = TONIGHT("carry_in", "door", _carry_in, minutes=3, each=0.03)
UNCOVER = StepSpec("uncover", "garden", _uncover, minutes=4, each=0.03, errand=True, daily=True)
SPARE = StepSpec("spare", "bench", _spare, minutes=5, parts=True)
STEPS = (PLANT, UNCOVER, COVER, CARRY_IN, SPARE)
