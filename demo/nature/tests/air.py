"""Days made by hand, for tests: the same air for every group."""

from __future__ import annotations

from typing import Any

import numpy as np

from demo.nature.kinds import kind
from demo.nature.plants import Care, Plants, Sowing
from demo.nature.rooms import NUMBERS, Airs

BENCH = {
    "day_c": 21.0,
    "night_c": 17.0,
    "low_c": 17.0,
    "soil_c": 20.0,
    "mat_c": 24.0,
    "lid_c": 2.0,
    "dli": 11.0,
    "light_h": 14.0,
    "still": 0.2,
}
GARDEN = {
    "day_c": 17.0,
    "night_c": 9.0,
    "low_c": 9.0,
    "soil_c": 14.0,
    "dli": 35.0,
    "light_h": 15.0,
    "sun_h": 6.0,
    "gust_kmh": 15.0,
    "still": 0.1,
}


def air(night: Any = None, **numbers: float) -> Airs:
    """One place, one season; what is not given is nothing.  night: its hours, from night_c where not given."""
    values = np.array([[[numbers.get(name, 0.0)]] for name in NUMBERS], np.float32)
    hours = np.full(14, numbers.get("night_c", 0.0)) if night is None else np.asarray(night)
    return Airs(values, hours[None, None].astype(np.float32))


def night(lowest: float, evening: float = 8.0) -> Any:
    """Fourteen hours of a clear night that falls to its lowest at the twelfth."""
    fall = np.clip(np.arange(14) / 11, 0, 1) ** 0.7
    return evening + (lowest - evening) * fall


def keep(groups: int, lid: bool = False, mat: bool = False) -> Care:
    none = np.zeros(groups, np.intp)
    return Care(
        none, np.full(groups, lid), np.full(groups, mat), np.zeros(groups, np.float32), none, np.zeros(groups, bool)
    )


def sown(
    key: str, groups: int = 1, seeds: int = 72, age_years: float = 0.0, seed: int = 1, across: int = 12, **how: Any
) -> Plants:
    """Groups of one kind, sown; the same season, a lot and a tray each."""
    plants = Plants(
        [Sowing(0, f"{key} {g}", kind(key), seeds, age_years, across=across, **how) for g in range(groups)], seed
    )
    plants.sown[:] = True
    return plants


def grown(key: str, leaves: float, groups: int = 1, plants: int = 72, **how: Any) -> Plants:
    """Groups of plants of so many leaves, raised under a lamp."""
    made = Plants(
        [Sowing(0, f"{key} {g}", kind(key), plants, across=12, bought=leaves, **how) for g in range(groups)], 1
    )
    made.hard[:] = 0
    return made


def put_out(plants: Plants) -> None:
    """Into the ground as they are, without any check."""
    plants.plant_out(np.ones(plants.season.shape, bool))
    plants.stall[:] = 0
