"""The garden's seed as the rules see it: what each lot will do, what the plan needs, what is short."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from datetime import date
from typing import NamedTuple

from aestiva.gardens.models import Garden
from aestiva.place.dating import Dating
from aestiva.season.models import Lot, Planting
from aestiva.seeds.models import SeedTest
from growing.bench.steps import count_for
from growing.crops import Crop, CropError
from growing.emergence.thermal_time import emergence_days, relative_share
from growing.seeds.orders import Order, Stock, Wanted, in_hand, order
from growing.seeds.sowing import NoCount, Seed, SowingCount
from growing.seeds.viability import STORAGES, Germination, Storage, Test, germination


def storage_of(lot: Lot) -> Storage:
    """Where the lot is kept; favourable where nobody said."""
    if lot.storage == "own" and lot.storage_c is not None and lot.storage_rh is not None:
        return Storage(lot.storage_c, lot.storage_rh)
    return Storage(*STORAGES[lot.storage]) if lot.storage in STORAGES else Storage()


def age_of(lot: Lot, today: date) -> float | None:
    """Years since the start of the season it was packed for; None where that is not known."""
    if lot.packed_year is None:
        return None
    return max(0.0, (today - date(lot.packed_year, 1, 1)).days / 365.25)


def germination_of(lot: Lot, crop: Crop, tests: Iterable[SeedTest], today: date) -> Germination:
    """What the lot will do in mix at its best warmth, by age, storage and its tests."""
    found = [Test(t.on, t.sown, t.up, t.in_mix) for t in tests]
    treated = lot.pelleted or lot.primed
    fresh, life = crop.values["fresh_germination"], crop.values["seed_years"]
    return germination(fresh, life, age_of(lot, today), storage_of(lot), found, treated, today)


def tests_of(garden: Garden) -> dict[int, list[SeedTest]]:
    """Every test by lot, in one query."""
    found: dict[int, list[SeedTest]] = defaultdict(list)
    for test in SeedTest.objects.filter(lot__garden=garden):
        found[test.lot_id].append(test)
    return found


def seeds_known(dating: Dating, tests: Mapping[int, list[SeedTest]], today: date) -> dict[int, Germination]:
    """What each lot will do, by its key."""
    return {
        pk: germination_of(lot, dating.crop_of_lot(lot.crop_key, pk), tests.get(pk, ()), today)
        for pk, lot in dating.lots.items()
        if lot.crop_key in dating.crops
    }


def seed_of(crop: Crop, found: Germination | None, temperature_c: float | None = None) -> Seed:
    """A lot's emergence at the warmth it will have; fresh seed where there is no lot yet."""
    warmth = crop.number("germinate_c") if temperature_c is None else temperature_c
    ratio = relative_share(crop, warmth)
    if found is None:
        return Seed(crop.number("fresh_germination") * ratio, None, ratio)
    return Seed(found.mean * ratio, (found.a, found.b), ratio)


def had(lot: Lot) -> int | None:
    """Seeds in the lot; None where nobody knows."""
    return in_hand(lot.seeds, lot.grams, lot.seeds_per_g, lot.used_up)


class SeedNeed(NamedTuple):
    """What one planting wants of its lot: the count to sow and by when."""

    planting: Planting
    crop: Crop
    sowing: SowingCount | None  # None: nothing comes at the warmth it would have
    sow_on: date
    hopeless: bool = False  # its own lot gives no count: counted with fresh seed

    @property
    def seeds(self) -> int:
        return 0 if self.sowing is None else self.sowing.seeds


def needs(plantings: Iterable[Planting], dating: Dating, known: Mapping[int, Germination]) -> list[SeedNeed]:
    """Sowing counts of the plantings not yet sown that are raised from seed or sown in place."""
    found = []
    for planting in plantings:
        if planting.method == "bought":
            continue
        with dating.noting(planting, planting.season.garden):
            crop = dating.crop(planting)
            sow_on = dating.dates(planting, crop).sow_on if dating.knows_frost else _kept_day(planting)
            found.append(_need(planting, crop, known.get(planting.lot_id or 0), sow_on))
    return sorted(found, key=lambda need: (need.sow_on, need.planting.pk))


def _kept_day(planting: Planting) -> date:
    """The sowing day as it was last known, where there is no frost date to count it from."""
    kept = planting.made.get("sow_on")
    if planting.chosen_sow is None and not kept:
        raise CropError("its sowing day is not known before there is a frost date")
    return planting.chosen_sow or date.fromisoformat(kept)


def _need(planting: Planting, crop: Crop, lot: Germination | None, sow_on: date) -> SeedNeed:
    count = count_of(planting, crop, seed_of(crop, lot))
    if count is None and lot is not None:
        return SeedNeed(planting, crop, count_of(planting, crop, seed_of(crop, None)), sow_on, True)
    return SeedNeed(planting, crop, count, sow_on)


def count_of(planting: Planting, crop: Crop, seed: Seed) -> SowingCount | None:
    """Cells, blocks or seeds for a raised planting, seeds in place for a direct one; None where none would be enough."""
    per_cell = planting.per_cell or int(crop.number("per_cell"))
    sown_in = "place" if planting.method == "direct" else planting.sown_in
    try:
        return count_for(crop, planting.wanted, sown_in, per_cell, seed)
    except NoCount:
        return None


class Row(NamedTuple):
    """A lot as the list shows it."""

    lot: Lot
    crop: Crop
    found: Germination
    had: int | None
    needed: int
    needs: list[SeedNeed]
    tests: list[SeedTest]

    @property
    def hopeless(self) -> bool:
        """Is something to be sown of it for which it gives no count?"""
        return any(n.hopeless for n in self.needs)

    @property
    def short(self) -> int:
        """Seeds missing for the plan; 0 where there are enough or nobody counted."""
        return 0 if self.had is None else max(0, self.needed - self.had)

    @property
    def gaps(self) -> list[str]:
        """What is not known of it."""
        unknown = {"packed year": self.lot.packed_year is None, "variety": not self.lot.variety}
        return [name for name, gap in unknown.items() if gap]


def unsown(garden: Garden) -> list[Planting]:
    """This season's plantings that nothing has been sown for."""
    wanted = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None)
    return list(wanted.filter(batches=None).select_related("season__garden").order_by("pk"))


def rows(garden: Garden, dating: Dating, today: date) -> list[Row]:
    """Every lot with what it will do and what the plan needs of it, in a constant number of queries."""
    tests = tests_of(garden)
    known = seeds_known(dating, tests, today)
    by_lot: dict[int, list[SeedNeed]] = defaultdict(list)
    for need in needs(unsown(garden), dating, known):
        if need.planting.lot_id:
            by_lot[need.planting.lot_id].append(need)
    found = []
    for pk, lot in dating.lots.items():
        if pk not in known:
            continue
        wanted = by_lot[pk]
        crop = dating.crop_of_lot(lot.crop_key, pk)
        found.append(Row(lot, crop, known[pk], had(lot), sum(n.seeds for n in wanted), wanted, tests.get(pk, [])))
    return sorted(found, key=lambda r: (r.lot.used_up, r.crop.name, r.lot.variety, r.lot.packed_year or 0))


class Short(NamedTuple):
    """Something to buy: of which crop and variety, from where, and the order."""

    crop: Crop
    variety: str
    origin: str
    order: Order


def orders(garden: Garden, dating: Dating, today: date) -> list[Short]:
    """What the plan lacks, grouped by crop and variety, the earliest first."""
    known = seeds_known(dating, tests_of(garden), today)
    groups: dict[tuple[str, str], list[SeedNeed]] = defaultdict(list)
    for need in needs(unsown(garden), dating, known):
        planting = need.planting
        lot = dating.lot(planting)
        groups[planting.crop_key, planting.variety or (lot.variety if lot else "")].append(need)
    found = []
    for (_, variety), wanted in groups.items():
        keys = {n.planting.lot_id for n in wanted if n.planting.lot_id} & dating.lots.keys()
        dead = {n.planting.lot_id for n in wanted if n.hopeless}
        lots = [dating.lots[pk] for pk in sorted(keys)]
        packets = [Stock(0 if lot.pk in dead else had(lot), lot.packet_seeds, lot.price) for lot in lots]
        missing = order([Wanted(n.seeds, n.sow_on, n.sowing.working if n.sowing else None) for n in wanted], packets)
        if missing is not None:
            found.append(Short(wanted[0].crop, variety, lots[0].origin if lots else "", missing))
    return sorted(found, key=lambda one: (one.order.by, one.crop.name))


def days_up(crop: Crop) -> float:
    """Days to half up at the crop's best warmth."""
    return emergence_days(crop, crop.number("germinate_c"))[0]


def lot_seed(planting: Planting, dating: Dating, crop: Crop, today: date) -> Seed | None:
    """What the planting's own lot will do; None where it has none."""
    lot = dating.lot(planting)
    if lot is None:
        return None
    return seed_of(crop, germination_of(lot, crop, SeedTest.objects.filter(lot=lot), today))
