"""Kanuka Flat from its scenario: hundreds of plantings that a good grower has looked after, made at once.

Nature says what came up and what died; the grower did each step on the day that the plan asks for it.
"""

from __future__ import annotations

import math
from datetime import date, timedelta
from typing import Any, NamedTuple

import numpy as np
from django.db import transaction

from aestiva.gardens.models import Garden, Member
from aestiva.place.dating import Dating, dating_of
from aestiva.place.models import Frost
from aestiva.plan.actions import made
from aestiva.season.crops import how_of
from aestiva.season.models import Batch, BatchEvent, BatchStand, CellRun, Lot, Planting, Season, Spot, Tray, TrayStand
from demo.history import DARK_DAYS, History
from demo.nature.kinds import kind
from demo.scenario import make_spots
from demo.station import simulate
from demo.story import grower, read, world_of
from demo.truth import Truth
from growing.care.steps import TRIM_AFTER_DAYS, TRIM_AGAIN_DAYS, TRIM_TO_CM, TRIMMED
from growing.chain.choice import Choice
from growing.chain.course import course
from growing.chain.dates import PlantingDates, date_planting
from growing.chain.happened import Facts
from growing.crops import Crop
from growing.ladders.ladder import Ladder, ladders
from growing.seeds.shortfall import CHECK_X
from growing.seeds.sowing import Seed, SowingCount, count_for
from growing.seeds.thermal_time import emergence_days, share_coming

COUNT_EVERY_DAYS = 2  # as its growers do


@transaction.atomic
def build(count: int | None = None) -> Garden:
    """The garden on its day with `count` plantings (the scenario's own number by default)."""
    data = read("kanuka_flat")
    g, p = data["garden"], data["plantings"]
    user = grower("kanuka_flat")
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
    simulate(garden, g["today"])
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
    sown = [(p, d) for p, d in zip(plantings, dates, strict=True) if d.sow_on < today]
    counts = [_count(dating.crops[p.crop_key], p) for p, _ in sown]
    spots_of = [(shelves[n % len(shelves)], frames[n % len(frames)]) for n in range(len(sown))]
    lived = [
        _planned(garden, n, planting, found, count, dating.crops[planting.crop_key], spots_of[n], ladder)
        for n, ((planting, found), count) in enumerate(zip(sown, counts, strict=True))
    ]
    truth = Truth(lived, world_of(garden), today)
    for n, ((planting, found), count) in enumerate(zip(sown, counts, strict=True)):
        crop = dating.crops[planting.crop_key]
        how = how_of(planting, crop)
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
        history = _history(planting, crop, found, count, Seen(truth, n), ladder, today)
        events += [BatchEvent(batch=batch, **event) for event in history]
        out = any(e["kind"] == "planted" for e in history)
        outings = sum(e["kind"] == "outing" for e in history)
        spot = planting.spot if out else spots_of[n][1] if outings >= 4 else spots_of[n][0]
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


class Seen(NamedTuple):
    """What the grower could see of one batch on the days that are past."""

    truth: Truth
    ref: int

    def up(self, on: date) -> int:
        """How many had come up."""
        return self.truth.up_on(self.ref, on)

    def share(self, on: date) -> float:
        """How many of those that had come up still lived."""
        return self.truth.living_on(self.ref, on) / max(1, self.up(on))


def _count(crop: Crop, planting: Planting) -> SowingCount:
    return count_for(
        crop, planting.wanted, how_of(planting, crop), Seed(share_coming(crop, crop.number("germinate_c")))
    )


def _planned(
    garden: Garden,
    n: int,
    planting: Planting,
    dates: PlantingDates,
    count: SowingCount,
    crop: Crop,
    spots: tuple[Spot, Spot],
    ladder: Ladder,
) -> History:
    """What will be done to a batch, as the plan has it: on its shelf, up the ladder, into the ground."""
    start, rungs = dates.out_on - timedelta(days=len(ladder.rungs)), ladder.rungs
    assert planting.spot is not None
    return History(
        n,
        f"{planting.crop_key}/{planting.variety}/{dates.sow_on}/{n}",
        kind(planting.crop_key, crop.hardiness),
        count.seeds,
        sown_on=dates.sow_on,
        lit_on=dates.sow_on + timedelta(days=DARK_DAYS),
        planted=dates.out_on,
        stands=[
            (dates.sow_on, spots[0].code),
            (start + timedelta(days=4), spots[1].code),
            (dates.out_on, planting.spot.code),
        ],
        outings={start + timedelta(days=k): (min(r.hours, 14.0), r.night) for k, r in enumerate(rungs)},
    )


def _history(
    planting: Planting, crop: Crop, dates: PlantingDates, count: SowingCount, seen: Seen, ladder: Ladder, today: date
) -> list[dict[str, Any]]:
    """The events of one batch up to the day before today, as a good grower has written them down: each step on its day."""
    how = how_of(planting, crop)._replace(per_cell=count.per_cell)
    sow, yesterday = dates.sow_on, today - timedelta(days=1)
    events: list[dict[str, Any]] = [{"kind": "sown", "on": sow, "count": count.seeds}]
    facts = Facts(sow)
    look = course(crop, dates, ladder, facts, how).steps["look"].due
    finished = sow + timedelta(days=math.ceil(CHECK_X * emergence_days(crop, crop.number("germinate_c"))[0]))
    before = min(today, dates.out_on)  # what is set out is not counted in its tray any more
    last = min(max(look, finished), before - timedelta(days=1))
    expected = max(1, math.floor(count.seeds * share_coming(crop, crop.number("germinate_c"))))
    counted, counts = look, list[date]()
    while facts.half_up is None and counted < before:
        counts.append(counted)
        up = seen.up(counted)
        facts = facts._replace(
            first_up=facts.first_up or (counted if up else None), half_up=counted if up >= expected / 2 else None
        )
        counted += timedelta(days=COUNT_EVERY_DAYS)
    written = sorted(
        {*counts[:1], *counts[-1:], *([max(last, counts[-1])] if counts and facts.half_up is not None else [])}
    )
    events += [{"kind": "up", "on": on, "count": seen.up(on)} for on in written]
    steps = course(crop, dates, ladder, facts, how).steps
    emerged = seen.up(written[-1]) if written else 0
    places = count.places if how.surplus == "thin" else emerged
    for step, kind_ in (("lamp", "lamp"), ("lid", "lid"), ("thin", "thinned"), ("pot", "potted")):
        if step not in steps or (step != "lamp" and facts.half_up is None):
            continue
        over = {"count": max(0, emerged - places), "estimated": True} if kind_ == "thinned" else {}
        on = max(steps[step].due, written[-1]) if kind_ == "thinned" else steps[step].due
        events.append({"kind": kind_, "on": on, **over})
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
    kept = min(emerged, places)
    look_on = min(dates.out_on, yesterday)
    if written and look_on > written[-1] and (died := kept - round(kept * seen.share(look_on))) > 0:
        kept -= died
        events.append({"kind": "died", "on": look_on, "count": died})
    if kept:
        events.append({"kind": "planted", "on": dates.out_on, "count": min(max(planting.wanted, how.clump), kept)})
    if (spare := kept - min(planting.wanted, kept)) > 0:
        events.append({"kind": "given", "on": dates.out_on + timedelta(days=1), "count": spare})
    order = {"died": 1, "planted": 2}
    return [e for e in sorted(events, key=lambda e: (e["on"], order.get(e["kind"], 0))) if e["on"] < today]
