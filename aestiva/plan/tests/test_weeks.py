"""Fewer sowing days, the week's windows, days away: looked at, kept, taken back."""

from __future__ import annotations

import re
from datetime import date

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import JournalEntry
from aestiva.season.models import Absence, Lot, Planting


class Align(GardenCase):
    garden_values = {"sowing_days": "5,6"}

    def test_days_that_overlap_become_one_and_are_kept_as_one_entry(self) -> None:
        plant(self.garden, self.owner, "tomato", 6, sow_on=date(2026, 4, 18))
        plant(self.garden, self.owner, "basil", 6, sow_on=date(2026, 4, 26))
        page = self.client.get(self.url("plan/align/?far=any"))
        self.assertContains(page, "1 would do")
        moves = re.findall(r'name="m" value="([\d.-]+)"', page.content.decode())
        self.assertTrue(moves)
        look = self.client.get(self.url("plan/moves/"), {"m": moves})
        self.assertContains(look, "would move")
        entries = JournalEntry.objects.count()
        self.post("plan/moves/keep/", moves=",".join(moves))
        self.assertEqual(JournalEntry.objects.count(), entries + 1)
        self.assertEqual(len({p.chosen_sow for p in Planting.objects.all()}), 1)

    def test_one_crop_sown_again_and_again_is_not_sown_all_at_once(self) -> None:
        days = [date(2026, 4, 12), date(2026, 4, 26), date(2026, 5, 10)]
        for day in days:
            plant(self.garden, self.owner, "lettuce", 6, variety="Row", sow_on=day)
        self.assertContains(self.client.get(self.url("plan/align/?far=any")), "fewer would not do")

    def test_nothing_to_sow(self) -> None:
        self.assertContains(self.client.get(self.url("plan/align/")), "Nothing is left to sow")


class Week(GardenCase):
    def test_counts_from_last_frost_and_sorts_by_what_closes(self) -> None:
        plant(self.garden, self.owner, "tomato", 6, sow_on=TODAY)
        Lot.objects.create(garden=self.garden, crop_key="leek", variety="Slow", packed_year=2025)
        page = self.client.get(self.url("plan/week/"))
        self.assertContains(page, "This week is last frost − 4")
        self.assertContains(page, "minutes of sowing")
        later = self.client.get(self.url("plan/week/?at=2026-04-29"))
        self.assertContains(later, "The week of")
        self.assertLess(later.content.decode().index("Closing"), later.content.decode().index("Tomato"))
        self.assertEqual(self.client.get(self.url("plan/week/?at=nonsense")).status_code, 200)
        spring = self.client.get(self.url("plan/week/?at=2026-03-04")).content.decode()
        self.assertIn("in the seed box", spring)
        self.assertIn("plan it", spring)


class DaysAway(GardenCase):
    def test_looked_at_kept_and_taken_back(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        day = self.now().items[0].raised.dates.sow_on
        days = {"since": TODAY.isoformat(), "until": day.isoformat(), "note": "wedding"}
        self.assertContains(self.client.get(self.url("plan/away/"), days), "1 planting would move")
        self.assertFalse(Absence.objects.exists())
        self.post("plan/away/", **days)
        self.assertGreater(self.now().items[0].raised.dates.sow_on, day)
        one = Absence.objects.get()
        self.post(f"plan/away/{one.pk}/home/", revision=str(one.revision))
        self.assertEqual(self.now().items[0].raised.dates.sow_on, day)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertGreater(self.now().items[0].raised.dates.sow_on, day)

    def test_what_cannot_be_is_said_and_kept_in_the_form(self) -> None:
        for since, until, said in (
            ("2026-05-10", "2026-05-01", "before you leave"),
            ("2026-05-10", "2028-05-01", "a year at most"),
            ("soon", "2026-05-01", "is not a day"),
        ):
            answer = self.post("plan/away/", since=since, until=until)
            self.assertContains(answer, said, status_code=422)
            self.assertFalse(Absence.objects.exists())
