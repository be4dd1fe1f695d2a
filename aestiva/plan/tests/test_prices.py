"""Raise, sow in place or buy: side by side on the planting, in money once prices are typed."""

from __future__ import annotations

from aestiva.frame.tests.garden import GardenCase
from aestiva.gardens.models import JournalEntry
from aestiva.plan.models import Price
from aestiva.season.models import Lot

FORM = {"crop": "Lettuce", "wanted": "20", "method": "raised", "term": "spring"}


class Prices(GardenCase):
    def test_a_cost_is_unknown_until_its_prices_are_typed(self) -> None:
        Lot.objects.create(
            garden=self.garden, crop_key="lettuce", variety="Row", price=2.0, packet_seeds=200, seeds=200
        )
        page = self.client.get(self.url("plan/preview/"), FORM | {"variety": "Row"})
        self.assertContains(page, "Raise, sow in place or buy?")
        self.assertContains(page, "not known")
        self.post("plan/prices/?crop=lettuce", mix="0.4", kwh="0.3", plant="0.5", own="0.2")
        self.assertEqual(Price.objects.count(), 4)
        page = self.client.get(self.url("plan/preview/"), FORM | {"variety": "Row"}).content.decode()
        self.assertIn("0.20", page)  # of this crop, not of any
        self.post("plan/prices/?crop=lettuce", mix="0.4", kwh="0.3", plant="0.5", own="")
        self.assertEqual(Price.objects.count(), 3)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(Price.objects.count(), 4)

    def test_what_holds_it_opens_the_ways(self) -> None:
        page = self.client.get(self.url("plan/preview/"), FORM | {"crop": "leek", "sow_on": "2026-08-20"})
        self.assertContains(page, "What else would do?")
        self.assertContains(page, "buy plants")

    def test_what_is_no_price_is_said(self) -> None:
        for typed in ("-1", "much", "1e99"):
            self.assertEqual(self.post("plan/prices/", mix=typed).status_code, 422, typed)
        self.assertFalse(Price.objects.exists())
