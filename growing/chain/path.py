"""In what does it stand, and how long does each container carry it?  The path of containers from sowing to planting out.

A container carries a plant to a sowing age (`growing.shelves.containers.carries_weeks`).  Potting up is proposed at three quarters of
it, where it would not last until planting out; never within a week of the last move, and not for less than two weeks.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from growing.chain.days import NO_DAY
from growing.chain.rearing import PRICK_DAYS, Vessels, VesselStay, carries, stays
from growing.crops import Crop
from growing.seeds.sowing import How
from growing.shelves.containers import Measures, carries_weeks, containers
from growing.shelves.room import BOX_SEEDS, TRAY_CM2
from growing.working import Value, Working

MINI_BLOCK_CM = 2.5  # such blocks are set into larger ones within two weeks of emergence
BOX_ML = 600.0  # an undivided thing of so much mix is sown together


class Vessel(NamedTuple):
    """A container by its key: of the common kinds, or a garden's own by its name."""

    key: str
    measures: Measures

    @property
    def mini(self) -> bool:
        """Is it a block so small that it carries them two weeks from emergence at most?"""
        return self.key.startswith("block") and self.measures.depth_cm < MINI_BLOCK_CM

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
    moved = [day.toordinal() for day in pots_on]
    seen = NO_DAY if by_leaves is None else by_leaves.toordinal()
    found = stays(
        vessels_of(crop, vessels), sow.toordinal(), up.toordinal(), out.toordinal(), prick_days(crop), seen, moved
    )
    return [_stands(crop, vessel, sow, stay) for vessel, stay in zip(vessels, found, strict=False)]


def vessels_of(crop: Crop, vessels: Sequence[Vessel]) -> Vessels:
    """The containers of one planting as columns."""
    limits = [age_limit_days(crop, vessel) for vessel in vessels]
    mini, together = [v.mini for v in vessels], [v.together for v in vessels]
    return Vessels(limits, mini, together, [*reversed(range(len(vessels)))])


def prick_days(crop: Crop) -> int:
    """Days from half up until they can be handled one by one."""
    return int(crop.number("thin_days") or PRICK_DAYS)


def path_of(crop: Crop, how: How, sow: date, pot: date | None, out: date) -> list[ContainerStay]:
    """The usual path: its first cells or blocks, and the pot that follows where it is potted up; empty where it is not raised
    in them, or stays in its box."""
    if crop.maybe("raise_max") is None or how.sown_in == "place" or out <= sow:
        return []
    pots = pot is not None and pot < out
    vessels = [v for v in usual_vessels(crop, how, pots) if not v.together]
    if not vessels:
        return []
    born = sow.toordinal()
    first = (pot if pots and pot is not None else out).toordinal()
    until = [carries(born, born, age_limit_days(crop, v), v.mini) for v in (vessels[0], vessels[-1])]
    found = [_stands(crop, vessels[0], sow, VesselStay(born, first, until[0], True))]
    if pots:
        found.append(_stands(crop, vessels[-1], sow, VesselStay(first, out.toordinal(), until[1], True)))
    return found


def _stands(crop: Crop, vessel: Vessel, sow: date, stay: VesselStay) -> ContainerStay:
    m, (since, until, carried) = vessel.measures, (date.fromordinal(day) for day in stay[:3])
    inputs = (
        Value("sow", sow),
        Value("mix", m.cell_ml, "ml"),
        crop.values["cell_ml"],
        Value("raise_max", crop.number("raise_max"), "weeks", crop.value("raise_max").source),
        Value("plants", crop.number("plants_per_cell"), "plants"),
    )
    why = Working("plan.carries", inputs, (), Value("carries until", carried))
    return ContainerStay(m.name, m.cell_ml, since, until, carried, why, vessel)
