"""Light on the leaf plane: closed forms, energy, symmetry, mirrors; a lamp's light from what is printed on it."""

from __future__ import annotations

import re
from math import atan, pi, sin
from pathlib import Path
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from growing.light import lamps, reading
from growing.light.height import height_for
from growing.light.lamps import DescribedLamp, flux, wrong_lamp
from growing.light.plane import COARSE_CM, Hung, Sides, at_points, cells, daily_light_integral, ppfd, uniformity

AT = np.array([0.0])


def lamp(cm: float, length: float = 1.0, width: float = 1.0, umol: float = 100.0) -> Hung:
    return Hung(umol, length, width, 0.0, 0.0, cm, cm)


class AgainstClosedForms(TestCase):
    def test_one_small_lamp_on_its_axis(self) -> None:
        """E = Φ / (π h²), a point of Lambert's kind."""
        for cm in (10.0, 20.0, 45.0, 60.0):
            on_axis = ppfd([lamp(cm, 0.2, 0.2)], AT, AT, 0.0)[0, 0]
            self.assertAlmostEqual(on_axis / (100 / (pi * (cm / 100) ** 2)), 1.0, delta=0.002)

    def test_beside_its_axis_it_falls_with_the_fourth_power_of_the_cosine(self) -> None:
        h, x = 20.0, np.array([0.0, 10.0, 20.0, 40.0])
        light = ppfd([lamp(h, 0.2, 0.2)], x, AT, 0.0)[0]
        np.testing.assert_allclose(light / light[0], (h**2 / (h**2 + x**2)) ** 2, rtol=0.002)

    def test_a_strip_against_the_integral_written_out(self) -> None:
        """Under the middle of a line of 2a: E = Φ'/(π h) (a h/(a² + h²) + atan(a/h)), Φ' a cm."""
        for cm, length in ((5.0, 40.0), (15.0, 115.0), (30.0, 60.0)):
            a = length / 2
            each = 100 / length
            exact = each * 1e4 / pi * (a * cm / (a**2 + cm**2) + atan(a / cm)) / cm
            found = ppfd([lamp(cm, length, 0.01)], AT, AT, 0.0)[0, 0]
            self.assertAlmostEqual(found / exact, 1.0, delta=0.01)

    def test_a_long_strip_comes_to_the_line_source_that_falls_with_the_distance(self) -> None:
        """Without end: E = Φ'/(2 h)."""
        for cm in (5.0, 10.0):
            found = ppfd([lamp(cm, 4000.0, 0.01, 4000.0)], AT, AT, 0.0)[0, 0]
            self.assertAlmostEqual(found / (1.0 * 1e4 / (2 * cm)), 1.0, delta=0.01)

    def test_all_that_goes_down_meets_an_endless_plane(self) -> None:
        grid = (np.arange(1500) + 0.5 - 750) * 4.0
        for one in (lamp(20.0, 115.0, 3.0), lamp(35.0, 45.0, 30.0)):
            self.assertAlmostEqual(ppfd([one], grid, grid, 0.0).sum() * 16e-4, 100.0, delta=1.0)

    def test_aslant_a_part_of_it_looks_over_the_plane(self) -> None:
        """(1 + cos α)/2 of it."""
        grid = (np.arange(2000) + 0.5 - 1000) * 5.0
        one = Hung(100.0, 100.0, 2.0, 0.0, 0.0, 30.0, 80.0)
        share = (1 + np.sqrt(1 - 0.5**2)) / 2
        self.assertAlmostEqual(ppfd([one], grid, grid, 0.0).sum() * 25e-4, 100 * share, delta=1.0)

    def test_finer_pieces_change_nothing_worth_a_word(self) -> None:
        xs, ys = cells(120, 6), cells(50, 6)
        one = Hung(100.0, 115.0, 4.0, 60.0, 25.0, 12.0, 12.0)
        whole = ppfd([one], xs, ys, 0.0)
        parts = [one._replace(umol=2.0, length_cm=2.3, x_cm=60 - 115 / 2 + (k + 0.5) * 2.3) for k in range(50)]
        np.testing.assert_allclose(whole, ppfd(parts, xs, ys, 0.0), rtol=0.02)


class Properties(TestCase):
    @given(st.floats(4, 60), st.floats(5, 150), st.floats(1, 500))
    def test_twice_the_light_twice_the_light(self, cm: float, length: float, umol: float) -> None:
        xs, ys = cells(120, 20), cells(50, 20)
        one = Hung(umol, length, 3.0, 60.0, 25.0, cm, cm)
        np.testing.assert_allclose(ppfd([one._replace(umol=2 * umol)], xs, ys, 0.0), 2 * ppfd([one], xs, ys, 0.0))
        np.testing.assert_allclose(ppfd([one, one], xs, ys, 0.0), 2 * ppfd([one], xs, ys, 0.0))

    @given(st.floats(4, 60), st.floats(0, 40))
    def test_left_is_as_right_and_front_as_back(self, cm: float, slope: float) -> None:
        xs, ys = cells(120, 10), cells(50, 10)
        one = Hung(100.0, 100.0, 3.0, 60.0, 25.0, cm, cm + slope)
        light = ppfd([one], xs, ys, 0.0)
        np.testing.assert_allclose(light, light[::-1])
        np.testing.assert_allclose(light[:, ::-1], ppfd([one.at(cm + slope, cm)], xs, ys, 0.0))

    @given(st.floats(9, 40), st.floats(0, 1), st.floats(0, 1))
    def test_white_sides_add_and_take_nothing(self, cm: float, left: float, back: float) -> None:
        xs, ys = cells(120, 4), cells(50, 4)
        one = [Hung(100.0, 100.0, 3.0, 60.0, 25.0, cm, cm)]
        bare = ppfd(one, xs, ys, 0.0)
        lit = ppfd(one, xs, ys, 0.0, 120, 50, Sides(left=left, back=back))
        self.assertTrue((lit >= bare - 1e-9).all())
        whole = ppfd(one, xs, ys, 0.0, 120, 50, Sides(1, 1, 1, 1)).sum() * 120 * 50 / len(xs) / len(ys) * 1e-4
        self.assertLessEqual(whole, 101.5)  # no more than there is, but for the coarse cells

    def test_a_mirror_is_the_lamp_behind_it(self) -> None:
        xs, ys = cells(120, 15), cells(50, 15)
        one = Hung(100.0, 60.0, 3.0, 60.0, 25.0, 15.0, 15.0)
        seen = one._replace(umol=80.0, x_cm=-60.0)
        np.testing.assert_allclose(ppfd([one], xs, ys, 0.0, 120, 50, Sides(left=0.8)), ppfd([one, seen], xs, ys, 0.0))

    def test_points_and_cells_agree_and_each_leaf_has_its_height(self) -> None:
        one = [Hung(100.0, 100.0, 3.0, 60.0, 25.0, 30.0, 22.0), Hung(50.0, 40.0, 3.0, 30.0, 10.0, 25.0, 25.0)]
        xs, ys, tips = np.array([10.0, 60.0, 100.0]), np.array([5.0, 25.0, 40.0]), np.array([5.0, 12.0, 3.0])
        found = at_points(one, xs, ys, tips)
        for x, y, tip, light in zip(xs, ys, tips, found, strict=True):
            self.assertAlmostEqual(ppfd(one, np.array([x]), np.array([y]), float(tip))[0, 0] / light, 1.0, delta=0.02)
        self.assertGreater(COARSE_CM, 0)

    def test_what_hangs_below_the_leaves_lights_nothing_there(self) -> None:
        self.assertEqual(ppfd([lamp(10.0)], AT, AT, 12.0)[0, 0], 0.0)
        self.assertEqual(ppfd([], AT, AT, 0.0)[0, 0], 0.0)
        self.assertEqual(uniformity(np.zeros(3)), 0.0)

    def test_the_height_for_so_much_light_is_the_inverse_within_a_millimetre(self) -> None:
        one = lamp(0.0, 115.0, 3.0)
        at = lambda cm: float(ppfd([one.at(cm)], AT, AT, 0.0)[0, 0])  # noqa: E731
        for cm in (4.0, 11.3, 27.9, 55.5):
            found = height_for(at, at(cm), 2.0, 60.0)
            assert found is not None
            self.assertAlmostEqual(found, cm, delta=0.1)
        self.assertIsNone(height_for(at, at(1.0), 2.0, 60.0))
        self.assertEqual(height_for(at, at(60.0) / 2, 2.0, 60.0), 60.0)

    def test_a_day_of_light(self) -> None:
        self.assertAlmostEqual(float(daily_light_integral(200.0, 16.0)), 11.52)
        np.testing.assert_allclose(daily_light_integral(np.array([100.0, 200.0]), 24.0), [8.64, 17.28])
        for wrong in ((-1.0, 16.0), (100.0, 25.0), (100.0, -1.0)):
            with self.assertRaises(ValueError):
                daily_light_integral(*wrong)


class RulesOfThumb(TestCase):
    """The table of docs/rules/light.md reckoned anew: strips at 3–8 cm, strong tubes at 10–15, panels at 40–60 give what leaves want."""

    def reckoned(self, key: str, number: int, cm: float) -> tuple[float, float, float]:
        """Mol a day in 16 hours under the middle, over the whole shelf of 120 × 45 cm, and its darkest cell over the mean."""
        of = lamps.kinds()[key]
        umol = flux(DescribedLamp(key, number=number, reflector=True)).umol / number
        hung = [Hung(umol, of.length_cm, of.width_cm, 60.0, (k + 0.5) / number * 45, cm, cm) for k in range(number)]
        if key == "panel":
            hung = [h._replace(x_cm=(k + 0.5) / number * 120, y_cm=22.5) for k, h in enumerate(hung)]
        light = daily_light_integral(ppfd(hung, np.linspace(2.5, 117.5, 24), np.linspace(2.5, 42.5, 9), 0.0), 16.0)
        middle = daily_light_integral(ppfd(hung, np.linspace(30, 90, 13), np.linspace(8, 37, 7), 0.0), 16.0)
        return float(middle.mean()), float(light.mean()), uniformity(light)

    def rows(self) -> list[tuple[int, str, float, list[float]]]:
        text = (Path(__file__).resolve().parents[2] / "docs" / "rules" / "light.md").read_text(encoding="utf-8")
        found = re.findall(r"^\| (\d) × (\w+) \| (\d+) cm \| ([\d.]+) \| ([\d.]+) \| ([\d.]+) \|$", text, re.M)
        return [(int(n), key, float(cm), [float(v) for v in values]) for n, key, cm, *values in found]

    def test_the_table_is_what_the_rules_give(self) -> None:
        self.assertEqual(len(self.rows()), 14)
        for number, key, cm, said in self.rows():
            for value, written, step in zip(self.reckoned(key, number, cm), said, (0.06, 0.06, 0.006), strict=True):
                self.assertAlmostEqual(value, written, delta=step, msg=f"{number} {key} {cm}")

    def test_each_rule_of_thumb_gives_what_young_plants_want(self) -> None:
        for number, key, low, high in ((4, "strip", 10, 15), (2, "tube", 12, 19), (1, "panel", 9, 17)):
            of = lamps.kinds()[key]
            near, far = self.reckoned(key, number, of.near_cm)[0], self.reckoned(key, number, of.far_cm)[0]
            self.assertTrue(low <= far < near <= high, key)
        self.assertLess(self.reckoned("strip", 4, 60.0)[0], 5)  # a strip where a panel hangs


class WhatIsPrinted(TestCase):
    def test_the_first_that_is_said_counts(self) -> None:
        self.assertEqual(flux(DescribedLamp("strip", umol=50.0, lumen=9000.0, watts=20.0)).umol, 50.0)
        self.assertAlmostEqual(flux(DescribedLamp("strip", lumen=2000.0, kelvin=6500.0)).umol, 2000 * 0.0145)
        self.assertAlmostEqual(flux(DescribedLamp("strip", lumen=2000.0, kelvin=2700.0)).umol, 2000 * 0.016)
        self.assertAlmostEqual(flux(DescribedLamp("thin", lumen=5000.0, reflector=True)).umol, 5000 * 0.013 * 0.85)
        self.assertAlmostEqual(flux(DescribedLamp("thin", watts=54.0)).umol, 54 * 0.9 * 0.5)
        self.assertEqual(flux(DescribedLamp("strip")).typical, "watts")
        self.assertEqual(flux(DescribedLamp("strip", watts=18.0)).typical, "")

    def test_age_dust_dimmer_and_number(self) -> None:
        new = flux(DescribedLamp("thin", watts=54.0)).umol
        self.assertAlmostEqual(flux(DescribedLamp("thin", watts=54.0, hours_run=20_000.0)).umol / new, 0.85)
        self.assertAlmostEqual(flux(DescribedLamp("thin", watts=54.0, hours_run=90_000.0)).umol / new, 0.85)
        self.assertAlmostEqual(flux(DescribedLamp("thin", watts=54.0, dusty_days=60)).umol / new, 0.95)
        self.assertAlmostEqual(flux(DescribedLamp("thin", watts=54.0, dusty_days=900)).umol / new, 0.85)
        half = flux(DescribedLamp("strip", watts=20.0, per_cent=50.0, number=3))
        self.assertAlmostEqual(half.watts, 30.0)
        self.assertAlmostEqual(half.umol, 3 * flux(DescribedLamp("strip", watts=20.0)).umol / 2)

    def test_what_cannot_be_is_said(self) -> None:
        for wrong, word in (
            (DescribedLamp("filament", watts=60.0), "mostly heats"), (DescribedLamp("strip", lumen=0.0), "0 lm"),
            (DescribedLamp("strip", lumen=40_000.0), "40000 lm"),
            (DescribedLamp("strip", umol=100.0, watts=10.0), "more than any lamp"), (DescribedLamp("moon"), "no kind"),
        ):  # fmt: skip
            self.assertIn(word, wrong_lamp(wrong))
        self.assertEqual(wrong_lamp(DescribedLamp("strip", umol=36.0, watts=20.0)), "")

    def test_what_a_meter_says(self) -> None:
        found = reading.read(10_000, "lux", "strip", 150.0)
        self.assertAlmostEqual(found.ppfd, 145.0)
        assert found.times is not None
        self.assertAlmostEqual(found.times, 145 / 150)
        self.assertAlmostEqual(reading.read(10_000, "lux", "thin", 150.0).ppfd, 130.0)
        self.assertAlmostEqual(reading.read(120.0, "ppfd", "coloured", 150.0).times or 0, 0.8)
        coloured = reading.read(10_000, "lux", "coloured", 150.0)
        self.assertEqual((coloured.times, coloured.unsure), (None, "coloured"))
        self.assertEqual(reading.read(100.0, "lux", "strip", 150.0).unsure, "far")
        for number in (0.0, -3.0, 1e9):
            with self.assertRaises(ValueError):
                reading.read(number, "lux", "strip", 100.0)


class Sun(TestCase):
    def test_the_sun_before_a_pane_against_the_angles_written_out(self) -> None:
        """Declination and hour angle by Cooper's formula, azimuth from them; the product uses another ephemeris."""
        from datetime import date

        from growing.light.window import ACROSS, LOW_SUN, sun_before

        for day, latitude, facing in (
            (date(2026, 3, 21), 52.4, 180.0),
            (date(2026, 6, 21), 45.0, 90.0),
            (date(2026, 12, 1), -41.3, 0.0),
        ):
            n = day.timetuple().tm_yday
            d, phi = np.radians(23.45 * sin(2 * pi * (284 + n) / 365)), np.radians(latitude)
            w = np.radians(np.arange(-180, 180, 0.25))
            height = np.arcsin(np.sin(phi) * np.sin(d) + np.cos(phi) * np.cos(d) * np.cos(w))
            azimuth = (
                np.degrees(
                    np.arctan2(-np.sin(w) * np.cos(d), np.cos(phi) * np.sin(d) - np.sin(phi) * np.cos(d) * np.cos(w))
                )
                % 360
            )
            seen = (np.degrees(height) > LOW_SUN) & (np.abs((azimuth - facing + 180) % 360 - 180) < ACROSS)
            self.assertAlmostEqual(sun_before(latitude, day, facing)[0], seen.sum() * 0.25 / 15, delta=0.5)

    def test_radiation_above_the_air_against_the_published_example_and_table(self) -> None:
        """The worked example of FAO paper 56, as recalled: 20° S, 3 September, 32.2 MJ."""
        from datetime import date

        from growing.light.window import extraterrestrial

        self.assertAlmostEqual(extraterrestrial(-20.0, date(2015, 9, 3)), 32.2, delta=0.05)
        self.assertEqual(extraterrestrial(80.0, date(2026, 12, 21)), 0.0)

    def test_day_length_agrees_with_the_sunset_angle(self) -> None:
        from datetime import date

        from growing.place.daylight import day_length_h

        for latitude in (-41.3, 0.0, 30.0, 52.4):
            for month in range(1, 13):
                day = date(2026, month, 15)
                d = 0.409 * sin(2 * pi * day.timetuple().tm_yday / 365 - 1.39)
                phi, edge = np.radians(latitude), np.radians(-0.833)  # the upper edge, lifted by the air
                cosine = (np.sin(edge) - np.sin(phi) * np.sin(d)) / (np.cos(phi) * np.cos(d))
                hours = 24 / pi * np.arccos(np.clip(cosine, -1, 1))
                self.assertAlmostEqual(day_length_h(latitude, day), hours, delta=0.2)

    def test_a_sill_is_about_four_tenths_of_outdoors_where_it_looks_to_the_sun_and_less_elsewhere(self) -> None:
        from datetime import date

        from growing.light.window import outdoors, sill

        day = date(2026, 4, 12)
        out = outdoors(52.4, day, 8.0).dli
        south, north = sill(52.4, day, "south", None, 8.0), sill(52.4, day, "north", None, 8.0)
        self.assertAlmostEqual(south.dli / out, 0.4, delta=0.05)
        self.assertLess(north.dli, south.dli * 0.6)
        self.assertAlmostEqual(
            sill(-41.3, date(2026, 10, 12), "north", None, 8.0).dli / outdoors(-41.3, date(2026, 10, 12), 8.0).dli,
            0.4,
            delta=0.06,
        )
        self.assertLess(sill(52.4, day, "south", 2.0, 8.0).dli, south.dli)
        self.assertGreater(sill(52.4, day, "south", None, 8.0, card=True).dli, south.dli)
        self.assertGreater(outdoors(52.4, day, 14.0).dli, outdoors(52.4, day, 4.0).dli)
        self.assertTrue(sill(52.4, date(2026, 1, 5), "east", None, 5.0).poor)
