"""Emergence in the browser: counted at 390 px, taken back, the verdict with it; a probe that posts while the page shows it."""

from __future__ import annotations

import requests

from aestiva.place.commands import make_key
from aestiva.season.models import Batch, BatchEvent, WarmReading
from e2e.browser import PHONE, DemoCase, resize


class Emergence(DemoCase):
    def test_the_page_is_accessible_and_fits(self) -> None:
        self.assert_pages(["emergence/"])

    def test_counted_on_a_phone_and_taken_back(self) -> None:
        batch = Batch.objects.filter(planting__crop_key="tomato", planting__variety="Red Gable", failed_on=None).latest(
            "pk"
        )
        resize(self.driver, PHONE)
        self.go(f"emergence/?batch={batch.pk}")
        self.assertIn("Count today", self.text("#one"))
        for _ in range(3):
            self.press_only(".counting [data-add='1']")
        self.press(".counting .btn:not([type=button])")
        self.assertEqual(BatchEvent.objects.filter(batch=batch, kind="up").latest("pk").count, 4)
        self.assertNotIn("Count today", self.text("#one"))
        self.assertIn("4", self.text(".upnow"))
        self.press(".notice form button")
        self.go(f"emergence/?batch={batch.pk}")
        self.assertIn("Count today", self.text("#one"))

    def test_what_is_due_around_it_is_one_tap_and_its_mat_is_offered(self) -> None:
        batch = Batch.objects.get(planting__crop_key="tomato", planting__variety="Red Gable", failed_on=None)
        resize(self.driver, PHONE)
        self.go(f"emergence/?batch={batch.pk}")
        for _ in range(5):
            self.press_only(".counting [data-add='1']")
        self.press(".counting .keepcount")
        self.go(f"emergence/?batch={batch.pk}")
        self.assertIn("lid away", self.text(".around h3"))
        self.press(".around p a")
        self.assert_accessible("move")
        self.assert_fits("move")
        self.press("td button[name=spot]")
        self.assertIn("M1 is free", self.text("main"))
        self.go(f"emergence/?batch={batch.pk}")
        self.press(".around .alldone")
        kinds = set(BatchEvent.objects.filter(batch=batch).values_list("kind", flat=True))
        self.assertTrue({"lid", "below"} <= kinds, kinds)

    def test_leaves_in_one_tap(self) -> None:
        self.go("emergence/")
        name = self.text(".seedlings li b")
        before = BatchEvent.objects.filter(kind="stage").count()
        self.press(".seedlings li .stagelook button:last-of-type")
        self.assertIn(name.split()[0].lower(), self.text(".notice").lower())
        self.assertEqual(BatchEvent.objects.filter(kind="stage").count(), before + 1)

    def press_only(self, css: str) -> None:
        """A tap that leads nowhere else."""
        self.driver.execute_script("arguments[0].click()", self.one(css))

    def test_a_probe_posts_while_the_page_shows_it(self) -> None:
        owner = self.garden.members.get(role="owner").user
        token = make_key(self.garden, owner, "porch probe")
        batch = Batch.objects.get(planting__crop_key="strawflower", failed_on=None)
        self.go(f"emergence/?batch={batch.pk}")
        self.assertIn("assumed", self.text("#one"))
        days = [f"2026-04-{d:02}" for d in range(5, 12)]
        readings = [{"at": f"{day}T{h:02}:00", "celsius": 22.0} for day in days for h in (2, 8, 14, 20)]
        answer = requests.post(
            f"{self.live_server_url}/feed/", json={"kind": "mix", "place": "Porch", "readings": readings},
            headers={"Authorization": f"Bearer {token}"}, timeout=20,
        )  # fmt: skip
        self.assertEqual(answer.json()["taken"], len(readings))
        self.go(f"emergence/?batch={batch.pk}")
        self.assertIn("by probe", self.text("#one"))
        self.assertEqual(WarmReading.objects.filter(source="porch probe").count(), len(readings))
        self.assertNotIn("lies too cold", self.text("h1"))
