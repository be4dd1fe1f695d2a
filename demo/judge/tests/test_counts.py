"""Are counts compared as they are meant to be: ours by age, habits by their rule, on the same days?"""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase, tag

from demo.judge import counts, dates
from demo.judge.climates import CLIMATES, world
from demo.nature.season import Run

COAST = CLIMATES[1]


class Counts(SimpleTestCase):
    def test_ours_follow_the_packets_age_and_habits_do_not_know_it(self) -> None:
        wishes = counts.wishes()
        seeds, per_cell = counts.ours(wishes)
        for n in range(0, len(wishes), 2):
            self.assertGreater(seeds[n + 1], seeds[n], wishes[n].name)
            self.assertGreaterEqual(per_cell[n + 1], per_cell[n])
        all_of_them = counts.policies(COAST, world(COAST, 2), wishes)
        self.assertEqual(set(all_of_them["two-a-cell-doubled"].seeds), {4 * dates.WANTED})  # type: ignore[arg-type]
        self.assertEqual(set(all_of_them["one-a-plant"].seeds), {dates.WANTED})  # type: ignore[arg-type]
        self.assertEqual(set(all_of_them["triple-the-old"].seeds), {2 * dates.WANTED, 6 * dates.WANTED})  # type: ignore[arg-type]
        days = {tuple(way.out_on.tolist()) for way in all_of_them.values() if way.out_on is not None}
        self.assertEqual(len(days), 1)

    def test_a_cell_is_thinned_to_its_largest(self) -> None:
        here, wishes = world(COAST, 3), counts.wishes()[:4]
        way = dates.ways(
            here,
            [d for d in dates.plan(COAST)[0][:2] for _ in "ab"],
            [d for d in dates.plan(COAST)[1][:2] for _ in "ab"],
        )
        run = Run(
            here,
            wishes,
            way._replace(seeds=(24, 24, 24, 24), per_cell=(2, 2, 2, 2), out=lambda seen: seen.t < 0),
            dates.SEED,
        )
        for t in range(300):
            run._day(t)
        self.assertTrue(run.thinned.all())
        cells = (run.plants.living > 0).reshape(12, 2, -1).sum(axis=1)
        self.assertLessEqual(int(cells.max()), 1)
        both = run.plants.up.reshape(12, 2, -1).all(axis=1)
        self.assertGreater(int(both.sum()), 10)  # there was something to choose

    @tag("long")
    def test_few_seasons_say_that_one_seed_a_plant_is_too_few(self) -> None:
        lines = {line.policy: line for line in counts.compare(4, (COAST,))}
        self.assertGreater(lines["aestiva"].full, lines["two-a-cell"].full)
        self.assertLess(lines["one-a-plant"].full, 40)
        self.assertLess(lines["aestiva"].seeds, lines["two-a-cell-doubled"].seeds)
        self.assertTrue(np.isfinite([line.worth for line in lines.values()]).all())
