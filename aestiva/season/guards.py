"""What must hold of the season's rows: ledgers balance, crops resolve."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from operator import itemgetter

from django.db.models import Q

from aestiva.gardens.guards import BrokenRow, register_guard
from aestiva.gardens.models import Garden
from aestiva.season.crops import Crops
from aestiva.season.ledgers import ledger_words
from aestiva.season.models import (
    Batch,
    BatchEvent,
    BatchLink,
    CellRun,
    CropValue,
    GardenCrop,
    Lot,
    Planting,
    Tray,
    TrayStand,
)  # fmt: skip
from growing.batch.history import COUNTED
from growing.batch.ledger import Entry, balance
from growing.batch.links import Link, inward, outward, parents_first, with_links
from growing.bench.trays import Run, clash
from growing.crops import CropError


def balances(garden: Garden, pks: set[int]) -> list[BrokenRow]:
    """Both ledgers of these batches and of all that came from them."""
    found: list[BrokenRow] = []
    open_, seen = set(pks), set()
    while open_:
        seen |= open_
        told = BatchEvent.objects.filter(batch_id__in=open_).order_by()
        rows: dict[int, list[tuple[date, Entry]]] = defaultdict(list)
        for batch, on, _, kind, count, guess in sorted(
            told.values_list("batch_id", "on", "pk", "kind", "count", "estimated"), key=itemgetter(1, 2)
        ):
            if count is not None and kind in COUNTED:
                rows[batch].append((on, Entry(kind, count, guess)))
        links = _links(Q(parent_id__in=open_) | Q(child_id__in=open_))
        given, taken = inward(links), outward(links)
        for batch in open_:
            error = balance(with_links(rows.get(batch, ()), given.get(batch, ()), taken.get(batch, ())))[1]
            if error is not None:
                words = f"the accounts would not balance: {ledger_words(error)}"
                found.append(BrokenRow(Batch._meta.label, batch, words))
        open_ = {link.child for link in links if link.parent in open_} - seen
    return found


def _links(which: Q) -> list[Link]:
    rows = BatchLink.objects.filter(which).order_by()
    return [Link(*row) for row in rows.values_list("parent_id", "child_id", "on", "count")]


def links_hold(garden: Garden, pks: set[int]) -> list[BrokenRow]:
    """No batch comes from itself, and only plants of one packet and sowing day are put together."""
    links = _links(Q(child__planting__season__garden=garden))
    try:
        parents_first({key for link in links for key in (link.parent, link.child)}, links)
    except ValueError:
        return [BrokenRow(BatchLink._meta.label, max(pks), "a batch would come from itself")]
    found = []
    for link in BatchLink.objects.filter(pk__in=pks).select_related("parent", "child"):
        one, other = link.parent, link.child
        if link.count == 0 and one.planting_id == other.planting_id:
            continue  # sown again beside the first: no plant of it
        if (one.planting_id, one.lot_id, one.sown_on) != (other.planting_id, other.lot_id, other.sown_on):
            found.append(
                BrokenRow(BatchLink._meta.label, link.pk, "plants of another packet or sowing day cannot join them")
            )
    return found


def trays_hold(garden: Garden, pks: set[int]) -> list[BrokenRow]:
    """Of a tray no cell holds two batches on one day, no run goes over its end, and it stands in one place at a time."""
    found = []
    trays = Tray.objects.filter(pk__in=pks).prefetch_related("runs", "stands")
    for tray in trays:
        runs = [Run(r.first, r.count, r.since, r.until) for r in tray.runs.all()]
        stands = [Run(1, 1, s.since, s.until) for s in tray.stands.all()]
        if clash(runs, tray.cells):
            found.append(
                BrokenRow(
                    Tray._meta.label, tray.pk, f"two batches would be in the same cells of {tray}, or beyond them"
                )
            )
        elif clash(stands, 1):
            found.append(BrokenRow(Tray._meta.label, tray.pk, f"{tray} would stand in two places at once"))
    return found


def crops_known(garden: Garden, pks: set[int]) -> list[BrokenRow]:
    """No planting and no packet is of a crop that is gone."""
    crops = Crops(garden)
    plantings, lots = Planting.objects.filter(season__garden=garden), Lot.objects.filter(garden=garden)
    rows: list[Planting | Lot] = [*plantings, *lots]
    missing = [row for row in rows if row.crop_key not in crops]
    return [BrokenRow(row._meta.label, row.pk, f"“{row}” is of this crop") for row in missing]


def values_fit(garden: Garden, pks: set[int]) -> list[BrokenRow]:
    """The garden's own values fit together, and with what its packets say."""
    crops = Crops(garden)
    here = set(CropValue.objects.filter(pk__in=pks).values_list("crop_key", flat=True))
    found = []
    for key in (here or set(crops.changed)) & {*crops.keys()}:
        crop = crops[key]
        if key in crops.broken:
            found.append(BrokenRow(CropValue._meta.label, max(pks), crops.broken[key]))
            continue
        try:
            for lot in Lot.objects.filter(garden=garden, crop_key=key).exclude(facts={}):
                crop.overlaid("lot", {f: (v[0], v[1]) for f, v in lot.facts.items()})
        except CropError as error:
            found.append(BrokenRow(CropValue._meta.label, max(pks), f"{error}"))
    return found


def register() -> None:
    ledgers = {BatchEvent._meta.label: ("batch_id",), BatchLink._meta.label: ("parent_id", "child_id")}
    register_guard("ledgers", Batch, balances, ledgers)
    register_guard("links", BatchLink, links_hold)
    register_guard("trays", Tray, trays_hold, {m._meta.label: ("tray_id",) for m in (CellRun, TrayStand)})
    register_guard("crops", GardenCrop, crops_known)
    register_guard("crop values", CropValue, values_fit)
