"""The clock against the published table and fine steps; the posterior against batches made by its own model."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from growing.batch.posterior import SPOILT, SPOILT_A, SPOILT_B, CountLook, Lifted, SowingSoFar, ahead, posterior, priors
from growing.crops import library
from growing.seeds.clock import clocks, curve, day_between, day_by_one, hours_until, progress, rates, share_up, x_for
from growing.seeds.thermal_time import emergence_rate
from growing.tables import rows

TESTED = (0, 5, 10, 15, 20, 25, 30, 35, 40)


class Clock(TestCase):
    def test_constant_warmth_gives_the_published_days(self) -> None:
        checked = 0
        for key, crop in library().items():
            if not crop.table_row or crop.number("proxy_factor") != 1:
                continue
            for t in TESTED:
                cell = rows("emergence_days")[crop.table_row][f"{t}C"]
                if cell in ("", "NG"):
                    continue
                hours = np.full(int(float(cell) * 24 * 1.2) + 48, float(t))
                half = float(np.argmax(progress(curve(crop), hours) >= 1) + 1) / 24
                self.assertLess(abs(half - float(cell)) / float(cell), 0.03 + 1 / 24 / float(cell), (key, t))
                checked += 1
        self.assertGreater(checked, 60)

    def test_it_is_the_rate_that_everybody_uses_and_has_no_steps(self) -> None:
        for crop in library().values():
            for t in (-3.0, 0.0, 7.3, 14.0, 21.6, 29.9, 33.0, 41.0):
                self.assertAlmostEqual(float(rates(curve(crop), np.array([t]))[0]), emergence_rate(crop, t), 9)
            fine = rates(curve(crop), np.arange(0.0, 45.0, 0.01))
            self.assertLess(float(np.abs(np.diff(fine)).max()), 0.03)

    def test_changing_warmth_against_fine_steps(self) -> None:
        crop = library()["tomato"]
        of = curve(crop)
        days = np.concatenate([day_between(12 + k % 5, 24 - k % 3) for k in range(20)])
        by_hours = float(progress(of, days)[-1])
        fine, hours = 0.0, np.arange(0, 24, 0.02)
        for k in range(20):
            low, high = 12 + k % 5, 24 - k % 3
            rising = (hours >= 6) & (hours < 15)
            share = np.where(
                rising, (1 - np.cos(np.pi * (hours - 6) / 9)) / 2, (1 + np.cos(np.pi * ((hours - 15) % 24) / 15)) / 2
            )
            fine += float(rates(of, low + (high - low) * share).mean())
        self.assertLess(abs(by_hours - fine) / fine, 0.01)

    def test_a_reading_puts_the_day_through_it(self) -> None:
        day = day_by_one(18.0, 8)
        self.assertAlmostEqual(float(day[8]), 18.0)
        self.assertAlmostEqual(float(day.max() - day.min()), 4.0, 0)
        low, high = day_between(10.0, 20.0).min(), day_between(10.0, 20.0).max()
        self.assertTrue(10 <= low < 10.2 and 19.8 < high <= 20)

    def test_many_at_once_are_each_by_itself(self) -> None:
        random = np.random.default_rng(4)
        of = [curve(library()[k]) for k in ("tomato", "lettuce", "pepper")]
        kinds, warmth = random.integers(0, 3, 20), random.uniform(5, 30, (20, 300))
        found = clocks(of, kinds, warmth)
        for k in range(20):
            self.assertLess(float(np.abs(found[k] - progress(of[kinds[k]], warmth[k])).max()), 0.005)

    def test_how_long_yet(self) -> None:
        of = curve(library()["tomato"])
        self.assertEqual(hours_until(of, 1.2, 1.0, 20), 0.0)
        self.assertEqual(hours_until(of, 0.2, 1.0, 2), float("inf"))
        rate = float(rates(of, np.array([20.0]))[0])
        self.assertAlmostEqual(hours_until(of, 0.5, 1.0, 20), 0.5 / rate * 24)
        self.assertAlmostEqual(float(share_up(np.array([x_for(0.3, 0.25)]), 0.25)[0]), 0.3)


def made(
    random: np.random.Generator, a: float, b: float, sigma: float, looks: int = 5
) -> tuple[SowingSoFar, float, int]:
    """A batch by the model itself: its share, its speed, and what was up at each look."""
    spoilt = random.random() < SPOILT
    seeds, share = int(random.integers(12, 80)), float(random.beta(*((SPOILT_A, SPOILT_B) if spoilt else (a, b))))
    speed = float(random.normal(0, 0.2))
    comes = random.random(seeds) < share
    own = np.exp(sigma * random.standard_normal(seeds) - speed)
    at = np.sort(random.uniform(0.7, 1.8, looks))
    counts = tuple(CountLook(float(x), int((comes & (own <= x)).sum())) for x in at)
    return SowingSoFar(seeds, sigma, a, b, counts), share, int(comes.sum())


class Counts(TestCase):
    def test_intervals_cover_what_they_promise(self) -> None:
        random = np.random.default_rng(500)
        cases = [made(random, 8 * 0.75, 8 * 0.25, float(random.choice([0.2, 0.25, 0.35]))) for _ in range(500)]
        found = posterior([one for one, _, _ in cases])
        low, high = found.interval(0.8)
        truth = np.array([share for _, share, _ in cases])
        inside = float(np.mean((truth >= low) & (truth <= high)))
        self.assertGreater(inside, 0.74)
        self.assertLess(inside, 0.86)

    def test_what_comes_in_the_end_is_on_average_what_is_expected(self) -> None:
        random = np.random.default_rng(77)
        cases = [made(random, 6.0, 2.0, 0.25, 3) for _ in range(500)]
        found = posterior([one for one, _, _ in cases])
        need = np.array([np.ceil(0.7 * one.seeds) for one, _, _ in cases])
        then = ahead(found, need, np.full((500, 1), np.inf))
        ends = np.array([end for _, _, end in cases], float)
        self.assertLess(abs(float((found.up + then.further[:, 0] - ends).mean())), 0.6)
        enough = ends >= need
        for low, high in ((0.0, 0.3), (0.3, 0.7), (0.7, 1.01)):
            some = (then.enough[:, 0] >= low) & (then.enough[:, 0] < high)
            if some.sum() > 30:
                error = 3.5 * np.sqrt(0.25 / some.sum())
                self.assertLess(abs(float(enough[some].mean() - then.enough[some, 0].mean())), error)

    def test_within_a_hundredth_of_a_fine_grid(self) -> None:
        random = np.random.default_rng(9)
        cases = [made(random, 6.0, 2.0, 0.25)[0] for _ in range(40)]
        need = np.array([float(one.seeds // 2) for one in cases])
        horizons = np.tile([0.9, 1.0, 1.2, 1.5, 2.0, 3.0, np.inf], (40, 1))
        coarse = ahead(posterior(cases), need, horizons)
        fine = ahead(posterior(cases, (), 201, 81), need, horizons)
        self.assertLess(float(np.abs(coarse.enough - fine.enough).max()), 0.02)
        self.assertLess(float(np.abs(coarse.enough - fine.enough).mean()), 0.003)

    def test_nothing_up_lowers_it_a_root_lifts_it_and_a_soft_one_lowers_it_more(self) -> None:
        a, b = priors(0.8)
        none = SowingSoFar(20, 0.25, a, b, (CountLook(1.3, 0),))
        root = none._replace(lifted=Lifted(root=2), lifted_x=1.3)
        soft = none._replace(lifted=Lifted(soft=2), lifted_x=1.3)
        fresh = SowingSoFar(20, 0.25, a, b)
        mean = posterior([fresh, none, root, soft]).final_share
        self.assertGreater(mean[0], mean[1])
        self.assertGreater(mean[2], mean[1])
        self.assertLess(mean[3], mean[1])

    def test_a_sister_that_is_up_makes_silence_worse(self) -> None:
        a, b = priors(0.8)
        silent, sister = (
            SowingSoFar(20, 0.25, a, b, (CountLook(1.0, 0),)),
            SowingSoFar(20, 0.25, a, b, (CountLook(1.0, 15),)),
        )
        slow = SowingSoFar(20, 0.25, a, b, (CountLook(1.0, 0),))
        with_fast = posterior([silent, sister], [1, None]).final_share[0]
        with_slow = posterior([silent, slow], [1, None]).final_share[0]
        self.assertLess(with_fast, with_slow)

    def test_counts_that_fall_and_more_than_were_sown_break_nothing(self) -> None:
        a, b = priors(0.8)
        odd = [
            SowingSoFar(10, 0.25, a, b, (CountLook(0.9, 6), CountLook(1.2, 4))),
            SowingSoFar(10, 0.25, a, b, (CountLook(1.2, 14),)),
        ]
        found = posterior(odd)
        self.assertTrue(np.isfinite(found.weights).all())
        self.assertTrue(np.isfinite(ahead(found, np.array([8.0, 8.0]), np.full((2, 1), np.inf)).enough).all())
