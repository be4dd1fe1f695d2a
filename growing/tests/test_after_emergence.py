"""What is changed around those that come up, and whether they grow as they should; what re-sown cells say; what a garden has learned."""

from __future__ import annotations

from datetime import date, timedelta
from types import MappingProxyType
from typing import Any
from unittest import TestCase

import numpy as np

from growing.batch.facts import BatchFacts
from growing.batch.ledger import Entry
from growing.batch.outlook import pace_of
from growing.batch.posterior import CountLook, First, SowingSoFar, ahead, posterior, priors
from growing.chain.happened import Facts
from growing.chain.leaves import LeavesSeen
from growing.crops import library
from growing.emergence.stage import growing
from growing.emergence.triggers import offer, triggers
from growing.seeds.clock import Advance, curve
from growing.seeds.viability import Packet, Test, germination
from growing.tests.test_tasks import raised

SOWN = date(2026, 3, 21)


def came_up(day: int = 9, **more: Any) -> BatchFacts:
    up = SOWN + timedelta(days=day)
    days = MappingProxyType({kind: (on,) for kind, on in more.pop("days", {}).items()})
    facts = Facts(SOWN, first_up=up - timedelta(days=2), half_up=up, last_count=up, counts=2, days=days)
    return raised("tomato", facts, entries=(Entry("sown", 30), Entry("up", 25)), cells=15, **more)


class Triggers(TestCase):
    def state(self, one: BatchFacts, today: date) -> dict[str, bool]:
        return {t.kind: t.now for t in triggers(one, today)}

    def test_each_is_due_by_its_own_rule(self) -> None:
        today = SOWN + timedelta(days=10)
        found = self.state(came_up(stands="mat"), today)
        self.assertTrue(found["lid"] and found["mat"] and found["below"] and found["lamp"])
        self.assertNotIn("paper", found)
        self.assertNotIn("mat", self.state(came_up(stands="shelf"), today))

    def test_a_lid_that_is_off_needs_no_vents(self) -> None:
        found = triggers(came_up(days={"lid": SOWN + timedelta(days=9)}), SOWN + timedelta(days=10))
        self.assertEqual({t.kind for t in found} & {"vents", "ajar"}, set())
        self.assertEqual(next(t for t in found if t.kind == "lid").done, SOWN + timedelta(days=9))

    def test_a_freed_mat_goes_to_whom_it_helps(self) -> None:
        pepper, today = library()["pepper"], SOWN
        of, sigma = curve(pepper), pepper.number("sigma")
        found = offer(of, 0.2, sigma, 0.02, 26.0, pepper.number("high_c"), today)
        assert found is not None and found.here is not None
        self.assertLess(found.there, found.here)
        self.assertIsNone(
            offer(of, 0.2, sigma, 0.2, 26.0, pepper.number("high_c"), today)
        )  # it is as fast where it stands
        self.assertIsNone(offer(of, 1.2, sigma, 0.02, 26.0, pepper.number("high_c"), today))  # half are up already
        lettuce = library()["lettuce"]
        self.assertIsNone(
            offer(curve(lettuce), 0.2, 0.2, 0.02, 31.0, lettuce.number("high_c"), today)
        )  # too hot for it


class Stage(TestCase):
    UP = SOWN + timedelta(days=9)

    def seen(self, leaves: int, after: int, cm: float | None = None, **more: Any) -> Any:
        day = self.UP + timedelta(days=after)
        return growing(came_up(), day, self.UP, LeavesSeen(leaves, cm, day), more.get("mean_c"))

    def test_on_time_ahead_and_behind(self) -> None:
        each = library()["tomato"].maybe("leaf_days") or 7.0
        after = round(3 * each)
        self.assertEqual(self.seen(3, after).kind, "on_time")
        self.assertEqual(self.seen(5, after).kind, "ahead")
        late = self.seen(0, after)
        self.assertIn(late.kind, ("behind", "again"))
        self.assertAlmostEqual(late.behind, 3 * each, delta=0.6)

    def test_a_cool_place_asks_for_less(self) -> None:
        each = library()["tomato"].maybe("leaf_days") or 7.0
        self.assertLess(self.seen(1, round(3 * each), mean_c=14.0).behind, self.seen(1, round(3 * each)).behind)

    def test_drawn_by_its_height(self) -> None:
        self.assertTrue(self.seen(1, 8, cm=25.0).drawn)
        self.assertFalse(self.seen(1, 8, cm=4.0).drawn)

    def test_nobody_looked(self) -> None:
        found = growing(came_up(), self.UP + timedelta(days=30), self.UP, None)
        self.assertEqual((found.kind, found.behind), ("unseen", None))

    def test_start_again_only_while_it_is_sooner(self) -> None:
        one = came_up()
        day = one.dates.sow_closes
        found = growing(one, day, self.UP, LeavesSeen(0, None, day))
        late = growing(one, day + timedelta(days=1), self.UP, LeavesSeen(0, None, day + timedelta(days=1)))
        self.assertIn(found.kind, ("behind", "again"))
        self.assertEqual(late.kind, "behind")


class SownAgain(TestCase):
    """Cells sown again hold two seeds: made by that very model, the share of the second is found again."""

    def test_counts_of_both_are_told_apart(self) -> None:
        random, batches, truth, blind = np.random.default_rng(60), [], [], []
        for _ in range(300):
            first_share, share, seeds = 0.5, float(random.beta(6, 2)), 30
            x_then = 1.4
            left = (
                first_share * 0.05 / (1 - first_share * 0.95)
            )  # by the log-normal at 1.4 with spread 0.25 about 0.91 are up
            first = First(0.25, first_share, x_then, (1.8, 2.4))
            speed = float(random.normal(0, 0.2))
            own = np.exp(0.25 * random.standard_normal(seeds) - speed)
            comes = random.random(seeds) < share
            looks = []
            for x, x_first in ((0.9, 1.8), (1.4, 2.4)):
                late = random.random(seeds) < first.late(x_first)
                looks.append(CountLook(x, int(((comes & (own <= x)) | late).sum())))
            looks[1] = looks[1]._replace(up=max(looks[1].up, looks[0].up))
            batch = SowingSoFar(seeds, 0.25, 6.0, 2.0, tuple(looks), first=first)
            batches.append(batch)
            blind.append(batch._replace(first=None))
            truth.append(share)
            self.assertGreater(left, 0)
        off = posterior(batches).final_share - np.array(truth)
        off_blind = posterior(blind).final_share - np.array(truth)
        self.assertLess(abs(float(off.mean())), abs(float(off_blind.mean())) + 1e-9)
        self.assertLess(abs(float(off.mean())), 0.03)

    def test_the_first_is_still_counted_on(self) -> None:
        a, b = priors(0.5)
        alone = SowingSoFar(20, 0.25, a, b, (CountLook(0.8, 0),))
        both = alone._replace(first=First(0.25, 0.8, 0.9, (1.0,)))
        further = ahead(posterior([alone, both]), np.array([10.0, 10.0]), np.full((2, 1), np.inf)).further[:, 0]
        self.assertGreater(further[1], further[0])


class Learned(TestCase):
    def test_a_small_sample_moves_it_a_little(self) -> None:
        self.assertEqual(pace_of([]), 0.0)
        one, many = pace_of([0.8]), pace_of([0.8] * 20)
        self.assertTrue(0 < one < many <= 0.2)
        self.assertLess(pace_of([1.5] * 20), 0)
        self.assertEqual(pace_of([0.1] * 50), 0.2)  # never further than that

    def test_own_sowings_count_half_as_much_as_tests(self) -> None:
        crop, today = library()["tomato"], date(2026, 4, 12)
        plain = germination(crop, Packet(0.0), (), today)
        sown = germination(crop, Packet(0.0), [Test(today, 40, 10, True, True)], today)
        tested = germination(crop, Packet(0.0), [Test(today, 40, 10, True)], today)
        self.assertTrue(tested.mean < sown.mean < plain.mean)
        self.assertEqual(sown.tested, 0)


class Clock(TestCase):
    def test_a_clock_that_stood_still_moves_on(self) -> None:
        found = Advance((0.0, 0.2, 0.2, 0.3), 0.1, 20.0)
        self.assertAlmostEqual(found.days_at(0.1), 0.5)
        self.assertAlmostEqual(found.days_at(0.25), 2.5)
        self.assertAlmostEqual(found.days_at(0.5), 5.0)
        self.assertEqual(found._replace(rate=0.0).days_at(0.5), float("inf"))
        self.assertAlmostEqual(found.x_at(5), 0.5)
        self.assertEqual(found.days_at(0.0), 0.0)
