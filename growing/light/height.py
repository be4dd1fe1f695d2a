"""How high should it hang, or how far be dimmed?  The height at which the leaves get what they want; in the steps by which it is set."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import numpy as np

from growing.assumptions import real
from growing.light.shelf import Board, Got, LampAsSet

HEIGHTS = 40
EXACT_CM = 0.01
ANY_STEP_CM = 1.0  # a cord is set to the centimetre
CHAIN_CM = real("light.height.CHAIN_CM")
RATCHET_CM = real("light.height.RATCHET_CM")
WIDE_CM = 4.0  # steps in which the best height is first looked for
SAME = 0.005  # so little less missed is the same
DIM_STEP = 5.0
LEAST_DIM = 20.0


def step_of(hangs_by: str) -> tuple[str, float]:
    """By what a lamp is hung higher and lower, and the step [cm]; a cord to any height, 0."""
    named = {"chain": ("links", CHAIN_CM), "ratchet": ("notches", RATCHET_CM), "fixed": ("fixed", 0.0)}
    return named.get(hangs_by, ("cord", 0.0))


def height_for(light_at: Callable[[float], float], target: float, low_cm: float, high_cm: float) -> float | None:
    """The greatest height between those at which there is that much light, within a tenth of a millimetre; None: nowhere.

    light_at: light at a height, falling as it rises from where it is brightest on.
    """
    heights = np.linspace(high_cm, low_cm, HEIGHTS)
    above = None
    for height in heights:
        if light_at(float(height)) >= target:
            if above is None:
                return high_cm
            from scipy.optimize import brentq  # takes a while to load, and few pages ask

            return float(brentq(lambda h: light_at(h) - target, float(height), above, xtol=EXACT_CM))
        above = float(height)
    return None


def steps(by_cm: float, step_cm: float) -> int:
    """So many whole steps up or down; of a cord centimetres."""
    return round(by_cm / (step_cm or ANY_STEP_CM))


def heights_of(board: Board, setting: LampAsSet) -> Iterator[LampAsSet]:
    """The lamp at every step at which it can hang, from the leaves to the top; nearer steps first, itself among them."""
    limits, tallest = board.limits, board.tallest
    step = limits.step_cm or ANY_STEP_CM
    floor = (tallest.tip_cm if tallest is not None else 0.0) + limits.warm_cm
    down = max(0, math.floor((setting.lowest_cm - floor) / step)) if setting.lowest_cm > floor else 0
    highest = max(setting.left_cm, setting.right_cm)
    up = max(0, math.floor((limits.top_cm - highest) / step + 1e-6))
    for k in sorted(range(-down, up + 1), key=abs):
        yield setting.moved(k * step)


def best_height(board: Board, setting: LampAsSet) -> tuple[LampAsSet, list[Got]]:
    """The step that leaves least missed; of alike ones the nearest to where it hangs.  Looked for in wide steps, then in every one."""
    got = board.got(setting)
    found, best, least = setting, got, board.missed(got)
    every = list(heights_of(board, setting))
    step = board.limits.step_cm or ANY_STEP_CM
    wide = max(1, round(WIDE_CM / step))
    near, found_at = {setting.lowest_cm}, setting.lowest_cm
    for coarse in (True, False):
        for other in every:
            k = steps(other.lowest_cm - setting.lowest_cm, step)
            fits = k % wide == 0 if coarse else abs(other.lowest_cm - found_at) < wide * step - 0.01
            if not fits or other.lowest_cm in near:
                continue
            near.add(other.lowest_cm)
            got = board.got(other)
            missed = board.missed(got)
            if missed < least - SAME:
                found, best, least = other, got, missed
        found_at = found.lowest_cm
    return found, best


def best_dim(board: Board, setting: LampAsSet) -> tuple[LampAsSet, list[Got]] | None:
    """The dimmer's per cent that leaves least missed, the darkest of alike ones; None where it cannot be dimmed."""
    if not board.limits.dims:
        return None
    tried = []
    for k in range(int(LEAST_DIM / DIM_STEP), int(100 / DIM_STEP) + 1):
        other = setting._replace(per_cent=k * DIM_STEP)
        got = board.got(other)
        tried.append((round(board.missed(got), 3), k, other, got))
    _, _, found, best = min(tried, key=lambda one: one[:2])
    return found, best
