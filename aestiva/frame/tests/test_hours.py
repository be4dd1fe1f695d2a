"""An hour of the day is read in one way wherever it is typed."""

from __future__ import annotations

from datetime import timedelta
from unittest import TestCase

from aestiva.frame.forms import clock_hour
from aestiva.frame.say import clock_said
from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.gardens.models import Member
from aestiva.place.models import SoilReading


class Hours(TestCase):
    def test_as_people_type_it(self) -> None:
        for text, hour in (
            ("7", 7.0), ("7:30", 7.5), ("7.30", 7.5), (" 7.30 PM ", 19.5), ("12 am", 0.0), ("12:15pm", 12.25), ("24", 24.0),
            ("0:00", 0.0),
        ):  # fmt: skip
            self.assertEqual(clock_hour(text), hour, text)
        for text in ("13 pm", "0 am", "7.5", "24:01", "7:60", "half past", "25", "-1", "7.3", "", "٧"):
            with self.assertRaises(ValueError, msg=text):
                clock_hour(text)

    def test_it_is_said_as_it_is_typed(self) -> None:
        for minutes in range(0, 24 * 60 + 1, 7):
            self.assertAlmostEqual(clock_hour(clock_said(minutes / 60)), minutes / 60)


class Pages(GardenCase):
    def test_half_past_seven_is_that_at_the_door_and_at_the_probe(self) -> None:
        self.post("place/readings/", which="soil", day=TODAY.isoformat(), celsius="9", hour="7.30")
        self.assertEqual(SoilReading.objects.get().hour, 7.5)
        answer = self.post(
            "place/readings/", which="soil", day=(TODAY - timedelta(days=1)).isoformat(), celsius="9", hour="13 pm"
        )
        self.assertContains(answer, "before am or pm stands 1 to 12", status_code=answer.status_code)
        self.assertContains(answer, 'value="13 pm"', status_code=answer.status_code)
        member = Member.objects.get(garden=self.garden, user=self.owner)
        self.post(
            "hardening/people/hours/keep/", member=str(member.pk), **{"days-1-begin": "7.30", "days-1-end": "5 pm"}
        )
        self.assertEqual(Member.objects.get(pk=member.pk).at_home[0], [7.5, 17.0])
        answer = self.post(
            "hardening/people/hours/keep/", member=str(member.pk), **{"days-1-begin": "13 pm", "days-1-end": "5 pm"}
        )
        self.assertContains(answer, "Monday: from: “13 pm” is no time of day", status_code=422)
