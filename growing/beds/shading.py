"""Who takes whose sun?  The shadows of the areas in a bed through one day, from the sun's path.

Areas are taken as blocks as high as their plants are on that day, which is the dark side of the truth (estimate).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from astral import Observer
from astral.sun import noon, zenith_and_azimuth
from numpy.typing import NDArray

from growing.assumptions import real
from growing.beds.bedplan import Area, Rect
from growing.working import Value, Working

STEP_H = 0.5
LOW_DEG = real("beds.shading.LOW_DEG")
SHADES_CM = real("beds.shading.SHADES_CM")
LEAST_H = real("beds.shading.LEAST_H")
MIDDAY_H = 2.0  # before and after noon
POINTS = 5  # a side, at which an area is looked at
WANTS_H = {"full sun": 6.0, "half shade": 3.0}  # direct sun a day: working defaults
PARTS = ("morning", "midday", "afternoon")


class SunPath(NamedTuple):
    """One day of sun, every half hour in which it stands 5° or higher.

    hours: (t,) from solar noon.  heights: (t,) [°].  shadows: (t, 2), of something 1 high, its reach to the east and
    to the north.
    """

    hours: NDArray[np.float64]
    heights: NDArray[np.float64]
    shadows: NDArray[np.float64]

    @property
    def open_h(self) -> float:
        """Hours of sun under an open sky."""
        return len(self.hours) * STEP_H


@lru_cache(maxsize=1024)
def sun_path(latitude: float, day: date) -> SunPath:
    """The sun of one day; no rows in the polar night.  latitude: −90…90."""
    observer = Observer(latitude=latitude, longitude=0.0)
    middle = noon(observer, day)
    hours = np.arange(-12 + STEP_H / 2, 12, STEP_H)
    sky = [zenith_and_azimuth(observer, middle + timedelta(hours=float(h))) for h in hours]
    heights, bearings = (np.array(column) for column in zip(*((90 - z, a) for z, a in sky), strict=True))
    up = heights >= LOW_DEG
    reach = 1 / np.tan(np.radians(heights[up]))
    away = np.radians(bearings[up] + 180)
    return SunPath(hours[up], heights[up], np.stack([reach * np.sin(away), reach * np.cos(away)], axis=1))


def under(taller: Rect, smaller: Rect, reaches: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Where the shadow lies: for every reach (t, 2) on the drawing and 25 points of the smaller area, (t, 25)."""
    middle = (np.arange(POINTS) + 0.5) / POINTS
    x, y = np.meshgrid(smaller.x + middle * smaller.length, smaller.y + middle * smaller.width)
    reach = np.where(np.abs(reaches) < 1e-9, 1e-9, reaches)[:, None, :]
    points = np.stack([x.ravel(), y.ravel()], axis=1)[None, :, :]
    # from each point back toward the sun: between which shares of the reach does it pass over the block?
    one = (points - (taller.x, taller.y)) / reach
    other = (points - (taller.right, taller.bottom)) / reach
    enters, leaves = np.minimum(one, other).max(axis=2), np.maximum(one, other).min(axis=2)
    return np.asarray(np.maximum(enters, 0) <= np.minimum(leaves, 1))


class Shade(NamedTuple):
    """What `smaller` loses of its sun on a day, to whom, in which parts of the day, and what is left."""

    smaller: Area
    by: tuple[Area, ...]
    lost_h: float
    left_h: float
    parts: tuple[str, ...]
    working: Working

    @property
    def enough(self) -> bool:
        return self.left_h >= WANTS_H[self.smaller.wants]


def shaded(areas: Sequence[Area], latitude: float, north_deg: float, day: date) -> list[Shade]:
    """Areas that lose half an hour of sun or more to something 30 cm taller, averaged over their ground.

    north_deg: where north lies on the drawing, clockwise from up.  Areas that share ground are left out: that is said
    as an overlap.
    """
    heights = [(area, area.height(day)) for area in areas if area.stands(day)]
    pairs = {  # each with how much taller the others stand
        low: [(tall, up - h) for tall, up in heights if up - h > SHADES_CM and not tall.rect.overlap(low.rect)]
        for low, h in heights
    }
    if not any(pairs.values()):
        return []
    path = sun_path(latitude, day)
    turn = math.radians(north_deg)
    east, north = path.shadows.T
    on_drawing = np.stack(
        [east * math.cos(turn) + north * math.sin(turn), east * math.sin(turn) - north * math.cos(turn)], axis=1
    )
    found = []
    for low, taller in pairs.items():
        dark = [(tall, more, under(tall.rect, low.rect, on_drawing * more)) for tall, more in taller]
        by = [(tall, more) for tall, more, where in dark if where.mean() * path.open_h >= LEAST_H]
        if by:
            found.append(_shade(low, by, np.logical_or.reduce([where for _, _, where in dark]).mean(axis=1), path))
    return found


def _shade(low: Area, by: list[tuple[Area, float]], dark: NDArray[np.float64], path: SunPath) -> Shade:
    """dark: (t,), the share of its ground that lies in shadow."""
    lost = float(dark.sum()) * STEP_H
    before, after = path.hours < -MIDDAY_H, path.hours > MIDDAY_H
    of_part = [float(dark[when].sum()) * STEP_H for when in (before, ~before & ~after, after)]
    parts = tuple(name for name, h in zip(PARTS, of_part, strict=True) if h >= min(LEAST_H, max(of_part)))
    inputs = (
        Value("sun", path.open_h, "h"),
        Value("shaded", lost, "h"),
        Value("taller", ", ".join(dict.fromkeys(tall.name for tall, _ in by))),
        Value("difference", max(more for _, more in by), "cm"),
        Value("wants", WANTS_H[low.wants], "h", "working"),
    )
    left = path.open_h - lost
    return Shade(
        low,
        tuple(tall for tall, _ in by),
        lost,
        left,
        parts,
        Working("beds.shade", inputs, (), Value("left", left, "h")),
    )
