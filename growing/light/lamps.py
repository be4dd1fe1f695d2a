"""How much light does that lamp give downwards?  From what is printed on it, else from its kind; age, dust and dimmer taken off."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np

from growing.assumptions import real, whole
from growing.tables import rows
from growing.working import Value, Working

# µmol s⁻¹ of a lumen: white LED by its colour [K], fluorescent tubes
PER_LUMEN_K, PER_LUMEN = (3000.0, 5000.0), (0.0160, 0.0145)
PER_LUMEN_FLUORESCENT = 0.0130
FLUORESCENT = ("thin", "thick", "compact")
DUST_A_DAY = real("light.lamps.DUST_A_DAY")
MOST_DUST = real("light.lamps.MOST_DUST")
DULL_DAYS = whole("light.lamps.DULL_DAYS")
MOST_LUMEN, MOST_UMOL, MOST_WATTS = 30_000.0, 2500.0, 1500.0  # of a lamp that somebody hangs over a shelf
MOST_PER_J = 4.0  # µmol from a joule: no lamp gives more


class LampKind(NamedTuple):
    """A kind of lamp with its typical numbers (see the table)."""

    key: str
    name: str
    length_cm: float
    width_cm: float
    watts: float
    umol_per_j: float
    kelvin: float
    down: float
    reflected: float
    life_h: float
    ages: float
    warm_cm: float
    near_cm: float
    far_cm: float
    mostly_heat: bool

    @property
    def coloured(self) -> bool:
        """Is its light not white, so that a lux meter says little of it?"""
        return self.kelvin == 0

    @property
    def wears_out(self) -> bool:
        """Is its tube changed, before the whole lamp is?"""
        return self.key in FLUORESCENT


@lru_cache(maxsize=1)
def kinds() -> dict[str, LampKind]:
    """Every kind by its key, in the order of the table."""
    found = {}
    for key, row in rows("lamps").items():
        numbers = [float(v) for name, v in row.items() if name not in ("kind", "name", "mostly_heat")]
        found[key] = LampKind(key, row["name"], *numbers, row["mostly_heat"] == "1")  # type: ignore[call-arg, arg-type]
    return found


class DescribedLamp(NamedTuple):
    """A lamp as somebody described it, or some alike beside each other (number); what is said is of one.

    umol [µmol s⁻¹], lumen with kelvin, or watts alone: the first that is said counts; None: not said.  reflector: None: not said.
    hours_run [h], dusty_days [d]: since new, since wiped; None: nobody knows, nothing is taken off.  per_cent: of its dimmer.
    measured: times what is reckoned, by a reading at the leaves.
    """

    kind: str
    umol: float | None = None
    lumen: float | None = None
    kelvin: float | None = None
    watts: float | None = None
    length_cm: float | None = None
    width_cm: float | None = None
    reflector: bool | None = None
    number: int = 1
    hours_run: float | None = None
    dusty_days: int | None = None
    per_cent: float = 100.0
    measured: float | None = None

    @property
    def of(self) -> LampKind:
        return kinds()[self.kind]

    @property
    def long_cm(self) -> float:
        """Its length, of its kind where nobody said [cm]."""
        return self.length_cm or self.of.length_cm

    @property
    def wide_cm(self) -> float:
        """Its width, of its kind where nobody said [cm]."""
        return self.width_cm or self.of.width_cm


class Flux(NamedTuple):
    """What lamps send down [µmol s⁻¹] and draw [W], all together; typical: what stands in for what nobody said, "" where all was."""

    umol: float
    watts: float
    typical: str
    working: Working


def per_lumen(kind: str, kelvin: float) -> float:
    """µmol s⁻¹ of a lumen of that lamp, by its colour."""
    if kind in FLUORESCENT:
        return PER_LUMEN_FLUORESCENT
    return float(np.interp(kelvin, PER_LUMEN_K, PER_LUMEN))


def flux(lamp: DescribedLamp) -> Flux:
    """Light sent down by the lamp as it burns today."""
    of, typical = lamp.of, ""
    watts = lamp.watts
    if lamp.umol is not None:
        whole, given = lamp.umol, (Value("given", lamp.umol, "µmol/s"),)
        watts = watts or lamp.umol / of.umol_per_j
    elif lamp.lumen is not None:
        kelvin = lamp.kelvin or of.kelvin or PER_LUMEN_K[0]
        each = per_lumen(lamp.kind, kelvin)
        whole = lamp.lumen * each
        colour = Value("colour", kelvin, "K", "garden" if lamp.kelvin else "estimate")
        given = (Value("given", lamp.lumen, "lm"), colour, Value("each", each, "µmol/s per lm", "table"))  # type: ignore[assignment]
        watts = watts or whole / of.umol_per_j
    else:
        typical = "" if watts is not None else "watts"
        watts = of.watts if watts is None else watts
        whole = watts * of.umol_per_j
        source = "estimate" if typical else "garden"
        given = (Value("given", watts, "W", source), Value("each", of.umol_per_j, "µmol/J", "estimate"))  # type: ignore[assignment]
    down = of.reflected if lamp.reflector else of.down
    aged = 1.0 if lamp.hours_run is None else 1 - of.ages * min(1.0, lamp.hours_run / of.life_h)
    dust = 1.0 if lamp.dusty_days is None else 1 - min(MOST_DUST, DUST_A_DAY * max(0, lamp.dusty_days))
    dimmed = lamp.per_cent / 100
    umol = whole * down * aged * dust * dimmed * lamp.number * (lamp.measured or 1.0)
    inputs = (
        *given,
        Value("lamps", lamp.number),
        Value("down", down, "share", "estimate"),
        Value("left by age", round(aged, 3), "share", "estimate" if lamp.hours_run is not None else "not known"),
        Value("left under dust", round(dust, 3), "share", "estimate" if lamp.dusty_days is not None else "not known"),
        Value("dimmed to", lamp.per_cent, "%"),
        Value("by your reading", lamp.measured and round(lamp.measured, 2), "×"),
    )
    rule = "light.flux" if lamp.measured else "light.flux_unread"
    kept = inputs if lamp.measured else inputs[:-1]
    working = Working(rule, kept, (), Value("down", round(umol, 1), "µmol/s"))
    return Flux(umol, watts * lamp.number * dimmed, typical, working)


def wrong_lamp(lamp: DescribedLamp) -> str:
    """Why such a lamp cannot be; empty where it can."""
    of = kinds().get(lamp.kind)
    if of is None:
        return f"{lamp.kind[:20]!r} is no kind of lamp: choose {', '.join(k.name for k in kinds().values())}"
    if of.mostly_heat:
        return "a filament or halogen bulb mostly heats: it burns leaves before it lights them. Choose another kind of lamp"
    for value, most, unit in (
        (lamp.lumen, MOST_LUMEN, "lm"),
        (lamp.umol, MOST_UMOL, "µmol/s"),
        (lamp.watts, MOST_WATTS, "W"),
    ):
        if value is not None and not 0 < value <= most:
            return f"{value:g} {unit} cannot be of one lamp: give more than 0 and up to {most:g}, as printed on it"
    if lamp.watts and (lamp.umol or lamp.lumen):
        whole = lamp.umol or (lamp.lumen or 0) * per_lumen(lamp.kind, lamp.kelvin or of.kelvin or 3000.0)
        if whole / lamp.watts > MOST_PER_J:
            return (
                f"{whole:.0f} µmol/s from {lamp.watts:g} W is more than any lamp gives: look at both numbers once more"
            )
    return ""


RULES = {
    "light.flux_unread": (
        *("given", "colour", "each", "lamps", "down", "left by age", "left under dust", "dimmed to"),
    ),
    "light.flux": (
        *("given", "colour", "each", "lamps", "down", "left by age", "left under dust", "dimmed to", "by your reading"),
    ),
}
