"""Frost dates: type 8 by hand, seasons without frost, both hemispheres, typed dates."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from growing.calendar import cold_season_of, cold_season_start
from growing.place.frost import TypedDate, TypedFrost, frost_dates
from growing.place.minima import ComputedFrost, DailySeries, TooFewSeasons, cold_seasons

START = date(2025, 7, 16)


class Type8(TestCase):
    def test_quantiles_by_hand(self) -> None:
        # n = 10, days 0, 10, … 90: h = (n + 1/3)p + 1/3; p = 0.5 gives h = 5.5, halfway between the 5th and 6th
        found = frost_dates(START, "last", 0.0, [10 * i for i in range(10)], 10, "test")
        self.assertEqual(found.date_for(0.5).day, START + timedelta(days=45))
        # risk 0.1 -> p = 0.9 -> h = 9.6333: between 80 and 90, day 86.33, and the safe side is later
        self.assertEqual(found.date_for(0.1).day, START + timedelta(days=87))

    def test_agrees_with_numpys_type_8(self) -> None:
        days = np.random.default_rng(4).integers(240, 310, 29)
        found = frost_dates(START, "last", 0.0, list(map(float, days)), 29, "test")
        for risk in (0.9, 0.5, 0.2, 0.1):
            exact = float(np.quantile(days, 1 - risk, method="median_unbiased"))
            day = found.date_for(risk).day
            assert day is not None
            self.assertEqual((day - START).days, int(np.ceil(exact - 1e-6)))

    def test_frost_free_seasons_lower_the_risk(self) -> None:
        found = frost_dates(START, "last", 0.0, [100.0 + i for i in range(10)], 20, "test")
        self.assertEqual(found.q, 0.5)
        self.assertEqual(found.date_for(0.5).verdict, "never")
        self.assertEqual(found.date_for(0.25).day, START + timedelta(days=105))  # median of the frosty half, 104.5

    def test_beyond_and_few(self) -> None:
        found = frost_dates(START, "last", 0.0, [100.0 + i for i in range(10)], 10, "test")
        self.assertEqual(found.date_for(0.01).verdict, "beyond")
        few = frost_dates(START, "last", 0.0, [100.0, 105.0], 12, "test")
        self.assertEqual(few.date_for(0.1).verdict, "few")
        with self.assertRaises(ValueError):
            found.date_for(1.5)

    @given(
        st.lists(st.integers(200, 330), min_size=10, max_size=40),
        st.floats(0.1, 0.9),
        st.sampled_from(["last", "first"]),
    )
    def test_dates_and_risks_agree(self, days: list[int], risk: float, event: str) -> None:
        found = frost_dates(START, event, 0.0, [float(d) for d in days], len(days) + 3, "test")
        answer = found.date_for(risk)
        if answer.verdict == "dated":
            assert answer.day is not None
            self.assertLessEqual(found.risk(answer.day), risk + 1e-6)
            before = answer.day + timedelta(days=-1 if event == "last" else 1)
            self.assertGreaterEqual(found.risk(before), risk - 1e-6)

    @given(st.lists(st.integers(200, 330), min_size=10, max_size=30))
    def test_risk_never_rises_in_spring(self, days: list[int]) -> None:
        found = frost_dates(START, "last", 0.0, [float(d) for d in days], len(days), "test")
        risks = [found.risk(START + timedelta(days=d)) for d in range(190, 340)]
        self.assertEqual(risks, sorted(risks, reverse=True))


class Typed(TestCase):
    def test_average_safe_and_unknown(self) -> None:
        for meaning, median in (
            ("average", date(2026, 5, 10)),
            ("unknown", date(2026, 5, 10)),
            ("safe", date(2026, 4, 27)),
        ):
            typed = TypedFrost(False, TypedDate(5, 10, meaning, 10))
            self.assertEqual(typed.last(2026).date_for(0.5).day, median, meaning)
        safe = TypedFrost(False, TypedDate(5, 10, "safe", 10)).last(2026)
        self.assertEqual(safe.date_for(0.1).day, date(2026, 5, 10))

    def test_leap_day_and_south(self) -> None:
        self.assertEqual(
            TypedFrost(False, TypedDate(2, 29, "average", 5)).last(2027).date_for(0.5).day, date(2027, 3, 1)
        )
        self.assertEqual(
            TypedFrost(False, TypedDate(2, 29, "average", 5)).last(2028).date_for(0.5).day, date(2028, 2, 29)
        )
        south = TypedFrost(True, TypedDate(10, 20, "average", 8), TypedDate(5, 2, "average", 8))
        self.assertEqual(south.last(2026).date_for(0.5).day, date(2026, 10, 20))
        first = south.first(2026)
        assert first is not None
        self.assertEqual(first.date_for(0.5).day, date(2027, 5, 2))

    def test_colder_frost_ends_earlier_in_spring_and_comes_later_in_autumn(self) -> None:
        typed = TypedFrost(False, TypedDate(5, 10, "average"), TypedDate(10, 4, "average"))
        spring = [typed.last(2026, c).date_for(0.5).day for c in (2.2, 0.0, -2.2)]
        self.assertEqual(spring, sorted(spring, reverse=True))  # type: ignore[type-var]
        autumn = [typed.first(2026, c).date_for(0.5).day for c in (2.2, 0.0, -2.2)]  # type: ignore[union-attr]
        self.assertEqual(autumn, sorted(autumn))  # type: ignore[type-var]


def record(southern: bool, years: int = 15) -> DailySeries:
    """A made-up record: frost (−1 °C) from day 100 to day 280 + year of each cold season, 5 °C otherwise."""
    start = cold_season_start(2001, southern)
    days = (cold_season_start(2001 + years, southern) - start).days
    tmin = np.full(days, 5.0)
    for k in range(years):
        first = (cold_season_start(2001 + k, southern) - start).days
        tmin[first + 100 : first + 281 + k] = -1.0
    return DailySeries(start, tmin)


class FromMinima(TestCase):
    def test_last_and_first_of_each_season_in_both_hemispheres(self) -> None:
        for southern in (False, True):
            seasons = cold_seasons(record(southern), southern, 0.0)
            self.assertEqual([s.last for s in seasons], [280 + k for k in range(15)])
            self.assertEqual({s.first for s in seasons}, {100})
            found = ComputedFrost(southern, record(southern)).last(2030)
            self.assertEqual(found.date_for(0.5).day, cold_season_start(2030, southern) + timedelta(days=287))

    def test_season_boundaries(self) -> None:
        for day in (date(2026, 1, 15), date(2026, 1, 16), date(2026, 7, 15), date(2026, 7, 16), date(2028, 2, 29)):
            for southern in (False, True):
                year = cold_season_of(day, southern)
                self.assertTrue(cold_season_start(year, southern) <= day < cold_season_start(year + 1, southern))

    def test_shift_moves_the_threshold(self) -> None:
        self.assertEqual([s.last for s in cold_seasons(record(False), False, 0.0, 2.0)], [None] * 15)
        self.assertEqual(ComputedFrost(False, record(False), 2.0).last(2030).q, 0.0)

    def test_missing_days_leave_a_season_out_and_name_it(self) -> None:
        full = record(False)
        full.values[10:60] = np.nan  # 50 days of the first season
        offset = (cold_season_start(2003, False) - full.start).days
        full.values[offset + 283 : offset + 287] = np.nan  # four running days near the usual last frost
        seasons = cold_seasons(full, False, 0.0)
        said = [(s.year, why) for s in seasons if (why := s.unknown("last"))]
        self.assertEqual(said, [(2001, "missing"), (2003, "gap")])
        self.assertEqual([s.year for s in seasons if s.unknown("first")], [2001])  # its autumn is known

    def test_ten_seasons_are_needed_and_thirty_used(self) -> None:
        with self.assertRaises(TooFewSeasons):
            ComputedFrost(False, record(False, 9)).last(2030)
        self.assertEqual(len(ComputedFrost(False, record(False, 40)).used()), 30)
