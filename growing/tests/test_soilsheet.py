"""Readings of a soil probe from sheets: hours in any dress, °F, and every bad row named."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

from growing.place.soilsheet import read_soil

TODAY = date(2026, 4, 12)


class Soil(TestCase):
    def test_hours_and_degrees_as_people_write_them(self) -> None:
        for text, hour in (
            ("8", 8.0),
            ("8:30", 8.5),
            ("08:30:00", 8.5),
            ("8h30", 8.5),
            ("4:30 pm", 16.5),
            ("12 am", 0.0),
        ):
            found = read_soil(f"my probe\nDate;Time;Soil\n10 April;{text};9,5\n".encode(), TODAY, 8)
            self.assertEqual([(r.day, r.hour, r.celsius) for r in found.rows], [(date(2026, 4, 10), hour, 9.5)], text)
        found = read_soil(b"Date,Soil temp (F)\n2026-04-10 06:45,50\n", TODAY, 8)
        self.assertEqual([(r.hour, r.celsius) for r in found.rows], [(6.75, 10.0)])

    def test_an_hour_that_nobody_wrote_is_the_one_that_was_said(self) -> None:
        found = read_soil(b"Datum\tBoden\n10.4.2026\t9\n", TODAY, 7.5)
        self.assertEqual((found.no_hour, found.rows[0].hour), (True, 7.5))

    def test_what_cannot_be_names_its_row(self) -> None:
        rows = ("soon,8,9", "2026-04-10,30,9", "2026-04-10,8,hot", "2026-04-10,8,90", "2027-01-01,8,9")
        found = read_soil(("date,hour,soil\n" + "\n".join(rows)).encode(), TODAY, 8)
        codes = ["bad_date", "bad_hour", "bad_number", "out_of_range", "to_come"]
        self.assertEqual([(p.row, p.code) for p in found.problems], list(enumerate(codes, 2)))
        for data, code in (
            (b"a,b\n1,2\n", "no_date_column"),
            (b"date,soil\n", "no_rows"),
            (b"date,soil\n3/4/2026,9\n", "which_order"),
            (b"", "empty"),
        ):
            fatal = read_soil(data, TODAY, 8).fatal
            assert fatal is not None
            self.assertEqual(fatal.code, code)
