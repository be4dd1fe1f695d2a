"""Is the frame to be opened, and shut again?  A closed frame cooks within an hour of sun."""

from __future__ import annotations

from growing.place.nights import Night
from growing.plantingout.covers import OPEN_FROM_C, SUNNY_CLOUD
from growing.steps import StepSpec, with_another
from growing.working import Value, Working

INSIDE_SUN_C = 15.0  # a closed frame in sun over the air outside: estimate
COOKS_C = 35.0  # inside, from which plants are lost


def opens(night: Night | None, stood: str) -> Working | None:
    """Why what is closed is opened today, with the temperatures; None where it may stay shut, or no forecast says.

    night: of the day; stood: what it is, a frame or a tunnel.
    """
    if night is None or night.tmax_c is None:
        return None
    sunny = night.cloud is None or night.cloud < SUNNY_CLOUD
    inside = night.tmax_c + INSIDE_SUN_C * (1.0 - (night.cloud if night.cloud is not None else 0.0))
    if not (sunny and night.tmax_c >= OPEN_FROM_C) and inside < COOKS_C - 5:
        return None
    inputs = (
        Value("what", stood),
        Value("warmest", night.tmax_c, "°C", "forecast"),
        Value("cloud", night.cloud, "share", "forecast" if night.cloud is not None else "assumed"),
        Value("inside", inside, "°C", "estimate"),
        Value("open from", OPEN_FROM_C, "°C", "working"),
    )
    return Working("hardening.vent", inputs, (), Value("open", stood))


def shuts(night: Night | None, stood: str, plant_c: float | None) -> Working:
    """Why it is shut again before dusk, with the night at the plant inside."""
    inputs = (
        Value("what", stood),
        Value("at the plant", plant_c, "°C", "working"),
        Value("lowest", None if night is None else night.tmin_c, "°C", "forecast"),
    )
    return Working("hardening.shut", inputs, (), Value("shut", stood))


VENT = StepSpec("vent", "door", with_another, minutes=2, daily=True, alarm=True)
SHUT = StepSpec("shut", "door", with_another, minutes=2, daily=True, alarm=True)
RULES = {
    "hardening.vent": ("what", "warmest", "cloud", "inside", "open from"),
    "hardening.shut": ("what", "at the plant", "lowest"),
}
