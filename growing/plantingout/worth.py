"""What is planting worth today, and on each day of the next fortnight?  S · C · A · H · L, meaned over forecast draws and years.

S: what no cold night takes; C: what chill leaves of tender crops; A: what the age in the pot leaves; H: how much of the usual
harvest the year still gives; L: what a later crop is worth.  All shares from 0 to 1; all constants are estimates.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.batch.harm import HALF_LOST_C, LEAST_LOST, UNHARDENED_C
from growing.chain.days import POT_TENTHS, SHORT_LIGHT_DAYS
from growing.crops.schema import CHECK_DAYS
from growing.place.growth import NEVER, SPAN_DAYS, Growth
from growing.plantingout.springs import SpringsAhead
from growing.waiting import LATER_HARVEST

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
DAYS = 14
AUTUMN_NIGHTS = 21
HARDER_A_NIGHT = 1 / 7
HARDENING_NIGHTS = 7
CHILL_MARGIN_C, CHILLED_A_NIGHT, MOST_CHILLED = 3.0, 0.05, 0.3
MOST_AGED, LATE_A_DAY, MOST_LATE_DAYS = 0.5, 0.5, 14.0
SETTLING_DAYS = 21
SOIL_SPAN_C = 5.0
UNRIPE_ONCE = 0.02
LATER_MARKET, MOST_LATER = 0.01, 0.5
NEAR_BEST = 0.01


class Sort(NamedTuple):
    """A batch as its worth sees it.

    harm_c: damage once hardened; hardened: 0–1 already; cover_c: what covers it adds at night.  chill_c, soil_c [°C]; chill_c None:
    none.  growth: of its kind in the years of the springs; mature: days to harvest at standard warmth; ahead: days in the pot past
    the usual age, below 0 where younger; limit: days until the age limit of its container, below 0 where past; over: share a day over
    it; usual: days of harvest, 0 for one that is gathered once; ends: per year, the first day of the span on which it is over.
    later: share of worth a day's delay takes.  spring: nights count to midsummer, otherwise three weeks.
    """

    harm_c: float
    hardiness: str
    hardened: float
    chill_c: float | None
    soil_c: float
    growth: Growth
    mature: float
    ahead: float
    limit: int
    over: float
    usual: float
    ends: NDArray[np.int32]
    equinox: int
    cover_c: float = 0.0
    later: float = LATER_HARVEST
    spring: bool = True


class PlantingWorth(NamedTuple):
    """The factors, (batches, days, years), the harvest's first day in days of the span (NEVER: none) and the days that are gathered;
    value: their product meaned over the years, (batches, days)."""

    survives: Floats
    unchilled: Floats
    unaged: Floats
    harvest: Floats
    early: Floats
    first: Ints
    value: Floats


def worth(sorts: list[Sort], springs: SpringsAhead, days: int = DAYS) -> PlantingWorth:
    """Every batch on every day of the fortnight, over every year at once."""
    years = springs.years
    t = np.arange(days)
    ends = np.array([_last_night(springs, t, s.spring) for s in sorts])  # batches, days
    survives = np.empty((len(sorts), days, years))
    unchilled = np.ones((len(sorts), days, years))
    kept: dict[tuple[object, ...], Floats] = {}
    key: tuple[object, ...]
    for n, s in enumerate(sorts):
        key = ("s", s.harm_c, s.hardiness, s.hardened, s.cover_c, s.spring)
        if key not in kept:
            kept[key] = _survives(s, springs, t, ends[n])
        survives[n] = kept[key]
        if s.chill_c is not None:
            key = ("c", s.chill_c, s.cover_c, s.spring)
            if key not in kept:
                kept[key] = _unchilled(s, springs, t, ends[n])
            unchilled[n] = kept[key]
    limit, over = (np.array([getattr(s, name) for s in sorts], float)[:, None] for name in ("limit", "over"))
    aged = np.maximum(t - limit, 0)
    unaged = 1 - np.minimum(MOST_AGED, over * aged)
    later = np.array([s.later for s in sorts])[:, None]
    early = 1 - np.minimum(MOST_LATER, later * t)
    first = _first(sorts, springs, t, kept)
    usual = np.array([s.usual for s in sorts])[:, None, None]
    ended = np.stack([s.ends for s in sorts])[:, None, :]
    held_up = np.minimum(LATE_A_DAY * aged, MOST_LATE_DAYS)[:, :, None]
    left = ended - (first + held_up)
    comes = first < NEVER
    many = (np.clip(left, -1, usual) + 1) / (usual + 1)
    once = np.where(left >= 0, 1.0, UNRIPE_ONCE)
    harvest = np.where(comes, np.where(usual > 0, many, once), np.where(usual > 0, 0.0, UNRIPE_ONCE))
    value = (survives * unchilled * harvest).mean(axis=2) * unaged * early
    whole = lambda a: np.broadcast_to(a[:, :, None], survives.shape)  # noqa: E731
    return PlantingWorth(survives, unchilled, whole(unaged), harvest, whole(early), first, value)


def verdict(value: Floats) -> Ints:
    """The day of each batch: the earliest within a hundredth of the best, (batches,)."""
    best = value.max(axis=1, keepdims=True)
    return np.asarray((value >= best - NEAR_BEST).argmax(axis=1))


def _last_night(springs: SpringsAhead, t: Ints, spring: bool) -> Ints:
    """The first night that does not count any more, by day of planting."""
    least = t + AUTUMN_NIGHTS
    return np.asarray(np.maximum(springs.solstice, least) if spring else least)


def lost(plant_c: Floats, harm_c: Floats | float, hardiness: str) -> Floats:
    """ℓ = 1 / (1 + exp(−(D − T − d₅₀) / s)); under a hundredth it is nothing."""
    half, spread = HALF_LOST_C[hardiness]
    found = 1 / (1 + np.exp(np.clip(-(harm_c - plant_c - half) / spread, -60, 60)))
    return np.asarray(np.where(found < LEAST_LOST, 0.0, found))


def _survives(s: Sort, springs: SpringsAhead, t: Ints, ends: Ints) -> Floats:
    """S, (days, years): the first week as hard as it is and a seventh more each night, all nights after it hardened."""
    plant = springs.plant_c + s.cover_c
    left = np.zeros((plant.shape[0], plant.shape[1] + 1))
    np.cumsum(np.log1p(-np.minimum(lost(plant, s.harm_c, s.hardiness), 1 - 1e-12)), axis=1, out=left[:, 1:])
    begin = np.minimum(t + (HARDENING_NIGHTS if s.hardened < 1 else 0), ends)
    found = left[:, ends] - left[:, begin]
    if s.hardened < 1:
        nights = np.arange(HARDENING_NIGHTS)
        soft = np.maximum(0.0, 1 - s.hardened - HARDER_A_NIGHT * nights) * UNHARDENED_C[s.hardiness]
        early = plant[:, t[:, None] + nights]  # years, days, nights
        count = (t[:, None] + nights) < ends[:, None]
        taken = np.log1p(-np.minimum(lost(early, s.harm_c + soft, s.hardiness), 1 - 1e-12))
        found = found + (taken * count).sum(axis=2)
    return np.asarray(np.exp(found).T)


def _unchilled(s: Sort, springs: SpringsAhead, t: Ints, ends: Ints) -> Floats:
    assert s.chill_c is not None
    cold = springs.plant_c + s.cover_c < s.chill_c - CHILL_MARGIN_C
    counted = np.concatenate([np.zeros((len(cold), 1)), np.cumsum(cold, axis=1)], axis=1)
    return np.asarray(1 - np.minimum(MOST_CHILLED, CHILLED_A_NIGHT * (counted[:, ends] - counted[:, t]))).T


def _settling(s: Sort, springs: SpringsAhead, t: Ints) -> Floats:
    """Tenths of standard days that each of the first three weeks' days gives, (days, years, SETTLING_DAYS): nothing while it takes
    root, by the soil's warmth, nothing on chilled days and the day after."""
    at = t[:, None] + np.arange(SETTLING_DAYS)
    span = np.minimum(springs.span + at, SPAN_DAYS - 1)
    gained = np.diff(s.growth.units, axis=1)[:, span].astype(float)
    warm = np.clip((springs.soil_c[:, at] - (s.soil_c - SOIL_SPAN_C)) / SOIL_SPAN_C, 0, 1)
    if s.chill_c is not None:
        cold = springs.plant_c + s.cover_c < s.chill_c
        cold[:, 1:] |= cold[:, :-1].copy()
        warm = np.where(cold[:, at], 0.0, warm)
    warm[:, :, :CHECK_DAYS] = 0.0
    return np.asarray((gained * warm).transpose(1, 0, 2))


def _first(sorts: list[Sort], springs: SpringsAhead, t: Ints, kept: dict[tuple[object, ...], Floats]) -> Ints:
    """The first day of harvest, in days of the span."""
    years = np.arange(springs.years)
    found = np.empty((len(sorts), len(t), len(years)), np.int64)
    for n, s in enumerate(sorts):
        key = ("g", id(s.growth), s.soil_c, s.chill_c, s.cover_c)
        if key not in kept:
            kept[key] = np.cumsum(_settling(s, springs, t), axis=2)
        had = kept[key]
        pot = POT_TENTHS * (np.minimum(t, max(s.limit, 0)) + s.ahead)
        wants = np.maximum((s.mature - CHECK_DAYS) * 10 - pot, 0.0)[:, None]
        start = np.minimum(springs.span + t + SETTLING_DAYS, SPAN_DAYS)[:, None]
        rest = np.ceil(np.maximum(wants - had[:, :, -1], 0)).astype(np.int64)
        at = np.minimum(s.growth.units[years, start] + rest, s.growth.day_of.shape[1] - 1)
        day = s.growth.day_of[years, at].astype(np.int64)
        soon = had[:, :, -1] >= wants
        if soon.any():
            day = np.where(soon, springs.span + t[:, None] + 1 + (had < wants[:, :, None]).sum(axis=2), day)
        found[n] = np.where(day >= NEVER, NEVER, day + SHORT_LIGHT_DAYS * ((day > s.equinox) & (day < NEVER)))
    return found


def later_share(sells: bool) -> float:
    """Share of its worth that a day's delay takes of a crop: more where it is sold."""
    return LATER_MARKET if sells else LATER_HARVEST
