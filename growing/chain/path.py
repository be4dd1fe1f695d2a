"""In what does it stand, and how long does each container carry it?  The path of containers from sowing to planting out.

A container carries a plant to a sowing age (`growing.shelves.containers.carries_weeks`).  Potting up is proposed at three quarters of
it, where it would not last until planting out; never within a week of the last move, and not for less than two weeks.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

from growing.crops import Crop
from growing.seeds.sowing import How
from growing.shelves.containers import Measures, carries_weeks, containers
from growing.shelves.room import BOX_SEEDS, TRAY_CM2
from growing.working import Value, Working

PROPOSED_AT = 0.75  # of the age to which a container carries them
LEAST_BETWEEN_DAYS, LEAST_LEFT_DAYS = 7, 14  # from one move to the next; before planting out, or it is not worth it
FIRST_LOOK_DAYS = 21  # after sowing, roots are looked at for the first time
PRICK_DAYS = 10  # from half up until a crop that is not thinned can be handled: estimate
MINI_BLOCK_CM, MINI_BLOCK_DAYS = 2.5, 14  # such blocks are set into larger ones within two weeks of emergence
BOX_ML = 600.0  # an undivided thing of so much mix is sown together


class Vessel(NamedTuple):
    """A container by its key: of the common kinds, or a garden's own by its name."""

    key: str
    measures: Measures

    @property
    def together(self) -> bool:
        """Is it one space in which many stand?"""
        return self.measures.cells == 1 and self.measures.cell_ml >= BOX_ML and self.measures.depth_cm < 9.0


class ContainerStay(NamedTuple):
    """A container of the path: from when to when it stands in it, and the day to which it carries the plant."""

    name: str
    ml: float
    since: date
    until: date
    carries_until: date
    working: Working
    vessel: Vessel | None = None

    @property
    def short_days(self) -> int:
        """Days by which it is too small for the time it stands in it; 0: it does."""
        return max(0, (self.until - self.carries_until).days)


def usual_vessels(crop: Crop, how: How, pots: bool) -> list[Vessel]:
    """Its first cells, blocks or box, and the pot that follows where it is potted up."""
    kinds = containers()
    first = {"blocks": "block_4", "box": "open_box"}.get(how.sown_in, f"flat_{int(crop.number('cells_per_tray'))}")
    cell = kinds.get(first) or Measures("cells", 1, 5.0, 5.0, 5.0, crop.number("cell_ml"), True, False)
    found = [Vessel(first, cell)]
    if how.together and how.surplus == "prick":
        found.append(Vessel(key := f"flat_{int(crop.number('cells_per_tray'))}", kinds.get(key) or cell))
    if pots:
        found.append(_pot(crop))
    return found


def _pot(crop: Crop) -> Vessel:
    kinds, wide = containers(), crop.number("pot_cm")
    key = f"pot_{wide:g}_round".replace(".", "_")
    found = kinds.get(key)
    return Vessel(key, found or Measures("pots", 1, wide, wide, wide, crop.number("cell_ml"), True, False))


def age_limit_days(crop: Crop, vessel: Vessel, plants: float | None = None) -> int:
    """Sowing age [days] to which a container carries the crop; of an undivided one by the plants that stand in it (None: as many
    as are usual)."""
    longest, each = crop.number("raise_max"), crop.number("cell_ml")
    m = vessel.measures
    volume, least = m.cell_ml, each
    if vessel.together:
        standing = plants or max(1.0, BOX_SEEDS * m.length_cm * m.width_cm / TRAY_CM2)
        volume, least = m.cell_ml / standing, each / crop.number("plants_per_cell")
    return int(carries_weeks(least, longest, max(volume, 0.01), m.air_pruning) * 7)


def walk(
    crop: Crop,
    vessels: Sequence[Vessel],
    sow: date,
    up: date,
    out: date,
    pots_on: Sequence[date] = (),
    by_leaves: date | None = None,
) -> list[ContainerStay]:
    """A plant through its containers, from sowing to planting out.

    up: half up.  pots_on: the days of moves that have happened, in order.  A container that carries it to the end is the last.
    by_leaves: the day on which it has the leaves for its first pot, where somebody saw them: then it is moved sooner or later for that, but
    never past the day to which its container carries it.
    """
    found: list[ContainerStay] = []
    since = sow
    for n, vessel in enumerate(vessels):
        carries = _carries(crop, vessel, sow, up)
        last = n + 1 == len(vessels)
        first = by_leaves if not vessel.together and not any(not s.vessel.together for s in found if s.vessel) else None
        move = out if last else _move(crop, vessel, sow, up, since, out, carries, first)
        if n < len(pots_on) and not last:
            move = pots_on[n]
        found.append(_standing(crop, vessel, sow, since, min(move, out), carries))
        if move >= out:
            break
        since = move
    return found


def _carries(crop: Crop, vessel: Vessel, sow: date, up: date) -> date:
    day = sow + timedelta(days=age_limit_days(crop, vessel))
    if vessel.key.startswith("block") and vessel.measures.depth_cm < MINI_BLOCK_CM:
        day = min(day, up + timedelta(days=MINI_BLOCK_DAYS))
    return day


def _move(
    crop: Crop,
    vessel: Vessel,
    sow: date,
    up: date,
    since: date,
    out: date,
    carries: date,
    by_leaves: date | None = None,
) -> date:
    """The day it is to be moved on; the day of planting out where it need not be, or it is too late to be worth it."""
    if vessel.together:
        day = up + timedelta(days=int(crop.number("thin_days") or PRICK_DAYS))
        return max(day, since + timedelta(days=LEAST_BETWEEN_DAYS))
    if carries >= out:
        return out
    proposed = sow + timedelta(days=math.floor(PROPOSED_AT * (carries - sow).days))
    if by_leaves is not None:
        proposed = min(by_leaves, carries)
    first = sow + timedelta(days=FIRST_LOOK_DAYS) if since == sow else since
    day = max(proposed, min(first, carries), since + timedelta(days=LEAST_BETWEEN_DAYS))
    return out if (out - day).days < LEAST_LEFT_DAYS else day


def path_of(crop: Crop, how: How, sow: date, pot: date | None, out: date) -> list[ContainerStay]:
    """The usual path: its first cells or blocks, and the pot that follows where it is potted up; empty where it is not raised
    in them, or stays in its box."""
    if crop.maybe("raise_max") is None or how.sown_in == "place" or out <= sow:
        return []
    pots = pot is not None and pot < out
    vessels = [v for v in usual_vessels(crop, how, pots) if not v.together]
    if not vessels:
        return []
    first = pot if pots and pot is not None else out
    found = [_standing(crop, vessels[0], sow, sow, first, _carries(crop, vessels[0], sow, sow))]
    if pots:
        found.append(_standing(crop, vessels[-1], sow, first, out, _carries(crop, vessels[-1], sow, sow)))
    return found


def _standing(crop: Crop, vessel: Vessel, sow: date, since: date, until: date, carries: date) -> ContainerStay:
    m = vessel.measures
    inputs = (
        Value("sow", sow),
        Value("mix", m.cell_ml, "ml"),
        crop.values["cell_ml"],
        Value("raise_max", crop.number("raise_max"), "weeks", crop.value("raise_max").source),
        Value("plants", crop.number("plants_per_cell"), "plants"),
    )
    why = Working("plan.carries", inputs, (), Value("carries until", carries))
    return ContainerStay(m.name, m.cell_ml, since, until, carries, why, vessel)
