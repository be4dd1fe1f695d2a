"""Kanuka Flat from its scenario: hundreds of plantings with histories that agree with the rules, made at once."""

from __future__ import annotations

import math
from datetime import date, timedelta
from typing import Any

import numpy as np
from django.db import transaction

from aestiva.accounts.models import User
from aestiva.gardens.models import Garden, Member
from aestiva.place.dating import Dating, dating_of
from aestiva.place.models import Frost
from aestiva.plan.actions import made
from aestiva.season.crops import how_of
from aestiva.season.models import Batch, BatchEvent, BatchStand, CellRun, Lot, Planting, Season, Spot, Tray, TrayStand
from demo.scenario import make_spots
from demo.simulation import put_weather
from demo.story import read, weather_of
from growing.care.steps import TRIM_AFTER_DAYS, TRIM_AGAIN_DAYS, TRIM_TO_CM, TRIMMED
from growing.chain.choice import Choice
from growing.chain.course import Facts, course
from growing.chain.dates import PlantingDates, date_planting
from growing.crops import Crop
from growing.emergence.steps import COUNT_EVERY_DAYS
from growing.emergence.thermal_time import emergence_days, share_coming, share_up
from growing.hardening.ladder import Ladder, ladders
from growing.seeds.shortfall import CHECK_X
from growing.seeds.sowing import Seed, SowingCount, count_for


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
    lots: dict[tuple[str, str], Lot] = {}
    for n in range(p["count"] if count is None else count):
        key = p["crops"][n % len(p["crops"])]
        term = "autumn" if key in p["autumn"] and n % 3 == 0 else "spring"
        found = _spread(dating, key, term, random)
        kind = n % len(p["crops"]), n // len(p["crops"]) % p["varieties"]
        variety = f"{p['first_names'][(kind[0] + 3 * kind[1]) % 10]} {p['last_names'][(kind[0] // 10 + kind[1]) % 10]}"
        lot = lots.get((key, variety))
        if lot is None and n % p["without_seed"]:
            colour = (
                p["colours"][(kind[0] + kind[1]) % len(p["colours"])]
                if dating.crops[key].word("yields") == "bloom"
                else ""
            )
            lot = Lot(
                garden=garden, crop_key=key, variety=variety, packed_year=garden.year, storage="cool", colour=colour
            )
            lots[key, variety] = lot
        plantings.append(
            Planting(
                season=season, crop_key=key, variety=variety, lot=lot, wanted=int(random.integers(8, 60)), term=term,
                spot=beds[n % len(beds)], chosen_sow=found.sow_on if found.sow_because == "chosen" else None, made=made(found),
            )
        )  # fmt: skip
        dates.append(found)
    Lot.objects.bulk_create(lots.values())
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
        how = how_of(planting, crop)
        seed = Seed(share_coming(crop, crop.number("germinate_c")))
        count = count_for(crop, planting.wanted, how, seed)
        batch = Batch(
            planting=planting,
            lot=planting.lot,
            sown_on=found.sow_on,
            sown_in=how.sown_in,
            cells=count.places,
            per_cell=count.per_cell,
            surplus=how.surplus,
        )
        batches.append(batch)
        history = _history(planting, crop, found, count, seed.mean, float(random.uniform(0.9, 1.2)), ladder, today)
        events += [BatchEvent(batch=batch, **event) for event in history]
        out = any(e["kind"] == "planted" for e in history)
        outings = sum(e["kind"] == "outing" for e in history)
        spot = planting.spot if out else frames[n % len(frames)] if outings >= 4 else shelves[n % len(shelves)]
        if out:
            stands.append(BatchStand(batch=batch, spot=spot, since=found.out_on))
            continue
        tray = Tray(garden=garden, code=f"T{len(trays) + 1}", cells=count.places)
        trays.append(tray)
        runs.append(CellRun(tray=tray, batch=batch, first=1, count=count.places, since=found.sow_on))
        tray_stands.append(TrayStand(tray=tray, spot=spot, since=found.sow_on))
    Batch.objects.bulk_create(batches, batch_size=500)
    BatchEvent.objects.bulk_create(events, batch_size=500)
    BatchStand.objects.bulk_create(stands, batch_size=500)
    Tray.objects.bulk_create(trays, batch_size=500)
    CellRun.objects.bulk_create(runs, batch_size=500)
    TrayStand.objects.bulk_create(tray_stands, batch_size=500)


def _history(
    planting: Planting,
    crop: Crop,
    dates: PlantingDates,
    count: SowingCount,
    share: float,
    slower: float,
    ladder: Ladder,
    today: date,
) -> list[dict[str, Any]]:
    """The events of one batch up to the day before today, as a good grower has written them down: each step on its day."""
    how = how_of(planting, crop)._replace(per_cell=count.per_cell)
    sow, sigma = dates.sow_on, crop.number("sigma")
    half = slower * emergence_days(crop, crop.number("germinate_c"))[0]
    coming = math.floor(count.seeds * share)
    up = lambda day: math.floor(coming * share_up((day - sow).days / half, sigma))  # noqa: E731
    events: list[dict[str, Any]] = [{"kind": "sown", "on": sow, "count": count.seeds}]
    facts = Facts(sow)
    look = course(crop, dates, ladder, facts, how).steps["look"].due
    counted = look
    counts: list[date] = []
    while facts.half_up is None and counted < today:
        counts.append(counted)
        facts = facts._replace(
            first_up=facts.first_up or (counted if up(counted) else None),
            half_up=counted if up(counted) >= coming / 2 else None,
        )
        counted += timedelta(days=COUNT_EVERY_DAYS)
    written = dict.fromkeys([*counts[:1], *counts[-1:]])  # the first look and the last count say it all
    events += [{"kind": "up", "on": on, "count": up(on)} for on in written]
    steps = course(crop, dates, ladder, facts, how).steps
    last = max(counted, sow + timedelta(days=math.ceil(CHECK_X * steps["up"].course.emergence_days)))
    if facts.half_up is not None and last < today:
        events.append({"kind": "up", "on": last, "count": coming})
    places = count.places if how.surplus == "thin" else coming
    for step, kind in (("lamp", "lamp"), ("lid", "lid"), ("thin", "thinned"), ("pot", "potted")):
        if step not in steps or (step != "lamp" and facts.half_up is None):
            continue
        over = {"count": max(0, coming - places), "estimated": True} if kind == "thinned" else {}
        events.append(
            {"kind": kind, "on": max(steps[step].due, last) if kind == "thinned" else steps[step].due, **over}
        )
    if crop.family == TRIMMED and facts.half_up is not None:
        trims = range(TRIM_AFTER_DAYS, (dates.out_on - facts.half_up).days, TRIM_AGAIN_DAYS)
        events += [
            {"kind": "trimmed", "on": facts.half_up + timedelta(days=n), "data": {"to_cm": TRIM_TO_CM}} for n in trims
        ]
    start = dates.out_on - timedelta(days=len(ladder.rungs))
    events += [
        {"kind": "outing", "on": start + timedelta(days=k), "hours": r.hours, "wanted_hours": r.hours}
        for k, r in enumerate(ladder.rungs)
    ]
    kept = min(coming, count.places) if how.surplus == "thin" else coming
    events.append({"kind": "planted", "on": dates.out_on, "count": min(max(planting.wanted, how.clump), kept)})
    spare = kept - min(planting.wanted, kept)
    if spare:
        events.append({"kind": "given", "on": dates.out_on + timedelta(days=1), "count": spare})
    return [e for e in sorted(events, key=lambda e: e["on"]) if e["on"] < today]
