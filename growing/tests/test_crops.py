"""The crop library: complete, honest about sources, resolved in layers."""

from __future__ import annotations

import csv
import re
from collections import Counter
from pathlib import Path
from unittest import TestCase

from growing.crops import CropError, from_class, from_relative, library
from growing.crops.schema import FIELDS, GROUPS, HARDINESS, OPTIONAL, SPEEDS
from growing.practices import BY_FIELD
from growing.shelves.containers import carries_weeks, containers

DOCS = Path(__file__).resolve().parents[2] / "docs"


class Library(TestCase):
    def test_covers_every_hardiness_speed_and_need(self) -> None:
        crops = library().values()
        self.assertGreaterEqual(len(crops), 180)
        self.assertGreaterEqual(sum(c.word("yields") == "bloom" for c in crops), 25)
        self.assertTrue({"tuber", "slip", "corm", "set", "cutting"} <= {c.word("starts") for c in crops})
        self.assertTrue({"pinch", "single stem"} <= {c.word("pinch") for c in crops})
        self.assertEqual({c.hardiness for c in crops}, set(HARDINESS))
        raising = [c.number("raise_min") for c in crops if c.method == "raised"]
        self.assertTrue(min(raising) <= 3 and max(raising) >= 14)
        for need in ("light", "dark", "either"):
            self.assertTrue(any(c.word("light") == need for c in crops), need)
        self.assertTrue(any(c.number("soak_h") for c in crops))
        self.assertTrue(any(c.number("chill_days") for c in crops))
        self.assertTrue(any((c.maybe("raise_min") or 0) >= 14 and c.number("out_max") < 0 for c in crops))
        self.assertTrue(any(c.hardiness == "very tender" and (c.maybe("raise_max") or 99) <= 4 for c in crops))

    def test_every_field_stands_in_one_group(self) -> None:
        grouped = [field for fields in GROUPS.values() for field in fields]
        self.assertEqual((len(grouped), set(grouped)), (len(FIELDS), set(FIELDS)))

    def test_every_value_says_where_it_comes_from(self) -> None:
        for crop in library().values():
            self.assertEqual(set(crop.values) | OPTIONAL, set(FIELDS))
            for value in crop.values.values():
                self.assertRegex(value.source, r"^(working|table|estimate|reviewed(_high|_medium)?)(:|$)")

    def test_sources_page_counts_what_is_there(self) -> None:
        values = [v for c in library().values() for v in c.values.values() if v.name not in BY_FIELD]
        kinds = Counter(v.source.split(":")[0] for v in values)  # ways of working are chosen, not known
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


RAISED_BY = (("raise_min", 2, 16), ("raise_max", 3, 20), ("hold", 3, 26))
SANE = {  # what no crop of the library leaves, narrower than what a garden may set
    "out_min": (-16, 14), "out_max": (-12, 18), "germinate_c": (10, 32), "min_c": (0, 20), "max_c": (12, 42), "best_days": (2, 40),
    "depth_cm": (0, 10), "fresh_germination": (0.3, 0.97), "life_room_years": (0.5, 6), "prior_seeds": (5, 50), "spacing_cm": (2, 200),
    "height_cm": (5, 350), "mature_min": (10, 1100), "mature_max": (20, 1100), "yield_days": (10, 150), "damage_c": (-12, 4),
    "kill_c": (-30, 4), "soil_c": (3, 20), "survival": (0.7, 0.95), "cell_ml": (8, 3000), "plants_per_cell": (1, 8),
    "seedlings_per_seed": (1, 2), "sigma": (0.15, 0.5), "cells_per_tray": (6, 200), "leaf_days": (3, 25),
}  # fmt: skip


class Sanity(TestCase):
    def test_every_value_is_within_sane_ranges(self) -> None:
        for crop in library().values():
            for field, (low, high) in SANE.items():
                number = crop.maybe(field)
                self.assertTrue(number is None or low <= number <= high, (crop.key, field, number))
            for field, low, high in RAISED_BY:
                number = crop.maybe(field)
                self.assertTrue(low <= number <= high if number else crop.method == "direct", (crop.key, field, number))

    def test_a_species_has_one_seed_life(self) -> None:
        lives: dict[tuple[str, str], dict[float, str]] = {}
        for crop in library().values():
            lives.setdefault((crop.latin, crop.word("starts")), {})[crop.number("life_room_years")] = crop.key
        self.assertEqual({k: v for k, v in lives.items() if k[0] and len(v) > 1}, {})

    def test_no_crop_contradicts_itself(self) -> None:
        """Its own raising values against its own limits, and values that say the same thing twice."""
        for crop in library().values():
            number, word, key = crop.number, crop.word, crop.key
            if number("bolt_days"):
                raised_at = (2 * number("day_c") + number("grow_night_c")) / 3
                self.assertGreater(raised_at, number("bolt_c"), f"{key}: raised as cold as what makes it bolt")
                self.assertGreaterEqual(
                    number("grow_night_c"), number("bolt_c") - 1, f"{key}: nights that make it bolt"
                )
                self.assertGreaterEqual(number("bolt_days"), 7, f"{key}: the ladder alone would make it bolt")
            if crop.method == "raised":
                self.assertLessEqual(number("hours"), number("most_light_h"), key)
                self.assertLessEqual(number("ready_leaves_min"), number("ready_leaves_max"), key)
            thinned, ready = crop.maybe("thin_leaves"), number("ready_leaves_max")
            self.assertTrue(thinned is None or thinned <= ready, key)
            pinched = word("pinch") == "pinch"
            self.assertTrue(pinched or number("pinch_leaves") == 0, f"{key}: pinched at leaves, and not pinched")
            self.assertLessEqual(number("damage_c"), 4, key)
            self.assertGreaterEqual(number("damage_c"), number("kill_c"), f"{key}: killed before it is damaged")
            self.assertGreaterEqual(number("day_out_c"), number("night_out_c") - 6, key)
            spoils = crop.maybe("harvest_c")
            self.assertTrue(spoils is None or spoils >= number("kill_c"), f"{key}: eaten after it is dead")
            self.assertTrue(number("pot_cm") > 0 if number("pot_weeks") else True, f"{key}: potted into nothing")
            self.assertEqual(
                word("light") == "light" and number("depth_cm") > 0.5, False, f"{key}: needs light, sown deep"
            )
            self.assertTrue(crop.caution_at if crop.poison else not crop.caution_at, key)
            self.assertTrue(word("transplants") != "direct" or crop.method == "direct", key)

    def test_cautions_stand_at_steps_of_the_work_and_are_as_fine_as_they_are(self) -> None:
        steps = {"sow", "pot", "plant", "harvest", "saving"}
        for crop in library().values():
            self.assertLessEqual(set(crop.caution_at), steps, crop.key)
            self.assertNotIn("all parts", crop.poison.lower(), crop.key)
            self.assertNotIn("(", crop.poison, crop.key)


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
