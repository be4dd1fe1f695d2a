"""Sowing counts, for every way of sowing, against adding up every outcome one by one."""

from __future__ import annotations

import random
from functools import lru_cache
from itertools import product
from math import ceil, comb
from typing import Any
from unittest import TestCase

import numpy as np
from scipy.stats import beta as beta_of
from scipy.stats import betabinom, binom

from growing.crops import library
from growing.seeds.sowing import (
    How,
    NoCount,
    Seed,
    SowingCase,
    count,
    count_all,
    count_for,
    counted,
    how_for,
    nodes,
    plants_odds,
    seeds_a_cell,
    smallest_counts,
)

CASES = 60


def at_least(wanted: int, places: int, p: float) -> float:
    """P[Binomial(places, p) ≥ wanted] by adding up every outcome."""
    return sum(comb(places, k) * p**k * (1 - p) ** (places - k) for k in range(wanted, places + 1))


def one_seed(g: float, s: float, seedlings: float) -> dict[int, float]:
    """Living plants of one seed: nothing, or a cluster of ⌊r⌋ or ⌈r⌉ seedlings of which each lives or not."""
    least = int(seedlings)
    born = {least: g * (1 - (seedlings - least)), least + 1: g * (seedlings - least)}
    found = {0: 1 - g}
    for number, chance in born.items():
        for lives in product((True, False), repeat=number):
            alive = sum(lives)
            found[alive] = found.get(alive, 0.0) + chance * s**alive * (1 - s) ** (number - alive)
    return found


@lru_cache
def clump(need: int, m: int, g: float, s: float, seedlings: float) -> float:
    """Chance that m seeds leave `need` plants, every outcome of every seed gone through."""
    each, total = one_seed(g, s, seedlings), 0.0
    for outcome in product(each.items(), repeat=m):
        if sum(alive for alive, _ in outcome) >= need:
            chance = 1.0
            for _, share in outcome:
                chance *= share
            total += chance
    return total


def enough(wanted: int, how: How, m: int, places: int, g: float, s: float, seedlings: float) -> float:
    """Odds of enough at one emergence, by the rule as it is written for each way."""
    if how.together:
        return at_least(wanted, places, g * s)
    if how.surplus == "keep":
        return at_least(wanted, places * m, g * s)
    if how.surplus == "thin":
        return at_least(wanted, places, (1 - (1 - g) ** m) * s)
    return at_least(ceil(wanted / how.clump), places, clump(ceil(how.clump / 2), m, g, s, seedlings))


WAYS: dict[str, Any] = {
    "thinned to one": lambda r: How(r.choice(("cells", "blocks")), "thin", r.randint(1, 3)),
    "separated and kept": lambda r: How("cells", "keep", r.randint(1, 4)),
    "left in clumps": lambda r: How("cells", "clump", None, r.randint(2, 4)),
    "pricked out of a box": lambda r: How("box", "prick", 1),
    "divided at planting out": lambda r: How("box", "divide", 1),
    "in place": lambda r: How("place", "thin", 1),
}


class EveryWay(TestCase):
    def test_smallest_count_that_is_sure_enough(self) -> None:
        for name, made in WAYS.items():
            choose = random.Random(name)
            for case in range(CASES):
                how, wanted = made(choose), choose.randint(1, 50)
                g, s, sure = choose.uniform(0.4, 0.98), choose.uniform(0.6, 1.0), choose.choice((0.8, 0.9, 0.95))
                seedlings = choose.choice((1.0, 1.0, 1.6)) if how.surplus == "clump" else 1.0
                with self.subTest(way=name, case=case, how=how, wanted=wanted, g=g, s=s):
                    found = count(wanted, how, Seed(g), s, sure, seedlings)
                    m = found.per_cell
                    now = enough(wanted, how, m, found.places, g, s, seedlings)
                    self.assertGreaterEqual(now, sure - 1e-9)
                    self.assertLess(enough(wanted, how, m, found.places - 1, g, s, seedlings), sure)
                    self.assertAlmostEqual(found.odds, now, places=9)
                    self.assertEqual(found.seeds, found.places * m)

    def test_doubt_about_the_seed_against_a_fine_grid_of_its_beta(self) -> None:
        """The 32 values that stand for a Beta give the odds of ten thousand of them."""
        choose, worst = random.Random(5), 0.0
        for name, made in WAYS.items():
            for _ in range(10):
                how, wanted = made(choose), choose.randint(4, 40)
                a, b = choose.uniform(4, 40), choose.uniform(1, 12)
                found = count(wanted, how, Seed(a / (a + b), (a, b)), 0.9)
                grid = beta_of.ppf((np.arange(10_000) + 0.5) / 10_000, a, b)
                m, need = found.per_cell, ceil(wanted / how.clump)
                if how.surplus == "clump":
                    p = binom.sf(ceil(how.clump / 2) - 1, m, grid * 0.9)
                elif how.together or how.surplus == "keep":
                    p = grid * 0.9
                else:
                    p = (1 - (1 - grid) ** m) * 0.9
                places = found.seeds if how.surplus == "keep" else found.places
                fine = float(binom.sf(need - 1, places, p).mean())
                worst = max(worst, abs(fine - found.odds))
                self.assertLess(abs(fine - found.odds), 0.02, name)
        self.assertLess(worst, 0.02)


class TheWorkedCounts(TestCase):
    def test_onions_ninety_in_a_box_or_in_clumps_of_three(self) -> None:
        onion, fresh = library()["onion"], Seed(0.85)
        box = count_for(onion, 90, how_for(onion, "box"), fresh)
        self.assertEqual((box.unit, how_for(onion, "box").surplus), ("seeds", "divide"))
        self.assertTrue(125 <= box.seeds <= 135, box.seeds)
        clumps = count_for(onion, 90, how_for(onion, "cells"), fresh)
        self.assertEqual((clumps.places, clumps.per_cell), (33, 4))
        thinned = count_for(onion, 90, how_for(onion, "cells", "thin", 3), fresh)
        self.assertGreater(thinned.seeds, 2 * clumps.seeds)

    def test_twenty_five_clumps_of_three(self) -> None:
        found = count(75, How("cells", "clump", None, 3), Seed(0.85), 0.9)
        self.assertEqual((found.places, found.per_cell), (28, 4))

    def test_beet_clusters_give_more_than_one(self) -> None:
        beet = library()["beet"]
        self.assertEqual(beet.number("seedlings_per_seed"), 1.6)
        how = how_for(beet, "cells")
        self.assertGreater(how.clump, 1)
        single = seeds_a_cell(how, Seed(0.8), 0.9, 1.0)
        self.assertLess(seeds_a_cell(how, Seed(0.8), 0.9, 1.6), single)

    def test_usual_seeds_a_cell_follow_the_seed(self) -> None:
        tomato = library()["tomato"]
        how = how_for(tomato, "cells")
        self.assertEqual([seeds_a_cell(how, Seed(g), 0.9) for g in (0.95, 0.8, 0.79, 0.3)], [1, 1, 2, 2])
        own = tomato.overlaid("garden", {"per_cell": (3, "mice")})
        self.assertEqual(seeds_a_cell(how_for(own, "cells"), Seed(0.95), 0.9), 3)

    def test_an_untested_packet_of_this_season_asks_for_one_and_a_half_seeds_a_plant(self) -> None:
        for key in ("tomato", "cabbage", "lettuce", "kale", "pepper", "cucumber", "broccoli"):
            crop = library()[key]
            fresh, weight = crop.number("fresh_germination"), crop.number("prior_seeds")
            seed = Seed(fresh, (fresh * weight, (1 - fresh) * weight))
            found = count_for(crop, 12, how_for(crop, "cells", "thin", 1), seed)
            self.assertTrue(1.3 <= found.seeds / 12 <= 1.9, (key, found.seeds / 12))

    def test_dividing_alone_gives_about_even_odds(self) -> None:
        even = round(40 / (0.75 * 0.9))
        self.assertTrue(0.4 < at_least(40, even, 0.75 * 0.9) < 0.65)
        self.assertGreater(count(40, How("box", "prick", 1), Seed(0.75), 0.9).places, even)

    def test_doubt_costs_seed_and_two_a_cell_save_cells(self) -> None:
        one, two = How("cells", "thin", 1), How("cells", "thin", 2)
        self.assertGreater(count(20, one, Seed(0.75, (6, 2)), 0.9).places, count(20, one, Seed(0.75), 0.9).places)
        self.assertLess(count(20, two, Seed(0.6), 0.9).places, count(20, one, Seed(0.6), 0.9).places)

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
                count(wanted, How("cells", "thin", 1), Seed(g), s)


class ManyAtOnce(TestCase):
    def test_sixty_random_cases_against_enumeration(self) -> None:
        choose = np.random.default_rng(7)
        wanted = choose.integers(1, 80, CASES)
        a, b = choose.uniform(2, 30, CASES), choose.uniform(1, 10, CASES)
        survival, per_cell = choose.uniform(0.6, 1, CASES), choose.integers(1, 4, CASES)
        sure = choose.choice([0.8, 0.9, 0.95], CASES)
        g = np.array([nodes(x, y) for x, y in zip(a, b, strict=True)])
        chances = (1 - (1 - g) ** per_cell[:, None]) * survival[:, None]
        found = smallest_counts(wanted, chances, sure)
        for n, p, want, got in zip(wanted.tolist(), chances, sure.tolist(), found.tolist(), strict=True):
            places = n
            while float(np.mean(binom.sf(n - 1, places, p))) < want:
                places += 1
            self.assertEqual(got, places)

    def test_beta_binomial_odds_against_the_closed_form_and_simulation(self) -> None:
        odds = plants_odds(20, nodes(12, 6))
        self.assertAlmostEqual(float(odds.sum()), 1, 9)
        np.testing.assert_allclose(odds, betabinom.pmf(np.arange(21), 20, 12, 6), atol=0.004)
        choose = np.random.default_rng(1)
        drawn = choose.binomial(20, choose.beta(12, 6, 200_000))
        self.assertAlmostEqual(float(odds[14:].sum()), float((drawn >= 14).mean()), delta=0.01)

    def test_hopeless_seed_is_refused(self) -> None:
        with self.assertRaises(NoCount):
            smallest_counts([5], np.array([[0.001]]))
        with self.assertRaises(ValueError):
            smallest_counts([0], np.array([[0.5]]))


class InOneGo(TestCase):
    def test_many_counts_are_each_what_they_are_alone(self) -> None:
        choose = random.Random(11)
        cases = []
        for made in WAYS.values():
            for _ in range(12):
                a, b = choose.uniform(3, 40), choose.uniform(1, 12)
                seed = Seed(a / (a + b), (a, b)) if choose.random() < 0.7 else Seed(choose.uniform(0.3, 0.95))
                cases.append(
                    SowingCase(choose.randint(1, 90), made(choose), seed, 0.9, choose.choice((0.8, 0.9, 0.95)))
                )
        hopeless = SowingCase(9, How("cells", "thin", 1), Seed(0.0), 0.9)
        found = count_all([*cases, hopeless])
        self.assertEqual(found, [*(counted(case) for case in cases), None])
        self.assertEqual(count_all([]), [])
        self.assertEqual(count_all([hopeless._replace(seed=Seed(0.001)), cases[0]]), [None, counted(cases[0])])
