"""What is asked of a sowing, and what is not: light for seed in the dark, counts of what is all up, lifting day after day, day-old seedlings."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.course.outlook import look_over
from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch


class Asked(GardenCase):
    def up(self, batch: Batch, count: int, on: date = TODAY) -> None:
        answer = self.post(f"batch/{batch.pk}/record/", kind="up", count=str(count), on=on.isoformat())
        self.assertEqual(answer.status_code, 302)

    def kinds(self, on: date = TODAY) -> set[str]:
        self.day(on)
        return {t.task.kind for t in self.now().todos(on)}

    def test_seed_that_comes_in_the_dark_gets_no_lamp_before_it_is_up(self) -> None:
        batch = self.sown("larkspur", 12, TODAY - timedelta(days=40))
        self.assertEqual(self.now().items[0].crop.word("light"), "dark")
        self.up(batch, 0, TODAY - timedelta(days=1))
        self.assertNotIn("lamp", self.kinds())
        self.up(batch, 2)
        self.assertIn("lamp", self.kinds())

    def test_nobody_counts_what_is_all_up(self) -> None:
        batch = self.sown("tomato", 6, TODAY - timedelta(days=9))
        sown = accounts_of(batch).sown or 0
        self.up(batch, 1, TODAY - timedelta(days=2))
        self.assertIn("count", self.kinds())
        self.up(batch, sown)
        for later in range(8):
            self.assertNotIn("count", self.kinds(TODAY + timedelta(days=later)))

    def test_whoever_lifted_one_is_not_asked_to_lift_one_the_next_day(self) -> None:
        batch, on = self.sown("tomato", 12), TODAY
        for later in range(6, 20):  # nothing comes, and one looks each day
            on = TODAY + timedelta(days=later)
            self.day(on)
            self.up(batch, 0, on)
            if look_over(self.now())[batch.pk].verdict.kind == "check":
                break
        self.assertEqual(look_over(self.now())[batch.pk].verdict.kind, "check")
        self.assertEqual(self.post(f"emergence/{batch.pk}/lifted/keep/", root="1").status_code, 302)
        self.assertNotEqual(look_over(self.now())[batch.pk].verdict.kind, "check")
        self.assertNotIn("lift", self.kinds(on + timedelta(days=1)))
        self.up(batch, 0, on + timedelta(days=1))
        verdict = look_over(self.now())[batch.pk].verdict
        self.assertNotEqual(verdict.kind, "check")
        if verdict.kind == "looked":
            self.assertEqual(verdict.by, on + timedelta(days=5))

    def test_seedlings_a_day_old_stay_in(self) -> None:
        batch = self.sown("kale", 20, TODAY - timedelta(days=12))
        batch.planting.chosen_out = TODAY + timedelta(days=3)
        batch.planting.save()
        self.up(batch, 2, TODAY - timedelta(days=1))
        for later in range(6):
            self.assertNotIn("harden", self.kinds(TODAY + timedelta(days=later)))
