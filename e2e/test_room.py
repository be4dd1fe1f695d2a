"""Room in the browser: an overflow seen, mended and taken back; days away and the printed sheet; the search left and come back to."""

from __future__ import annotations

import base64
import io
import re
import threading
import time
from typing import Any
from unittest import mock

import pypdfium2
import requests
from django.db import connection
from selenium.webdriver.common.keys import Keys

from aestiva.bench.models import HelpLink, Turn
from aestiva.gardens import jobs
from aestiva.gardens.models import Member
from aestiva.season.models import Absence, Goes, Planting, Spot
from e2e.browser import PHONE, DemoCase, resize
from growing.bench import bestdays


class Room(DemoCase):
    def test_every_page_is_accessible_and_fits(self) -> None:
        gone = Absence.objects.filter(garden=self.garden)[0]
        melon = Planting.objects.get(season__garden=self.garden, crop_key="melon")
        link = HelpLink.objects.create(garden=self.garden, since=gone.since, until=gone.until, expires=gone.until)
        self.go("bench/")
        mend = self.one(".mends .btn").get_attribute("href") or ""
        self.assert_pages((
            "bench/?at=2026-05-06", "bench/room/", "bench/room/repairs/", mend.split(f"/g/{self.garden.pk}/")[1],
            f"bench/comes-up/{melon.pk}/", "hands/", f"away/{gone.pk}/sheet/", "best-days/",
        ))  # fmt: skip
        self.open(f"/help/{link.token}/")
        self.assert_accessible("help")
        self.assert_fits("help")

    def test_an_overflow_is_seen_mended_and_taken_back(self) -> None:
        self.go("bench/")
        self.assertRegex(self.text("h1"), r"Room in the cold frame runs out on Thu 16 April, by \d+ trays")
        slide = self.one("#slide")
        self.driver.execute_script("arguments[0].focus()", slide)
        slide.send_keys(Keys.ARROW_RIGHT * 6)
        self.until(lambda: "As it will stand on Sat 18 April" in self.text("#front"))
        self.until(lambda: any(float(n) > 6 for n in re.findall(r"([\d.]+) of 6", self.text("#room"))))
        self.fill("#at", "2026-05-20")
        self.until(lambda: "As it will stand on Wed 20 May" in self.text("#front"))
        self.go("bench/")
        before = Goes.objects.count()
        self.press(".bestset a")
        self.assertIn("That mends it", self.text("h1"))
        self.assertEqual(Goes.objects.count(), before)  # nothing is kept by looking
        self.press("main form .btn:not(.quiet)")
        self.assertNotIn("runs out", self.text("h1"))
        self.assertIn("It can be taken back", self.text(".notice"))
        self.press(".notice form button")
        self.go("bench/")
        self.assertRegex(self.text("h1"), r"runs out on Thu 16 April, by \d+ trays")

    def test_the_plan_answers_with_the_room_below_it(self) -> None:
        self.go("plan/")
        self.until(lambda: self.all("#roomstrip svg.roomstrips"))
        self.assertRegex(self.text("#roomstrip"), r"\d+ trays over")

    def test_days_away_and_the_sheet_for_a_helper(self) -> None:
        self.go("plan/away/")
        self.fill("#id_since", "2026-04-24")
        self.fill("#id_until", "2026-04-30")
        self.press("form[method=get] .btn")
        self.press(".answer form .btn")
        gone = Absence.objects.get(garden=self.garden, since="2026-04-24")
        self.go(f"away/{gone.pk}/sheet/")
        self.assertIn("a helper has", self.text("h1"))
        self.assertIn("Fri 24 April", self.text(".handsheet"))
        pdf = base64.b64decode(self.driver.print_page())
        printed = "".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(io.BytesIO(pdf)))
        self.assertIn("Every day", printed)
        self.assertIn("Thu 30 April", printed)
        self.assertNotIn("Make an address", printed)
        self.press("button[value=make]")
        address = self.one("#address").get_attribute("value") or ""
        answer = requests.get(address, timeout=20)
        self.assertIn("Every day", answer.text)
        self.press("button[name=end]")
        self.assertEqual(requests.get(address, timeout=20).status_code, 404)

    def test_a_turn_taken_on_a_phone_and_minutes_said(self) -> None:
        resize(self.driver, PHONE)
        self.go("hands/")
        self.press(".turns form .btn")
        self.until(lambda: Turn.objects.exists())
        self.go("today/")
        self.assertIn(Turn.objects.get().member.user.get_short_name(), self.text("#w-door") + self.text("#w-bench"))
        self.go("hands/")
        for k in range(7):
            self.fill(f"input[name='days-{k + 1}-minutes']", "20")
        self.press(".minutesform .btn")
        self.assertEqual(Member.objects.get(garden=self.garden, minutes__isnull=False).minutes, [20] * 7)
        self.assertIn("too many", self.text())

    def test_a_place_to_come_up_is_chosen_and_a_reading_kept(self) -> None:
        melon = Planting.objects.get(season__garden=self.garden, crop_key="melon")
        self.go(f"bench/comes-up/{melon.pk}/")
        self.assertIn("comes up best on", self.text("h1"))
        self.press(".comes form .btn:not(.quiet)")
        if "all the same" in self.text():  # part of it stays away even there
            self.press("main form .btn:not(.quiet)")
        melon.refresh_from_db()
        self.assertIsNotNone(melon.germinates_at)
        self.fill(".askrow input[name=reading]", "12.5")
        self.press(".askrow .btn")
        self.assertTrue(any(12.5 in (s.months_c or []) for s in Spot.objects.filter(garden=self.garden)))

    def test_the_search_is_left_and_come_back_to(self) -> None:
        real = bestdays.solve

        def slow(task: Any, seconds: float, tell: Any = None, start: Any = None) -> Any:
            for step in range(8):
                time.sleep(0.5)
                tell(step / 10, 40.0 - step, 20.0)
            return real(task, 5, None, start)

        def later(pk: int) -> None:
            def work() -> None:
                jobs.run(pk)
                connection.close()

            thread = threading.Thread(target=work)
            threads.append(thread)
            thread.start()

        threads: list[threading.Thread] = []
        with mock.patch.object(jobs, "run_job", mock.Mock(enqueue=later)), mock.patch.object(bestdays, "solve", slow):
            self.go("best-days/")
            self.press(".answer form .btn")
            self.until(lambda: "best so far" in self.text())
            self.go("plan/")  # left
            self.go("best-days/")
            self.assertIn("A search is under way", self.text())
            self.press(".overtaken .btn")
            self.until(lambda: "No plan at all uses fewer than" in self.text())
            for thread in threads:
                thread.join()
        self.assertIn("Best found", self.text())
        links = self.all("main .two .btn")
        if links:
            links[0].click()
            self.until(lambda: "would move" in self.text())
            self.press("form[action$='moves/keep/'] .btn:not(.quiet)")
            self.assertIn("Moved", self.text(".notice"))
            self.press(".notice form button")
