"""The day of planting out is one day on every page: chosen or reckoned, later where ladder, ground or a gate holds it, as it happened."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.beds.queries import standing
from aestiva.frame.tests.garden import GardenCase
from aestiva.place.models import SoilReading
from aestiva.plan import overview
from aestiva.plantingout.asked import at_the_gates
from aestiva.plantingout.models import BedState
from aestiva.season.models import Batch, BatchEvent, BedArea
from growing.ladders.ladder import ladders

TODAY = date(2026, 5, 4)  # past every date of frost and soil that holds kale here


class OneDay(GardenCase):
    garden_values = {"simulated_on": TODAY}

    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.ready("kale")

    def ready(self, crop: str) -> Batch:
        """Sown long ago, hardened, and to be planted today."""
        batch = self.sown(crop, 8, TODAY - timedelta(days=50), spot=self.bed)
        self.post(f"batch/{batch.pk}/record/", kind="up", count="9", on=(TODAY - timedelta(days=43)).isoformat())
        rungs = ladders()["seven"].rungs
        for n, rung in enumerate(rungs):
            day = TODAY - timedelta(days=len(rungs) - n)
            BatchEvent.objects.create(batch=batch, kind="outing", on=day, hours=rung.hours, wanted_hours=rung.hours)
        batch.planting.chosen_out = TODAY
        batch.planting.save()
        return batch

    def days(self) -> dict[str, date]:
        """The day as each page has it."""
        now = self.now()
        pk = self.batch.planting_id
        line = next(one for one in overview.lines(now) if one.planting_id == pk)
        row = next(r for r in at_the_gates(now).rows if r.batch == self.batch.pk)
        task = next(t for t in now.todos(now.horizon, ("plant",)) if t.item.planting.pk == pk)
        assert line.days["out"] is not None
        return {
            "Plan": line.days["out"],
            "Planting out": row.out_on,
            "Today": task.due,
            "Beds": standing(self.garden).dates[pk].out_on,
        }

    def one(self) -> date:
        found = self.days()
        self.assertEqual(len(set(found.values())), 1, found)
        return found["Plan"]

    def because(self) -> str:
        return self.now().items[0].raised.dates.out_because

    def test_a_bed_that_smears_moves_the_day_everywhere_with_its_reason(self) -> None:
        before = self.one()
        BedState.objects.create(spot=self.bed, day=TODAY, state="wet")
        after = self.one()
        self.assertGreater(after, max(before, TODAY))
        self.assertEqual(self.because(), "held")
        page = self.client.get(self.url("plantingout/"))
        self.assertContains(page, f"Wait until {after:%a %-d %B}")
        self.assertContains(self.client.get(self.url(f"plan/{self.batch.planting_id}/")), "Held by its bed")
        self.assertNotIn("plant", {t.task.kind for t in self.now().todos(TODAY)})

    def test_a_probe_in_cold_soil_moves_it_and_warm_soil_lets_it_go(self) -> None:
        for n in range(3):
            SoilReading.objects.create(garden=self.garden, day=TODAY - timedelta(days=n), hour=9.0, celsius=-1.0)
        self.one()
        SoilReading.objects.update(celsius=14.0)
        self.one()
        self.assertNotEqual(self.because(), "held")

    def test_ground_waits_for_what_stands_on_it_as_it_stands(self) -> None:
        self.batch = self.ready("lettuce")
        follower = self.sown("kale", 6, TODAY, spot=self.bed)
        for planting in (self.batch.planting, follower.planting):
            BedArea.objects.create(planting=planting, spot=self.bed, x_cm=0, y_cm=0, length_cm=100, width_cm=100)
        dates = standing(self.garden).dates
        first = dates[self.batch.planting_id]
        free = self.now().shared.dating.on_ground(follower.planting)  # type: ignore[union-attr]
        assert free is not None
        self.assertEqual((free.day, free.after), (first.last + timedelta(days=1), self.batch.planting_id))
        BedState.objects.create(
            spot=self.bed, day=TODAY, state="wet"
        )  # the first goes out later: its ground is free later
        later = standing(self.garden).dates[self.batch.planting_id]
        self.assertGreater(later.last, first.last)
        moved = self.now().shared.dating.on_ground(follower.planting)  # type: ignore[union-attr]
        assert moved is not None
        self.assertEqual(moved.day, later.last + timedelta(days=1))
