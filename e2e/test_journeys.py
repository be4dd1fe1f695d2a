"""People who come to the program for the first time, each with an errand: does it succeed without help, in how many actions?"""

from __future__ import annotations

import urllib.request
from zoneinfo import ZoneInfo

import vobject
from icalendar import Calendar

from aestiva.frame.tests.garden import TODAY, garden, plant, user
from aestiva.gardens.models import Garden, Invitation, Member
from aestiva.season.models import Planting, TaskNote
from e2e.browser import PHONE, resize
from e2e.journeys import Journey


class Beginner(Journey):
    """One thread: sign-up, place, frost, five crops, calendar."""

    name = "beginner"

    def test_from_sign_up_to_five_crops_in_a_calendar(self) -> None:
        self.driver.execute_cdp_cmd("Emulation.setTimezoneOverride", {"timezoneId": "Europe/Oslo"})
        self.addCleanup(self.driver.execute_cdp_cmd, "Emulation.setTimezoneOverride", {"timezoneId": ""})
        self.open("/account/sign-up/")
        self.sign_up()
        self.when(lambda: "59.9° north" in self.text("#whereabouts"))  # read from the device, and shown
        self.assert_accessible("a new garden")
        self.fill("#id_name", "Back Row")
        self.press("form.begin button.btn")
        self.fill("#id_last_on", "2027-05-09")
        self.touch("#id_guess_first")
        self.press("form button.btn.big")
        self.assertIn("What would you like to raise?", self.text("h1"))
        for crop, wanted in (("tomatoes", "6"), ("Leek", "40"), ("lettuces", "10"), ("Basil", "5"), ("Celery", "8")):
            self.fill("#id_crop", crop)
            self.fill("#id_wanted", wanted)
            self.press("button[value=another]")
        self.assertEqual(len(self.all(".sofar li")), 5)
        self.assert_accessible("first crops")
        self.press(".sofar a.btn")
        self.assertIn("Your next task is on", self.text("h1"))
        self.press("button[value=new]")
        address = self.one("#address").get_attribute("value") or ""
        self.walked(most_actions=40)
        garden = Garden.objects.get()
        self.assertEqual((garden.timezone, garden.latitude), ("Europe/Oslo", 59.9))
        self.assertEqual(Planting.objects.filter(season__garden=garden).count(), 5)
        with urllib.request.urlopen(address) as answer:
            data = answer.read()
        ours = {str(e["uid"]): str(e["summary"]) for e in Calendar.from_ical(data).walk("VEVENT")}
        theirs = {e.uid.value: e.summary.value for e in vobject.readOne(data.decode()).vevent_list}
        self.assertEqual(ours, theirs)
        self.assertTrue(any(s == "Celery: half up (expected)" for s in ours.values()))
        self.assertTrue(any(s == "Celery: first harvest (expected)" for s in ours.values()))
        ZoneInfo(garden.timezone)


class Invited(Journey):
    """A link in a message, no account yet: in the garden in four taps, and a word left beside a task."""

    name = "invited"

    def test_from_a_link_into_the_garden(self) -> None:
        owner = user("wren")
        where = garden(owner)
        plant(where, owner, "tomato", 10, sow_on=TODAY)
        link = Invitation.objects.create(
            garden=where, role="reader", made_by=owner, expires="2099-01-01T00:00:00+00:00"
        )
        resize(self.driver, PHONE)
        self.open(f"/join/{link.token}/")
        self.assertIn("Wren invites you to Test Row", self.text("h1"))
        self.assert_accessible("an invitation")
        self.press("main a.btn.big")
        self.sign_up("moss@garden.example", "Moss")
        self.press("main form button.btn.big")
        self.assertEqual(self.taps, 4)
        self.assertIn(f"/g/{where.pk}/today/", self.driver.current_url)
        self.assertIn("Welcome to Test Row", self.text())
        self.assertEqual(Member.objects.get(user__name="Moss").role, "reader")
        self.touch("a[href$='/note/']")
        self.fill(".whybox input[name=text]", "only half was dry")
        self.press(".whybox button.btn")
        self.assertIn("“only half was dry”", self.text(".task"))
        self.assertEqual(TaskNote.objects.get().by, Member.objects.get(user__name="Moss").user)
        self.press(".notice form button")  # and taken back
        self.assertEqual(TaskNote.objects.count(), 0)
        self.walked()
