"""A batch: counts the ledgers can hold, losses, gifts, splits, moving, giving up, dating back."""

from __future__ import annotations

from datetime import date

from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.gardens.models import JournalEntry
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, Tray
from aestiva.season.places import where


class Records(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("tomato", 10, date(2026, 4, 1))

    def record(self, kind: str, count: object, **more: str) -> int:
        self.batch.refresh_from_db()
        return int(self.post(f"batch/{self.batch.pk}/record/", kind=kind, count=count, **more).status_code)

    def test_page_shows_history_accounts_and_what_comes(self) -> None:
        self.record("up", 12, on="2026-04-08")
        page = self.client.get(self.url(f"batch/{self.batch.pk}/"))
        for said in ("seeds sown", "up so far: 12", "Wed 8 April", "What comes next", "First harvest", "working"):
            self.assertContains(page, said)

    def test_losses_and_gifts_balance(self) -> None:
        for kind, count in (("up", 14), ("died", 2), ("given", 3)):
            self.assertEqual(self.record(kind, count), 302)
        now = accounts_of(self.batch)
        self.assertEqual((now.emerged, now.died, now.given, now.indoors), (14, 2, 3, 9))

    def test_what_cannot_be_is_refused_with_the_number_there_is(self) -> None:
        seeds = (self.batch.cells or 0) * 2
        self.record("up", 10)
        for kind, count, said in (
            ("given", "11", "only 10"),
            ("up", str(seeds + 1), f"{seeds} is the most there can be"),
            ("died", "-1", "cannot be: give"),
            ("died", "some", "not a whole number"),
            ("lost_outside", "1", "only 0 are planted out"),
        ):
            answer = self.post(f"batch/{self.batch.pk}/record/", kind=kind, count=count)
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, f'value="{count}"', status_code=422)
        self.assertEqual(self.batch.events.count(), 2)

    def test_dates_back_but_not_before_sowing_nor_ahead(self) -> None:
        self.assertEqual(self.record("up", 3, on="2026-04-07"), 302)
        self.assertEqual(self.record("up", 4, on="2026-03-31"), 422)
        self.assertEqual(self.record("up", 4, on="2026-04-13"), 422)
        self.assertEqual(self.record("up", 4, on="13/4"), 422)

    def test_a_stale_page_writes_nothing(self) -> None:
        seen = Batch.objects.get(pk=self.batch.pk).revision
        self.record("up", 5)
        answer = self.post(f"batch/{self.batch.pk}/record/", kind="up", count="9", revision=seen)
        self.assertContains(answer, "In the meantime", status_code=409)
        self.assertContains(answer, "5 up so far", status_code=409)
        now = Batch.objects.get(pk=self.batch.pk).revision
        self.assertContains(answer, f'name="revision" value="{now}"', status_code=409)
        self.assertEqual(accounts_of(self.batch).emerged, 5)

    def test_split_makes_a_child_that_keeps_its_history(self) -> None:
        self.record("up", 12)
        answer = self.post(f"batch/{self.batch.pk}/change/", what="split", count="5", spot=self.frame.pk)
        child = Batch.objects.get(links_in__parent=self.batch)
        self.assertIn(f"/batch/{child.pk}/", answer["Location"])
        self.assertEqual((accounts_of(self.batch).indoors, accounts_of(child).indoors), (7, 5))
        self.assertEqual(
            (child.sown_on, child.planting, where(child)),
            (self.batch.sown_on, self.batch.planting, self.frame),
        )
        self.assertEqual(self.post(f"batch/{self.batch.pk}/change/", what="split", count="8").status_code, 422)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertFalse(Batch.objects.filter(links_in__parent=self.batch).exists())
        self.assertEqual(accounts_of(self.batch).indoors, 12)

    def test_giving_up_brings_the_sowing_back(self) -> None:
        self.record("up", 2)
        self.assertNotIn("sow", self.kinds())
        self.post(f"batch/{self.batch.pk}/change/", what="fail", sure="yes", note="dried out")
        self.batch.refresh_from_db()
        self.assertEqual(self.batch.failed_on, TODAY)
        now = accounts_of(self.batch)
        self.assertEqual((now.waiting, now.indoors), (0, 0))
        again = self.todo("sow", TODAY).task
        self.assertTrue(again.key.endswith(".sow.1"))
        self.post(f"task/{again.key}/")
        self.assertEqual(Batch.objects.filter(failed_on=None).count(), 1)

    def test_moves_are_kept_with_their_days(self) -> None:
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=self.shelf.pk, on="2026-04-05")
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=self.frame.pk, on="2026-04-10")
        tray = Tray.objects.get(runs__batch=self.batch)
        stands = list(tray.stands.order_by("pk").values_list("spot__code", "since", "until"))
        self.assertEqual(stands, [("R1·1", date(2026, 4, 5), date(2026, 4, 10)), ("Frame", date(2026, 4, 10), None)])
