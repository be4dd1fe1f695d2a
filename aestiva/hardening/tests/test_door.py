"""At the door: out, in, early, how they looked, tonight; who is at home; ladders of one's own; what cannot be; all taken back."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

from django.db import connection
from django.test.utils import CaptureQueriesContext

from aestiva.bench.models import Timer
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, user
from aestiva.gardens import clock
from aestiva.gardens.models import JournalEntry, Member
from aestiva.hardening.door import door, load_of, ordinal
from aestiva.hardening.ladders import ladders_ahead
from aestiva.hardening.tonight import pots_tonight
from aestiva.place.models import ForecastNight
from aestiva.season.models import Batch, BatchEvent, OwnLadder


class DoorCase(GardenCase):
    """Kale that is up and due on its ladder, in trays on the shelf, and a mild week."""

    def lay_out(self) -> None:
        super().lay_out()
        self.kale = self.sown("kale", 8, TODAY - timedelta(days=45), spot=self.bed)
        self.post(f"batch/{self.kale.pk}/record/", kind="up", count="9", on=(TODAY - timedelta(days=38)).isoformat())
        self.post(f"batch/{self.kale.pk}/change/", what="move", spot=self.shelf.pk)
        self.week()

    def week(self, **more: Any) -> None:
        ForecastNight.objects.filter(garden=self.garden).delete()
        for n in range(7):
            given = {"tmin_c": 7.0, "tmax_c": 14.0, "cloud": 0.9, "wind_kmh": 8.0} | more
            ForecastNight.objects.create(garden=self.garden, day=TODAY + timedelta(days=n), **given)

    def back(self) -> None:
        """Take the last change back that was not taken back already."""
        entry = JournalEntry.objects.filter(undoes=None, undone_by=None).latest("pk")
        self.assertLess(self.post(f"journal/{entry.pk}/undo/").status_code, 400)

    def keys(self, kind: str) -> list[str]:
        return [t.task.key for t in self.now().todos(TODAY) if t.task.kind == kind]

    def out(self) -> None:
        self.assertEqual(self.post("door/out/keep/", task=self.keys("harden")).status_code, 302)


class Door(DoorCase):
    def test_the_page_says_what_goes_when_and_how_heavy(self) -> None:
        page = self.client.get(self.url("door/"))
        self.assertContains(page, "Carry out 9 plants from 10:00.")
        self.assertContains(page, "10:00 to 12:00")
        self.assertContains(page, "1st of 7: shade")
        self.assertContains(page, 'class="doorstrip"')
        group = door(self.now()).out[0]
        self.assertEqual((group.plants, group.trays), (9, 1))
        self.assertTrue(0.3 < group.kilos < 5, group.kilos)

    def test_out_a_timer_and_in_as_planned(self) -> None:
        self.out()
        timer = Timer.objects.get(garden=self.garden)
        self.assertEqual(round((timer.due - timer.started).total_seconds() / 3600), 2)
        page = self.client.get(self.url("door/"))
        self.assertContains(page, "Out now: 9 plants. In again by 12:00.")
        self.assertContains(page, "data-due")
        self.assertEqual(self.post("door/in/keep/", task=self.keys("bring_in")).status_code, 302)
        event = BatchEvent.objects.get(batch=self.kale, kind="outing")
        self.assertEqual((event.hours, event.wanted_hours), (2.0, 2.0))
        timer.refresh_from_db()
        self.assertIsNotNone(timer.done_at)
        self.assertContains(self.client.get(self.url("door/")), "How did they look?")
        self.back()
        timer.refresh_from_db()
        self.assertIsNone(timer.done_at)
        self.back()
        self.assertFalse(Timer.objects.exists())
        self.assertEqual(len(self.keys("harden")), 1)

    def test_brought_in_early_counts_its_hours_and_says_why(self) -> None:
        self.out()
        self.post("door/in/keep/", task=self.keys("bring_in"), reason="wind", hours="0.5")
        event = BatchEvent.objects.get(batch=self.kale, kind="outing")
        self.assertEqual((event.hours, event.note), (0.5, "brought in early: wind"))
        item = self.now().item_of(self.kale.pk)
        assert item is not None and item.raised.hardened is not None
        self.assertEqual(item.raised.hardened.climbed, 0)

    def test_what_grows_together_in_a_box_weighs_a_box_and_not_one_a_plant(self) -> None:
        onion = self.sown("onion", 108, TODAY - timedelta(days=70), spot=self.bed, sown_in="box", surplus="keep")
        up = (TODAY - timedelta(days=55)).isoformat()
        self.post(f"batch/{onion.pk}/record/", kind="up", count="108", on=up)
        self.post(f"batch/{onion.pk}/change/", what="move", spot=self.shelf.pk)
        item = self.now().item_of(onion.pk)
        assert item is not None
        load = load_of(item, 1, TODAY)
        self.assertEqual(load.trays, 1)
        self.assertTrue(1 < load.kilos < 15, load.kilos)

    def at(self, hour: float) -> Any:
        """At that hour of the garden's day."""
        moment = datetime(2026, 4, 12, tzinfo=ZoneInfo(self.garden.timezone)) + timedelta(hours=hour)
        return mock.patch.object(clock, "instant", lambda: moment)

    def test_hours_belong_to_the_batch_that_had_them(self) -> None:
        other = self.sown("kale", 8, TODAY - timedelta(days=45), spot=self.bed)
        self.post(f"batch/{other.pk}/record/", kind="up", count="9", on=(TODAY - timedelta(days=38)).isoformat())
        self.post(f"batch/{other.pk}/change/", what="move", spot=self.shelf.pk)
        first, second = (f"b{pk}.harden" for pk in (self.kale.pk, other.pk))
        with self.at(10.0):
            self.post("door/out/keep/", task=[k for k in self.keys("harden") if k.startswith(first)])
        with self.at(10.75):
            self.post("door/out/keep/", task=[k for k in self.keys("harden") if k.startswith(second)])
        self.assertEqual(Timer.objects.filter(kind="in", done_at=None).count(), 2)
        with self.at(11.0):
            self.post(
                "door/in/keep/", task=[k for k in self.keys("bring_in") if k.startswith(f"b{other.pk}.")], reason="wind"
            )
        (rings,) = Timer.objects.filter(kind="in", done_at=None)  # for the first, which is still out
        self.assertEqual(clock.hour_at(self.garden, rings.due), 12.0)
        with self.at(11.5):
            self.post("door/in/keep/", task=self.keys("bring_in"), reason="wind")
        had = dict(BatchEvent.objects.filter(kind="outing").values_list("batch_id", "hours"))
        self.assertEqual(had, {self.kale.pk: 1.5, other.pk: 0.25})
        self.assertFalse(Timer.objects.filter(done_at=None).exists())

    def test_wilting_is_a_look_as_well_and_repeats_in_shade(self) -> None:
        self.out()
        self.post("door/in/keep/", task=self.keys("bring_in"), reason="wilting", hours="2")
        self.assertTrue(self.kale.events.filter(kind="looked_limp").exists())
        self.assertNotContains(self.client.get(self.url("door/")), 'id="looks"')
        self.day(TODAY + timedelta(days=1))
        item = self.now().item_of(self.kale.pk)
        assert item is not None and item.raised.hardened is not None
        self.assertEqual(item.raised.hardened.climbed, 0)

    def test_how_they_looked_in_one_tap_and_back(self) -> None:
        self.out()
        self.post("door/in/keep/", task=self.keys("bring_in"))
        self.post("door/looked/keep/", look="looked_bleached", batch=self.kale.pk)
        self.assertTrue(self.kale.events.filter(kind="looked_bleached").exists())
        self.assertEqual(self.post("door/looked/keep/", look="looked_fine", batch=self.kale.pk).status_code, 422)
        self.back()
        self.assertFalse(self.kale.events.filter(kind="looked_bleached").exists())

    def test_one_button_sends_all_of_them_together(self) -> None:
        other = self.sown("kale", 8, TODAY - timedelta(days=45), spot=self.bed)
        self.post(f"batch/{other.pk}/record/", kind="up", count="9", on=(TODAY - timedelta(days=38)).isoformat())
        self.assertEqual(len(self.keys("harden")), 2)
        self.post("door/out/keep/", task=door(self.now()).keys_to_go)
        self.assertEqual(BatchEvent.objects.filter(kind="out").count(), 2)
        self.post("door/in/keep/", task=door(self.now()).keys_out)
        self.assertEqual(BatchEvent.objects.filter(kind="outing").count(), 2)
        self.post("door/looked/keep/", look="looked_fine", batch=door(self.now()).looked_keys)
        self.assertEqual(BatchEvent.objects.filter(kind="looked_fine").count(), 2)

    def test_posted_twice_it_is_done_once(self) -> None:
        tasks = self.keys("harden")
        for _ in range(2):
            self.post("door/out/keep/", task=tasks, key="same")
        self.assertEqual(BatchEvent.objects.filter(batch=self.kale, kind="out").count(), 1)
        self.assertEqual(self.post("door/out/keep/", task=tasks, key="other").status_code, 422)

    def test_what_cannot_be_is_named_and_writes_nothing(self) -> None:
        self.out()
        inside = self.keys("bring_in")
        for data in (
            {"task": inside, "hours": "30"},
            {"task": inside, "hours": "nan"},
            {"task": inside, "hours": "soon"},
            {"task": inside, "hours": "-1"},
            {"task": inside, "reason": "bored"},
            {"task": "b9.in.2026-04-12"},
            {"task": ""},
        ):
            self.assertEqual(self.post("door/in/keep/", **data).status_code, 422, data)
        self.assertFalse(BatchEvent.objects.filter(kind="outing").exists())

    def test_a_gale_keeps_them_in_and_says_so(self) -> None:
        self.week(wind_kmh=60.0)
        page = self.client.get(self.url("door/"))
        self.assertContains(page, "Nothing goes out today: 9 plants stay in.")
        self.assertContains(page, "Too windy")
        self.assertEqual(self.post("door/done/keep/", task=self.keys("stay_in")).status_code, 302)

    def test_hail_and_rain_are_reasons_of_their_own(self) -> None:
        self.frame.delete()
        self.week(rain_mm=20.0)
        self.assertContains(self.client.get(self.url("door/")), "Too wet")
        self.week(hail=0.6)
        self.assertContains(self.client.get(self.url("door/")), "Hail or thunder is likely")

    def test_tonight_names_what_stays_what_comes_in_and_what_a_fleece_saves(self) -> None:
        self.post(f"batch/{self.kale.pk}/change/", what="move", spot=self.frame.pk)
        for low, verdict in ((8.0, "stay"), (-2.5, "cover"), (-9.0, "in")):
            self.week(tmin_c=low, cloud=0.1, wind_kmh=2.0)
            line = pots_tonight(self.now()).lines[0]
            self.assertEqual(line.verdict, verdict, low)
        self.assertContains(self.client.get(self.url("door/")), "Must come in:")

    def test_nothing_and_no_forecast(self) -> None:
        ForecastNight.objects.all().delete()
        self.assertContains(self.client.get(self.url("door/")), "No forecast for tonight")
        Batch.objects.filter(pk=self.kale.pk).update(failed_on=TODAY)
        self.assertContains(self.client.get(self.url("door/")), "Nothing goes through the door today.")

    def test_a_frame_is_opened_in_sun_and_shut_again(self) -> None:
        self.post(f"batch/{self.kale.pk}/change/", what="move", spot=self.frame.pk)
        self.week(cloud=0.1, tmax_c=19.0)
        self.assertEqual(self.keys("vent"), [])  # it is not opened for what is carried out of it
        self.out()
        self.assertEqual(self.keys("vent"), [])
        self.post("door/in/keep/", task=self.keys("bring_in"))
        opened = self.keys("vent")
        self.assertEqual(len(opened), 1)
        self.assertContains(self.client.get(self.url("door/")), "Open the frame")
        self.assertEqual(self.keys("shut"), [])
        self.post("door/done/keep/", task=opened)
        self.assertEqual((len(self.keys("vent")), len(self.keys("shut"))), (0, 1))
        self.post("door/done/keep/", task=self.keys("shut"))
        self.assertEqual(self.keys("shut"), [])
        self.week(cloud=0.95, tmax_c=9.0)
        self.assertEqual(self.keys("vent"), [])

    def test_queries_do_not_grow_with_the_batches(self) -> None:
        def asked() -> int:
            self.client.get(self.url("door/"))
            with CaptureQueriesContext(
                connection,
            ) as found:
                self.client.get(self.url("door/"))
            return len(found)

        few = asked()
        for _ in range(3):
            more = self.sown("kale", 8, TODAY - timedelta(days=45), spot=self.bed)
            self.post(f"batch/{more.pk}/record/", kind="up", count="9", on=(TODAY - timedelta(days=38)).isoformat())
        self.assertLessEqual(asked(), few + 2)

    def test_readers_look_only(self) -> None:
        reader = user("reed")
        Member.objects.create(garden=self.garden, user=reader, role="reader")
        client = client_for(reader)
        for rest in ("door/", "hardening/", "hardening/people/"):
            page = client.get(self.url(rest))
            self.assertEqual(page.status_code, 200)
            self.assertNotContains(page, "/keep/")
        self.assertEqual(client.post(self.url("door/out/keep/"), {"task": self.keys("harden")}).status_code, 403)

    def test_ordinals(self) -> None:
        self.assertEqual(
            [ordinal(n) for n in (1, 2, 3, 4, 11, 12, 13, 21)],
            ["1st", "2nd", "3rd", "4th", "11th", "12th", "13th", "21st"],
        )


class LadderView(DoorCase):
    def test_the_picture_and_its_table(self) -> None:
        page = self.client.get(self.url("hardening/"))
        self.assertContains(page, "9 plants go out today: Kale.")
        self.assertContains(page, 'class="ladders"')
        self.assertContains(page, "forecast")
        row = ladders_ahead(self.now()).rows[0]
        self.assertEqual((row.ready, row.later), (TODAY + timedelta(days=7), 0))
        text = self.client.get(self.url("hardening/ladders.csv")).content.decode()
        self.assertEqual(len(text.strip().splitlines()), 8)

    def test_a_lost_day_moves_planting_and_says_what_it_costs(self) -> None:
        day = ForecastNight.objects.get(garden=self.garden, day=TODAY + timedelta(days=2))
        day.tmax_c = 1.0
        day.save()
        row = ladders_ahead(self.now()).rows[0]
        self.assertEqual((row.later, row.ready), (1, TODAY + timedelta(days=8)))
        self.assertContains(self.client.get(self.url("hardening/")), "1 day later")
        self.out()
        self.post("door/in/keep/", task=self.keys("bring_in"))
        item = self.now().item_of(self.kale.pk)
        assert item is not None
        self.assertEqual(item.raised.dates.out_on, row.ready)

    def test_somebody_at_home_would_save_a_day(self) -> None:
        week = {f"days-{n}-begin": "7:00" for n in range(1, 8)} | {f"days-{n}-end": "9 pm" for n in range(1, 8)}
        week |= {"days-2-begin": "", "days-2-end": ""}
        member = Member.objects.get(garden=self.garden, user=self.owner)
        self.assertEqual(self.post("hardening/people/hours/keep/", member=member.pk, **week).status_code, 302)
        found = ladders_ahead(self.now())
        self.assertEqual([d.code for d in found.rows[0].days[:3]].count(11), 1)
        assert found.saving is not None
        self.assertEqual((found.saving.day, found.saving.batches), (TODAY + timedelta(days=2), 1))
        self.assertContains(self.client.get(self.url("hardening/")), "Someone home on Tue 14 April")

    def test_nobody_on_a_ladder(self) -> None:
        Batch.objects.filter(pk=self.kale.pk).update(failed_on=TODAY)
        self.assertContains(self.client.get(self.url("hardening/")), "Nobody is on a ladder")


class Home(DoorCase):
    def test_hours_that_cannot_be_are_named(self) -> None:
        member = Member.objects.get(garden=self.garden, user=self.owner)
        for data, said in (
            ({"days-1-begin": "9:00", "days-1-end": "8:00"}, "in comes after out"),
            ({"days-1-begin": "9:00"}, "give both, or neither"),
            ({"days-1-begin": "early", "days-1-end": "9:00"}, "is no time of day"),
            ({"days-1-begin": "25:00", "days-1-end": "26:00"}, "is no time of day"),
        ):
            answer = self.post("hardening/people/hours/keep/", member=member.pk, **data)
            self.assertContains(answer, said, status_code=422)
        member.refresh_from_db()
        self.assertIsNone(member.at_home)

    def test_ones_own_hours_only_unless_owner(self) -> None:
        grower = user("finch")
        Member.objects.create(garden=self.garden, user=grower, role="grower")
        member = Member.objects.get(garden=self.garden, user=self.owner)
        answer = client_for(grower).post(
            self.url("hardening/people/hours/keep/"),
            {"member": member.pk, "days-1-begin": "7:00", "days-1-end": "8:00"},
        )
        self.assertEqual(answer.status_code, 422)

    def test_the_shelter_lets_more_wind_through(self) -> None:
        self.week(wind_kmh=30.0)
        self.assertEqual(len(self.keys("harden")), 1)  # behind a hedge 12
        self.post("hardening/people/shelter/keep/", shelter="none")
        self.assertEqual(self.keys("harden"), [])
        self.back()
        self.assertEqual(len(self.keys("harden")), 1)
        self.assertEqual(self.post("hardening/people/shelter/keep/", shelter="igloo").status_code, 422)

    def ladder(self, **more: str) -> Any:
        given = {
            "name": "Three steps",
            "spare_days": "2",
            "rungs-1-hours": "3",
            "rungs-1-sun": "0.25",
            "rungs-2-hours": "6",
            "rungs-2-sun": "1.0",
            "rungs-3-night": "1",
            "rungs-3-sun": "1.0",
        } | more
        return self.post("hardening/people/ladder/keep/", **given)

    def test_odd_numbers_and_a_name_that_is_taken_are_refused_with_what_was_typed(self) -> None:
        for odd in ("0x10", "nan", "1e400", "٣"):
            answer = self.ladder(**{"rungs-1-sun": odd, "rungs-2-hours": "x"})
            self.assertContains(answer, "Rung 1: sun: ", status_code=422)
            self.assertContains(answer, 'value="Three steps"', status_code=422)
        self.assertEqual(self.ladder().status_code, 302)
        for name in ("three steps", " THREE  steps "):
            self.assertContains(self.ladder(name=name), "already", status_code=422)

    def test_a_ladder_of_ones_own_is_made_climbed_changed_and_kept_while_climbed(self) -> None:
        self.assertEqual(self.ladder().status_code, 302)
        row = OwnLadder.objects.get(garden=self.garden)
        self.assertEqual((row.key, row.rungs), ("own1", [[3.0, 0.25, 0.0], [6.0, 1.0, 0.0], [24.0, 1.0, 1.0]]))
        self.kale.refresh_from_db()
        self.post(f"hardening/batch/{self.kale.pk}/climbs/keep/", ladder="own1", revision=self.kale.revision)
        item = self.now().item_of(self.kale.pk)
        assert item is not None
        self.assertEqual((item.raised.ladder.name, len(item.raised.ladder.rungs)), ("Three steps", 3))
        self.assertContains(
            self.post(f"hardening/people/ladder/{row.pk}/remove/"), "is climbed by 1 batch", status_code=422
        )
        self.assertEqual(
            self.ladder(row=str(row.pk), revision=str(row.revision), name="Three long steps").status_code, 302
        )
        self.assertEqual(OwnLadder.objects.get().name, "Three long steps")
        self.kale.refresh_from_db()
        self.post(f"hardening/batch/{self.kale.pk}/climbs/keep/", ladder="", revision=self.kale.revision)
        self.assertEqual(self.post(f"hardening/people/ladder/{row.pk}/remove/").status_code, 302)
        self.assertFalse(OwnLadder.objects.exists())

    def test_ladders_that_cannot_be(self) -> None:
        for more, said in (
            ({"name": ""}, "Give the ladder a name"),
            ({"spare_days": "x"}, "is not a whole number"),
            ({"rungs-1-hours": "8"}, "a ladder never goes down"),
            ({"rungs-1-hours": "two"}, "is no number"),
            ({"rungs-2-hours": "", "rungs-4-hours": "5"}, "a rung is skipped"),
            ({"rungs-1-hours": "0.1"}, "0.1 hours cannot be"),
        ):
            self.assertContains(self.ladder(**more), said, status_code=422)
        self.assertFalse(OwnLadder.objects.exists())

    def test_what_its_raising_speaks_for_stands_first(self) -> None:
        self.post(f"batch/{self.kale.pk}/change/", what="move", spot=self.frame.pk)
        self.assertContains(
            self.client.get(self.url("hardening/people/")), "two days, out of a frame: it stands in a frame"
        )
        self.assertEqual(self.post(f"hardening/batch/{self.kale.pk}/climbs/keep/", ladder="rope").status_code, 422)
