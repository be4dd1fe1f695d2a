"""What lies in a box outdoors, or stands nobody said where, is on every page that speaks of what lives."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.care.round import NOT_SAID, the_round
from aestiva.emergence.boxes import boxes
from aestiva.frame.tests.garden import GardenCase, plant
from aestiva.hardening.tonight import pots_tonight
from aestiva.place.models import ForecastNight
from aestiva.season.models import Batch, Planting
from aestiva.today.listing import outside

JANUARY = date(2026, 1, 20)


class Nowhere(GardenCase):
    garden_values = {"simulated_on": JANUARY}

    def on(self, day: date) -> None:
        self.garden.simulated_on = day
        self.garden.save()

    def boxed(self) -> Batch:
        planting = plant(self.garden, self.owner, "sweet_pea", 20, method="winter", sow_on=JANUARY)
        self.post(f"task/p{planting.pk}.sow.0/", count="40")
        return Batch.objects.get(planting=planting)

    def test_a_box_is_on_emergence_and_care_until_it_is_planted(self) -> None:
        batch = self.boxed()
        self.assertEqual([b.batch_pk for b in boxes(self.now())], [batch.pk])
        self.assertContains(self.client.get(self.url("emergence/")), "In boxes outdoors")
        self.assertContains(
            self.client.get(self.url("emergence/")), "1 box outdoors: look into the box of Sweet pea Tue 27 January"
        )
        self.assertContains(self.client.get(self.url("care/")), "In boxes outdoors:")
        self.assertNotIn(f"b{batch.pk}", [s.key for s in the_round(self.now()).stops])
        self.on(JANUARY + timedelta(days=7))
        self.assertContains(self.client.get(self.url("today/")), "Sweet pea")

    def test_its_seedlings_stand_outdoors_for_today_tonight_and_the_frost_watch(self) -> None:
        batch = self.boxed()
        day = JANUARY + timedelta(days=60)
        self.on(day)
        ForecastNight.objects.create(garden=self.garden, day=day, tmin_c=-14.0, cloud=0.0, wind_kmh=0.0)
        self.assertEqual(outside(self.now().items[0].raised), 0)  # it lies yet, for all that anybody said
        self.post(f"emergence/{batch.pk}/count/keep/", count="31")
        now = self.now()
        self.assertEqual(boxes(now)[0].up, 31)
        self.assertEqual(outside(now.items[0].raised), 31)
        self.assertEqual([(one.plants, one.kind) for one in pots_tonight(now).lines], [(31, "box")])
        self.assertEqual([t.task.count for t in now.todos(day) if t.task.kind == "carry_in"], [31])

    def test_what_stands_nobody_said_where_is_watered_like_all_else(self) -> None:
        self.on(date(2026, 4, 12))
        planting = Planting.objects.get(pk=plant(self.garden, self.owner, "tomato", 6, sow_on=date(2026, 4, 12)).pk)
        self.post(f"task/p{planting.pk}.sow.0/", count="9")
        batch = Batch.objects.get(planting=planting)
        stop = the_round(self.now()).stops[0]
        self.assertEqual((stop.key, stop.place), (f"b{batch.pk}", NOT_SAID))
        page = self.client.get(self.url("care/"))
        self.assertContains(page, NOT_SAID)
        self.assertEqual(self.post("care/look/keep/", stop=stop.key, found="fair", watered="").status_code, 302)
        self.assertEqual(len(the_round(self.now()).done), 1)
