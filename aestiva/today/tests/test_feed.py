"""The feed on five days of a season, read by two independent readers: hours, alarms, what is expected, true on its own day."""

from __future__ import annotations

import re
from datetime import date, datetime, timedelta
from typing import Any

import vobject
from icalendar import Calendar

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import Garden
from aestiva.today.expected import expected

DAYS = (
    TODAY,
    TODAY + timedelta(days=4),
    TODAY + timedelta(days=20),
    TODAY + timedelta(days=45),
    TODAY + timedelta(days=80),
)


class Feed(GardenCase):
    def read(self) -> dict[str, Any]:
        """The events by their UID, where both readers say the same of them."""
        data = self.client.get(self.url("calendar/tasks.ics")).content
        ours = {str(e["uid"]): e for e in Calendar.from_ical(data).walk("VEVENT")}
        theirs = {e.uid.value: e for e in vobject.readOne(data.decode()).vevent_list}
        self.assertEqual(set(ours), set(theirs))
        for uid, event in ours.items():
            other = theirs[uid]
            self.assertEqual(event.decoded("dtstart"), other.dtstart.value, uid)
            self.assertEqual(event.decoded("dtend"), other.dtend.value, uid)
            self.assertEqual(str(event["summary"]), other.summary.value, uid)
            self.assertEqual(str(event["description"]), other.description.value, uid)
            self.assertEqual(len(event.walk("VALARM")), len(list(other.components())), uid)
        return ours

    def test_five_days_of_a_season(self) -> None:
        self.sown("lettuce", 9)
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY + timedelta(days=8))
        plant(self.garden, self.owner, "celery", 6)
        for day in DAYS:
            self.day(day)
            events = self.read()
            self.assertGreater(len(events), 8, day)
            for uid, event in events.items():
                start = event.decoded("dtstart")
                on = start.date() if isinstance(start, datetime) else start
                self.assertGreaterEqual(on, day, uid)  # nothing open lies in the past
                if ".expected." in uid:
                    self.assertTrue(str(event["summary"]).endswith("(expected)"))
                    self.assertGreater(on, day)

    def test_before_sowing_the_whole_course_is_there(self) -> None:
        planting = plant(self.garden, self.owner, "celery", 6, sow_on=TODAY + timedelta(days=7))
        found = {uid.split("@")[0].rsplit(".", 1)[1] for uid in self.read() if f"p{planting.pk}.expected." in uid}
        self.assertEqual(found, {"look", "lamp", "up", "lid", "thin", "pot", "harden", "out", "first"})

    def test_what_is_sown_in_place_is_not_planted_out_and_what_is_bought_not_sown(self) -> None:
        direct = plant(self.garden, self.owner, "carrot", 90, method="direct", sow_on=TODAY + timedelta(days=9))
        bought = plant(self.garden, self.owner, "tomato", 6, method="bought")
        steps = {(one.item.planting.pk, one.kind) for one in expected(self.now(), date(2027, 6, 1))}
        self.assertNotIn((direct.pk, "out"), steps)
        self.assertNotIn((bought.pk, "sow"), steps)
        self.assertIn((direct.pk, "first"), steps)
        self.assertIn((bought.pk, "out"), steps)

    def test_an_expected_step_gives_way_to_its_task(self) -> None:
        self.sown("tomato", 10)
        until = date(2027, 1, 1)
        now = self.now()
        tasks = {(t.item.raised.ref, t.task.kind) for t in now.todos(until)}
        steps = {(one.item.raised.ref, one.kind) for one in expected(now, until)}
        self.assertEqual(tasks & steps, set())
        self.assertIn("plant", {kind for _, kind in tasks})
        self.assertNotIn("out", {kind for _, kind in steps})

    def test_days_left_are_those_of_its_own_day(self) -> None:
        planting = plant(self.garden, self.owner, "carrot", 90, method="direct", sow_on=TODAY + timedelta(days=8))
        uid = f"p{planting.pk}.sow_direct.0@garden-{self.garden.pk}.aestiva"

        def left() -> list[str]:
            return re.findall(r"(\d+ days?) left in", str(self.read()[uid]["description"]))

        ahead = left()
        self.assertEqual(len(ahead), 1)
        self.day(TODAY + timedelta(days=8))
        self.assertEqual(left(), ahead)

    def test_an_outing_has_its_hours_in_the_gardens_time_and_two_alarms(self) -> None:
        batch = self.sown("lettuce", 9, on=TODAY - timedelta(days=30))
        self.post(f"batch/{batch.pk}/record/", kind="up", count="9")
        Garden.objects.filter(pk=self.garden.pk).update(timezone="America/New_York")
        outings = {uid: e for uid, e in self.read().items() if ".harden." in uid}
        first = next(e for e in outings.values() if e.walk("VALARM"))
        start, end = first.decoded("dtstart"), first.decoded("dtend")
        self.assertEqual(start.utcoffset(), timedelta(0))
        self.assertEqual(start.hour, 14)  # ten in the morning, daylight time
        self.assertGreaterEqual(end - start, timedelta(hours=1))
        said = [str(a["description"]) for a in first.walk("VALARM")]
        self.assertEqual([text.split(":")[0] for text in said], ["Carry out", "Carry in"])
        nights = [e for e in outings.values() if e.decoded("dtend").date() > e.decoded("dtstart").date()]
        self.assertTrue(nights)  # a night out ends the next morning

    def test_how_is_in_the_event(self) -> None:
        planting = plant(self.garden, self.owner, "celery", 6)
        text = str(self.read()[f"p{planting.pk}.sow.0@garden-{self.garden.pk}.aestiva"]["description"])
        self.assertIn("On the surface, do not cover; 16–21 °C, not on the mat.", text)
