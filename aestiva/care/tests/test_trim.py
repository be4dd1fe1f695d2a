"""Trimming from the list of Today to the batch's page, and back."""

from __future__ import annotations

from datetime import timedelta

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import JournalEntry
from aestiva.season.models import Batch, BatchEvent
from growing.care.steps import TRIM_AFTER_DAYS


class Trim(GardenCase):
    def test_done_with_one_tap_said_on_the_page_and_taken_back(self) -> None:
        planting = plant(self.garden, self.owner, "onion", 90, sow_on=TODAY - timedelta(days=70))
        batch = Batch.objects.create(planting=planting, sown_on=TODAY - timedelta(days=70), cells=100)
        BatchEvent.objects.create(batch=batch, kind="sown", on=batch.sown_on, count=100)
        BatchEvent.objects.create(batch=batch, kind="up", on=TODAY - timedelta(days=TRIM_AFTER_DAYS + 2), count=95)
        task = f"b{batch.pk}.trim.0"
        page = self.client.get(self.url("today/")).content.decode()
        self.assertIn("plants to trim", page)
        self.assertIn("Tops over 15 cm fall over: back to 10 cm", page)
        self.post(f"task/{task}/", what="done")
        event = BatchEvent.objects.get(batch=batch, kind="trimmed")
        self.assertEqual((event.on, event.data), (TODAY, {"to_cm": 10.0}))
        page = self.client.get(self.url(f"batch/{batch.pk}/")).content.decode()
        self.assertRegex(page, r"tops trimmed</b>\s*<span>back to 10 cm")
        self.assertNotIn(task, self.client.get(self.url("today/")).content.decode())
        entry = JournalEntry.objects.order_by("-pk")[0]
        self.client.post(self.url(f"journal/{entry.pk}/undo/"))
        self.assertIn(task, self.client.get(self.url("today/")).content.decode())
