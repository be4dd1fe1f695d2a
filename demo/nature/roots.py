"""Is the pot full?  Roots slow the top smoothly as they fill it, and a pot-bound plant stands still once it is set out."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float32]
STALL_DAYS, CHECK_DAYS = 12.0, 4.0


def growth_share(filled: Array) -> Array:
    """Growth against that of a plant with room, by rooted volume ÷ volume of the container: logistic in its logarithm, 1/(1 + f⁴)."""
    power = filled * filled
    power *= power
    power += 1
    return np.asarray(np.reciprocal(power, out=power))


def stall(filled: Array) -> Array:
    """Days that a plant stands still once it has been set out: four for any, twelve more for one that is wholly bound."""
    return np.asarray(CHECK_DAYS + STALL_DAYS * (1 - growth_share(filled)))
