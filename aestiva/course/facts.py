"""The season on one day as the rules see it: what each planting and batch is, its dates; what cannot be said of it."""

from __future__ import annotations

import logging
from dataclasses import dataclass, field
from datetime import date, timedelta

from aestiva.course.item import Item, Lit, Outlook, SeasonShared
from aestiva.course.warmth import Had
from aestiva.gardens.models import Garden
from aestiva.gardens.providers import link
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, Lot, Planting
from aestiva.season.rows import SeasonRows
from aestiva.season.trouble import Trouble, words_of
from growing.batch.ledger import LedgerError
from growing.chain.choice import Held
from growing.chain.dates import PlantingDates
from growing.place.nights import Night
from growing.place.year import PlaceYear
from growing.seeds.viability import Germination

log = logging.getLogger("aestiva.season")
HORIZON = timedelta(days=1200)  # no task lies further from its season's beginning, or from today


@dataclass(slots=True)
class SeasonFacts:
    """One garden's season on one day: rows, place and crops, and what the rules make of each planting."""

    garden: Garden
    today: date
    place: PlaceYear
    crops: Crops
    items: list[Item]
    rows: SeasonRows
    nights: tuple[Night, ...]
    shift_c: float = 0.0
    lots: dict[int, Lot] = field(default_factory=dict)
    known: dict[int, Germination] = field(default_factory=dict)
    troubles: list[Trouble] = field(default_factory=list)
    shared: SeasonShared | None = None
    held: dict[int, Held] = field(default_factory=dict)  # of each batch at the gates, what holds it back today
    warm: dict[int, Had] = field(default_factory=dict)  # of each batch under the mix
    lit: dict[int, Lit] | None = None  # the light that each batch had, once somebody asked
    outlooks: dict[int, Outlook] | None = None  # of the same, once somebody asked
    whole: bool = True  # not only some plantings
    wrote: frozenset[str] | None = None  # what its change wrote, where that was of batches and their tasks alone
    of_seed: bool = True  # and of what sowings say of their packets
    # log of the speed that the garden's own sowings had, by crop and measured
    paces: dict[tuple[str, bool], float] | None = None

    @property
    def horizon(self) -> date:
        """The day until which every task of the season falls due."""
        return max(self.today, date(self.place.year, 1, 1)) + HORIZON

    @property
    def night(self) -> Night | None:
        """The coming night; None where no forecast reaches it."""
        return next((night for night in self.nights if night.day == self.today), None)

    def dates(self) -> dict[int, PlantingDates]:
        """The dates of each planting as they stand today, those of its first batch where it has several."""
        found: dict[int, PlantingDates] = {}
        for item in self.items:
            found.setdefault(item.planting.pk, item.raised.dates)
        return found

    def set_out(self) -> dict[int, int | None]:
        """Plants that were set out and stand, by planting; None: none were set out yet."""
        found: dict[int, int | None] = {}
        for pk, batches in self.rows.batches.items():
            events = (e for b in batches for e in self.rows.events.get(b.pk, ()))
            found[pk] = 0 if any(kind == "planted" for kind, *_ in events) else None
        for item in self.items:
            there = item.raised.accounts
            if there is not None and there.outdoors:
                found[item.planting.pk] = (found.get(item.planting.pk) or 0) + there.outdoors
        return found

    def name_of(self, planting: Planting) -> str:
        """The crop's name; its key where nobody knows it any more."""
        return self.crops.name_of(planting.crop_key)

    def item_of(self, batch: int) -> Item | None:
        """What the rules see of a batch; None where it is not of this season, or was given up."""
        return next((item for item in self.items if item.batch is not None and item.batch.pk == batch), None)

    def trouble(self, planting: Planting, batch: Batch | None, error: Exception) -> None:
        """Note what cannot be said, once."""
        name = f"{self.name_of(planting)} {planting.variety}".strip()
        pk, kind = (planting.pk, "planting") if batch is None else (batch.pk, "batch")
        address = link(kind, self.garden.pk, pk)
        found = Trouble(name, words_of(error), address, None if batch is None else batch.pk)
        if found not in self.troubles:
            if not isinstance(error, LedgerError):
                log.warning("%s %s cannot be reckoned with", kind, pk, exc_info=error)
            self.troubles.append(found)
