"""Every view wide and at 390 px: nothing hanging out, no policy report; no accessibility violation at 390 px, in the main views wide, too."""

from __future__ import annotations

from aestiva.gardens.models import Member
from aestiva.season.models import Batch, BedArea, Lot, Planting, Spot
from demo import kanuka
from e2e.browser import PHONE, WIDE, BrowserCase, DemoCase, resize


class Views(DemoCase):
    def test_views_of_the_garden(self) -> None:
        garden = self.garden
        batch = Batch.objects.filter(planting__crop_key="tomato").first()
        planting = Planting.objects.filter(crop_key="cosmos").first()
        assert batch is not None and planting is not None
        paths = [
            *(
                "today/",
                "today/minutes/?m=30",
                "place/",
                "place/typed/",
                "place/warmth/",
                "place/weather/",
                "place/forecast/",
                "place/reckoning/?shift_c=-2&basis=recent&cover=dark",
                "place/readings/",
                "place/waits/",
                "place/feeds/",
                f"place/weather/{garden.stations.get().pk}/",
                "plan/",
                "plan/add/",
            ),
            *(
                "plan/import/",
                "calendar/",
                "calendar/week/",
                "calendar/month/",
                "crops/",
                "crops/tomato/",
                "crops/tomato/hold/",
            ),
            *("crops/compare/?a=leek&b=kale", "crops/import/", "journal/", "settings/", "members/", "spots/"),
        ]
        lot, bed = Lot.objects.get(crop_key="cosmos"), Spot.objects.get(code="Bed D")
        freed = BedArea.objects.get(planting__crop_key="broccoli")
        paths += [
            *("beds/", "beds/ground/", f"beds/{bed.pk}/", f"beds/{bed.pk}/measure/", "beds/print/"),
            f"beds/area/{freed.pk}/next/?all",
            *(
                "seeds/",
                f"seeds/{lot.pk}/",
                f"seeds/{lot.pk}/facts/",
                f"seeds/{lot.pk}/text/",
                "seeds/orders/",
                "seeds/import/",
                "seeds/drawer/",
                "plan/late/",
                "plan/week/",
                "plan/align/",
                "plan/away/?since=2026-05-01&until=2026-05-20",
                "plan/again/?crop=Lettuce&by=need&method=raised&per_week=6&since=2026-06-15&until=2026-09-15",
                "plan/weeks/",
                "plan/weeks/lettuce/",
                "plan/ways/",
                "plan/prices/?crop=tomato",
                "plan/replan/",
                "plan/next/",
                "plan/print/?as=wall",
                "plan/?span=month&at=2026-05-01&by=bed",
            ),
            f"seeds/count/{planting.pk}/",
            f"plan/{planting.pk}/",
            f"plan/moves/?moves={planting.pk}.2026-05-01",
            f"batch/{batch.pk}/",
            f"batch/{batch.pk}/card/",
        ]
        main = ["today/", "place/", "plan/", "seeds/", "beds/", "calendar/", f"batch/{batch.pk}/"]
        self.assert_pages(main, wide=len(main))
        self.assert_pages([path for path in paths if path not in main], wide=0)


class Folded(DemoCase):
    def test_a_large_garden_opens_a_fold_at_a_time(self) -> None:
        large = kanuka.build(250)
        owner = self.garden.members.get(role="owner").user
        Member.objects.get_or_create(garden=large, user=owner, defaults={"role": "owner"})
        self.garden = large
        for size in (WIDE, PHONE):
            resize(self.driver, size)
            self.go("today/")
            self.assertLess(len(self.all("main .task")), 25)
            fold = self.one("details.fold")
            self.assertFalse(fold.find_elements("css selector", ".rows .task"))
            summary = fold.find_element("css selector", "summary")
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", summary)
            summary.click()
            self.until(lambda: self.all("details.fold[open] .rows .task"))
            self.assert_accessible("an open fold")
            self.assert_fits("an open fold")


class Doors(BrowserCase):
    def test_doors(self) -> None:
        for size in (WIDE, PHONE):
            resize(self.driver, size)
            for path in ("/", "/account/log-in/", "/account/sign-up/", "/account/password/forgotten/"):
                with self.subTest(path, width=size[0]):
                    self.open(path)
                    self.assert_accessible(path)
                    self.assert_fits(path)


class Keys(DemoCase):
    def test_the_demo_is_entered_by_its_button(self) -> None:
        self.driver.execute_cdp_cmd("Network.clearBrowserCookies", {})
        self.open("/")
        self.press("form[action='/demo/'] button")
        self.assertTrue(self.driver.current_url.endswith(f"/g/{self.garden.pk}/today/"), self.driver.current_url)
        self.assertIn("Quarry Lane", self.text("body"))

    def test_help_opens_and_closes_by_key(self) -> None:
        self.go("today/")
        self.one("body").send_keys("5")  # Plan, the fifth view in the order of work
        self.until(lambda: self.driver.current_url.endswith(f"/g/{self.garden.pk}/plan/"))
        self.until(lambda: self.driver.execute_script("return document.readyState") == "complete")
        self.one("body").send_keys("?")
        self.until(lambda: self.one("#help").is_displayed())
        self.assertIn("The sky is the chance", self.text("#help"))
        self.assert_accessible("help")
        self.one("#help button").click()
        self.until(lambda: not self.one("#help").is_displayed())
        self.one("body").send_keys("n")
        self.until(lambda: self.driver.current_url.endswith("/plan/add/"))
        self.one("#id_crop").send_keys("n1?")  # in a field, keys are only letters
        self.assertEqual(self.one("#id_crop").get_attribute("value"), "n1?")
