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

    def test_against_measures_that_everybody_knows(self) -> None:
        for number, unit, system, known, name in (
            (29.5735, "ml", "us", 1.0, "fl oz"),
            (28.4131, "ml", "imperial", 1.0, "fl oz"),
            (1.609344, "km", "us", 1.0, "miles"),
            (30.48, "cm", "imperial", 12.0, "in"),
            (0.9144, "m", "imperial", 3.0, "ft"),
            (453.592, "g", "imperial", 16.0, "oz"),
            (1.0, "seeds/cm²", "us", 6.4516, "seeds/in²"),
        ):
            found, said = shown(number, unit, system)
            self.assertAlmostEqual(found, known, places=3)
            self.assertEqual(said, name)

    @given(
        st.floats(-60, 60),
        st.sampled_from(["°C", "Δ°C", "cm", "m", "km", "l", "ml", "g", "km/h", "seeds/cm²"]),
        st.sampled_from(SYSTEMS),
    )
    def test_there_and_back(self, number: float, unit: str, system: str) -> None:
        self.assertAlmostEqual(stored(shown(number, unit, system)[0], unit, system), number, places=9)
