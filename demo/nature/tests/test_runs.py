"""Is a run the same again, is nothing hidden read by a rule, and does a better way score better?"""

from __future__ import annotations

import subprocess
import sys
from datetime import date, timedelta
from functools import lru_cache

import numpy as np
from django.test import SimpleTestCase

from demo.nature import grower, habits
from demo.nature.kinds import kind
from demo.nature.rooms import Place, World
from demo.nature.season import Run, Score, Wish, hidden
from demo.nature.tests.test_weather import drawn

KEYS = ("tomato", "kale", "lettuce", "zinnia")
WISHES = [Wish(key, kind(key), 6) for key in KEYS]
KINDS = [w.kind for w in WISHES]
PLACES = (Place("shelf", "shelf", fan=True), Place("porch", "porch"), Place("frame", "frame"), Place("bed", "bed"))
LAST_FROST = date(2026, 4, 25)


@lru_cache(maxsize=8)
def world(seasons: int) -> World:
    return World(drawn(seasons, 330), PLACES)


def ways(seasons: int, weeks: int = 1, **changed: object) -> habits.Ways:
    sow, out = habits.weeks_after(KINDS, LAST_FROST, weeks)
    sow_on, out_on = (
        np.tile([(d - date(2026, 1, 1)).days for d in days], seasons).astype(np.int32) for days in (sow, out)
    )
    made = habits.Ways(habits.on(sow_on), habits.on(out_on), habits.by_heft, habits.weekly_feed, out_on=out_on)
    return made._replace(**changed)  # type: ignore[arg-type]


def score(seasons: int = 12, seed: int = 3, **changed: object) -> Score:
    return Run(world(seasons), WISHES, ways(seasons, **changed), seed).score()  # type: ignore[arg-type]


def figures(of: Score) -> str:
    return " ".join(f"{a.sum():.4f}" for a in of)


class Again(SimpleTestCase):
    def test_the_same_seed_gives_the_same_season_in_another_process(self) -> None:
        code = "from demo.nature.tests.test_runs import figures, score; print(figures(score()))"
        other = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertEqual(other.stdout.strip(), figures(score()))
        self.assertNotEqual(figures(score(seed=4)), figures(score()))

    def test_a_season_is_the_same_however_many_there_are_and_whatever_else_grows(self) -> None:
        few, many = score(4), score(12)
        np.testing.assert_array_equal(few.harvest, many.harvest[:4])
        alone = Run(
            world(4), WISHES[:1], ways(4)._replace(out_on=None, sow=lambda s: s.t >= 50, out=lambda s: s.t >= 120), 3
        )
        beside = Run(
            world(4), WISHES, ways(4)._replace(out_on=None, sow=lambda s: s.t >= 50, out=lambda s: s.t >= 120), 3
        )
        np.testing.assert_array_equal(alone.score().set_out[:, 0], beside.score().set_out[:, 0])

    def test_ways_are_compared_on_the_same_seeds(self) -> None:
        one, two = (Run(world(4), WISHES, ways(4, weeks), 3) for weeks in (0, 2))
        np.testing.assert_array_equal(one.plants.need, two.plants.need)
        np.testing.assert_array_equal(one.chances.late, two.chances.late)


class Hidden(SimpleTestCase):
    def tearDown(self) -> None:
        hidden.poison = False

    def test_no_habit_reads_hidden_state(self) -> None:
        everything = ways(6)._replace(out=habits.soil_and_forecast(KINDS, [n % 4 for n in range(24)], np.full(24, 100)))
        for way in (ways(6), everything, ways(6, water=habits.every_third_day)):
            plain = figures(Run(world(6), WISHES, way, 3).score())
            hidden.poison = True
            self.assertEqual(figures(Run(world(6), WISHES, way, 3).score()), plain)
            hidden.poison = False

    def test_one_that_does_is_found_out(self) -> None:
        run = Run(world(6), WISHES, ways(6), 3)
        run.ways = run.ways._replace(water=lambda seen: run.plants.wet.mean(axis=0) < 0.5)
        plain = figures(run.score())
        again = Run(world(6), WISHES, ways(6), 3)
        again.ways = again.ways._replace(water=lambda seen: again.plants.wet.mean(axis=0) < 0.5)
        hidden.poison = True
        self.assertNotEqual(figures(again.score()), plain)

    def test_the_world_knows_no_rules(self) -> None:
        code = (
            "import sys, demo.nature.season, demo.nature.habits;"
            "print([m for m in sys.modules if m.split('.')[0] in ('growing', 'aestiva', 'django')])"
        )
        found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip()
        self.assertEqual(found, "[]")


class Better(SimpleTestCase):
    def test_what_a_grower_would_expect(self) -> None:
        good = score()
        self.assertTrue((good.set_out <= 6).all() and (good.alive <= good.set_out).all())
        self.assertGreater(good.harvest.mean(), 0)
        neglected = score(water=lambda seen: np.zeros(len(seen.leaves), bool), noon=False)
        self.assertEqual(neglected.set_out[:, 0].sum(), 0)
        starved = score(feed=lambda seen: np.zeros(len(seen.leaves), bool))
        self.assertLess(starved.harvest[:, 0].sum(), good.harvest[:, 0].sum())
        soft = score(hardens=0)
        self.assertLess(soft.harvest.sum(), good.harvest.sum())
        early = score(weeks=-5)
        self.assertLess(early.alive[:, 0].mean(), 0.5 * good.alive[:, 0].mean())

    def test_more_seeds_give_no_fewer_plants(self) -> None:
        few, many = score(seeds=1.0), score(seeds=3.0)
        self.assertGreater(many.set_out.sum(), few.set_out.sum())
        self.assertEqual(many.seeds.sum(), 3 * few.seeds.sum())


class Hands(SimpleTestCase):
    def test_she_counts_a_little_wrong_skips_a_look_in_ten_and_is_late_one_time_in_eight(self) -> None:
        had = grower.chances(1, [(s, "x") for s in range(2000)], 40)
        self.assertAlmostEqual(had.late.mean(), 1 / 8, delta=0.02)
        self.assertAlmostEqual(had.skips.mean(), 0.1, delta=0.01)
        said = grower.counted(np.full(had.wrong.shape, 200, np.float32), had.wrong, np.float32(1000))
        self.assertAlmostEqual(said.std(), 6, delta=0.5)
        self.assertTrue(
            (grower.counted(np.full(had.wrong.shape, 200, np.float32), had.wrong, np.float32(200)) <= 200).all()
        )

    def test_a_day_has_so_many_minutes_for_each_season(self) -> None:
        take, season = np.array([50.0, 30, 20, 95, 10, 0]), np.array([0, 0, 0, 1, 1, 1])
        self.assertEqual(grower.within(take, season, 90.0).tolist(), [True, True, False, False, False, True])
        self.assertTrue(grower.within(take, season, 500.0).all())


class Habits(SimpleTestCase):
    def test_the_books_days(self) -> None:
        sow, out = habits.at_last_frost(KINDS, LAST_FROST)
        self.assertEqual(set(out), {LAST_FROST})
        self.assertEqual(sow[0], LAST_FROST - timedelta(weeks=7))
        sow, out = habits.by_the_packet(KINDS, LAST_FROST)
        self.assertEqual((out[1] - LAST_FROST).days, -28)  # kale, before the frost is over
        self.assertEqual(habits.weeks_after(KINDS, LAST_FROST)[1][0], LAST_FROST + timedelta(weeks=2))

    def test_copying_last_year_takes_the_season_before(self) -> None:
        w = world(6).weather
        copied = habits.last_years(w, date(2026, 7, 1))
        own = np.array([np.flatnonzero(w.tmin[s, :181] <= 0)[-1] for s in range(6)])
        np.testing.assert_array_equal(copied, np.roll(own, 1))
