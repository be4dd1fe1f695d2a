"""Quantiles and normals against another library's, and by hand."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from growing.place.minima import DailySeries
from growing.place.normals import monthly_mean, usual_range
from growing.place.quantile import chance, quantile


class Quantiles(TestCase):
    @given(st.lists(st.floats(-300, 300), min_size=1, max_size=60), st.floats(0, 1))
    def test_as_the_type_8_of_numpy(self, values: list[float], p: float) -> None:
        ordered = sorted(values)
        self.assertAlmostEqual(quantile(ordered, p), float(np.quantile(ordered, p, method="median_unbiased")), 6)

    @given(st.integers(1, 80), st.data())
    def test_chance_is_its_inverse(self, n: int, data: st.DataObject) -> None:
        i = data.draw(st.integers(1, n))
        self.assertAlmostEqual(quantile([float(k) for k in range(1, n + 1)], chance(i, n)), i, 9)


class Normals(TestCase):
    def test_means_and_ranges_of_a_record_that_is_known_by_hand(self) -> None:
        days = np.arange(np.datetime64("2019-01-01"), np.datetime64("2022-01-01"))
        months = days.astype("datetime64[M]").astype(int) % 12 + 1
        series = DailySeries(date(2019, 1, 1), months.astype(float))
        self.assertEqual([monthly_mean(series, m) for m in (1, 2, 12)], [1, 2, 12])
        low, high = usual_range(series)
        self.assertEqual((low[14], high[14]), (1, 1))  # the middle of January is January all week
        self.assertEqual((low[30], high[30]), (1, 2))  # its end is partly February
        self.assertEqual((low[0], high[0]), (1, 12))
        self.assertIsNone(monthly_mean(DailySeries(date(2020, 1, 1), np.full(20, np.nan)), 1))
