"""A crop is found by what people type; what could be two is asked, what is misspelled is suggested."""

from __future__ import annotations

from unittest import TestCase

from growing.crops import library
from growing.crops.names import MOST_LIKE, holding, meant

CROPS = list(library().values())


class Names(TestCase):
    def test_every_crop_is_found_by_its_name_key_and_synonyms(self) -> None:
        for crop in CROPS:
            for text in (crop.name, crop.key, f"  {crop.name.upper()} "):
                self.assertEqual(meant(CROPS, text).likely, crop, text)

    def test_part_of_one_name_is_likely_that_one(self) -> None:
        found = meant(CROPS, "cauliflow")
        self.assertIsNone(found.crop)
        self.assertEqual(found.likely, library()["cauliflower"])

    def test_part_of_several_names_is_asked(self) -> None:
        found = meant(CROPS, "pepp")
        self.assertTrue(found.held)
        self.assertGreater(len(found.like), 1)
        self.assertIsNone(found.likely)
        self.assertTrue(holding(CROPS, "pepp")[0].name.lower().startswith("pepp"))

    def test_a_slip_is_suggested_and_never_taken(self) -> None:
        found = meant(CROPS, "tomatto")
        self.assertEqual((found.crop, found.held, found.likely), (None, False, None))
        self.assertEqual(found.like[0], library()["tomato"])
        self.assertEqual(meant(CROPS, "tomatto", compare=False).like, ())
        self.assertLessEqual(len(meant(CROPS, "bean").like), max(MOST_LIKE, len(holding(CROPS, "bean"))))
        self.assertEqual(meant(CROPS, "zzgrub"), (None, (), False))
