"""Leaves and what they date, setbacks kept apart, roots and pots, what is over and drawn, heat, sprayers, feeds of the published sums."""

from __future__ import annotations

import csv
from datetime import date, timedelta
from pathlib import Path
from unittest import TestCase

from growing.batch.facts import BatchFacts
from growing.batch.ledger import Entry
from growing.batch.stress import APART_DAYS, kept_apart, last_stress
from growing.care.feed import SPOONS_ML, Product, in_can, together, wrong_mix
from growing.care.feeding import FLUSH_AFTER, GRANULES_DAYS, flush, next_feed
from growing.care.heat import minds, too_hot
from growing.care.moving import LOOK_AGAIN_DAYS, Signs, potting, rescue, surplus
from growing.care.spray import seconds
from growing.care.water import DOSE, LEAST_TAKES, TrayWater, takes, way
from growing.chain.choice import Choice
from growing.chain.course import course
from growing.chain.dates import date_planting
from growing.chain.happened import Facts
from growing.chain.leaves import LeafStage, LeavesSeen, behind, leaf_days, out_later
from growing.chain.rearing import MOST_LATER_DAYS
from growing.crops import library
from growing.steps import derive
from growing.tests.test_tasks import FAR, LADDER, PLACE, raised
from growing.tests.test_tasks import care as care_steps

CROPS = library()
TODAY = date(2026, 4, 12)
GALLONS = {"l": 1.0, "US gal": 3.785411784, "imp gal": 4.54609}
DOCS = Path(__file__).parents[2] / "docs" / "rules"


def seen(
    leaves: int,
    days_ago: int = 0,
    a_day: float = 0.15,
    now: float | None = None,
    cm: float | None = None,
    late: float = 0.0,
) -> LeafStage:
    here = leaves + days_ago * a_day if now is None else now
    return LeafStage(LeavesSeen(leaves, cm, TODAY - timedelta(days=days_ago)), TODAY, here, a_day, cm or 5.0, 0.5, late)


def growing(
    key: str, stage: LeafStage | None = None, sown: date = date(2026, 3, 10), **days: tuple[date, ...]
) -> BatchFacts:
    """A batch that is half up ten days after it was sown, with what somebody saw of its leaves."""
    crop = CROPS[key]
    up = sown + timedelta(days=10)
    facts = Facts(sown, first_up=up, half_up=up, days=days)
    dates = date_planting(crop, PLACE, Choice(sow_on=sown))
    steps = course(crop, dates, LADDER, facts, stage=stage)
    return BatchFacts("b1", crop, 12, dates, steps, facts, LADDER, cells=12, stage=stage)


class Leaves(TestCase):
    def test_what_was_seen_is_reached_on_its_day(self) -> None:
        stage = seen(3, days_ago=4)
        self.assertEqual(stage.on(2), TODAY - timedelta(days=4))
        self.assertEqual(stage.on(3), TODAY - timedelta(days=4))
        self.assertEqual(stage.on(4), TODAY + timedelta(days=3))  # 3.6 by now, 0.4 ÷ 0.15 a day
        self.assertIsNone(stage.high_on(15.0))
        self.assertEqual(seen(3, cm=10.0).high_on(15.0), TODAY + timedelta(days=10))

    def test_steps_go_by_leaves_where_somebody_looked_and_by_days_where_nobody_did(self) -> None:
        for key, kind in (("lettuce", "thin"), ("tomato", "pot"), ("zinnia", "pinch"), ("snapdragon", "pinch")):
            with self.subTest(key):
                by_days = growing(key).course.steps[kind]
                wanted = CROPS[key].number(f"{kind}_leaves")
                early = growing(key, seen(int(wanted))).course.steps[kind]
                late = growing(key, seen(int(wanted) - 1, a_day=0.1)).course.steps[kind]
                self.assertEqual(early.due, TODAY)
                self.assertGreater(late.due, TODAY)
                self.assertNotEqual(late.due, by_days.due)
                self.assertEqual(late.working.rule, f"care.{kind}_seen")
                self.assertNotEqual(by_days.working.rule, late.working.rule)

    def test_behind_is_against_its_age_and_warmth(self) -> None:
        tomato, up = CROPS["tomato"], TODAY - timedelta(days=21)
        self.assertEqual(leaf_days(tomato, None), 7.0)
        self.assertAlmostEqual(behind(tomato, up, TODAY, 3.0, None), 0.0)
        self.assertAlmostEqual(behind(tomato, up, TODAY, 1.0, None), 14.0)
        self.assertLess(behind(tomato, up, TODAY, 2.0, 12.0), behind(tomato, up, TODAY, 2.0, None))

    def test_planting_out_waits_for_small_plants_only_as_long_as_they_are_behind(self) -> None:
        tomato, out = CROPS["tomato"], TODAY + timedelta(days=20)
        self.assertIsNone(out_later(None, tomato, out))
        self.assertIsNone(out_later(seen(3, late=1.0), tomato, out))
        small = seen(1, late=8.0)
        self.assertEqual(out_later(small, tomato, out), out + timedelta(days=7))  # 4 leaves at 0.15 a day, on day 27
        self.assertEqual(out_later(seen(0, a_day=0.05, late=60.0), tomato, out), out + timedelta(days=MOST_LATER_DAYS))
        self.assertIsNone(out_later(seen(4, late=8.0), tomato, out))  # big enough by then


class NeverTwoTogether(TestCase):
    def test_after_one_the_next_waits_three_days(self) -> None:
        potted = TODAY - timedelta(days=1)
        one = growing("snapdragon", seen(7), potted=(potted,))
        pinch = next(t for t in derive(care_steps.STEPS, one, TODAY, FAR) if t.kind == "pinch")
        self.assertEqual(pinch.due, potted + timedelta(days=APART_DAYS))
        self.assertEqual(pinch.why.rule, "care.apart")
        self.assertEqual(last_stress(one), ("potted up", potted))

    def test_two_that_are_due_together_are_parted_in_their_order(self) -> None:
        one = growing("snapdragon", seen(7))
        days = {t.kind: t.due for t in derive(care_steps.STEPS, one, TODAY, FAR) if t.kind in ("pot", "pinch")}
        self.assertEqual(len(days), 2)
        self.assertGreaterEqual(abs((max(days["pinch"], TODAY) - max(days["pot"], TODAY)).days), APART_DAYS)

    def test_one_that_is_long_overdue_holds_nothing_back(self) -> None:
        one = growing("snapdragon", seen(7))
        step = one.course.steps["pinch"]
        day, _ = kept_apart(one, "pinch", step.due, TODAY + timedelta(days=40), step.working)
        self.assertLessEqual(day, step.due + timedelta(days=APART_DAYS))

    def test_one_that_is_long_overdue_waits_for_what_it_holds_back_no_longer(self) -> None:
        one = growing("snapdragon", seen(7))
        pinch, harden = one.course.steps["pinch"], one.course.steps["harden"]
        self.assertLess(pinch.due, harden.due)
        long_past = harden.due + timedelta(days=max(0, 8 - (harden.due - pinch.due).days))
        days = {kind: kept_apart(one, kind, one.course.steps[kind].due, long_past, pinch.working)[0] for kind in ("pinch", "harden")}  # fmt: skip
        self.assertGreaterEqual(abs((max(days["pinch"], long_past) - max(days["harden"], long_past)).days), APART_DAYS)

    def test_the_first_hours_outdoors_wait_too(self) -> None:
        one = raised("tomato", Facts(date(2026, 3, 1), days={"pricked": (TODAY,)}), cells=12)
        day, why = kept_apart(one, "harden", TODAY, TODAY, one.course.steps["harden"].working)
        self.assertEqual((day, why.rule), (TODAY + timedelta(days=APART_DAYS), "care.apart"))


class Pots(TestCase):
    def ask(
        self,
        signs: Signs,
        out: int = 40,
        carries: int | None = 60,
        sown: int = 30,
        blocks: bool = False,
        due: int | None = None,
    ) -> tuple[str, int]:
        found = potting(
            CROPS["tomato"], TODAY, TODAY - timedelta(days=sown), None, TODAY + timedelta(days=out),
            None if carries is None else TODAY + timedelta(days=carries), signs, blocks, None if due is None else TODAY + timedelta(days=due),
        )  # fmt: skip
        return found.kind, found.days

    def test_one_clear_sign_and_weeks_left(self) -> None:
        for signs in (
            Signs("at the holes", TODAY), Signs("circling", TODAY), Signs("none", TODAY, crowded=True), Signs("none", TODAY, daily=True),
            Signs("none", TODAY, times_cell=2.2), Signs("none", TODAY, lamp_cm=3.0),
        ):  # fmt: skip
            with self.subTest(signs=signs):
                self.assertEqual(self.ask(signs)[0], "move")
                self.assertEqual(self.ask(signs, out=10)[0], "hold")

    def test_under_blocks_roots_mean_nothing(self) -> None:
        self.assertEqual(self.ask(Signs("at the holes", TODAY), blocks=True)[0], "wait")

    def test_nothing_seen_is_looked_at_again_in_a_week_or_when_it_is_old(self) -> None:
        self.assertEqual(self.ask(Signs("none", TODAY)), ("wait", LOOK_AGAIN_DAYS))
        self.assertEqual(self.ask(Signs("none", TODAY), carries=2), ("move", 0))  # three quarters of its age are over
        self.assertEqual(self.ask(Signs(), due=0), ("wait", 0))  # by its leaves: look at the roots first
        self.assertEqual(self.ask(Signs(), carries=None, due=4), ("wait", 4))

    def test_the_first_look_is_at_three_weeks(self) -> None:
        self.assertEqual(self.ask(Signs("at the holes", TODAY), sown=14), ("wait", 7))
        self.assertEqual(self.ask(Signs("circling", TODAY), sown=14)[0], "move")

    def test_what_was_seen_of_the_roots_dates_the_task(self) -> None:
        for kind, wanted in (("roots_none", False), ("roots_circling", True)):
            one = growing("tomato", seen(4), date(2026, 3, 20), **{kind: (TODAY,)})
            pots = [t for t in derive(care_steps.STEPS, one, TODAY, TODAY) if t.kind == "pot"]
            self.assertEqual(bool(pots), wanted, kind)

    def test_filled_up_twice_where_it_is_buried_as_it_grows(self) -> None:
        one = growing("tomato", seen(4), potted=(TODAY - timedelta(days=12),))
        fill = [t for t in derive(care_steps.STEPS, one, TODAY, TODAY) if t.kind == "fill"]
        self.assertEqual([t.due for t in fill], [TODAY - timedelta(days=2)])
        full = growing(
            "tomato",
            seen(4),
            potted=(TODAY - timedelta(days=30),),
            filled=(TODAY - timedelta(days=20), TODAY - timedelta(days=10)),
        )
        self.assertFalse([t for t in derive(care_steps.STEPS, full, TODAY, FAR) if t.kind == "fill"])


class OverAndDrawn(TestCase):
    def test_what_is_over_by_hand(self) -> None:
        tomato = CROPS["tomato"]
        survival = tomato.number("survival")
        found = surplus(tomato, 30, 12, 2, 40, True, 25.0)
        need = -(-12 // survival) + 2
        self.assertEqual((found.need, found.over), (int(need), 30 - int(need)))
        keep, give, sell, snip = found.ways
        self.assertEqual({w.plants for w in found.ways}, {found.over})
        pot = tomato.number("pot_cm")
        self.assertAlmostEqual(keep.mix_l, found.over * 0.8 * pot**3 / 1000)
        self.assertAlmostEqual(keep.flats, found.over * pot * pot / (54 * 28))
        self.assertTrue(snip.minutes < give.minutes < keep.minutes < sell.minutes)
        self.assertEqual(surplus(tomato, 10, 12, 0, 40, True, 25.0).over, 0)
        with self.assertRaises(ValueError):
            surplus(tomato, -1, 12, 0, 40, True, 25.0)

    def test_tomatoes_are_buried_peppers_begun_again_or_kept(self) -> None:
        late, soon = TODAY - timedelta(days=1), TODAY + timedelta(days=9)
        out = TODAY + timedelta(days=60)
        self.assertEqual(rescue(CROPS["tomato"], "Tomato", TODAY, soon, soon, out).kind, "bury")
        pepper = CROPS["pepper"]
        again = rescue(pepper, "Pepper", TODAY, soon, out, out)
        if pepper.word("bury") in ("progressively", "deep"):
            self.fail("a pepper does not recover by being buried")
        self.assertEqual((again.kind, again.by), ("again", soon))
        self.assertIn(rescue(pepper, "Pepper", TODAY, late, out, out).kind, ("keep", "bury"))
        self.assertEqual(rescue(CROPS["lettuce"], "Lettuce", TODAY, late, out, out).kind, "keep")


class HeatAndAir(TestCase):
    def days(self, most: float, least: float, count: int = 4) -> dict[date, tuple[float, float]]:
        return {TODAY - timedelta(days=n): (least, most) for n in range(count)}

    def test_lisianthus_between_its_first_leaf_and_the_fourth_pair(self) -> None:
        one = CROPS["lisianthus"]
        self.assertIsNotNone(too_hot(one, "it", 3.0, self.days(28.0, 15.0)))
        self.assertIsNotNone(too_hot(one, "it", 3.0, self.days(22.0, 19.0)))
        self.assertIsNone(too_hot(one, "it", 0.5, self.days(28.0, 19.0)))
        self.assertIsNone(too_hot(one, "it", 8.0, self.days(28.0, 19.0)))
        self.assertIsNone(too_hot(one, "it", 3.0, self.days(28.0, 19.0, count=2)))
        self.assertIsNone(too_hot(one, "it", 3.0, {}))

    def test_who_minds(self) -> None:
        self.assertTrue(all(minds(CROPS[key]) for key in ("lisianthus", "celery", "lettuce")))
        self.assertIsNone(minds(CROPS["tomato"]))

    def test_seconds_of_a_sprayer(self) -> None:
        self.assertAlmostEqual(seconds(5, 60, 30), 2.5)
        self.assertEqual(seconds(0, 60, 30), 0.0)
        for ml, measured, took in ((5, 0, 30), (5, 60, 0), (-1, 60, 30)):
            with self.assertRaises(ValueError):
                seconds(ml, measured, took)

    def test_how_it_is_given_and_how_much(self) -> None:
        self.assertEqual([way(False, True, False, f) for f in ("pale", "light")], ["", "dry"])
        self.assertEqual(
            (way(True, True, False, "pale"), way(False, False, False, "pale"), way(True, True, True, "fair")),
            ("blocks", "closed", "mist"),
        )
        tray = TrayWater(40.0, 20.0, 72)
        self.assertAlmostEqual(tray.dose_ml("pale"), 40 * 72 * DOSE["pale"])
        self.assertLess(tray._replace(drains=False).dose_ml("pale"), tray.dose_ml("pale"))
        self.assertAlmostEqual(takes([0.3, 0.3]), 0.7)
        self.assertEqual((takes([]), takes([1.0])), (1.0, LEAST_TAKES))


class Feeds(TestCase):
    def test_the_forty_sums_of_the_docs(self) -> None:
        with open(DOCS / "feed_cases.csv", encoding="utf-8") as file:
            rows = list(csv.DictReader(line for line in file if not line.startswith("#")))
        self.assertGreaterEqual(len(rows), 40)
        self.assertGreaterEqual(sum(bool(row["second"]) for row in rows), 6)
        for row in rows:
            with self.subTest(row["product"], spoon=row["spoon"], second=row["second"]):
                litres, water = float(row["volume"]) * GALLONS[row["unit"]], float(row["water_ec"])
                spoon = SPOONS_ML[row["spoon"]]
                found = in_can(self.product(row), float(row["amount"]) * spoon, litres, water)
                if row["second"]:
                    other = in_can(self.product(row, "2"), float(row["amount2"]) * spoon, litres, water)
                    found = together([found, other], water)
                for name in ("n_mg_l", "p_mg_l", "k_mg_l"):
                    self.assertAlmostEqual(getattr(found, name[0]), float(row[name]), delta=0.01)
                self.assertAlmostEqual(found.ec_low, float(row["ec_low"]), delta=0.01)
                self.assertAlmostEqual(found.ec_high, float(row["ec_high"]), delta=0.01)

    def product(self, row: dict[str, str], n: str = "") -> Product:
        names = ("n_percent", "p_percent", "k_percent", "urea_share") if not n else ("n2", "p2", "k2", "urea2")
        return Product(
            row["second" if n else "product"], *(float(row[name]) for name in names[:3]), row[f"oxides{n}"] == "yes",
            row[f"kind{n}"] == "liquid", float(row[f"g_per_ml{n}"]), float(row[names[3]]),
        )  # fmt: skip

    def test_what_must_not_be_mixed_by_either_label(self) -> None:
        self.assertTrue(wrong_mix("Salts", "lime, copper", "Garden lime", ""))
        self.assertTrue(wrong_mix("Garden lime", "", "Salts", "LIME"))
        self.assertEqual(wrong_mix("Salts", "lime", "Fish", ""), "")
        self.assertEqual(wrong_mix("Salts", " , ", "Fish", ""), "")

    def test_granules_and_salts(self) -> None:
        tomato = CROPS["tomato"]
        given = TODAY - timedelta(days=3)
        self.assertEqual(
            next_feed(tomato, 6.0, TODAY, None, None, None, None, given).on, given + timedelta(days=GRANULES_DAYS)
        )
        target = tomato.number("feed_n_mg_l")
        feeds: list[tuple[date, float | None]] = [(TODAY - timedelta(days=7 * n), target) for n in range(FLUSH_AFTER)]
        self.assertTrue(flush(tomato, feeds, None).due)
        self.assertFalse(flush(tomato, feeds[:-1], None).due)
        self.assertFalse(flush(tomato, feeds, TODAY - timedelta(days=10)).due)  # washed out since
        self.assertTrue(flush(tomato, [(TODAY, 2.5 * target)], None).due)
        self.assertFalse(flush(tomato, [], None).due)


class Pinched(TestCase):
    def test_a_pinch_that_comes_after_planting_out_is_still_asked_for_a_while(self) -> None:
        one = growing("snapdragon", seen(6))
        due = one.course.steps["pinch"].due
        one.facts = one.facts._replace(planted_on=due - timedelta(days=2))
        asked = list(derive((care_steps.PINCH,), one, due, FAR))
        self.assertEqual([t.kind for t in asked], ["pinch"])
        self.assertFalse(list(derive((care_steps.PINCH,), one, due + timedelta(days=60), FAR)))


class TheAccountsHold(TestCase):
    def test_stage_makes_no_difference_to_counts(self) -> None:
        one = raised(
            "tomato",
            Facts(date(2026, 3, 1), first_up=date(2026, 3, 9)),
            entries=(Entry("sown", 12), Entry("up", 10)),
            cells=12,
        )
        self.assertEqual(one.plants, 10)
