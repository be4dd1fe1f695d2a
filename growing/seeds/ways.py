"""Which way of sowing?  The ways side by side: seed, cells, mix and minutes until planting out, and what a plant more costs."""

from __future__ import annotations

from math import ceil
from typing import NamedTuple

from growing.assumptions import real
from growing.crops import Crop
from growing.seeds.sowing import (
    CELL_MINUTES,
    CONFIDENCE,
    DIVIDED,
    SEED_MINUTES,
    How,
    NoCount,
    Seed,
    SowingCount,
    count_for,
    to_prick,
)
from growing.shelves.containers import containers
from growing.shelves.room import BOX_SEEDS

THIN_MINUTES = real("seeds.ways.THIN_MINUTES")
PRICK_MINUTES = real("seeds.ways.PRICK_MINUTES")
DIVIDE_MINUTES = real("seeds.ways.DIVIDE_MINUTES")
POT_MINUTES = real("seeds.ways.POT_MINUTES")
PLANT_MINUTES = real("seeds.ways.PLANT_MINUTES")
OVERFILL = 1.12  # mix above the cells' volume
BOX_CM2 = 28.0 * 54.0
PINCH_G = real("seeds.ways.PINCH_G")
FINE_SEEDS_PER_G = 2000  # finer than this it is strewn by the pinch


class Care(NamedTuple):
    """What it takes until planting out: minutes, litres of mix."""

    minutes: float
    litres: float


class SowingWay(NamedTuple):
    """One way to sow: its count, seedlings snipped, separated, pricked out or divided, and what it all takes."""

    how: How
    sowing: SowingCount
    handled: int
    care: Care


class Fine(NamedTuple):
    """Tiny seed as it is strewn: grams, pinches, and seeds in a cm² of so many boxes."""

    grams: float
    pinches: float
    boxes: int
    per_cm2: float


def ways(crop: Crop, wanted: int, seed: Seed, confidence: float = CONFIDENCE) -> tuple[SowingWay, ...]:
    """Every way the crop bears, as it is usual first; nothing where only sowing in place goes.  Raises NoCount where none
    gives a count."""
    if crop.method == "direct":
        return ()
    found, why = [], NoCount("")
    for how in _ways_of(crop):
        try:
            count = count_for(crop, wanted, how, seed, confidence)
        except NoCount as error:
            why = error
            continue
        found.append(way(crop, wanted, how, seed, count))
    if not found:
        raise why
    return tuple(found)


def _ways_of(crop: Crop) -> list[How]:
    easy, clump = crop.word("transplants") == "easy", int(crop.number("plants_per_cell"))
    clumps = [How("cells", "clump", None, clump), How("blocks", "clump", None, clump)] if clump > 1 else []
    singles = [How("cells", "thin", 1), How("cells", "thin", 2), How("blocks", "thin", 1)]
    apart = [How("cells", "keep", 3), How("box", "prick", 1)] if easy else []
    divided = [How("box", "divide", 1)] if crop.family == DIVIDED else []
    return [*clumps, *divided, *singles, *apart]


def way(crop: Crop, wanted: int, how: How, seed: Seed, count: SowingCount) -> SowingWay:
    """What one way takes for so many plants."""
    coming = count.seeds * seed.mean
    places = how.need(wanted)
    handled, each = 0, 0.0
    if how.surplus == "thin" and not how.together:
        handled = max(0, round(coming - count.places * (1 - (1 - seed.mean) ** count.per_cell)))
        each = THIN_MINUTES
    elif how.surplus in ("keep", "prick"):
        handled, each = to_prick(wanted, crop.number("survival")), PRICK_MINUTES
    elif how.surplus == "divide":
        handled, each = wanted, DIVIDE_MINUTES
    sown = count.places * (SEED_MINUTES if how.together else CELL_MINUTES)
    pots = places if crop.number("pot_weeks") else 0
    minutes = sown + handled * each + pots * POT_MINUTES + places * PLANT_MINUTES
    return SowingWay(how, count, handled, Care(minutes, _litres(crop, how, count, handled, pots)))


def _litres(crop: Crop, how: How, count: SowingCount, handled: int, pots: int) -> float:
    """Litres of mix: cells, what is pricked out into cells, and pots."""
    kinds = containers()
    cell = kinds.get("block_4" if how.sown_in == "blocks" else f"flat_{int(crop.number('cells_per_tray'))}")
    cell_ml = cell.cell_ml if cell is not None else crop.number("cell_ml")
    cells = count.places if not how.together else 0
    if how.surplus in ("keep", "prick"):
        cells += handled
    box = kinds["open_flat"].cell_ml * min(1.0, count.seeds / BOX_SEEDS) if how.together else 0.0
    round_pot = kinds.get(f"pot_{int(crop.number('pot_cm'))}_round")
    pot_ml = round_pot.cell_ml if round_pot is not None else crop.number("cell_ml")
    return (cells * cell_ml + box + pots * pot_ml) * OVERFILL / 1000


def a_plant_more(crop: Crop, wanted: int, how: How, seed: Seed, confidence: float = CONFIDENCE) -> tuple[float, Care]:
    """Places, minutes and litres that a plant beyond those wanted takes until planting out, from ten more of them."""
    more = max(10, wanted // 10)
    now, then = (way(crop, n, how, seed, count_for(crop, n, how, seed, confidence)) for n in (wanted, wanted + more))
    care = Care((then.care.minutes - now.care.minutes) / more, (then.care.litres - now.care.litres) / more)
    return (then.sowing.places - now.sowing.places) / more, care


def fine(crop: Crop, count: SowingCount) -> Fine | None:
    """Tiny seed sown together, as grams and pinches; None where it can be counted."""
    weight = crop.maybe("seeds_per_g")
    if weight is None or weight < FINE_SEEDS_PER_G or count.unit != "seeds":
        return None
    grams, boxes = count.seeds / weight, max(1, ceil(count.seeds / BOX_SEEDS))
    return Fine(grams, grams / PINCH_G, boxes, count.seeds / (boxes * BOX_CM2))
