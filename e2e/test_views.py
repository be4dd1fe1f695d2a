"""Every view wide and at 390 px: no accessibility violation, nothing hanging out, no policy report."""

from __future__ import annotations

from django.test import override_settings

from aestiva.season.models import Batch, Planting
from demo.scenario import build
from e2e.browser import PHONE, WIDE, BrowserCase, resize


@override_settings(DEMO=True)
class EveryView(BrowserCase):
    def test_views_of_the_garden(self) -> None:
        garden = build()
        batch = Batch.objects.filter(planting__crop_key="tomato").first()
        planting = Planting.objects.filter(crop_key="cosmos").first()
        assert batch is not None and planting is not None
        self.open("/")
        self.press("form[action='/demo/'] button")
        paths = ["today/", "place/", "place/typed/", "place/warmth/", "place/weather/", "place/forecast/", "plan/", "plan/add/",
                 f"plan/{planting.pk}/", f"plan/{planting.pk}/move/?sow_on=2026-05-01", f"batch/{batch.pk}/", "calendar/", "crops/",
                 "crops/tomato/", "crops/tomato/hold/", "journal/", "settings/", "spots/"]  # fmt: skip
        for size in (WIDE, PHONE):
            resize(self.driver, size)
            for path in paths:
                with self.subTest(path, width=size[0]):
                    self.open(f"/g/{garden.pk}/{path}")
                    self.driver.execute_script("document.querySelectorAll('main details').forEach(d => d.open = true)")
                    self.assertEqual(self.driver.execute_script("return window.innerWidth"), size[0])
                    self.assert_accessible(path)
                    self.assert_fits(path)

    def test_doors(self) -> None:
        for size in (WIDE, PHONE):
            resize(self.driver, size)
            for path in ("/", "/account/log-in/", "/account/sign-up/", "/account/password/forgotten/"):
                with self.subTest(path, width=size[0]):
                    self.open(path)
                    self.assert_accessible(path)
                    self.assert_fits(path)

    def test_help_opens_and_closes_by_key(self) -> None:
        garden = build()
        self.open("/")
        self.press("form[action='/demo/'] button")
        self.open(f"/g/{garden.pk}/plan/")
        self.one("body").send_keys("?")
        self.until(lambda: self.one("#help").is_displayed())
        self.assertIn("The sky is the chance", self.text("#help"))
        self.assert_accessible("help")
        self.one("#help button").click()
        self.until(lambda: not self.one("#help").is_displayed())
