"""The frost climate, growing season, sureness, trend and shift, against a slow reader and against simulation."""

from __future__ import annotations

import math
from datetime import date, timedelta
from unittest import TestCase

import numpy as np

from growing.place.frost import frost_dates
from growing.place.growing_season import growing_season
from growing.place.minima import ComputedFrost, DailySeries, TooFewSeasons
from growing.place.shift import Pair, garden_shift, was_clear
from growing.place.sureness import drawn_dates, how_sure, risk_band
from growing.place.trend import trend_of
from growing.tests.climates import CLIMATES, Slow, season_start

RISKS = (0.9, 0.6, 0.5, 0.25, 0.1, 0.05)


class AgainstASlowReader(TestCase):
    def test_seasons_quantiles_and_risks_of_six_climates(self) -> None:
        compared = 0
        for name, (southern, record) in CLIMATES.items():
            for threshold, shift in ((2.2, 0.0), (0.0, 0.0), (-2.2, 0.0), (0.0, -1.3)):
                with self.subTest(name=name, threshold=threshold, shift=shift):
                    slow = Slow(southern, record, threshold, shift)
                    fast = ComputedFrost(southern, record, shift)
                    for event in ("last", "first"):
                        used = fast.used(threshold, event)
                        self.assertEqual([s.year for s in used], slow.used(event))
                        unknown = {s.year for s in fast.seasons(threshold) if s.unknown(event)}
                        self.assertEqual(unknown, slow.left_out[event])
                        for s in used:
                            self.assertEqual((s.last, s.first), slow.seasons[s.year])
                    for event, dates in (("last", fast.last(2030, threshold)), ("first", fast.first(2029, threshold))):
                        if len(slow.days(event)) < 8:
                            continue
                        for day in range(0, 366, 3):
                            want = slow.risk(event, day)
                            self.assertAlmostEqual(dates.risk(dates.start + timedelta(days=day)), want, 12)
                        for risk in RISKS:
                            answer = dates.date_for(risk)
                            compared += 1
                            if answer.verdict in ("never", "beyond"):
                                continue
                            assert answer.day is not None
                            self.assertEqual((answer.day - dates.start).days, slow.day_for(event, risk), risk)
        self.assertGreater(compared, 200)

    def test_growing_season_of_every_year(self) -> None:
        for name, (southern, record) in CLIMATES.items():
            slow = Slow(southern, record, 0.0)
            wanted = {}
            for year in slow.used():
                if year + 1 in slow.used("first"):
                    last, first = slow.seasons[year][0], slow.seasons[year + 1][1]
                    if last is None or first is None:
                        wanted[year] = math.inf
                        continue
                    a = season_start(year, southern) + timedelta(days=last)
                    b = season_start(year + 1, southern) + timedelta(days=first)
                    wanted[year] = (b - a).days - 1  # days between the two frosts
            found = growing_season(ComputedFrost(southern, record))
            self.assertEqual({y.year: y.days for y in found.years}, wanted, name)
            ordered = sorted(wanted.values())
            if ordered[-1] < math.inf and len(ordered) >= 10:
                assert found.sure is not None and found.usual is not None
                exact = float(np.quantile(ordered, 0.1, method="median_unbiased"))
                self.assertAlmostEqual(found.sure, exact, 9, name)
                self.assertAlmostEqual(found.usual, float(np.median(ordered)), 9, name)

    def test_seasons_without_frost_make_endless_years(self) -> None:
        southern, record = CLIMATES["frost-free years"]
        found = growing_season(ComputedFrost(southern, record))
        self.assertIn(math.inf, [y.days for y in found.years])

    def test_a_record_that_begins_within_a_season_says_so(self) -> None:
        _, record = CLIMATES["twelve years"]
        cut = DailySeries(date(1991, 1, 1), record.values[169:])
        self.assertEqual([s.left_out for s in ComputedFrost(False, cut).seasons()][:2], ["edge", ""])
        with self.assertRaises(TooFewSeasons) as caught:
            ComputedFrost(False, DailySeries(record.start, record.values[: 365 * 9])).last(2030)
        self.assertEqual(caught.exception.usable, 9)
        few = ComputedFrost(False, DailySeries(record.start, record.values[: 365 * 9]), least=1)
        self.assertEqual(few.last(2030).n, 9)


class Sure(TestCase):
    def test_the_drawn_spread_is_that_of_the_median(self) -> None:
        # the standard error of a median of n normal days is 1.2533 σ/√n; four fifths lie within 1.2816 of it
        days = np.random.default_rng(3).normal(290, 10, 400)
        found = how_sure(frost_dates(date(2025, 7, 16), "last", 0.0, list(days), 400, "test"), 400, 0.5)
        assert found.give_or_take is not None
        self.assertAlmostEqual(found.give_or_take, 1.2816 * 1.2533 * float(np.std(days)) / 20, delta=0.25)

    def test_four_times_in_five_holds_for_short_and_long_records(self) -> None:
        random = np.random.default_rng(11)
        shapes = {
            "even": (lambda n: random.normal(290, 10, n), {0.5: 290.0, 0.1: 302.816}),
            "late tail": (lambda n: 250 + random.gamma(4, 6, n), {0.5: 272.032, 0.1: 290.085}),  # scipy: gamma(4).ppf
        }
        for name, (draw, truth) in shapes.items():
            for seasons in (12, 20, 30):
                for risk, day in truth.items():
                    held = 0
                    for _ in range(300):
                        found = drawn_dates(list(np.round(draw(seasons))), seasons, "last", risk)
                        low, high = np.quantile(found, (0.1, 0.9))
                        held += bool(low <= day <= high)
                    self.assertTrue(
                        0.65 <= held / 300 <= 0.95, (name, seasons, risk, held / 300)
                    )  # three errors about 72–88

    def test_drawn_dates_against_drawing_one_set_at_a_time(self) -> None:
        days, seasons = sorted([250.0, 260, 262, 270, 281, 282, 290, 291, 300, 305]), 12
        picks = np.random.default_rng(1).integers(0, seasons, (1000, seasons))
        for event, risk in (("last", 0.1), ("last", 0.5), ("first", 0.25)):
            found = drawn_dates(days, seasons, event, risk, moved=0.0)
            for row, got in zip(picks[:200], found, strict=False):
                drawn = sorted(days[i] for i in row if i < len(days))
                answer = frost_dates(date(2025, 7, 16), event, 0.0, drawn, seasons, "test")
                if risk >= answer.q:
                    self.assertTrue(math.isnan(got))
                    continue
                p = 1 - risk / answer.q if event == "last" else risk / answer.q
                self.assertAlmostEqual(got, float(np.quantile(drawn, p, method="median_unbiased")), 9)

    def test_fewer_years_know_less(self) -> None:
        days = list(np.random.default_rng(8).normal(290, 10, 40))
        start = date(2025, 7, 16)
        wide, narrow = (
            how_sure(frost_dates(start, "last", 0.0, days[:n], n, "test"), n, 0.1).give_or_take for n in (10, 40)
        )
        assert wide is not None and narrow is not None
        self.assertGreater(wide, narrow)

    def test_the_band_holds_the_curve(self) -> None:
        southern, record = CLIMATES["frost-free years"]
        climate = ComputedFrost(southern, record)
        dates = climate.last(2030)
        days = np.arange(150, 330)
        low, high = risk_band(dates, len(climate.used()), days)
        curve = np.array([dates.risk(dates.start + timedelta(days=int(d))) for d in days])
        self.assertTrue((low <= high).all())
        self.assertTrue((curve >= low - 0.05).all() and (curve <= high + 0.05).all())


class Trends(TestCase):
    def test_a_warming_climate_is_noticed_and_a_steady_one_is_not(self) -> None:
        southern, record = CLIMATES["strong trend"]
        climate = ComputedFrost(southern, record)
        found = climate.trend("last")
        self.assertTrue(found.matters)
        self.assertLess(found.days_per_decade, -3)
        self.assertFalse(ComputedFrost(False, CLIMATES["gaps"][1]).trend("last").matters)

    def test_recent_and_adjusted_are_earlier_under_warming(self) -> None:
        southern, record = CLIMATES["strong trend"]
        day = {
            b: ComputedFrost(southern, record, basis=b).last(2030).date_for(0.5).day
            for b in ("all", "recent", "adjusted")
        }
        assert day["all"] and day["recent"] and day["adjusted"]
        self.assertLess(day["recent"], day["all"])
        self.assertLess(day["adjusted"], day["all"])
        self.assertEqual(len(ComputedFrost(southern, record, basis="recent").used()), 15)

    def test_slope_by_hand(self) -> None:
        found = trend_of(list(range(2000, 2020)), [300.0 - k for k in range(20)])
        self.assertAlmostEqual(found.days_per_decade, -10)
        self.assertEqual(found.moved([2000], [300.0], 2010), [290.0])
        self.assertFalse(trend_of([2000, 2001], [1, 2]).matters)


class Shifts(TestCase):
    def pairs(self, n: int, difference: float, clear: bool | None = None) -> list[Pair]:
        return [Pair(date(2026, 1, 1) + timedelta(days=k), 3.0, 3.0 + difference, clear) for k in range(n)]

    def test_clear_nights_weigh_double(self) -> None:
        found = garden_shift([*self.pairs(10, -2.0, True), *self.pairs(19, 0.0, False)])
        assert found is not None
        self.assertEqual((found.shift_c, found.nights, found.clear), (-2.0, 29, 10))  # 20 of 39 parts of the weight

    def test_few_nights_are_drawn_toward_nothing(self) -> None:
        self.assertIsNone(garden_shift([]))
        found = garden_shift(self.pairs(7, -2.0))
        assert found is not None
        self.assertAlmostEqual(found.shift_c, -1.0)
        self.assertGreater(found.error_c, 0.9)

    def test_error_covers_the_truth(self) -> None:
        random, hits = np.random.default_rng(5), 0
        for _ in range(200):
            pairs = [
                Pair(date(2026, 1, 1), 0.0, float(d), bool(c))
                for d, c in zip(random.normal(-0.8, 1, 40), random.random(40) < 0.3, strict=True)
            ]
            found = garden_shift(pairs)
            assert found is not None
            hits += abs(found.shift_c + 0.8) <= 1.28 * found.error_c  # four times in five
        self.assertTrue(140 <= hits <= 180, hits)

    def test_a_wide_day_was_clear(self) -> None:
        self.assertEqual([was_clear(0, 12), was_clear(2, 6), was_clear(2, math.nan)], [True, False, None])
