"""A crop is found by what people type; what could be two is asked, what is misspelled is suggested."""

from __future__ import annotations

from unittest import TestCase

from growing.crops import library
from growing.crops.names import MOST_LIKE, holding, meant, names, singular

CROPS = list(library().values())


class Names(TestCase):
    def test_every_crop_is_found_by_its_name_synonyms_and_plural(self) -> None:
        for crop in CROPS:
            for text in (crop.name, f"  {crop.name.upper()} ", *crop.synonyms):
                self.assertEqual(meant(CROPS, text).likely, crop, text)
            by_key = meant(CROPS, crop.key)
            self.assertIn(crop, (by_key.likely, *by_key.like), crop.key)

    def test_a_name_belongs_to_one_crop(self) -> None:
        told: dict[str, str] = {}
        for crop in CROPS:
            for name in {singular(name) for name in names(crop)}:
                self.assertNotIn(name, told, f"{name}: {crop.key} and {told.get(name)}")
                told[name] = crop.key

    def test_plurals(self) -> None:
        for text, key in (
            ("tomatoes", "tomato"),
            ("Leeks", "leek"),
            ("radishes", "radish"),
            ("peppers", "pepper"),
            ("wild strawberries", "strawberry"),
            ("cabbages", "cabbage"),
            ("sweet peas", "sweet_pea"),
            ("chive", "chives"),
            ("asparagus", "asparagus"),
            ("courgettes", "squash"),
            ("sweet potatoes", "sweet_potato"),
        ):
            self.assertEqual(meant(CROPS, text).likely, library()[key], text)

    def test_a_word_for_several_kinds_asks_which(self) -> None:
        for text, keys in (
            ("Sunflower", {"sunflower", "sunflower_branching"}),
            ("sunflowers", {"sunflower", "sunflower_branching"}),
            ("Marigold", {"marigold", "african_marigold"}),
            ("Dahlia", {"dahlia", "dahlia_tuber"}),
            ("Begonias", {"begonia", "begonia_tuber"}),
        ):
            found = meant(CROPS, text)
            self.assertIsNone(found.likely, text)
            self.assertLessEqual(keys, {c.key for c in found.like}, text)

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
