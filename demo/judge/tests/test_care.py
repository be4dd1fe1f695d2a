"""Watering and feeding judged on a few seasons: the whole way from nature to the line, and what must be true of it."""

from __future__ import annotations

from unittest import TestCase

from demo.judge.care import FEEDS, WATERS, feeds, waters
from demo.nature.season import hidden


class Care(TestCase):
    def setUp(self) -> None:
        hidden.poison = True
        self.addCleanup(setattr, hidden, "poison", False)

    def test_the_round_against_habits(self) -> None:
        found = {line.policy: line for line in waters(6)}
        self.assertEqual(set(found), set(WATERS))
        ours = found["aestiva"]
        self.assertLess(ours.limp, found["every-third-day"].limp)
        self.assertLess(ours.minutes, found["lifted-daily"].minutes)
        self.assertLess(ours.soaked, found["daily"].soaked)
        self.assertIn("plants=", str(ours))

    def test_feeds(self) -> None:
        found = {line.policy: line for line in feeds(6)}
        self.assertEqual(set(found), set(FEEDS))
        self.assertGreater(found["aestiva"].area, found["never"].area)
        self.assertLess(found["aestiva"].salts, found["weekly-by-label"].salts)
