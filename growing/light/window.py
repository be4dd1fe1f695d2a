"""What does a sill give?  Outdoor light by latitude, date and cloud; through a pane by where it looks and what stands before it.

Outdoors: extraterrestrial radiation of the day, what comes through by the range of the day's temperature, both as is common in crop water
practice (recalled, held to its worked example), 0.45 of it light for plants at 4.57 µmol J⁻¹.  The share that is diffuse is read off how much came
through (an estimate between overcast and clear).  A leaf on a sill sees half the sky, and of that what the frame leaves, and the sun for
as many of its hours as it stands before the pane: both through glass.
"""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from math import acos, cos, exp, pi, radians, sin, sqrt, tan
from typing import NamedTuple

from astral import Observer
from astral.sun import zenith_and_azimuth

from growing.assumptions import by_kind, real, shown
from growing.working import Value, Working

SOLAR = 0.0820  # MJ m⁻² min⁻¹
MOL_A_MJ = 0.45 * 4.57
INLAND, COAST = 0.16, 0.19  # of the root of the day's range [°C^−½]
CLEAR = 0.75  # of what is above the air comes through on a clear day
OVERCAST = 0.25
GLASS = real("light.window.GLASS")
SKY_SEEN = real("light.window.SKY_SEEN")
CARD = real("light.window.CARD")
FACING = {
    "north": 0,
    "north-east": 45,
    "east": 90,
    "south-east": 135,
    "south": 180,
    "south-west": 225,
    "west": 270,
    "north-west": 315,
}
LOW_SUN = real("light.window.LOW_SUN")
ACROSS = 75.0  # degrees to either side of where it looks
MINUTES = 20
UNDER = by_kind("light.window.UNDER")
POOR = 5.0  # DLI under which a sill alone makes them leggy


def extraterrestrial(latitude: float, day: date) -> float:
    """Radiation above the air on a level place [MJ m⁻² d⁻¹], 0 in the polar night."""
    j = day.timetuple().tm_yday
    near = 1 + 0.033 * cos(2 * pi * j / 365)
    decline = 0.409 * sin(2 * pi * j / 365 - 1.39)
    phi = radians(latitude)
    x = -tan(phi) * tan(decline)
    sunset = 0.0 if x >= 1 else pi if x <= -1 else acos(x)
    return 24 * 60 / pi * SOLAR * near * (sunset * sin(phi) * sin(decline) + cos(phi) * cos(decline) * sin(sunset))


class OutdoorLight(NamedTuple):
    """A day's light outdoors [mol m⁻² d⁻¹], and the share of it that is diffuse; known: by the place's weather."""

    dli: float
    diffuse: float
    known: bool


def outdoors(latitude: float, day: date, range_c: float | None, coast: bool = False) -> OutdoorLight:
    """Light of a usual day.  range_c: warmest less coldest of the day [°C]; None: half clear days are taken."""
    above = extraterrestrial(latitude, day)
    through = (
        0.5 if range_c is None else min(CLEAR, max(OVERCAST, (COAST if coast else INLAND) * sqrt(max(0.0, range_c))))
    )
    diffuse = 1 - 0.75 * (through - OVERCAST) / (CLEAR - OVERCAST)
    return OutdoorLight(above * through * MOL_A_MJ, diffuse, range_c is not None)


@lru_cache(maxsize=2048)
def sun_before(latitude: float, day: date, facing: float) -> tuple[float, float]:
    """The sun before a pane on a clear day: hours of it, and the share of the day's direct light on a level leaf that falls in them.

    facing: degrees from north.  The sun counts while it is well over the horizon and not too far to the side.
    """
    here, noon = Observer(latitude, 0.0), datetime.combine(day, time(12), UTC)
    hours, before, all_of_it = 0.0, 0.0, 0.0
    for k in range(-12 * 60 // MINUTES, 12 * 60 // MINUTES):
        zenith, azimuth = zenith_and_azimuth(here, noon + timedelta(minutes=k * MINUTES))
        height = 90 - zenith
        if height <= 0:
            continue
        strength = sin(radians(height)) * exp(-0.2 / sin(radians(max(height, 3.0))))  # through more air when it is low
        all_of_it += strength
        if height > LOW_SUN and abs((azimuth - facing + 180) % 360 - 180) < ACROSS:
            hours += MINUTES / 60
            before += strength
    return hours, before / all_of_it if all_of_it else 0.0


class Sill(NamedTuple):
    """A day's light on a sill [mol m⁻² d⁻¹], hours of direct sun, the working; poor: too little for seedlings alone."""

    dli: float
    sun_h: float
    working: Working

    @property
    def poor(self) -> bool:
        return self.dli < POOR


def under(kind: str, latitude: float, day: date, range_c: float | None) -> float | None:
    """DLI of a usual day outdoors in that kind of place, under its cover; None: it lies indoors."""
    return outdoors(latitude, day, range_c).dli * UNDER[kind] if kind in UNDER else None


def sill(
    latitude: float, day: date, facing: str, sun_h: float | None, range_c: float | None, card: bool = False
) -> Sill:
    """Light on a sill of a usual day.

    facing: a key of FACING, "" where nobody said: then by hours alone.  sun_h: direct sun that somebody saw on a clear day, None: as the
    sun runs, with nothing before it.
    """
    out = outdoors(latitude, day, range_c)
    toward = FACING.get(facing, 180.0 if latitude >= 0 else 0.0)
    hours, share = sun_before(latitude, day, float(toward))
    if sun_h is not None:
        share *= min(1.0, sun_h / hours) if hours else 0.0
        hours = min(sun_h, hours) if facing else sun_h
    light = out.dli * GLASS * (SKY_SEEN * out.diffuse + share * (1 - out.diffuse)) * (CARD if card else 1.0)
    inputs = (
        Value("outdoors", round(out.dli, 1), "mol/m²/d", "weather" if out.known else "estimate"),
        Value("diffuse", round(out.diffuse, 2), "share", "estimate"),
        Value("sun", round(hours, 1), "h", "garden" if sun_h is not None else "working"),
        Value("sun comes in", round(share, 2), "share", "working"),
        shown("glass", "light.window.GLASS"),
        shown("sky seen", "light.window.SKY_SEEN"),
    )
    return Sill(light, hours, Working("light.sill", inputs, (), Value("light", round(light, 1), "mol/m²/d")))


RULES = {"light.sill": ("outdoors", "diffuse", "sun", "sun comes in", "glass", "sky seen")}
