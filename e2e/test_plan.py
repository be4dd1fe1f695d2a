"""The plan under the hand: fewer sowing days, a succession, groups laid open in place, and pages on paper."""

from __future__ import annotations

import base64
import re

from selenium.webdriver.common.by import By

from aestiva.gardens.models import Garden, Member
from aestiva.season.models import Planting
from demo import kanuka
from e2e.browser import PHONE, DemoCase, resize


class Planning(DemoCase):
    def test_fewer_sowing_days_are_looked_at_kept_and_taken_back(self) -> None:
        self.go("plan/align/?far=14")
        self.assertRegex(self.text("h1"), r"sowings on \d+ days: \d+ would do")
        before = dict(Planting.objects.values_list("pk", "chosen_sow"))
        self.press("form[action$='/plan/moves/'] button.btn")
        self.assertIn("would move", self.text())
        self.assertEqual(dict(Planting.objects.values_list("pk", "chosen_sow")), before)
        self.press("form[action$='/plan/moves/keep/'] button.btn")
        self.assertNotEqual(dict(Planting.objects.values_list("pk", "chosen_sow")), before)
        self.press(".notice form button")
        self.assertEqual(dict(Planting.objects.values_list("pk", "chosen_sow")), before)

    def test_a_succession_answers_while_it_is_typed(self) -> None:
        self.go("plan/again/")
        self.fill("#id_crop", "Lettuce")
        self.fill("#id_per_week", "5")
        self.fill("#id_since", "2026-07-06")
        self.fill("#id_until", "2026-08-30")
        self.until(lambda: "8 of 8 weeks" in self.text("#answer"))
        count = Planting.objects.count()
        self.press("#againform button.btn")
        self.assertGreater(Planting.objects.count(), count + 1)
        self.assertIn("are planned", self.text(".notice"))

    def test_it_prints_a_page_a_month(self) -> None:
        self.go("plan/print/?as=wall")
        months = len(self.all(".paper"))
        self.assertGreater(months, 9)
        made = self.driver.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": True})
        pages = len(re.findall(rb"/Type\s*/Page[^s]", base64.b64decode(made["data"])))
        self.assertTrue(months <= pages <= months + 2, (months, pages))  # a full month may run over
        self.go("plan/print/?as=months&state=planned")
        sheets = len(self.all(".paper"))
        made = self.driver.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": True})
        self.assertEqual(len(re.findall(rb"/Type\s*/Page[^s]", base64.b64decode(made["data"]))), sheets)

    def test_four_hundred_fold_open_in_place_and_keep_their_address(self) -> None:
        flat = Garden.objects.filter(name="Kanuka Flat").first() or kanuka.build(400)
        Member.objects.get_or_create(
            garden=flat, user=self.garden.members.get(role="owner").user, defaults={"role": "owner"}
        )
        self.open(f"/g/{flat.pk}/plan/")
        folds = self.all("a[data-fold]")
        self.assertGreater(len(folds), 20)
        rows = len(self.all(".rows .row"))
        key = folds[0].get_attribute("data-fold")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'}); window.here = true", folds[0])
        folds[0].find_element(By.CSS_SELECTOR, ".hit").click()
        self.until(lambda: len(self.all(".rows .row")) > rows)
        self.assertTrue(self.driver.execute_script("return window.here"))  # the page stayed
        self.assertIn(f"open={key}", self.driver.current_url.replace("%2C", ","))
        self.driver.refresh()
        self.assertGreater(len(self.all(".rows .row")), rows)

    def test_the_weeks_and_the_list_of_moves_at_390(self) -> None:
        resize(self.driver, PHONE)
        for path in ("plan/weeks/", "plan/align/", "plan/again/?crop=Lettuce", "plan/replan/"):
            self.go(path)
            self.assertEqual(self.driver.execute_script("return window.innerWidth"), 390)
            self.assert_fits(path)
