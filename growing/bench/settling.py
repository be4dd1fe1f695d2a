"""Which place does each stand on?  Stays of a zone laid into its places, day by day, so that the bench can be seen ahead."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from growing.bench.ahead import SLACK, Stay


class SettlingPlace(NamedTuple):
    """One place: the zones that may stand there, what it holds [flats], its clear height [cm], None: nobody said."""

    key: int
    zones: tuple[str, ...]
    holds: float
    clear_cm: float | None


class Piece(NamedTuple):
    """So many flats of a stay on a place; place None: there is no room for them.  low: the place is too low for them at the end."""

    stay: int
    place: int | None
    flats: float
    low: bool = False


def settle(stays: Sequence[Stay], places: Sequence[SettlingPlace], start: int, days: int) -> list[Piece]:
    """Each stay on a place from its first day to its last: what is there already and what is meant for a place first, then by
    the day it comes.

    A place of the zone with room is taken, the lowest that is high enough; what has no room on one is parted in whole flats.
    start: ordinal of the first day.  What no place has room for stays without one.
    """
    free = {p.key: np.full(days, p.holds) for p in places}
    by_key = {p.key: p for p in places}
    found: list[Piece] = []
    for n in sorted(
        range(len(stays)), key=lambda k: (stays[k].place == 0 or stays[k].since > start, stays[k].since, k)
    ):
        stay, left = stays[n], stays[n].flats
        first, last = max(0, stay.since - start), min(days, stay.until - start)
        if first >= last or left <= SLACK:
            continue
        for place in _in_turn(stay, places, by_key):
            room = float(free[place.key][first:last].min())
            take = left if room >= left - SLACK else float(math.floor(room + SLACK))
            if take <= SLACK:
                continue
            free[place.key][first:last] -= take
            found.append(Piece(n, place.key, take, _low(place, stay)))
            left -= take
            if left <= SLACK:
                break
        if left > SLACK:
            found.append(Piece(n, None, left))
    return found


def _low(place: SettlingPlace, stay: Stay) -> bool:
    return place.clear_cm is not None and stay.high_cm > place.clear_cm


def _in_turn(stay: Stay, places: Sequence[SettlingPlace], by_key: dict[int, SettlingPlace]) -> list[SettlingPlace]:
    """Where it is tried: the place it is meant for, then those of its zone that are high enough, the lowest first, then the
    others, the highest first."""
    own = [by_key[stay.place]] if stay.place in by_key else []
    others = [p for p in places if stay.zone in p.zones and p.key != stay.place]
    enough = [p for p in others if not _low(p, stay)]
    low = [p for p in others if _low(p, stay)]
    first = lambda p: p.zones.index(stay.zone)  # noqa: E731 - a mat only where the shelves are full
    enough.sort(key=lambda p: (first(p), p.clear_cm or 0.0))
    low.sort(key=lambda p: (first(p), -(p.clear_cm or 0.0)))
    return [*own, *enough, *low]
