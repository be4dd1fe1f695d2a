"""Units: differences convert by 1.8 alone, gallons are kept apart, nothing is lost there and back."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.units import SYSTEMS, shown, stored


class Units(TestCase):
    def test_degrees_and_differences(self) -> None:
        self.assertEqual(shown(0.0, "°C", "us"), (32.0, "°F"))
        self.assertEqual(shown(10.0, "Δ°C", "us"), (18.0, "°F"))
        self.assertEqual(shown(10.0, "°C", "imperial"), (10.0, "°C"))

    def test_gallons_are_two_units(self) -> None:
        us, imperial = shown(10.0, "l", "us"), shown(10.0, "l", "imperial")
        self.assertAlmostEqual(us[0], 2.6417, places=4)
        self.assertAlmostEqual(imperial[0], 2.1997, places=4)
        self.assertNotEqual(us[1], imperial[1])

    @given(st.floats(-60, 60), st.sampled_from(["°C", "Δ°C", "cm", "l", "g", "km/h"]), st.sampled_from(SYSTEMS))
    def test_there_and_back(self, number: float, unit: str, system: str) -> None:
        self.assertAlmostEqual(stored(shown(number, unit, system)[0], unit, system), number, places=9)
