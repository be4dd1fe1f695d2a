"""Many packets in one go: each row read by itself, nothing kept while one is open, all taken back together."""

from __future__ import annotations

from typing import Any

from aestiva.frame.tests.garden import GardenCase
from aestiva.gardens.models import JournalEntry
from aestiva.season.models import GardenCrop, Lot


class Drawer(GardenCase):
    def put(self, *rows: tuple[str, str, str, str], **more: str) -> Any:
        data = {
            f"{name}-{n}": value
            for n, row in enumerate(rows)
            for name, value in zip(("crop", "variety", "packed", "amount"), row, strict=True)
        }
        return self.post("seeds/drawer/", **data, **{"what": "keep", "rows": "15", **more})

    def test_plurals_synonyms_weights_and_empty_fields(self) -> None:
        self.put(("tomatoes", "Red Gable", "25", "30"), ("courgette", "", "2024", "2,5 g"), ("Leek", "", "", "0.5 oz"))
        found = [
            (lot.crop_key, lot.variety, lot.packed_year, lot.seeds, lot.grams) for lot in Lot.objects.order_by("pk")
        ]
        self.assertEqual(
            found,
            [
                ("tomato", "Red Gable", 2025, 30, None),
                ("squash", "", 2024, None, 2.5),
                ("leek", "", None, None, 14.175),
            ],
        )
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertFalse(Lot.objects.exists())

    def test_every_wrong_field_is_said_in_its_row_and_nothing_is_kept(self) -> None:
        for row, said in (
            (("brocoli", "", "", ""), "Broccoli</button>"),
            (("", "Weir", "", ""), "Which crop is it?"),
            (("Leek", "", "2099", ""), "2099 cannot be"),
            (("Leek", "", "x", ""), "is not a year"),
            (("Leek", "", "٢٠", "9" * 30), "no count of seeds"),
            (("Leek", "", "", "2.5"), "no count of seeds"),
            (("Leek", "", "", "-3"), "no count of seeds"),
            (("Leek", "", "", "a few"), "no count of seeds"),
        ):
            page = self.put(("Tomato", "Red Gable", "25", "30"), row)
            self.assertContains(page, said, status_code=422)
            self.assertContains(page, 'value="Red Gable"', status_code=422)
        self.assertFalse(Lot.objects.exists())

    def test_a_crop_of_ones_own_stays_said_while_another_row_is_open(self) -> None:
        rows = (("moonfruit", "First", "25", "9"), ("brocoli", "", "", ""))
        page = self.put(*rows, **{"own-0": "melon"})
        self.assertContains(page, 'name="own-0" value="melon"', status_code=422)
        self.assertFalse(GardenCrop.objects.exists())
        self.put(*rows, **{"own-0": "melon", "take": "1:broccoli"})
        self.assertEqual(sorted(Lot.objects.values_list("crop_key", flat=True)), ["broccoli", "moonfruit"])

    def test_what_is_there_is_left_out_unless_asked(self) -> None:
        Lot.objects.create(garden=self.garden, crop_key="leek", variety="Weir", packed_year=2025)
        rows = (("leeks", "weir", "25", ""), ("Basil", "", "", ""), ("Basil", "", "", ""))
        self.put(*rows)
        self.assertEqual(Lot.objects.count(), 2)
        self.assertContains(self.put(*rows), "put in the 3 that are there already")
        self.put(*rows, known="also")
        self.assertEqual(Lot.objects.count(), 5)

    def test_the_same_post_twice_an_empty_drawer_and_more_rows(self) -> None:
        for _ in range(2):
            self.put(("Leek", "", "", ""), key="once")
        self.assertEqual(Lot.objects.count(), 1)
        self.assertContains(self.put(), "Every row is empty")
        page = self.put(("Leek", "Weir", "", ""), what="more")
        self.assertEqual((page.context["count"], Lot.objects.count()), (25, 1))
        self.assertContains(page, 'value="Weir"')
