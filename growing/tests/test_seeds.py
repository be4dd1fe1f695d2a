"""Packing, ageing, tests and counts: against enumeration, simulation and the rules as they are written."""

from __future__ import annotations

import math
from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import betabinom, binom

from growing.beds.packing import fit, places
from growing.seeds.sowing import Seed, nodes, plants_odds, smallest_counts, ways
from growing.seeds.viability import Storage, Test, germination, life_factor, plan_test, viability
from growing.working import Value

FRESH, LIFE = Value("fresh_germination", 0.9, "share", "table"), Value("seed_years", 3.0, "years", "table")


def laid_out(length: float, width: float, spacing: float, staggered: bool, edge: bool) -> list[tuple[float, float]]:
    """The rule with a tape measure: the first row half a spacing in, plant after plant until the far margin."""
    long, short = max(length, width), min(length, width)
    kept = spacing / 2 if edge else 0.0
    found, y, row = [], kept, 0
    while y <= short - kept + 1e-6:
        x = kept + (spacing / 2 if staggered and row % 2 else 0.0)
        while x <= long - kept + 1e-6:
            found.append((x, y))
            x += spacing
        y += spacing * math.sqrt(0.75) if staggered else spacing
        row += 1
    return found


class Packing(TestCase):
    def test_small_beds_against_the_tape_measure(self) -> None:
        compared = 0
        for length in (20, 45, 60, 90, 120, 121):
            for width in (15, 30, 60, 75, 120):
                for spacing in (10, 15, 22.5, 30, 45, 60):
                    for staggered in (False, True):
                        for edge in (True, False):
                            wanted = laid_out(length, width, spacing, staggered, edge)
                            pattern = "staggered" if staggered else "square"
                            self.assertEqual(fit(length, width, spacing, pattern, edge).plants, len(wanted))
                            spots = places(length, width, spacing, pattern, edge)
                            if length < width:
                                spots = spots[:, ::-1]
                            np.testing.assert_allclose(spots, np.array(wanted).reshape(-1, 2), atol=1e-6)
                            compared += 1
        self.assertEqual(compared, 720)

    def test_a_bed_of_the_guide(self) -> None:
        self.assertEqual(fit(360, 60, 60).plants, 6)
        self.assertEqual(fit(360, 120, 30, "staggered").per_row, (12, 11))
        self.assertEqual(fit(25, 25, 30).plants, 0)
        self.assertEqual(fit(25, 25, 30, edge=False).plants, 1)
        self.assertEqual(fit(500, 400, 30, "single").plants, 1)

    @given(st.floats(20, 600), st.floats(20, 300), st.floats(5, 100), st.sampled_from(["square", "staggered"]))
    def test_plants_keep_their_distance_and_stay_inside(
        self, length: float, width: float, spacing: float, pattern: str
    ) -> None:
        spots = places(length, width, spacing, pattern)
        if len(spots):
            self.assertTrue((spots >= spacing / 2 - 1e-6).all())
            self.assertTrue((spots <= np.array([length, width]) - spacing / 2 + 1e-6).all())
        if 1 < len(spots) < 400:
            apart = np.hypot(*(spots[:, None] - spots[None]).transpose(2, 0, 1))
            self.assertGreaterEqual(apart[~np.eye(len(spots), dtype=bool)].min(), spacing - 1e-6)

    def test_spacings_that_cannot_be(self) -> None:
        for values in ((100, 100, 0), (100, 100, 500), (0, 100, 30), (100, 100, 30, "hexagon"), (9999, 9999, 2)):
            with self.assertRaises(ValueError):
                fit(*values)  # type: ignore[arg-type]


class Ageing(TestCase):
    def test_half_at_the_scaled_life_and_never_rising(self) -> None:
        for fresh in (0.5, 0.8, 0.95, 1.0):
            self.assertAlmostEqual(viability(fresh, 4, 4), min(fresh, 0.9999) / 2, 9)
            ages = [viability(fresh, 4, t / 4) for t in range(60)]
            self.assertEqual(ages, sorted(ages, reverse=True))
            self.assertGreater(ages[-1], 0)
        with self.assertRaises(ValueError):
            viability(0.9, 0, 1)

    def test_storage_by_the_rules_of_thumb(self) -> None:
        self.assertAlmostEqual(life_factor(Storage()), 1)
        self.assertAlmostEqual(life_factor(Storage(16 - 5.6, 40)), 2)
        self.assertAlmostEqual(life_factor(Storage(16, 40 - 1 / 0.115)), 2)
        self.assertEqual(life_factor(Storage(-20, 40)), life_factor(Storage(0, 40)))
        self.assertLess(life_factor(Storage(24, 70)), 0.2)

    def test_a_prior_worth_eight_seeds(self) -> None:
        found = germination(FRESH, LIFE, 3.0, Storage())
        self.assertAlmostEqual(found.mean, 0.45)
        self.assertAlmostEqual(found.a + found.b, 8)
        self.assertTrue(found.low < 0.45 < found.high)

    def test_a_test_counts_as_it_would_in_mix(self) -> None:
        found = germination(FRESH, LIFE, 3.0, Storage(), [Test(date(2026, 3, 1), 20, 10)])
        self.assertAlmostEqual(found.mean, (3.6 + 8.75) / 28)
        mix = germination(FRESH, LIFE, 3.0, Storage(), [Test(date(2026, 3, 1), 20, 10, True)])
        self.assertAlmostEqual(mix.mean, (3.6 + 10) / 28)
        two = germination(FRESH, LIFE, 3.0, Storage(), [Test(date(2026, 3, 1), 20, 10), Test(date(2026, 3, 1), 10, 9)])
        self.assertEqual(two.tested, 30)
        self.assertLess(two.high - two.low, found.high - found.low)

    def test_an_old_test_fades_with_the_seed(self) -> None:
        test = Test(date(2024, 3, 1), 20, 18)
        fresh = germination(FRESH, LIFE, 3.0, Storage(), [test], today=date(2024, 3, 1))
        later = germination(FRESH, LIFE, 5.0, Storage(), [test], today=date(2026, 3, 1))
        self.assertLess(later.mean, fresh.mean - 0.1)

    def test_pelleted_seed_lives_one_season(self) -> None:
        self.assertAlmostEqual(germination(FRESH, LIFE, 1.0, Storage(), treated=True).mean, 0.45)

    def test_the_interval_holds_four_in_five(self) -> None:
        random, inside = np.random.default_rng(2), 0
        for _ in range(400):
            truth = random.beta(3.6, 4.4)  # the prior is right
            up = int(random.binomial(20, truth))
            found = germination(FRESH, LIFE, 3.0, Storage(), [Test(date(2026, 3, 1), 20, up, True)])
            inside += found.low <= truth <= found.high
        self.assertTrue(292 <= inside <= 348, inside)

    def test_a_test_is_planned_where_it_helps_and_in_time(self) -> None:
        old = germination(FRESH, LIFE, 4.0, Storage())
        plan = plan_test(old, date(2026, 4, 1), 8, 30, 300)
        self.assertGreaterEqual(plan.seeds, 10)
        self.assertEqual(plan.by, date(2026, 2, 27))  # 12 days to come up, a week to read, a fortnight to order
        known = germination(FRESH, LIFE, 4.0, Storage(), [Test(date(2026, 1, 1), 100, 60)])
        self.assertEqual(plan_test(known, date(2026, 4, 1), 8, 30, 300).seeds, 0)
        self.assertEqual(plan_test(old, date(2026, 4, 1), 8, 30, 32).seeds, 0)  # all are needed for sowing


class Counts(TestCase):
    def test_sixty_random_cases_against_enumeration(self) -> None:
        random = np.random.default_rng(7)
        wanted = random.integers(1, 80, 60)
        a, b = random.uniform(2, 30, 60), random.uniform(1, 10, 60)
        survival, per_cell = random.uniform(0.6, 1, 60), random.integers(1, 4, 60)
        g = np.array([nodes(x, y) for x, y in zip(a, b, strict=True)])
        chances = (1 - (1 - g) ** per_cell[:, None]) * survival[:, None]
        found = smallest_counts(wanted, chances)
        for n, p, got in zip(wanted.tolist(), chances, found.tolist(), strict=True):
            count = n
            while float(np.mean(binom.sf(n - 1, count, p))) < 0.9:
                count += 1
            self.assertEqual(got, count)

    def test_beta_binomial_odds_against_the_closed_form_and_simulation(self) -> None:
        g = nodes(12, 6)
        odds = plants_odds(20, g)
        self.assertAlmostEqual(float(odds.sum()), 1, 9)
        np.testing.assert_allclose(odds, betabinom.pmf(np.arange(21), 20, 12, 6), atol=0.004)
        random = np.random.default_rng(1)
        drawn = random.binomial(20, random.beta(12, 6, 200_000))
        self.assertAlmostEqual(float(odds[14:].sum()), float((drawn >= 14).mean()), delta=0.01)

    def test_uncertain_seed_needs_more(self) -> None:
        sure = ways(30, Seed(0.6), 0.95)
        unsure = ways(30, Seed(0.6, (6.0, 4.0)), 0.95)
        for one, other in zip(sure, unsure, strict=True):
            self.assertGreater(other.sowing.places, one.sowing.places)

    def test_ways_respect_what_stands_transplanting(self) -> None:
        found = {t: [(w.sown_in, w.per_cell) for w in ways(12, Seed(0.8), 0.9, t)] for t in ("easy", "plug", "direct")}
        cells = [("cells", 1), ("cells", 2), ("cells", 3), ("blocks", 1)]
        self.assertEqual(found, {"easy": [*cells, ("box", 1)], "plug": cells, "direct": []})
        two, box = ways(12, Seed(0.8), 0.9)[1], ways(12, Seed(0.8), 0.9)[4]
        self.assertEqual((box.handled, box.sowing.unit), (14, "seeds"))  # 12 / 0.9 = 13.3 pricked out
        self.assertEqual(two.sowing.seeds, 2 * two.sowing.places)
        self.assertGreater(two.handled, 0)

    def test_hopeless_seed_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            smallest_counts([5], np.array([[0.001]]))
        with self.assertRaises(ValueError):
            smallest_counts([0], np.array([[0.5]]))
