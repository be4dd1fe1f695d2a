"""In what does it stand, and how long does that carry it?  One path of containers from sowing to planting out."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from growing.bench.containers import carries_weeks, containers
from growing.crops import Crop
from growing.seeds.sowing import How
from growing.working import Value, Working


class Standing(NamedTuple):
    """A container of the path: from when to when it stands in it, and the day to which it carries the plant."""

    name: str
    ml: float
    since: date
    until: date
    carries_until: date
    working: Working

    @property
    def short_days(self) -> int:
        """Days by which it is too small for the time it stands in it; 0: it does."""
        return max(0, (self.until - self.carries_until).days)


def path_of(crop: Crop, how: How, sow: date, pot: date | None, out: date) -> list[Standing]:
    """Its first cells or blocks, and the pot that follows where it is potted up; empty where it is not raised in them."""
    kinds, longest = containers(), crop.maybe("raise_max")
    if longest is None or how.sown_in == "place" or out <= sow:
        return []
    cell = kinds.get("block_4" if how.sown_in == "blocks" else f"flat_{int(crop.number('cells_per_tray'))}")
    first_ml = cell.cell_ml if cell is not None else crop.number("cell_ml")
    name = cell.name if cell is not None else "cells"
    found = [_standing(crop, longest, name, first_ml, bool(cell and cell.air_pruning), sow, sow, pot or out)]
    if pot is not None and pot < out:
        round_pot = kinds.get(f"pot_{int(crop.number('pot_cm'))}_round")
        ml = round_pot.cell_ml if round_pot is not None else crop.number("cell_ml")
        found.append(_standing(crop, longest, "pots", ml, False, sow, pot, out))
    return found


def _standing(
    crop: Crop, longest: float, name: str, ml: float, air: bool, sow: date, since: date, until: date
) -> Standing:
    plants = crop.number("plants_per_cell")
    weeks = carries_weeks(crop.number("cell_ml"), longest, ml, air)
    carries = sow + timedelta(days=int(weeks * 7))
    inputs = (
        Value("sow", sow),
        Value("mix", ml, "ml"),
        crop.values["cell_ml"],
        Value("raise_max", longest, "weeks", crop.value("raise_max").source),
        Value("plants", plants, "plants"),
    )
    return Standing(
        name, ml, since, until, carries, Working("plan.carries", inputs, (), Value("carries until", carries))
    )
