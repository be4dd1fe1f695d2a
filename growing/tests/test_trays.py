"""Cells hold one batch at a time; the common containers have measures that can be."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.bench.trays import Run, clash
from growing.shelves.containers import containers

MAY = [date(2026, 5, day) for day in range(1, 11)]
RUNS = st.builds(
    lambda first, count, a, b: Run(first, count, MAY[min(a, b)], None if a == b else MAY[max(a, b)]),
    st.integers(1, 6), st.integers(1, 4), st.integers(0, 9), st.integers(0, 9),
)  # fmt: skip


class Cells(TestCase):
    @given(st.lists(RUNS, max_size=4))
    def test_as_counted_out_cell_by_cell_and_day_by_day(self, runs: list[Run]) -> None:
        held = [
            (cell, day)
            for run in runs
            for cell in range(run.first, run.first + run.count)
            for day in MAY
            if run.since <= day and (run.until is None or day < run.until)
        ]
        over = any(run.first + run.count - 1 > 8 for run in runs)
        self.assertEqual(clash(runs, 8), over or len(held) != len(set(held)))

    def test_a_run_that_ends_before_it_begins_is_none(self) -> None:
        self.assertTrue(clash([Run(1, 2, MAY[4], MAY[3])], 8))


class Containers(TestCase):
    def test_measures_fit_together(self) -> None:
        for key, one in containers().items():
            holds = one.cells * one.cell_ml
            self.assertLess(holds, 1.05 * one.length_cm * one.width_cm * one.depth_cm, key)
            self.assertGreater(one.cells, 0)
        self.assertEqual(containers()["flat_72"].cells, 72)
