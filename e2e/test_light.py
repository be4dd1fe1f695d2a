"""Light in the browser: the lamp moved by keys and by a finger, nothing written until it is said, the map that does not flicker, hours, the card."""

from __future__ import annotations

import base64
import re
from typing import Any

from selenium.webdriver.common.keys import Keys

from aestiva.season.models import LampSetting, Spot
from e2e.browser import PHONE, WIDE, DemoCase, resize

GRAIN = re.compile(r"M(\d+) (\d+)h0")


class Light(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.shelf = Spot.objects.get(garden=self.garden, code="R1·2")
        self.settings = LampSetting.objects.filter(spot=self.shelf)

    def grains(self) -> set[tuple[str, str]]:
        drawn = "return document.querySelector('svg.lightmap .grains').getAttribute('d')"
        return set(GRAIN.findall(self.driver.execute_script(drawn)))

    def answered(self, before: set[tuple[str, str]]) -> None:
        self.until(lambda: self.grains() != before)

    def test_pages_are_accessible_and_fit(self) -> None:
        pk = self.shelf.pk
        lamp = self.shelf.lamps.first()
        assert lamp is not None
        self.assert_pages(
            [
                f"light/?shelf={pk}",
                f"light/{pk}/card/",
                f"light/lamp/{pk}/new/",
                f"light/lamp/{lamp.pk}/edit/",
                "light/current/",
            ]
        )

    def test_moved_by_keys_tried_then_kept_and_taken_back(self) -> None:
        for size in (WIDE, PHONE):
            with self.subTest(size=size):
                resize(self.driver, size)
                self.go(f"light/?shelf={self.shelf.pk}")
                handle, before, rows = self.one("[data-handle]"), self.grains(), self.settings.count()
                at = float(handle.get_attribute("aria-valuenow") or 0)
                handle.send_keys(Keys.ARROW_UP, Keys.ARROW_UP)
                self.answered(before)
                self.assertAlmostEqual(
                    float(self.one("[data-handle]").get_attribute("aria-valuenow") or 0), at + 5.0, places=1
                )
                self.assertEqual(self.one("[data-hang]").get_attribute("value"), str(at + 5.0).removesuffix(".0"))
                self.assertEqual(self.settings.count(), rows)
                self.press("[data-keep]")
                self.assertEqual(self.settings.latest("since").left_cm, at + 5.0)
                self.assertIn("lamp at 34 cm", self.text(".notice"))
                self.press(".notice form button")
                self.assertEqual(self.settings.count(), rows)

    def test_moved_by_a_finger_on_a_phone(self) -> None:
        resize(self.driver, PHONE)
        self.go(f"light/?shelf={self.shelf.pk}")
        before, at = self.grains(), float(self.one("[data-handle]").get_attribute("aria-valuenow") or 0)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", self.one("[data-handle]"))
        box: Any = self.driver.execute_script(
            "const b = arguments[0].getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]",
            self.one("[data-handle]"),
        )

        def touch(kind: str, points: list[dict[str, float]]) -> None:
            self.driver.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

        touch("touchStart", [{"x": box[0], "y": box[1]}])
        for step in (8, 16, 24):
            touch("touchMove", [{"x": box[0], "y": box[1] - step}])
        touch("touchEnd", [])
        self.answered(before)
        now = float(self.one("[data-handle]").get_attribute("aria-valuenow") or 0)
        self.assertGreater(now, at + 2)
        self.assertAlmostEqual((now - at) % 2.5 % 2.5, 0.0, places=3)
        wide = self.driver.execute_script(
            "const b = document.querySelector('.handle .grip').getBoundingClientRect(); return b.width"
        )
        self.assertGreaterEqual(wide, 43.5)

    def test_the_map_does_not_flicker(self) -> None:
        resize(self.driver, WIDE)
        self.go(f"light/?shelf={self.shelf.pk}")
        before = self.grains()
        self.one("[data-handle]").send_keys(Keys.ARROW_UP)
        self.answered(before)
        after = self.grains()
        self.assertGreater(len(before & after), 0.9 * min(len(before), len(after)))  # grains come and go, none is moved
        self.one("[data-handle]").send_keys(Keys.ARROW_DOWN)
        self.answered(after)
        self.assertEqual(self.grains(), before)
        self.driver.execute_script("document.querySelector('svg.lightmap').marked = true")
        typed = self.one("[data-hang]")
        asked = self.one("#shelf").get_attribute("data-answered")
        typed.send_keys(Keys.END, ".0")  # 29.0 is 29
        self.until(lambda: self.one("#shelf").get_attribute("data-answered") != asked)
        marked = "return document.querySelector('svg.lightmap').marked === true"
        self.assertTrue(self.driver.execute_script(marked), "what is the same is not drawn anew")

    def test_a_height_that_cannot_be_keeps_what_was_typed(self) -> None:
        resize(self.driver, WIDE)
        self.go(f"light/?shelf={self.shelf.pk}")
        self.fill("[data-hang]", "99")
        self.press("[data-keep]")
        self.assertIn("higher than it can hang", self.text("[role=alert]"))
        self.assertEqual(self.one("[data-hang]").get_attribute("value"), "99")

    def test_the_first_change_in_one_tap_and_hours_by_hand(self) -> None:
        resize(self.driver, WIDE)
        self.go("light/")
        first = next(
            c for c in ("R1·1", "R1·2", "R1·3", "R2·1", "R2·2", "R2·3") if c in self.text("h1")
        )  # what presses most
        kale = Spot.objects.get(garden=self.garden, code=first)
        self.press(".option.first button")
        self.assertIn(f"{first}: lamp at", self.text(".notice"))
        self.assertNotIn("at the lamp", self.text(".shelftabs"))
        self.go(f"light/?shelf={kale.pk}")
        self.fill(".hours input[name=hours]", "25")
        self.press(".hours .lineform button")
        self.assertIn("not of one day", self.text("[role=alert]"))
        self.go(f"light/?shelf={kale.pk}")
        self.fill(".hours input[name=on]", "22:30")
        self.fill(".hours input[name=hours]", "10")
        self.press(".hours .lineform button")
        self.assertIn("over midnight", self.text(".hours"))
        self.press(".notice form button")
        self.go(f"light/?shelf={kale.pk}")
        self.assertIn("16 h", self.text(".dayring"))

    def test_the_timer_card_is_printed(self) -> None:
        self.go(f"light/{self.shelf.pk}/card/")
        self.assertIn("residual-current", self.text(".timercard"))
        self.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
        try:
            self.assertFalse(self.one("[data-print]").is_displayed())
            self.assertTrue(self.one(".timercard").is_displayed())
            page = self.driver.execute_cdp_cmd("Page.printToPDF", {"printBackground": True})
        finally:
            self.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})
        self.assertGreater(len(base64.b64decode(page["data"])), 5000)

    def test_from_today_and_the_page_of_the_batch(self) -> None:
        resize(self.driver, PHONE)
        self.go("today/")
        row = "#" + str(self.one("article[id^='t-s'][id*='-hang-']").get_attribute("id"))
        self.assertRegex(self.text(row), r"R\d·\d")
        self.press(f"{row} .do button")
        self.assertEqual(self.all(row), [])
        batch = self.shelf.tray_stands.filter(until=None).first().tray.runs.first().batch_id  # type: ignore[union-attr]
        self.go(f"batch/{batch}/")
        self.until(lambda: self.all(".lighthad"))
        self.assertIn("mol a day on the mean", self.text(".lighthadbox"))
