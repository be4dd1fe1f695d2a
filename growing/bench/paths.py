"""Which way through the containers?  Rival paths of one planting beside each other: room, mix, minutes, moves, how long they hold."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from datetime import date
from typing import NamedTuple

from growing.bench.day import PER_CELL, PER_TRAY, POT_STAGES, SOW_STAGES
from growing.bench.mix import litres_for
from growing.chain.path import ContainerStay, Vessel, walk
from growing.crops import Crop
from growing.seeds.sowing import SEED_MINUTES
from growing.shelves.room import BOX_SEEDS, TRAY_CM2
from growing.working import Value, Working

MOST_RIVALS = 8
MOST_MOVES = 2


class Rival(NamedTuple):
    """One path with what it costs.

    room_days: full trays times days.  litres: of loose mix.  minutes: of filling, sowing and moving, to begin with.  moves: times
    that each plant is handled.  mat_week: plants that a full tray on the mat brings up in a week; 0: nothing is sown in cells.
    holds_days: days after planting out was meant to be for which the last container still carries it, negative: too small before.
    """

    keys: tuple[str, ...]
    standings: tuple[ContainerStay, ...]
    room_days: float
    litres: float
    minutes: float
    moves: int
    mat_week: float
    holds_days: int
    working: Working

    @property
    def short_days(self) -> int:
        """Days by which some container of it is too small."""
        return max(s.short_days for s in self.standings)

    @property
    def holds_until(self) -> date:
        """The day to which its last container carries the plant."""
        return self.standings[-1].carries_until

    @property
    def name(self) -> str:
        return ", then ".join(s.name for s in self.standings)


def trays_of(vessel: Vessel, count: int) -> float:
    """Room in full trays that so many cells or pots take."""
    m = vessel.measures
    return count / m.cells * m.length_cm * m.width_cm / TRAY_CM2


def rival(
    crop: Crop,
    vessels: Sequence[Vessel],
    sow: date,
    up: date,
    out: date,
    cells: int,
    plants: int,
    pots_on: Sequence[date] = (),
) -> Rival:
    """One path in figures.

    cells: sown.  plants: that are moved on into what follows.  pots_on: moves that have happened.  Raises ValueError for no vessel.
    """
    if not vessels:
        raise ValueError("a path has one container at least")
    standings = walk(crop, vessels, sow, up, out, pots_on)
    room = litres = minutes = 0.0
    for n, s in enumerate(standings):
        assert s.vessel is not None
        each_one = max(1, cells if n == 0 else plants)
        boxes = max(1, math.ceil(each_one / BOX_SEEDS))
        count = boxes if s.vessel.together else each_one
        room += trays_of(s.vessel, count) * (s.until - s.since).days
        litres += litres_for(count, s.vessel.measures.cell_ml)
        stages = SOW_STAGES if n == 0 else POT_STAGES
        hands = SEED_MINUTES if s.vessel.together else sum(PER_CELL.get(stage, 0.0) for stage in stages)
        minutes += each_one * hands + boxes * sum(PER_TRAY.get(stage, 0.0) for stage in stages)
    first, last = standings[0].vessel, standings[-1]
    assert first is not None
    weeks = max((up - sow).days, 1) / 7
    each = (
        0.0
        if first.together
        else first.measures.cells * TRAY_CM2 / (first.measures.length_cm * first.measures.width_cm)
    )
    holds = (last.carries_until - out).days
    inputs = (
        Value("cells", cells, "cells"),
        Value("plants", plants, "plants"),
        Value("room days", round(room, 1), "trays × days"),
        Value("mix", round(litres, 1), "l"),
        Value("minutes", round(minutes), "min", "estimate"),
        Value("moves", len(standings) - 1, "moves"),
        Value("holds until", last.carries_until),
    )
    return Rival(
        tuple(s.vessel.key for s in standings if s.vessel is not None), tuple(standings), room, litres, minutes, len(standings) - 1,
        each / weeks, holds, Working("bench.path", inputs, tuple(s.working for s in standings), Value("path", len(standings), "containers")),
    )  # fmt: skip


def rivals(
    crop: Crop,
    firsts: Iterable[Vessel],
    pots: Iterable[Vessel],
    sow: date,
    up: date,
    out: date,
    cells: int,
    plants: int,
    pots_on: Sequence[date] = (),
) -> list[Rival]:
    """Paths from each first container, alone and with each pot or two that can follow it; those that carry it through first, then
    the least room.

    firsts: cells, blocks or boxes that there are.  pots: what may follow, larger than the first.
    """
    pots = sorted(pots, key=lambda v: v.measures.cell_ml)
    found: dict[tuple[str, ...], Rival] = {}
    for first in firsts:
        larger = [p for p in pots if p.measures.cell_ml > 1.5 * first.measures.cell_ml or first.together]
        ways = [[first], *([first, p] for p in larger)]
        ways += [[first, p, q] for p in larger for q in larger if q.measures.cell_ml > 1.5 * p.measures.cell_ml]
        for way in ways:
            if first.together and len(way) == 1:
                continue
            one = rival(crop, way, sow, up, out, cells, plants, pots_on)
            if len(one.keys) == len(way):  # a pot that it never needs is another path
                found[one.keys] = one
    return sorted(found.values(), key=lambda r: (r.short_days > 0, r.short_days, r.room_days, r.minutes))


RULES = {"bench.path": ("cells", "plants", "room days", "mix", "minutes", "moves", "holds until")}
