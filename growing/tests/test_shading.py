"""Whose sun goes to whom: the sun's path and shadows by an independent route."""

from __future__ import annotations

import math
import random
from datetime import date, timedelta
from unittest import TestCase

import numpy as np

from growing.beds.bedplan import Area, Rect
from growing.beds.shading import LOW_DEG, Shade, shaded, sun_path, under

MAY, JULY, MARCH = date(2026, 5, 1), date(2026, 7, 1), date(2026, 3, 21)


def area(name: str, rect: Rect, height: float, wants: str = "full sun") -> Area:
    return Area(name, name, rect, height, 30, date(2026, 1, 1), date(2026, 12, 20), date(2026, 2, 1), wants)


def declination(day: date) -> float:
    """Spencer's series [rad]."""
    g = math.tau * (day.timetuple().tm_yday - 1 + 0.5) / 365
    return (
        0.006918 - 0.399912 * math.cos(g) + 0.070257 * math.sin(g) - 0.006758 * math.cos(2 * g)
        + 0.000907 * math.sin(2 * g) - 0.002697 * math.cos(3 * g) + 0.00148 * math.sin(3 * g)
    )  # fmt: skip


def sun_at(latitude: float, day: date, hour: float) -> tuple[float, float, float]:
    """The direction to the sun (east, north, up) from the hour angle."""
    phi, dec, turn = math.radians(latitude), declination(day), math.radians(15 * hour)
    east = -math.cos(dec) * math.sin(turn)
    north = math.sin(dec) * math.cos(phi) - math.cos(dec) * math.sin(phi) * math.cos(turn)
    up = math.sin(dec) * math.sin(phi) + math.cos(dec) * math.cos(phi) * math.cos(turn)
    return east, north, up


class Path(TestCase):
    def test_against_the_hour_angle(self) -> None:
        for latitude in (0.0, 52.0, -41.0, 66.0):
            for day in (MARCH, JULY, date(2026, 12, 21)):
                path = sun_path(latitude, day)
                for hour, height, reach in zip(path.hours, path.heights, path.shadows, strict=True):
                    east, north, up = sun_at(latitude, day, hour)
                    self.assertAlmostEqual(height, math.degrees(math.asin(up)), delta=0.5)
                    self.assertAlmostEqual(math.hypot(*reach), 1 / math.tan(math.radians(height)))
                    across = (reach[0] * -north - reach[1] * -east) / math.hypot(*reach) / math.hypot(east, north)
                    if height < 70:  # near the zenith a bearing says little
                        self.assertLess(abs(across), math.sin(math.radians(1.5)))
                        self.assertLess(reach[0] * east + reach[1] * north, 0)

    def test_noon_and_the_ends_of_the_earth(self) -> None:
        path = sun_path(52.0, date(2026, 6, 21))
        self.assertAlmostEqual(path.heights.max(), 90 - 52 + 23.44, delta=0.6)
        self.assertAlmostEqual(path.open_h, 15.3, delta=0.6)  # sunrise to sunset 16.7 h, less the lowest five degrees
        self.assertEqual(sun_path(80.0, date(2026, 12, 21)).open_h, 0)
        self.assertEqual(sun_path(80.0, date(2026, 6, 21)).open_h, 24)
        self.assertTrue((path.heights >= LOW_DEG).all())


class Under(TestCase):
    def test_against_walking_toward_the_sun(self) -> None:
        draw = random.Random(4)
        for _ in range(20):
            tall = Rect(draw.uniform(0, 200), draw.uniform(0, 200), draw.uniform(20, 150), draw.uniform(20, 150))
            low = Rect(draw.uniform(-100, 300), draw.uniform(-100, 300), draw.uniform(20, 150), draw.uniform(20, 150))
            reach = np.array([[draw.uniform(-300, 300), draw.uniform(-300, 300)], [0.0, draw.uniform(-300, 300)]])
            found = under(tall, low, reach)
            for t, (rx, ry) in enumerate(reach):
                slow = []
                for j in range(5):
                    for i in range(5):
                        x, y = low.x + (i + 0.5) / 5 * low.length, low.y + (j + 0.5) / 5 * low.width
                        steps = ((x - s / 2000 * rx, y - s / 2000 * ry) for s in range(2001))
                        slow.append(any(tall.x <= a <= tall.right and tall.y <= b <= tall.bottom for a, b in steps))
                self.assertLessEqual(int((found[t] != np.array(slow)).sum()), 1)  # a corner may slip between two steps


class Shaded(TestCase):
    def only(self, *areas: Area, latitude: float = 52.0, north: float = 0.0, day: date = JULY) -> Shade:
        found = shaded(areas, latitude, north, day)
        self.assertEqual(len(found), 1)
        return found[0]

    def test_the_tall_toward_the_equator_takes_midday(self) -> None:
        tall, low = area("tall", Rect(0, 60, 400, 30), 180), area("low", Rect(0, 20, 400, 30), 30)
        for latitude, north, midday in (
            (52.0, 0.0, True),
            (52.0, 180.0, False),
            (-41.0, 0.0, False),
            (-41.0, 180.0, True),
        ):
            said = [s for s in shaded([tall, low], latitude, north, MARCH) if "midday" in s.parts]
            self.assertEqual(bool(said), midday, (latitude, north))
        far = area("far", Rect(0, -900, 100, 30), 30)
        self.assertEqual(shaded([tall, far], 52.0, 0.0, JULY), [])
        self.assertEqual(shaded([tall, low], 80.0, 0.0, date(2026, 12, 21)), [])

    def test_east_takes_the_morning_and_west_the_afternoon(self) -> None:
        low = area("low", Rect(100, 0, 60, 200), 20)
        left, right = area("left", Rect(20, 0, 40, 200), 110), area("right", Rect(200, 0, 40, 200), 110)
        self.assertEqual(self.only(low, right).parts, ("morning",))
        self.assertEqual(self.only(low, left).parts, ("afternoon",))
        self.assertEqual(self.only(low, left, north=180.0).parts, ("morning",))
        both = self.only(low, left, right)
        self.assertEqual([one.name for one in both.by], ["left", "right"])
        self.assertEqual(both.parts, ("morning", "afternoon"))
        self.assertGreater(both.lost_h, self.only(low, left).lost_h)

    def test_hours_against_a_slow_day(self) -> None:
        """Every half hour, every point, a ray to the sun walked centimetre by centimetre."""
        tall, low = area("tall", Rect(0, 70, 120, 40), 160), area("low", Rect(20, 10, 90, 50), 30)
        found = self.only(tall, low, latitude=48.0, north=30.0, day=MARCH)
        turn, dark, sky = math.radians(30), 0.0, 0
        for step in range(48):
            east, north, up = sun_at(48.0, MARCH, -12 + 0.25 + step / 2)
            if up < math.sin(math.radians(LOW_DEG)):
                continue
            sky += 1
            dx, dy = east * math.cos(turn) + north * math.sin(turn), east * math.sin(turn) - north * math.cos(turn)
            for j in range(5):
                for i in range(5):
                    x, y = 20 + (i + 0.5) * 18, 10 + (j + 0.5) * 10
                    climb = 130 / up
                    walk = ((x + dx * climb * k / 600, y + dy * climb * k / 600) for k in range(601))
                    dark += any(0 <= a <= 120 and 70 <= b <= 110 for a, b in walk) / 25
        self.assertAlmostEqual(found.lost_h + found.left_h, sky / 2)
        self.assertAlmostEqual(found.lost_h, dark / 2, delta=0.25)

    def test_enough_is_what_the_crop_wants(self) -> None:
        tall = area("tall", Rect(0, 40, 600, 60), 250)
        want = {
            wants: self.only(tall, area("low", Rect(0, 0, 600, 35), 30, wants), day=MARCH)
            for wants in ("full sun", "half shade")
        }
        self.assertEqual(want["full sun"].left_h, want["half shade"].left_h)
        self.assertEqual((want["full sun"].enough, want["half shade"].enough), (False, want["full sun"].left_h >= 3))

    def test_shared_ground_and_little_difference_are_left_out(self) -> None:
        tall = area("tall", Rect(0, 40, 100, 30), 150)
        self.assertEqual(shaded([tall, area("among", Rect(10, 45, 50, 20), 20)], 52.0, 0.0, JULY), [])
        self.assertEqual(shaded([tall, area("like", Rect(0, 0, 100, 30), 125)], 52.0, 0.0, JULY), [])
        gone = tall._replace(until=JULY - timedelta(days=1))
        self.assertEqual(shaded([gone, area("low", Rect(0, 0, 100, 30), 20)], 52.0, 0.0, JULY), [])
