"""Sowing counts against enumeration."""

from __future__ import annotations

from math import comb
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from growing.seeds.sowing import Seed, cells_to_sow, seeds_for


def at_least(wanted: int, places: int, p: float) -> float:
    """P[Binomial(places, p) ≥ wanted] by adding up every outcome."""
    return sum(comb(places, k) * p**k * (1 - p) ** (places - k) for k in range(wanted, places + 1))


class ExactBinomial(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.integers(1, 60), st.floats(0.3, 0.98), st.floats(0.6, 1.0), st.integers(1, 3))
    def test_smallest_count_that_is_sure_enough(self, wanted: int, g: float, s: float, m: int) -> None:
        found = cells_to_sow(wanted, Seed(g), s, m)
        p = (1 - (1 - g) ** m) * s
        self.assertGreaterEqual(at_least(wanted, found.places, p), 0.9 - 1e-9)
        self.assertLess(at_least(wanted, found.places - 1, p), 0.9)
        self.assertAlmostEqual(found.odds, at_least(wanted, found.places, p), places=9)
        self.assertEqual(found.seeds, found.places * m)

    def test_dividing_alone_gives_about_even_odds(self) -> None:
        even = round(40 / (0.75 * 0.9))
        self.assertTrue(0.4 < at_least(40, even, 0.75 * 0.9) < 0.65)
        self.assertGreater(seeds_for(40, Seed(0.75), 0.9).places, even)

    def test_doubt_about_the_seed_costs_seed(self) -> None:
        sure = cells_to_sow(20, Seed(0.75), 0.9, 1)
        doubtful = cells_to_sow(20, Seed(0.75, (6, 2)), 0.9, 1)
        self.assertGreater(doubtful.places, sure.places)

    def test_two_seeds_a_cell_save_cells(self) -> None:
        self.assertLess(cells_to_sow(20, Seed(0.6), 0.9, 2).places, cells_to_sow(20, Seed(0.6), 0.9, 1).places)

    def test_absurd_wishes_are_refused(self) -> None:
        for wanted, g, s in (
            (0, 0.8, 0.9),
            (-3, 0.8, 0.9),
            (30_000, 0.8, 0.9),
            (5, 0, 0.9),
            (5, 0.8, 1.2),
            (5, 0.001, 0.5),
        ):
            with self.assertRaises(ValueError):
                cells_to_sow(wanted, Seed(g), s, 1)
