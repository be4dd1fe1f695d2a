"""A shelf under its lamp: what each tray gets at its leaf tips as the lamp hangs, burns and is dimmed; near, warm, in want, too much."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np

from growing.assumptions import real
from growing.beds.bedplan import Rect
from growing.light.hours import LampTimer, Wants
from growing.light.plane import (
    COARSE_CM,
    OPEN,
    Array,
    Hung,
    Sides,
    at_points,
    cells,
    daily_light_integral,
    ppfd,
    uniformity,
)
from growing.light.targets import Band

SAMPLES = (4, 4)  # points of a tray, along and into the shelf
EXCESS = 0.3  # light that is more than it can use, against light that it lacks
NEAR_WORSE = 3.0  # leaves in the warmth of the lamp, against all light lacking
LAMP_CM = real("light.shelf.LAMP_CM")
SLACK_CM = 0.05

HIGHEST_CM = 200.0  # where nobody said what is above


def highest_cm(clear_cm: float | None) -> float:
    """How high the glow of a lamp can hang under so much room [cm]; None: nobody measured it."""
    return clear_cm - LAMP_CM if clear_cm else HIGHEST_CM


class Stand(NamedTuple):
    """What stands under the lamp: its ground, height of its container and plants above the board [cm], the band of its stage, hours.

    ref: of its batch.  tray: the key of what it stands in, None: pots by themselves, under which nobody sets boxes."""

    ref: str
    name: str
    rect: Rect
    depth_cm: float
    height_cm: float
    cm_a_day: float
    band: Band
    wants: Wants
    plants: int = 1
    tray: int | None = None

    @property
    def tip_cm(self) -> float:
        """Of its leaves above the board [cm]."""
        return self.depth_cm + self.height_cm


class LampAsSet(NamedTuple):
    """How the lamp is set: both ends above the board [cm], its dimmer, its timer."""

    left_cm: float
    right_cm: float
    per_cent: float
    timer: LampTimer

    @property
    def level(self) -> bool:
        return abs(self.left_cm - self.right_cm) < SLACK_CM

    @property
    def lowest_cm(self) -> float:
        return min(self.left_cm, self.right_cm)

    def moved(self, by_cm: float) -> LampAsSet:
        """Both ends higher by so much."""
        return self._replace(left_cm=self.left_cm + by_cm, right_cm=self.right_cm + by_cm)


class LampReach(NamedTuple):
    """How high the lamp can hang [cm]; the step by which it is set (0: any), what that is called; nearer than warm_cm it burns; does it dim."""

    top_cm: float
    step_cm: float = 0.0
    step: str = "cord"
    warm_cm: float = 2.0
    dims: bool = False


class Got(NamedTuple):
    """What one of them gets: DLI at its leaf tips, mean, least, most; the least if it is turned end for end every week; how far the lamp
    hangs above its tips [cm]."""

    stand: Stand
    dli: float
    least: float
    most: float
    turned: float
    gap_cm: float

    @property
    def verdict(self) -> str:
        return self.stand.band.verdict(self.dli)

    @property
    def missed(self) -> float:
        """How far it is from its band, light that is too much counting less."""
        band = self.stand.band
        return max(0.0, 1 - self.dli / band.low) + EXCESS * max(0.0, self.dli / band.high - 1)


class Board(NamedTuple):
    """A shelf: its size, what its edges reflect, its lamps at full power (their heights do not count), watts at full power, limits, what
    stands there; daylight: DLI that comes in besides."""

    wide_cm: float
    deep_cm: float
    lamps: tuple[Hung, ...]
    watts: float
    limits: LampReach
    stands: tuple[Stand, ...]
    sides: Sides = OPEN
    daylight: float = 0.0
    name: str = ""

    def hung(self, setting: LampAsSet) -> list[Hung]:
        """Its lamps as they are set; each hangs along the whole board, between its two ends."""
        found = []
        for lamp in self.lamps:
            share = (
                [(lamp.x_cm + side * lamp.length_cm / 2) / self.wide_cm for side in (-1, 1)]
                if not setting.level
                else (0.0, 0.0)
            )
            left, right = (setting.left_cm + s * (setting.right_cm - setting.left_cm) for s in share)
            found.append(lamp._replace(umol=lamp.umol * setting.per_cent / 100, left_cm=left, right_cm=right))
        return found

    def at(self, setting: LampAsSet, xs: Array, ys: Array, leaf_cm: float | Array) -> Array:
        """DLI at the leaves, (ny, nx) [mol m⁻² d⁻¹]."""
        leaf_cm = _no_nearer(leaf_cm, setting)
        light = ppfd(self.hung(setting), xs, ys, leaf_cm, self.wide_cm, self.deep_cm, self.sides)
        return daily_light_integral(light, setting.timer.hours) + self.daylight

    def got(self, setting: LampAsSet) -> list[Got]:
        """What each of them gets."""
        if not self.stands:
            return []
        x, y, tip = self._points
        light = at_points(self.hung(setting), x, y, _no_nearer(tip, setting), self.wide_cm, self.deep_cm, self.sides)
        by_stand = (daily_light_integral(light, setting.timer.hours) + self.daylight).reshape(len(self.stands), -1)
        turned = (by_stand + by_stand[:, ::-1]) / 2  # end for end, week by week
        found = []
        for stand, dli, mended in zip(self.stands, by_stand, turned, strict=True):
            rect, slope = stand.rect, (setting.right_cm - setting.left_cm) / self.wide_cm
            above = min(setting.left_cm + slope * rect.x, setting.left_cm + slope * (rect.x + rect.length))
            found.append(
                Got(
                    stand,
                    float(dli.mean()),
                    float(dli.min()),
                    float(dli.max()),
                    float(mended.min()),
                    above - stand.tip_cm,
                )
            )
        return found

    @property
    def _points(self) -> tuple[Array, Array, Array]:
        """Points spread over every stand, in order: from the left, from the front, height of the tips [cm]."""
        share = [(np.arange(n) + 0.5) / n for n in SAMPLES]
        into, along = (grid.ravel() for grid in np.meshgrid(share[1], share[0], indexing="ij"))
        rects = np.array([s.rect for s in self.stands])
        x, y = rects[:, 0, None] + along * rects[:, 2, None], rects[:, 1, None] + into * rects[:, 3, None]
        tips = np.repeat([s.tip_cm for s in self.stands], len(along))
        return x.ravel(), y.ravel(), tips

    def missed(self, got: Sequence[Got]) -> float:
        """How far all of them are from what they want, by plants; leaves in the warmth of the lamp weigh most."""
        plants = sum(g.stand.plants for g in got) or 1
        near = self.limits.warm_cm
        return (
            sum(
                g.stand.plants * (g.missed + NEAR_WORSE * max(0.0, 1 - max(g.gap_cm, 0.0) / near if near else 0.0))
                for g in got
            )
            / plants
        )

    @property
    def tallest(self) -> Stand | None:
        return max(self.stands, key=lambda s: s.tip_cm, default=None)


def _no_nearer(tip_cm: Any, setting: LampAsSet) -> Any:
    """Tips nearer to the lamp than COARSE_CM as so near: a leaf is no point.  What is above it gets nothing."""
    lamp = setting.lowest_cm
    return np.where(np.asarray(tip_cm) >= lamp, tip_cm, np.minimum(tip_cm, lamp - COARSE_CM))


class Map(NamedTuple):
    """DLI at the leaf tips of a board by cells, (ny, nx); the leaf tips' height; which stand each cell belongs to, −1: none."""

    xs: Array
    ys: Array
    dli: Array
    tip_cm: Array
    owner: Array

    @property
    def uniformity(self) -> float:
        return uniformity(self.dli)


def light_map(board: Board, setting: LampAsSet, each_cm: float, bare_cm: float = 6.0, fine: int = 1) -> Map:
    """The board cell by cell; where nothing stands, at the height of a tray.  fine: a cell is the mean of so many by so many points."""
    nx, ny = len(cells(board.wide_cm, each_cm)), len(cells(board.deep_cm, each_cm))
    xs, ys = ((np.arange(n * fine) + 0.5) / (n * fine) * size for n, size in ((nx, board.wide_cm), (ny, board.deep_cm)))
    tip, owner = np.full((len(ys), len(xs)), bare_cm), np.full((len(ys), len(xs)), -1)
    for n, stand in enumerate(board.stands):
        r = stand.rect
        inside = ((ys >= r.y) & (ys < r.y + r.width))[:, None] & ((xs >= r.x) & (xs < r.x + r.length))[None, :]
        tip[inside] = np.where(owner[inside] >= 0, np.maximum(tip[inside], stand.tip_cm), stand.tip_cm)
        owner[inside] = n
    dli = np.empty_like(tip)
    for height in np.unique(tip):  # one height at a time is the faster sum, for a level lamp
        rows, columns = np.nonzero(tip == height)
        ys_here, xs_here = np.unique(rows), np.unique(columns)
        found = board.at(setting, xs[xs_here], ys[ys_here], float(height))
        dli[rows, columns] = found[np.searchsorted(ys_here, rows), np.searchsorted(xs_here, columns)]
    if fine > 1:
        middle = slice(fine // 2, None, fine)
        xs, ys, tip, owner = xs[middle], ys[middle], tip[middle, middle], owner[middle, middle]
        dli = dli.reshape(ny, fine, nx, fine).mean(axis=(1, 3))
    return Map(xs, ys, dli, tip, owner)


def even(got: Sequence[Got]) -> float:
    """Of the least lit of their cells over the mean of all, 0–1."""
    mean = float(np.mean([g.dli for g in got])) if got else 0.0
    return min(g.least for g in got) / mean if mean > 0 else 0.0
