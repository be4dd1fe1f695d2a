"""As many queries for three times as much: every address of a garden, and the posts of many at once."""

from __future__ import annotations

from datetime import timedelta

from django.core.cache import cache
from django.db import connection
from django.test.utils import CaptureQueriesContext

from aestiva.bench.models import BenchDay, Recipe, Timer
from aestiva.care.models import Ailment, AirLook, Feed, TrayLook, TrayWeight
from aestiva.frame.tests.garden import TODAY, client_for, user
from aestiva.gardens import clock
from aestiva.gardens.models import Member
from aestiva.gardens.tests.test_access import Addresses
from aestiva.place.models import ForecastNight, GardenNight, SoilReading
from aestiva.plantingout.models import CoverAtHand
from aestiva.season.models import (
    Absence,
    Batch,
    BatchEvent,
    BedArea,
    CellRun,
    Container,
    CropValue,
    GardenCrop,
    Lamp,
    LightReading,
    Lot,
    OwnLadder,
    Planting,
    Spot,
    Tray,
    WarmReading,
)

ALLOWED = 2  # queries more, for what is asked only where there is such a row at all
# what grows, by how much, and why
NAMED: dict[str, tuple[int, str]] = {}


class Growth(Addresses):
    """One garden, and the same with three times as much of everything."""

    def more(self, n: int) -> None:
        """Another of each thing that a garden has."""
        crops = ("kale", "lettuce", "tomato")
        shelf = Spot.objects.create(
            garden=self.garden, kind="shelf", code=f"S{n}", length_cm=120, width_cm=50, lit="lamp", lamp_cm=30
        )
        bed = Spot.objects.create(garden=self.garden, kind="bed", code=f"Bed {n}", length_cm=400, width_cm=120)
        container = Container.objects.create(
            garden=self.garden, name=f"Flat {n}", cells=24, length_cm=40, width_cm=20, depth_cm=5, cell_ml=50
        )
        for k, crop in enumerate(crops):
            batch = self.sown(crop, 20)
            age = 45 if k == 0 else 20
            self.age(batch, age, shelf)
            BedArea.objects.create(planting=batch.planting, spot=bed, x_cm=100 * k, y_cm=0, length_cm=90, width_cm=60)
            Ailment.objects.create(batch=batch, day=TODAY, signs="yellow", cause="wet")
            CellRun.objects.create(
                tray=self.tray, batch=batch, first=20 * n + 5 * k, count=5, since=TODAY, marks="u" * 5
            )
            tray = Tray.objects.filter(runs__batch=batch).exclude(pk=self.tray.pk).first()
            if tray is not None:
                tray.container = container
                tray.save()
                TrayLook.objects.create(tray=tray, day=TODAY - timedelta(days=1), hour=8, found="fair")
                TrayWeight.objects.get_or_create(tray=tray, defaults={"drained_g": 3000, "dry_g": 2000})
        lot = Lot.objects.create(garden=self.garden, crop_key="kale", variety=f"V{n}", packed_year=2024, seeds=200)
        Planting.objects.filter(crop_key="kale", batches__isnull=True).update(lot=lot)
        Recipe.objects.create(garden=self.garden, name=f"Mix {n}", parts=[["coir", 1]])
        BenchDay.objects.create(garden=self.garden, kind="sow", on=TODAY + timedelta(days=n))
        Lamp.objects.create(spot=shelf, kind="strip")
        LightReading.objects.create(spot=shelf, day=TODAY, what="ppfd", number=100, gap_cm=20, x_cm=20)
        Feed.objects.create(garden=self.garden, name=f"Salts {n}", n=20)
        OwnLadder.objects.create(garden=self.garden, number=n + 1, name=f"Ours {n}", rungs=[[2, 0, 0], [4, 0.5, 0]])
        CoverAtHand.objects.create(garden=self.garden, kind="cloche", pieces=n)
        Absence.objects.create(garden=self.garden, since=TODAY + timedelta(days=n), until=TODAY + timedelta(days=n + 2))
        at = clock.instant()
        Timer.objects.create(garden=self.garden, what=f"wait {n}", started=at, due=at)
        Member.objects.create(garden=self.garden, user=user(f"hand{n}"), role="grower")
        own = GardenCrop.objects.create(garden=self.garden, key=f"own{n}", name=f"Own {n}", relative="kale")
        CropValue.objects.create(garden=self.garden, crop_key=own.key, field="hold", value=10)
        AirLook.objects.create(spot=shelf, day=TODAY, hour=8, what="brushed")
        for model, more in ((GardenNight, {"tmin_c": 1.0}), (SoilReading, {"hour": 8, "celsius": 7.0})):
            model._base_manager.create(garden=self.garden, day=TODAY - timedelta(days=n), **more)
        WarmReading.objects.create(garden=self.garden, spot=shelf, day=TODAY, hour=8 + n / 10, celsius=19)
        ForecastNight.objects.create(garden=self.garden, day=TODAY + timedelta(days=n), tmin_c=3)

    def age(self, batch: Batch, days: int, shelf: Spot) -> None:
        """As if it had been sown so long ago, come up, and stood on that shelf."""
        Batch.objects.filter(pk=batch.pk).update(sown_on=TODAY - timedelta(days=days))
        BatchEvent.objects.filter(batch=batch).update(on=TODAY - timedelta(days=days))
        BatchEvent.objects.create(batch=batch, kind="up", on=TODAY - timedelta(days=days - 8), count=14)

    def counts(self) -> dict[str, int]:
        client, found = client_for(self.owner), {}
        for address in self.addresses():
            cache.clear()
            with CaptureQueriesContext(connection) as seen:
                status = client.get(address).status_code
            if status == 200:
                found[address] = len(seen)
        return found

    def lay_out(self) -> None:
        super().lay_out()
        Tray.objects.filter(pk=self.tray.pk).update(cells=200)

    def test_feeding_many_asks_no_more_than_feeding_few(self) -> None:
        found = []
        for n in (1, 2, 3):
            self.more(n)
            batches = list(Batch.objects.values_list("pk", flat=True))
            with CaptureQueriesContext(connection) as seen:
                answer = self.post("care/fed/keep/", batch=batches, n="80", key=f"fed {n}")
            self.assertEqual(answer.status_code, 302)
            found.append(len(seen))
        self.assertEqual(BatchEvent.objects.filter(kind="fed").count(), 4 + 7 + 10)
        self.assertLessEqual(found[-1], found[0] + ALLOWED, found)

    def test_three_times_as_much_asks_no_more(self) -> None:
        self.more(1)
        once = self.counts()
        self.more(2)
        self.more(3)
        thrice = self.counts()
        grown = {a: (once[a], thrice[a]) for a in once if a in thrice and thrice[a] > once[a] + ALLOWED}
        self.assertEqual(grown, {})
