"""What does a meter say at the leaves?  Lux to light for plants, the lamp's true light by it, and a hand that feels warm."""

from __future__ import annotations

from typing import NamedTuple

from growing.light.lamps import FLUORESCENT, kinds
from growing.working import Value, Working

PER_LUX = {"sun": 0.0185, "led": 0.0145, "fluorescent": 0.0130}  # µmol m⁻² s⁻¹ of a lux
LEAST_TIMES, MOST_TIMES = 0.25, 3.0  # of what is reckoned: beyond, meter, unit or lamp are not what they are taken for
MOST_LUX, MOST_PPFD = 150_000.0, 2500.0


class Reading(NamedTuple):
    """Light at a point by a meter [µmol m⁻² s⁻¹]; times: of what was reckoned there, None where it is unsure; why."""

    ppfd: float
    times: float | None
    unsure: str
    working: Working


def per_lux(kind: str) -> float | None:
    """µmol m⁻² s⁻¹ of a lux under that kind of lamp, "sun" for a window; None where a lux meter cannot say it."""
    if kind == "sun":
        return PER_LUX["sun"]
    if kinds()[kind].coloured:
        return None
    return PER_LUX["fluorescent" if kind in FLUORESCENT else "led"]


def read(number: float, unit: str, kind: str, reckoned: float) -> Reading:
    """A meter's number where so much was reckoned.  unit: "lux" or "ppfd".  Raises ValueError where it cannot be."""
    most = MOST_LUX if unit == "lux" else MOST_PPFD
    if not 0 < number <= most:
        raise ValueError(f"{number:g} cannot be: give more than 0 and up to {most:g}")
    each = 1.0 if unit == "ppfd" else per_lux(kind)
    if each is None:
        each, unsure = PER_LUX["led"], "coloured"
    else:
        unsure = ""
    light = number * each
    times = light / reckoned if reckoned > 0 else 0.0
    if not unsure and not LEAST_TIMES <= times <= MOST_TIMES:
        unsure = "far"
    inputs = (
        Value("read", number, "lux" if unit == "lux" else "µmol/m²/s", "measured"),
        Value("each", each, "µmol/m²/s per lux" if unit == "lux" else "", "table"),
        Value("reckoned", round(reckoned, 1), "µmol/m²/s", "working"),
    )
    rule = f"light.read_{unsure}" if unsure else "light.read"
    return Reading(
        light,
        None if unsure else times,
        unsure,
        Working(rule, inputs, (), Value("light", round(light, 1), "µmol/m²/s")),
    )


RULES = dict.fromkeys(("light.read", "light.read_coloured", "light.read_far"), ("read", "each", "reckoned"))
