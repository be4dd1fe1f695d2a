"""Is the weather the station's own, without being any of its years, and is a forecast as wrong as it says?"""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
from django.test import SimpleTestCase

from demo.nature.rooms import NUMBERS, Place, Room, World
from demo.nature.weather import Record, Weather, draw, forecast, hours, sun


def record(years: int = 20) -> Record:
    days = round(years * 365.25)
    random, t = np.random.default_rng(4), np.arange(days)
    mean = 8 + 8 * np.cos(2 * np.pi * (t - 200) / 365.25)
    drift = np.empty(days)
    last = 0.0
    for d in range(days):
        last = 0.7 * last + random.normal(0, 2.2)
        drift[d] = last
    span = 4 + random.gamma(4, 1.2, days)
    return Record(date(2000, 1, 1), mean + drift - span / 2, mean + drift + span / 2)


def drawn(seasons: int = 60, days: int = 360, seed: int = 1) -> Weather:
    return draw(record(), seed, date(2026, 1, 1), days, 52.4, seasons)


class Days(SimpleTestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.record, cls.weather = record(), drawn()

    def test_months_are_as_warm_and_as_changeable_as_in_the_record(self) -> None:
        r, w = self.record, self.weather
        days = [r.start + timedelta(days=k) for k in range(len(r.tmin))]
        month = np.array([d.month for d in days])
        here = np.array([(w.start + timedelta(days=k)).month for k in range(w.days)])
        for m in (1, 4, 7, 10):
            self.assertAlmostEqual(w.tmin[:, here == m].mean(), r.tmin[month == m].mean(), delta=0.6)
            self.assertAlmostEqual(w.tmin[:, here == m].std() / r.tmin[month == m].std(), 1, delta=0.15)
            self.assertAlmostEqual(
                (w.tmax - w.tmin)[:, here == m].mean(), (r.tmax - r.tmin)[month == m].mean(), delta=0.4
            )

    def test_days_hang_together_across_the_joins(self) -> None:
        mean = (self.weather.tmin + self.weather.tmax) / 2
        season = mean.mean(axis=0)
        left = mean - season
        kept = np.corrcoef(left[:, :-1].ravel(), left[:, 1:].ravel())[0, 1]
        self.assertTrue(0.6 < kept < 0.85, kept)

    def test_no_season_is_a_year_of_the_record(self) -> None:
        r, w = self.record, self.weather
        for year in range(2001, 2018):
            a = (date(year, 1, 1) - r.start).days
            self.assertGreater(np.abs(w.tmin[0] - r.tmin[a : a + w.days]).mean(), 1.0)

    def test_cloud_and_wind_come_in_spells_and_dull_days_are_even(self) -> None:
        w = self.weather
        self.assertTrue(((w.cloud >= 0) & (w.cloud <= 1)).all())
        self.assertGreater(np.corrcoef(w.cloud[:, :-1].ravel(), w.cloud[:, 1:].ravel())[0, 1], 0.5)
        span = w.tmax - w.tmin
        self.assertLess(span[w.cloud > 0.8].mean(), span[w.cloud < 0.3].mean() - 1)
        self.assertTrue(0.2 < (w.rain > 0).mean() < 0.6)

    def test_hail_is_rare(self) -> None:
        self.assertTrue(0.2 < self.weather.hail.sum(axis=1).mean() * 365 / self.weather.days < 2)

    def test_a_garden_has_an_offset_of_its_own_greater_on_clear_nights(self) -> None:
        clear, dull = drawn(400, 40).garden_c.T
        self.assertAlmostEqual(clear.std(), 0.91, delta=0.12)
        self.assertTrue((np.abs(clear) >= np.abs(dull)).all())

    def test_hours_lie_between_the_lows_and_the_high(self) -> None:
        low, high, after = (np.array([x]) for x in (4.0, 18.0, 7.0))
        one = hours(low, high, after, np.zeros((1, 24), np.float32))[0]
        self.assertEqual((one.argmin(), one.argmax()), (6, 15))
        self.assertAlmostEqual(one.min(), 4.0)
        self.assertAlmostEqual(one.max(), 18.0)
        self.assertTrue((np.diff(one[15:]) < 0).all() and one[23] > 7.0)

    def test_day_length_and_light_follow_the_sun(self) -> None:
        self.assertAlmostEqual(sun(date(2026, 6, 21), 52.4)[0], 16.6, delta=0.3)
        self.assertAlmostEqual(sun(date(2026, 12, 21), 52.4)[0], 7.7, delta=0.3)
        self.assertAlmostEqual(sun(date(2026, 12, 21), -41.3)[0], 15.1, delta=0.3)
        self.assertEqual(sun(date(2026, 12, 21), 75.0), (0.0, 0.0))


class Forecasts(SimpleTestCase):
    def test_errors_grow_with_lead_and_one_day_in_five_has_the_wrong_cloud(self) -> None:
        w = drawn(80, 120)
        low, wrong = [], []
        for t in range(20, 100, 9):
            said = forecast(w, t)
            low.append(said.tmin - w.tmin[:, t + 1 : t + 9])
            wrong.append(said.cloud != w.cloud[:, t : t + 8])
        errors = np.concatenate(low)
        for lead in (0, 3, 7):
            self.assertAlmostEqual(errors[:, lead].std(), 1.2 + 0.35 * lead, delta=0.25)
        self.assertLess(abs(errors.mean()), 0.6)
        self.assertAlmostEqual(np.concatenate(wrong).mean(), 0.2, delta=0.04)

    def test_the_same_day_says_the_same_twice(self) -> None:
        w = drawn(3, 60)
        self.assertTrue((forecast(w, 30).tmin == forecast(w, 30).tmin).all())


class Rooms(SimpleTestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        places = (
            Place("shelf", "shelf", mat="thermostat"), Place("plain", "shelf", mat="plain"), Place("cold", "sill", Room(None)),
            Place("frame", "frame"), Place("bed", "bed"), Place("tunnel", "tunnel"), Place("porch", "porch"),
        )  # fmt: skip
        cls.world = World(drawn(30), places)

    def of(self, name: str, place: str) -> np.ndarray:
        return self.world.airs.numbers[:, NUMBERS.index(name), self.world.code[place]]

    def test_heating_is_off_in_a_mild_spell(self) -> None:
        w = self.world.weather
        mean = ((w.tmin + w.tmax) / 2).T
        room, cold = self.of("soil_c", "shelf"), self.of("soil_c", "cold")
        self.assertAlmostEqual(room[mean < 5].mean(), 17.8, delta=1.2)
        self.assertLess(cold[mean < 5].mean(), 9)
        mild = (mean > 13) & (mean < 14)
        self.assertLess(np.quantile(room[mild], 0.3), 18.5)

    def test_a_mat_lifts_by_four_to_eleven_and_its_thermostat_errs(self) -> None:
        room = (self.of("day_c", "plain") + self.of("night_c", "plain")) / 2
        lift = (self.of("mat_c", "plain") - room).mean(axis=0)
        self.assertTrue((lift > 3.9).all() and (lift < 11.1).all())
        held = self.of("mat_c", "shelf")[:60]
        self.assertTrue(20 < held.mean() < 25)

    def test_cover_keeps_the_night_and_the_wind_off(self) -> None:
        frame, bed = self.of("low_c", "frame"), self.of("low_c", "bed")
        self.assertTrue((frame > bed).all())
        self.assertAlmostEqual((frame - bed).mean(), 2.9, delta=0.9)
        self.assertLess(self.of("gust_kmh", "tunnel").mean(), 0.2 * self.of("gust_kmh", "bed").mean())
        self.assertGreater(self.of("soil_c", "tunnel").mean(), self.of("soil_c", "bed").mean())

    def test_a_sill_in_winter_has_little_light(self) -> None:
        january, june = self.of("dli", "cold")[:31].mean(), self.of("dli", "cold")[150:180].mean()
        self.assertLess(january, 2.5)
        self.assertGreater(june, 5)
