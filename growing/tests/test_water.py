"""The balance of a tray: what a day takes of it, when it is looked at again, what a tray's own thirst is learned from."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import pairwise
from math import exp
from unittest import TestCase

from growing.care.water import (
    DAY_LATER_ML,
    LEFT,
    LOOK_AT,
    MOST_DAYS,
    PRIOR_SD,
    NextLook,
    TrayWater,
    WateringLook,
    by_weight,
    next_look,
    seems,
    thirst,
    vapour_deficit,
)

TODAY = date(2026, 4, 12)
PLUG = TrayWater(30.0, 15.0, 40, 2.0, 4.0, "even", 19.0, 10.0)


def looked(tray: TrayWater, *looks: WateringLook, now: float = 0.0, later: bool = False) -> NextLook:
    return next_look("lettuce", tray, looks, now, TODAY, later)


class Balance(TestCase):
    def test_air_at_twenty_degrees_and_sixty_per_cent(self) -> None:
        self.assertAlmostEqual(
            vapour_deficit(20.0), 0.935, places=3
        )  # 2.338 kPa × 0.4, by a table of saturation pressures

    def test_a_day_of_a_plug_by_hand(self) -> None:
        deficit = 0.6108 * exp(17.27 * 19 / (19 + 237.3)) * 0.4
        mm = (0.6 + 0.12 * 10) * deficit / 1.2 * (0.5 + 0.7 * 0.5**1.5)
        self.assertAlmostEqual(PLUG.loss_mm, mm, places=6)
        self.assertAlmostEqual(PLUG.falls, mm * 1.5 / 9.0, places=6)  # 15 cm² × mm/10 = ml; of 9 ml held

    def test_what_makes_it_dry_sooner(self) -> None:
        for wetter, drier in (
            (PLUG, PLUG._replace(celsius=25.0)),
            (PLUG, PLUG._replace(dli=16.0)),
            (PLUG, PLUG._replace(leaves=4.0)),
            (PLUG, PLUG._replace(fan=True)),
            (PLUG._replace(lid="lid"), PLUG._replace(lid="ajar")),
            (PLUG._replace(cell_ml=90.0), PLUG),
        ):
            with self.subTest(drier=drier):
                self.assertLess(wetter.falls, drier.falls)

    def test_under_a_lid_it_lasts_more_than_six_times_as_long(self) -> None:
        self.assertAlmostEqual(PLUG._replace(lid="lid").falls / PLUG.falls, 0.15)


class WhenNext(TestCase):
    def test_nobody_has_looked_so_it_is_due_and_nothing_is_said_of_what_is_left(self) -> None:
        found = looked(PLUG)
        self.assertTrue(found.due)
        self.assertIsNone(found.left)
        self.assertIsNone(found.dry_on)
        self.assertEqual(found.working.rule, "care.water_unseen")

    def test_watered_it_waits_until_half_is_gone(self) -> None:
        found = looked(PLUG, WateringLook(0.0, "pale", True))
        self.assertAlmostEqual(
            found.days, 0.5 / PLUG.falls / exp(PRIOR_SD)
        )  # it may well be thirstier than the balance says
        self.assertFalse(found.due)
        then = looked(PLUG, WateringLook(0.0, "pale", True), now=found.days + 0.01)
        self.assertTrue(then.due)
        self.assertEqual(then.expects, "fair")  # looked at before it is sure to be dry
        self.assertEqual(looked(PLUG, WateringLook(0.0, "pale", True), now=0.5 / PLUG.falls).expects, "pale")

    def test_celery_is_looked_at_before_tomatoes(self) -> None:
        days = [
            looked(PLUG._replace(moisture=m), WateringLook(0.0, "pale", True)).days
            for m in ("never dry", "even", "dry between")
        ]
        self.assertEqual(days, sorted(days))
        self.assertEqual(set(LOOK_AT), {"never dry", "even", "dry between"})

    def test_a_day_later_only_in_cells_that_hold_a_day(self) -> None:
        last = WateringLook(0.0, "pale", True)
        self.assertEqual(looked(PLUG, last, later=True).days, looked(PLUG, last).days)
        large = PLUG._replace(cell_ml=DAY_LATER_ML * 4, cell_cm2=64.0)
        self.assertAlmostEqual(looked(large, last, later=True).days, looked(large, last).days + 1.0)

    def test_days_from_bare_to_closed(self) -> None:
        """At 20 °C under 13 mol: cells of a 72 tray 3.3 to 1.4 days until half is gone, of a 200 tray 2.7 to 1.1, 9 cm pots 7 to 3."""
        for ml, cm2, bare, closed in ((40.0, 21.0, 3.3, 1.4), (11.0, 7.56, 2.7, 1.1), (300.0, 81.0, 7.0, 3.0)):
            with self.subTest(ml=ml):
                tray = TrayWater(ml, cm2, 1, 0.0, 4.0, "even", 20.0, 13.0)
                self.assertAlmostEqual(0.5 / tray.falls / bare, 1.0, delta=0.1)
                self.assertAlmostEqual(0.5 / tray._replace(leaves=4.0).falls / closed, 1.0, delta=0.1)

    def test_never_later_than_two_weeks(self) -> None:
        still = PLUG._replace(celsius=2.0, dli=0.0, leaves=0.0, lid="lid")
        self.assertEqual(looked(still, WateringLook(0.0, "wet", False)).days, MOST_DAYS)

    def test_dose_of_a_tray(self) -> None:
        self.assertAlmostEqual(PLUG.dose_ml("pale") / PLUG.cells, 4.5)
        self.assertEqual(PLUG.dose_ml("wet"), 0.0)
        self.assertAlmostEqual(looked(PLUG).litres, 0.18)  # forty of them


class OwnThirst(TestCase):
    def looks(self, own: float, count: int) -> list[WateringLook]:
        """What a tray shows that is `own` × as thirsty, seen every morning and watered when pale."""
        left, found = 1.0, []
        for day in range(count):
            seen = seems(left)
            watered = LEFT[seen] <= 0.5
            found.append(WateringLook(float(day), seen, watered, left))
            left = max(0.0, (1.0 if watered else left) - own * PLUG.falls)
        return found

    def test_without_looks_it_is_as_the_balance_says(self) -> None:
        self.assertEqual(thirst(PLUG, []).times, 1.0)
        self.assertEqual(thirst(PLUG, [WateringLook(0, "wet", False)]).times, 1.0)

    def test_three_weeks_tell_a_thirsty_tray_and_one_in_the_shade_apart(self) -> None:
        for own in (0.6, 1.0, 1.6):
            with self.subTest(own):
                self.assertAlmostEqual(thirst(PLUG, self.looks(own, 21)).times / own, 1.0, delta=0.15)

    def test_it_is_learned_little_by_little(self) -> None:
        said = [thirst(PLUG, self.looks(1.6, n)).times for n in (2, 4, 8, 16, 32)]
        self.assertTrue(all(a < b for a, b in pairwise(said)), said)
        self.assertLess(said[0], 1.35)

    def test_two_looks_within_an_hour_say_nothing(self) -> None:
        self.assertEqual(thirst(PLUG, [WateringLook(0.0, "wet", False), WateringLook(0.04, "limp", False)]).times, 1.0)

    def test_wetter_than_it_was_left_says_nothing(self) -> None:
        """Somebody watered and did not say so."""
        self.assertEqual(thirst(PLUG, [WateringLook(0.0, "limp", False), WateringLook(2.0, "wet", False)]).times, 1.0)

    def test_what_was_expected_makes_sure(self) -> None:
        few, many = (thirst(PLUG, self.looks(1.0, n)) for n in (4, 30))
        self.assertLess(many.sd, few.sd)
        self.assertLess(few.sd, PRIOR_SD)
        self.assertAlmostEqual(many.times, 1.0, delta=0.05)

    def test_looks_of_long_ago_count_less(self) -> None:
        """It was small then: half of what a day takes now."""
        small = [WateringLook(day / 1.0, "wet" if day % 6 else "pale", not day % 6) for day in range(24)]
        now = [WateringLook(24.0 + n, "pale", True) for n in range(8)]
        self.assertGreater(
            thirst(PLUG, small + now).times, thirst(PLUG, now + [x._replace(at=x.at + 40) for x in small]).times
        )

    def test_it_brings_the_look_forward(self) -> None:
        own = looked(PLUG, *self.looks(1.6, 21), now=21.0)
        plain = looked(PLUG, self.looks(1.6, 21)[-1], now=21.0)
        self.assertGreater(own.thirst, 1.4)
        self.assertLess(own.days, plain.days)
        self.assertLessEqual(own.look_on, TODAY + timedelta(days=1))


class Weight(TestCase):
    def test_halfway(self) -> None:
        self.assertAlmostEqual(by_weight(1400, 800, 1100), 0.5)
        self.assertEqual(by_weight(1400, 800, 1500), 1.0)

    def test_weights_that_cannot_be(self) -> None:
        for drained, dry, now in ((800, 1400, 900), (800, 800, 800), (1400, 0, 900), (1400, 800, 500)):
            with self.subTest(now=now), self.assertRaises(ValueError):
                by_weight(drained, dry, now)
