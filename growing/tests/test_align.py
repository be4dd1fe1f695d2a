"""The fewest sowing days against trying every set of days; each sowing inside its window, nearer for being improved."""

from __future__ import annotations

from itertools import combinations
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.chain.days import Span
from growing.plan.align import Wish, fewest_days, on_day

FREE = [d for d in range(60) if d % 7 in (5, 6)]


@st.composite
def sowings(draw: st.DrawFn) -> list[Wish]:
    found = []
    for key in range(draw(st.integers(1, 7))):
        start = draw(st.integers(0, 45))
        end = start + draw(st.integers(0, 25))
        found.append(Wish(key, Span(start, end), draw(st.integers(start, end))))
    return found


class Fewest(TestCase):
    @given(sowings())
    def test_no_fewer_days_would_do_and_every_day_lies_in_its_window(self, wishes: list[Wish]) -> None:
        found = fewest_days(wishes, FREE)
        by_key = {w.key: w for w in wishes}
        for key, day in found.days.items():
            self.assertTrue(day in FREE and by_key[key].window.start <= day <= by_key[key].window.end)
        without = {w.key for w in wishes if not any(w.window.start <= d <= w.window.end for d in FREE)}
        self.assertEqual(set(found.without), without)
        able = [w for w in wishes if w.key not in without]
        least = next(
            size
            for size in range(len(able) + 1)
            if any(all(any(w.window.start <= d <= w.window.end for d in days) for w in able)
                   for days in combinations(FREE, size))
        )  # fmt: skip
        self.assertEqual(len(found.distinct), least)

    def test_three_that_overlap_share_the_day_they_want_most(self) -> None:
        wishes = [Wish(1, Span(0, 20), 12), Wish(2, Span(5, 30), 13), Wish(3, Span(10, 40), 12)]
        self.assertEqual(fewest_days(wishes, FREE).distinct, [12])
        self.assertEqual([w.key for w in on_day(wishes, 4)], [1])
