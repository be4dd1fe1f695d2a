"""Which packet is a planting sown from?  The one chosen, otherwise one of its crop and variety, as a grower would take it."""

from __future__ import annotations

from collections.abc import Iterable

from aestiva.season.models import Lot, Planting


def serves(lot: Lot, planting: Planting) -> bool:
    """Could it be sown from this packet?  Of its crop, with the variety named, or neither names one."""
    same = lot.variety.strip().lower() == planting.variety.strip().lower()
    return lot.crop_key == planting.crop_key and same and not lot.used_up


def lot_for(planting: Planting, lots: Iterable[Lot]) -> Lot | None:
    """The packet chosen, or the first that would do; None where there is none.  lots: of the garden, oldest first."""
    if planting.method == "bought":
        return None
    if planting.lot_id is not None:
        return next((lot for lot in lots if lot.pk == planting.lot_id), None)
    return next((lot for lot in lots if serves(lot, planting)), None)


def lot_of(planting: Planting) -> Lot | None:
    """The same, from the rows."""
    if planting.lot_id is not None:
        return planting.lot
    garden = planting.season.garden_id
    return lot_for(planting, Lot.objects.filter(garden=garden, crop_key=planting.crop_key).order_by("pk"))
