"""A small workbook can unpack to anything: what is too much is refused while it streams by, and the rest reads as before."""

from __future__ import annotations

import time
from datetime import date
from unittest import TestCase

from growing.files import workbook
from growing.files.sheet import is_small, packed, read_sheet, unpacked
from growing.files.workbook import WorkbookRefused, counted
from growing.tests import hostile

LONGEST_S = 3.0  # on a busy machine; what is refused takes a hundredth of that


class Hostile(TestCase):
    def test_each_is_told_large_or_read_within_its_bounds(self) -> None:
        for name, data in hostile.workbooks():
            with self.subTest(name):
                began = time.monotonic()
                small = is_small(data)
                if small:
                    read_sheet(data, 4 << 20, 2_000)
                self.assertLess(time.monotonic() - began, LONGEST_S)

    def test_what_is_too_much_is_named(self) -> None:
        for data, code in (
            (hostile.sheet(b"<a>" * 100_000), "too_deep"),
            (hostile.sheet(b"<row>" + b"<c/>" * 3_000 + b"</row>"), "too_wide"),
            (hostile.sheet(b"<row/>" * 500_000), "too_many_cells"),
            (hostile.strings(b"<si/>" * 500_000), "too_many_cells"),
            (hostile.with_part(hostile.STYLES, b"<styleSheet>" + b"<xf/>" * 40_000), "too_many_cells"),
            (hostile.sheet(b" " * 9_000_000), "too_big"),
            (hostile.many_parts(500), "too_many_parts"),
        ):
            with self.subTest(code):
                fatal = read_sheet(data, 4 << 20, 2_000).fatal
                assert fatal is not None
                self.assertEqual(fatal.code, code)

    def test_a_part_under_many_names_is_read_once(self) -> None:
        rows = b"<row><c><v>1</v></c></row>"
        self.assertEqual(sum(len(list(page)) for page in workbook.sheets_of(hostile.many_sheets(rows, 15), 50)), 1)

    def test_pictures_are_left_aside_and_a_doctype_is_refused(self) -> None:
        picture = hostile.with_part("xl/media/image1.png", b"\x89PNG" + b"\x00" * 9_000_000)
        self.assertIsNone(read_sheet(picture, 4 << 20, 10).fatal)
        self.assertNotIn("xl/media/image1.png", counted(picture).parts)
        with self.assertRaises(WorkbookRefused):
            counted(hostile.with_part(hostile.SHEET, b'<!DOCTYPE a [<!ENTITY b "c">]><worksheet>&b;</worksheet>'))


class Honest(TestCase):
    def test_cells_keep_rows_days_and_numbers(self) -> None:
        rows = [["my list"], [], ["crop", "wanted", "sow"], ["tomato", 12.0, date(2026, 3, 1)], ["kale", 2.5, None]]
        found = read_sheet(hostile.workbook(rows), 4 << 20, 100)  # type: ignore[arg-type]
        self.assertEqual(
            [(line.number, line.cells) for line in found.lines],
            [
                (1, ("my list",)),
                (3, ("crop", "wanted", "sow")),
                (4, ("tomato", "12", "2026-03-01")),
                (5, ("kale", "2.5")),
            ],
        )
        self.assertEqual(unpacked(packed(found)), found)

    def test_a_list_is_small_and_thirty_years_are_not(self) -> None:
        self.assertTrue(is_small(hostile.list_of(300)))
        self.assertFalse(is_small(hostile.weather(9_000)))
        self.assertIsNone(read_sheet(hostile.weather(2_000), 4 << 20, 20_000).fatal)
