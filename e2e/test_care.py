"""The morning round on a phone, one tap a tray, in time and taken back; a can reckoned and fed; pages that everybody can use."""

from __future__ import annotations

import time

from aestiva.bench.models import Timer
from aestiva.care.models import Ailment, PotLook, TrayLook
from aestiva.care.round import the_round
from aestiva.course.state import load
from aestiva.gardens import clock
from aestiva.season.models import BatchEvent
from e2e.browser import PHONE, WIDE, DemoCase, resize

MOST_TAPS, MOST_S = 20, 60.0


class Care(DemoCase):
    def test_pages_are_accessible_and_fit(self) -> None:
        self.assert_pages(
            [
                "care/",
                "care/feed/",
                "care/feed/new/",
                "care/moving/",
                "care/tools/",
                "care/trouble/",
            ]
        )

    def test_the_morning_round_on_a_phone(self) -> None:
        resize(self.driver, PHONE)
        self.forget(8)
        self.go("care/")
        began, taps, before = time.monotonic(), 0, TrayLook.objects.count()
        while self.driver.find_elements("css selector", ".stopnow form button"):
            self.assertLess(taps, MOST_TAPS)
            buttons = self.driver.find_elements(
                "css selector", ".stopnow .founds button.expected, .stopnow .bigbtn:not(.quiet)"
            )
            button = (buttons or self.driver.find_elements("css selector", ".stopnow .founds button"))[-1]
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
            button.click()
            taps += 1
            self.until(lambda wanted=before + taps: TrayLook.objects.count() == wanted)
            self.until(lambda: self.driver.find_elements("css selector", ".donerow li"))
        self.assertEqual(taps, 8)
        self.assertLess(time.monotonic() - began, MOST_S)
        self.assertIn("The round is done", self.text("h1"))

    def test_a_stage_look_redates_and_is_taken_back(self) -> None:
        for size in (PHONE, WIDE):
            resize(self.driver, size)
            now = load(self.garden, clock.today(self.garden))
            item = next(i for i in now.items if i.batch is not None and i.full_name.startswith("Snapdragon"))
            due = item.raised.course.steps["pinch"].due
            self.go(f"care/moving/?batch={item.batch_pk}")
            before = BatchEvent.objects.filter(kind="stage").count()
            self.press(f"form[action$='stage/{item.batch_pk}/keep/'] button[value='5']")
            self.until(lambda wanted=before + 1: BatchEvent.objects.filter(kind="stage").count() == wanted)
            self.until(lambda: "5th leaf" in self.text(".notice"))
            self.assertIn("Pinch", self.text(".notice"))
            self.assertIn("not", self.text(".notice"))
            after = load(self.garden, clock.today(self.garden))
            again = next(i for i in after.items if i.batch is not None and i.batch_pk == item.batch_pk)
            self.assertLess(again.raised.course.steps["pinch"].due, due)
            self.press(".notice form button")
            self.until(lambda wanted=before: BatchEvent.objects.filter(kind="stage").count() == wanted)
        self.fewer_are_asked_for()

    def fewer_are_asked_for(self) -> None:
        """Leaves that go backwards."""
        batch = BatchEvent.objects.filter(kind="stage", data__leaves__gte=3).latest("on").batch
        self.go(f"care/moving/?batch={batch.pk}")
        before = BatchEvent.objects.filter(kind="stage").count()
        self.press(f"form[action$='stage/{batch.pk}/keep/'] button")
        self.until(lambda: "fewer" in self.text(".refused"))
        self.press("form input[name='fewer'] ~ button")
        self.until(lambda: BatchEvent.objects.filter(kind="stage").count() == before + 1)

    def test_trouble_is_found_kept_and_taken_back(self) -> None:
        resize(self.driver, WIDE)
        self.go("care/trouble/")
        self.press(".ailpick a")
        self.until(lambda: "What do you see" in self.text("h1"))
        self.choose("input[name='s'][value='fallen']")
        self.until(lambda: "damping-off" in self.text("h1").lower())
        self.choose("input[name='q_stem'][value='brown']")
        self.until(lambda: "Most likely damping-off" in self.text("h1"))
        self.assertIn("The next tray apart", self.text(".nownot"))
        self.assert_accessible("a trouble with its causes")
        before = Ailment.objects.count()
        self.press(".ailacts button")
        self.until(lambda: Ailment.objects.count() == before + 1)
        self.until(lambda: "What became of these?" in self.text("main"))
        self.assert_accessible("a trouble that is open")
        self.press(".notice form button")
        self.until(lambda: Ailment.objects.count() == before)
        resize(self.driver, PHONE)
        batch = BatchEvent.objects.filter(kind="up").latest("pk").batch_id
        self.go(f"care/trouble/?batch={batch}&s=yellow&q_first=lowest")
        self.assert_fits("a trouble on a phone")
        self.assertTrue(self.all(".causes li h2"))

    def choose(self, css: str) -> None:
        """A sign or an answer: the page weighs it by itself."""
        sign = self.one(css)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", sign)
        sign.click()

    def forget(self, trays: int) -> None:
        """So many trays that nobody has looked at, and no others due."""
        today = clock.today(self.garden)
        stops = the_round(load(self.garden, today)).stops
        seen = [s.key for s in stops if s.key.startswith("t") and s.looks and not s.rests][:trays]
        for stop in stops:
            pk = int(stop.key[1:])
            if stop.key in seen:
                TrayLook.objects.filter(tray=pk).delete()
            elif stop.key.startswith("t"):
                TrayLook.objects.create(tray_id=pk, day=today, hour=0.1, found="wet")
            else:
                PotLook.objects.create(batch_id=pk, day=today, hour=0.1, found="wet")

    def test_watered_rings_and_is_taken_back(self) -> None:
        resize(self.driver, PHONE)
        self.forget(1)
        self.go("care/")
        before = TrayLook.objects.count()
        self.press(".stopnow .bigbtn")
        self.until(lambda: TrayLook.objects.count() == before + 1)
        self.assertTrue(Timer.objects.filter(garden=self.garden, what__contains="pour off", done_at=None).exists())
        self.assertIn("Pour off", self.text(".soaking"))
        self.press(".notice form button")
        self.until(lambda: TrayLook.objects.count() == before)
        self.assertFalse(Timer.objects.filter(garden=self.garden, what__contains="pour off", done_at=None).exists())

    def test_a_can_is_reckoned_and_they_are_fed(self) -> None:
        resize(self.driver, WIDE)
        self.go("care/feed/?n=75")
        spoon = self.one("input[name=spoon]")
        spoon.clear()
        spoon.send_keys("10")
        self.press("form.lineform button")
        self.until(lambda: "Too strong" in self.text("h1"))
        self.assertIn("222", self.text("table.mgl"))  # 10 g × 20 % × 10 ÷ 9 l
        before = BatchEvent.objects.filter(kind="fed").count()
        self.press("form[action$='fed/keep/'] button:not([name])")
        self.until(lambda: BatchEvent.objects.filter(kind="fed").count() > before)
        self.assertIn("Nobody is to be fed today", self.text("#main"))
