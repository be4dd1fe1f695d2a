"""The demo's garden from its scenario file: rows first, then the season lived day by day."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
from django.db import transaction

from aestiva.accounts.models import User
from aestiva.beds.models import Plot, Use
from aestiva.beds.queries import free_in, laid_out, standing
from aestiva.bench.models import Recipe, Store
from aestiva.gardens.models import Garden, Member
from aestiva.place.actions import merge
from aestiva.place.dating import dating_of
from aestiva.place.models import Frost, GardenNight, SoilReading, Station
from aestiva.place.queries import estimated_shift, record_of
from aestiva.plan import actions
from aestiva.plan.models import Price
from aestiva.season.models import (
    Absence,
    BedArea,
    Container,
    CropValue,
    Lamp,
    LampSetting,
    LightReading,
    Lot,
    Planting,
    Season,
    Spot,
    Tariff,
)
from aestiva.seeds.models import SeedTest
from demo import kept
from demo.bench import named_places, scenes
from demo.door import at_the_door
from demo.hands import Habit, live_day
from demo.station import simulate
from demo.story import grower, read, record
from growing.chain.raising import raising_of
from growing.crops import library
from growing.place.computedwarmth import ComputedWarmth
from growing.place.soil import MORNING_C
from growing.place.station import Weather
from growing.seeds.packetfacts import packet_facts
from growing.seeds.packettext import read_packet
from growing.shelves.containers import containers

LIVED_HERE = 3  # days before its day that are lived where it comes in: what was done on them can be taken back


@transaction.atomic
def build(name: str = "quarry_lane") -> Garden:
    """The garden on its day: as it was kept a few days before, and those lived here."""
    return _to_its_day(kept.brought_in(name), read(name))


@transaction.atomic
def anew(name: str = "quarry_lane", until: date | None = None) -> Garden:
    """A new garden as the scenario has it: rows first, then lived from its first day to its day (or `until`)."""
    data, user = read(name), grower(name)
    plain = {k: v for k, v in data["garden"].items() if k not in ("begins", "today")}
    garden = Garden.objects.create(**plain, is_demo=True, simulated_on=data["garden"]["begins"])
    Member.objects.create(garden=garden, user=user, role="owner")
    _place(garden, data, record(name))
    spots = make_spots(garden, data["spots"])
    furnish(garden, spots, data)
    light(spots, garden, data)
    _own(garden, data["own"])
    _plantings(garden, user, data["planting"], spots, data["seeds"], data["colours"])
    _packets(garden, data)
    _ground(garden, data, spots)
    return _to_its_day(garden, data) if until is None else _lived(garden, data, until)


def keep(name: str = "quarry_lane") -> None:
    """Live the garden and keep it as it stands a few days before its day."""
    kept.keep(name, anew(name, read(name)["garden"]["today"] - timedelta(days=LIVED_HERE)))


def _to_its_day(garden: Garden, data: dict[str, Any]) -> Garden:
    """What is left until the scenario's day, and what the grower does on it."""
    user, today = garden.members.get().user, data["garden"]["today"]
    _lived(garden, data, today)
    scenes(garden, user, today)
    at_the_door(garden, user, data)
    named_places(garden, user, data.get("goes", []))
    return garden


def _lived(garden: Garden, data: dict[str, Any], until: date) -> Garden:
    """Each day up to the evening before `until`, each planting in the grower's way; then what that morning brings."""
    assert garden.simulated_on is not None
    user, plantings = garden.members.get().user, Planting.objects.filter(season__garden=garden).order_by("pk")
    told = zip(plantings, data["planting"], strict=True)
    habits = {planting.pk: Habit(p.get("late", 0), p.get("tray")) for planting, p in told}
    while garden.simulated_on < until:
        simulate(garden, garden.simulated_on)
        live_day(garden, user, habits)
        garden.simulated_on += timedelta(days=1)
        garden.save(update_fields=["simulated_on"])
    simulate(garden, until)
    return garden


def _place(garden: Garden, data: dict[str, Any], weather: Weather) -> None:
    s = data["station"]
    days = tuple(weather.start + timedelta(days=k) for k in range(len(weather.tmin)))
    station = Station.objects.create(
        name=s["name"], note=s["note"], owner=garden, simulated=True,
        latitude=s["latitude"], longitude=s["longitude"], elevation_m=s["elevation_m"],
    )  # fmt: skip
    merge(station, days, weather.tmin, weather.tmax)
    _readings(garden, data["readings"], weather, station, s["cover"])
    record = record_of(station)
    found = None if record is None else estimated_shift(garden, record)
    assert found is not None
    Frost.objects.create(
        garden=garden, station=station, shift_c=round(found.shift_c, 1), shift_nights=found.nights,
        shift_error=round(found.error_c, 1), cover=s["cover"], **data["frost"],
    )  # fmt: skip


def _readings(garden: Garden, r: dict[str, Any], weather: Weather, station: Station, cover: str) -> None:
    """The garden's own thermometer and soil probe last year: colder on clear nights, and a soil of its own."""
    random = np.random.default_rng(r["seed"])
    nights = [r["nights_from"] + timedelta(days=k) for k in range(r["nights"])]
    at = [weather.index(d) for d in nights]
    colder = np.where(weather.cloud[at] < 0.4, r["clear_c"], r["cloudy_c"])
    lows = np.round(weather.tmin[at] + colder + random.normal(0, 0.7, len(at)), 1)
    GardenNight.objects.bulk_create(
        GardenNight(garden=garden, day=d, tmin_c=float(v), source="shed thermometer")
        for d, v in zip(nights, lows, strict=True)
    )
    record = record_of(station)
    assert record is not None
    soil = ComputedWarmth(garden.southern, record.minima, record.maxima, cover=cover).uncalibrated
    days = [r["soil_from"] + timedelta(days=3 * k) for k in range(r["soil_readings"])]
    SoilReading.objects.bulk_create(
        SoilReading(
            garden=garden, day=d, hour=8, source="probe in bed B",
            celsius=round(float(soil.between(d, d)[0]) + MORNING_C + r["soil_c"] + float(random.normal(0, 0.4)), 1),
        )
        for d in days
    )  # fmt: skip


def make_spots(garden: Garden, kinds: dict[str, list[str]]) -> dict[str, Spot]:
    """The scenario's places by their codes, in its order."""
    spots: dict[str, Spot] = {}
    for order, (kind, code) in enumerate((k, c) for k, codes in kinds.items() for c in codes):
        spots[code] = Spot.objects.create(garden=garden, kind=kind, code=code, order=order)
    return spots


def furnish(garden: Garden, spots: dict[str, Spot], data: dict[str, Any]) -> None:
    """Sizes of the places and what is above them; containers, stores and mixes."""
    for code, fields in data.get("furniture", {}).items():
        spot = spots[code]
        for name, value in fields.items():
            setattr(spot, name, spots[value] if name == "parent" else value)
        spot.save()
    for key, owned in data.get("containers", {}).items():
        Container.objects.create(garden=garden, kind=key, **containers()[key]._asdict(), **owned)
    Store.objects.bulk_create(Store(garden=garden, thing=thing, **n) for thing, n in data.get("stores", {}).items())
    Recipe.objects.bulk_create(Recipe(garden=garden, **mix) for mix in data.get("recipe", []))


def light(spots: dict[str, Spot], garden: Garden, data: dict[str, Any]) -> None:
    """What hangs over the shelves, how it was set from which day on, what a meter said, what current costs."""
    Lamp.objects.bulk_create(Lamp(**{**row, "spot": spots[row["spot"]]}) for row in data.get("lamp", []))
    LampSetting.objects.bulk_create(
        LampSetting(spot=spots[code], left_cm=cm, right_cm=cm, since=row["since"], on_h=row["on_h"], hours=row["hours"])
        for row in data.get("lamp_set", [])
        for code, cm in row["cm"].items()
    )
    LightReading.objects.bulk_create(
        LightReading(**{**row, "spot": spots[row["spot"]]}) for row in data.get("light_reading", [])
    )
    if "tariff" in data:
        Tariff.objects.create(garden=garden, **data["tariff"])


def _own(garden: Garden, known: list[dict[str, Any]]) -> None:
    """Values the garden has of its own, with their reason."""
    for own in known:
        for field, value in own["values"].items():
            CropValue.objects.create(garden=garden, crop_key=own["crop"], field=field, value=value, reason=own["why"])


def _packets(garden: Garden, data: dict[str, Any]) -> None:
    """What is written on some packets, and the tests that were made."""
    for p in data["packet"]:
        for lot in Lot.objects.filter(garden=garden, crop_key=p["crop"]):
            read = read_packet(p["words"])
            raising = raising_of(library()[p["crop"]], "raised", None).middle
            found = packet_facts(read, {r.field: 0 for r in read.readings}, read.base, raising)
            lot.facts = {field: list(value) for field, value in found.values.items()}
            lot.packet = found.weeks._asdict() if found.weeks is not None else None
            lot.origin, lot.price, lot.packet_seeds = p["origin"], p["price"], p["packet_seeds"]
            lot.save()
    for t in data["seed_test"]:
        lot = Lot.objects.get(garden=garden, crop_key=t["crop"])
        SeedTest.objects.create(lot=lot, on=t["on"], sown=t["sown"], up=t["up"])


def _ground(garden: Garden, data: dict[str, Any], spots: dict[str, Spot]) -> None:
    """The beds on their plot, and plantings laid out where each first fits, the largest first."""
    plot = Plot.objects.create(garden=garden, **data["plot"])
    for code, g in data["ground"].items():
        spot = spots[code]
        spot.x_cm, spot.y_cm, spot.length_cm, spot.width_cm, spot.sun = (
            g["x"],
            g["y"],
            g["length"],
            g["width"],
            g["sun"],
        )
        spot.save()
    for key, used in data["use"].items():
        Use.objects.create(garden=garden, crop_key=key, **used)
    Price.objects.bulk_create(Price(garden=garden, kind=kind, amount=n) for kind, n in data["prices"].items())
    Absence.objects.bulk_create(Absence(garden=garden, **gone) for gone in data["away"])
    on = standing(garden)
    plantings = [
        p
        for p in Planting.objects.filter(season__garden=garden, term="spring")
        if p.crop_key not in ("brussels_sprouts", "strawflower")
    ]
    plantings.sort(key=lambda p: (-on.dating.crop(p).number("height_cm"), p.pk))
    for planting in plantings:
        laid = laid_out(garden, on).get(planting.spot_id or 0, [])
        crop = on.dating.crop(planting)
        assert planting.spot is not None
        here = free_in(crop, planting.wanted, planting, on.dates[planting.pk], planting.spot, laid, plot.grid_cm)
        if here is not None:
            BedArea.objects.create(
                planting=planting,
                spot=planting.spot,
                x_cm=here.x,
                y_cm=here.y,
                length_cm=here.length,
                width_cm=here.width,
            )


def _plantings(
    garden: Garden,
    user: User,
    wanted: list[dict[str, Any]],
    spots: dict[str, Spot],
    seeds: dict[str, int],
    colours: dict[str, str],
) -> None:
    """Plan everything."""
    dating = dating_of(garden)
    season = Season.objects.create(garden=garden, year=garden.year)
    for p in wanted:
        lot = None
        if p.get("method") != "bought":
            lot, _ = Lot.objects.get_or_create(
                garden=garden, crop_key=p["crop"], variety=p["variety"], packed_year=p.get("packed", garden.year),
                defaults={"seeds": seeds.get(p["crop"]), "colour": colours.get(p["crop"], "")},
            )  # fmt: skip
        planting = Planting(
            season=season, crop_key=p["crop"], variety=p["variety"], wanted=p["wanted"], lot=lot,
            spot=spots[p["spot"]], term=p.get("term", "spring"), method=p.get("method", "raised"),
            sown_in=p.get("sown_in", "cells"), wanted_unit=p.get("wanted_unit", "plants"), stood=p.get("stood", ""),
            chosen_out=p.get("out"),
        )  # fmt: skip
        crop, dates = actions.propose(planting, dating, garden.simulated_on or date.min, p.get("sow"))
        actions.keep(garden, user, planting, crop, dates)
