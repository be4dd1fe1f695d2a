"""Today: done, done on another day, in part, put off, skipped, taken back; each post counts once."""

from __future__ import annotations

from datetime import date, timedelta
from unittest.mock import patch

import numpy as np
import vobject
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from icalendar import Calendar

from aestiva.course.kept import forget
from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.actions import merge
from aestiva.place.models import ForecastNight, Frost, Station
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, BatchEvent, TaskMark
from aestiva.today.listing import listing
from aestiva.today.models import CalendarLink
from aestiva.today.queries import day
from aestiva.today.week import AHEAD, month, week, weeks


class Tasks(GardenCase):
    def test_sown_today_by_one_tap(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        task = self.todo("sow").task
        self.assertContains(self.client.get(self.url("today/")), f"{task.count}")
        self.post(f"task/{task.key}/")
        batch = Batch.objects.get(planting=planting)
        self.assertEqual((batch.sown_on, batch.cells, batch.per_cell), (TODAY, task.count, 2))
        self.assertEqual(accounts_of(batch).sown, 2 * (task.count or 0))
        self.assertNotIn("sow", self.kinds())

    def test_done_late_moves_what_follows_and_taking_back_restores_it(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=date(2026, 4, 5))
        item = self.now().items[0]
        planned = {k: s.day for k, s in item.raised.course.steps.items()}
        self.post(f"task/{self.todo('sow').task.key}/", on="2026-04-10")
        late = {k: s.day for k, s in self.now().items[0].raised.course.steps.items()}
        for kind in ("sow", "look", "up", "pot"):
            self.assertEqual(late[kind] - planned[kind], timedelta(days=5), kind)
        entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
        self.post(f"journal/{entry.pk}/undo/")
        back = {k: s.day for k, s in self.now().items[0].raised.course.steps.items()}
        self.assertEqual(back, planned)
        self.assertEqual((Batch.objects.count(), BatchEvent.objects.count(), TaskMark.objects.count()), (0, 0, 0))

    def test_part_done_leaves_the_rest(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        whole = self.todo("sow").task
        self.post(f"task/{whole.key}/", count="5")
        rest = self.todo("sow")
        self.assertEqual((rest.task.count, rest.part_done, rest.task.total), ((whole.count or 0) - 5, 5, whole.count))
        self.assertContains(self.client.get(self.url("today/")), "5 done")
        self.post(f"task/{rest.task.key}/")
        self.assertEqual(sum(b.cells or 0 for b in Batch.objects.all()), whole.count)
        self.assertNotIn("sow", self.kinds())

    def test_put_off_and_skip(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        key = self.todo("sow").task.key
        self.post(f"task/{key}/", what="move", to="2026-04-15")
        self.assertNotIn("sow", self.kinds())
        self.day(date(2026, 4, 15))
        self.assertIn("sow", self.kinds(date(2026, 4, 15)))
        self.post(f"task/{key}/", what="skip")
        self.assertNotIn("sow", self.kinds(date(2026, 12, 1)))

    def test_bad_days_and_counts_keep_what_was_typed(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        key = self.todo("sow").task.key
        for data, said in (
            ({"on": "2026-04-31"}, "is not a day"),
            ({"on": "2026-04-20"}, "is still to come"),
            ({"count": "twelve"}, "is not a whole number"),
            ({"count": "-4"}, "cannot be"),
            ({"count": "0"}, "0 done"),
            ({"count": "99999999"}, "cannot be"),
            ({"what": "move", "to": "2026-04-01"}, "is not after today"),
            ({"what": "move", "to": "2099-04-01"}, "more than a year away"),
        ):
            answer = self.client.post(self.url(f"task/{key}/"), data)
            self.assertContains(answer, said, status_code=422)
            typed = next(iter(data.values())) if "what" not in data else ""
            self.assertContains(answer, typed, status_code=422)
        self.assertEqual(Batch.objects.count(), 0)
        self.assertEqual(TaskMark.objects.count(), 0)

    def test_a_repeated_post_and_two_tabs_count_once(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        key = self.todo("sow").task.key
        for _ in range(2):
            self.post(f"task/{key}/", key="same-post")
        self.assertEqual(Batch.objects.count(), 1)
        answer = self.client.post(self.url(f"task/{key}/"), {"key": "other-tab"}, follow=True)
        self.assertContains(answer, "done already")
        self.assertEqual(Batch.objects.count(), 1)

    def test_looking_counting_light_and_lid(self) -> None:
        batch = self.sown("tomato", 10, TODAY)
        self.day(TODAY + timedelta(days=5))
        self.assertContains(
            self.client.post(self.url(f"task/b{batch.pk}.look.0/")), "how many are up?", status_code=422
        )
        self.post(f"task/b{batch.pk}.look.0/", count="0")
        self.post(f"task/b{batch.pk}.lamp.0/")
        self.day(TODAY + timedelta(days=7))
        count = self.todo("count")
        self.assertEqual(count.task.key, f"b{batch.pk}.count.1")
        self.post(f"task/{count.task.key}/", count=str((batch.cells or 0) * 2 - 2))
        self.assertIn("lid", self.kinds(TODAY + timedelta(days=7)))
        self.post(f"task/b{batch.pk}.lid.0/")
        self.assertEqual(
            list(batch.events.values_list("kind", flat=True)), ["sown", "up", "lamp", "up", "lid", "mat", "below"]
        )

    def test_thinning_is_an_estimate_and_planting_in_instalments(self) -> None:
        batch = self.sown("cosmos", 6, TODAY, spot=self.bed, per_cell=2)
        self.post(f"batch/{batch.pk}/record/", kind="up", count=str((batch.cells or 0) + 3))
        self.day(TODAY + timedelta(days=30))
        self.post(f"task/b{batch.pk}.thin.0/")
        self.assertEqual(accounts_of(batch).thinned, 3)
        self.assertTrue(accounts_of(batch).estimated)
        self.post(f"task/b{batch.pk}.plant.0/", count="4")
        rest = self.todo("plant")
        self.assertEqual((rest.task.count, rest.task.total, rest.part_done), (2, 6, 4))
        self.post(f"task/b{batch.pk}.plant.0/")
        self.assertEqual(accounts_of(batch).planted, 6)
        self.assertEqual(batch.stands.get(until=None).spot, self.bed)
        self.assertEqual(self.now().items[0].raised.dates.out_on, TODAY + timedelta(days=30))

    def test_a_box_is_sown_together_and_pricked_out_in_instalments(self) -> None:
        batch = self.sown("tomato", 20, date(2026, 3, 10), sown_in="box")
        seeds = accounts_of(batch).sown or 0
        self.assertEqual((batch.cells, batch.per_cell), (None, 1))
        self.assertGreater(seeds, 20)
        self.assertContains(self.client.get(self.url(f"batch/{batch.pk}/")), "sown in a box")
        self.post(f"batch/{batch.pk}/record/", kind="up", count=str(seeds - 1), on="2026-03-18")
        self.assertNotIn("pot", self.kinds(date(2027, 1, 1)))  # out of the box first
        whole = self.todo("prick")
        self.assertEqual(whole.task.count, 23)  # 20 / 0.9 = 22.2: those that die on the way are raised too
        self.post(f"task/{whole.task.key}/", count="8")
        rest = self.todo("prick")
        self.assertEqual((rest.task.count, rest.task.total, rest.part_done), (15, 23, 8))
        self.assertFalse(batch.events.filter(kind="pricked").exists())
        self.post(f"task/{rest.task.key}/")
        batch.refresh_from_db()
        now = accounts_of(batch)
        self.assertEqual((batch.cells, now.thinned, now.indoors, now.estimated), (23, seeds - 24, 23, True))
        self.assertEqual(batch.events.get(kind="pricked").count, 23)
        self.assertIn("pot", self.kinds(date(2027, 1, 1)))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        batch.refresh_from_db()
        self.assertEqual((batch.cells, self.todo("prick").task.count), (None, 15))

    def test_a_box_sown_in_two_sittings(self) -> None:
        plant(self.garden, self.owner, "celery", 20, sow_on=TODAY, sown_in="box")
        whole = self.todo("sow")
        self.assertEqual((whole.name, whole.task.unit), ("seeds to sow together", "seeds"))
        self.post(f"task/{whole.task.key}/", count="10")
        self.assertEqual(self.todo("sow").task.count, (whole.task.count or 0) - 10)

    def test_what_is_left_to_pot_up_stays_on_the_list(self) -> None:
        batch = self.sown("tomato", 12, date(2026, 3, 10))
        self.post(f"batch/{batch.pk}/record/", kind="up", count="12")
        whole = self.todo("pot").task
        self.post(f"task/{whole.key}/", count="5")
        self.assertEqual(self.todo("pot").task.count, (whole.count or 0) - 5)
        self.post(f"task/{whole.key}/")
        self.assertEqual(batch.events.get(kind="potted").count, whole.count)
        self.assertNotIn("pot", self.kinds(date(2027, 1, 1)))

    def test_errands_at_the_door_are_done_together_and_taken_back_together(self) -> None:
        batches = [self.sown(c, 8, date(2026, 3, 1)) for c in ("kale", "kale")]
        for batch in batches:
            self.post(f"batch/{batch.pk}/record/", kind="up", count="10")
        page = self.client.get(self.url("today/")).content.decode()
        self.assertIn("one by one", page)
        keys = [t.task.key for t in self.now().todos(TODAY) if t.task.kind == "harden"]
        self.client.post(self.url("tasks/"), {"task": keys, "key": "door"})
        self.assertEqual(BatchEvent.objects.filter(kind="out").count(), 2)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(BatchEvent.objects.filter(kind="out").count(), 0)

    def test_seed_in_the_frame_is_no_plant_outdoors(self) -> None:
        seed = self.sown("kale", 12)
        self.post(f"batch/{seed.pk}/change/", what="move", spot=self.frame.pk)
        self.assertContains(self.client.get(self.url("today/")), "0 plants outdoors")
        self.post(f"batch/{seed.pk}/record/", kind="up", count="9")
        self.assertContains(self.client.get(self.url("today/")), "9 plants outdoors")

    def test_what_is_carried_out_is_brought_in_with_the_hours_it_really_had(self) -> None:
        batch = self.sown("kale", 8, date(2026, 3, 1))
        self.post(f"batch/{batch.pk}/record/", kind="up", count="10")
        self.post(f"task/{self.todo('harden', TODAY).task.key}/")
        self.assertNotIn("harden", self.kinds())  # one outing a day
        self.assertContains(self.client.get(self.url("today/")), "10 plants outdoors")
        ForecastNight.objects.create(garden=self.garden, day=TODAY, tmin_c=-5, tmax_c=14, cloud=0.9, wind_kmh=9)
        found = day(self.now())
        self.assertEqual((found.nights[0].at_risk, len(found.tonight)), (10, 1))
        ForecastNight.objects.all().delete()
        task = self.todo("bring_in", TODAY).task
        self.assertIn("In by 12:00", self.client.get(self.url("today/")).content.decode())
        self.assertContains(self.client.get(self.url(f"task/{task.key}/more/")), ">hours</label>")
        self.assertContains(self.post(f"task/{task.key}/", count="30"), "30 hours cannot be", status_code=422)
        self.post(f"task/{task.key}/", count="1")
        outing = batch.events.get(kind="outing")
        self.assertEqual((outing.on, outing.hours, outing.wanted_hours), (TODAY, 1.0, 2.0))
        self.assertNotIn("bring_in", self.kinds())
        self.day(TODAY + timedelta(days=1))  # an hour of two does not count: the same rung again
        again = self.todo("harden", TODAY + timedelta(days=1)).task
        self.assertEqual(next(v.number for v in again.why.inputs if v.name == "rung"), 1)

    def test_an_outing_nobody_ended_is_asked_for_the_next_day(self) -> None:
        batch = self.sown("kale", 8, date(2026, 3, 1))
        self.post(f"batch/{batch.pk}/record/", kind="up", count="10")
        self.post(f"task/{self.todo('harden', TODAY).task.key}/")
        self.day(TODAY + timedelta(days=1))
        self.post(f"task/{self.todo('bring_in', TODAY + timedelta(days=1)).task.key}/")
        self.assertEqual(batch.events.get(kind="outing").on, TODAY)

    def test_an_outing_written_down_afterwards_has_ended(self) -> None:
        batch = self.sown("kale", 8, date(2026, 3, 1))
        self.post(f"batch/{batch.pk}/record/", kind="up", count="10")
        self.post(f"task/{self.todo('harden', TODAY).task.key}/", on=(TODAY - timedelta(days=1)).isoformat())
        self.assertEqual(batch.events.get(kind="outing").on, TODAY - timedelta(days=1))
        self.assertNotIn("bring_in", self.kinds())

    def test_keeping_in_puts_the_same_rung_off_to_tomorrow(self) -> None:
        batch = self.sown("kale", 8, date(2026, 3, 1))
        ForecastNight.objects.create(garden=self.garden, day=TODAY, tmin_c=0, tmax_c=2)
        task = self.todo("stay_in", TODAY).task
        self.post(f"task/{task.key}/")
        self.assertNotIn("stay_in", self.kinds())
        self.day(TODAY + timedelta(days=1))
        again = self.todo("harden", TODAY + timedelta(days=1)).task
        self.assertEqual((again.key, batch.events.filter(kind="outing").count()), (task.key, 0))

    def test_the_working_of_a_task_opens(self) -> None:
        plant(self.garden, self.owner, "pepper", 8, sow_on=TODAY)
        page = self.client.get(self.url(f"task/{self.todo('sow').task.key}/why/"))
        for said in ("cells to sow, 2 seeds each", "Last frost", "Treated seed", "extension practice", "Local rules"):
            self.assertContains(page, said)


class Headlines(GardenCase):
    def test_in_winter_the_first_sowing_is_named(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        self.garden.simulated_on = date(2025, 11, 23)
        self.garden.save()
        self.assertContains(self.client.get(self.url("today/")), "Nothing to do today. Your next task is on ")
        self.assertContains(self.client.get(self.url("today/")), "find or order seed for Tomato")

    def test_urgent_sentence_first(self) -> None:
        self.assertContains(self.client.get(self.url("today/")), "What would you like to raise first?")
        plant(self.garden, self.owner, "tomato", 10, sow_on=date(2026, 4, 20), lot=None)
        self.assertContains(self.client.get(self.url("today/")), "thing to do")
        self.post(f"task/{self.todo('seed').task.key}/")
        self.assertContains(
            self.client.get(self.url("today/")), "Nothing to do today. Your next task is on Mon 20 April"
        )
        batch = self.sown("lettuce", 9, TODAY)
        self.post(f"batch/{batch.pk}/change/", what="move", spot=self.frame.pk)
        self.post(f"batch/{batch.pk}/record/", kind="up", count="9")
        ForecastNight.objects.create(garden=self.garden, day=TODAY, tmin_c=-2)
        self.assertContains(
            self.client.get(self.url("today/")), "Too cold for some tonight: carry in Lettuce (9 plants)."
        )

    def test_queries_do_not_grow_with_plantings(self) -> None:
        def queries() -> int:
            forget()
            with CaptureQueriesContext(connection) as seen:
                self.client.get(self.url("today/"))
                self.client.get(self.url("plan/"))
            return len(seen)

        self.sown("tomato", 10)
        self.sown("tomato", 10)
        queries()  # the session notes once which garden was opened
        few = queries()
        for crop in ("kale", "leek", "cosmos", "zinnia"):
            for _ in range(5):
                self.sown(crop, 4)
        self.assertEqual(queries(), few)


class CalendarPage(GardenCase):
    def test_near_tasks_are_listed_and_the_rest_opens(self) -> None:
        for _ in range(9):
            self.sown("tomato", 10)
        with patch("aestiva.today.week.NEAR", 4):
            page = self.client.get(self.url("calendar/"))
            found = page.context["weeks"]
        self.assertEqual(sum(len(one.near) for one in found), 4)
        wanted = self.now().todos(TODAY + timedelta(days=AHEAD - 1))
        self.assertEqual(sum(len(one.near) + one.more for one in found), len(wanted))
        self.assertContains(page, "<li><span>", count=4)
        first = next(one for one in found if one.more)
        self.assertContains(page, f"{first.more} ")
        rows = self.client.get(self.url(f"calendar/week/{first.start.isoformat()}/"))
        self.assertContains(rows, "<li><span>", count=len(first.lines))
        for odd in ("2026-04-14", "never", "9999-99-99"):
            self.assertContains(self.client.get(self.url(f"calendar/week/{odd}/")), "Nothing is left")

    def test_what_is_overdue_stands_in_this_week(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY - timedelta(days=20))
        now = self.now()
        found = weeks(listing(now, now.todos(TODAY)).lines, TODAY)
        self.assertLessEqual(found[0].start, TODAY)
        self.assertLess(found[0].near[0].due, TODAY)


class CalendarFile(GardenCase):
    def events(self) -> dict[str, object]:
        data = self.client.get(self.url("calendar/tasks.ics")).content
        return {str(e["uid"]): e for e in Calendar.from_ical(data).walk("VEVENT")}

    def test_two_independent_readers_agree(self) -> None:
        self.sown("tomato", 10)
        plant(self.garden, self.owner, "larkspur", 20)
        data = self.client.get(self.url("calendar/tasks.ics")).content
        ours = {str(e["uid"]): e.decoded("dtstart") for e in Calendar.from_ical(data).walk("VEVENT")}
        theirs = {e.uid.value: e.dtstart.value for e in vobject.readOne(data.decode()).vevent_list}
        self.assertEqual(ours, theirs)
        self.assertGreater(len(ours), 10)

    def test_identity_stays_when_the_day_moves(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 10, sow_on=date(2026, 4, 20))
        before = self.events()
        self.post("plan/moves/keep/", moves=f"{planting.pk}.2026-04-24")
        after = self.events()
        uid = f"p{planting.pk}.sow.0@garden-{self.garden.pk}.aestiva"
        tasks = [{name for name in found if ".expected." not in name} for found in (before, after)]
        self.assertEqual(*tasks)
        self.assertEqual(after[uid].decoded("dtstart"), date(2026, 4, 24))  # type: ignore[attr-defined]
        self.assertGreater(int(after[uid]["sequence"]), int(before[uid]["sequence"]))  # type: ignore[index]

    def test_a_subscribed_calendar_hears_only_of_what_changed(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 10, sow_on=date(2026, 4, 20))
        self.post("calendar/", what="new")
        address = f"/calendar/{CalendarLink.objects.get().token}.ics"
        reader = Client()
        first = reader.get(address)
        self.assertEqual(first.status_code, 200)
        again = reader.get(address, headers={"if-none-match": first["ETag"]})
        self.assertEqual((again.status_code, again.content), (304, b""))
        self.post("plan/moves/keep/", moves=f"{planting.pk}.2026-04-24")
        moved = reader.get(address, headers={"if-none-match": first["ETag"]})
        self.assertEqual(moved.status_code, 200)
        Garden.objects.filter(pk=self.garden.pk).update(simulated_on=date(2026, 4, 13))
        tomorrow = reader.get(address, headers={"if-none-match": moved["ETag"]})
        self.assertEqual(tomorrow.status_code, 200)
        station = Station.objects.create(name="Weir", owner=self.garden)
        Frost.objects.filter(garden=self.garden).update(station=station)
        merge(station, [date(2026, 4, 1)], np.array([1.5]), np.array([9.0]))  # a device's day: no entry of a person
        more = reader.get(address, headers={"if-none-match": tomorrow["ETag"]})
        self.assertEqual(more.status_code, 200)
        merge(station, [date(2026, 4, 1)], np.array([1.5]), np.array([9.0]))
        self.assertEqual(reader.get(address, headers={"if-none-match": more["ETag"]}).status_code, 304)
        CalendarLink.objects.update(revoked=True)  # what was known is no way in
        self.assertEqual(reader.get(address, headers={"if-none-match": more["ETag"]}).status_code, 404)

    def test_a_season_far_ahead_is_in_the_calendar_too(self) -> None:
        Garden.objects.filter(pk=self.garden.pk).update(year=2040)
        self.garden.refresh_from_db()
        planting = plant(self.garden, self.owner, "tomato", 10)
        self.assertIn(f"p{planting.pk}.sow.0@garden-{self.garden.pk}.aestiva", self.events())

    def test_carrying_in_comes_with_an_alarm(self) -> None:
        batch = self.sown("lettuce", 9)
        self.post(f"batch/{batch.pk}/change/", what="move", spot=self.frame.pk)
        ForecastNight.objects.create(garden=self.garden, day=TODAY, tmin_c=-3)
        event = next(e for uid, e in self.events().items() if ".carry_in." in uid)
        self.assertEqual(len(event.walk("VALARM")), 1)  # type: ignore[attr-defined]
        self.assertEqual(str(event["location"]), "Frame")  # type: ignore[index]


class Ahead(GardenCase):
    def test_week_has_every_task_of_its_days_with_their_minutes(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=date(2026, 4, 14))
        plant(self.garden, self.owner, "kale", 6, sow_on=date(2026, 4, 6))  # overdue: stands on today
        days = {d.day: d for d in week(self.now(), TODAY)}
        self.assertIn("Kale", [t.item.name for t in days[TODAY].todos])
        after = {d.day: d for d in week(self.now(), date(2026, 4, 13))}
        sow = [t for t in after[date(2026, 4, 14)].todos if t.task.kind == "sow"]
        self.assertEqual([t.item.name for t in sow], ["Tomato"])
        self.assertEqual(max(d.share for d in after.values()), 100)
        page = self.client.get(self.url("calendar/week/?from=2026-04-13"))
        self.assertContains(page, f"<b>{after[date(2026, 4, 14)].minutes}</b> min")
        for text in ("", "?from=nonsense", "?from=1999-01-01"):
            self.assertContains(self.client.get(self.url(f"calendar/week/{text}")), "12 Apr to 18 Apr")

    def test_month_shows_its_days_and_no_others(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=date(2026, 5, 1))
        weeks = month(self.now(), date(2026, 5, 1))
        days = [d.day for w in weeks for d in w if d is not None]
        self.assertEqual((days[0], days[-1], len(days)), (date(2026, 5, 1), date(2026, 5, 31), 31))
        self.assertContains(self.client.get(self.url("calendar/month/?month=2026-05")), "cells to sow Tomato")
        for text in ("?month=never", "?month=1066-10", ""):
            self.assertContains(self.client.get(self.url(f"calendar/month/{text}")), "April 2026")

    def test_card_for_the_tray(self) -> None:
        batch = self.sown("hot_pepper", 8)
        page = self.client.get(self.url(f"batch/{batch.pk}/card/"))
        for said in ("Hot pepper", "Sun 12 April 2026", "Plant out", "burn skin"):
            self.assertContains(page, said)
