"""Dates for the garden's plantings: each different case once, from its place, crops, seed lots and beds."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from contextlib import contextmanager
from copy import copy
from datetime import date
from functools import cached_property
from typing import Any

from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.gardens.providers import link
from aestiva.place.ground import Free, beside, shared_ground
from aestiva.place.queries import place_year
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, Lot, Planting, Spot
from aestiva.season.packets import lot_for
from aestiva.season.things import vessels_of
from aestiva.season.trouble import CANNOT, Trouble, words_of
from growing.chain.choice import Choice
from growing.chain.course import emergence_speed
from growing.chain.dates import PlantingDates, date_planting
from growing.chain.path import Vessel, age_limit_days
from growing.chain.raising import PacketTiming
from growing.chain.roomwarmth import Room, room_of
from growing.chain.winterbox import box_days
from growing.crops import Crop
from growing.place.warmth import COVER_AIR_C
from growing.place.year import PlaceYear

Ground = Callable[["Dating"], Mapping[int, Free]]
_asked: list[Callable[[Garden], Ground]] = []


def ask_of_ground(ask: Callable[[Garden], Ground]) -> None:
    """Whoever knows the dates as they stand says from when ground is free."""
    _asked.append(ask)


class Dating:
    """Dates plantings of one place, each different case once.

    garden: the garden whose beds say when ground is free; None: no bed is looked at.  ground: plantings on the same
    ground, and says: who knows from when it is free, where the season is in hand.  place: None where there is no frost
    date yet.  covers: spots under a cover, by their key.  lots: seed lots by their key, for what
    their packets say.
    """

    def __init__(
        self,
        place: PlaceYear | None,
        crops: Crops,
        covers: Mapping[int, str] | None = None,
        lots: Mapping[int, Lot] | None = None,
        garden: Garden | None = None,
        says: Ground | None = None,
        ground: Mapping[int, set[int]] | None = None,
    ) -> None:
        self._garden, self._says = garden, says
        self._free: Mapping[int, Free] | None = None if garden is not None else {}
        self._ground: list[Mapping[int, set[int]]] = [] if ground is None else [ground]
        self._instead: dict[int, Planting] = {}
        self._rooms: dict[int, Room | None] = {}
        self._spots: dict[int, Spot] = {}
        self._vessels: dict[str, Vessel] | None = None
        self._place, self.crops, self.covers, self.lots = place, crops, covers or {}, lots or {}
        self._open: dict[str, list[Lot]] = defaultdict(list)  # packets that are not empty, by crop
        for lot in self.lots.values():
            self._open[lot.crop_key].append(lot)
        self._speeds: dict[Any, tuple[float, str]] = {}
        self._by_lot: dict[tuple[str, int], Crop] = {}
        self._broken: dict[int, str] = {}  # lots whose packet says what cannot stand: left aside
        self._unsaid: dict[int, Trouble] = {}  # plantings that cannot be reckoned with, by their key

    def with_others(self, instead: Mapping[int, Planting]) -> Dating:
        """The same, with some plantings as they might be; what was dated stays dated."""
        other = copy(self)
        other._instead, other._free = dict(instead), None if self._garden is not None else {}
        return other

    def with_ground(self, free: Mapping[int, Free]) -> Dating:
        """The same, with ground that is known to be free from then on."""
        other = copy(self)
        other._free = free
        return other

    def beside(self, plantings: Collection[int]) -> set[int]:
        """Plantings on the same ground as these, and on that of those in turn."""
        return beside(plantings, self.shared_ground)

    @property
    def shared_ground(self) -> Mapping[int, set[int]]:
        """Plantings laid out on the same piece of ground, by their keys both ways; asked once."""
        if not self._ground and self._garden is not None:
            self._ground.append(shared_ground(self._garden))
        return self._ground[0] if self._ground else {}

    def as_it_is(self, planting: Planting) -> Planting:
        """The planting, or what it might be instead."""
        return self._instead.get(planting.pk, planting)

    @property
    def place(self) -> PlaceYear:
        """The place in its year; raises NoFrostDate where it has none yet: crops and lots are known even so."""
        if self._place is None:
            raise NoFrostDate
        return self._place

    @property
    def knows_frost(self) -> bool:
        return self._place is not None

    def lot(self, planting: Planting) -> Lot | None:
        """The packet it is sown from: the one chosen, or one of its crop and variety."""
        if planting.lot_id is not None:
            return self.lots.get(planting.lot_id)
        return lot_for(planting, self._open.get(planting.crop_key, ()))

    def crop(self, planting: Planting) -> Crop:
        """Library < garden's crop < lot < planting."""
        lot = self.lot(planting)
        crop = self.crop_of_lot(planting.crop_key, None if lot is None else lot.pk)
        if planting.values:
            crop = crop.overlaid("planting", {f: (v[0], v[1]) for f, v in planting.values.items()})
        return crop

    def crop_of_lot(self, crop_key: str, lot_id: int | None) -> Crop:
        """The crop with what the lot's packet says of it."""
        lot = self.lots.get(lot_id) if lot_id is not None else None
        if lot is None or not lot.facts:
            return self.crops[crop_key]
        key = (crop_key, lot.pk)
        if key not in self._by_lot:
            plain = self.crops[crop_key]
            try:
                self._by_lot[key] = plain.overlaid("lot", {f: (v[0], v[1]) for f, v in lot.facts.items()})
            except CANNOT as error:
                self._by_lot[key], self._broken[lot.pk] = plain, words_of(error)
        return self._by_lot[key]

    @contextmanager
    def noting(self, planting: Planting, garden: Garden) -> Iterator[None]:
        """Around what is said of one planting: what cannot be is noted as its trouble, and all else goes on."""
        try:
            yield
        except CANNOT as error:
            address = link("planting", garden.pk, planting.pk)
            self._unsaid[planting.pk] = Trouble(
                f"{self.name_of(planting)} {planting.variety}".strip(), words_of(error), address
            )

    def name_of(self, planting: Planting) -> str:
        """The crop's name; its key where nobody knows it any more."""
        return self.crops.name_of(planting.crop_key)

    def troubles(self, garden: Garden) -> list[Trouble]:
        """What crops, packets and plantings say that cannot stand, as far as they were asked for."""
        found = [
            Trouble(self.crops.plain(key).name, words, link("crop", garden.pk, key))
            for key, words in self.crops.broken.items()
        ]
        found += self._unsaid.values()
        for pk, words in self._broken.items():
            found.append(Trouble(f"the packet {self.lots[pk]}", words, link("lot", garden.pk, pk)))
        for lot in self.lots.values():
            if lot.crop_key not in self.crops:
                words = f"its crop, “{lot.crop_key}”, is not known here any more"
                found.append(Trouble(f"the packet {lot}", words, link("lot", garden.pk, lot.pk)))
        return found

    def choice(self, planting: Planting, sown_on: date | None = None) -> Choice:
        """The grower's settled dates; what was really sown overrides what was chosen."""
        out, room, sown = planting.chosen_out, self.room(planting), sown_on is not None
        sow, because = (sown_on, "chosen") if sown else self.day_given(planting, planting.chosen_sow)
        return Choice(
            planting.method,
            planting.term,
            sow,
            out,
            self.packet(planting),
            bed_free=self.ground_free(planting),
            not_before=None if sow is not None else self.begins_on(planting),
            room=room,
            sown=sown,
            carries_days=self.carries_days(planting),
            sow_because=because,
        )

    def day_given(self, planting: Planting, day: date | None) -> tuple[date | None, str]:
        """The sowing day that somebody gave, and why it stands: what was sown on it and lost is sown again as soon as can be."""
        lost = self.lost_on.get(planting.pk)
        return (day, "chosen") if day is None or lost is None or day > lost else (lost, "again")

    def begins_on(self, planting: Planting) -> date | None:
        """The day from which it is to be sown: that on which it was planned, or on which all that was sown was lost."""
        return max((d for d in (planting.planned_on, self.lost_on.get(planting.pk)) if d is not None), default=None)

    @cached_property
    def lost_on(self) -> dict[int, date]:
        """The last day on which a sowing was lost whole, by planting."""
        if self._garden is None:
            return {}
        lost = Batch.objects.filter(planting__season__garden=self._garden).exclude(failed_on=None)
        return last_lost(lost.values_list("planting_id", "failed_on"))

    def room(self, planting: Planting) -> Room | None:
        """What the place where it is raised is taken to be like; None where nobody said."""
        if self._place is None:
            return None
        own = None if planting.raised_at_id is None else self.room_at(planting.raised_at_id)
        up = None if planting.germinates_at_id is None else self.room_at(planting.germinates_at_id)
        if up is None:
            return own
        return up._replace(months_c=(), comes_up=up) if own is None else own._replace(comes_up=up)

    def room_at(self, spot_id: int) -> Room | None:
        """What a place is taken to be like; temperatures that nobody gave for it are those of the room or rack it is in."""
        if spot_id not in self._rooms:
            here = self._spots_with(spot_id)
            for pk, spot in here.items():
                around = list(_carriers(spot, here))
                said = next((s for s in around if s.months_c is not None), spot)
                heated = next((s.heated for s in around if s.heated), "")
                months = None if said.months_c is None else tuple(said.months_c)
                self._rooms[pk] = room_of(
                    spot.code, spot.kind, heated, self.place, months, said.months_said, spot.set_c
                )
        return self._rooms.get(spot_id)

    def spot_at(self, spot_id: int) -> Spot | None:
        """The place itself; None where there is none of that key."""
        return self._spots_with(spot_id).get(spot_id)

    def _spots_with(self, spot_id: int) -> dict[int, Spot]:
        """Every place of the garden, read once."""
        if spot_id not in self._spots and not (self._garden and self._spots):
            own = Spot.objects.filter(garden=self._garden) if self._garden else Spot.objects.filter(pk=spot_id)
            self._spots = {spot.pk: spot for spot in own}
        return self._spots

    def path(self, planting: Planting) -> tuple[Vessel, ...]:
        """The containers chosen for it, one after another; empty: as usual."""
        if not planting.path or planting.method != "raised":
            return ()
        if self._vessels is None:
            self._vessels = vessels_of(self._garden)
        return tuple(self._vessels[key] for key in planting.path if key in self._vessels)

    def carries_days(self, planting: Planting) -> int | None:
        """Sowing age to which the last container of its chosen path carries it; None: no path was chosen."""
        path = self.path(planting)
        if not path:
            return None
        crop = self.crop(planting)
        return None if crop.maybe("raise_max") is None else age_limit_days(crop, path[-1])

    def speed_of(self, planting: Planting, crop: Crop, sow: date, temperature_c: float | None) -> tuple[float, str]:
        """Days to half up and their source: at that warmth, or in a box outdoors by the weather of the years."""
        if planting.method == "winter" and temperature_c is None:
            return box_days(crop, self.place, sow)
        return self.speed(crop, temperature_c)

    def ground_free(self, planting: Planting) -> date | None:
        """The day from which its ground is free of what stands there before; None: it always is, or has none yet."""
        found = self.on_ground(planting)
        return None if found is None else found.day

    def on_ground(self, planting: Planting) -> Free | None:
        """What it follows on its ground, and until when that stands; None: nothing."""
        if self._free is None:
            self._free = {}  # what is asked while it is worked out looks at no bed
            if self.shared_ground and self._garden is not None:
                says = self._says or next(ask(self._garden) for ask in _asked)
                self._free = says(self)
        return self._free.get(planting.pk)

    def packet(self, planting: Planting) -> PacketTiming | None:
        """The weeks the grower gave for this planting, otherwise those of its lot."""
        return PacketTiming(**planting.packet) if planting.packet else packet_of(self.lot(planting))

    def speed(self, crop: Crop, temperature_c: float | None) -> tuple[float, str]:
        """Days to half up at that warmth (None: the crop's own), and the source of the figure."""
        key = (crop, temperature_c)
        if key not in self._speeds:
            self._speeds[key] = emergence_speed(crop, temperature_c)
        return self._speeds[key]

    def dates(self, planting: Planting, crop: Crop, choice: Choice | None = None) -> PlantingDates:
        choice, place = choice or self.choice(planting), self.place_of(planting)
        return place.memo((crop, choice), lambda: date_planting(crop, place, choice))

    def place_of(self, planting: Planting) -> PlaceYear:
        """The place as it is where the planting will grow, under its cover."""
        return self.place.under(self.covers.get(planting.spot_id, "") if planting.spot_id is not None else "")

    def proposed(
        self, planting: Planting, today: date, sow_on: date | None = None, anew: bool = False
    ) -> tuple[Crop, PlantingDates]:
        """Dates for a planting as typed: the day given, or the rules' best one from the day on which it was planned.

        What is new, or is to be planned anew, is dated from today on.
        """
        crop = self.crop(planting)
        free, room = self.ground_free(planting), self.room(planting)
        packet = self.packet(planting)
        sow_on, because = self.day_given(planting, sow_on)
        choice = Choice(
            planting.method,
            planting.term,
            sow_on,
            planting.chosen_out,
            packet,
            today if anew else self.begins_on(planting) or today,
            free,
            room,
        )
        choice = choice._replace(carries_days=self.carries_days(planting), sow_because=because)
        return crop, self.dates(planting, crop, choice)


def dating_of(garden: Garden, waits: bool = True) -> Dating:
    """Dates for plantings of this garden.

    Raises NoFrostDate; with `waits` off only once a day is asked for.
    """
    covers = dict(Spot.objects.filter(garden=garden, kind__in=COVER_AIR_C).values_list("pk", "kind"))
    try:
        place = place_year(garden)
    except NoFrostDate:
        if waits:
            raise
        place = None
    return Dating(place, Crops(garden), covers, lots_of(garden), garden)


def last_lost(batches: Iterable[tuple[int, date | None]]) -> dict[int, date]:
    """The last day on which a batch was lost whole, by planting.  batches: of each its planting, and the day on which it was."""
    return {planting: on for on, planting in sorted((on, planting) for planting, on in batches if on is not None)}


def packet_of(lot: Lot | None) -> PacketTiming | None:
    """The weeks that stand on a packet, if it is there and says any."""
    return PacketTiming(**lot.packet) if lot is not None and lot.packet else None


def lots_of(garden: Garden) -> dict[int, Lot]:
    """The garden's lots by their key, in one query."""
    return {lot.pk: lot for lot in Lot.objects.filter(garden=garden)}


def _carriers(spot: Spot, here: Mapping[int, Spot]) -> Iterator[Spot]:
    """A place, what carries it, and so on to the room."""
    one: Spot | None = spot
    for _ in range(len(here)):
        if one is None:
            return
        yield one
        one = here.get(one.parent_id or 0)
