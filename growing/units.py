"""What does that say on my thermometer?  Stored units and how they are shown.

Stored: °C, cm, litres, g.  Temperature differences ("Δ°C") convert by 1.8 alone.  US and imperial gallons are
different units and are never mixed.
"""

from __future__ import annotations

SYSTEMS = ("metric", "us", "imperial")
LITRES_PER_US_GALLON = 3.785411784
LITRES_PER_IMPERIAL_GALLON = 4.54609

# (stored unit, system) -> (shown unit, factor, offset):  shown = stored × factor + offset
_SHOWN: dict[tuple[str, str], tuple[str, float, float]] = {
    ("°C", "us"): ("°F", 1.8, 32.0),
    ("Δ°C", "us"): ("°F", 1.8, 0.0),
    ("cm", "us"): ("in", 1 / 2.54, 0.0),
    ("cm", "imperial"): ("in", 1 / 2.54, 0.0),
    ("m", "us"): ("ft", 1 / 0.3048, 0.0),
    ("m", "imperial"): ("ft", 1 / 0.3048, 0.0),
    ("km", "us"): ("miles", 1 / 1.609344, 0.0),
    ("km", "imperial"): ("miles", 1 / 1.609344, 0.0),
    ("ml", "us"): ("fl oz", 128e-3 / LITRES_PER_US_GALLON, 0.0),
    ("ml", "imperial"): ("fl oz", 160e-3 / LITRES_PER_IMPERIAL_GALLON, 0.0),
    ("seeds/cm²", "us"): ("seeds/in²", 2.54**2, 0.0),
    ("seeds/cm²", "imperial"): ("seeds/in²", 2.54**2, 0.0),
    ("g", "imperial"): ("oz", 1 / 28.349523125, 0.0),
    ("l", "us"): ("US gal", 1 / LITRES_PER_US_GALLON, 0.0),
    ("l", "imperial"): ("imp gal", 1 / LITRES_PER_IMPERIAL_GALLON, 0.0),
    ("g", "us"): ("oz", 1 / 28.349523125, 0.0),
    ("mm", "us"): ("in", 1 / 25.4, 0.0),
    ("mm", "imperial"): ("in", 1 / 25.4, 0.0),
    ("g/m²", "us"): ("oz/yd²", 0.83612736 / 28.349523125, 0.0),
    ("g/m²", "imperial"): ("oz/yd²", 0.83612736 / 28.349523125, 0.0),
    ("kg", "us"): ("lb", 1 / 0.45359237, 0.0),
    ("kg", "imperial"): ("lb", 1 / 0.45359237, 0.0),
    ("km/h", "us"): ("mph", 1 / 1.609344, 0.0),
    ("km/h", "imperial"): ("mph", 1 / 1.609344, 0.0),
}


def shown(number: float, unit: str, system: str) -> tuple[float, str]:
    """The number and unit as this reader's system shows them; unknown units pass unchanged."""
    name, factor, offset = _SHOWN.get((unit, system), ("°C" if unit == "Δ°C" else unit, 1.0, 0.0))
    return number * factor + offset, name


def stored(number: float, unit: str, system: str) -> float:
    """What is stored for a number typed in the reader's system, where `unit` is the stored unit."""
    _, factor, offset = _SHOWN.get((unit, system), (unit, 1.0, 0.0))
    return (number - offset) / factor
