"""A tray in which nothing comes is never out of sight: there is a task for it until something is up or it is given up."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.season.models import Batch


class NothingComes(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("tomato", 10)

    def open_kinds(self, on: date) -> set[str]:
        self.day(on)
        return {t.task.kind for t in self.now().todos(on) if t.item.batch == self.batch}

    def tap(self, kind: str, **more: str) -> None:
        task = next(t for t in self.now().todos(self.garden.simulated_on or TODAY) if t.task.kind == kind)
        self.post(f"task/{task.task.key}/", **more)

    def test_seventy_days_of_counting_nothing(self) -> None:
        lifted = 0
        for ahead in range(4, 75):
            on = TODAY + timedelta(days=ahead)
            kinds = self.open_kinds(on)
            if "look" in kinds:
                self.tap("look", count="0")
            elif "count" in kinds:
                self.tap("count", count="0")
            if "lift" in kinds:
                lifted += 1
                if lifted % 3 == 0:  # now and then somebody looks, and it comes back
                    self.tap("lift")
            if ahead >= 20:
                ahead_kinds = {
                    t.task.kind for t in self.now().todos(on + timedelta(days=6)) if t.item.batch == self.batch
                }
                self.assertIn("lift", ahead_kinds, on)
        self.assertGreater(lifted, 10)

    def test_it_says_what_to_do_and_by_when(self) -> None:
        up = next(i for i in self.now().items if i.batch).raised.course.steps["up"].due
        soon = up - timedelta(days=2)
        self.day(soon)
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count="0", on=soon.isoformat())
        self.assertNotIn("lift", self.open_kinds(soon))  # it comes any day now
        self.day(up + timedelta(days=4))
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count="0")
        self.assertIn("lift", self.open_kinds(up + timedelta(days=4)))
        self.assertContains(self.client.get(self.url("today/")), "Lift one and look; soft or gone, sow again by")
        self.day(up + timedelta(days=90))
        self.assertContains(self.client.get(self.url("today/")), "its window closed")
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count=str((self.batch.cells or 0) * 2 - 2))
        self.assertNotIn("lift", self.open_kinds(up + timedelta(days=91)))

    def test_far_too_few_lead_somewhere_too(self) -> None:
        up = next(i for i in self.now().items if i.batch).raised.course.steps["up"].due
        self.day(up + timedelta(days=1))
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count="2")
        self.assertIn("lift", self.open_kinds(TODAY + timedelta(days=40)))
        self.assertContains(self.client.get(self.url("today/")), "Only 2 up of")

    def test_the_few_that_came_lose_their_lid_and_nobody_waits_for_the_others_for_ever(self) -> None:
        course = next(i for i in self.now().items if i.batch).raised.course
        self.day(course.steps["up"].due)
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count="2")
        ends = TODAY + timedelta(days=int(2 * course.emergence_days) + 1)
        self.assertNotIn("lid", self.open_kinds(ends - timedelta(days=1)))
        self.assertIn("lid", self.open_kinds(ends))
        self.assertContains(self.client.get(self.url("today/")), "Only 2 up of")
        self.tap("lid")
        self.assertNotIn("lid", self.open_kinds(ends))
        page = self.client.get(self.url(f"batch/{self.batch.pk}/"))
        self.assertContains(page, "was expected")  # half of them, in days that are past
        self.assertIn("lift", self.open_kinds(ends + timedelta(days=20)))
        self.post(f"batch/{self.batch.pk}/record/", kind="thinned", count="0")
        self.assertNotIn("lift", self.open_kinds(ends + timedelta(days=20)))
        page = self.client.get(self.url(f"batch/{self.batch.pk}/"))
        self.assertContains(page, "thinned: none")
        self.assertContains(page, "not seen up")
        self.assertNotContains(page, "</b> waiting")

    def test_thinning_counts_no_more_than_is_up(self) -> None:
        batch = self.sown("cosmos", 6, per_cell=2)
        cells = Batch.objects.get(pk=batch.pk).cells or 0
        self.day(TODAY + timedelta(days=12))
        self.post(f"batch/{batch.pk}/record/", kind="up", count=str(cells - 2))
        self.day(TODAY + timedelta(days=40))
        thin = next(
            t for t in self.now().todos(TODAY + timedelta(days=40)) if t.task.kind == "thin" and t.item.batch == batch
        )
        self.assertEqual(thin.task.count, cells - 2)

    def test_a_count_is_never_yesterdays_by_a_tap(self) -> None:
        self.day(TODAY + timedelta(days=6))
        self.tap("look", count="3")
        self.day(TODAY + timedelta(days=8))
        page = self.client.get(self.url("today/")).content.decode()
        self.assertIn('data-last="3"', page)
        self.assertNotIn('name="count" min="0" inputmode="numeric" value="3"', page)
        count = next(t for t in self.now().todos(TODAY + timedelta(days=8)) if t.task.kind == "count")
        self.assertContains(self.post(f"task/{count.task.key}/"), "how many are up?", status_code=422)
