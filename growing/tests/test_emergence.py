"""Speed and share of emergence against the published tables."""

from __future__ import annotations

from itertools import pairwise
from unittest import TestCase

from growing.crops import library
from growing.seeds.thermal_time import (
    cardinal_rate,
    emergence_days,
    first_look_x,
    relative_share,
    share_coming,
    share_up,
    table_rate,
)
from growing.tables import rows


class TableOfDays(TestCase):
    def test_every_tested_temperature_gives_the_printed_days(self) -> None:
        limits = rows("germination_temperatures")
        for crop, cells in rows("emergence_days").items():
            low, high = float(limits[crop]["minimum"]), float(limits[crop]["maximum"])
            for temperature in range(0, 45, 5):
                cell = cells[f"{temperature}C"]
                if cell and cell != "NG":
                    self.assertAlmostEqual(1 / table_rate(crop, low, high, temperature), float(cell), places=6)
                elif cell == "NG":
                    self.assertEqual(table_rate(crop, low, high, temperature), 0.0, (crop, temperature))

    def test_rate_is_linear_between_tested_temperatures(self) -> None:
        halfway = table_rate("tomato", 10, 35, 22.5)
        self.assertAlmostEqual(halfway, (1 / 8.2 + 1 / 5.9) / 2)

    def test_the_three_kinds_of_empty_cells(self) -> None:
        self.assertAlmostEqual(
            table_rate("pepper", 16, 35, 12.5), 0.5 / 25.0
        )  # NG at 10: in a line to the first number
        self.assertAlmostEqual(table_rate("cabbage", 4, 38, 7), 0.5 / 14.6)  # not tested below 10: down to the minimum
        self.assertEqual(table_rate("cabbage", 4, 38, 4), 0.0)
        self.assertEqual(table_rate("lettuce", 2, 29, -1), 0.0)  # below freezing
        self.assertGreater(table_rate("celery", 4, 29, 22), 0.0)  # falls to the first NG
        self.assertEqual(table_rate("celery", 4, 29, 26), 0.0)

    def test_no_rate_jumps_at_a_tenth_of_a_degree(self) -> None:
        limits = rows("germination_temperatures")
        for crop in rows("emergence_days"):
            low, high = float(limits[crop]["minimum"]), float(limits[crop]["maximum"])
            rates = [table_rate(crop, low, high, t / 10) for t in range(1, 500)]
            steps = [abs(b - a) for a, b in pairwise(rates)]
            self.assertLess(max(steps), 0.03, crop)
            self.assertLess(max(steps), max(rates) / 8, crop)

    def test_cold_and_heat_cost_crops_without_a_table_their_seed(self) -> None:
        zinnia = library()["zinnia"]
        low, best, high, top = (zinnia.number(f) for f in ("min_c", "germinate_c", "high_c", "max_c"))
        shares = [relative_share(zinnia, t) for t in (low, (low + best) / 2, best, high, top)]
        self.assertEqual([round(s, 9) for s in shares], [0.5, 1.0, 1.0, 1.0, 0.3])
        self.assertAlmostEqual(relative_share(zinnia, (3 * low + best) / 4), 0.75)
        self.assertEqual((relative_share(zinnia, low - 2), relative_share(zinnia, top + 5)), (0.0, 0.0))

    def test_the_first_look_lies_two_spreads_before_half(self) -> None:
        self.assertAlmostEqual(first_look_x(0.2), 0.67, places=2)
        self.assertAlmostEqual(share_up(first_look_x(0.35), 0.35), 0.0228, places=4)

    def test_proxies_and_cardinal_temperatures(self) -> None:
        leek, _ = emergence_days(library()["leek"], 20)
        self.assertAlmostEqual(leek, 4.6 * 1.2)
        self.assertAlmostEqual(1 / cardinal_rate(10, 20, 26, 32, 6, 20), 6)
        self.assertAlmostEqual(1 / cardinal_rate(10, 20, 26, 32, 6, 15), 12)
        self.assertEqual(cardinal_rate(10, 20, 26, 26, 6, 29), 0.0)
        self.assertGreater(cardinal_rate(10, 20, 26, 26, 6, 28), 0.0)  # a ramp without width is given three degrees

    def test_every_crop_comes_up_at_its_own_warmth(self) -> None:
        for crop in library().values():
            days, _ = emergence_days(crop, crop.number("germinate_c"))
            self.assertTrue(2 < days < 36, (crop.key, days))

    def test_half_are_up_at_one_and_heat_costs_lettuce_its_seed(self) -> None:
        self.assertAlmostEqual(share_up(1.0, 0.25), 0.5)
        self.assertEqual(share_up(0.0, 0.25), 0.0)
        lettuce = library()["lettuce"]
        hot, cool = share_coming(lettuce, 30), share_coming(lettuce, 18)
        assert isinstance(hot, float) and isinstance(cool, float)
        self.assertLess(hot, 0.15)
        self.assertAlmostEqual(cool, 0.92, places=2)
