"""Does a garden brought in hold together?  Its crops and packets resolve, its dates can be reckoned, its ledgers balance."""

from __future__ import annotations

from django.db.models import F

from aestiva.beds.queries import laid_out, standing
from aestiva.course.state import load
from aestiva.gardens import clock
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.season.crops import Crops
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, Lot, Planting
from aestiva.seeds.models import SeedTest
from growing.batch.ledger import LedgerError
from growing.chain.raising import PacketTiming
from growing.crops import CropError


def holds_together(garden: Garden) -> list[str]:
    """What does not, in words that name the place; empty when all is well."""
    try:
        crops = Crops(garden)
        list(crops)
    except (CropError, KeyError, TypeError) as error:
        return [f"crops: {error} does not hold together."]
    if crops.broken:
        return [f"crop_values: {error}: that does not hold together." for error in crops.broken.values()]
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
    return [*_seeds(garden, crops), *_dates(garden)]


def _seeds(garden: Garden, crops: Crops) -> list[str]:
    """Packets of known crops, with values that can stand; tests with no more up than sown."""
    for number, lot in enumerate(Lot.objects.filter(garden=garden).order_by("pk"), 1):
        if lot.crop_key not in crops:
            return [f"lots {number}: there is no crop “{lot.crop_key}” here or in the document."]
        try:
            crops[lot.crop_key].overlaid("lot", {field: (value[0], value[1]) for field, value in lot.facts.items()})
            if lot.packet:
                PacketTiming(**lot.packet)
        except (CropError, KeyError, TypeError, ValueError, AttributeError, IndexError) as error:
            return [f"lots {number}: what its packet says cannot stand ({error})."]
    if SeedTest.objects.filter(lot__garden=garden, up__gt=F("sown")).exists():
        return ["seed_tests: in one of them more came than were laid out."]
    return []


def _dates(garden: Garden) -> list[str]:
    """Every date can be reckoned, and every bed drawn."""
    today = clock.today(garden)
    try:
        troubles = load(garden, today).troubles
        if troubles:
            return [f"plantings: {troubles[0].name} cannot be reckoned with ({troubles[0].words})."]
        laid_out(garden, standing(garden))
    except NoFrostDate:
        pass
    except (CropError, KeyError, TypeError, ValueError, AttributeError, OverflowError) as error:
        return [f"plantings: packet, values, dates or areas cannot be reckoned with ({error})."]
    return []
