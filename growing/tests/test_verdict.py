"""Twenty situations as a grower meets them, each with what an expert would say."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from unittest import TestCase

import numpy as np

from growing.batch.posterior import CountLook, Lifted, SowingSoFar, priors
from growing.batch.verdict import EmergenceCase, EmergenceVerdict, looks_a_day, until, verdicts
from growing.crops import library
from growing.seeds.clock import curve, progress

TODAY = date(2026, 4, 12)


def case(
    looks: list[tuple[float, int]],
    x: float,
    crop: str = "tomato",
    seeds: int = 20,
    need: int = 12,
    mean: float = 0.85,
    **more: Any,
) -> EmergenceCase:
    of = library()[crop]
    a, b = priors(mean)
    lifted = more.pop("lifted", Lifted())
    batch = SowingSoFar(
        seeds,
        of.number("sigma"),
        a,
        b,
        tuple(CountLook(*one) for one in looks),
        lifted,
        x if lifted != Lifted() else 0.0,
    )
    given = {
        "ahead_c": of.number("germinate_c"),
        "measured": True,
        "closes": TODAY + timedelta(days=14),
        "mean": mean,
    } | more
    return EmergenceCase(batch, x, need, TODAY, curve(of), **given)


def said(one: EmergenceCase, *others: EmergenceCase) -> EmergenceVerdict:
    return verdicts([one, *others])[0]


class Situations(TestCase):
    def test_too_soon_to_tell_names_the_first_look(self) -> None:
        found = said(case([], 0.3))
        self.assertEqual(found.kind, "soon")
        self.assertGreater(found.by, TODAY)  # type: ignore[arg-type]

    def test_on_its_way_waits(self) -> None:
        self.assertEqual(said(case([(0.8, 2), (1.0, 9)], 1.05)).kind, "wait")

    def test_a_count_of_days_ago_says_nothing_of_today(self) -> None:
        self.assertEqual(said(case([(0.8, 2)], 1.3)).kind, "count")
        self.assertEqual(said(case([], 0.9)).kind, "count")

    def test_mix_that_is_too_cold_is_said_before_weeks_are_lost(self) -> None:
        cold = case([], 0.1, "pepper", ahead_c=13.0, low_c=22.0)
        self.assertEqual(said(cold).kind, "warm")

    def test_enough_is_enough(self) -> None:
        self.assertEqual(said(case([(1.3, 14)], 1.3)).kind, "enough")

    def test_nothing_at_one_and_a_half_measured_is_sown_again(self) -> None:
        found = said(case([(1.0, 0), (1.3, 0), (1.6, 0)], 1.6))
        self.assertEqual(found.kind, "again")
        self.assertGreaterEqual(found.sow, 12)

    def test_the_same_without_a_thermometer_is_only_looked_at(self) -> None:
        self.assertEqual(said(case([(1.0, 0), (1.3, 0), (1.6, 0)], 1.6, measured=False)).kind, "check")

    def test_but_three_days_before_the_end_it_is_sown_again_and_the_first_kept(self) -> None:
        near = case([(1.0, 0), (1.3, 0), (1.6, 0)], 1.6, measured=False, closes=TODAY + timedelta(days=2))
        self.assertEqual(said(near).kind, "keep_again")

    def test_past_the_last_useful_day_it_is_too_late(self) -> None:
        gone = case([(1.0, 0), (1.6, 0)], 1.7, closes=TODAY - timedelta(days=1))
        self.assertEqual(said(gone).kind, "late")

    def test_a_cold_spell_makes_overdue_wrong(self) -> None:
        of = library()["pepper"]
        warm, cold = np.full(24 * 12, 24.0), np.concatenate([np.full(24 * 2, 24.0), np.full(24 * 10, 12.0)])
        by_calendar, had = (float(progress(curve(of), h)[-1]) for h in (warm, cold))
        self.assertGreater(by_calendar, 1.0)
        self.assertLess(had, 0.5)
        self.assertEqual(said(case([(had, 0)], had, "pepper")).kind, "soon")
        self.assertNotEqual(said(case([(by_calendar, 0)], by_calendar, "pepper")).kind, "soon")

    def test_roots_but_nothing_up_waits_or_looks_where_silence_alone_would_sow(self) -> None:
        silent = [(1.0, 0), (1.2, 0), (1.4, 0)]
        bare, roots = said(case(silent, 1.4)), said(case(silent, 1.4, lifted=Lifted(root=3)))
        self.assertGreater(roots.enough, bare.enough + 0.1)
        self.assertIn(roots.kind, ("wait", "check"))

    def test_soft_ones_are_sown_again(self) -> None:
        self.assertEqual(said(case([(1.0, 0), (1.25, 0)], 1.25, lifted=Lifted(soft=3))).kind, "again")

    def test_a_sister_that_is_up_tells_against_waiting(self) -> None:
        silent = case([(1.0, 0), (1.1, 0)], 1.1, sister=1, sister_up=True)
        up = case([(1.0, 10), (1.1, 14)], 1.1)
        alone = said(case([(1.0, 0), (1.1, 0)], 1.1))
        beside = verdicts([silent, up])[0]
        self.assertLess(beside.enough, alone.enough + 1e-9)
        self.assertEqual(beside.kind, "again")

    def test_a_dead_packet(self) -> None:
        found = said(case([(1.2, 0), (1.6, 0), (2.1, 0)], 2.1, mean=0.3, years=9))
        self.assertEqual(found.kind, "again")
        self.assertEqual(found.reasons[0], "old")

    def test_half_of_them_is_topped_up(self) -> None:
        found = said(case([(1.0, 4), (1.3, 6), (1.7, 6)], 1.7))
        self.assertEqual(found.kind, "top_up")
        self.assertGreaterEqual(found.sow, 4)
        self.assertLess(found.sow, 12)

    def test_late_ones_do_come_in_a_slow_uneven_kind(self) -> None:
        self.assertEqual(said(case([(0.8, 3), (1.0, 8)], 1.1, "parsley", need=10)).kind, "wait")

    def test_tiny_seed_in_a_box(self) -> None:
        few = said(case([(1.0, 40), (1.5, 90)], 1.5, "snapdragon", seeds=300, need=30))
        self.assertEqual(few.kind, "enough")
        none = said(case([(1.0, 0), (1.6, 0)], 1.6, "snapdragon", seeds=300, need=30, light="light", lit=False))
        self.assertEqual(none.kind, "again")
        self.assertIn("light", none.reasons[:2])

    def test_warm_seed_that_lay_cold_in_its_first_days(self) -> None:
        found = said(case([(1.0, 0), (1.6, 0)], 1.6, "cucumber", injured=True))
        self.assertEqual(found.reasons[0], "chilled")

    def test_too_cold_is_the_first_reason(self) -> None:
        found = said(case([(1.0, 0), (1.55, 1)], 1.55, "pepper", had_c=16.0, low_c=22.0))
        self.assertEqual(found.reasons[0], "cold")

    def test_soaked_too_long_and_too_hot(self) -> None:
        found = said(
            case([(1.0, 0), (1.7, 0)], 1.7, "pea" if "pea" in library() else "tomato", soak_hours=40.0, soak_most=12.0)
        )
        self.assertIn("soaked", found.reasons[:2])
        hot = said(case([(1.0, 0), (1.7, 0)], 1.7, "lettuce", had_c=31.0, high_c=24.0))
        self.assertEqual(hot.reasons[0], "hot")

    def test_re_sown_cells_are_a_batch_of_their_own_with_their_own_clock(self) -> None:
        old, again = case([(1.9, 3)], 1.9, seeds=10, need=8), case([], 0.2, seeds=8, need=5)
        first, second = verdicts([old, again])
        self.assertEqual(second.kind, "soon")
        self.assertIn(first.kind, ("top_up", "again"))

    def test_no_verdict_stays_silent_whatever_the_counts(self) -> None:
        random = np.random.default_rng(1)
        cases = []
        for _ in range(200):
            xs = np.sort(random.uniform(0.3, 3, int(random.integers(0, 5))))
            ups = np.sort(random.integers(0, 20, len(xs)))
            cases.append(
                case(
                    [(float(x), int(u)) for x, u in zip(xs, ups, strict=True)],
                    float(xs[-1]) if len(xs) else 0.1,
                    measured=bool(random.integers(2)),
                    closes=TODAY + timedelta(days=int(random.integers(-9, 30))),
                )
            )
        for one in verdicts(cases):
            self.assertTrue(one.kind)
            self.assertTrue(0 <= one.enough <= 1)
            if one.kind in ("wait", "soon"):
                self.assertIsNotNone(one.by)
            if one.kind in ("again", "top_up", "keep_again"):
                self.assertGreater(one.sow, 0)

    def test_another_warmth_in_days(self) -> None:
        of = curve(library()["tomato"])
        warm, cool = until(of, 0.2, 0.5, 0.25, 24, TODAY), until(of, 0.2, 0.5, 0.25, 15, TODAY)
        assert warm is not None and cool is not None
        self.assertLess(warm, cool)
        self.assertIsNone(until(of, 0.2, 0.5, 0.25, 3, TODAY))
        self.assertEqual((looks_a_day(3.0), looks_a_day(9.0)), (2, 1))
