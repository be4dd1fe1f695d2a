"""Minutes a week by counting, what to drop against every set, and what days away mean."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import combinations
from unittest import TestCase

import numpy as np

from growing.bench.hands import CARE_MINUTES, CARRY_MINUTES, Postponable, away_from, to_drop, weeks
from growing.care.heat import COOL
from growing.care.steps import PINCH, POT
from growing.hardening.steps import HARDEN

MONDAY = date(2026, 4, 13)


class Weeks(TestCase):
    def test_minutes_of_a_week_are_those_of_its_days(self) -> None:
        tasks = [(MONDAY, 30.0), (MONDAY + timedelta(days=6), 12.0), (MONDAY + timedelta(days=7), 99.0)]
        flats = {MONDAY + timedelta(days=k): 10.0 for k in range(14)}
        hard = {MONDAY + timedelta(days=2): 4.0}
        found = weeks(tasks, flats, hard, dict.fromkeys(range(7), 20.0), MONDAY, 2)
        self.assertAlmostEqual(found[0].needs, 42 + 70 * CARE_MINUTES + 4 * CARRY_MINUTES)
        self.assertEqual(found[0].over, 0.0)
        self.assertAlmostEqual(
            weeks(tasks, flats, hard, dict.fromkeys(range(7), 10.0), MONDAY, 1)[0].over, found[0].needs - 70
        )
        self.assertAlmostEqual(found[1].needs, 99 + 70 * CARE_MINUTES)
        self.assertEqual(weeks(tasks, flats, hard, None, MONDAY, 1)[0].over, 0.0)

    def test_no_time_at_all_is_over_by_all_of_it(self) -> None:
        found = weeks([(MONDAY, 30.0)], {}, {}, dict.fromkeys(range(7), 0.0), MONDAY, 1)
        self.assertEqual(found[0].over, 30.0)

    def test_what_is_dropped_is_enough_and_the_cheapest_of_all_sets(self) -> None:
        rng = np.random.default_rng(3)
        for _ in range(60):
            jobs = [Postponable(f"j{n}", float(rng.integers(5, 60)), float(rng.integers(0, 20))) for n in range(8)]
            over = float(rng.integers(1, 150))
            found = to_drop(jobs, over)
            whole = sum(j.minutes for j in jobs)
            if whole < over:
                self.assertEqual(len(found), 8)
                continue
            self.assertGreaterEqual(sum(j.minutes for j in found), over)
            best = min(
                sum(j.lost for j in some)
                for size in range(9)
                for some in combinations(jobs, size)
                if sum(j.minutes for j in some) >= over
            )
            self.assertAlmostEqual(sum(j.lost for j in found), best)
        self.assertEqual(to_drop([], 10), [])
        self.assertEqual(to_drop([Postponable("a", 5, 0)], 0), [])


class DaysAway(TestCase):
    def test_before_by_a_helper_or_after(self) -> None:
        leaves = MONDAY
        for spec in (POT, PINCH):  # what may be done a little early is done before leaving, whatever kind it is
            self.assertEqual(away_from(spec, leaves + timedelta(days=2), 3.0, leaves), "before")
        self.assertEqual(away_from(POT, leaves + timedelta(days=9), 3.0, leaves), "help")
        self.assertEqual(away_from(POT, leaves + timedelta(days=9), 0.0, leaves), "after")
        self.assertEqual(away_from(HARDEN, leaves, 0.0, leaves), "help")
        self.assertEqual(away_from(COOL, leaves, 0.0, leaves), "help")
