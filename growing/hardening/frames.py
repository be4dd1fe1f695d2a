"""Is the frame to be opened, and shut again?  A closed frame cooks within an hour of sun."""

from __future__ import annotations

from datetime import date

from growing.assumptions import real
from growing.place.covers import OPEN_FROM_C, SUNNY_CLOUD
from growing.place.nights import Night
from growing.steps import PlaceFacts, StepSpec, Task, with_another
from growing.waiting import cost
from growing.working import Value, Working

INSIDE_SUN_C = real("hardening.frames.INSIDE_SUN_C")
COOKS_C = 35.0  # inside, from which plants are lost
LOST_AN_HOUR = real("hardening.frames.LOST_AN_HOUR")
DEGREES_AN_HOUR = real("hardening.frames.DEGREES_AN_HOUR")
MOST_HOURS = real("hardening.frames.MOST_HOURS")


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


def _vent_waits(one: PlaceFacts, task: Task, today: date) -> Working:
    """A tenth of the plants for each hour over 35 °C inside: about an hour for every three degrees over it (estimate)."""
    inside = next((v.number for v in task.why.inputs if v.name == "inside" and isinstance(v.number, float)), COOKS_C)
    hours = min(MOST_HOURS, max(0.0, (inside - COOKS_C) / DEGREES_AN_HOUR))
    share = min(1.0, LOST_AN_HOUR * hours)
    inputs = (
        Value("plants", task.count, "plants"),
        Value("inside", inside, "°C", "estimate"),
        Value("hours", hours, "h", "estimate"),
        Value("share lost", share, "share", "estimate"),
    )
    return cost("hardening.waits_vent", inputs, share * (task.count or 0))


VENT = StepSpec("vent", "door", with_another, minutes=2, daily=True, alarm=True, waits=_vent_waits)
SHUT = StepSpec("shut", "door", with_another, minutes=2, daily=True, alarm=True)
RULES = {
    "hardening.vent": ("what", "warmest", "cloud", "inside", "open from"),
    "hardening.waits_vent": ("plants", "inside", "hours", "share lost"),
    "hardening.shut": ("what", "at the plant", "lowest"),
}
