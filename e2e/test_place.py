"""Place in the browser: the line dragged, moved by keys and typed; kept and taken back; charts drawn."""

from __future__ import annotations

import re

from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys

from aestiva.gardens.models import Garden
from e2e.browser import PHONE, WIDE, DemoCase, resize


class TheLine(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.go("place/")

    def risk(self) -> float:
        return Garden.objects.get(pk=self.garden.pk).accepted_risk

    def test_dragged_looked_at_and_kept(self) -> None:
        handle = self.one(".frostcurve.wide .line .grip")
        ActionChains(self.driver).click_and_hold(handle).move_by_offset(-40, 0).move_by_offset(-30, 0).perform()
        self.until(lambda: "springs is later" in self.text("#lineanswer"))
        self.assertNotIn("Keep", self.text("#lineanswer"))  # while it moves only risk and day are said
        ActionChains(self.driver).release().perform()
        self.until(lambda: "Keep" in self.text("#lineanswer"))
        self.assertEqual(self.risk(), 0.1)
        said = re.search(r"Keep (\d+) %", self.text("#lineanswer"))
        assert said is not None
        self.press("#lineanswer form button")
        self.assertEqual(round(self.risk() * 100), int(said[1]))
        self.assertGreater(self.risk(), 0.1)
        self.press(".notice form button")  # taken back where it was said
        self.assertEqual(self.risk(), 0.1)

    def test_moved_by_keys_and_typed(self) -> None:
        handle = self.one(".frostcurve.wide .line")
        at = int(handle.get_attribute("aria-valuenow") or 0)
        self.driver.execute_script("arguments[0].focus()", handle)
        ActionChains(self.driver).send_keys(Keys.ARROW_LEFT, Keys.ARROW_LEFT).perform()
        self.assertEqual(int(handle.get_attribute("aria-valuenow") or 0), at - 2)
        ActionChains(self.driver).key_down(Keys.SHIFT).send_keys(Keys.ARROW_RIGHT).key_up(Keys.SHIFT).perform()
        self.assertEqual(int(handle.get_attribute("aria-valuenow") or 0), at + 5)
        self.until(lambda: "Keep" in self.text("#lineanswer"))
        self.fill("#id_risk", "20")
        self.press(".lineform button")
        self.assertIn("20 % of springs is later", self.text("#lineanswer"))

    def test_a_thumb_on_the_phone_moves_it(self) -> None:
        resize(self.driver, PHONE)
        self.go("place/")
        self.assertFalse(self.one(".frostcurve.wide").is_displayed())
        grip = self.one(".frostcurve.phone .line .grip")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", grip)
        ActionChains(self.driver).click_and_hold(grip).move_by_offset(-30, 0).release().perform()
        self.until(lambda: "Keep" in self.text("#lineanswer"))
        self.assert_fits("place")

    def test_charts_are_drawn_beside_their_tables(self) -> None:
        station = self.garden.stations.get()
        for size in (WIDE, PHONE):
            resize(self.driver, size)
            for path in (f"place/weather/{station.pk}/", "place/forecast/"):
                self.go(f"{path}")
                self.until(lambda: len(self.all(".chart svg path")) > 5)
                self.assertGreater(len(self.all("table.list tbody tr")), 3)
                self.assert_fits(path)
