"""Ladders of many batches, gates and worth of many, and the door: against the least work that gives the same."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np

from measures.floors import bare_worth, day_limits
from measures.timing import compare, page_of_many, report

BATCHES, SPRINGS, DAYS = 400, 30, 14
TIMES = 12  # both, so that a run takes long enough to be timed
GATED = 2000
NIGHTS = 70


def hardening_400() -> bool:
    """The ladders of 400 batches over a fortnight of thirty springs, each with its own weather."""
    from growing.ladders.climbing import Climbers, LadderColumns, Sky, WindShelter, climb
    from growing.ladders.ladder import ladders

    chance = np.random.default_rng(1)
    known = list(ladders().values())
    ways = LadderColumns.of(known)
    warm = chance.normal(14, 5, (SPRINGS, DAYS))
    wind = np.abs(chance.normal(14, 9, (SPRINGS, DAYS)))
    numbers = (
        warm, warm - 9, chance.uniform(1.5, 3, warm.shape), chance.uniform(0, 1, warm.shape), wind, 1.6 * wind,
        chance.gamma(0.5, 4, warm.shape), chance.uniform(0, 0.4, warm.shape),
    )  # fmt: skip
    whole = lambda most: chance.integers(0, most, BATCHES)  # noqa: E731
    real = lambda low, high: chance.uniform(low, high, BATCHES)  # noqa: E731
    ladder = whole(len(known))
    who = Climbers(
        ladder, whole(3), whole(4), whole(2), whole(2), whole(2), whole(2), whole(5) - 1,
        real(4, 13), real(2, 10), real(-4, 2), real(0, 2), real(0.5, 1.6),
    )  # fmt: skip
    possible = np.repeat(np.stack([ways.hours, np.minimum(ways.hours, 10)])[:, :, None, :], DAYS, axis=2)
    limits = np.stack([real(0, 20) for _ in numbers])

    def ours() -> Any:
        for _ in range(TIMES):
            found = climb(ways, who, Sky(*numbers), WindShelter(0.4, True), possible)
        return found

    def floor() -> Any:
        for _ in range(TIMES):
            found = day_limits(np.stack(numbers), limits)
        return found

    ms, least = compare(ours, floor)
    note = f"{ms / TIMES:.2f} ms, one pass over the same {least / TIMES:.2f} ms"
    return report("hardening_400", ms / least, 12, note, ms / TIMES)


def _at_the_gates() -> tuple[Any, list[Any], list[Any]]:
    """A spring of the upland, and so many batches of the library's crops."""
    from demo.judge.climates import CLIMATES, place_year
    from growing.chain.ripening import LONGEST_DAYS, ends_at_c
    from growing.crops import library
    from growing.place.growth import NEVER
    from growing.place.nights import Night
    from growing.plantingout.gates import Asked, Bed
    from growing.plantingout.springs import springs
    from growing.plantingout.worth import Sort
    from growing.waiting import over_age

    place, today, chance = place_year(CLIMATES[0]), date(2026, 5, 5), np.random.default_rng(1)
    nights = tuple(Night(today + timedelta(days=n), 4.0 + n % 3, 0.4, 9.0, 15.0, 16.0) for n in range(8))
    years = springs(place, today, nights)
    crops = [c for c in library().values() if c.number("mature_min") + c.number("mature_max") < 2 * LONGEST_DAYS]
    sorts, asked = [], []
    for k in chance.integers(0, len(crops), GATED):
        c = crops[int(k)]
        growth, ends = place.growth(c.number("base_c"), c.number("std_c")), place.year_ends(ends_at_c(c))
        assert growth is not None and ends is not None
        usual = 0.0 if c.word("picked") == "once" else c.number("yield_days")
        mature = (c.number("mature_min") + c.number("mature_max")) / 2
        rungs = int(chance.integers(0, 8))
        sorts.append(
            Sort(
                c.number("damage_c"), c.hardiness, rungs / 7, c.maybe("chill_c"), c.number("soil_c"), growth, mature, float(chance.integers(-9, 9)),
                int(chance.integers(-5, 30)), over_age(c), usual, ends.clip(max=NEVER - 1), 430,
            )
        )  # fmt: skip
        leaves, risk = float(chance.integers(0, 9)), place.risk_for(c.hardiness)
        asked.append(
            Asked(c, today, rungs, 7, today, leaves, True, (9.0, 9.5, 8.0), nights[0], Bed("A"), risk, None, None, None)
        )
    return years, sorts, asked


def gates_2000() -> bool:
    """The gates of 2,000 batches, and the worth of each on every day of a fortnight over thirty springs."""
    from growing.plantingout.gates import Kept, gates
    from growing.plantingout.worth import worth

    years, sorts, asked = _at_the_gates()
    chance = np.random.default_rng(2)
    factors = [chance.uniform(0.5, 1, (GATED, DAYS, years.years)) for _ in range(3)]
    plant, harm = years.plant_c[:, :NIGHTS].copy(), np.array([s.harm_c for s in sorts])

    def ours() -> Any:
        kept: Kept = {}
        return [gates(one, years, kept) for one in asked], worth(sorts, years)

    ms, least = compare(ours, lambda: bare_worth(plant, harm, factors, DAYS))
    return report("gates_2000", ms / least, 8, f"{ms:.0f} ms, the bare sum {least:.0f} ms", ms)


def _door(count: int) -> tuple[Any, str]:
    """A garden with so many batches at the door today, ten of a sort; its client and the door's address."""
    from django.test import Client

    from aestiva.season.models import Batch, BatchEvent, CellRun, Planting, Spot, Tray, TrayStand
    from demo.kanuka import build
    from growing.ladders.ladder import ladders

    garden = build(12)
    today = garden.simulated_on
    assert today is not None
    sown, rungs = today - timedelta(days=50), ladders()["seven"].rungs
    plantings = list(Planting.objects.filter(season__garden=garden).order_by("pk")[:12])
    shelf = Spot.objects.create(garden=garden, kind="shelf", code="W1", length_cm=300, width_cm=60, clear_cm=50)
    Batch.objects.filter(planting__season__garden=garden).update(failed_on=sown)
    for n in range(count):
        of = plantings[n % 12]
        batch = Batch.objects.create(planting=of, lot=of.lot, sown_on=sown, cells=40, per_cell=1)
        BatchEvent.objects.create(batch=batch, kind="sown", on=sown, count=40)
        BatchEvent.objects.create(batch=batch, kind="up", on=sown + timedelta(days=9), count=36)
        for k in range(n % 5 + 1):
            day = today - timedelta(days=n % 5 + 1 - k)
            BatchEvent.objects.create(
                batch=batch, kind="outing", on=day, hours=rungs[k].hours, wanted_hours=rungs[k].hours
            )
        tray = Tray.objects.create(garden=garden, code=f"F{n}", cells=40)
        TrayStand.objects.create(tray=tray, spot=shelf, since=sown)
        CellRun.objects.create(tray=tray, batch=batch, first=1, count=40, since=sown)
    client = Client()
    client.force_login(garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    return client, f"/g/{garden.pk}/door/"


def door_page() -> bool:
    """The door with a hundred batches against the same page with one."""
    return page_of_many("door_page", "batch", _door(100), _door(1))
