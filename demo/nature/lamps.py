"""How much light do lamps really give, and how near do they burn?  Strips as lines in closed form; no two lamps are alike.

Under a line of light of 2a cm that sends Φ' a centimetre downwards by the cosine, at a point u along it and D away (D² = sideways² +
height²): E = Φ'/π · h² · [u/(2 D² (u² + D²)) + atan(u/D)/(2 D³)] between its ends.  What a lamp gives is off what is printed on it by a
factor of its own; how near it burns is as well.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature.chance import stream

Array = NDArray[np.float64]
OFF, BURN_OFF = 0.15, 0.25  # spread (log) of what it gives, and of how near it burns
UMOL_H = 0.0036


class Lights(NamedTuple):
    """Lines of light over a shelf of wide × deep cm: how many side by side, their length [cm], what is printed on all together [µmol s⁻¹ downwards],
    watts of all, how near they burn [cm]."""

    name: str
    lines: int
    length_cm: float
    umol: float
    watts: float
    burns_cm: float
    wide_cm: float = 122.0
    deep_cm: float = 56.0


class Drawn(NamedTuple):
    """What chance made of them, season by season: times what is printed; how near they burn [cm]."""

    times: Array
    burns_cm: Array


def draw(lights: Lights, seed: int, seasons: int) -> Drawn:
    """The lamps of so many seasons."""
    chance = [stream(seed, "lamp", lights.name, s).normal(0, 1, 2) for s in range(seasons)]
    both = np.array(chance)
    return Drawn(np.exp(OFF * both[:, 0]), lights.burns_cm * np.exp(BURN_OFF * both[:, 1]))


def ppfd(lights: Lights, height_cm: Array, x_cm: tuple[float, float], depth: int = 7, along: int = 5) -> Array:
    """Mean light over the ground between two x [cm], over the whole depth, at so many cm under the lamps [µmol m⁻² s⁻¹], (n,)."""
    h = np.maximum(height_cm, 0.3)[:, None, None, None]
    x = (x_cm[0] + (np.arange(along) + 0.5) / along * (x_cm[1] - x_cm[0]))[None, :, None, None]
    y = ((np.arange(depth) + 0.5) / depth * lights.deep_cm)[None, None, :, None]
    line = ((np.arange(lights.lines) + 0.5) / lights.lines * lights.deep_cm)[None, None, None, :]
    a, middle = lights.length_cm / 2, lights.wide_cm / 2
    d2 = (y - line) ** 2 + h**2
    d = np.sqrt(d2)

    def upto(u: Array) -> Array:
        return np.asarray(u / (2 * d2 * (u**2 + d2)) + np.arctan(u / d) / (2 * d2 * d))

    each = lights.umol / lights.lines / lights.length_cm
    light = each / np.pi * h**2 * (upto(x - middle + a) - upto(x - middle - a))
    return np.asarray(light.sum(axis=3).mean(axis=(1, 2)) * 1e4)
