"""Our ladders and gates against habits: a few seasons, bands wide enough for so few."""

from __future__ import annotations

from unittest import TestCase

from django.test import tag

from demo.judge import outs
from demo.judge.climates import CLIMATES


class Out(TestCase):
    @tag("long")
    def test_ours_is_no_worse_than_any_habit_and_loses_fewer_plants(self) -> None:
        lines = {line.policy: line for line in outs.compare(6, (CLIMATES[0],))}
        ours = lines["aestiva"]
        self.assertGreater(ours.worth, 0.5)
        for policy in ("at-last-frost", "two-weeks-after"):
            self.assertGreater(lines[policy].behind, 3 * lines[policy].behind_se, policy)
        for policy, line in lines.items():
            self.assertGreater(line.behind, -4 * line.behind_se - 0.01, policy)

    def test_the_plain_has_more_wind(self) -> None:
        calm, windy = (outs.here(where, 2).weather.wind.mean() for where in (CLIMATES[2], outs.PLAIN))
        self.assertGreater(windy, 1.8 * calm)
