"""Best sowing days against every plan there is."""

from __future__ import annotations

from itertools import product
from unittest import TestCase

import numpy as np

from growing.bench.bestdays import DayChoice, MovableSowing, RoomUse, SowingProblem, greedy, solve, weigh


def case(rng: np.random.Generator, sowings: int, choices: int, days: int = 40, zones: int = 2) -> SowingProblem:
    """A task made up: windows, room in two stages, minutes."""
    found = []
    for key in range(sowings):
        first = int(rng.integers(0, days - choices - 12))
        ideal = first + int(rng.integers(0, choices))
        flats, grown = round(float(rng.uniform(0.3, 2.5)), 2), int(rng.integers(4, 10))
        minutes = float(rng.integers(10, 60))
        own = sorted(int(d) for d in rng.choice(choices, size=int(rng.integers(1, choices + 1)), replace=False))
        found.append(
            MovableSowing(
                key,
                tuple(
                    DayChoice(
                        first + d,
                        float(abs(first + d - ideal)),
                        minutes,
                        (
                            RoomUse(0, first + d, first + d + 4, flats),
                            RoomUse(1, first + d + 4, min(days, first + d + 4 + grown), flats * 1.5),
                        )[:zones],
                    )
                    for d in own
                ),
            )
        )
    base = rng.integers(0, 2, (zones, days)).astype(float)
    limit = {d: float(rng.integers(30, 90)) for d in range(days) if rng.random() < 0.6}
    return SowingProblem(tuple(found), base, np.array([3.0, 4.0][:zones]), limit, {int(rng.integers(0, days)): 20.0})


class AgainstEveryPlan(TestCase):
    def test_two_hundred_small_cases(self) -> None:
        rng = np.random.default_rng(2026)
        better = 0
        for _ in range(200):
            task = case(rng, int(rng.integers(1, 5)), 5)
            best = min(
                weigh(task, {s.key: c.day for s, c in zip(task.sowings, some, strict=True)}).value
                for some in product(*(s.choices for s in task.sowings))
            )
            plan, quick = solve(task, 10), greedy(task)
            self.assertAlmostEqual(plan.worth.value, best, 3)
            self.assertAlmostEqual(weigh(task, plan.days).value, plan.worth.value)
            self.assertTrue(plan.proven)
            self.assertLessEqual(plan.bound, best + 1e-3)
            self.assertLessEqual(plan.worth.value, quick.worth.value + 1e-6)
            better += quick.worth.value > best + 1e-6
        self.assertGreater(better, 20)  # the greedy one is often not the best

    def test_never_worse_than_the_greedy_one_without_time(self) -> None:
        rng = np.random.default_rng(5)
        for _ in range(10):
            task = case(rng, 30, 9)
            self.assertLessEqual(solve(task, 0.05).worth.value, greedy(task).worth.value + 1e-6)

    def test_nothing_to_sow_and_no_room_at_all(self) -> None:
        nothing = SowingProblem((), np.zeros((1, 10)), np.array([2.0]))
        self.assertEqual(solve(nothing, 1).days, {})
        tight = SowingProblem(
            (
                MovableSowing(
                    1,
                    (
                        DayChoice(2, 0.0, 5.0, (RoomUse(0, 2, 6, 3.0),)),
                        DayChoice(4, 2.0, 5.0, (RoomUse(0, 4, 8, 3.0),)),
                    ),
                ),
            ),
            np.full((1, 10), 2.0),
            np.array([2.0]),
        )
        plan = solve(tight, 5)
        self.assertEqual(plan.days, {1: 2})  # least over, and nearest to its best day
        self.assertAlmostEqual(plan.worth.over, 12.0)

    def test_it_can_be_called_off(self) -> None:
        rng = np.random.default_rng(8)
        task = case(rng, 60, 12, days=90)

        def tell(share: float, value: float | None, bound: float | None) -> None:
            raise KeyError("called off")

        with self.assertRaises(KeyError):
            solve(task, 20, tell)
