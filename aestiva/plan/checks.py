"""Does a garden brought in hold together?  Its crops resolve, its dates can be reckoned, its ledgers balance."""

from __future__ import annotations

from aestiva.gardens import clock
from aestiva.gardens.models import Garden
from aestiva.place.queries import NoFrostDate
from aestiva.plan.queries import sheet
from aestiva.season.actions import accounts_of
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, Planting
from growing.crops import CropError
from growing.ledger import LedgerError


def holds_together(garden: Garden) -> list[str]:
    """What does not, in words that name the place; empty when all is well."""
    try:
        crops = Crops(garden)
        list(crops)
    except (CropError, KeyError, TypeError) as error:
        return [f"crops: {error} does not hold together."]
    unknown = sorted(
        {k for k in Planting.objects.filter(season__garden=garden).values_list("crop_key", flat=True) if k not in crops}
    )
    if unknown:
        return [f"plantings: there is no crop “{key}” here or in the document." for key in unknown]
    batches = Batch.objects.filter(planting__season__garden=garden).order_by("pk").prefetch_related("events")
    for number, batch in enumerate(batches, 1):
        try:
            accounts_of(batch)
        except LedgerError as error:
            return [f"batches {number}: its events do not balance ({error})."]
    try:
        sheet(garden, clock.today(garden))
    except NoFrostDate:
        pass
    except (CropError, KeyError, TypeError, ValueError, AttributeError, OverflowError) as error:
        return [f"plantings: packet, values or dates cannot be reckoned with ({error})."]
    return []
