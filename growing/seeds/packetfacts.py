"""What does a packet change?  Readings that a grower confirmed, as values of the crop, weeks and a year."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from growing.crops.schema import CHECK_DAYS
from growing.seeds.packettext import PacketReading, PacketText

FACT_FIELDS = {
    "depth_cm": "depth_cm",
    "germinate_c": "germinate_c",
    "soil_c": "soil_c",
    "days_up": "best_days",
    "light": "light",
    "spacing_cm": "spacing_cm",
    "height_cm": "height_cm",
    "soak_h": "soak_h",
    "chill_days": "chill_days",
}
LONGEST_WHY = 200
LEAST_MATURE_DAYS = 10  # from planting out to the first yield, whatever a packet says


class Weeks(NamedTuple):
    """The packet's weeks (shortest, longest) before a base, and its own planting offset in weeks, None where not said."""

    weeks_min: float
    weeks_max: float
    base: str
    out_weeks: float | None


class PacketFacts(NamedTuple):
    """values: crop field -> (value, the words it was read from).  weeks, year: None where the packet says none."""

    values: dict[str, tuple[float | str, str]]
    weeks: Weeks | None
    year: int | None


def packet_facts(read: PacketText, chosen: Mapping[str, int], base: str, raising_days: int = 0) -> PacketFacts:
    """What confirmed readings set.

    chosen: field -> which of its readings (0: the first).  base: as confirmed, "" where nobody knows: last frost is taken.
    raising_days: middle raising time of the crop; days from sowing in place run so much longer than from planting out.
    """
    taken = {r.field: _chosen(read, r, chosen[r.field]) for r in read.readings if r.field in chosen}
    values: dict[str, tuple[float | str, str]] = {}
    for field, one in taken.items():
        why = f"packet: {one.text}"[:LONGEST_WHY]
        if field in FACT_FIELDS:
            value = one.value if isinstance(one.value, str) else round(sum(one.value) / 2, 2)
            values[FACT_FIELDS[field]] = (value, why)
        elif field == "mature_days" and not isinstance(one.value, str):
            said = taken["mature_from"].value if "mature_from" in taken else read.value("mature_from")
            less = raising_days - CHECK_DAYS if said == "sowing" and raising_days else 0
            low, high = (max(LEAST_MATURE_DAYS, days - less) for days in one.value)
            values["mature_min"], values["mature_max"] = (low, why), (high, why)
    return PacketFacts(values, _weeks(taken, base), _year(taken))


def _chosen(read: PacketText, first: PacketReading, which: int) -> PacketReading:
    """One of the readings of a field that the text gives twice."""
    options = read.conflicts.get(first.field, (first,))
    return options[min(which, len(options) - 1)]


def _weeks(taken: Mapping[str, PacketReading], base: str) -> Weeks | None:
    weeks = taken["weeks"].value if "weeks" in taken else None
    if weeks is None or isinstance(weeks, str):
        return None
    out = taken["out_weeks"].value if "out_weeks" in taken else None
    return Weeks(*weeks, base or "last_frost", None if out is None or isinstance(out, str) else sum(out) / 2)


def _year(taken: Mapping[str, PacketReading]) -> int | None:
    year = taken["packed_year"].value if "packed_year" in taken else None
    return None if year is None or isinstance(year, str) else int(year[0])
