"""The morning round on a phone, one tap a tray, in time and taken back; a can reckoned and fed; pages that everybody can use."""

from __future__ import annotations

import time

from aestiva.bench.models import Timer
from aestiva.care.models import Feed, TrayLook
from aestiva.season.models import BatchEvent
from e2e.browser import PHONE, WIDE, DemoCase, resize

MOST_TAPS, MOST_S = 20, 60.0


class Care(DemoCase):
    def test_pages_are_accessible_and_fit(self) -> None:
        feed = Feed.objects.filter(garden=self.garden).first()
        assert feed is not None
        self.assert_pages(
            ["care/", "care/feed/", "care/feed/?litres=0", "care/feed/new/", f"care/feed/{feed.pk}/edit/"]
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
            (buttons or self.driver.find_elements("css selector", ".stopnow .founds button"))[-1].click()
            taps += 1
            self.until(lambda wanted=before + taps: TrayLook.objects.count() == wanted)
            self.until(lambda: self.driver.find_elements("css selector", ".donerow li"))
        self.assertGreaterEqual(taps, 8)
        self.assertLess(time.monotonic() - began, MOST_S)
        self.assertIn("The round is done", self.text("h1"))

    def forget(self, trays: int) -> None:
        """Eight trays that nobody has looked at, and no others due."""
        seen = list(TrayLook.objects.values_list("tray", flat=True).distinct().order_by("tray"))[:trays]
        TrayLook.objects.filter(tray__in=seen).delete()

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
        self.press("form[action$='fed/keep/'] button")
        self.until(lambda: BatchEvent.objects.filter(kind="fed").count() > before)
        self.assertIn("Nobody is to be fed today", self.text("#main"))
