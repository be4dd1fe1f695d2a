"""What does a grower do, and how well?  One pair of hands that counts a little wrong, skips a look and is a day late at times.

The same grower carries out every rule and every habit that is compared; what she sees is all that either of them knows.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature.chance import stream

COUNTS_WRONG, SKIPS, LATE = 0.03, 0.10, 1 / 8
DRY, FAIR, WET = 0, 1, 2
LIFTED = (0.45, 0.75)  # of what the mix holds: below it a tray feels light, above it heavy


class Minutes(NamedTuple):
    """What work takes [minutes] (estimates): a seed sown, a tray watered or fed, a plant potted, carried, set out; and a day's most."""

    seed: float = 0.12
    tray: float = 1.5
    potted: float = 0.6
    carried: float = 0.5
    set_out: float = 1.0
    a_day: float = 90.0


class Chances(NamedTuple):
    """What befalls the grower, drawn once for a run: looks skipped (days, groups); work a day late (groups, 3: sowing, planting out,
    hardening); how wrong she counts (days, groups)."""

    skips: NDArray[np.bool_]
    late: NDArray[np.bool_]
    wrong: NDArray[np.float32]


def chances(seed: int, groups: list[tuple[int, str]], days: int) -> Chances:
    """For groups named by season and sowing, the same for every rule."""
    skips, wrong = np.empty((days, len(groups)), bool), np.empty((days, len(groups)), np.float32)
    late = np.empty((len(groups), 3), bool)
    for g, (season, name) in enumerate(groups):
        own = stream(seed, "grower", season, name)
        late[g], skips[:, g] = own.random(3) < LATE, own.random(days) < SKIPS
        wrong[:, g] = own.normal(0, COUNTS_WRONG, days)
    return Chances(skips, late, wrong)


def counted(true: NDArray[np.float32], wrong: NDArray[np.float32], most: NDArray[np.float32]) -> NDArray[np.float32]:
    """What a count of `true` seedlings says: wrong by 3 % as a rule, never more than were sown."""
    return np.clip(np.round(true * (1 + wrong)), 0, most)


def lifted(wet: NDArray[np.float32]) -> NDArray[np.int8]:
    """How heavy a tray feels: DRY, FAIR or WET, from the mean of its cells."""
    return np.digitize(wet, LIFTED).astype(np.int8)


def within(minutes: NDArray[np.float64], season: NDArray[np.intp], most: float) -> NDArray[np.bool_]:
    """Which of a day's jobs [minutes] are done before each season's grower has no more time, in their order."""
    done = np.ones(len(minutes), bool)
    order = np.argsort(season, kind="stable")
    total = np.cumsum(minutes[order])
    first = np.concatenate([[True], np.diff(season[order]) != 0])
    before = np.maximum.accumulate(np.where(first, total - minutes[order], 0))
    done[order] = total - before <= most
    return done | (minutes == 0)
