"""People who come to the program for the first time, each with an errand: does it succeed without help, in how many actions?"""

from __future__ import annotations

import re
import urllib.request
from datetime import date, timedelta
from zoneinfo import ZoneInfo

import vobject
from icalendar import Calendar
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from aestiva.course.state import load
from aestiva.frame.tests.garden import TODAY, garden, plant, user
from aestiva.gardens.models import Garden, Invitation, Member
from aestiva.season.models import GardenCrop, Lot, Planting, TaskNote
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


def messy_sheet() -> str:
    """A sheet of 150 rows as somebody kept it over years: titles, own headings, four ways to write a day, slips."""
    crops = (("Tomatoes", 12), ("leeks", 60), ("Lettuce", 30), ("brocoli", 24), ("Kale", 18), ("cukes", 8), ("Basil", 20),
             ("Zinnias", 40), ("moonfruit", 3), ("Celery", 12), ("Sweet peas", 30), ("Peppers", 10), ("Courgette", 4),
             ("snaps", 50), ("Stock", 36))  # fmt: skip
    days = ("wk 16", "20 April", "3/5/2026", "April 25", "", "2026-04-18", "28 Apr")
    rows = ["Plan for the year", "typed by hand; ask before printing", "", "Plant,Kind,# plants,Start,Remarks"]
    for k in range(150):
        crop, count = crops[k % len(crops)]
        wanted = "lots" if k in (20, 77, 131) else str(count)
        day = "soon" if k == 50 else days[k % len(days)]
        rows.append(f"{crop},{'Old Ferry' if k % 3 else ''},{wanted},{day},{'again' if k % 20 == 0 else ''}")
    return "\n".join([*rows, "Total,,3000,,"])


class Spreadsheet(Journey):
    """150 rows of somebody’s own sheet, pasted: kept whole with ten decisions at most, and taken back with one tap."""

    name = "spreadsheet"

    def test_a_messy_sheet_is_kept_whole(self) -> None:
        where = self.mine()
        self.open(f"/g/{where.pk}/plan/import/")
        self.driver.execute_script("arguments[0].value = arguments[1]", self.one("#pasted"), messy_sheet())
        self.fields += 1
        self.press(".bring button.btn")
        self.assert_accessible("a sheet's preview")
        decisions = 0
        for select in self.all("select[name^='means-']"):
            text = (select.get_attribute("name") or "").removeprefix("means-")
            wanted = {"brocoli": "broccoli", "cukes": "cucumber", "moonfruit": "like:melon", "snaps": "snapdragon"}[
                text
            ]
            select.find_element(By.CSS_SELECTOR, f"option[value='{wanted}']").click()
            decisions += 1
        if self.all("input[name=order]"):
            self.touch("input[name=order][value=dmy]")
            decisions += 1
        self.touch("input[name=leave_bad]")
        decisions += 1
        self.press("button[value=look]")
        self.assertIn("146 plantings", self.text("h1"))
        self.assertEqual(Planting.objects.count(), 0)
        self.press("button[value=keep]")
        decisions += 1
        self.assertLessEqual(decisions, 10)
        self.assertEqual(Planting.objects.count(), 146)
        self.assertEqual(Planting.objects.filter(variety="Old Ferry").count(), 96)
        print(f"JOURNEY {self.name} decisions={decisions}")
        self.walked()
        self.press(".notice form button")
        self.assertEqual(Planting.objects.count(), 0)


class Drawer(Journey):
    """Fifteen packets, by keys alone: eight a packet besides its names, a minute of the program’s time at most."""

    name = "drawer"

    PACKETS = (
        ("tomatoes", "Red Gable"), ("Leek", "Old Ferry"), ("lettuces", "Market Day"), ("Basil", "Lintel"), ("brocoli", "Weir"), ("kale", "Barrow"),
        ("zinnias", "Paper Kite"), ("Courgette", "Lock"), ("peppers", "Long Shelf"), ("Celery", "Ash Pit"), ("sweet peas", "Rope Walk"),
        ("moonfruit", "First"), ("onions", "Keel"), ("stock", "Hearth"), ("cosmos", "Sill"),
    )  # fmt: skip

    def test_fifteen_packets_by_keys(self) -> None:
        where = self.mine()
        self.open(f"/g/{where.pk}/seeds/drawer/")
        self.assert_accessible("the drawer")
        keys = 0
        field = self.driver.switch_to.active_element
        for number, (crop, variety) in enumerate(self.PACKETS):
            self.assertEqual(field.get_attribute("name"), f"crop-{number}")
            for text, own in ((crop, 0), (variety, 0), ("25", 2), ("30", 2)):
                field.send_keys(text, Keys.TAB)
                keys += own + 1
                field = self.driver.switch_to.active_element
        self.assertLessEqual(keys, 8 * len(self.PACKETS))
        self.press("button.big[value=keep]")
        self.assertIn("2 rows want a word", self.text("h1"))
        self.press("button[value$=':broccoli']")
        self.one("select[name='own-11'] option[value=melon]").click()
        self.press("button.big[value=keep]")
        self.walked(most_seconds=60)
        print(f"JOURNEY {self.name} keys={keys / len(self.PACKETS):.1f} a packet besides its names")
        self.assertEqual(Lot.objects.filter(garden=where, packed_year=2025, seeds=30).count(), 15)
        self.assertEqual(GardenCrop.objects.get().relative, "melon")
        self.press(".notice form button")
        self.assertFalse(Lot.objects.exists() or GardenCrop.objects.exists())


class LateStarter(Journey):
    """The last week of June: what can still begin, planned in two taps, and nothing of it in the past."""

    name = "late starter"

    def test_what_can_still_begin(self) -> None:
        where = self.mine(simulated_on=date(2026, 6, 24))
        self.open(f"/g/{where.pk}/today/")
        self.press("main a.btn.quiet.big")
        self.assertRegex(self.text("h1"), r"^\d+ crops can still begin today")
        self.assert_accessible("the late list")
        rows = [row.text for row in self.all("section:first-of-type article.laterow")]
        shares = [int(re.match(r"(\d+) %", text)[1]) for text in rows if re.match(r"\d+ %", text)]  # type: ignore[index]
        self.assertEqual(shares, sorted(shares, reverse=True))
        self.press("article.laterow a.btn")
        self.when(lambda: "Sow " in self.text("#answer"))
        self.press("button[value=another]")
        self.walked(most_actions=4)
        planting = Planting.objects.get()
        now = load(where, date(2026, 6, 24))
        self.assertTrue(now.items)
        self.assertEqual([t.task.key for t in now.todos(date(2027, 6, 1)) if t.due < now.today], [])
        resize(self.driver, PHONE)
        self.open(f"/g/{where.pk}/plan/late/")
        self.assert_fits("the late list on a phone")
        self.assertEqual(planting.planned_on, date(2026, 6, 24))


class KeysOnly(Journey):
    """No pointer: a skip link, one Tab stop a row, arrows inside it; a task done, another put off, all by keys."""

    name = "keys only"

    def press_key(self, *keys: str) -> None:
        self.taps += len(keys)
        for key in keys:
            self.driver.switch_to.active_element.send_keys(key)

    def focused(self) -> str:
        return str(self.driver.execute_script("const e = document.activeElement; return e.innerText || e.name || e.id"))

    def goes_to(self, end: str) -> None:
        self.when(lambda: self.driver.current_url.endswith(end))

    def test_a_day_of_tasks_without_a_pointer(self) -> None:
        where = self.mine()
        for crop in ("tomato", "basil", "kale"):
            plant(where, where.members.get().user, crop, 10, sow_on=TODAY)
        self.open(f"/g/{where.pk}/today/")
        rows = self.all("#tasks article.task")
        self.assertGreaterEqual(len(rows), 3)
        for row in rows:  # one stop a row
            stops = [
                e
                for e in row.find_elements(By.CSS_SELECTOR, "a, button, input, summary")
                if e.get_attribute("tabindex") == "0"
            ]
            self.assertEqual(len(stops), 1, row.text)
        self.one("body").send_keys(Keys.TAB)
        self.press_key(Keys.TAB)
        self.assertEqual(self.focused(), "Skip to the tasks")
        self.press_key(Keys.ENTER, Keys.TAB)
        first = self.driver.execute_script("return document.activeElement.closest('article').id")
        self.press_key(Keys.ARROW_DOWN, Keys.ARROW_UP)
        self.assertEqual(self.driver.execute_script("return document.activeElement.closest('article').id"), first)
        verb = self.focused()
        self.press_key(Keys.ARROW_RIGHT)
        self.assertNotEqual(self.focused(), verb)
        self.press_key(Keys.ARROW_LEFT, Keys.ENTER)
        self.when(lambda: not self.all(f"#{first}"))
        self.assertTrue(self.driver.execute_script("return document.activeElement.closest('.task') !== null"))
        self.walked()

    def test_keys_do_what_the_help_says_on_every_page(self) -> None:
        where = self.mine()
        plant(where, where.members.get().user, "tomato", 10, sow_on=TODAY)
        for page in ("today/", "place/", "beds/", "calendar/", "settings/"):
            for key, end in (("5", "/plan/"), ("j", "/journal/")):
                self.open(f"/g/{where.pk}/{page}")
                self.one("body").send_keys(key)
                self.goes_to(end)
            self.open(f"/g/{where.pk}/{page}")
            self.one("body").send_keys("?")
            self.when(lambda: self.driver.execute_script("return document.getElementById('help').open"))
        for page, key, end in (
            ("today/", "n", "/plan/add/"),
            ("plan/", "n", "/plan/add/"),
            ("today/", "w", "/calendar/week/"),
        ):
            self.open(f"/g/{where.pk}/{page}")
            self.one("body").send_keys(key)
            self.goes_to(end)


class Zoomed(Journey):
    """Everything twice as large on a screen of 1280 × 800: nothing hangs out, nothing is lost."""

    name = "200 % zoom"

    def test_at_two_hundred_per_cent(self) -> None:
        where = self.mine()
        for crop in ("tomato", "leek", "lettuce"):
            plant(where, where.members.get().user, crop, 10, sow_on=TODAY)
        resize(self.driver, (640, 400))
        pages = ("today/", "plan/add/", "plan/late/", "seeds/drawer/", "calendar/month/", "place/")
        for page in pages:
            self.open(f"/g/{where.pk}/{page}")
            self.assert_fits(f"{page} at 200 %")
            self.assert_accessible(f"{page} at 200 %")
        self.open(f"/g/{where.pk}/today/")
        self.touch("article[id*='sow'] .do .btn")
        self.when(lambda: "Sown" in self.text("#done"))
        self.walked()


class AnotherCountry(Journey):
    """South of the equator, in a zone that belongs to no one place: asked for the latitude, and the year turned round."""

    name = "another country"

    def test_an_alias_zone_asks_and_a_southern_spring_is_in_september(self) -> None:
        self.driver.execute_cdp_cmd("Emulation.setTimezoneOverride", {"timezoneId": "Pacific/Auckland"})
        self.addCleanup(self.driver.execute_cdp_cmd, "Emulation.setTimezoneOverride", {"timezoneId": ""})
        self.open("/account/sign-up/")
        self.sign_up()
        self.when(lambda: "36.9° south" in self.text("#whereabouts"))
        self.assertIn("spring is September to November", self.text("#whereabouts"))
        self.fill("#id_timezone", "NZ")
        self.one("#id_name").send_keys("Far Side")
        self.when(lambda: "belongs to no one place" in self.text("#whereabouts"))
        self.fill("#id_timezone", "Pacific/Auckland")
        self.one("#id_name").click()
        self.when(lambda: "36.9° south" in self.text("#whereabouts"))
        self.press("form.begin button.btn")
        self.fill("#id_last_on", "2026-05-09")  # a northern habit
        self.touch("#id_guess_first")
        self.press("form button.btn.big")
        self.assertIn("is not in the half of the year with the last frost here", self.text())
        self.fill("#id_last_on", "2026-10-20")
        self.press("form button.btn.big")
        self.fill("#id_crop", "Tomato")
        self.press("button[value=another]")
        self.assertRegex(self.text(".sofar"), r"sow \w+ \d+ (August|September|October|November|December)")
        self.walked()


class SilentTray(Journey):
    """On a phone at the bench: counts of nothing, and the program says what to do about it."""

    name = "silent tray"

    def test_five_days_after_half_were_due(self) -> None:
        where = self.mine()
        owner = where.members.get().user
        planting = plant(where, owner, "tomato", 10, sow_on=TODAY)
        self.client.post(f"/g/{where.pk}/task/p{planting.pk}.sow.0/")
        up = next(i for i in load(where, TODAY).items).raised.course.steps["up"].due
        resize(self.driver, PHONE)
        Garden.objects.filter(pk=where.pk).update(simulated_on=up)
        self.open(f"/g/{where.pk}/today/")
        row = self.one("article[id*='look']").get_attribute("id")
        field = self.one(f"#{row} input[name=count]")
        self.assertEqual(field.get_attribute("value"), "")  # no number stands there that nobody counted
        self.fill(f"#{row} input[name=count]", "0")
        self.touch(f"#{row} .do .btn:not([type=button])")
        self.when(lambda: not self.all(f"#{row}"))
        Garden.objects.filter(pk=where.pk).update(simulated_on=up + timedelta(days=6))
        self.open(f"/g/{where.pk}/today/")
        said = self.text("article[id*='lift']")
        self.assertIn("Nothing up, half were due", said)
        self.assertIn("Lift one and look", said)
        self.assertRegex(self.text("article[id*='lift']"), r"sow again by \w+ \d+ \w+")
        self.assert_accessible("a silent tray")
        self.walked()


class InchesAndFahrenheit(Journey):
    """A grower with an American clock and thermometer: from the zone alone, with everything in their units."""

    name = "imperial"

    def test_the_zone_brings_its_habits(self) -> None:
        self.driver.execute_cdp_cmd("Emulation.setTimezoneOverride", {"timezoneId": "America/Chicago"})
        self.addCleanup(self.driver.execute_cdp_cmd, "Emulation.setTimezoneOverride", {"timezoneId": ""})
        self.open("/account/sign-up/")
        self.sign_up()
        self.when(lambda: "41.9° north" in self.text("#whereabouts"))
        self.fill("#id_name", "Back Row")
        self.press("form.begin button.btn")
        garden_ = Garden.objects.get()
        self.assertEqual((garden_.units, garden_.week_starts, garden_.clock), ("us", 6, "12"))
        self.fill("#id_last_on", "2027-05-09")
        self.touch("#id_guess_first")
        self.press("form button.btn.big")
        self.fill("#id_crop", "Tomato")
        self.press("button[value=another]")
        for page in (
            "today/",
            "plan/",
            "plan/late/",
            "seeds/",
            "beds/",
            "place/",
            "crops/tomato/",
            "calendar/",
            "settings/",
        ):
            self.open(f"/g/{garden_.pk}/{page}")
            text = self.driver.find_element(By.TAG_NAME, "body").text + (self.driver.title or "")
            self.assertNotRegex(text, r"\d\s?(°C|mm|cm|m|ml|l|g|kg|km/h)(?![\w²/])", page)
        self.open(f"/g/{garden_.pk}/calendar/month/")
        self.assertEqual(self.one(".month th").text, "Sun")
        self.walked()
