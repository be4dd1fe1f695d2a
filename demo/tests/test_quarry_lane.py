"""The demo: about thirty plantings in every stage, the same each time; days go by, tasks are done."""

from __future__ import annotations

import json
from datetime import date
from unittest import mock

from django.core.cache import cache
from django.test import Client, TestCase, override_settings

from aestiva.accounts.models import User
from aestiva.course.known import forget
from aestiva.course.state import load
from aestiva.frame.tests.garden import client_for
from aestiva.gardens import portable
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import read_document
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.models import ForecastNight
from aestiva.plan import overview
from aestiva.season.models import Batch
from aestiva.today.demo_views import step
from aestiva.today.queries import day
from demo import kanuka
from demo.hands import do_tasks
from demo.tests.imperial import ImperialPages
from demo.tests.lived import quarry_lane
from demo.walk import faults
from growing.batch.harm import harm
from growing.ladders.ahead import LadderLimits
from growing.place.minima import DailySeries


def round_trip(case: TestCase, garden: Garden) -> None:
    """The garden as a document, brought in again, is the same document."""
    document = portable.export(garden)
    again = bring_in(read_document(json.dumps(document).encode()), garden.members.get().user)
    case.assertEqual(portable.export(again), document)


class QuarryLane(ImperialPages, TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.garden = quarry_lane()

    def test_every_stage_is_there_on_the_twelfth_of_april(self) -> None:
        garden = Garden.objects.get(pk=self.garden.pk)
        self.assertEqual(garden.simulated_on, date(2026, 4, 12))
        now = load(garden, date(2026, 4, 12))
        lines = overview.lines(now)
        self.assertTrue(28 <= len(lines) <= 36, len(lines))
        self.assertGreaterEqual({one.state for one in lines}, {"planned", "sown", "up", "hardening"})
        today = day(now)
        self.assertRegex(today.headline, "things to do")
        self.assertEqual(today.tonight, [])  # −2.7 °C forecast, and the closed frame keeps what stands in it
        self.assertGreater(today.outside, 8)  # an upland spring: the pansies are out, the rest climbs its ladder
        self.assertGreaterEqual({g.where for g in today.groups}, {"door", "bench"})
        self.assertEqual(len(today.nights), 7)

    def walk(self, garden: Garden, days: int) -> None:
        owner = garden.members.get(role="owner").user
        client, found = client_for(owner), []
        for _ in range(days):
            found += faults(Garden.objects.get(pk=garden.pk), client, evening=False)
            do_tasks(Garden.objects.get(pk=garden.pk), owner)
            found += faults(Garden.objects.get(pk=garden.pk), client, evening=True)
            step(Garden.objects.get(pk=garden.pk), 1)
        self.assertEqual(found[:12], [])

    def test_a_day_of_quarry_lane(self) -> None:
        self.walk(Garden.objects.get(pk=self.garden.pk), 1)

    def test_what_a_page_worked_out_of_the_record_is_there_for_the_next(self) -> None:
        cache.clear()
        garden = Garden.objects.get(pk=self.garden.pk)
        client = client_for(garden.members.get(role="owner").user)
        for page in ("today/", "plan/", "bench/"):
            client.get(f"/g/{garden.pk}/{page}")
            with mock.patch.object(DailySeries, "grid", side_effect=AssertionError("the record was counted again")):
                self.assertEqual(client.get(f"/g/{garden.pk}/{page}").status_code, 200)

    def test_it_speaks_when_a_rule_is_silenced(self) -> None:
        garden = Garden.objects.get(pk=self.garden.pk)
        client = client_for(garden.members.get(role="owner").user)
        ForecastNight.objects.filter(garden=garden, day=garden.simulated_on).update(
            tmin_c=-12.0, cloud=0.0, wind_kmh=2.0
        )
        self.assertEqual(faults(garden, client, evening=False), [])  # the watch says so by itself
        self.addCleanup(forget)
        forget()  # what is known was worked out by the rule as it speaks
        with mock.patch("growing.plantingout.steps.harm", lambda one: harm(one)._replace(told_c=-99.0)):
            self.assertIn("nothing is said", " ".join(faults(garden, client, evening=False)))
        none = LadderLimits(-99.0, -99.0, -99.0, 0.0, 0.5)
        forget()
        with mock.patch("growing.batch.climb.limits_of", lambda *_: none):
            ForecastNight.objects.filter(garden=garden, day=garden.simulated_on).update(tmax_c=-3.0)
            self.assertIn("ordered out at", " ".join(faults(garden, client, evening=False)))

    def test_round_trip_is_equal(self) -> None:
        round_trip(self, Garden.objects.get(pk=self.garden.pk))

    def test_ledgers_of_every_batch_balance(self) -> None:
        from aestiva.season.ledgers import accounts_of

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
        open_before = len(load(garden, date(2026, 4, 12)).todos(date(2026, 4, 12)))
        done = do_tasks(garden, owner, "press")
        self.assertGreaterEqual(done, open_before)
        left = [t.task.kind for t in load(garden, date(2026, 4, 12)).todos(date(2026, 4, 12))]
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


class KanukaFlat(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.garden = kanuka.build()

    def test_four_hundred_plantings_in_every_stage_in_the_southern_spring(self) -> None:
        now = load(self.garden, date(2026, 10, 12))
        lines = overview.lines(now)
        self.assertEqual(len(lines), 400)
        self.assertEqual({one.state for one in lines}, set(overview.STATES))
        self.assertEqual(now.place.last_frost[0], date(2026, 10, 18))
        self.assertTrue(day(now).groups)

    def test_the_season_runs_across_new_year(self) -> None:
        now = load(self.garden, date(2026, 10, 12))
        for one in overview.lines(now):
            dates = one.item.raised.dates
            self.assertLess(dates.sow_on, dates.out_on)
            self.assertLess(dates.out_on, dates.first.start)
            if dates.term == "spring":
                self.assertTrue(date(2026, 2, 1) < dates.out_on < date(2027, 2, 1), one.name)
        tender = [one.days["last"] for one in overview.lines(now) if one.item.crop.hardiness == "very tender"]
        self.assertTrue(any(d and d.year == 2027 for d in tender))
        autumn = [one.item.raised.dates for one in overview.lines(now) if one.item.raised.dates.term == "autumn"]
        self.assertTrue(autumn and all(date(2026, 12, 1) < d.out_on < date(2027, 5, 1) for d in autumn))

    def test_pages_files_and_days_go_on(self) -> None:
        client = Client()
        client.force_login(self.garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
        for rest in (
            "today/",
            "plan/",
            "place/",
            "calendar/",
            "calendar/tasks.ics",
            "plan/season.svg",
            "plan/season.csv",
            "garden.json",
        ):
            self.assertEqual(client.get(f"/g/{self.garden.pk}/{rest}").status_code, 200, rest)
        client.post(f"/g/{self.garden.pk}/today/clock/", {"what": "week"})
        self.assertEqual(Garden.objects.get(pk=self.garden.pk).simulated_on, date(2026, 10, 19))

    def test_round_trip_is_equal(self) -> None:
        round_trip(self, self.garden)
