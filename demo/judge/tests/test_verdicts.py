"""The trial of the verdicts: fair to all, honest about what it prints, and blind to what nature hides."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from demo.judge import verdicts
from demo.judge.climates import CLIMATES, world
from demo.judge.verdicts import PLACES, POLICIES, PORCH, WARM, VerdictTrial


def trial(policy: str, room: int, seasons: int = 2) -> VerdictTrial:
    here = world(CLIMATES[0], seasons, verdicts.SEED, PLACES)
    return VerdictTrial(here, next(p for p in POLICIES if p.name == policy), room, verdicts.wishes(), seasons)


class Verdicts(TestCase):
    def test_all_meet_the_same_seed_and_only_what_is_done_differs(self) -> None:
        never, ours = trial("never", WARM), trial("aestiva", WARM)
        self.assertTrue((never.plants.will_come == ours.plants.will_come).all())
        plants, seeds, again, _ = never.run()
        self.assertEqual(float(again.sum()), 0.0)
        self.assertEqual(float(seeds.sum()), float(2 * sum(w.seeds for w in never.wishes)))
        self.assertTrue((plants <= verdicts.WANTED).all())

    def test_in_a_cold_porch_it_is_carried_to_where_it_comes(self) -> None:
        ours, stays = trial("aestiva", PORCH), trial("never", PORCH)
        found, other = ours.run()[0], stays.run()[0]
        self.assertGreater(float(found.mean()), float(other.mean()) + 1.0)
        self.assertTrue(0.5 <= ours.covered() <= 1.0)
        self.assertTrue(np.isnan(stays.covered()))

    def test_a_line_says_what_it_cost(self) -> None:
        line = verdicts.VerdictsLine("warm-room", "double", 99.4, 0.1, -0.9, 0.1, 3.46, 0.0, 0.0, float("nan"))
        self.assertIn("seeds=3.46", str(line))
        self.assertIn("aestiva -0.9 ± 0.1", str(line))
        self.assertNotIn("nan", str(line))
