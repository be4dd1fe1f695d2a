"""How much light did they have, how high have they grown by it, are they drawn?  Day by day, for all batches at once.

A leaf comes as fast as light and warmth allow: √(light ÷ the least of its band), no more than 1.15, over the days a leaf takes at the
crop's own warmth, and at the pace that looks showed to be its own.  It adds to the height what the crop's ready height has for a leaf,
and up to 0.8 more where light is short.  Want of light is summed as whole days without any:
Σ (1 − light ÷ least) × 2^((warmer than it likes) ÷ 10): warmth without light draws them.
All these numbers are estimates, until light was read and heights were measured.
"""

from __future__ import annotations

from collections.abc import Mapping
from math import exp
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import real
from growing.crops import Crop
from growing.light.targets import JUST_UP_LEAVES, band
from growing.shelves.shelf import LEAF_DAYS, SEED_LEAF_CM, TALLEST
from growing.working import Value, Working

Array = NDArray[np.float32]
STEP_CM = 0.5  # of the table of light by distance
FURTHEST_CM = 120.0
MOST_SHARE = 1.15**2
MOST_STRETCH = 0.8
DOUBLES_C = 10.0
BELIEVED = real("light.had.BELIEVED")
SPOILT_DAYS = 3.0  # days without light after which two in three are spoilt
FINE = real("light.had.FINE")
RISKY = real("light.had.RISKY")


class GrowthColumns(NamedTuple):
    """How crops grow, (batches,): days a leaf, height a leaf adds and the least it has once up [cm], the most, the least DLI of both stages."""

    leaf_days: Array
    leaf_cm: Array
    least_cm: Array
    most_cm: Array
    low_up: Array
    low_grow: Array


def ways(crops: list[Crop]) -> GrowthColumns:
    """Of each batch's crop."""
    known: dict[int, tuple[float, ...]] = {}
    for crop in crops:
        if id(crop) not in known:
            ready = max(1.0, (crop.number("ready_leaves_min") + crop.number("ready_leaves_max")) / 2)
            high, each = crop.number("ready_height_cm"), crop.maybe("leaf_days") or LEAF_DAYS
            lows = band(crop, 0.0).low, band(crop, JUST_UP_LEAVES).low
            known[id(crop)] = (each, high / ready, min(SEED_LEAF_CM, high), TALLEST * high, *lows)
    columns = np.array([known[id(crop)] for crop in crops], np.float32).reshape(-1, 6)
    return GrowthColumns(*np.ascontiguousarray(columns.T))


class Places(NamedTuple):
    """What places give, by place and day (places, days).

    table: light at full power by distance from the lamp to the leaves, every STEP_CM [µmol m⁻² s⁻¹], (places, distances).  lamp_cm: of the
    lamp above the place; hours: it burns; power: share of the full.  daylight: DLI that is there without the lamp; NaN: nobody knows.
    """

    table: Array
    lamp_cm: Array
    hours: Array
    power: Array
    daylight: Array


class Stays(NamedTuple):
    """Where batches are: place (batches, days), −1: nobody knows.  up (batches,): the first day on which it is up.  depth_cm: of its
    container.  slow (batches, days) or (batches, 1): days that a day of growing takes there by its warmth; warm_c: warmer than it likes."""

    place: NDArray[np.int16]
    up: NDArray[np.int64]
    depth_cm: Array
    slow: Array
    warm_c: Array


class Lived(NamedTuple):
    """At the end of the last day, (batches,): true leaves, height [cm], what it grows a day, days in want of light; dli (batches, days),
    NaN before it is up or where nobody knows; true leaves that the last day brought."""

    leaves: Array
    height_cm: Array
    cm_a_day: Array
    want_days: Array
    dli: Array
    leaves_a_day: Array


def live(
    k: GrowthColumns,
    places: Places,
    stays: Stays,
    seen: Mapping[int, list[tuple[int, float, float | None]]] | None = None,
) -> Lived:
    """From the first day to the last.  seen: by day, (batch, leaves, height or None) that somebody saw on it: it goes on from there."""
    batches, days = stays.place.shape
    order = np.argsort(stays.up, kind="stable")  # what is up stands in front: a day is worked on as one slice
    at = np.empty(batches, int)
    at[order] = np.arange(batches)
    k, up, depth = GrowthColumns(*(values[order] for values in k)), stays.up[order], stays.depth_cm[order]
    place, slow = _by_day(stays.place, order, days), _by_day(stays.slow, order, days)
    hot = _by_day(np.exp2(np.clip(stays.warm_c / DOUBLES_C, -1, 1)).astype(np.float32), order, days)
    dose, last = places.hours * places.power * np.float32(0.0036), places.table.shape[1] - 1
    leaves, height, grown = np.zeros(batches, np.float32), k.least_cm.copy(), np.zeros(batches, np.float32)
    own, came = np.ones(batches, np.float32), np.zeros(batches, np.float32)
    want, dli = np.zeros(batches, np.float32), np.full((days, batches), np.nan, np.float32)
    counts = np.searchsorted(up, np.arange(days), side="right")
    for t in range(max(0, int(up.min(initial=days))), days):
        n = counts[t]
        light = _light(places, dose, t, place[t][:n], depth[:n] + height[:n], last)
        dli[t, :n] = light
        share = light / np.where(leaves[:n] < JUST_UP_LEAVES, k.low_up[:n], k.low_grow[:n])
        np.copyto(share, 1, where=np.isnan(share))
        lack = np.maximum(1 - share, 0)
        pace = own[:n] * np.sqrt(np.minimum(share, MOST_SHARE)) / (k.leaf_days[:n] * slow[t][:n])
        leaves[:n] += pace
        came[:n] = pace
        # seed leaves do not add: height grows once true leaves have made up for them
        adds = (height[:n] < k.most_cm[:n]) & (leaves[:n] * k.leaf_cm[:n] > k.least_cm[:n])
        grown[:n] = pace * k.leaf_cm[:n] * (1 + MOST_STRETCH * lack) * adds
        height[:n] += grown[:n]
        want[:n] += lack * hot[t][:n]
        for batch, count, cm in (seen or {}).get(t, ()):
            n = at[batch]
            reckoned = float(leaves[n])
            leaves[n] = max(count, min(reckoned, count + 1.0))
            own[n] *= (max(0.5, float(leaves[n])) / max(0.5, reckoned)) ** BELIEVED
            if cm is not None:
                height[n] = cm
    return Lived(leaves[at], height[at], grown[at], want[at], dli[:, at].T, came[at])


def _by_day(values: NDArray[np.generic], order: NDArray[np.intp], days: int) -> NDArray[np.generic]:
    """(batches, days) or (batches, 1) as days of batches in that order."""
    return np.ascontiguousarray(np.broadcast_to(values, (len(order), days)).T[:, order])


def _light(places: Places, dose: Array, t: int, place: NDArray[np.int16], tip_cm: Array, last: int) -> Array:
    """A day's light at the leaves of some batches."""
    gap = places.lamp_cm[place, t] - tip_cm
    cell = (gap * np.float32(1 / STEP_CM) + np.float32(0.5)).astype(np.int32)
    np.clip(cell, 0, last, out=cell)
    light = places.table[place, cell] * dose[place, t] + places.daylight[place, t]
    light[place < 0] = np.nan
    return np.asarray(light)


def leggy_risk(want_days: float) -> float:
    """Chance that a seedling is spoilt by so many days in want of light, 0–1: a quarter after one, two in three after three."""
    return 1 - exp(-max(0.0, want_days) / SPOILT_DAYS)


class Leggy(NamedTuple):
    """Is it drawn?  kind: "fine", "risky" or "leggy"; cause: what made most of it ("dark", "weak", "warm"); the working."""

    kind: str
    risk: float
    cause: str
    working: Working


def leggy(name: str, want_days: float, mean_dli: float, low: float, warm_c: float, dark_days: int) -> Leggy:
    """The verdict on a batch by the light and warmth that it had.  dark_days: up without a lamp or window."""
    risk = leggy_risk(want_days)
    kind = "fine" if risk < FINE else "risky" if risk < RISKY else "leggy"
    cause = (
        "dark" if dark_days >= max(1.0, want_days / 2) else "warm" if warm_c > 3 and mean_dli >= 0.75 * low else "weak"
    )
    inputs = (
        Value("name", name),
        Value("want", round(want_days, 1), "days", "working"),
        Value("light", round(mean_dli, 1), "mol/m²/d", "working"),
        Value("low", round(low, 1), "mol/m²/d", "crop"),
        Value("warmer", round(max(0.0, warm_c), 1), "Δ°C", "assumed"),
    )
    rule = "light.stocky" if kind == "fine" else f"light.leggy_{cause}"
    return Leggy(kind, risk, cause, Working(rule, inputs, (), Value("risk", round(risk, 2), "share", "estimate")))


RULES = dict.fromkeys(
    ("light.stocky", "light.leggy_dark", "light.leggy_weak", "light.leggy_warm"),
    ("name", "want", "light", "low", "warmer"),
)
