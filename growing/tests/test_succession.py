"""Successions and supply: worked examples written out, the fewest sowings against every set of them."""

from __future__ import annotations

from datetime import date
from itertools import combinations
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.chain.choice import Choice, Problem
from growing.crops import library
from growing.place.frost import TypedDate, TypedFrost
from growing.place.year import PlaceYear
from growing.plan.succession import Candidate, by_need, candidates, every, givings, stepped
from growing.plan.supply import Giving, SupplyWanted, met, runs_out, week_by_week

UPLAND = PlaceYear(
    2026, TypedFrost(False, TypedDate(5, 9, "average", 8), TypedDate(10, 4, "average", 8)), latitude=52.0
)
MONDAY = date(2026, 6, 1).toordinal()
WEEKS = [MONDAY + 7 * k for k in range(10)]


class Supply(TestCase):
    def test_heads_stand_until_they_are_eaten_or_bolt(self) -> None:
        # 30 heads ready on Monday, standing three weeks, 8 a week: 24 eaten in three weeks, 6 spoilt
        weeks = week_by_week(
            [Giving(1, MONDAY, MONDAY + 20, 30, True)], SupplyWanted(8, MONDAY, MONDAY + 69), None, WEEKS
        )
        self.assertEqual([w.used for w in weeks[:4]], [8, 8, 8, 0])
        self.assertEqual([w.spoilt for w in weeks[:4]], [0, 0, 6, 0])
        self.assertEqual(met(weeks), (3, 10))
        self.assertEqual(runs_out(weeks), WEEKS[3])

    def test_picked_over_weeks_it_comes_evenly_and_keeps_as_long_as_somebody_said(self) -> None:
        # 28 over four weeks: 7 a week; 5 are used; kept a week, two of each week go into the next
        g = [Giving(1, MONDAY, MONDAY + 27, 28, False)]
        plain = week_by_week(g, SupplyWanted(5, MONDAY, MONDAY + 69), None, WEEKS)
        self.assertEqual([w.spoilt for w in plain[:4]], [2, 2, 2, 2])
        kept = week_by_week(g, SupplyWanted(5, MONDAY, MONDAY + 69), 7, WEEKS)
        self.assertEqual([w.kept for w in kept[:4]], [2, 4, 6, 7])
        self.assertEqual([w.used for w in kept[:6]], [5, 5, 5, 5, 5, 0])

    def test_stored_against_eaten_says_when_it_runs_out(self) -> None:
        weeks = week_by_week([Giving(1, MONDAY, MONDAY, 12, True)], SupplyWanted(2, MONDAY, MONDAY + 69), 180, WEEKS)
        self.assertEqual(runs_out(weeks), WEEKS[6])

    def test_unknown_is_unknown(self) -> None:
        weeks = week_by_week(
            [Giving(1, MONDAY, MONDAY + 13, None, False)], SupplyWanted(5, MONDAY, MONDAY + 69), None, WEEKS
        )
        self.assertEqual(
            [(w.ready, w.used, w.giving) for w in weeks[:3]], [(None, None, 1), (None, None, 1), (0.0, None, 0)]
        )
        self.assertEqual([w.short for w in weeks[:3]], [False, False, True])
        self.assertIsNone(runs_out(weeks))


class Sown(TestCase):
    def test_ten_lettuces_a_week_from_heads_that_stand_a_fortnight(self) -> None:
        found = [
            Candidate(MONDAY - 60 + 7 * k, MONDAY - 30 + 7 * k, MONDAY + 7 * k, MONDAY + 7 * k + 13) for k in range(10)
        ]
        plan = by_need(found, WEEKS[:6], 10, 1, once=True)
        self.assertEqual([(s.at.first - MONDAY, s.plants) for s in plan.sowings], [(0, 20), (14, 20), (28, 20)])
        weeks = week_by_week(givings(plan.sowings, 1, True), SupplyWanted(10, MONDAY, MONDAY + 41), None, WEEKS[:6])
        self.assertEqual(met(weeks), (6, 6))

    def test_what_bears_for_weeks_needs_plants_for_the_week(self) -> None:
        one = Candidate(MONDAY - 60, MONDAY - 30, MONDAY, MONDAY + 69)
        plan = by_need([one], WEEKS, 4, 20, once=False)
        self.assertEqual([s.plants for s in plan.sowings], [2])  # 20 over ten weeks is 2 a week; 4 wanted
        self.assertEqual(plan.unserved, ())

    @given(st.lists(st.tuples(st.integers(0, 60), st.integers(4, 30)), min_size=1, max_size=8))
    def test_no_plan_has_fewer_sowings_and_every_week_that_can_be_is_served(self, spans: list[tuple[int, int]]) -> None:
        found = [Candidate(k, k, MONDAY + first, MONDAY + first + length) for k, (first, length) in enumerate(spans)]
        plan = by_need(found, WEEKS, 3, 1, once=True)
        able = [w for w in WEEKS if any(c.serves(w) for c in found)]
        self.assertEqual(sorted(set(WEEKS) - set(plan.unserved)), able)
        least = next(
            n
            for n in range(len(found) + 1)
            if any(all(any(c.serves(w) for c in some) for w in able) for some in combinations(found, n))
        )
        self.assertEqual(len(plan.sowings), least)

    def test_every_so_many_days_on_sowing_days_and_not_past_autumn(self) -> None:
        free = [d for d in range(MONDAY, MONDAY + 200) if date.fromordinal(d).weekday() == 5]
        days = stepped(MONDAY, MONDAY + 40, 10, free)
        self.assertEqual([d - MONDAY for d in days], [5, 12, 19, 33, 40])
        found = candidates(library()["lettuce"], UPLAND, Choice(), [MONDAY, MONDAY + 21, date(2026, 11, 1).toordinal()])
        plan = every(found, 9)
        self.assertEqual([s.at.sow for s in plan.sowings], [MONDAY, MONDAY + 21])
        self.assertEqual([c.sow for c in plan.beyond], [date(2026, 11, 1).toordinal()])

    def test_light_makes_later_sowings_slower(self) -> None:
        june, august = candidates(
            library()["lettuce"], UPLAND, Choice(), [date(2026, 6, 1).toordinal(), date(2026, 8, 1).toordinal()]
        )
        self.assertGreater(august.first - august.sow, june.first - june.sow)

    def test_a_day_that_gives_nothing_is_no_candidate(self) -> None:
        self.assertFalse(Candidate(1, 2, 3, 4, (Problem("heat", 0, None),)).gives)
