"""Week by week: what is wanted against what is gathered; gaps, what fills them, stores that run out; unknown stays unknown."""

from __future__ import annotations

import csv
import io
from datetime import date

from aestiva.beds.models import Use
from aestiva.frame.tests.garden import GardenCase, plant
from aestiva.gardens.models import JournalEntry


class Weeks(GardenCase):
    def test_lettuce_in_two_sowings_lacks_weeks_between_that_can_be_filled(self) -> None:
        plant(self.garden, self.owner, "lettuce", 10, sow_on=date(2026, 4, 14))
        plant(self.garden, self.owner, "lettuce", 10, sow_on=date(2026, 6, 20))
        self.assertContains(self.client.get(self.url("plan/weeks/")), "what do you use?")
        self.post("plan/weeks/lettuce/", per_week="5", unit="heads", for_whom="household")
        page = self.client.get(self.url("plan/weeks/lettuce/"))
        self.assertContains(page, "weeks have what is wanted")
        self.assertContains(page, "plants sown")
        self.assertContains(page, "plan it")
        self.assertContains(self.client.get(self.url("plan/weeks/")), "with too little")
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertFalse(Use.objects.exists())

    def test_what_a_plant_gives_is_unknown_until_somebody_says(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        Use.objects.create(garden=self.garden, crop_key="tomato", per_week=10)
        page = self.client.get(self.url("plan/weeks/tomato/"))
        self.assertContains(page, "how much a plant gives nobody said")
        self.post("plan/weeks/tomato/", per_week="10", per_plant="40", unit="fruits")
        self.assertNotContains(self.client.get(self.url("plan/weeks/tomato/")), "a plant gives nobody said")

    def test_stored_onions_run_out_when_they_are_eaten(self) -> None:
        plant(self.garden, self.owner, "onion", 20)
        self.post("plan/weeks/onion/", per_week="2", keeps_days="200", since="2026-08-01", until="2027-03-01")
        rows = list(csv.DictReader(io.StringIO(self.client.get(self.url("plan/weeks.csv")).content.decode())))
        used = [float(r["used"]) for r in rows if r["crop"] == "Onion" and r["used"]]
        self.assertEqual(sum(used), 20)
        self.assertContains(self.client.get(self.url("plan/weeks/onion/")), "Short from")

    def test_flowers_say_their_stage_and_their_days_in_the_vase(self) -> None:
        plant(self.garden, self.owner, "snapdragon", 24)
        self.post(
            "plan/weeks/snapdragon/", per_week="12", per_plant="6", keeps_days="8", unit="stems", for_whom="stems",
            cut_stage="a third of the spike is open",
        )  # fmt: skip
        page = self.client.get(self.url("plan/weeks/snapdragon/"))
        self.assertContains(page, "Cut when a third of the spike is open; 8 days in the vase")

    def test_what_cannot_be_keeps_what_was_typed(self) -> None:
        plant(self.garden, self.owner, "lettuce", 10)
        for change in ({"per_week": "-1"}, {"per_week": "x"}, {"since": "2026-08-01", "until": "2026-07-01"}):
            answer = self.post("plan/weeks/lettuce/", **({"per_week": "5", "unit": "heads"} | change))
            self.assertContains(answer, 'value="heads"', status_code=422)
        self.assertFalse(Use.objects.exists())
        self.assertEqual(self.client.get(self.url("plan/weeks/moon/")).status_code, 404)

    def test_an_empty_season(self) -> None:
        self.assertContains(self.client.get(self.url("plan/weeks/")), "Nothing is planned")
