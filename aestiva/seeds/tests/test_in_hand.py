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


class Asked(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.planting = plant(self.garden, self.owner, "kale", 12, sow_on=TODAY, per_cell=None, surplus="")
        self.address = self.url(f"seeds/count/{self.planting.pk}/")

    def test_what_cannot_be_is_said_and_kept_as_it_was_typed(self) -> None:
        usual = self.client.get(self.address)
        self.assertEqual(usual.status_code, 200)
        for typed in ("-1", "1e9", "nan", "warm"):
            for name in ("warmth", "sure"):
                answer = self.client.get(self.address, {name: typed})
                with self.subTest(name, typed=typed):
                    self.assertContains(answer, "Counted with the usual")
                    self.assertContains(answer, f'value="{typed}"')
                    self.assertEqual(answer.context["shown"], usual.context["shown"])

    def test_nothing_more_is_asked_of_what_is_sown(self) -> None:
        self.assertContains(self.client.get(self.address), " more by ")
        self.post(f"task/p{self.planting.pk}.sow.0/", on=TODAY.isoformat())
        self.assertNotContains(self.client.get(self.address), " more by ")

    def test_warmth_is_asked_for_in_the_readers_units(self) -> None:
        self.garden.members.filter(role="owner").update(units="us")
        page = self.client.get(self.address, {"warmth": "50"})
        self.assertContains(page, "warmth, °F")
        self.assertAlmostEqual(page.context["warmth"], 10.0)

    def test_a_packet_that_is_not_there_is_refused(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="kale", variety="Weir", packed_year=2026)
        self.post(f"seeds/count/{self.planting.pk}/", lot=str(lot.pk))
        for typed in ("99", "nan"):
            answer = self.client.post(self.address, {"lot": typed}, follow=True)
            self.assertContains(answer, "That packet is not in the box")
            self.planting.refresh_from_db()
            self.assertEqual(self.planting.lot_id, lot.pk)
