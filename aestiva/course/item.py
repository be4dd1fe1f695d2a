"""One planting or batch of the season: its rows, the rules' view of it, and what was asked of it."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from datetime import date
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from aestiva.course.known import values_of
from aestiva.course.warmth import Had, SeasonWarmth
from aestiva.place.dating import Dating
from aestiva.season.models import Batch, Planting
from aestiva.season.rows import SeasonRows
from aestiva.seeds.queries import seed_of
from growing.batch.facts import BatchFacts
from growing.batch.verdict import EmergenceCase, EmergenceVerdict
from growing.chain.choice import Held
from growing.chain.leaves import LeafStage
from growing.crops import Crop
from growing.ladders.ahead import HardeningSite
from growing.ladders.ladder import Ladder, ladders
from growing.place.nights import Night
from growing.seeds.sowing import How, Seed, how_for
from growing.seeds.viability import Germination
from growing.shelves.shelf import Grown

USUAL_LADDER = "seven"


class Item(NamedTuple):
    """One planting or batch of the season: its rows, and the rules' view of it."""

    planting: Planting
    batch: Batch | None
    crop: Crop
    raised: BatchFacts
    spot_code: str  # where it stands; for a planting not yet sown, where it will grow
    grows_at: str

    @property
    def batch_pk(self) -> int:
        """The key of its batch; of an item that has one."""
        assert self.batch is not None
        return self.batch.pk

    @property
    def subject(self) -> tuple[str, int]:
        """What its tasks are of, as their references say it."""
        return ("planting", self.planting.pk) if self.batch is None else ("batch", self.batch.pk)

    @property
    def name(self) -> str:
        return self.crop.name

    @property
    def variety(self) -> str:
        return self.planting.variety

    @property
    def full_name(self) -> str:
        """The crop with its variety, if one was given."""
        return f"{self.name} {self.variety}".strip()


class SeasonShared(NamedTuple):
    """What all items share."""

    dating: Dating
    today: date
    rows: SeasonRows
    nights: tuple[Night, ...]
    shift_c: float
    garden_ladder: str
    known: dict[int, Germination]
    seeds: dict[tuple[Crop, int, int], Seed]  # by crop, lot and warmth, as far as they were asked for
    hows: dict[tuple[Crop, str, str, int | None], How]  # by crop and what was said
    warmth: SeasonWarmth
    packets: dict[int, Hashable]  # what is known of each, as far as it was asked for
    stages: Mapping[int, LeafStage] = MappingProxyType({})  # of which somebody saw the leaves, by batch
    held: Mapping[int, Held] = MappingProxyType({})  # what holds those back today that are about to go out, by batch
    door: HardeningSite = HardeningSite()
    own: Mapping[str, Ladder] = MappingProxyType({})  # the garden's own ladders, by key
    follows_from: object = None  # one and the same thing for all of this that is the same for every planting, by value

    def packet_key(self, lot_id: int | None) -> Hashable:
        """What is known of a packet, by value."""
        if lot_id is None:
            return None
        if lot_id not in self.packets:
            lot, of = self.dating.lots.get(lot_id), self.known.get(lot_id)
            age = None if of is None else (of.a, of.b, of.tested, of.life_years, of.fresh, of.age_years)
            self.packets[lot_id] = None if lot is None else values_of(lot), age
        return self.packets[lot_id]

    def ladder(self, crop: Crop, batch: Batch | None = None) -> Ladder:
        """The ladder its plants climb: the one chosen for them, the crop's own way, or the garden's."""
        way = crop.word("ladder_way")
        key = (batch.ladder if batch is not None else "") or (self.garden_ladder if way == "garden" else way)
        return self.own.get(key) or ladders().get(key) or ladders()[USUAL_LADDER]

    def how(self, crop: Crop, batch: Batch) -> How:
        """The way a batch was sown; what was not said then was as usual for the crop, whatever is chosen by now."""
        key = (crop, batch.sown_in, batch.surplus, batch.per_cell)
        if key not in self.hows:
            self.hows[key] = how_for(crop, batch.sown_in, batch.surplus or "usual", batch.per_cell)
        return self.hows[key]

    def seed(self, crop: Crop, lot_id: int | None, temperature_c: float | None = None) -> Seed | None:
        """What a lot will do at that warmth, None: the crop's own; without a lot fresh seed, or None where no warmth is known."""
        known = None if lot_id is None else self.known.get(lot_id)
        if known is None and temperature_c is None:
            return None
        key = (crop, lot_id or 0, -1 if temperature_c is None else round(temperature_c * 2))
        if key not in self.seeds:
            self.seeds[key] = seed_of(crop, known, temperature_c)
        return self.seeds[key]


class Outlook(NamedTuple):
    """One batch: the warmth it had, what is known and said of it, and the counts, rising."""

    item: Item
    had: Had
    case: EmergenceCase
    verdict: EmergenceVerdict
    counts: tuple[tuple[date, int], ...]


class Lit(NamedTuple):
    """What one batch had and became by it: growth today, days in want of light; DLI by day from `start` (NaN: nobody knows), of those the
    days up in the dark; how much warmer than it likes; true leaves that the last day brought."""

    growth: Grown
    want_days: float
    start: date
    dli: NDArray[np.float32]
    dark_days: int
    warm_c: float
    leaves_a_day: float = 0.0

    @property
    def known(self) -> bool:
        return bool(np.isfinite(self.dli).any())

    @property
    def mean(self) -> float | None:
        """Of the days that are known [mol m⁻² d⁻¹]; None: of none."""
        return float(np.nanmean(self.dli)) if self.known else None

    @property
    def last(self) -> float | None:
        """Of the last day."""
        return float(self.dli[-1]) if len(self.dli) and np.isfinite(self.dli[-1]) else None
