"""Soil, nights, day length and the simulated station: cases by hand, an independent formula, long simulation."""

from __future__ import annotations

import math
from datetime import date, timedelta
from unittest import TestCase

import numpy as np

from growing.place.computedwarmth import ComputedWarmth
from growing.place.daylight import day_length_h, onions, reaches, ten_hour_autumn
from growing.place.minima import DailySeries
from growing.place.soil import ProbeReading, calibrate, morning_part, soil_mean, warm_from
from growing.place.station import PRESETS, Climate, fit, generate
from growing.place.warmth import TypedWarmth, WarmDate
from growing.tests.climates import declination_hours


class Soil(TestCase):
    def test_a_step_in_the_air_solved_by_hand(self) -> None:
        # air 5 °C for 31 days and 15 °C after: soil is 5, then 15 − 10·0.8ⁿ on the nth day
        soil = soil_mean(np.array([5.0] * 31 + [15.0] * 6))
        self.assertTrue(np.isnan(soil[:30]).all())
        by_hand = [5.0, 7.0, 8.6, 9.88, 10.904, 11.7232, 12.37856]
        np.testing.assert_allclose(soil[30:], by_hand, atol=1e-12)

    def test_snow_holds_it_at_nothing_and_unknown_air_holds_it_where_it_is(self) -> None:
        air = np.array([-10.0] * 40)
        self.assertLess(soil_mean(air)[-1], -9)
        self.assertEqual(soil_mean(air, np.ones(40, bool))[-1], 0.0)
        gap = np.array([8.0] * 40 + [np.nan] * 5 + [8.0] * 5)
        np.testing.assert_allclose(soil_mean(gap)[40:], 8.0)
        long_gap = soil_mean(np.array([8.0] * 40 + [np.nan] * 40 + [8.0] * 20))
        self.assertTrue(np.isnan(long_gap[72:]).all())  # it must settle again
        self.assertTrue(np.isnan(soil_mean(np.full(50, np.nan))).all())

    def test_a_warm_spell_in_march_does_not_count(self) -> None:
        springs = np.array([
            [2, 2, 2, 9, 9, 9, 9, 2, 2, 2, 9, 9, 9, 9],  # a spell, then cold again: from day 10
            [2, 2, 2, 9, 9, 2, 2, 9, 9, 9, 9, 9, 9, 9],  # two cold days are no run: from day 3
            [9] * 14,  # never cold
            [9] * 9 + [2] * 5,  # still cold at midsummer
        ], float)  # fmt: skip
        self.assertEqual(warm_from(springs, np.array([13] * 4), 8.0).tolist(), [10.0, 3.0, 0.0, math.inf])

    def test_probe_readings_set_the_model_right(self) -> None:
        model = DailySeries(date(2026, 4, 1), np.full(20, 10.0))
        self.assertAlmostEqual(morning_part(8), -1.5)
        self.assertAlmostEqual(morning_part(20), 1.5)
        readings = [ProbeReading(date(2026, 4, 2 + k), 8.0, 9.5) for k in range(10)]  # the model says 8.5 at eight
        self.assertAlmostEqual(calibrate(model, readings).offset_c, 1.0)
        self.assertAlmostEqual(calibrate(model, readings[:2]).offset_c, 0.4)  # two of five
        far = calibrate(model, [ProbeReading(date(2027, 4, 2), 8.0, 9.5)])
        self.assertEqual((far.offset_c, far.readings), (0.0, 0))


def station(southern: bool = False, years: int = 20) -> ComputedWarmth:
    start = date(2000, 7, 16)
    weather = generate(Climate(8, 8, 2.5), southern, 5, start, 365 * years + 5)
    return ComputedWarmth(southern, DailySeries(start, weather.tmin), DailySeries(start, weather.tmax))


class Warm(TestCase):
    def test_soil_dates_against_counting_spring_by_spring(self) -> None:
        for southern in (False, True):
            warm = station(southern)
            soil = warm.morning_soil
            found = []
            years = warm._soil_springs.years
            for year in years:
                a = date(year, 6, 21) if southern else date(year - 1, 12, 21)
                b = date(year, 12, 21) if southern else date(year, 6, 21)
                values = [
                    float(soil.between(a + timedelta(days=k), a + timedelta(days=k))[0])
                    for k in range((b - a).days + 1)
                ]
                self.assertFalse(any(v != v for v in values))
                ends = [k for k in range(2, len(values)) if max(values[k - 2 : k + 1]) < 12.0]
                start = date(year, 1, 16) if southern else date(year - 1, 7, 16)
                if not ends or ends[-1] < len(values) - 1:
                    found.append((a - start).days + (ends[-1] + 1 if ends else 0))
            dates = warm.soil_dates(2030, 12.0)
            self.assertEqual(sorted(found), [int(d) for d in dates.days])
            self.assertGreaterEqual(len(years), 19)
            self.assertEqual(dates.q, len(found) / len(years))

    def test_warmer_wants_later_and_surer_wants_later(self) -> None:
        warm = station()
        days = [warm.soil_from(2030, c).day for c in (4, 6, 9, 12)]
        self.assertEqual(days, sorted(days))  # type: ignore[type-var]
        usual, sure = warm.soil_from(2030, 12, 0.5).day, warm.soil_from(2030, 12, 0.9).day
        assert usual and sure
        self.assertLess(usual, sure)
        dates = warm.soil_dates(2030, 12)
        self.assertGreaterEqual(dates.risk(usual), 0.5)  # chance by date and date by chance agree
        self.assertLess(dates.risk(usual - timedelta(days=1)), 0.5)
        self.assertEqual(warm.soil_from(2030, -5).working.result.name, "always")
        self.assertEqual(warm.soil_from(2030, 30).working.result.name, "never")

    def test_cover_and_shift_move_the_date(self) -> None:
        plain = station()
        for change, later in (({"cover": "tunnel"}, False), ({"cover": "dark"}, False), ({"shift_c": -2.0}, True)):
            other = ComputedWarmth(False, plain.minima, plain.maxima, **change)  # type: ignore[arg-type]
            a, b = plain.soil_from(2030, 12).day, other.soil_from(2030, 12).day
            assert a and b
            self.assertEqual(b > a, later, change)

    def test_nights_against_counting_fortnights(self) -> None:
        for southern in (False, True):
            self._nights_by_hand(southern)

    def _nights_by_hand(self, southern: bool) -> None:
        warm = station(southern)
        years = warm._summers.years
        self.assertGreaterEqual(len(years), 18)

        def told(day: date, celsius: float, chill: float) -> tuple[bool, bool]:
            nights, days = (
                [float(v) for v in s.between(day, day + timedelta(days=13))] for s in (warm.minima, warm.maxima)
            )
            credit = min(4.0, max(0.0, (sum(days) / 14 - 20) / 3))
            return sum(nights) / 14 + credit >= celsius, min(nights[:7]) < chill - min(credit, 3.0)

        def winter(year: int) -> date:
            return date(year, 6, 21) if southern else date(year - 1, 12, 21)

        shares = []
        for k in range(184 + 56 + 21):
            found = [told(winter(y) + timedelta(days=k), 8.0, 3.0) for y in years]
            shares.append((sum(t[0] for t in found) / len(found), sum(t[1] for t in found) / len(found)))
        lowest = min(s[1] for s in shares)
        warm_days = [s[0] >= 0.5 for s in shares]
        safe = [s[1] < 0.25 or (lowest <= 0.5 and s[1] <= lowest + 0.05) for s in shares]
        for good, gate in ((warm_days, warm.nights_from(2030, 8.0)), (safe, warm.chill_from(2030, 3.0))):
            first = next(k for k in range(len(good) - 20) if all(good[k : k + 21]))
            self.assertEqual(gate.day, winter(2030) + timedelta(days=first), (southern, gate.kind))

    def test_nights_that_are_never_warm_say_so(self) -> None:
        warm = station()
        for found in (warm.nights_from(2030, 22.0), warm.chill_from(2030, 18.0)):
            self.assertEqual((found.day, found.verdict), (None, "never"))

    def test_a_covered_bed_shows_the_calibration_that_it_counts_with(self) -> None:
        plain = station()
        day = date(2019, 4, 1)
        readings = tuple(ProbeReading(day + timedelta(days=k), 8.0, 12.0) for k in range(6))
        warm = ComputedWarmth(False, plain.minima, plain.maxima, readings=readings)
        covered = warm.under("tunnel")
        self.assertNotEqual(warm.calibration.offset_c, 0.0)
        shown = covered.soil_from(2030, 12.0).working
        counted = next(v.number for v in shown.inputs if v.name == "calibration")
        self.assertEqual(counted, warm.calibration.offset_c)
        self.assertEqual(shown.steps[0].result.number, counted)

    def test_too_few_springs_say_so(self) -> None:
        warm = station(years=6)
        for found in (warm.soil_from(2030, 10), warm.nights_from(2030, 10), warm.chill_from(2030, 3)):
            self.assertEqual((found.day, found.working.result.name), (None, "few springs"))

    def test_typed_days(self) -> None:
        typed = TypedWarmth((WarmDate(8, date(2026, 4, 9)), WarmDate(18, date(2026, 6, 10))))
        self.assertEqual(typed.soil_from(2026, 13).day, date(2026, 5, 10))
        self.assertEqual(typed.nights_from(2026, 13).working.result.name, "unknown")


class Days(TestCase):
    def test_against_the_suns_declination(self) -> None:
        for latitude in (0.0, -41.0, 52.0, 66.0):
            for k in range(0, 365, 7):
                day = date(2026, 1, 1) + timedelta(days=k)
                minutes = 60 * abs(day_length_h(latitude, day) - declination_hours(latitude, day))
                near_polar = abs(latitude) > 65 and abs(declination_hours(latitude, day) - 12) > 9
                self.assertLess(minutes, 30 if near_polar else 3, (latitude, day))

    def test_polar_day_and_night_are_results(self) -> None:
        self.assertEqual(day_length_h(70, date(2026, 6, 21)), 24.0)
        self.assertEqual(day_length_h(70, date(2026, 12, 21)), 0.0)
        self.assertIsNone(ten_hour_autumn(5, 2026))
        self.assertEqual([o.ends is not None for o in onions(70, 2026)], [True, True, True])

    def test_which_onions_bulb(self) -> None:
        north = {o.kind: o for o in onions(52.4, 2026)}
        begins = north["long-day"].begins
        assert begins is not None
        self.assertGreaterEqual(day_length_h(52.4, begins), 14)
        self.assertLess(day_length_h(52.4, begins - timedelta(days=1)), 14)
        tropics = {o.kind: o for o in onions(8, 2026)}
        self.assertIsNone(tropics["long-day"].begins)
        self.assertTrue(tropics["short-day"].all_winter)
        self.assertEqual(reaches(-41, 2026, 12.0), max(d for d in (reaches(-41, 2026, 12.0),) if d))
        south = reaches(-41, 2026, 12.0)
        assert south is not None
        self.assertEqual(south.month, 9)


class Station(TestCase):
    def test_two_hundred_years_have_the_climate_asked_for(self) -> None:
        for southern, asked in ((False, Climate(6, 7, 2.6, 0.72, 8.5, 0.5)), (True, PRESETS["continental"])):
            weather = generate(asked, southern, 11, date(1800, 1, 1), 365 * 200)
            low = DailySeries(weather.start, weather.tmin)
            found = fit(low, DailySeries(weather.start, weather.tmax), southern)
            self.assertAlmostEqual(found.mean_c, asked.mean_c, delta=0.1)
            self.assertAlmostEqual(found.swing_c, asked.swing_c, delta=0.25)
            self.assertAlmostEqual(found.spread_c, asked.spread_c, delta=0.1)
            self.assertAlmostEqual(found.persistence, asked.persistence, delta=0.02)
            self.assertAlmostEqual(found.range_c, asked.range_c, delta=0.15)
            self.assertAlmostEqual(found.summer_calm, asked.summer_calm, delta=0.03)
            self.assertAlmostEqual(found.warmest_day, asked.warmest_day, delta=3)
            self.assertAlmostEqual(float((weather.rain > 0).mean()), asked.wet_share, delta=0.01)
            self.assertTrue((weather.tmax >= weather.tmin).all())

    def test_a_climate_is_not_fitted_to_a_hundred_days(self) -> None:
        weather = generate(Climate(6, 7), False, 2, date(2020, 1, 1), 100)
        with self.assertRaises(ValueError):
            fit(DailySeries(weather.start, weather.tmin), DailySeries(weather.start, weather.tmax), False)
