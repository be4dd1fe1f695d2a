"""What a day's delay costs, by the rule written out once more; and the best set in the time there is, against every set."""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from datetime import date, timedelta
from itertools import product
from unittest import TestCase

from growing.batch.harm import share_lost
from growing.bench import steps as bench
from growing.care import steps as care
from growing.chain.happened import Facts
from growing.crops import library
from growing.drawer import steps as seeds
from growing.emergence import steps as emergence
from growing.hardening import steps as hardening
from growing.place.nights import Night, at_plant
from growing.plantingout import steps as plantingout
from growing.steps import Task, derive
from growing.tests.test_tasks import raised
from growing.waiting import best_set, lost, over_age, waits

FAR = date(2027, 1, 1)
EVERY = [spec for stage in (seeds, bench, emergence, care, hardening, plantingout) for spec in stage.STEPS]


def by_enumeration(minutes: Sequence[int], costs: Sequence[float], budget: int) -> tuple[float, int, int]:
    """The most that any set saves, the tasks of the largest such set, and the fewest minutes of these."""
    best = (0.0, 0, 0)
    for chosen in product((False, True), repeat=len(minutes)):
        taken = sum(m for m, c in zip(minutes, chosen, strict=True) if c)
        if taken <= budget:
            saved = round(sum(c for c, yes in zip(costs, chosen, strict=True) if yes), 6)
            best = max(best, (saved, sum(chosen), -taken))
    return best


class InTheTimeThereIs(TestCase):
    def test_against_every_set(self) -> None:
        choose = random.Random(3)
        for _ in range(300):
            n, budget = choose.randint(0, 11), choose.randint(0, 60)
            minutes = [choose.choice((0, 1, 2, 3, 5, 8, 11, 15, 30)) for _ in range(n)]
            costs = [choose.choice((0.0, 0.0, 0.1, 0.25, 0.5, 1.0, 3.5, round(choose.random(), 2))) for _ in range(n)]
            chosen = best_set(minutes, costs, budget)
            taken = sum(m for m, c in zip(minutes, chosen, strict=True) if c)
            saved = round(sum(c for c, yes in zip(costs, chosen, strict=True) if yes), 6)
            self.assertLessEqual(taken, budget)
            self.assertEqual((saved, sum(chosen), -taken), by_enumeration(minutes, costs, budget))

    def test_a_long_dear_task_goes_before_many_cheap_ones_only_where_it_saves_more(self) -> None:
        self.assertEqual(best_set([40, 10, 10, 10, 10], [3.0, 1, 1, 1, 1], 40), [False, True, True, True, True])
        self.assertEqual(best_set([40, 10, 10, 10, 10], [5.0, 1, 1, 1, 1], 40), [True, False, False, False, False])
        self.assertEqual(best_set([50, 0], [9.0, 0.0], 40), [False, True])
        with self.assertRaises(ValueError):
            best_set([1], [-1.0], 10)


def task_of(kind: str, tasks: Sequence[Task]) -> Task:
    return next(t for t in tasks if t.kind == kind)


class ADaysDelay(TestCase):
    def cost(self, kind: str, one: object, today: date) -> float:
        tasks = list(derive(EVERY, one, today, FAR))  # type: ignore[arg-type]
        return lost(waits(task_of(kind, tasks), one, today))  # type: ignore[arg-type]

    def test_every_step_says_what_waiting_costs_or_costs_nothing(self) -> None:
        silent = {spec.kind for spec in EVERY if spec.waits is None}
        self.assertEqual(
            silent,
            {
                "stay_in",
                "spare",
                "trim",
                "pinch",
                "fill",
                "cool",
                "shut",
                "uncover",
                "box",
                "box_air",
                "stand",
                "vents",
                "ajar",
            },
        )

    def test_sowing_costs_nothing_before_its_last_day_and_a_harvest_day_after(self) -> None:
        one = raised("leek")
        last = one.dates.sow_closes
        self.assertEqual(self.cost("sow", one, last - timedelta(days=1)), 0.0)
        late = self.cost("sow", one, last)
        self.assertAlmostEqual(late, one.wanted * 0.003 * 1.5)  # stays small: half as much again
        quick = raised("calendula")
        self.assertLess(
            self.cost("sow", quick, quick.dates.sow_closes) / quick.wanted, 1.5 / quick.crop.number("yield_days")
        )

    def test_seed_is_ordered_before_its_delivery_would_delay_the_sowing(self) -> None:
        one = raised("leek")
        last = one.dates.sow_closes
        self.assertEqual(self.cost("seed", one, last - timedelta(days=15)), 0.0)
        self.assertGreater(self.cost("seed", one, last - timedelta(days=14)), 0.0)

    def test_seedlings_in_the_dark_spoil_by_quarters(self) -> None:
        sown = date(2026, 4, 4)
        pepper = raised("pepper", Facts(sown), cells=12)
        tomato = raised("tomato", Facts(sown), cells=12)
        costs = [self.cost("lamp", pepper, sown + timedelta(days=n)) for n in range(2, 16)]
        self.assertLess(costs[0], 0.05)
        self.assertGreater(max(costs), 0.2)
        day = next(n for n in range(2, 20) if self.cost("lamp", tomato, sown + timedelta(days=n)) > 0.1)
        shallow = tomato.crop.overlaid("garden", {"bury": ("never", "")})
        tomato_never = raised("tomato", Facts(sown), cells=12)
        tomato_never.crop = shallow
        rescued, spoilt = (self.cost("lamp", one, sown + timedelta(days=day)) for one in (tomato, tomato_never))
        self.assertAlmostEqual(rescued * 3, spoilt)

    def test_the_logistic_of_a_cold_night(self) -> None:
        night = Night(date(2026, 5, 1), 1.0, 0.0, 3.0, 12.0)
        plant = at_plant(night, date(2026, 5, 1))
        self.assertAlmostEqual(plant.celsius, -2.0)
        choose = random.Random(1)
        drawn = [plant.celsius + plant.error_c * choose.gauss(0, 1) for _ in range(40_000)]
        for hardiness, half, s in (("hardy", 4.0, 0.9), ("half-hardy", 2.0, 0.9), ("tender", 1.0, 0.45)):
            for harm_c in (-4.0, -1.0, 1.0):
                shares = [1 / (1 + math.exp(-(harm_c - t - half) / s)) for t in drawn]
                mean = sum(v for v in shares if v >= 0.01) / len(shares)
                self.assertAlmostEqual(share_lost(harm_c, plant, hardiness), mean, delta=0.01)

    def test_plants_over_their_age_limit(self) -> None:
        crops = library()
        self.assertEqual(
            [over_age(crops[k]) for k in ("tomato", "cucumber", "cauliflower", "celery")], [0.01, 0.02, 0.04, 0.04]
        )

    def test_no_delay_ever_pays_and_none_costs_more_than_there_is(self) -> None:
        for key in ("tomato", "onion", "basil", "kale", "zinnia", "celery", "beet", "cucumber"):
            for back in (0, 5, 12, 30, 60, 100):
                today = date(2026, 5, 10)
                one = raised(key, Facts(today - timedelta(days=back)) if back else Facts(), cells=14)
                for task in derive(EVERY, one, today, FAR):
                    cost = lost(waits(task, one, today))
                    self.assertTrue(0 <= cost <= one.wanted * 2, (key, back, task.kind, cost))
