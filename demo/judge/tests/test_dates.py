"""Does a comparison judge what it says it judges?  Few seasons; the figures are for `make simulate`."""

from __future__ import annotations

import contextlib
import io
from datetime import date, timedelta

import numpy as np
from django.test import SimpleTestCase

from demo.judge import dates, run
from demo.judge.climates import CLIMATES, last_frost, place_year, record, world
from demo.judge.lines import Line
from demo.nature.kinds import kind
from demo.nature.season import Score, hidden, mean_and_error

UPLAND, COAST, CONTINENTAL = CLIMATES


class Climates(SimpleTestCase):
    def test_three_that_differ(self) -> None:
        frosts = {w.name: last_frost(w) for w in CLIMATES}
        self.assertLess(frosts["mild-coast"], frosts["upland"] - timedelta(days=21))
        self.assertLess(frosts["upland"], frosts["short-continental"])
        for where in CLIMATES:
            self.assertEqual(len(record(where).tmin) // 365, 30)
            ours = place_year(where).last_frost[0]
            self.assertLess(abs((ours - last_frost(where)).days), 5)  # two ways to the same night

    def test_seasons_are_drawn_from_the_record_that_the_plan_is_made_from(self) -> None:
        w = world(UPLAND, 20).weather
        spring = slice(w.index(date(2026, 4, 1)), w.index(date(2026, 5, 31)))
        days = record(UPLAND)
        years = [days.tmin[(date(y, 4, 1) - days.start).days :][:60].mean() for y in range(1997, 2025)]
        self.assertAlmostEqual(float(w.tmin[:, spring].mean()), float(np.mean(years)), delta=0.8)


class Ways(SimpleTestCase):
    def test_only_the_days_differ(self) -> None:
        here = world(COAST, 4)
        all_of_them = dates.policies(COAST, here)
        self.assertEqual(
            set(all_of_them),
            {"aestiva", "at-last-frost", "two-weeks-after", "packet-weeks", "last-years-frost", "soil-and-forecast"},
        )
        one = all_of_them["aestiva"]
        for way in all_of_them.values():
            self.assertIs(way.water, one.water)
            self.assertIs(way.feed, one.feed)
            self.assertEqual((way.seeds, way.hardens), (one.seeds, one.hardens))

    def test_our_days_are_the_plans(self) -> None:
        sow, out = dates.plan(CONTINENTAL)
        frost = place_year(CONTINENTAL).last_frost[0]
        tomato, kale = (dates.CROPS.index(c) for c in ("tomato", "kale"))
        self.assertGreater(out[tomato], frost)
        self.assertLess(out[kale], out[tomato])
        self.assertTrue(all(s < o for s, o in zip(sow, out, strict=True)))

    def test_last_years_frost_moves_the_packets_days_by_whole_seasons(self) -> None:
        here = world(UPLAND, 6)
        all_of_them = dates.policies(UPLAND, here)
        copied, packet = (all_of_them[n].out_on for n in ("last-years-frost", "packet-weeks"))
        assert copied is not None and packet is not None
        moved = (copied - packet).reshape(6, -1)
        self.assertTrue((moved == moved[:, :1]).all())
        self.assertGreater(len(np.unique(moved[:, 0])), 3)


SEASONS = 3  # enough to show that nothing hidden is read; `make simulate` takes hundreds


class Lines(SimpleTestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.lines = list(dates.compare(SEASONS, (CONTINENTAL,)))

    def test_a_line_a_policy_in_the_agreed_form(self) -> None:
        self.assertEqual(len(self.lines), 6)
        for line in self.lines:
            self.assertRegex(
                str(line),
                r"^SIMULATE dates short-continental [a-z-]+ plants=\d+\.\d harvest=\d+\.\d\d worth=0\.\d{3} se=0\.\d{3}  # ",
            )
            self.assertTrue(0 < line.worth < 1.05 and line.se > 0)
            self.assertTrue(line.plants <= line.set_out <= 100)

    def test_ours_is_behind_itself_by_nothing(self) -> None:
        ours = self.lines[0]
        self.assertEqual((ours.policy, ours.behind, ours.behind_se), ("aestiva", 0.0, 0.0))
        self.assertTrue(all(line.behind_se > 0 for line in self.lines[1:]))

    def test_a_policy_that_plants_in_midwinter_is_worth_little(self) -> None:
        here, kinds = world(CONTINENTAL, SEASONS), [kind(c) for c in dates.CROPS]
        wishes = [dates.Wish(k.key, k, 12) for k in kinds]
        winter = dates.ways(here, [date(2025, 12, 1)] * len(kinds), [date(2026, 2, 1)] * len(kinds))
        score = dates.Run(here, wishes, winter, dates.SEED).score()
        top = np.maximum(dates.best(here, kinds), score.harvest)
        line = Line.of("dates", "x", "midwinter", score, top, top > 0, score)
        self.assertLess(line.worth, 0.3)
        self.assertLess(line.worth, self.lines[0].worth - 0.2)

    def test_our_plan_reads_nothing_hidden(self) -> None:
        hidden.poison = True
        try:
            again = next(iter(dates.compare(SEASONS, (CONTINENTAL,))))
        finally:
            hidden.poison = False
        self.assertEqual(again, self.lines[0])


class Figures(SimpleTestCase):
    def test_the_standard_error_is_that_of_seasons(self) -> None:
        values = np.array([[1.0, 3.0], [2.0, 4.0], [6.0, 8.0]])
        mean, error = mean_and_error(values)
        self.assertAlmostEqual(mean, 4.0)
        self.assertAlmostEqual(error, np.std([2.0, 3.0, 7.0], ddof=1) / np.sqrt(3))

    def test_worth_of_a_season_in_which_nothing_grows_is_nothing(self) -> None:
        zero = np.zeros((2, 1))
        score = Score(zero + 12, zero, zero, zero, zero, np.zeros(2), zero)
        self.assertEqual(score.worth(zero).tolist(), [[0.0], [0.0]])

    def test_an_unknown_comparison_is_named(self) -> None:
        with contextlib.redirect_stderr(io.StringIO()) as said:
            self.assertEqual(run.main(["weather"]), 2)
        self.assertIn("no comparison weather; there are dates, counts", said.getvalue())
