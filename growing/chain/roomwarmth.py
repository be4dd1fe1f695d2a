"""How long does it take where it is raised?  A raising time corrected for the warmth of its place.

Books reckon with emergence at about 22 °C (cool crops 18) and with a room as warm as the crop likes it.  Colder, it comes up
later and grows more slowly; the age limit moves with it.  What a place is like nobody has measured yet: it is assumed by how it is
heated and by the month outdoors, and said so.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

import numpy as np

from growing.assumptions import real
from growing.chain.raising import Raising
from growing.crops import Crop
from growing.place.year import PlaceYear
from growing.seeds.thermal_time import emergence_days
from growing.working import Value, Working

ROOM_C = real("chain.roomwarmth.ROOM_C")
MAT_OVER_C = real("chain.roomwarmth.MAT_OVER_C")
WARMED_C = {"room": 6.0, "rack": 6.0, "shelf": 6.0, "mat": 6.0, "sill": 6.0, "porch": 4.0, "frame": 3.0, "tunnel": 3.0}
COOL_STD_C = 16.0  # crops reckoned at no more than this are the cool ones
REFERENCE_C, COOL_REFERENCE_C = 22.5, 18.0  # emergence that raising times assume
LEAST_FACTOR, MOST_FACTOR = 0.6, 2.0
LONGEST_EMERGENCE_DAYS = 60


class Room(NamedTuple):
    """Where it is raised: twelve monthly means of its air from January [°C], none where only the place in which it comes up is
    known; germinate_c: of the mix until it is up, None: as the
    crop likes it, by a thermostat.  name: of the place.  kind, heated: what is assumed from."""

    name: str
    months_c: tuple[float, ...]
    germinate_c: float | None
    kind: str
    heated: str
    source: str = "assumed"  # or "typed", "measured"
    set_c: float | None = None  # of a mat with thermostat; None: nobody said, taken as the crop likes it
    comes_up: Room | None = None  # another place until it is up

    def air_c(self, day: date) -> float | None:
        """Its air in the month of that day [°C]; None where only the place in which it comes up is known."""
        return self.months_c[day.month - 1] if self.months_c else None

    def germinates_c(self, sow: date) -> float | None:
        """Warmth of the mix for what is sown on that day [°C]; None: as the crop likes it, by a thermostat."""
        if self.comes_up is not None:
            return self.comes_up.germinates_c(sow)
        if self.heated == "thermostat":
            return self.set_c
        if self.heated == "none" or self.source != "assumed":
            return self.months_c[sow.month - 1] + (MAT_OVER_C if self.heated == "mat" else 0.0)
        return self.germinate_c


def outdoors(place: PlaceYear) -> tuple[float, ...] | None:
    """Monthly means outdoors from January [°C], of the years on record; None where nobody knows them."""

    def found() -> tuple[float, ...] | None:
        if place.normals is None:
            return None
        days: list[list[float]] = [[] for _ in range(12)]
        for k, value in enumerate(place.normals.day_c):
            if not np.isnan(value):
                days[(place.span_start + timedelta(days=k)).month - 1].append(float(value))
        return tuple(sum(d) / len(d) for d in days) if all(days) else None

    return place.memo("outdoors", found)


def room_of(
    name: str,
    kind: str,
    heated: str,
    place: PlaceYear,
    months_c: tuple[float | None, ...] | None = None,
    said: str = "",
    set_c: float | None = None,
) -> Room | None:
    """What a place is like: by the monthly temperatures somebody gave, for the others as it is assumed; None where neither is known.

    months_c: twelve from January [°C], None where nobody said.  said: whether those are measured.  set_c: of a thermostat.
    """
    guess = assumed(name, kind, heated, place)
    given = months_c if months_c is not None and any(m is not None for m in months_c) else None
    if given is None:
        if guess is None or heated != "thermostat":
            return guess
        return guess._replace(set_c=set_c)
    known = [m for m in given if m is not None]
    usual = guess.months_c if guess is not None else (sum(known) / len(known),) * 12
    months = tuple(g if g is not None else u for g, u in zip(given, usual, strict=True))
    germinate = months[0] + (MAT_OVER_C if heated == "mat" else 0.0)
    source = "measured" if said == "measured" else "typed"
    fixed = heated == "thermostat"
    return Room(name, months, None if fixed else germinate, kind, heated, source, set_c if fixed else None)


def assumed(name: str, kind: str, heated: str, place: PlaceYear) -> Room | None:
    """What a place is taken to be like; None where nobody said how it is heated, or how cold it is outdoors is not known."""
    if heated in ("room", "mat", "thermostat"):
        germinate = {"room": ROOM_C, "mat": ROOM_C + MAT_OVER_C, "thermostat": None}[heated]
        return Room(name, (ROOM_C,) * 12, germinate, kind, heated)
    out = outdoors(place)
    if heated != "none" or kind not in WARMED_C or out is None:
        return None
    months = tuple(max(1.0, month + WARMED_C[kind]) for month in out)
    return Room(name, months, months[0], kind, heated)


def factor(crop: Crop, mean_c: float) -> float:
    """How many days of growing at that mean a day at the crop's own warmth is worth, 0.6–2 (estimate)."""
    base = crop.number("base_c")
    own = (2 * crop.number("day_c") + crop.number("grow_night_c")) / 3
    if mean_c <= (own + base) / 2:
        return MOST_FACTOR
    return min(MOST_FACTOR, max(LEAST_FACTOR, (own - base) / (mean_c - base)))


def in_room(crop: Crop, raising: Raising, room: Room, out: date) -> Raising:
    """The raising time in that room for planting out about that day; shortest, longest and limit alike."""
    sow = out - timedelta(days=raising.middle)
    mean = _mean(room, sow, out) if room.months_c else None
    germinate = room.germinates_c(sow)
    reference = COOL_REFERENCE_C if crop.number("std_c") <= COOL_STD_C else REFERENCE_C
    book = min(LONGEST_EMERGENCE_DAYS, emergence_days(crop, reference)[0])
    real = book if germinate is None else min(LONGEST_EMERGENCE_DAYS, emergence_days(crop, germinate)[0])
    times = 1.0 if mean is None else factor(crop, mean)

    def days(plain: int) -> int:
        return round(real + max(0.0, plain - book) * times)

    low, high, hold = days(raising.shortest), days(raising.longest), days(raising.hold)
    inputs = (
        Value("book", raising.longest, "days"),
        Value("place", room.name),
        Value("emergence there", round(real, 1), "days", "estimate"),
        Value("emergence in the book", round(book, 1), "days", "estimate"),
        *(
            ()
            if mean is None
            else (
                Value("mean", round(mean, 1), "°C", room.source),
                Value("growth takes", round(times, 2), "×", "estimate"),
            )
        ),
    )
    steps = () if raising.working is None else (raising.working,)
    return Raising(
        low,
        high,
        max(hold, high),
        Working(
            "plan.comes_up_there" if mean is None else "plan.raised_there",
            inputs,
            steps,
            Value("raising", high, "days"),
        ),
    )


def _mean(room: Room, start: date, end: date) -> float:
    """Mean of the room over those days."""
    days = max(1, (end - start).days)
    return sum(room.months_c[(start + timedelta(days=k)).month - 1] for k in range(days)) / days
