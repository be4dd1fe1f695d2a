"""At the bench: what is sown today, in how many cells?"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import NamedTuple

from growing.crops import Crop
from growing.emergence.thermal_time import share_coming
from growing.seeds.sowing import NoCount, Seed, SowingCount, cells_to_sow, seeds_for
from growing.steps import Raised, StepSpec, Task
from growing.working import Value, Working

LAST_DAYS = 7  # of the window in which a sowing is urgent


class Sowing(NamedTuple):
    """What finishing a sowing must know: seeds in each cell."""

    per_cell: int


def count_for(crop: Crop, wanted: int, sown_in: str, per_cell: int, seed: Seed | None = None) -> SowingCount:
    """Cells, blocks or seeds for so many plants; fresh seed at the crop's own warmth where no lot is known.

    sown_in: "cells", "blocks", "box" (together, pricked out) or "place" (where they will grow).  Raises NoCount where no
    number would be enough.
    """
    if seed is None:
        seed = Seed(share_coming(crop, crop.number("germinate_c")))
    survival = crop.number("survival")
    if sown_in in ("box", "place"):
        return seeds_for(wanted, seed, survival)
    return cells_to_sow(wanted, seed, survival, per_cell, unit=sown_in)


def _buy(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Plants from elsewhere are fetched in time for the ladder, those that stood outdoors on the day they go out."""
    if one.dates.method != "bought" or one.facts.first("received") is not None or one.facts.planted_on is not None:
        return
    day = one.course.steps["harden"].due if one.hardens else one.dates.out_on
    if day > until:
        return
    rule = {"glass": "glass", "outdoors": "outdoors"}.get(one.stood, "unknown")
    out = (Value("plant out", one.dates.out_on), Value("ladder", one.ladder.name))
    why = Working(f"bench.buy_{rule}", out, (one.dates.workings["out_on"],), Value("buy", day))
    yield Task(f"{one.ref}.buy.{one.attempt}", BUY, day, one.wanted, "plants", why, _urgent(one, today))


def _sow_direct(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Sown where they will grow, on the chosen day."""
    if not _open(one, until) or one.dates.method != "direct":
        return
    sow, (late, left) = one.dates.sow_on, _window_left(one, today)
    why = Working(
        f"bench.sow_direct{late}", (Value("sow", sow), left), (one.dates.workings["sow_on"],), Value("sow", sow)
    )
    key = f"{one.ref}.sow_direct.{one.attempt}"
    yield Task(key, SOW_DIRECT, sow, one.wanted, "plants", why, _urgent(one, today))


def _sow(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Cells or seeds with their odds, and why that day; or a word that this seed will hardly come."""
    if not _open(one, until) or one.dates.method != "raised":
        return
    sow, (late, left) = one.dates.sow_on, _window_left(one, today)
    key, urgent, why_then = f"{one.ref}.sow.{one.attempt}", _urgent(one, today), one.dates.workings["sow_on"]
    wanted = (Value("sow", sow), left, Value("wanted", one.wanted, "plants"))
    each = Value("seeds per cell", one.per_cell, "seeds")
    try:
        count = count_for(one.crop, one.wanted, one.sown_in, one.per_cell, one.seed)
    except NoCount:
        coming = Value("emergence", one.seed.mean if one.seed is not None else 0.0, "share")
        why = Working(f"bench.sow_hopeless{late}", (*wanted, coming, each), (why_then,), Value("sow", sow))
        yield Task(key, SOW, sow, None, one.sown_in, why, urgent, detail=Sowing(one.per_cell))
        return
    rule = "sow_box" if count.unit == "seeds" else "sow"
    inputs = (*wanted, Value("odds", count.odds, "share"), each, Value("seeds", count.seeds, "seeds"))
    why = Working(f"bench.{rule}{late}", inputs, (why_then, count.working), Value("places", count.places, count.unit))
    yield Task(
        key,
        SOW,
        sow,
        max(0, count.places - one.secured),
        count.unit,
        why,
        urgent,
        count.places if one.secured else None,
        detail=Sowing(one.per_cell),
    )


def _open(one: Raised, until: date) -> bool:
    return one.facts.sown_on is None and one.dates.sow_on <= until


def _urgent(one: Raised, today: date) -> int:
    return int(one.dates.sow_on <= today and (one.dates.sow_closes - today).days < LAST_DAYS)


def _window_left(one: Raised, today: date) -> tuple[str, Value]:
    """The ending of the rule's name once the window is closed, and the days it has been, or is still, open."""
    left = (one.dates.sow_closes - today).days
    return "_late" if left < 0 else "", Value("days left", abs(left), "days")


BUY = StepSpec("buy", "table", _buy, minutes=15)
SOW_DIRECT = StepSpec("sow_direct", "garden", _sow_direct, minutes=10, each=0.2)
SOW = StepSpec("sow", "bench", _sow, minutes=5, each=0.5, parts=True)
STEPS = (BUY, SOW_DIRECT, SOW)
