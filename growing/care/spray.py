"""How long is it sprayed?  Seconds for a cell, from how much comes in a time that was measured once."""

from __future__ import annotations

LEAST_S, MOST_S = 0.2, 600.0


def seconds(ml: float, measured_ml: float, measured_s: float) -> float:
    """Seconds for so many ml.  Raises ValueError where the measure cannot be: nothing came, or no time went."""
    if not (0 < measured_ml <= 5000 and 0 < measured_s <= MOST_S):
        raise ValueError("measure it once: spray into a cup for half a minute, and give ml and seconds, both over 0")
    if ml < 0:
        raise ValueError(f"{ml:g} ml cannot be sprayed")
    return max(LEAST_S, ml * measured_s / measured_ml) if ml else 0.0
