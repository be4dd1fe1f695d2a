"""The garden's seed as the rules see it: what each lot will do, what the plan needs, what is short."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Container, Iterable, Mapping
from datetime import date
from types import MappingProxyType
from typing import NamedTuple

from django.db.models import Exists, OuterRef, Subquery

from aestiva.gardens.models import Garden
from aestiva.place.dating import Dating
from aestiva.season.crops import how_of
from aestiva.season.models import Batch, BatchEvent, Lot, Planting
from aestiva.seeds.models import SeedTest
from growing.batch.outlook import MOVED_ON
from growing.crops import Crop, CropError
from growing.seeds.orders import Order, PacketStock, SeedWanted, in_hand, order
from growing.seeds.shortfall import CHECK_X, Stake, stake
from growing.seeds.sowing import NoCount, Seed, SowingCount, count_for
from growing.seeds.thermal_time import emergence_days, relative_share
from growing.seeds.viability import STORAGES, Germination, Packet, Test, germination, life_factor


def storage_of(lot: Lot) -> float | None:
    """How many times longer than in a room it lives where it is kept; None where nobody said."""
    if lot.storage == "own" and lot.storage_c is not None and lot.storage_rh is not None:
        return life_factor(lot.storage_c, lot.storage_rh)
    return STORAGES.get(lot.storage)


def packet_of(lot: Lot, year: int) -> Packet:
    """What is known of the lot in the season of that year; a packet is new in the season it was packed for."""
    age = None if lot.packed_year is None else float(max(0, year - lot.packed_year))
    return Packet(age, storage_of(lot), lot.pelleted or lot.primed, lot.saved, lot.printed)


def germination_of(
    lot: Lot, crop: Crop, tests: Iterable[SeedTest], today: date, year: int, sowings: Iterable[Test] = ()
) -> Germination:
    """What the lot will do in mix at its best warmth, by age, storage, its tests and sowings."""
    found = [*(Test(t.on, t.sown, t.up, t.in_mix) for t in tests), *sowings]
    return germination(crop, packet_of(lot, year), found, today)


def tests_of(garden: Garden, lots: Iterable[int] | None = None) -> dict[int, list[SeedTest]]:
    """Every test by lot, in one query.  lots: of those only."""
    found: dict[int, list[SeedTest]] = defaultdict(list)
    rows = SeedTest.objects.filter(lot__garden=garden)
    for test in rows if lots is None else rows.filter(lot__in=list(lots)):
        found[test.lot_id].append(test)
    return found


class OwnSowing(NamedTuple):
    """A batch of a lot that was counted: sown and up in all, and the day of the last count."""

    sown_on: date
    sown: int
    up: int
    counted_on: date


def sowings_of(garden: Garden, lots: Iterable[int] | None = None) -> dict[int, list[OwnSowing]]:
    """Every sowing of a lot whose seedlings have gone on and were counted, of all seasons, in one query.  lots: of those only."""
    events = BatchEvent.objects.filter(batch=OuterRef("pk"))
    ups = events.filter(kind="up", count__isnull=False).order_by("-on", "-pk")
    rows = (
        Batch.objects.filter(lot__garden=garden, sown_on__isnull=False)
        .filter(Exists(events.filter(kind__in=MOVED_ON)))
        .annotate(
            sown=Subquery(events.filter(kind="sown").order_by("pk").values("count")[:1]),
            up=Subquery(ups.values("count")[:1]),
            counted=Subquery(ups.values("on")[:1]),
        )
        .order_by("pk")
    )
    if lots is not None:
        rows = rows.filter(lot__in=list(lots))
    found: dict[int, list[OwnSowing]] = defaultdict(list)
    for lot, sown_on, sown, up, counted in rows.values_list("lot_id", "sown_on", "sown", "up", "counted"):
        if sown and sown_on is not None and up is not None and counted is not None:
            found[lot].append(OwnSowing(sown_on, sown, min(up, sown), counted))
    return found


def _to_the_end(sowings: Iterable[OwnSowing], crop: Crop, dating: Dating) -> list[Test]:
    """Those that were counted late enough to speak of the lot."""
    wait = CHECK_X * dating.speed(crop, None)[0]
    return [Test(s.counted_on, s.sown, s.up, True, True) for s in sowings if (s.counted_on - s.sown_on).days >= wait]


def of_crops(lots: Mapping[int, Lot], crops: Container[str]) -> set[int]:
    """Those that are of a crop which is known here."""
    return {pk for pk, lot in lots.items() if lot.crop_key in crops}


def seeds_known(
    dating: Dating,
    lots: Iterable[int],
    tests: Mapping[int, list[SeedTest]],
    today: date,
    year: int,
    sowings: Mapping[int, list[OwnSowing]] = MappingProxyType({}),
) -> dict[int, Germination]:
    """What each of those lots will do, by its key: by age and storage, its tests, and what came of it here."""
    found = {}
    for pk in lots:
        lot = dating.lots[pk]
        crop = dating.crop_of_lot(lot.crop_key, pk)
        own = _to_the_end(sowings.get(pk, ()), crop, dating)
        found[pk] = germination_of(lot, crop, tests.get(pk, ()), today, year, own)
    return found


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
    lot: Lot | None  # the packet it is sown from
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
            lot = dating.lot(planting)
            at = stake_of(planting, crop, dating) if dating.knows_frost else Stake()
            found.append(_need(planting, crop, lot, None if lot is None else known.get(lot.pk), sow_on, at))
    return sorted(found, key=lambda need: (need.sow_on, need.planting.pk))


def _kept_day(planting: Planting) -> date:
    """The sowing day as it was last known, where there is no frost date to count it from."""
    kept = planting.made.get("sow_on")
    if planting.chosen_sow is None and not kept:
        raise CropError("its sowing day is not known before there is a frost date")
    return planting.chosen_sow or date.fromisoformat(kept)


def stake_of(planting: Planting, crop: Crop, dating: Dating) -> Stake:
    """What a shortfall of its sowing costs."""
    dates = dating.dates(planting, crop)
    return stake(dates.sow_on, dates.sow_closes, dating.speed(crop, None)[0])


def _need(
    planting: Planting, crop: Crop, lot: Lot | None, known: Germination | None, sow_on: date, at: Stake
) -> SeedNeed:
    count = count_of(planting, crop, seed_of(crop, known), at)
    if count is None and known is not None:
        return SeedNeed(planting, crop, lot, count_of(planting, crop, seed_of(crop, None), at), sow_on, True)
    return SeedNeed(planting, crop, lot, count, sow_on)


def count_of(planting: Planting, crop: Crop, seed: Seed, at: Stake = Stake()) -> SowingCount | None:
    """Cells, blocks or seeds for a raised planting, seeds in place for a direct one; None where none would be enough."""
    try:
        return count_for(crop, planting.wanted, how_of(planting, crop), seed, at.confidence)
    except NoCount:
        return None


class PacketRow(NamedTuple):
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


def rows(garden: Garden, dating: Dating, today: date) -> list[PacketRow]:
    """Every lot with what it will do and what the plan needs of it, in a constant number of queries."""
    tests = tests_of(garden)
    known = seeds_known(dating, of_crops(dating.lots, dating.crops), tests, today, garden.year, sowings_of(garden))
    by_lot: dict[int, list[SeedNeed]] = defaultdict(list)
    for need in needs(unsown(garden), dating, known):
        if need.lot is not None:
            by_lot[need.lot.pk].append(need)
    found = []
    for pk, lot in dating.lots.items():
        if pk not in known:
            continue
        wanted = by_lot[pk]
        crop = dating.crop_of_lot(lot.crop_key, pk)
        found.append(PacketRow(lot, crop, known[pk], had(lot), sum(n.seeds for n in wanted), wanted, tests.get(pk, [])))
    return sorted(found, key=lambda r: (r.lot.used_up, r.crop.name, r.lot.variety, r.lot.packed_year or 0))


class Short(NamedTuple):
    """Something to buy: of which crop and variety, from where, and the order."""

    crop: Crop
    variety: str
    origin: str
    order: Order


def orders(garden: Garden, dating: Dating, today: date) -> list[Short]:
    """What the plan lacks, grouped by crop and variety, the earliest first."""
    here = of_crops(dating.lots, dating.crops)
    known = seeds_known(dating, here, tests_of(garden), today, garden.year, sowings_of(garden))
    groups: dict[tuple[str, str], list[SeedNeed]] = defaultdict(list)
    for need in needs(unsown(garden), dating, known):
        planting = need.planting
        groups[planting.crop_key, planting.variety or (need.lot.variety if need.lot else "")].append(need)
    found = []
    for (_, variety), wanted in groups.items():
        keys = {n.lot.pk for n in wanted if n.lot is not None}
        dead = {n.lot.pk for n in wanted if n.hopeless and n.lot is not None}
        lots = [dating.lots[pk] for pk in sorted(keys)]
        packets = [PacketStock(0 if lot.pk in dead else had(lot), lot.packet_seeds, lot.price) for lot in lots]
        missing = order(
            [SeedWanted(n.seeds, n.sow_on, n.sowing.working if n.sowing else None) for n in wanted], packets
        )
        if missing is not None:
            found.append(Short(wanted[0].crop, variety, lots[0].origin if lots else "", missing))
    return sorted(found, key=lambda one: (one.order.by, one.crop.name))


def days_up(crop: Crop) -> float:
    """Days to half up at the crop's best warmth."""
    return emergence_days(crop, crop.number("germinate_c"))[0]


def lot_known(planting: Planting, dating: Dating, crop: Crop, today: date, year: int) -> Germination | None:
    """What the planting's own lot will do at its best warmth; None where it has none."""
    lot = dating.lot(planting)
    return None if lot is None else lot_found(lot, crop, dating, SeedTest.objects.filter(lot=lot), today, year)


def lot_found(lot: Lot, crop: Crop, dating: Dating, tests: Iterable[SeedTest], today: date, year: int) -> Germination:
    """What one lot will do: by age and storage, its tests, and what came of it here."""
    sowings = sowings_of(lot.garden, [lot.pk]).get(lot.pk, ())
    return germination_of(lot, crop, tests, today, year, _to_the_end(sowings, crop, dating))
