"""How many to sow: by our odds, or by a habit?  Fresh packets and old ones, where what is short is short and what is over is work.

The same days (our plan's), grower, bench and care for all; only the cells and the seeds in them differ.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date

from demo.judge.climates import CLIMATES, YEAR, Where, world
from demo.judge.dates import CROPS, SEED, WANTED, best, plan, ways
from demo.judge.lines import Line
from demo.nature import habits
from demo.nature.kinds import Kind, kind
from demo.nature.rooms import World
from demo.nature.season import Run, Wish
from growing.crops import library
from growing.seeds.sowing import Seed, count_for, how_for
from growing.seeds.viability import Packet, germination

SEASONS = 100
AGES = ("fresh", "old")  # packed for this season; as many years ago as a packet of its kind keeps in a room


def wishes() -> list[Wish]:
    """Every crop from a fresh packet and from an old one."""
    kinds = [kind(key) for key in CROPS]
    return [Wish(f"{k.key} {age}", k, WANTED, _years(k) if age == "old" else 0.0) for k in kinds for age in AGES]


def _years(of: Kind) -> float:
    return float(round(of.life_years))


def ours(all_of_them: Sequence[Wish]) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Seeds and seeds a cell as the rules say, from what the packet's age makes likely."""
    seeds, per_cell = [], []
    for wish in all_of_them:
        crop = library()[wish.kind.key]
        found = germination(crop, Packet(wish.age_years), [], date(YEAR, 1, 1))
        how = how_for(crop, "cells", "thin")
        count = count_for(crop, wish.wanted, how, Seed(found.mean, (found.a, found.b)))
        seeds.append(count.places * count.per_cell)
        per_cell.append(count.per_cell)
    return tuple(seeds), tuple(per_cell)


def policies(where: Where, here: World, all_of_them: Sequence[Wish]) -> dict[str, habits.Ways]:
    """Our counts, and those of each habit, on the same days."""
    sow, out = ([d for d in days for _ in AGES] for days in plan(where))
    base, wanted = ways(here, sow, out), [w.wanted for w in all_of_them]
    tripled = tuple(n * (3 if w.age_years else 1) * 2 for n, w in zip(wanted, all_of_them, strict=True))
    two = tuple(2 for _ in wanted)
    sown = {
        "aestiva": ours(all_of_them),
        "one-a-plant": (tuple(wanted), tuple(1 for _ in wanted)),
        "two-a-cell": (tuple(2 * n for n in wanted), two),
        "two-a-cell-doubled": habits.doubled(wanted),
        "triple-the-old": (tripled, two),
    }
    return {name: base._replace(seeds=seeds, per_cell=per_cell) for name, (seeds, per_cell) in sown.items()}


def compare(seasons: int = SEASONS, climates: Sequence[Where] = CLIMATES) -> Iterator[Line]:
    """One line a climate and policy."""
    for where in climates:
        here, all_of_them = world(where, seasons), wishes()
        run = {n: Run(here, all_of_them, way, SEED).score() for n, way in policies(where, here, all_of_them).items()}
        top = best(here, [kind(key) for key in CROPS]).repeat(len(AGES), axis=1)
        yield from Line.all_of("counts", where.name, run, top)
