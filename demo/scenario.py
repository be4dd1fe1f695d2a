"""The demo's garden from its scenario file: rows first, then the season lived day by day."""

from __future__ import annotations

import tomllib
from datetime import date, timedelta
from functools import lru_cache
from pathlib import Path
from typing import Any

from django.db import transaction

from aestiva.accounts.models import User
from aestiva.gardens.models import Garden, Member
from aestiva.place.actions import station_years
from aestiva.place.models import Frost, Station, StationYear, Warmth
from aestiva.place.queries import place_year
from aestiva.plan import actions
from aestiva.plan.queries import Dating
from aestiva.season.crops import Crops
from aestiva.season.models import Lot, Planting, Season, Spot
from demo.simulation import live_day, put_forecast
from growing.station import Climate, Weather, generate
from growing.weatherfile import WeatherFile

HERE = Path(__file__).parent
SCENARIOS = ("quarry_lane", "kanuka_flat")


def read(name: str) -> dict[str, Any]:
    return tomllib.loads((HERE / f"{name}.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=4)
def record(
    seed: int, start: date, days: int, mean_c: float, swing_c: float, spread_c: float, southern: bool
) -> Weather:
    """The station's weather: thirty years and the season to come, one path."""
    return generate(Climate(mean_c, swing_c, spread_c), southern, seed, start, days)


def of(garden: Garden) -> dict[str, Any]:
    """The scenario a demo garden was made from."""
    return next(data for data in map(read, SCENARIOS) if data["garden"]["name"] == garden.name)


def weather_of(data: dict[str, Any]) -> Weather:
    s = data["station"]
    days = (data["garden"]["today"] - s["from"]).days + 500
    southern = data["garden"]["latitude"] < 0
    return record(s["seed"], s["from"], days, s["mean_c"], s["swing_c"], s["spread_c"], southern)


@transaction.atomic
def build(name: str = "quarry_lane", until: date | None = None) -> Garden:
    """A new garden as the scenario has it, lived up to its day (or `until`)."""
    data = read(name)
    g = data["garden"]
    user = User.objects.filter(email=data["grower"]["email"]).first()
    if user is None:
        user = User.objects.create_user(data["grower"]["email"], data["grower"]["name"])
    plain = {k: v for k, v in g.items() if k not in ("begins", "today")}
    garden = Garden.objects.create(**plain, is_demo=True, simulated_on=g["begins"])
    Member.objects.create(garden=garden, user=user, role="owner")
    _place(garden, data)
    spots = make_spots(garden, data["spots"])
    late = _plantings(garden, user, data["planting"], spots)
    weather = weather_of(data)
    today = g["begins"]
    end = until or g["today"]
    while today < end:
        put_forecast(garden, weather, today)
        live_day(garden, user, late)
        today += timedelta(days=1)
        garden.simulated_on = today
        garden.save(update_fields=["simulated_on"])
    put_forecast(garden, weather, today)
    return garden


def _place(garden: Garden, data: dict[str, Any]) -> None:
    s, weather = data["station"], weather_of(data)
    seen = (date(garden.year - 1, 12, 31) - weather.start).days + 1
    days = tuple(weather.start + timedelta(days=k) for k in range(seen))
    station = Station.objects.create(name=s["name"], note=s["note"], owner=garden, simulated=True)
    StationYear.objects.bulk_create(
        station_years(station, WeatherFile(days=days, tmin=weather.tmin[:seen], tmax=weather.tmax[:seen]))
    )
    Frost.objects.create(garden=garden, station=station, shift_c=s["shift_c"], **data["frost"])
    for group in data["warmth"]:
        for celsius, when in group["days"].items():
            month, day = (int(p) for p in when.split("-"))
            Warmth.objects.create(garden=garden, kind=group["kind"], celsius=float(celsius), month=month, day=day)


def make_spots(garden: Garden, kinds: dict[str, list[str]]) -> dict[str, Spot]:
    """The scenario's places by their codes, in its order."""
    spots: dict[str, Spot] = {}
    for order, (kind, code) in enumerate((k, c) for k, codes in kinds.items() for c in codes):
        spots[code] = Spot.objects.create(garden=garden, kind=kind, code=code, order=order)
    return spots


def _plantings(garden: Garden, user: User, wanted: list[dict[str, Any]], spots: dict[str, Spot]) -> dict[int, int]:
    """Plan everything; returns the plantings that the grower lets wait, and for how many days."""
    late: dict[int, int] = {}
    dating = Dating(place_year(garden), Crops(garden))
    season = Season.objects.create(garden=garden, year=garden.year)
    for p in wanted:
        lot = Lot.objects.create(
            garden=garden, crop_key=p["crop"], variety=p["variety"], packed_year=p.get("packed", 2025)
        )
        planting = Planting(
            season=season, crop_key=p["crop"], variety=p["variety"], wanted=p["wanted"], lot=lot,
            spot=spots[p["spot"]], term=p.get("term", "spring"), method=p.get("method", "raised"),
        )  # fmt: skip
        crop, dates = actions.propose(planting, dating, garden.simulated_on or date.min, p.get("sow"))
        actions.keep(garden, user, planting, crop, dates)
        if "late" in p:
            late[planting.pk] = p["late"]
    return late
