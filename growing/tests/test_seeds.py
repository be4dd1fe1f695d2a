"""Packing, ageing, tests and what a shortfall costs: against the tape measure, tables and simulation."""

from __future__ import annotations

import math
from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm, spearmanr

from growing.beds.packing import fit, places
from growing.crops import Crop, library
from growing.seeds.shortfall import AGAIN, LAST_CHANCE, stake, top_up
from growing.seeds.sowing import CONFIDENCE, How, Seed, case_for, count_for, how_for
from growing.seeds.testing import TestPlan, plan_test
from growing.seeds.viability import STORAGES, Packet, Test, germination, life_factor, viability
from growing.seeds.ways import FINE_SEEDS_PER_G, a_plant_more, fine, ways
from growing.tables import rows

LIBRARY = library()


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
    def test_eighty_per_cent_at_the_life_in_a_room_and_never_rising(self) -> None:
        for fresh in (0.3, 0.5, 0.8, 0.95):
            self.assertAlmostEqual(viability(fresh, 4, 4), 0.8 * fresh, 9)
            ages = [viability(fresh, 4, t / 4) for t in range(400)]
            self.assertEqual(ages, sorted(ages, reverse=True))
            self.assertTrue(all(0.01 <= v <= 0.99 for v in ages))
        with self.assertRaises(ValueError):
            viability(0.9, 0, 1)

    def test_the_probit_line_as_it_is_written(self) -> None:
        z0, z80 = norm.ppf(0.85), norm.ppf(0.8 * 0.85)
        for years in (0, 0.5, 1, 2, 3.5):
            self.assertAlmostEqual(viability(0.85, 1.5, years), norm.cdf(z0 - years * (z0 - z80) / 1.5), 9)

    def test_two_year_old_onions_are_worth_sowing_and_a_seven_year_old_pepper_hardly(self) -> None:
        onion = germination(LIBRARY["onion"], Packet(2.0))
        self.assertTrue(0.55 < onion.mean < 0.65, onion.mean)
        self.assertTrue(0.2 < germination(LIBRARY["pepper"], Packet(7.0)).mean < 0.35)

    def test_every_crop_ages_finite_and_in_the_order_of_the_published_lives(self) -> None:
        published = {key: float(row["years"]) for key, row in rows("seed_life").items()}
        pairs = []
        for key, crop in LIBRARY.items():
            means = [germination(crop, Packet(float(age))).mean for age in range(40)]
            self.assertEqual(means, sorted(means, reverse=True), key)
            self.assertTrue(0.005 < means[-1] <= means[0] < 1, key)
            name = crop.key if crop.key in published else crop.table_row
            if name in published and crop.word("starts") == "seed":
                pairs.append((published[name], crop.number("life_room_years")))
        self.assertGreater(len(pairs), 15)
        self.assertGreater(spearmanr(*zip(*pairs, strict=True)).statistic, 0.7)

    def test_storage_by_the_rules_of_thumb(self) -> None:
        self.assertAlmostEqual(life_factor(20, 50), 1)
        self.assertAlmostEqual(life_factor(20 - 5.6, 50), 2)
        self.assertAlmostEqual(life_factor(20, 50 - 1 / 0.115), 2)
        self.assertEqual((life_factor(-20, 20), life_factor(40, 90)), (6.0, 0.2))
        for kept, celsius, humidity in (("kitchen", 24, 60), ("shed", 18, 70)):
            self.assertAlmostEqual(STORAGES[kept], life_factor(celsius, humidity), delta=0.05)
        fridge, room = (germination(LIBRARY["leek"], Packet(3.0, STORAGES[k])).mean for k in ("fridge", "room"))
        self.assertGreater(fridge, room + 0.15)


class Tests(TestCase):
    def test_what_age_says_weighs_less_the_older_the_seed(self) -> None:
        pepper = LIBRARY["pepper"]  # 30 seeds, 2.5 years
        weights = [
            found.a + found.b for found in (germination(pepper, Packet(age)) for age in (0.0, 1.25, 2.0, 2.5, 3.0))
        ]
        np.testing.assert_allclose(weights, [30, 30, 15, 15, 7.5])
        home = germination(pepper, Packet(0.0, saved=True))
        printed = germination(pepper, Packet(0.0, printed=0.9))
        self.assertAlmostEqual(home.a + home.b, 5)
        self.assertAlmostEqual(printed.a + printed.b, 50)
        self.assertAlmostEqual(printed.mean, 0.81)

    def test_a_test_counts_as_it_would_in_mix(self) -> None:
        leek = LIBRARY["leek"]  # fresh 0.82
        prior = germination(leek, Packet(0.0))
        towel = germination(leek, Packet(0.0), [Test(date(2026, 3, 1), 20, 10)])
        self.assertAlmostEqual(towel.mean, (prior.a + 8.75) / 50)
        mix = germination(leek, Packet(0.0), [Test(date(2026, 3, 1), 20, 10, True)])
        self.assertAlmostEqual(mix.mean, (prior.a + 10) / 50)
        self.assertEqual(germination(leek, Packet(0.0), [Test(date(2026, 3, 1), 20, 10)] * 2).tested, 40)

    def test_a_full_towel_never_speaks_against_the_seed(self) -> None:
        for crop in LIBRARY.values():
            for age in (0.0, 1.0, 3.0):
                before = germination(crop, Packet(age)).mean
                after = germination(crop, Packet(age), [Test(date(2026, 3, 1), 100, 100)]).mean
                self.assertGreaterEqual(after, before - 1e-9, (crop.key, age))

    def test_an_old_test_fades_with_the_seed(self) -> None:
        test = Test(date(2024, 3, 1), 20, 18)
        fresh = germination(LIBRARY["onion"], Packet(0.0), [test], today=date(2024, 3, 1))
        later = germination(LIBRARY["onion"], Packet(2.0), [test], today=date(2026, 3, 1))
        self.assertLess(later.mean, fresh.mean - 0.1)

    def test_pelleted_seed_lives_half_as_long(self) -> None:
        plain, pelleted = (germination(LIBRARY["onion"], Packet(1.5, pelleted=p)) for p in (False, True))
        self.assertAlmostEqual(pelleted.life_years, plain.life_years / 2)
        self.assertLess(pelleted.mean, plain.mean)

    def test_the_interval_holds_four_in_five(self) -> None:
        found = germination(LIBRARY["cosmos"], Packet(4.0))
        choose, inside = np.random.default_rng(2), 0
        for _ in range(400):
            truth = choose.beta(found.a, found.b)  # what age says is right
            up = int(choose.binomial(20, truth))
            after = germination(LIBRARY["cosmos"], Packet(4.0), [Test(date(2026, 3, 1), 20, up, True)])
            inside += after.low <= truth <= after.high
        self.assertTrue(292 <= inside <= 348, inside)


class Planner(TestCase):
    SOW, TODAY = date(2026, 4, 1), date(2026, 1, 10)

    def plan(self, key: str, age: float, had: int | None, wanted: int, today: date = TODAY) -> TestPlan:
        crop: Crop = LIBRARY[key]
        how = how_for(crop, "cells")

        case = case_for(crop, wanted, how, Seed(1.0))
        return plan_test(germination(crop, Packet(age)), 1.0, case, self.SOW, today, 8.0, had)

    def test_a_test_where_its_answer_changes_what_is_sown(self) -> None:
        plan = self.plan("onion", 2.0, 400, 90)
        self.assertEqual(plan.verdict, "test")
        self.assertGreaterEqual(plan.seeds, 10)
        self.assertEqual(plan.by, date(2026, 2, 20))  # three weeks to order, a week to read, 12 days to come up
        said = {v.name: v.number for v in plan.working.inputs}
        self.assertTrue(said["good"] < said["needed"] < said["poor"])

    def test_none_for_seed_that_is_sure_enough(self) -> None:
        for key in ("tomato", "cabbage", "lettuce"):
            self.assertEqual(self.plan(key, 0.0, 200, 12).verdict, "none", key)

    def test_a_seven_year_old_pepper_is_its_own_test(self) -> None:
        for had in (25, None):
            plan = self.plan("pepper", 7.0, had, 8)
            self.assertEqual((plan.verdict, plan.by), ("own_test", date(2026, 3, 11)))
        late = self.plan("pepper", 7.0, 25, 8, date(2026, 3, 20))
        self.assertEqual((late.verdict, late.by), ("own_test", date(2026, 3, 20)))

    def test_never_silent_on_seed_twice_its_life(self) -> None:
        for key, crop in LIBRARY.items():
            if crop.method == "direct":
                continue
            age = 2 * crop.number("life_room_years") + 0.5
            for had in (None, 5, 60, 2000):
                self.assertNotEqual(self.plan(key, age, had, 10).verdict, "none", (key, had))


class Shortfall(TestCase):
    def test_how_sure_follows_what_a_shortfall_costs(self) -> None:
        sow = date(2026, 3, 1)
        early = stake(sow, date(2026, 3, 20), 6.2)
        self.assertEqual((early.confidence, early.again_on), (AGAIN, date(2026, 3, 11)))  # 1.5 × 6.2 = 9.3 days
        self.assertEqual(stake(sow, date(2026, 3, 10), 6.2), (CONFIDENCE, None))
        self.assertEqual(stake(sow, date(2026, 3, 7), 6.2), (LAST_CHANCE, None))
        self.assertEqual(stake(sow, date(2026, 2, 1), 6.2), (LAST_CHANCE, None))

    def test_so_many_now_so_many_more_if_too_few_are_up(self) -> None:
        crop = LIBRARY["tomato"]
        how, seed = How("cells", "thin", 1), Seed(0.8, (24, 6))
        at = stake(date(2026, 3, 1), date(2026, 4, 1), 7)
        now = count_for(crop, 20, how, seed, at.confidence)
        more = top_up(crop, 20, how, seed, at, now)
        assert more is not None
        self.assertEqual(now.places + more.places, count_for(crop, 20, how, seed, LAST_CHANCE).places)
        self.assertEqual((more.fewer_than, more.on), (23, date(2026, 3, 12)))  # 20 / 0.9 = 22.2
        self.assertIsNone(top_up(crop, 20, how, seed, stake(date(2026, 3, 30), date(2026, 4, 1), 7), now))


class Ways(TestCase):
    def test_ways_respect_what_stands_transplanting(self) -> None:
        def of(key: str) -> list[tuple[str, str]]:
            return [(w.how.sown_in, w.how.surplus) for w in ways(LIBRARY[key], 12, Seed(0.8))]

        singles = [("cells", "thin"), ("cells", "thin"), ("blocks", "thin")]
        self.assertEqual(of("tomato"), [*singles, ("cells", "keep"), ("box", "prick")])
        self.assertEqual(of("cucumber"), singles)
        self.assertEqual(of("carrot"), [])
        self.assertEqual(of("onion")[:3], [("cells", "clump"), ("blocks", "clump"), ("box", "divide")])

    def test_what_is_handled_and_what_a_plant_more_costs(self) -> None:
        tomato = LIBRARY["tomato"]
        by = {(w.how.sown_in, w.how.surplus, w.how.per_cell): w for w in ways(tomato, 12, Seed(0.8))}
        box, two = by["box", "prick", 1], by["cells", "thin", 2]
        self.assertEqual((box.handled, box.sowing.unit), (14, "seeds"))  # 12 / 0.9 = 13.3 pricked out
        self.assertGreater(two.handled, 0)
        places, care = a_plant_more(tomato, 12, two.how, Seed(0.8))
        self.assertTrue(1.0 <= places < 1.6)
        self.assertTrue(2.0 < care.minutes < 4.0)  # half a minute a cell, potted and planted
        self.assertTrue(0.3 < care.litres < 0.6)  # a cell and a pot of 9 cm

    def test_tiny_seed_by_the_pinch(self) -> None:
        begonia = LIBRARY["begonia"]
        self.assertGreater(begonia.number("seeds_per_g"), FINE_SEEDS_PER_G)
        count = count_for(begonia, 60, How("box", "prick", 1), Seed(0.75))
        strewn = fine(begonia, count)
        assert strewn is not None
        self.assertAlmostEqual(strewn.grams * begonia.number("seeds_per_g"), count.seeds)
        self.assertTrue(0 < strewn.per_cm2 <= 0.2)
        self.assertIsNone(fine(LIBRARY["tomato"], count_for(LIBRARY["tomato"], 60, How("box", "prick", 1), Seed(0.75))))
