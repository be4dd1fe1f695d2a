"""The whole path: read what to do and why, add a crop, get its dates, do one late, see what moves, take it back, calendar."""

from __future__ import annotations

import urllib.request
from datetime import date, timedelta

import vobject
from icalendar import Calendar
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.actions.pointer_input import PointerInput
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from aestiva.frame.tests.garden import garden, plant, user
from aestiva.gardens.models import Garden, Member
from aestiva.season.models import Planting
from e2e.browser import PHONE, WIDE, BrowserCase, DemoCase, chromium, resize


class WholePath(DemoCase):
    def test_from_a_frost_date_to_todays_jobs(self) -> None:
        # what to do today, and why
        self.go("today/")
        self.assertRegex(self.text("h1"), r"^\d+ things to do")
        self.assertIn("At the door", self.text())
        sow = self.one("article[id*='sow']")
        sow.find_element(By.CSS_SELECTOR, "a[hx-get]").click()
        self.until(lambda: "Last frost" in sow.text and "extension practice" in sow.text)

        # add a crop: its dates answer while typing
        self.press("a[href$='/plan/add/']")
        self.fill("#id_crop", "lettuces")
        self.fill("#id_wanted", "7")
        self.until(lambda: "sure of 7 plants" in self.text("#answer"))
        self.assertRegex(self.text("#answer"), r"Sow \w+ \d+ \w+, in \d+ days")
        self.fill("#id_sow_on", "2026-04-06")  # an earlier day, to be done late
        self.until(lambda: "Mon 6 April" in self.text("#answer"))
        self.press("form[method=post][novalidate] button.btn")
        planting = Planting.objects.get(wanted=7)
        self.assertEqual(planting.crop_key, "lettuce")

        # it is on Today, late; done on another day in two taps
        self.go("today/")
        key = f"p{planting.pk}.sow.0"
        article = self.one(f"#t-{key.replace('.', '-')}")
        self.assertIn("6 days ago", article.text)
        article.find_element(By.CSS_SELECTOR, "a[href$='/more/']").click()
        self.fill(f"#t-{key.replace('.', '-')} input[name=on]", "2026-04-10")
        self.press(f"#t-{key.replace('.', '-')} .others form button")
        batch = planting.batches.get()
        self.assertEqual(batch.sown_on, date(2026, 4, 10))

        # what follows has moved with it
        self.go(f"batch/{batch.pk}/")
        page = self.text()
        self.assertIn("planned Mon 6 April", page)
        self.assertRegex(page, r"Half up expected \w+ 13 April")

        # taken back with one tap
        self.go("today/")
        self.press(".done form button")
        self.assertIn("Took back", self.text())
        self.assertFalse(planting.batches.exists())
        self.assertIn("6 days ago", self.one(f"#t-{key.replace('.', '-')}").text)

        # and all of it in the calendar: the page's address, read by two readers
        self.go("calendar/")
        self.press("button[value=new]")
        address = self.one("#address").get_attribute("value") or ""
        with urllib.request.urlopen(address) as answer:
            data = answer.read()
        uids = {str(e["uid"]) for e in Calendar.from_ical(data).walk("VEVENT")}
        self.assertIn(f"{key}@garden-{self.garden.pk}.aestiva", uids)
        self.assertEqual(uids, {e.uid.value for e in vobject.readOne(data.decode()).vevent_list})

    def handle(self, planting: Planting) -> WebElement:
        found = self.one(f".handle[data-planting='{planting.pk}']")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found)
        return found

    def test_keys_on_the_picture_and_a_day_in_the_list(self) -> None:
        self.go("plan/")
        planting = Planting.objects.get(crop_key="basil")
        first = date.fromisoformat(self.handle(planting).get_attribute("data-sow") or "")
        self.handle(planting).send_keys(Keys.ARROW_RIGHT)
        for days in (1, 2):
            moved = first + timedelta(days=days)
            self.until(lambda: f"{moved:%a} {moved.day} {moved:%B}" in self.text("#answer"))  # noqa: B023
            if days == 1:
                self.until(lambda: self.driver.switch_to.active_element.send_keys(Keys.ARROW_RIGHT) is None)
        planting.refresh_from_db()
        self.assertNotEqual(planting.chosen_sow, moved)  # nothing is kept by looking
        self.press("#answer form .btn:not([type=button])")
        planting.refresh_from_db()
        self.assertEqual(planting.chosen_sow, moved)
        self.press(".notice form button")  # take back
        planting.refresh_from_db()
        self.assertNotEqual(planting.chosen_sow, moved)
        self.go("plan/")
        self.fill(f"input[data-planting='{planting.pk}']", "2026-04-30")
        self.until(lambda: "Thu 30 April" in self.text("#answer"))
        self.handle(planting).send_keys(Keys.ESCAPE)  # back to the day that is kept
        self.until(lambda: not self.text("#answer") and not self.all(".drawing .changed"))
        other = self.driver.switch_to.active_element
        other.send_keys(Keys.ARROW_DOWN)
        self.assertNotEqual(self.driver.switch_to.active_element.get_attribute("aria-label"), None)

    def test_a_seed_dragged_by_pointer_and_by_touch(self) -> None:
        planting = Planting.objects.get(crop_key="basil")
        for size, touch in ((WIDE, False), (PHONE, True)):
            resize(self.driver, size)
            self.go("plan/")
            seed = f".drawing .handle[data-planting='{planting.pk}']"
            self.until(lambda seed=seed: [h for h in self.all(seed) if h.is_displayed()])
            (handle,) = [h for h in self.all(seed) if h.is_displayed()]
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", handle)
            box = handle.rect
            x, y = round(box["x"] + box["width"] / 2), round(box["y"] + box["height"] / 2)
            top = self.driver.execute_script("return window.scrollY")
            kind = "touch" if touch else "mouse"
            hand = ActionBuilder(self.driver, mouse=PointerInput(kind, f"{kind} hand"))
            hand.pointer_action.move_to_location(x, y - round(top))
            hand.pointer_action.pointer_down()
            hand.pointer_action.move_to_location(x + 8, y - round(top))
            hand.pointer_action.move_to_location(x + 20, y - round(top))
            hand.pointer_action.pointer_up()
            hand.perform()
            self.until(lambda: "would move" in self.text("#answer"))
            self.assertIn("sow", self.text("#answer"))
            kept = planting.chosen_sow
            planting.refresh_from_db()
            self.assertEqual(planting.chosen_sow, kept)

    def test_counting_at_the_bench_on_a_phone(self) -> None:
        resize(self.driver, PHONE)
        self.go("today/")
        self.assertEqual(self.driver.execute_script("return window.innerWidth"), 390)
        self.one("article[id*='count']")
        counts = [
            (one, int(one.find_element(By.NAME, "count").get_attribute("data-last") or 0))
            for one in self.all("article[id*='count']")
        ]
        count, before = next(
            (one, n) for one, n in counts if n
        )  # the field itself is empty; the first up of a batch asks for more
        for button in count.find_elements(By.CSS_SELECTOR, "[data-add]"):
            size = button.size
            self.assertGreaterEqual(min(size["height"], size["width"]), 44)
        plus = count.find_element(By.CSS_SELECTOR, "[data-add='1']")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", plus)
        plus.click()
        row = count.get_attribute("id")
        self.driver.execute_script("window.here = true")
        self.tap(f"#{row} .do .btn:not([type=button])")
        self.assertIn(f"Count: {before + 1}", self.text("#done"))
        self.assertEqual(self.all(f"#{row}"), [])
        self.assertTrue(self.driver.execute_script("return window.here"))  # the same page all the time
        self.assertEqual(Garden.objects.get(pk=self.garden.pk).journal.latest("pk").by, "Robin of Quarry Lane")

    def test_tap_after_tap_the_list_gets_shorter_and_the_hand_stays_in_it(self) -> None:
        self.go("today/")
        self.driver.execute_script("window.here = true")
        for _ in range(3):
            bench = self.all("#rows-bench .task[id*=sow]")
            said, minutes = self.text("#headline"), self.text("#note-bench")
            row = bench[0].get_attribute("id")
            self.tap(f"#{row} .do .btn")
            self.assertEqual(self.all(f"#{row}"), [])
            self.assertNotEqual((said, minutes), (self.text("#headline"), self.text("#note-bench")))
            self.until(lambda: self.driver.execute_script("return document.activeElement.closest('.task') !== null"))
        self.assertTrue(self.driver.execute_script("return window.here"))
        self.assertGreaterEqual(len(self.all("#done li")), 3)
        self.assert_accessible("today after taps")
        whole = self.page_of_today()
        self.go("today/")  # and the page says the same when it is made anew
        self.assertEqual(self.page_of_today(), whole)

    def page_of_today(self) -> list[str]:
        said = [self.text(css) for css in ("#headline", "#note-bench")]
        said.append(
            self.text("#sub").split(" · about ")[0]
        )  # the minutes there have the round in them once it is reckoned
        return said + [str(row.get_attribute("id")) for row in self.all(".task")]

    def test_what_cannot_be_is_said_in_its_row(self) -> None:
        self.go("today/")
        row = self.one("article[id*='count']").get_attribute("id")
        self.fill(f"#{row} input[name=count]", "99999")
        self.one(f"#{row} .do .btn:not([type=button])").click()
        self.until(lambda: self.all(f"#{row} .refused"))
        self.assertIn("Nothing was written", self.text(f"#{row} .refused"))
        self.assertEqual(self.one(f"#{row} .do input[name=count]").get_attribute("value"), "99999")
        self.fill(f"#{row} .do input[name=count]", "3")
        self.one(f"#{row} .do .btn:not([type=button])").click()


class TwoBrowsers(BrowserCase):
    def test_two_people_change_one_planting(self) -> None:
        owner, other = user("wren"), user("moss")
        where = garden(owner)
        Member.objects.create(garden=where, user=other, role="grower")
        planting = plant(where, owner, "tomato", 10)
        second = chromium()
        self.addCleanup(second.quit)
        address = f"{self.live_server_url}/g/{where.pk}/plan/{planting.pk}/"
        for driver, who in ((self.driver, owner), (second, other)):
            driver.get(f"{self.live_server_url}/account/log-in/")
            driver.find_element(By.NAME, "username").send_keys(who.email)
            driver.find_element(By.NAME, "password").send_keys("a long pass phrase", Keys.ENTER)
            self.until(lambda d=driver: "/log-in/" not in d.current_url)
            driver.get(address)
        wanted = second.find_element(By.ID, "id_wanted")
        wanted.clear()
        wanted.send_keys("30", Keys.ENTER)
        self.until(lambda: Planting.objects.get().wanted == 30)
        self.fill("#id_wanted", "12")
        self.press("form[method=post][novalidate] button.btn")
        page = self.text()
        self.assertIn("Somebody changed this planting", page)
        self.assertRegex(page, r"Plants wanted 30 12")
        self.press(".narrow form button.btn")
        self.assertEqual(Planting.objects.get().wanted, 12)
