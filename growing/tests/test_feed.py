"""The sums of the can, worked by hand: grams × per cent × 10 ÷ litres, oxides, densities, spoons and cans of three countries, salts."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple
from unittest import TestCase

from growing.care.feed import (
    SPOONS_ML,
    Product,
    diluted,
    in_can,
    in_spoons,
    together,
    verdict,
    wrong_product,
)
from growing.care.feeding import EVERY_DAYS, FED_MIX_DAYS, next_feed
from growing.crops import library

CROPS = library()
US_GALLON, IMPERIAL_GALLON = 3.785411784, 4.54609


class Case(NamedTuple):
    """A label, grams or ml in a spoon, litres; N, P and K in a litre as worked on paper."""

    product: Product
    ml: float
    litres: float
    n: float
    p: float
    k: float


def powder(n: float, p: float, k: float, g: float = 1.0, oxides: bool = True) -> Product:
    return Product("powder", n, p, k, oxides, False, g)


def liquid(n: float, p: float, k: float, g: float = 1.0, oxides: bool = True) -> Product:
    return Product("liquid", n, p, k, oxides, True, g)


CASES = (
    Case(powder(20, 20, 20), 5, 10, 100.0, 43.6, 83.0),  # 5 g × 20 × 10 ÷ 10
    Case(powder(20, 20, 20), 1, 1, 200.0, 87.2, 166.0),
    Case(powder(20, 10, 20), 2.5, 9, 55.56, 12.11, 46.11),
    Case(powder(15, 0, 0), 1, 1, 150.0, 0.0, 0.0),
    Case(powder(15, 5, 30), 5, 10, 75.0, 10.9, 124.5),
    Case(powder(15, 5, 30, oxides=False), 5, 10, 75.0, 25.0, 150.0),
    Case(powder(20, 20, 20, 0.8), 5, 10, 80.0, 34.88, 66.4),  # a spoon of it weighs 4 g
    Case(powder(46, 0, 0, 0.75), 5, 100, 17.25, 0.0, 0.0),
    Case(powder(13, 0, 46), 5, 10, 65.0, 0.0, 190.9),
    Case(powder(0, 52, 34), 5, 10, 0.0, 113.36, 141.1),
    Case(powder(12, 61, 0), 2, 10, 24.0, 53.192, 0.0),
    Case(liquid(4, 3, 8, 1.2), 10, 9, 53.33, 17.44, 88.53),  # 12 g in nine litres
    Case(liquid(5, 1, 1), 5, 5, 50.0, 4.36, 8.3),
    Case(liquid(2, 4, 2, 1.1), 15, 10, 33.0, 28.776, 27.39),
    Case(liquid(7, 3, 6, 1.15), 2.5, 1, 201.25, 37.605, 143.175),
    Case(liquid(3, 0, 0), 10, 10, 30.0, 0.0, 0.0),
    Case(powder(20, 20, 20), SPOONS_ML["US teaspoon"], US_GALLON, 260.41, 113.54, 216.14),
    Case(powder(20, 20, 20), SPOONS_ML["US tablespoon"], US_GALLON, 781.24, 340.62, 648.43),
    Case(powder(24, 8, 16), SPOONS_ML["US teaspoon"] / 2, US_GALLON, 156.25, 22.71, 86.46),
    Case(powder(20, 20, 20), SPOONS_ML["imperial teaspoon"], IMPERIAL_GALLON, 260.42, 113.54, 216.15),
    Case(liquid(4, 3, 8), SPOONS_ML["imperial fl oz"], IMPERIAL_GALLON, 250.0, 81.75, 415.0),  # 1 in 160 by volume
    Case(liquid(4, 3, 8), SPOONS_ML["US fl oz"], US_GALLON, 312.5, 102.19, 518.75),  # 1 in 128
    Case(powder(20, 20, 20), 0, 10, 0.0, 0.0, 0.0),
    Case(powder(100, 0, 0), 1, 1000, 1.0, 0.0, 0.0),
)


class Sums(TestCase):
    def test_worked_on_paper(self) -> None:
        for case in CASES:
            with self.subTest(case=case):
                found = in_can(case.product, case.ml, case.litres)
                for name in ("n", "p", "k"):
                    self.assertAlmostEqual(getattr(found, name), getattr(case, name), delta=0.006 * max(1, case.n))

    def test_two_in_one_can(self) -> None:
        one, two = in_can(powder(13, 0, 46), 5, 10, 0.3), in_can(powder(12, 61, 0), 2, 10, 0.3)
        both = together([one, two], 0.3)
        self.assertAlmostEqual(both.n, 89.0)
        self.assertAlmostEqual(both.ec_low, 0.3 + 0.4 * 0.89)  # the water counts once
        self.assertAlmostEqual(both.grams, 7.0)

    def test_salts(self) -> None:
        found = in_can(powder(20, 20, 20), 5, 10, 0.4)
        self.assertAlmostEqual(found.ec_low, 0.8)
        self.assertAlmostEqual(found.ec_high, 1.1)
        half = in_can(powder(20, 20, 20)._replace(urea=0.5), 5, 10, 0.4)
        self.assertAlmostEqual(half.ec_high, 0.75)  # urea has no salts to measure
        self.assertEqual(half.n, found.n)

    def test_the_right_spoon_for_this_can(self) -> None:
        product = powder(20, 20, 20)
        for target in (50.0, 75.0, 100.0, 150.0):
            for litres in (1.0, 5.0, 9.0, US_GALLON, 100.0):
                with self.subTest(target=target, litres=litres):
                    judged = verdict(product, in_can(product, 5, litres), target, litres, 5)
                    again = in_can(product, judged.right_ml, litres)
                    self.assertAlmostEqual(again.n, target)
                    self.assertEqual(verdict(product, again, target, litres, judged.right_ml).kind, "right")

    def test_said_in_the_spoon_in_hand(self) -> None:
        self.assertEqual(in_spoons(2.25), "2.2 ml")
        self.assertEqual(in_spoons(SPOONS_ML["US teaspoon"], "US teaspoon"), "1 US teaspoon")
        self.assertEqual(in_spoons(2.5, "imperial teaspoon"), "0.42 imperial teaspoons")
        self.assertEqual(in_spoons(29.57353, "US fl oz"), "1 US fl oz")
        product = powder(20, 20, 20)
        said = verdict(product, in_can(product, 5, 9), 75, 9, 5, "teaspoon").working.result
        self.assertEqual(said.number, "0.68 teaspoons")

    def test_weak_right_and_strong(self) -> None:
        product = powder(20, 20, 20)
        kinds = [verdict(product, in_can(product, ml, 10), 75, 10, ml).kind for ml in (1.0, 2.6, 3.75, 4.9, 5.1, 15.0)]
        self.assertEqual(kinds, ["hungry", "right", "right", "right", "strong", "strong"])

    def test_of_a_brew_only_the_dilution(self) -> None:
        brew = Product("brew", 0, 0, 0, liquid=True, analysis=False)
        with self.assertRaisesRegex(ValueError, "dilution"):
            in_can(brew, 5, 9)
        self.assertAlmostEqual(diluted(9, 10), 1000.0)
        self.assertAlmostEqual(diluted(1, 10), 5000.0)
        with self.assertRaises(ValueError):
            diluted(0.5, 10)

    def test_what_cannot_be(self) -> None:
        for n, p, k in ((101, 0, 0), (-1, 0, 0), (50, 40, 20)):
            with self.subTest(n=n):
                self.assertTrue(wrong_product(powder(n, p, k)))
                with self.assertRaises(ValueError):
                    in_can(powder(n, p, k), 5, 9)
        self.assertTrue(wrong_product(powder(20, 20, 20, 9.0)))
        self.assertTrue(wrong_product(powder(20, 20, 20)._replace(urea=1.2)))
        for ml, litres in ((5.0, 0.0), (5.0, -1.0), (-1.0, 9.0)):
            with self.subTest(ml=ml, litres=litres), self.assertRaises(ValueError):
                in_can(powder(20, 20, 20), ml, litres)


class When(TestCase):
    today = date(2026, 4, 12)

    def on(
        self, key: str, leaves: float, fed: date | None = None, potted: date | None = None, mix: bool = False
    ) -> date | None:
        return next_feed(CROPS[key], leaves, self.today, fed, potted, mix, potted).on

    def test_not_before_its_leaves(self) -> None:
        later = self.on("tomato", 0.0)
        assert later is not None
        self.assertGreater(later, self.today)
        self.assertEqual(self.on("tomato", 6.0), self.today)

    def test_a_week_after_it_was_fed(self) -> None:
        fed = self.today - timedelta(days=2)
        self.assertEqual(self.on("tomato", 6.0, fed), fed + timedelta(days=EVERY_DAYS))

    def test_fed_mix_begins_it_anew(self) -> None:
        potted = self.today - timedelta(days=1)
        self.assertEqual(self.on("tomato", 6.0, None, potted, True), potted + timedelta(days=FED_MIX_DAYS))

    def test_one_that_is_not_fed_says_so(self) -> None:
        never = [key for key, crop in CROPS.items() if crop.maybe("first_feed_leaves") is None]
        for key in never:
            with self.subTest(key):
                self.assertIsNone(self.on(key, 6.0))
