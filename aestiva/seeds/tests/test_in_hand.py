"""What a packet lacks, what hardly comes, and what a test would settle stand on Today before it is too late."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.season.models import Lot
from aestiva.seeds.models import SeedTest
from growing.steps import Task


class InHand(GardenCase):
    def lot(self, crop: str, packed: int, seeds: int | None, wanted: int, sow_on: date) -> Lot:
        lot = Lot.objects.create(garden=self.garden, crop_key=crop, variety="Weir", packed_year=packed, seeds=seeds)
        plant(self.garden, self.owner, crop, wanted, lot=lot, sow_on=sow_on, per_cell=None, surplus="")
        return lot

    def table(self, until: date) -> dict[str, Task]:
        return {t.task.kind: t.task for t in self.now().todos(until) if t.task.where == "table"}

    def test_what_is_short_is_ordered(self) -> None:
        sow_on = TODAY + timedelta(days=30)
        self.lot("kale", 2026, 5, 12, sow_on)
        self.assertEqual(self.table(TODAY), {})  # three weeks before are time enough
        task = self.table(TODAY + timedelta(days=9))["seed"]
        self.assertEqual((task.unit, task.due), ("seeds", sow_on - timedelta(days=21)))
        assert task.count is not None
        self.assertTrue(8 <= task.count <= 16, task.count)
        Lot.objects.update(seeds=60)
        self.assertEqual(self.table(TODAY + timedelta(days=9)), {})

    def test_what_hardly_comes_is_its_own_test_and_other_seed_is_ordered(self) -> None:
        lot = self.lot("onion", 2008, 90, 30, TODAY)
        SeedTest.objects.create(lot=lot, on=date(2026, 4, 1), sown=50, up=0)
        page = self.client.get(self.url("today/"))
        self.assertContains(page, "order other seed by")
        self.assertContains(page, "its own test")

    def test_a_test_is_spoken_of_a_fortnight_before_it_is_too_late(self) -> None:
        self.lot("leek", 2023, 600, 60, TODAY + timedelta(days=50))
        found = self.table(TODAY + timedelta(days=14))
        self.assertIn("test", found)
        self.assertGreaterEqual(found["test"].count or 0, 10)
        lot = Lot.objects.get()
        SeedTest.objects.create(lot=lot, on=TODAY, sown=100, up=60)
        self.assertNotIn("test", self.table(TODAY + timedelta(days=14)))

    def test_fresh_seed_of_a_sure_kind_asks_for_nothing(self) -> None:
        for crop in ("tomato", "cabbage", "lettuce"):
            self.lot(crop, 2026, 300, 10, TODAY + timedelta(days=40))
        self.assertEqual(self.table(TODAY + timedelta(days=39)), {})
