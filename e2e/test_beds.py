"""Beds and Seeds in the browser: a bed drawn, crops laid by keys and by pointer, weeks, undo; a packet in a few keys."""

from __future__ import annotations

from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from aestiva.season.models import BedArea, Lot, Planting, Spot
from e2e.browser import PHONE, DemoCase, resize


class Ground(DemoCase):
    def test_a_bed_drawn_and_two_crops_laid_by_keys_and_by_pointer(self) -> None:
        self.go("beds/")
        plot = self.one("#plot svg.plot")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", plot)
        ActionChains(self.driver).move_to_element_with_offset(plot, -300, 160).click_and_hold().move_by_offset(
            170, 50
        ).release().perform()
        self.until(lambda: float(self.one("#id_length_cm").get_attribute("value") or 0) > 100)
        self.fill("#id_code", "Bed Z")
        self.press("#draw form button")
        bed = Spot.objects.get(code="Bed Z")
        self.assertEqual((bed.length_cm or 0) % 30, 0)

        # moved by pointer and by keys; a click still opens it
        row = self.one(f"[data-bed='{bed.pk}']")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", row)
        ActionChains(self.driver).click_and_hold(row).move_by_offset(0, -30).move_by_offset(0, -30).release().perform()
        self.until(lambda: (Spot.objects.get(pk=bed.pk).y_cm or 0) < (bed.y_cm or 0))
        self.assertIn("is moved", self.text(".notice"))
        moved = Spot.objects.get(pk=bed.pk)
        self.driver.execute_script("arguments[0].focus()", self.one(f"[data-bed='{bed.pk}']"))
        ActionChains(self.driver).send_keys(Keys.ARROW_RIGHT, Keys.ENTER).perform()
        self.until(lambda: Spot.objects.get(pk=bed.pk).x_cm == (moved.x_cm or 0) + 30)
        self.press(".notice form button")
        self.assertEqual(Spot.objects.get(pk=bed.pk).x_cm, moved.x_cm)
        self.press(f"[data-bed='{bed.pk}']")
        self.assertIn(f"/beds/{bed.pk}/", self.driver.current_url)

        # sprouts by the keyboard alone
        sprouts = Planting.objects.get(crop_key="brussels_sprouts")
        self.go(f"beds/{bed.pk}/")
        self.one(f".laying [name=planting][value='{sprouts.pk}']").send_keys(Keys.SPACE)
        self.one(".laying button.btn").send_keys(Keys.ENTER)
        self.until(lambda: self.all("#bedboard [data-area]"))
        area = BedArea.objects.get(planting=sprouts)
        handle = self.one(f"[data-area='{area.pk}']")
        handle.send_keys(Keys.SHIFT + Keys.ARROW_LEFT)
        self.until(lambda: "Brussels sprouts fit" in self.text("#bednote"))
        self.one(f"[data-area='{area.pk}']").send_keys(Keys.ENTER)
        shorter = f"{area.length_cm - 30:g}"
        self.until(lambda: self.all(f"[data-area='{area.pk}'][data-l='{shorter}']"))
        self.assertEqual(BedArea.objects.get(pk=area.pk).length_cm, area.length_cm - 30)

        # strawflower with the pointer
        strawflower = Planting.objects.get(crop_key="strawflower")
        self.until(lambda: self.all(f".laying [name=planting][value='{strawflower.pk}']"))
        self.driver.execute_script(
            "arguments[0].click()", self.one(f".laying [name=planting][value='{strawflower.pk}']")
        )
        svg = self.one("svg.bed")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", svg)
        width, height = svg.size["width"], svg.size["height"]
        ActionChains(self.driver).move_to_element_with_offset(
            svg, int(width / 2) - 12, int(height / 2) - 10
        ).click_and_hold().move_by_offset(-int(width / 4), -int(height / 2) + 16).perform()
        self.until(lambda: "Strawflower fit" in self.text("#bednote"))
        ActionChains(self.driver).release().perform()
        self.until(lambda: BedArea.objects.filter(planting=strawflower).exists())
        self.until(lambda: len(self.all("#bedboard [data-area]")) == 2)

        # the weeks, and taking it back
        slider = self.one("#weekslider")
        slider.send_keys(Keys.ARROW_LEFT * 14)
        self.until(lambda: self.driver.switch_to.active_element.get_attribute("id") == "weekslider")
        label = "return (document.querySelector('[data-area]') || document.body).getAttribute('aria-label') || ''"
        self.until(lambda: "not there that week" in self.driver.execute_script(label))
        self.one(f"[data-area='{BedArea.objects.get(planting=strawflower).pk}']").send_keys(Keys.DELETE)
        self.until(lambda: not BedArea.objects.filter(planting=strawflower).exists())
        self.go("journal/")
        self.press("form[action*='/undo/'] button")
        self.assertTrue(BedArea.objects.filter(planting=strawflower).exists())

    def test_a_packet_in_under_fifteen_keys_beyond_its_name(self) -> None:
        self.go("seeds/?next")
        keys = 0
        for text in ("Tomato", Keys.TAB, "Hill Lamp", Keys.TAB, "25", Keys.TAB, "30", Keys.ENTER):
            ActionChains(self.driver).send_keys(text).perform()
            keys += 0 if text in ("Tomato", "Hill Lamp") else len(text)
        self.until(lambda: Lot.objects.filter(variety="Hill Lamp", packed_year=2025, seeds=30).exists())
        self.assertLess(keys, 15)
        self.until(lambda: self.driver.switch_to.active_element.get_attribute("id") == "id_crop")  # ready for the next

    def test_seeds_on_a_phone(self) -> None:
        resize(self.driver, PHONE)
        lot = Lot.objects.get(crop_key="leek")
        for path in ("seeds/", f"seeds/{lot.pk}/", "beds/", "seeds/orders/"):
            self.go(path)
            self.assert_fits(path)
            self.assertEqual(self.driver.execute_script("return window.innerWidth"), 390)
        self.go("seeds/")
        self.assertGreater(len(self.driver.find_elements(By.CSS_SELECTOR, ".lotrow")), 20)
