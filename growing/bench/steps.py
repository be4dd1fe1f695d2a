"""At the bench: what is sown today, in how many cells?"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from growing.crops import Crop
from growing.emergence.thermal_time import share_coming
from growing.seeds.sowing import NoCount, Seed, SowingCount, cells_to_sow, seeds_for
from growing.steps import Raised, Task
from growing.working import Value, Working


def count_for(crop: Crop, wanted: int, sown_in: str, per_cell: int, seed: Seed | None = None) -> SowingCount:
    """Cells, blocks or seeds for so many plants; fresh seed at the crop's own warmth where no lot is known.

    Raises NoCount where no number would be enough.

    sown_in: "cells", "blocks", "box" (together, pricked out) or "place" (where they will grow).
    """
    if seed is None:
        coming = share_coming(crop, crop.number("germinate_c")).number
        assert isinstance(coming, int | float)
        seed = Seed(coming)
    survival = crop.number("survival")
    if sown_in in ("box", "place"):
        return seeds_for(wanted, seed, survival)
    return cells_to_sow(wanted, seed, survival, per_cell, unit=sown_in)


def tasks(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Sow on the chosen day: cells and seeds with their odds, and why that day.  Bought plants are ordered instead."""
    sow = one.dates.sow_on
    if one.facts.sown_on is not None or sow > until:
        return
    left = (one.dates.sow.end - today).days
    urgent = int(sow <= today and left < 7)
    method = one.dates.method
    if method == "bought":
        why = Working(
            "buy", (Value("plant out", one.dates.out_on),), (one.dates.workings["out_on"],), Value("buy", sow)
        )
        yield Task(f"{one.ref}.buy.{one.attempt}", "buy", sow, one.wanted, "plants", why, urgent)
        return
    late = "_late" if left < 0 else ""
    day = Value("days left", abs(left), "days")
    if method == "direct":
        why = Working(f"sow_direct{late}", (Value("sow", sow), day), (one.dates.workings["sow_on"],), Value("sow", sow))
        yield Task(f"{one.ref}.sow_direct.{one.attempt}", "sow_direct", sow, one.wanted, "plants", why, urgent)
        return
    try:
        count = count_for(one.crop, one.wanted, one.sown_in, one.per_cell, one.seed)
    except NoCount:
        yield _hopeless(one, urgent, late, day)
        return
    kind = "sow_box" if count.unit == "seeds" else "sow"
    inputs = (
        Value("sow", sow),
        day,
        Value("wanted", one.wanted, "plants"),
        Value("odds", count.odds, "share"),
        Value("seeds per cell", one.per_cell, "seeds"),
        Value("seeds", count.seeds, "seeds"),
    )
    why = Working(
        f"{kind}{late}",
        inputs,
        (one.dates.workings["sow_on"], count.working),
        Value("places", count.places, count.unit),
    )
    left_to_sow = max(0, count.places - one.secured)
    total = count.places if one.secured else None
    yield Task(f"{one.ref}.sow.{one.attempt}", "sow", sow, left_to_sow, count.unit, why, urgent, total)


def _hopeless(one: Raised, urgent: int, late: str, day: Value) -> Task:
    """A sowing without a count: this seed will hardly come."""
    sow = one.dates.sow_on
    coming = one.seed.mean if one.seed is not None else 0.0
    inputs = (
        Value("sow", sow),
        day,
        Value("wanted", one.wanted, "plants"),
        Value("emergence", coming, "share"),
        Value("seeds per cell", one.per_cell, "seeds"),
    )
    why = Working(f"sow_hopeless{late}", inputs, (one.dates.workings["sow_on"],), Value("sow", sow))
    return Task(f"{one.ref}.sow.{one.attempt}", "sow", sow, None, one.sown_in, why, urgent)
