"""The crop library: complete, honest about sources, resolved in layers."""

from __future__ import annotations

import csv
import re
from collections import Counter
from pathlib import Path
from unittest import TestCase

from growing.bench.containers import carries_weeks, containers
from growing.crops import CropError, from_class, from_relative, library
from growing.crops.schema import FIELDS, GROUPS, HARDINESS, OPTIONAL, SPEEDS

DOCS = Path(__file__).resolve().parents[2] / "docs"


class Library(TestCase):
    def test_covers_every_hardiness_speed_and_need(self) -> None:
        crops = library().values()
        self.assertGreaterEqual(len(crops), 70)
        self.assertGreaterEqual(sum(c.word("yields") == "bloom" for c in crops), 25)
        self.assertTrue({"tuber", "slip"} <= {c.word("starts") for c in crops})
        self.assertTrue({"pinch", "single stem"} <= {c.word("pinch") for c in crops})
        self.assertEqual({c.hardiness for c in crops}, set(HARDINESS))
        raising = [c.number("raise_min") for c in crops]
        self.assertTrue(min(raising) <= 3 and max(raising) >= 14)
        for need in ("light", "dark", "either"):
            self.assertTrue(any(c.word("light") == need for c in crops), need)
        self.assertTrue(any(c.number("soak_h") for c in crops))
        self.assertTrue(any(c.number("chill_days") for c in crops))
        self.assertTrue(any(c.number("raise_min") >= 14 and c.number("out_max") < 0 for c in crops))
        self.assertTrue(any(c.hardiness == "very tender" and c.number("raise_max") <= 4 for c in crops))

    def test_every_field_stands_in_one_group(self) -> None:
        grouped = [field for fields in GROUPS.values() for field in fields]
        self.assertEqual((len(grouped), set(grouped)), (len(FIELDS), set(FIELDS)))

    def test_every_value_says_where_it_comes_from(self) -> None:
        for crop in library().values():
            self.assertEqual(set(crop.values) | OPTIONAL, set(FIELDS))
            for value in crop.values.values():
                self.assertRegex(value.source, r"^(working|table|estimate|reviewed(_high|_medium)?)(:|$)")

    def test_sources_page_counts_what_is_there(self) -> None:
        kinds = Counter(v.source.split(":")[0] for c in library().values() for v in c.values.values())
        page = (DOCS / "sources.md").read_text(encoding="utf-8")
        for kind in ("working", "table", "estimate", "reviewed", "reviewed_high", "reviewed_medium"):
            found = re.search(rf"^\| {kind} \|.*\| (\d+) \|$", page, re.M)
            assert found is not None, kind
            self.assertEqual(int(found[1]), kinds[kind], kind)

    def test_table_values_are_the_tables(self) -> None:
        with (Path(__file__).parents[1] / "tables" / "germination_temperatures.csv").open(encoding="utf-8") as file:
            printed = {r["crop"]: r for r in csv.DictReader(line for line in file if not line.startswith("#"))}
        for crop in library().values():
            row = printed.get(crop.key, printed.get(crop.table_row))
            if row is None:
                continue
            for field, column in (("min_c", "minimum"), ("high_c", "optimum_high"), ("max_c", "maximum")):
                value = crop.values[field]
                if value.source.startswith("table"):
                    self.assertEqual(value.number, float(row[column]), (crop.key, field))


RECOMPUTED = (
    *("ageratum", "impatiens", "pansy", "salvia", "rudbeckia", "delphinium", "foxglove", "pelargonium", "dahlia"),
    *("verbena", "coleus", "rosemary", "nicotiana"),
)


class Trays(TestCase):
    def test_cells_are_the_smallest_that_carry_it_to_its_planting_or_potting(self) -> None:
        flats = {m.cells: m.cell_ml for key, m in containers().items() if key.startswith("flat_") and not m.air_pruning}
        for key in RECOMPUTED:
            crop = library()[key]
            need = (crop.number("raise_min") + crop.number("raise_max")) / 2
            if crop.number("pot_weeks"):
                need = min(need, crop.number("pot_weeks") + crop.number("best_days") / 7)
            carried = [
                cells
                for cells, ml in flats.items()
                if carries_weeks(crop.number("cell_ml"), crop.number("raise_max"), ml) >= need
            ]
            self.assertEqual(crop.number("cells_per_tray"), max(carried, default=18), key)

    def test_a_container_by_hand(self) -> None:
        self.assertAlmostEqual(carries_weeks(75, 7, 75), 7.0)
        self.assertAlmostEqual(carries_weeks(75, 7, 150), 7 * 1.13)
        self.assertAlmostEqual(carries_weeks(75, 7, 150, air_pruning=True), 7 * 1.25)  # no more than that
        self.assertAlmostEqual(carries_weeks(300, 10, 12), 10 * 0.39628, places=3)
        self.assertAlmostEqual(carries_weeks(3000, 10, 12), 3.5)


class Layers(TestCase):
    def test_the_last_layer_wins_and_says_why(self) -> None:
        tomato = library()["tomato"]
        mine = tomato.overlaid("garden", {"raise_max": (9, "8 gave small plants two years running")})
        self.assertEqual(mine.number("raise_max"), 9)
        self.assertEqual(mine.values["raise_max"].source, "garden: 8 gave small plants two years running")
        planting = mine.overlaid("planting", {"raise_max": (8.5, "")})
        self.assertEqual(planting.values["raise_max"].source, "planting")
        self.assertEqual(tomato.number("raise_max"), 8)

    def test_own_raising_times_move_the_others_they_would_pass(self) -> None:
        pepper = library()["pepper"]  # 8 to 10 weeks, held to 12
        mine = pepper.overlaid("garden", {"raise_max": (14, "small plants two years running")})
        self.assertEqual([mine.number(f) for f in ("raise_min", "raise_max", "hold")], [8, 14, 14])
        self.assertEqual(mine.values["hold"].source, "garden: small plants two years running")
        mine = pepper.overlaid("garden", {"raise_min": (13, "")})
        self.assertEqual([mine.number(f) for f in ("raise_min", "raise_max", "hold")], [13, 13, 13])
        mine = pepper.overlaid("garden", {"hold": (7, "")})
        self.assertEqual([mine.number(f) for f in ("raise_min", "raise_max", "hold")], [7, 7, 7])

    def test_values_that_cannot_be_name_field_value_and_limits(self) -> None:
        tomato = library()["tomato"]
        for values, said in (
            ({"raise_min": (99, "")}, "between 1 and 40"),
            (
                {"raise_min": (12, ""), "raise_max": (8, "")},
                "raising time, shortest (12) is above raising time, longest (8)",
            ),
            ({"raise_min": ("six", "")}, "must be a number"),
            ({"wings": (2, "")}, "no field"),
            ({"light": ("moon", "")}, "light, dark, either"),
        ):
            with self.assertRaises(CropError) as caught:
                tomato.overlaid("garden", values)
            self.assertIn(said, str(caught.exception))

    def test_a_crop_from_a_relative_or_from_a_class_alone(self) -> None:
        groundcherry = from_relative("groundcherry", "Ground cherry", library()["tomato"])
        self.assertEqual(groundcherry.number("out_min"), 1)
        self.assertIn("as Tomato", groundcherry.values["out_min"].source)
        unknown = from_class("thing", "Thing", "very tender", "slow")
        self.assertEqual((unknown.number("raise_min"), unknown.number("out_min")), (8, 2))
        with self.assertRaises(CropError):
            from_class("thing", "Thing", "immortal", "slow")
        for hardiness in HARDINESS:
            for speed in SPEEDS:
                from_class("x", "X", hardiness, speed)
