"""The invented gardens as their files tell them, and the weather over them."""

from __future__ import annotations

import tomllib
from datetime import date
from functools import lru_cache
from pathlib import Path
from typing import Any

from aestiva.gardens.models import Garden
from growing.place.station import Climate, Weather, generate

HERE = Path(__file__).parent
SCENARIOS = ("quarry_lane", "kanuka_flat")


def read(name: str) -> dict[str, Any]:
    """A scenario by its name."""
    return tomllib.loads((HERE / f"{name}.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=4)
def record(climate: Climate, seed: int, start: date, days: int, southern: bool) -> Weather:
    """The station's weather: thirty years and the season to come, one path."""
    return generate(climate, southern, seed, start, days)


def of(garden: Garden) -> dict[str, Any]:
    """The scenario a demo garden was made from."""
    return next(data for data in map(read, SCENARIOS) if data["garden"]["name"] == garden.name)


def weather_of(data: dict[str, Any]) -> Weather:
    """Thirty years before a scenario's season, and the season itself with some days to spare."""
    s = data["station"]
    days = (data["garden"]["today"] - s["from"]).days + 500
    southern = data["garden"]["latitude"] < 0
    return record(Climate(**s["climate"]), s["seed"], s["from"], days, southern)
