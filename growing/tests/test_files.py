"""Lists of plantings and exchanged crops: read as written, problems named, never an exception."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from growing.crops import library
from growing.crops.exchange import OwnCrop, OwnValue, fits, read_own, write_library, write_own
from growing.shelves.room import trays_in_cells, trays_in_pots

TEXT = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs")), min_size=1, max_size=30).filter(
    lambda t: t == t.strip()
)


class CropExchange(TestCase):
    @settings(max_examples=100, deadline=None)
    @given(TEXT, TEXT, st.integers(2, 60))
    def test_there_and_back_whatever_the_words(self, name: str, reason: str, hold: int) -> None:
        crops = (OwnCrop("my_crop", name, "tomato", "", ""), OwnCrop("other", "Other", "", "hardy", "fast"))
        values = (OwnValue("my_crop", "hold", hold, reason), OwnValue("kale", "damage_c", -6.5, ""))
        found = read_own(write_own(crops, values).encode())
        self.assertEqual((found.crops, found.values, found.problems), (crops, values, ()))

    def test_library_leaves_with_every_value_and_its_source(self) -> None:
        text = write_library([library()["tomato"]])
        self.assertIn("raise_min = 6  # working", text)
        self.assertIn('light = "either"  # working:any crop', text)

    def test_values_must_fit_together(self) -> None:
        tomato = library()["tomato"]
        self.assertEqual(fits(tomato, [OwnValue("tomato", "raise_max", 9, "")]), "")
        self.assertIn("is above", fits(tomato, [OwnValue("tomato", "germinate_c", 6, "")]))

    @settings(max_examples=100, deadline=None)
    @given(st.binary(max_size=200))
    def test_never_raises(self, data: bytes) -> None:
        read_own(data)


class Room(TestCase):
    def test_room_explodes_at_potting_up(self) -> None:
        tomato = library()["tomato"]
        self.assertAlmostEqual(trays_in_cells(tomato, 50), 1.0)
        # a flat of 28 × 54 cm holds 18 pots of 9 cm, 81 cm² each
        self.assertAlmostEqual(trays_in_pots(tomato, 18), 18 * 81 / (28 * 54))
        self.assertGreater(trays_in_pots(tomato, 50), 2.5 * trays_in_cells(tomato, 50))
