"""Something is wrong: the page asks, weighs the log, says what not to do; what it was and became is kept, and taken back."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from aestiva.care.log import fortnight
from aestiva.care.models import Ailment, TrayLook
from aestiva.care.tests.test_round import RoundCase
from aestiva.care.trouble_views import what_it_was
from aestiva.course.state import load
from aestiva.emergence.views import batch_of
from aestiva.frame.tests.garden import TODAY
from aestiva.gardens.models import JournalEntry
from aestiva.season.models import BatchEvent, WarmReading
from growing.care.trouble import shows


class TroubleCase(RoundCase):
    def drown(self, days: int = 6) -> None:
        for n in range(1, days + 1):
            TrayLook.objects.create(
                tray=self.tray, day=TODAY - timedelta(days=n), hour=8, found="wet", watered=n % 2 == 0
            )

    def freeze(self, celsius: float = 3.0) -> None:
        for n in range(1, 8):
            WarmReading.objects.create(
                garden=self.garden,
                spot=self.shelf,
                day=TODAY - timedelta(days=n),
                hour=5,
                celsius=celsius,
                most_c=celsius + 6,
            )

    def keep(self, **more: Any) -> Any:
        typed = {
            "batch": self.batch.pk, "revision": batch_of(self.garden, self.batch.pk).revision, "s": ["yellow"], "cause": "wet", "act": "let dry",
        }  # fmt: skip
        return self.client.post(self.url("care/trouble/keep/"), {**typed, **more})


class Asked(TroubleCase):
    def test_first_which_then_what(self) -> None:
        page = self.page("care/trouble/")
        self.assertIn("with which?", page)
        self.assertIn(f"?batch={self.batch.pk}", page)
        page = self.page(f"care/trouble/?batch={self.batch.pk}")
        self.assertIn("What do you see on Lettuce", page)
        self.assertIn("nobody read a thermometer", page)

    def test_the_log_is_weighed_and_feeding_is_not_proposed(self) -> None:
        self.drown()
        self.freeze()
        page = self.page(f"care/trouble/?batch={self.batch.pk}&s=yellow&s=still")
        self.assertIn("Most likely too wet and cold", page)
        self.assertIn("no feed, no potting, no more water", page)
        self.assertIn("nights colder than it likes", page)

    def test_what_the_log_says_of_this_batch(self) -> None:
        now = load(self.garden, TODAY)
        item = next(i for i in now.items if i.batch == self.batch)
        self.assertNotIn("wet", shows(fortnight(now, item).log))  # nobody looked
        self.drown()
        self.freeze()
        now = load(self.garden, TODAY)
        log = fortnight(now, item)
        facts = shows(log.log)
        self.assertTrue(facts["wet"] and facts["cold"])
        self.assertEqual((log.log.night_c, log.log.looks, len(log.looks)), (3.0, 6, 6))

    def test_damping_off_says_how_far_and_the_next_tray(self) -> None:
        page = self.page(f"care/trouble/?batch={self.batch.pk}&s=fallen&q_stem=brown")
        self.assertIn("The next tray apart", page)
        self.assertIn("not the compost", page)

    def test_nonsense_in_the_address_is_left_out(self) -> None:
        self.assertEqual(
            self.client.get(self.url(f"care/trouble/?batch={self.batch.pk}&s=blue&q_first=up&batch=x")).status_code, 200
        )
        self.assertEqual(self.client.get(self.url("care/trouble/?batch=" + "9" * 40)).status_code, 200)


class Kept(TroubleCase):
    def test_kept_with_those_taken_out_and_taken_back(self) -> None:
        self.assertEqual(self.keep(taken="3", q_pot="heavy").status_code, 302)
        row = Ailment.objects.get()
        self.assertEqual(
            (row.cause, row.act, row.signs, row.answers, row.lost, row.outcome),
            ("wet", "let dry", "yellow", "pot=heavy", 3, "open"),
        )
        died = BatchEvent.objects.get(kind="died")
        self.assertEqual((died.count, died.note), (3, "Too wet"))
        self.assertIn("What became of these?", self.page("care/trouble/"))
        self.client.post(self.url(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/"))
        self.assertFalse(Ailment.objects.exists() or BatchEvent.objects.filter(kind="died").exists())

    def test_what_became_of_it_and_losses_by_cause(self) -> None:
        self.keep()
        row = Ailment.objects.get()
        answer = self.client.post(
            self.url(f"care/trouble/{row.pk}/ended/keep/"),
            {"revision": row.revision, "outcome": "lost", "lost": "4", "cause": "rot"},
        )
        self.assertEqual(answer.status_code, 302)
        row.refresh_from_db()
        self.assertEqual((row.outcome, row.cause, row.lost, row.ended), ("lost", "rot", 4, TODAY))
        was = what_it_was(self.garden)
        self.assertEqual((was[0].name, was[0].lost, was[0].times), ("Roots rotting, or a wilt", 4, 1))
        self.assertIn("lettuce", was[0].of)
        self.assertIn("let dry", was[0].acts)
        self.assertIn("rot", self.page("care/troubles.csv"))

    def test_what_cannot_be(self) -> None:
        for more in (
            {"s": []},
            {"cause": "spell"},
            {"act": "burned"},
            {"taken": "-1"},
            {"taken": "900"},
            {"taken": "x"},
        ):
            with self.subTest(**more):
                self.assertEqual(self.keep(**more).status_code, 422)
        self.assertFalse(Ailment.objects.exists())

    def test_the_label_is_the_law_on_what_is_eaten(self) -> None:
        self.assertEqual(self.keep(product="Soap spray").status_code, 422)
        self.assertEqual(self.keep(product="Soap spray", on_label="1").status_code, 422)
        refused = self.keep(product="Soap spray", on_label="1", wait_days="400").content.decode()
        self.assertIn("asks 400 days before eating", refused)
        self.assertIn('value="Soap spray"', refused)
        self.assertEqual(self.keep(product="Soap spray", on_label="1", wait_days="3").status_code, 302)
        self.assertEqual(Ailment.objects.get().product, "Soap spray")

    def test_the_same_post_twice_is_one(self) -> None:
        self.keep(key="k1")
        self.keep(key="k1")
        self.assertEqual(Ailment.objects.count(), 1)
