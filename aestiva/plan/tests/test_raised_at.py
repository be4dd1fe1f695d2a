"""Where it is raised: its assumed warmth moves sowing, not planting out; order by, chill, soak and containers with their ends."""

from __future__ import annotations

from aestiva.frame.tests.garden import GardenCase, plant
from aestiva.season.models import Planting, Spot

FORM = {"crop": "Pepper", "wanted": "6", "method": "raised", "term": "spring"}


class RaisedAt(GardenCase):
    def test_a_heated_room_is_assumed_and_said(self) -> None:
        spot = Spot.objects.create(garden=self.garden, kind="room", code="Laundry", heated="room")
        self.post("plan/add/", **FORM, raised_at=str(spot.pk))
        planting = Planting.objects.get()
        self.assertEqual(planting.raised_at, spot)
        page = self.client.get(self.url(f"plan/{planting.pk}/"))
        self.assertContains(page, "Raised at")
        self.assertContains(page, "instead of")
        dates = self.now().items[0].raised.dates
        Planting.objects.update(raised_at=None)
        plain = self.now().items[0].raised.dates
        self.assertEqual(dates.out, plain.out)
        self.assertNotEqual(dates.sow, plain.sow)

    def test_nobody_said_how_it_is_heated_so_nothing_is_assumed(self) -> None:
        plant(self.garden, self.owner, "pepper", 6)
        plain = self.now().items[0].raised.dates
        Planting.objects.update(raised_at=Spot.objects.create(garden=self.garden, kind="porch", code="Porch"))
        self.assertEqual(self.now().items[0].raised.dates.sow, plain.sow)

    def test_what_comes_before_and_in_what_it_stands(self) -> None:
        page = self.client.get(self.url("plan/preview/"), FORM)
        self.assertContains(page, "Order by")
        self.assertContains(page, "Stands in")
        cold = self.client.get(self.url("plan/preview/"), FORM | {"crop": "Sweet pea"})
        self.assertContains(cold, "Soak")
        self.assertContains(cold, "no longer than the morning of")
