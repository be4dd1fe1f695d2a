"""Beds through the season: what overlaps, hides, comes free; what a household can use."""

from __future__ import annotations

import random
from datetime import date, timedelta
from unittest import TestCase

from growing.beds.bedplan import (
    Area,
    Rect,
    beyond,
    first_free,
    hidden,
    household,
    overlaps,
    slots,
    taken_share,
    too_dark,
)

MAY, JULY, SEPTEMBER = date(2026, 5, 1), date(2026, 7, 1), date(2026, 9, 20)


def area(name: str, rect: Rect, height: float, since: date = MAY, until: date = SEPTEMBER) -> Area:
    return Area(name, name, rect, height, 30, since, until, since + timedelta(days=40))


class Ground(TestCase):
    def test_overlap_needs_the_same_ground_at_the_same_time(self) -> None:
        one, other = area("a", Rect(0, 0, 100, 50), 30), area("b", Rect(60, 0, 100, 50), 30)
        found = overlaps([one, other])
        self.assertEqual((len(found), found[0].share), (1, 0.4))
        later = other._replace(since=SEPTEMBER + timedelta(days=1), until=date(2026, 11, 1))
        self.assertEqual(overlaps([one, later]), [])
        touching = area("c", Rect(100, 0, 50, 50), 30)
        self.assertEqual(overlaps([one, touching]), [])

    def test_ground_wanted_twice_counts_once(self) -> None:
        areas = [area("a", Rect(0, 0, 100, 50), 30), area("b", Rect(50, 0, 100, 50), 30)]
        self.assertAlmostEqual(taken_share(areas, Rect(0, 0, 200, 100), JULY), 7500 / 20000)
        self.assertEqual(taken_share(areas, Rect(0, 0, 200, 100), date(2026, 3, 1)), 0)

    def test_plants_grow_until_they_yield(self) -> None:
        one = area("a", Rect(0, 0, 50, 50), 100)
        self.assertAlmostEqual(one.height(MAY), 15)
        self.assertAlmostEqual(one.height(MAY + timedelta(days=20)), 57.5)
        self.assertEqual((one.height(JULY), one.height(date(2026, 12, 1))), (100, 0))

    def test_a_slot_ends_where_somebody_else_wants_the_ground(self) -> None:
        onion = area("onion", Rect(0, 0, 100, 50), 40, until=date(2026, 7, 10))
        found = slots([onion], date(2026, 10, 5))
        self.assertEqual((found[0].since, found[0].until), (date(2026, 7, 11), date(2026, 10, 5)))
        kale = area("kale", Rect(0, 0, 60, 50), 60, date(2026, 9, 1), date(2026, 12, 1))
        self.assertEqual(slots([onion, kale], date(2026, 10, 5))[0].until, date(2026, 8, 31))
        soon = kale._replace(since=date(2026, 8, 1))
        self.assertEqual(slots([onion, soon], date(2026, 10, 5)), [])

    def test_first_free_place_on_the_grid(self) -> None:
        bed = Rect(0, 0, 240, 120)
        self.assertEqual(first_free([], bed, 60, 60, 30), Rect(0, 0, 60, 60))
        self.assertEqual(first_free([Rect(0, 0, 60, 60)], bed, 60, 60, 30), Rect(60, 0, 60, 60))
        self.assertEqual(first_free([Rect(0, 0, 240, 60)], bed, 240, 60, 30), Rect(0, 60, 240, 60))
        self.assertIsNone(first_free([Rect(0, 30, 240, 60)], bed, 60, 60, 30))

    def test_what_hangs_over_the_edge(self) -> None:
        bed = Rect(0, 0, 200, 100)
        self.assertFalse(beyond(Rect(100, 0, 100, 100), bed))
        for rect in (Rect(150, 0, 60, 50), Rect(0, 80, 50, 30), Rect(-5, 0, 50, 50)):
            self.assertTrue(beyond(rect, bed), rect)

    def test_light_wanted_against_light_there(self) -> None:
        found = {(w, b) for w in ("full sun", "half shade") for b in ("", "sun", "part", "shade") if too_dark(w, b)}
        self.assertEqual(found, {("full sun", "part"), ("full sun", "shade"), ("half shade", "shade")})


class Free(TestCase):
    def test_the_first_place_against_trying_every_one(self) -> None:
        draw = random.Random(11)
        for _ in range(200):
            bed = Rect(0, 0, draw.randrange(60, 400, 5), draw.randrange(60, 200, 5))
            there = [
                Rect(
                    draw.randrange(-10, 350, 5),
                    draw.randrange(-10, 180, 5),
                    draw.uniform(20, 150),
                    draw.uniform(20, 90),
                )
                for _ in range(draw.randrange(0, 7))
            ]
            length, width, grid = draw.uniform(10, 200), draw.uniform(10, 120), draw.choice((10.0, 15.0, 25.4, 30.0))
            slow = None
            for row in range(40):
                for column in range(60):
                    here = Rect(column * grid, row * grid, length, width)
                    inside = here.right <= bed.length and here.bottom <= bed.width
                    if slow is None and inside and not any(here.overlap(one) for one in there):
                        slow = here
            found = first_free(there, bed, length, width, grid)
            self.assertEqual(found is None, slow is None)
            if found is not None and slow is not None:
                self.assertAlmostEqual(found.x, slow.x)
                self.assertAlmostEqual(found.y, slow.y)


class Seen(TestCase):
    def test_the_tall_in_front_hides_the_low_behind(self) -> None:
        tall, low = area("tall", Rect(0, 60, 100, 30), 120), area("low", Rect(0, 0, 100, 30), 30)
        self.assertEqual([(h.front.name, h.behind.name) for h in hidden([tall, low], "below", JULY)], [("tall", "low")])
        self.assertEqual(hidden([tall, low], "above", JULY), [])
        self.assertEqual(hidden([tall, low], "below", date(2026, 3, 1)), [])
        beside = area("beside", Rect(200, 0, 100, 30), 30)
        self.assertEqual(hidden([tall, beside], "below", JULY), [])
        self.assertEqual(
            len(hidden([area("l", Rect(0, 0, 30, 50), 120), area("r", Rect(60, 0, 30, 50), 30)], "left", JULY)), 1
        )


class Household(TestCase):
    def test_heads_in_lots_and_pickings_by_the_week(self) -> None:
        lettuce = household("Lettuce", 14, 12, 5)
        self.assertAlmostEqual(lettuce.per_week, 14 / (12 / 7))
        self.assertEqual(lettuce.sowings, 2)
        tomato = household("Tomato", 6, 70, 12, gives=40)
        self.assertAlmostEqual(tomato.per_week, 24)
        self.assertEqual((tomato.ratio, tomato.sowings), (2.0, 1))
        self.assertIsNone(household("Kale", 5, 100, 0).ratio)
