"""The demo: about thirty plantings in every stage, the same each time; days go by, tasks are done."""

from __future__ import annotations

from datetime import date, timedelta

from django.test import Client, TestCase, override_settings

from aestiva.accounts.models import User
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.models import ForecastNight
from aestiva.plan import overview
from aestiva.plan.queries import sheet
from aestiva.season.models import Batch
from aestiva.today.queries import day
from demo.scenario import build
from demo.simulation import do_tasks, step


class QuarryLane(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.garden = build()

    def test_every_stage_is_there_on_the_twelfth_of_april(self) -> None:
        garden = Garden.objects.get(pk=self.garden.pk)
        self.assertEqual(garden.simulated_on, date(2026, 4, 12))
        now = sheet(garden, date(2026, 4, 12))
        lines = overview.lines(now)
        self.assertTrue(28 <= len(lines) <= 34, len(lines))
        self.assertGreaterEqual({one.state for one in lines}, {"planned", "sown", "up", "hardening"})
        today = day(now)
        self.assertIn("tonight", today.headline)
        self.assertGreaterEqual({g.where for g in today.groups}, {"door", "bench"})
        self.assertEqual(len(today.nights), 7)

    def test_ledgers_of_every_batch_balance(self) -> None:
        from aestiva.season.actions import accounts_of

        for batch in Batch.objects.all():
            now = accounts_of(batch)
            if now.emerged is not None and now.indoors is not None:
                gone = now.thinned + now.died + now.given + now.moved + now.planted
                self.assertEqual(now.emerged + now.received, gone + now.indoors)

    def test_next_day_brings_weather_and_leaves_the_tasks(self) -> None:
        garden = Garden.objects.get(pk=self.garden.pk)
        before = ForecastNight.objects.get(garden=garden, day=date(2026, 4, 14)).tmin_c
        batches = Batch.objects.count()
        step(garden, 1, "once")
        self.assertEqual(Garden.objects.get(pk=garden.pk).simulated_on, date(2026, 4, 13))
        self.assertNotEqual(ForecastNight.objects.get(garden=garden, day=date(2026, 4, 14)).tmin_c, before)
        self.assertEqual(Batch.objects.count(), batches)
        self.assertEqual(JournalEntry.objects.filter(garden=garden).latest("pk").by, "simulation")

    def test_tasks_done_for_me_can_each_be_taken_back(self) -> None:
        garden = Garden.objects.get(pk=self.garden.pk)
        owner = User.objects.get(email="robin@quarry-lane.example")
        open_before = len(sheet(garden, date(2026, 4, 12)).todos(date(2026, 4, 12)))
        done = do_tasks(garden, owner, "press")
        self.assertGreaterEqual(done, open_before)
        left = [t.task.kind for t in sheet(garden, date(2026, 4, 12)).todos(date(2026, 4, 12))]
        self.assertEqual(left, [])
        from aestiva.gardens.journal import Repeated

        with self.assertRaises(Repeated):
            do_tasks(garden, owner, "press")

    def test_a_week_by_the_buttons(self) -> None:
        with override_settings(DEMO=True):
            client = Client()
            answer = client.post("/demo/", follow=True)
            self.assertContains(answer, "Quarry Lane")
            for what in ("tasks", "week", "tasks"):
                answer = client.post(
                    f"/g/{self.garden.pk}/today/clock/", {"what": what, "key": what + str(id(answer))}, follow=True
                )
                self.assertEqual(answer.status_code, 200)
        garden = Garden.objects.get(pk=self.garden.pk)
        self.assertEqual(garden.simulated_on, date(2026, 4, 19))


class Reproducible(TestCase):
    def test_the_same_season_twice(self) -> None:
        states = []
        for _ in range(2):
            garden = build(until=date(2025, 12, 20) + timedelta(days=60))
            now = sheet(garden, garden.simulated_on or date.min)
            states.append([(one.name, one.state, one.days, one.cells) for one in overview.lines(now)])
        self.assertEqual(states[0], states[1])
