"""At the door with one thumb: out, the timer, in early, the look, tonight, each taken back; ladders and gates by keys on a wide page."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from aestiva.bench.models import Timer
from aestiva.course.state import load
from aestiva.gardens import clock
from aestiva.hardening.door import door
from aestiva.place.models import ForecastNight
from aestiva.season.models import BatchEvent, TaskMark
from e2e.browser import PHONE, WIDE, DemoCase, resize


class Door(DemoCase):
    def take_back(self) -> None:
        self.press(".notice form button")

    def events(self, kind: str) -> int:
        return BatchEvent.objects.filter(kind=kind, batch__planting__season__garden=self.garden).count()

    def test_pages_are_accessible_and_fit(self) -> None:
        self.assert_pages(["door/", "hardening/", "hardening/people/", "plantingout/", "tonight/"])

    def test_out_in_early_and_how_they_looked_with_one_thumb(self) -> None:
        resize(self.driver, PHONE)
        self.go("door/")
        out, had = self.events("out"), self.events("outing")
        sent = len(door(load(self.garden, clock.today(self.garden))).out)
        self.assertGreater(sent, 0)
        button = self.one(".doormain .bigbtn")
        self.assertGreaterEqual(button.size["height"], 44)
        self.assertLess(
            button.location["y"] - self.driver.execute_script("return scrollY"),
            844,
            "under the thumb without scrolling",
        )
        button.click()
        self.until(lambda: self.events("out") > out)
        self.until(lambda: self.driver.find_elements("css selector", ".soaking .left"))
        self.assertIn("Out now", self.text("h1"))
        self.assertTrue(Timer.objects.filter(garden=self.garden, done_at=None, what__startswith="carry in").exists())
        self.assert_fits("the door with plants out")
        self.press(".fourbtns button[value='wind']")
        self.until(lambda: self.events("outing") > had)
        self.until(lambda: self.driver.find_elements("css selector", "#looks"))
        looked = self.events("looked_fine")
        self.press("#looks button[value='looked_fine']")
        self.until(lambda: self.events("looked_fine") > looked)
        self.until(lambda: "Looked fine" in self.text(".notice"))
        self.take_back()
        self.until(lambda: self.events("looked_fine") == looked)

    def test_carried_out_by_mistake_is_taken_back(self) -> None:
        resize(self.driver, PHONE)
        self.go("door/")
        out = self.events("out")
        self.press(".doormain .bigbtn")
        self.until(lambda: self.events("out") > out)
        self.until(lambda: "Carried out" in self.text(".notice"))
        self.take_back()
        self.until(lambda: self.events("out") == out)
        self.assertFalse(Timer.objects.filter(garden=self.garden, done_at=None, what__startswith="carry in").exists())

    def test_tonight_is_carried_in_on_a_phone(self) -> None:
        ForecastNight.objects.filter(garden=self.garden, day=clock.today(self.garden)).update(
            tmin_c=-9.0, cloud=0.0, wind_kmh=2.0
        )
        resize(self.driver, PHONE)
        self.go("door/")
        self.assertIn("Must come in", self.text(".tonightline"))
        self.go("tonight/")
        self.assertTrue(self.all(".potlist li"))
        self.assert_fits("tonight on a phone")

        def carried() -> int:
            marks = TaskMark.objects.filter(garden=self.garden, key__contains=".carry_in.")
            return marks.filter(done_on=clock.today(self.garden)).count()

        before = carried()
        self.press(".doorform .bigbtn")
        self.until(lambda: carried() > before)
        self.take_back()
        self.until(lambda: carried() == before)

    def test_ladders_and_gates_by_keys(self) -> None:
        resize(self.driver, WIDE)
        self.go("today/")
        self.one("body").send_keys("0")
        self.until(lambda: "/hardening/" in self.driver.current_url)
        self.assertTrue(self.all(".ladders .rowlink"))
        self.one("body").send_keys("p")
        self.until(lambda: "/plantingout/" in self.driver.current_url)
        link = self.one(".gates tbody tr a")
        link.send_keys(Keys.ENTER)
        self.until(lambda: "What planting is worth" in self.text("main"))
        self.assert_accessible("one batch at the gates")
        self.assertTrue(self.all(".worthline .worthpost"))
        self.one("main details summary").click()
        self.until(lambda: self.one(".worthtable tbody tr").is_displayed())
