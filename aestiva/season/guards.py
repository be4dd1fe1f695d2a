"""What must hold of the season's rows: ledgers balance, crops resolve."""

from __future__ import annotations

from aestiva.gardens.guards import Wrong, register_guard
from aestiva.gardens.models import Garden
from aestiva.season.actions import accounts_of, ledger_words
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, BatchEvent, CropValue, GardenCrop, Lot, Planting
from growing.crops import CropError
from growing.ledger import LedgerError


def balances(garden: Garden, pks: set[int]) -> list[Wrong]:
    """Both ledgers of these batches and of all that were split off them."""
    found, open_ = [], set(pks)
    seen: set[int] = set()
    while open_:
        seen |= open_
        for batch in Batch.objects.filter(pk__in=open_).prefetch_related("events"):
            try:
                accounts_of(batch)
            except LedgerError as error:
                found.append(
                    Wrong(Batch._meta.label, batch.pk, f"the accounts would not balance: {ledger_words(error)}")
                )
        open_ = set(Batch.objects.filter(parent__in=open_).values_list("pk", flat=True)) - seen
    return found


def crops_known(garden: Garden, pks: set[int]) -> list[Wrong]:
    """No planting and no packet is of a crop that is gone."""
    crops = Crops(garden)
    plantings, lots = Planting.objects.filter(season__garden=garden), Lot.objects.filter(garden=garden)
    rows: list[Planting | Lot] = [*plantings, *lots]
    missing = [row for row in rows if row.crop_key not in crops]
    return [Wrong(row._meta.label, row.pk, f"“{row}” is of this crop") for row in missing]


def values_fit(garden: Garden, pks: set[int]) -> list[Wrong]:
    """The garden's own values fit together, and with what its packets say."""
    crops = Crops(garden)
    here = set(CropValue.objects.filter(pk__in=pks).values_list("crop_key", flat=True))
    found = []
    for key in (here or set(crops.changed)) & {*crops.keys()}:
        crop = crops[key]
        if key in crops.broken:
            found.append(Wrong(CropValue._meta.label, max(pks), crops.broken[key]))
            continue
        try:
            for lot in Lot.objects.filter(garden=garden, crop_key=key).exclude(facts={}):
                crop.overlaid("lot", {f: (v[0], v[1]) for f, v in lot.facts.items()})
        except CropError as error:
            found.append(Wrong(CropValue._meta.label, max(pks), f"{error}"))
    return found


def register() -> None:
    register_guard("ledgers", Batch, balances, {BatchEvent._meta.label: "batch_id"})
    register_guard("crops", GardenCrop, crops_known)
    register_guard("crop values", CropValue, values_fit)
