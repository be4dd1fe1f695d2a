"""Sown again and again: by need, by days, over two packets; kept as one entry; what cannot be is said."""

from __future__ import annotations

from datetime import date

from aestiva.frame.tests.garden import GardenCase
from aestiva.gardens.models import JournalEntry
from aestiva.season.models import Lot, Planting

NEED = {
    "crop": "Lettuce", "by": "need", "method": "raised", "per_week": "6", "since": "2026-07-06", "until": "2026-09-06",
}  # fmt: skip
DAYS = {"crop": "Lettuce", "by": "days", "method": "raised", "every_days": "21", "plants": "9", "first": "2026-04-20"}


class Again(GardenCase):
    def test_by_need_every_week_is_served_with_the_habits_beside_it(self) -> None:
        answer = self.client.get(self.url("plan/again/"), NEED)
        self.assertContains(answer, "9 of 9 weeks")
        self.assertContains(answer, "all sown at once")
        self.assertFalse(Planting.objects.exists())
        entries = JournalEntry.objects.count()
        self.post("plan/again/", key="once", **NEED)
        made = list(Planting.objects.order_by("chosen_sow"))
        self.assertGreater(len(made), 1)
        self.assertEqual(sum(p.wanted for p in made), 9 * 6)
        self.assertEqual(JournalEntry.objects.count(), entries + 1)
        self.post("plan/again/", key="once", **NEED)
        self.assertEqual(Planting.objects.count(), len(made))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertFalse(Planting.objects.exists())

    def test_every_three_weeks_until_autumn_ends_it(self) -> None:
        answer = self.client.get(self.url("plan/again/"), DAYS | {"last": "2026-11-20"})
        self.assertContains(answer, "would give nothing")
        self.post("plan/again/", **DAYS, last="2026-11-20")
        days = list(Planting.objects.order_by("chosen_sow").values_list("chosen_sow", flat=True))
        self.assertEqual(days[:3], [date(2026, 4, 20), date(2026, 5, 11), date(2026, 6, 1)])
        self.assertLess(days[-1], date(2026, 10, 1))

    def test_proven_seed_and_some_of_a_new_packet(self) -> None:
        old, new = (
            Lot.objects.create(garden=self.garden, crop_key="lettuce", variety=name, packed_year=2026, seeds=seeds)
            for name, seeds in (("Proven", 400), ("New", 5))
        )
        asked = DAYS | {"plants": "20", "lot": str(old.pk), "lot2": str(new.pk), "share": "25", "last": "2026-05-20"}
        self.assertContains(self.client.get(self.url("plan/again/"), asked), "has 5 seeds; these sowings take")
        self.post("plan/again/", **asked)
        wanted = list(Planting.objects.order_by("chosen_sow", "pk").values_list("variety", "wanted"))
        self.assertEqual(wanted, [("Proven", 15), ("New", 5)] * 2)
        one = asked | {"plants": "1"}
        self.assertContains(self.client.get(self.url("plan/again/"), one), "cannot be split over two packets")
        self.assertEqual(self.post("plan/again/", **one).status_code, 422)

    def test_raised_for_the_early_food_and_seed_dropped_the_same_day(self) -> None:
        self.post("plan/again/", **(DAYS | {"method": "both", "last": "2026-04-25"}))
        raised, direct = Planting.objects.order_by("pk")
        self.assertEqual((raised.method, direct.method), ("raised", "direct"))
        out = next(i for i in self.now().items if i.planting == raised).raised.dates.out_on
        self.assertEqual(direct.chosen_sow, out)

    def test_what_cannot_be_is_said_and_nothing_is_written(self) -> None:
        for change, said in (
            ({"per_week": "0"}, "0.1"),
            ({"per_week": "1e9"}, "100000"),
            ({"crop": "moon cheese"}, "is no crop"),
            ({"crop": "Tomato", "per_plant": ""}, "how much does a plant give"),
            ({"until": "2026-05-01"}, "end before it begins"),
            ({"until": "2029-05-01"}, "a season at most"),
        ):
            answer = self.post("plan/again/", **(NEED | change))
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, NEED["method"], status_code=422)
        self.assertFalse(Planting.objects.exists())
        none = self.client.get(self.url("plan/again/"), NEED | {"since": "2026-04-13", "until": "2026-04-26"})
        self.assertContains(none, "No sowing of Lettuce would give anything")
