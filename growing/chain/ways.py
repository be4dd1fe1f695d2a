"""It does not ripen here: what could be done about it?  Each way out with the share of years it gives."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from datetime import date, timedelta
from itertools import islice
from typing import NamedTuple

from growing.chain import days as chain
from growing.chain.choice import Choice
from growing.chain.dates import HALF_OF_YEARS, PlantingDates, date_planting
from growing.chain.windows import Windows, windows
from growing.crops import Crop
from growing.crops.schema import HARDINESS
from growing.place.growth import NEVER
from growing.place.year import PlaceYear
from growing.shelves.containers import LONGEST_SHARE

HOPELESS = ("hopeless", "never_ripe", "never_soil", "never_nights", "never_chill")
GOOD = 0.8  # of years, for another crop to be offered
MOST_OTHERS = 3
NEAR_CLASSES = 1  # of hardiness that another crop may lie away: dill is no melon
COVERS = ("tunnel",)


class WayOut(NamedTuple):
    """One thing that could be done: "tunnel", "bigger", "bought", "faster" or "instead".

    chance: share of years in which it gives enough, None: nobody knows.  sow_on, out_on, first: its days.  days: weeks
    earlier in days, or the days from planting out that a kind may need at most.  crop: the other crop.
    """

    kind: str
    chance: float | None
    sow_on: date | None = None
    out_on: date | None = None
    first: date | None = None
    days: int = 0
    crop: Crop | None = None


def is_hopeless(dates: PlantingDates) -> bool:
    """Does it ripen in fewer than half of the years here, or is it never warm enough in the open?"""
    return any(p.code in HOPELESS for p in dates.problems)


def ways_out(crop: Crop, place: PlaceYear, choice: Choice, others: Iterable[Crop] = ()) -> list[WayOut]:
    """What could be done, each with its chance, those that help first in the order of the work; empty where nothing helps."""
    plain = Choice(choice.method, "spring", packet=choice.packet)
    now = date_planting(crop, place, plain)
    found = [*_under_cover(crop, place, plain), *_older(crop, place, plain), *_faster(crop, place, plain)]
    found += islice(_instead(crop, place, others), MOST_OTHERS)
    # what it would give counts for nothing where it may not go out
    cold = windows(crop, place, plain).never_warm
    least = 0.0 if cold else (now.chance or 0.0) + 0.005
    return [way for way in found if way.chance is None or way.chance > least]


def _under_cover(crop: Crop, place: PlaceYear, choice: Choice) -> Iterator[WayOut]:
    for cover in COVERS:
        if cover != place.cover:
            dates = date_planting(crop, place.under(cover), choice)
            if not any(p.code.startswith("never_") for p in dates.problems):
                yield WayOut(cover, dates.chance, dates.sow_on, dates.out_on, dates.first.start)


def _older(crop: Crop, place: PlaceYear, choice: Choice) -> Iterator[WayOut]:
    """Set out on the first day of its window as a bigger plant: raised longer in a bigger pot, or bought."""
    at = windows(crop, place, choice._replace(method="raised"))
    if at.never_warm:
        return
    limit = int(LONGEST_SHARE * at.raising.longest)
    for kind, age in (("bigger", limit), ("bought", at.raising.longest)):
        older = (age - at.raising.middle) * chain.POT_TENTHS
        first, chance = _given(at, place, older)
        sow = at.out.start - timedelta(days=age) if kind == "bigger" else None
        if first is not None:
            yield WayOut(kind, chance, sow, at.out.start, first, age - at.raising.middle)


def _given(at: Windows, place: PlaceYear, older: int) -> tuple[date | None, float | None]:
    """First harvest and the chance of enough, set out on the first day that much ahead [tenths of days]."""
    out = at.out.start.toordinal()
    found = at.ripening.harvest(out, older)
    if found.fast >= NEVER:
        return None, found.share
    day = date.fromordinal(found.fast)
    return day, at.in_time(place, day) if found.share is None else found.share


def _faster(crop: Crop, place: PlaceYear, choice: Choice) -> Iterator[WayOut]:
    """The slowest kind that would still ripen in half of the years."""
    at = windows(crop, place, choice)
    if at.never_warm:
        return
    least = max(10, int(crop.number("mature_min")) // 2)
    for days in range(int(crop.number("mature_min")) - 1, least - 1, -1):
        kind = crop.overlaid("way out", {"mature_min": (days, "a faster kind")})
        dates = date_planting(kind, place, choice)
        if dates.chance is not None and dates.chance >= HALF_OF_YEARS:
            yield WayOut("faster", dates.chance, dates.sow_on, dates.out_on, dates.first.start, days)
            return


def _instead(crop: Crop, place: PlaceYear, others: Iterable[Crop]) -> Iterator[WayOut]:
    """Other crops that give the same, its own family first, and do ripen here."""
    same = ("yields", "life", "picked")
    alike = [c for c in others if c.key != crop.key and all(c.word(f) == crop.word(f) for f in same)]
    hardy = HARDINESS.index(crop.hardiness)

    def like(c: Crop) -> tuple[bool, int, str]:
        return c.family != crop.family, abs(HARDINESS.index(c.hardiness) - hardy), c.name

    near = [c for c in alike if like(c)[1] <= NEAR_CLASSES]
    for other in sorted(near, key=like):
        method = other.method
        dates = date_planting(other, place, Choice(method))
        if not is_hopeless(dates) and (dates.chance or 0.0) >= GOOD:
            yield WayOut("instead", dates.chance, dates.sow_on, dates.out_on, dates.first.start, crop=other)
