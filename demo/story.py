"""The invented gardens as their files tell them, and the world that nature makes of each."""

from __future__ import annotations

import tomllib
from datetime import date, timedelta
from functools import lru_cache
from pathlib import Path
from typing import Any

from aestiva.accounts.models import User
from aestiva.gardens.models import Garden
from demo.nature.rooms import Place, Room, World
from demo.nature.weather import Record, draw
from growing.place.station import Climate, Weather, generate

HERE = Path(__file__).parent
SCENARIOS = ("quarry_lane", "kanuka_flat")
KINDS = {
    "mat": "shelf",
    "rack": "shelf",
    "room": "sill",
    "planter": "bed",
    "path": "bed",
}  # of spots, as nature has them
NOWHERE = ("", "room")  # where a batch stands of which nobody said where


@lru_cache(maxsize=4)
def read(name: str) -> dict[str, Any]:
    """A scenario by its name."""
    return tomllib.loads((HERE / f"{name}.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=4)
def record(name: str) -> Weather:
    """The station's years before nature takes over, one path."""
    data = read(name)
    s, start = data["station"], data["station"]["from"]
    days = (data["nature"]["from"] - start).days
    return generate(Climate(**s["climate"]), data["garden"]["latitude"] < 0, s["seed"], start, days)


@lru_cache(maxsize=8)
def world(name: str, spots: tuple[tuple[str, str], ...]) -> World:
    """The season over the scenario's garden, and its places (code, kind of spot) in it."""
    data, past = read(name), record(name)
    g, n = data["garden"], data["nature"]
    made = draw(
        Record(past.start, past.tmin, past.tmax), n["seed"], n["from"], n["days"], g["latitude"],
        garden_c=(n["clear_c"], n["cloudy_c"]),
    )  # fmt: skip
    return World(made, tuple(_place(code, kind, n) for code, kind in spots))


def _place(code: str, kind: str, n: dict[str, Any]) -> Place:
    return Place(
        code, KINDS.get(kind, kind), Room(**n["room"]), n["lamp"]["dli"], n["lamp"]["hours"], n["mats"].get(code, ""), n["mat_set_c"], n["fan"]
    )  # fmt: skip


def grower(name: str) -> User:
    """Who a scenario's garden belongs to."""
    said = read(name)["grower"]
    return User.objects.filter(email=said["email"]).first() or User.objects.create_user(said["email"], said["name"])


def name_of(garden: Garden) -> str:
    """The scenario that a demo garden was made from: its seed says so, whatever it is called now."""
    return next(name for name in SCENARIOS if read(name)["garden"]["seed"] == garden.seed)


def world_of(garden: Garden) -> World:
    """The world over a demo garden with the places it has now."""
    return world(name_of(garden), (*garden.spots.order_by("pk").values_list("code", "kind"), NOWHERE))


def last_day(garden: Garden) -> date:
    """The last day that nature has weather for, and a forecast beyond it."""
    here = read(name_of(garden))["nature"]
    return here["from"] + timedelta(days=here["days"] - 10)
