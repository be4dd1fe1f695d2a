"""What can still begin today?  Each crop as it is best begun on this day: raised, sown in place, bought, or left for autumn.

Sorted by the harvest it still gives: the share of a full one, in the share of years in which it comes at all.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from typing import NamedTuple

from growing.chain.choice import Choice
from growing.chain.dates import HALF_OF_YEARS, PlantingDates, date_planting
from growing.crops import Crop, CropError
from growing.place.year import PlaceYear

KINDS = ("raise", "place", "buy", "autumn", "not yet", "not now")
SOON = timedelta(days=7)  # a sowing day that comes within a week counts as today's
STOPS = frozenset(
    (
        "too_late",
        "hopeless",
        "never_ripe",
        "never_soil",
        "never_nights",
        "never_chill",
        "no_autumn",
        "winter_kills",
        "short",
    )
)


class Late(NamedTuple):
    """A crop and how it is best begun.

    kind: one of KINDS.  worth: harvest it still gives against a full one in a sure year, 0–1; None: nobody knows, for no
    autumn frost is known.  picked_days: of harvest or bloom.  Of what is "not now", dates are those it would have.
    """

    crop: Crop
    kind: str
    method: str
    term: str
    dates: PlantingDates
    worth: float | None
    picked_days: int


def latest(crops: Iterable[Crop], place: PlaceYear, today: date) -> list[Late]:
    """Every crop, what gives most first within each kind; crops that cannot be dated are left out."""
    found = []
    for crop in crops:
        try:
            found.append(late(crop, place, today))
        except CropError:
            continue
    return sorted(
        found, key=lambda one: (KINDS.index(one.kind), -(one.worth or 0.0), one.dates.first.start, one.crop.name)
    )


def late(crop: Crop, place: PlaceYear, today: date) -> Late:
    """How the crop is best begun on that day."""
    own = crop.method
    first = date_planting(crop, place, Choice(own, "spring", not_before=today))
    if first.sow_on - today > SOON and first.sow.start > today and _useful(first):
        return _as(crop, "not yet", own, "spring", first)
    if _useful(first):
        return _as(crop, "raise" if own == "raised" else "place", own, "spring", first)
    for kind, method in (("place", "direct"), ("buy", "bought")):
        if method != own and (again := _today(crop, place, method, today)) is not None:
            waits = method == "direct" and again.sow_on - today > SOON
            return _as(crop, "not yet" if waits else kind, method, "spring", again)
    for term in _autumns(crop):
        later = date_planting(crop, place, Choice(own, term, not_before=today))
        if _useful(later) and later.sow_on >= today:
            return _as(crop, "autumn", own, term, later)
    return _as(crop, "not now", own, "spring", first)


def _today(crop: Crop, place: PlaceYear, method: str, today: date) -> PlantingDates | None:
    """In place, or bought and set out, from today on; None where it would give nothing useful, or only later in the year."""
    found = date_planting(crop, place, Choice(method, "spring", not_before=today))
    if method == "bought":
        if found.out_on < today:
            found = date_planting(crop, place, Choice(method, "spring", out_on=today))
        return found if _useful(found) and found.out_on >= today else None
    return found if _useful(found) and found.sow_on >= today else None


def _autumns(crop: Crop) -> list[str]:
    """The terms that it may be left for."""
    terms = (("autumn", crop.word("autumn_ok")), ("overwinter", crop.word("overwinters")))
    return [term for term, may in terms if may == "yes"]


def _useful(dates: PlantingDates) -> bool:
    """Does nothing stop it, and does it give enough in half of the years, as far as anybody knows?"""
    stopped = any(p.code in STOPS for p in dates.problems)
    return not stopped and (dates.chance is None or dates.chance >= HALF_OF_YEARS)


def _as(crop: Crop, kind: str, method: str, term: str, dates: PlantingDates) -> Late:
    picked = max(0, (dates.last - dates.first.start).days)
    usual = int(crop.number("yield_days"))
    share = 1.0 if crop.word("picked") == "once" else min(1.0, (picked + 1) / (usual + 1))
    known = dates.last_known and (dates.chance is not None or term != "spring")
    worth = round(share * (1.0 if dates.chance is None else dates.chance), 3) if known else None
    return Late(crop, kind, method, term, dates, worth, picked)
