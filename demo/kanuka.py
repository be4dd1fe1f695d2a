"""Kanuka Flat from its scenario: hundreds of plantings with histories that agree with the rules, made at once."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
from django.db import transaction

from aestiva.accounts.models import User
from aestiva.gardens.models import Garden, Member
from aestiva.place.dating import Dating, dating_of
from aestiva.place.models import Frost
from aestiva.plan.actions import made
from aestiva.season.models import Batch, BatchEvent, BatchStand, CellRun, Planting, Season, Spot, Tray, TrayStand
from demo.scenario import make_spots
from demo.simulation import put_weather
from demo.story import read, weather_of
from growing.chain.choice import Choice
from growing.chain.dates import PlantingDates, date_planting
from growing.emergence.thermal_time import emergence_days
from growing.hardening.ladder import Ladder, ladders


@transaction.atomic
def build(count: int | None = None) -> Garden:
    """The garden on its day with `count` plantings (the scenario's own number by default)."""
    data = read("kanuka_flat")
    g, p = data["garden"], data["plantings"]
    user = User.objects.filter(email=data["grower"]["email"]).first()
    if user is None:
        user = User.objects.create_user(data["grower"]["email"], data["grower"]["name"])
    plain = {k: v for k, v in g.items() if k != "today"}
    garden = Garden.objects.create(**plain, is_demo=True, simulated_on=g["today"])
    Member.objects.create(garden=garden, user=user, role="owner")
    Frost.objects.create(garden=garden, shift_c=data["station"]["shift_c"], **data["frost"])
    spots = make_spots(garden, data["spots"])
    season = Season.objects.create(garden=garden, year=garden.year)
    dating, random = dating_of(garden), np.random.default_rng(g["seed"])
    beds = [s for s in spots.values() if s.kind == "bed"]
    plantings, dates = [], []
    for n in range(p["count"] if count is None else count):
        key = p["crops"][n % len(p["crops"])]
        term = "autumn" if key in p["autumn"] and n % 3 == 0 else "spring"
        found = _spread(dating, key, term, random)
        variety = f"{p['first_names'][n % 10]} {p['last_names'][(n // 10) % 10]}"
        plantings.append(
            Planting(
                season=season, crop_key=key, variety=variety, wanted=int(random.integers(8, 60)), term=term,
                spot=beds[n % len(beds)], chosen_sow=found.sow_on if found.sow_because == "chosen" else None, made=made(found),
            )
        )  # fmt: skip
        dates.append(found)
    Planting.objects.bulk_create(plantings, batch_size=500)
    _raise(garden, plantings, dates, dating, spots, random)
    put_weather(garden, weather_of(data), g["today"])
    return garden


def _spread(dating: Dating, key: str, term: str, random: np.random.Generator) -> PlantingDates:
    """Dates of one planting, its sowing day anywhere in the window, on a sowing day where there is one."""
    crop = dating.crops[key]
    ideal = date_planting(crop, dating.place, Choice(term=term))
    width = max(1, (ideal.sow.end - ideal.sow.start).days)
    day = ideal.sow.start + timedelta(days=int(random.integers(0, width + 1)))
    free = [
        day + timedelta(days=k) for k in range(7) if (day + timedelta(days=k)).weekday() in dating.place.sowing_days
    ]
    chosen = free[0] if free and free[0] in ideal.sow else day
    return date_planting(crop, dating.place, Choice(term=term, sow_on=chosen))


def _raise(
    garden: Garden,
    plantings: list[Planting],
    dates: list[PlantingDates],
    dating: Dating,
    spots: dict[str, Spot],
    random: Any,
) -> None:
    """What has happened by the garden's day: batches, their events, where they stand."""
    today = garden.simulated_on
    assert today is not None
    ladder = ladders()[garden.ladder]
    shelves, frames = ([s for s in spots.values() if s.kind == k] for k in ("shelf", "frame"))
    batches: list[Batch] = []
    trays: list[Tray] = []
    events, stands, runs, tray_stands = [], [], [], []
    for n, (planting, found) in enumerate(zip(plantings, dates, strict=True)):
        if found.sow_on >= today:
            continue
        crop = dating.crops[planting.crop_key]
        cells, per_cell = round(planting.wanted * 1.4) + 2, int(crop.number("per_cell"))
        batch = Batch(planting=planting, sown_on=found.sow_on, cells=cells, per_cell=per_cell)
        batches.append(batch)
        days, _ = emergence_days(crop, crop.number("germinate_c"))
        history = _history(
            found, cells, per_cell, days * float(random.uniform(0.9, 1.2)), ladder, today, planting.wanted
        )
        events += [BatchEvent(batch=batch, **event) for event in history]
        out = any(e["kind"] == "planted" for e in history)
        outings = sum(e["kind"] == "outing" for e in history)
        spot = planting.spot if out else frames[n % len(frames)] if outings >= 4 else shelves[n % len(shelves)]
        if out:
            stands.append(BatchStand(batch=batch, spot=spot, since=found.out_on))
            continue
        tray = Tray(garden=garden, code=f"T{len(trays) + 1}", cells=cells)
        trays.append(tray)
        runs.append(CellRun(tray=tray, batch=batch, first=1, count=cells, since=found.sow_on))
        tray_stands.append(TrayStand(tray=tray, spot=spot, since=found.sow_on))
    Batch.objects.bulk_create(batches, batch_size=500)
    BatchEvent.objects.bulk_create(events, batch_size=500)
    BatchStand.objects.bulk_create(stands, batch_size=500)
    Tray.objects.bulk_create(trays, batch_size=500)
    CellRun.objects.bulk_create(runs, batch_size=500)
    TrayStand.objects.bulk_create(tray_stands, batch_size=500)


def _history(
    dates: PlantingDates, cells: int, per_cell: int, half: float, ladder: Ladder, today: date, wanted: int
) -> list[dict[str, Any]]:
    """The events of one batch up to the day before today, in the order of work."""
    sow, seeds = dates.sow_on, cells * per_cell
    up = min(seeds, round(seeds * 0.8))
    kept = min(up, cells)
    day = lambda after: sow + timedelta(days=round(after))  # noqa: E731
    events: list[dict[str, Any]] = [
        {"kind": "sown", "on": sow, "count": seeds},
        {"kind": "lamp", "on": day(3)},
        {"kind": "up", "on": day(half * 0.7), "count": round(up * 0.15)},
        {"kind": "up", "on": day(half * 1.05), "count": round(up * 0.65)},
        {"kind": "up", "on": day(half * 1.5), "count": up},
        {"kind": "lid", "on": day(half * 1.1)},
    ]
    if up > kept:
        events.append({"kind": "thinned", "on": day(half + 12), "count": up - kept, "estimated": True})
    start = dates.out_on - timedelta(days=len(ladder.rungs))
    events += [
        {"kind": "outing", "on": start + timedelta(days=k), "hours": r.hours, "wanted_hours": r.hours}
        for k, r in enumerate(ladder.rungs)
    ]
    events.append({"kind": "planted", "on": dates.out_on, "count": min(wanted, kept)})
    return [e for e in sorted(events, key=lambda e: e["on"]) if e["on"] < today]
