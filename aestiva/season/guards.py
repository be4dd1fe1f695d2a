"""What must hold of the season's rows: ledgers balance, crops resolve."""

from __future__ import annotations

from itertools import groupby
from operator import itemgetter

from aestiva.gardens.guards import Wrong, register_guard
from aestiva.gardens.models import Garden
from aestiva.season.actions import ledger_words
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, BatchEvent, CropValue, GardenCrop, Lot, Planting
from growing.batch.history import COUNTED
from growing.batch.ledger import balance
from growing.crops import CropError


def balances(garden: Garden, pks: set[int]) -> list[Wrong]:
    """Both ledgers of these batches and of all that were split off them."""
    found: list[Wrong] = []
    open_, seen = set(pks), set()
    while open_:
        seen |= open_
        events = BatchEvent.objects.filter(batch_id__in=open_, count__isnull=False).order_by()
        found_rows = events.values_list("batch_id", "on", "pk", "kind", "count", "estimated")
        rows = sorted(row for row in found_rows if row[3] in COUNTED)
        for batch, own in groupby(rows, key=itemgetter(0)):
            if (error := balance(row[3:] for row in own)[1]) is not None:
                words = f"the accounts would not balance: {ledger_words(error)}"
                found.append(Wrong(Batch._meta.label, batch, words))
        parents = {row[0] for row in rows if row[3] == "moved"}
        open_ = set(Batch.objects.filter(parent__in=parents).values_list("pk", flat=True)) - seen if parents else set()
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
