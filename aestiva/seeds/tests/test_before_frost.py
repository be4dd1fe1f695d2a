"""A garden that knows no frost date yet: packets and beds go in all the same; what needs days says what it waits for."""

from __future__ import annotations

from aestiva.frame.tests.garden import GardenCase, plant
from aestiva.place.models import Frost
from aestiva.season.models import Lot, Spot


class BeforeFrost(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        Frost.objects.filter(garden=self.garden).update(last_on=None, first_on=None)

    def test_packets_go_in_the_box(self) -> None:
        self.assertContains(self.client.get(self.url("seeds/")), "Put the packets on the table")
        self.post("seeds/", crop="tomato", variety="Old Ferry", packed="2025", seeds="30")
        lot = Lot.objects.get(garden=self.garden)
        page = self.client.get(self.url("seeds/"))
        self.assertContains(page, "1 packet in the box")
        self.assertContains(
            self.post("seeds/", crop="tomato", variety="Old Ferry", packed="2025"), "is in the box already"
        )
        self.assertContains(self.client.get(self.url(f"seeds/{lot.pk}/")), "will come")
        self.post(f"seeds/{lot.pk}/test/", on="2026-04-10", sown="10", up="8", days="10", method="towel")
        self.assertContains(self.client.get(self.url("seeds/")), "10 tested")
        self.assertEqual(self.client.get(self.url("seeds/orders/")).status_code, 200)

    def test_beds_are_drawn(self) -> None:
        self.post("beds/draw/", code="Bed Z", kind="bed", length_cm="300", width_cm="90", x_cm="30", y_cm="30")
        page = self.client.get(self.url("beds/"))
        self.assertContains(page, "nothing is planned for it yet")
        self.assertContains(page, "the place has a frost date")
        self.assertNotContains(page, "weekslider")
        made = Spot.objects.get(code="Bed Z")
        self.assertContains(self.client.get(self.url(f"beds/{made.pk}/")), "Bed Z is empty")
        for path in ("beds/plan.svg", "beds/list.csv", "beds/print/"):
            self.assertEqual(self.client.get(self.url(path)).status_code, 200, path)

    def test_days_wait(self) -> None:
        Frost.objects.filter(garden=self.garden).update(last_on="2026-05-09")
        plant(self.garden, self.owner, "tomato", 4)
        Frost.objects.filter(garden=self.garden).update(last_on=None)
        self.assertContains(self.client.get(self.url("beds/")), "Beds wait for a frost date")
        self.assertContains(self.client.get(self.url("seeds/")), "Tomato")  # its sowing day was kept
