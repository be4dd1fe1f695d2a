"""Packets into the box: entered, brought in, described, tested, used up."""

from __future__ import annotations

from aestiva.accounts.models import User
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.season.models import Lot, Planting
from growing.seeds.sowing import How

# What a packet says, by the crop field it sets; a range gives its middle.
MOST_SEEDS = 10_000_000


def twin(garden: Garden, crop_key: str, variety: str, packed_year: int | None) -> Lot | None:
    """A lot of the same crop, variety and year that is not used up."""
    same = Lot.objects.filter(garden=garden, crop_key=crop_key, packed_year=packed_year, used_up=False)
    return same.filter(variety__iexact=variety.strip()).order_by("pk").first()


def keep(garden: Garden, user: User, lot: Lot, name: str, key: str = "", seen: str | None = None) -> Lot:
    """Write a new or changed lot."""
    verb = "Changed" if lot.pk else "Put in the seed box"
    with journal.change(garden, user, f"{verb}: {name} {lot}".strip(), key) as write:
        write.save(lot, seen)
    return lot


def packets_there(garden: Garden) -> set[tuple[str, str, int | None]]:
    """The packets that are not empty, by crop, variety in small letters, and year."""
    rows = Lot.objects.filter(garden=garden, used_up=False).values_list("crop_key", "variety", "packed_year")
    return {(key, variety.lower(), year) for key, variety, year in rows}


def sow_so(
    garden: Garden,
    user: User,
    planting: Planting,
    how: How,
    said: str,
    key: str = "",
    seen: str | None = None,
) -> None:
    """The way of sowing chosen in the calculator: in what, how many a place, what happens to those over."""
    planting.sown_in, planting.surplus = how.sown_in, how.surplus
    planting.per_cell = None if how.together else how.per_cell
    with journal.change(garden, user, said, key) as write:
        write.save(planting, seen)


def sow_from(
    garden: Garden, user: User, planting: Planting, lot: Lot | None, name: str, key: str = "", seen: str | None = None
) -> None:
    """The packet a planting is sown from, or none."""
    planting.lot = lot
    with journal.change(garden, user, f"{name}: seed from {lot or 'no packet yet'}", key) as write:
        write.save(planting, seen)
