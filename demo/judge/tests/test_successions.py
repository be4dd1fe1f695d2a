"""The comparison of successions: the same plants for all, weeks counted as they are said to be."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from demo.judge import successions as s
from demo.judge.climates import CLIMATES

COAST = CLIMATES[1]


class Successions(TestCase):
    def test_all_have_as_many_plants_and_a_habit_spreads_them(self) -> None:
        own = s.ours(COAST)
        once, often = s.habit(own, COAST, None), s.habit(own, COAST, s.FORTNIGHT)
        for key in s.CROPS:
            plants = [sum(lot.plants for lot in lots if lot.crop == key) for lots in (own, once, often)]
            self.assertEqual(plants, [plants[0]] * 3, key)
        self.assertEqual(len(once), len(s.CROPS))
        self.assertGreater(len(often), len(own))

    def test_a_week_is_met_by_what_is_still_good(self) -> None:
        ready = np.zeros((60, 2))
        ready[3] = (10, 3)  # before the first week; good for 14 days
        found = s._weeks(ready, 5, 4, 14)
        self.assertEqual(found.tolist(), [1.0, 0.0])  # ten serve the first Sunday; by the second they are spoilt
        self.assertEqual(s._weeks(ready, 5, 4, 30).tolist(), [2.0, 0.0])

    def test_few_seasons_show_what_sowing_all_at_once_costs(self) -> None:
        lines = {line.policy: line for line in s.compare(3, (COAST,))}
        self.assertGreater(lines["aestiva"].met, lines["all-at-once"].met)
        self.assertTrue(str(lines["aestiva"]).startswith("SIMULATE successions mild-coast aestiva met=0."))
