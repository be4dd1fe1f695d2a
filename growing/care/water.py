"""When does it want water again, and how much?  A balance of each tray from its mix, leaves, warmth and light; what was found corrects it.

A cell holds 0.3 of its mix as water that the plant can use.  A day takes E [mm] = (0.6 + 0.12·DLI)·VPD/1.2·(0.5 + 0.7·cover) from its surface,
cover = min(1, leaves ÷ leaves when ready)^1.5; a closed lid × 0.15, ajar × 0.5, a fan × 1.2.  The next look is due when half of it is gone.
All of these are estimates; each tray learns its own thirst from what was found.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from itertools import pairwise
from math import ceil, exp, log
from typing import NamedTuple

from growing.assumptions import by_kind
from growing.working import Value, Working

HELD = 0.3  # of the mix, water that can be used
LEFT = by_kind("care.water.LEFT")
SPAN = {
    "wet": (0.88, 1.0),
    "fair": (0.6, 0.88),
    "pale": (0.3, 0.6),
    "light": (0.1, 0.3),
    "limp": (0.0, 0.1),
}  # what a look can mean
FOUND = tuple(LEFT)
WANTS = ("pale", "light", "limp")  # what is watered when found
DOSE = {"wet": 0.0, "fair": 0.0, "pale": 0.15, "light": 0.3, "limp": 0.3}  # of the cell's mix, watered from below
LOOK_AT = {"even": 0.5, "dry between": 0.35, "never dry": 0.65}  # of what it holds, by the crop's moisture
CLOSED = 0.7  # of the dose, where what is too much cannot drain away
DAY_LATER_ML = 50.0  # cells up to so large are not left a day after they are pale
USUAL_RH = 0.6
USUAL_C, USUAL_DLI = 19.0, 10.0  # where nobody knows
LIDS = {"lid": 0.15, "ajar": 0.5, "": 1.0}
FAN = 1.2
OUTDOORS = 1.4
PRIOR_SD, SEEN_SD = 0.35, 0.5  # of a tray's own thirst (log), and of what one look says of it
LEAST_FALL = 0.15  # of what it holds, that must be gone before a look says anything of its thirst
FADES_DAYS = 10.0  # after which a look counts for e⁻¹: leaves were fewer then
MOST_DAYS = 14.0
HALF_A_DAY = 0.5  # a look falls on the day that is nearest
UNDER_LID_DAYS = 3  # after sowing, in which nothing is given under a lid


def vapour_deficit(celsius: float, humidity: float = USUAL_RH) -> float:
    """How dry the air is [kPa]: the saturation pressure (Tetens) less what is there."""
    return 0.6108 * exp(17.27 * celsius / (celsius + 237.3)) * (1 - humidity)


def cover(leaves: float, ready_leaves: float) -> float:
    """How much of the mix its leaves cover, 0–1."""
    return min(1.0, max(0.0, leaves) / max(1.0, ready_leaves)) ** 1.5


def seems(left: float) -> str:
    """What a look most likely says where so much is left."""
    return min(FOUND, key=lambda found: abs(LEFT[found] - left))


WAYS = {  # how it is given, by what it stands in
    "": "from below",
    "blocks": "in their channels, never on top",
    "closed": "measured, from above: it has no holes",
    "mist": "as mist, never flooded",
    "dry": "gently from above, once: so dry it does not draw",
}


def way(blocks: bool, drains: bool, lying: bool, found: str) -> str:
    """How water is given: one of the keys of WAYS."""
    if lying:
        return "mist"
    if blocks:
        return "blocks"
    if not drains:
        return "closed"
    return "dry" if found in ("light", "limp") else ""


LEAST_TAKES, LAST_DOSES = 0.4, 3


def takes(left_over: Sequence[float]) -> float:
    """Of the usual dose, what it takes, by the shares that were poured off of its last doses, 0–1."""
    last = left_over[-LAST_DOSES:]
    return max(LEAST_TAKES, 1 - sum(last) / len(last)) if last else 1.0


class TrayWater(NamedTuple):
    """What a tray is like: mix in a cell [ml], ground of a cell [cm²], cells that are watered; its plants' leaves and those when ready; the
    crop's moisture; mean warmth [°C] and light [mol/m²/d] where it stands, None: not known; lid: "", "lid", "ajar"; fan; outdoors: ET₀ [mm];
    humidity of the air, share; drains: has holes; blocks: of soil, with channels; takes: of the
    usual dose, by what was left over."""

    cell_ml: float
    cell_cm2: float
    cells: int
    leaves: float = 0.0
    ready_leaves: float = 4.0
    moisture: str = "even"
    celsius: float | None = None
    dli: float | None = None
    lid: str = ""
    fan: bool = False
    outdoors_mm: float | None = None
    humidity: float = USUAL_RH
    drains: bool = True
    blocks: bool = False
    takes: float = 1.0

    @property
    def held_ml(self) -> float:
        """Water that a cell holds when it is wet [ml]."""
        return HELD * self.cell_ml

    @property
    def loss_mm(self) -> float:
        """What a day takes [mm]."""
        covered = cover(self.leaves, self.ready_leaves)
        if self.outdoors_mm is not None:
            return self.outdoors_mm * (0.6 + 0.6 * covered) * OUTDOORS
        warm = USUAL_C if self.celsius is None else self.celsius
        light = USUAL_DLI if self.dli is None else self.dli
        still = LIDS[self.lid] * (FAN if self.fan else 1.0)
        return (0.6 + 0.12 * light) * vapour_deficit(warm, self.humidity) / 1.2 * (0.5 + 0.7 * covered) * still

    @property
    def falls(self) -> float:
        """Share of what it holds that a day takes, by the balance alone."""
        return self.loss_mm * self.cell_cm2 / 10 / self.held_ml

    def dose_ml(self, found: str) -> float:
        """What all its cells are given when they are found so [ml]."""
        return DOSE[found] * self.cell_ml * self.cells * (CLOSED if not self.drains else 1.0) * self.takes


class WateringLook(NamedTuple):
    """What was found at a moment (days since any beginning), and whether it was watered then; left: of what it holds, where it was weighed.
    since: it had been watered since the look before, at an hour and in a state that nobody knows."""

    at: float
    found: str
    watered: bool
    left: float | None = None
    since: bool = False

    @property
    def before(self) -> float:
        """Of what it holds, when it was found."""
        return LEFT[self.found] if self.left is None else self.left

    def nearest(self, left: float) -> float:
        """Of all that it can mean, what lies nearest to so much left."""
        if self.left is not None:
            return self.left
        least, most = SPAN[self.found]
        return min(most, max(least, left))

    @property
    def after(self) -> float:
        """And once it was left again."""
        return 1.0 if self.watered else self.before


class Thirst(NamedTuple):
    """How much thirstier a tray is than the balance, ×, and how sure that is (sd of its logarithm)."""

    times: float
    sd: float


def thirst(tray: TrayWater, looks: Sequence[WateringLook]) -> Thirst:
    """What every look says of the time since the one before, towards 1 while there are few; older ones count less.  A look that the balance
    expected says that it is right.  What one look says is log-normal, and so is what is believed beforehand."""
    weight, told, falls = 1 / PRIOR_SD**2, 0.0, tray.falls
    for last, now in pairwise(looks):
        days = 0.0 if now.since else now.at - last.at
        expected = falls * days
        fall = last.after - now.nearest(last.after - expected)
        if days > 0 and expected >= LEAST_FALL and fall > -LEAST_FALL:
            counts = exp(-(looks[-1].at - now.at) / FADES_DAYS) / SEEN_SD**2
            weight, told = weight + counts, told + counts * log(max(0.05, fall) / expected)
    return Thirst(exp(told / weight), weight**-0.5)


class NextLook(NamedTuple):
    """A tray's water: share left now (None: nobody ever looked), days until the next look (under half a day: due) and its day, the day it is dry,
    litres that the tray takes if it is pale now; its thirst; the working.  The look comes before it is sure to be dry: a tray
    of which little is known may be thirstier than the balance says."""

    left: float | None
    days: float
    look_on: date
    dry_on: date | None
    litres: float
    thirst: float
    working: Working

    @property
    def due(self) -> bool:
        return self.days < HALF_A_DAY

    @property
    def expects(self) -> str:
        """What will most likely be found."""
        return "fair" if self.left is None else seems(self.left)


def next_look(
    name: str, tray: TrayWater, looks: Sequence[WateringLook], now: float, today: date, later: bool = False
) -> NextLook:
    """When to look again.  now: on the same count of days as the looks.  later: the grower waters a day after pale."""
    times, sd = thirst(tray, looks)
    a_day = max(1e-4, tray.falls * times)
    at_most = a_day * exp(sd)  # five in six trays of which so much is known are no thirstier
    last = looks[-1] if looks else None
    limit = LOOK_AT[tray.moisture]
    left, days, dry = None, 0.0, None
    if last is not None:
        left = max(0.0, last.after - a_day * (now - last.at))
        days = min(MOST_DAYS, last.at + (last.after - limit) / at_most - now)
        if later and tray.cell_ml > DAY_LATER_ML:
            days += 1.0
        dry = today + timedelta(days=ceil(min(60.0, left / a_day)))
    litres = (tray.dose_ml("pale" if left is None else seems(left)) or tray.dose_ml("pale")) / 1000
    inputs = (
        Value("name", name),
        Value("holds", round(tray.held_ml, 1), "ml", "estimate"),
        Value("a day takes", round(tray.loss_mm * tray.cell_cm2 / 10 * times, 1), "ml", "estimate"),
        Value("own thirst", round(times, 2), "×", "readings"),
        Value("warmth", USUAL_C if tray.celsius is None else round(tray.celsius, 1), "°C", "assumed"),
        Value(
            "light",
            USUAL_DLI if tray.dli is None else round(tray.dli, 1),
            "mol/m²/d",
            "estimate" if tray.dli is not None else "assumed",
        ),
        Value("left", None if left is None else round(left, 2), "share", "estimate"),
        Value("look at", limit, "share", "crop"),
    )
    rule = "care.water_unseen" if left is None else "care.water_due" if days < HALF_A_DAY else "care.water_wait"
    look_on = today + timedelta(days=max(0, int(days + HALF_A_DAY)))
    working = Working(rule, inputs, (), Value("look", look_on))
    return NextLook(left, days, look_on, dry, litres, times, working)


def by_weight(drained_g: float, dry_g: float, today_g: float) -> float:
    """Share of the water left by weight, 0–1.  Raises ValueError where the weights cannot be."""
    if not 0 < dry_g < drained_g:
        raise ValueError(
            "drained must weigh more than dry: weigh it an hour after watering, and once when it is pale and light"
        )
    if today_g < 0.9 * dry_g:
        raise ValueError(f"{today_g:g} g is less than it weighs dry ({dry_g:g} g): is the scale at nought?")
    return min(1.0, max(0.0, (today_g - dry_g) / (drained_g - dry_g)))


RULES = dict.fromkeys(
    ("care.water_unseen", "care.water_due", "care.water_wait"),
    ("name", "holds", "a day takes", "own thirst", "warmth", "light", "left", "look at"),
)
