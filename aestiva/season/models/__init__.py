"""The rows several stages share."""

from aestiva.season.models.absences import Absence
from aestiva.season.models.batches import Batch, BatchEvent, BatchLink, known_event
from aestiva.season.models.crops import CropValue, GardenCrop, usable_in_addresses
from aestiva.season.models.ladders import OwnLadder
from aestiva.season.models.lamps import Lamp, LampSetting, LightReading, Tariff
from aestiva.season.models.plantings import (
    COLOURS,
    COUNT,
    SOWN_IN,
    SURPLUS,
    UNITS,
    BedArea,
    Lot,
    Planting,
    Season,
    TaskMark,
    TaskNote,
)
from aestiva.season.models.spots import (
    FACING_SAID,
    HANGS,
    HEATED,
    PLACE,
    SIZE,
    SUNS,
    Spot,
    WarmReading,
)
from aestiva.season.models.things import BatchStand, CellRun, Container, Goes, Tray, TrayStand

__all__ = [
    "COLOURS",
    "COUNT",
    "FACING_SAID",
    "HANGS",
    "HEATED",
    "PLACE",
    "SIZE",
    "SOWN_IN",
    "SUNS",
    "SURPLUS",
    "UNITS",
    "Absence",
    "Batch",
    "BatchEvent",
    "BatchLink",
    "BatchStand",
    "BedArea",
    "CellRun",
    "Container",
    "CropValue",
    "GardenCrop",
    "Goes",
    "Lamp",
    "LampSetting",
    "LightReading",
    "Lot",
    "OwnLadder",
    "Planting",
    "Season",
    "Spot",
    "Tariff",
    "TaskMark",
    "TaskNote",
    "Tray",
    "TrayStand",
    "WarmReading",
    "known_event",
    "usable_in_addresses",
]  # fmt: skip
