"""Daily weather files, good and bad: what is found out, what is said, what stops the file."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from growing.place.station import Climate, generate
from growing.place.weatherfile import read_weather

GOOD = "date,tmin,tmax\n2024-02-28,-1.5,6\n2024-02-29,0.2,7.1\n2024-03-01,2,9\n"


class Reads(TestCase):
    def test_plain_file(self) -> None:
        found = read_weather(GOOD.encode())
        self.assertEqual(found.days[1], date(2024, 2, 29))
        self.assertEqual(list(found.tmin), [-1.5, 0.2, 2.0])
        self.assertEqual((found.unit, found.order, found.problems, found.fatal), ("C", "ymd", (), None))

    def test_delimiters_decimal_comma_marks_and_headers(self) -> None:
        semicolon = "Datum;Min;Max\n28.02.2024;-1,5;6,0\n29.02.2024;0,2;7,1\n"
        found = read_weather(semicolon.encode("utf-8-sig"))
        self.assertEqual((list(found.tmin), found.order), ([-1.5, 0.2], "dmy"))
        self.assertEqual(len(read_weather(GOOD.replace(",", "\t").encode("utf-16")).days), 3)
        self.assertEqual(len(read_weather(b"2024-01-01,1,5\n2024-01-02,2,6\n").days), 2)
        self.assertEqual(len(read_weather("date,tmin\n2024-01-01,1\n".encode("latin-1")).days), 1)

    def test_fahrenheit_and_tenths_are_found_out(self) -> None:
        days = [date(2024, 1, 1) + timedelta(days=i) for i in range(366)]
        low = [-8 + 22 * np.sin(np.pi * i / 366) for i in range(366)]
        rows = list(zip(days, low, strict=True))
        fahrenheit = "date,tmin,tmax\n" + "".join(f"{d},{v * 1.8 + 32:.1f},{(v + 9) * 1.8 + 32:.1f}\n" for d, v in rows)
        tenths = "date,tmin,tmax\n" + "".join(f"{d},{round(v * 10)},{round((v + 9) * 10)}\n" for d, v in rows)
        named = "date,tmin (F)\n2024-01-01,32\n"
        self.assertEqual(read_weather(fahrenheit.encode()).unit, "F")
        self.assertEqual(read_weather(tenths.encode()).unit, "tenths")
        self.assertAlmostEqual(float(read_weather(tenths.encode()).tmin[0]), -8.0)
        self.assertAlmostEqual(float(read_weather(named.encode()).tmin[0]), 0.0)

    def test_gaps_and_equal_duplicates_are_reported(self) -> None:
        found = read_weather((GOOD + "2024-03-01,2,9\n2024-03-05,1,4\n").encode())
        self.assertEqual((found.duplicates, found.gaps), (1, ((date(2024, 3, 2), date(2024, 3, 4)),)))
        self.assertEqual(found.problems, ())

    def test_rows_that_cannot_be_are_named(self) -> None:
        bad = GOOD + "2024-02-30,1,2\n2024-03-02,12x,14\n2024-03-03,9,3\n2024-03-04,-99,3\n2024-03-01,5,9\n"
        found = read_weather(bad.encode())
        codes = {p.row: p.code for p in found.problems}
        self.assertEqual(
            codes, {5: "bad_date", 6: "bad_number", 7: "min_above_max", 8: "out_of_range", 9: "contradiction"}
        )
        self.assertNotIn(date(2024, 3, 1), found.days)  # which of the two is right is not for us to say

    def test_files_that_stop_at_once(self) -> None:
        for data, code in (
            (b"", "empty"),
            (b"   \n\n", "empty"),
            (b"\x89PNG\r\n\x1a\n\x00\x00", "binary"),
            (bytes(range(256)) * 40, "binary"),
            (b"\xff\xfeabc", "encoding"),
            (b"day,warmth\n2024-01-01,5\n", "no_tmin_column"),
            (b"when,tmin\n2024-01-01,5\n", "no_date_column"),
            (b"date,tmin\n", "no_rows"),
            (b"date,tmin\n13/01/2024,5\n01/14/2024,6\n", "mixed_dates"),
            (b"a," * 999 + b"\n1,2\n", "too_wide"),
            (b"x" * (33 * 1024 * 1024), "too_big"),
        ):
            found = read_weather(data)
            assert found.fatal is not None, code
            self.assertEqual(found.fatal.code, code)

    def test_ghcn_daily_in_both_forms(self) -> None:
        long = (
            "XX000000001,20240228,TMAX,60,,,S,\nXX000000001,20240228,TMIN,-15,,,S,\nXX000000001,20240228,PRCP,3,,,S,\n"
            "XX000000001,20240229,TMIN,999,,I,S,\nXX000000001,20240229,TMAX,71,,,S,\nXX000000001,20240301,TMIN,-9999,,,S,\n"
        )
        found = read_weather(long.encode())
        self.assertEqual(
            (found.unit, found.days[0], float(found.tmin[0]), float(found.tmax[1])),
            ("tenths", date(2024, 2, 28), -1.5, 7.1),
        )
        self.assertTrue(np.isnan(found.tmin[1]) and np.isnan(found.tmin[2]))  # flagged, missing
        wide = (
            '"STATION","DATE","NAME","TMAX","TMAX_ATTRIBUTES","TMIN","TMIN_ATTRIBUTES"\n'
            '"XX000000001","2024-02-28","THE WEIR","   60",",,S","  -15",",,S"\n"XX000000001","2024-02-29","THE WEIR","   71",",,S","",""\n'
        )
        found = read_weather(wide.encode())
        self.assertEqual((found.unit, float(found.tmin[0]), float(found.tmax[1])), ("tenths", -1.5, 7.1))
        two = read_weather(long.replace("XX000000001,20240229", "XX000000002,20240229").encode())
        assert two.fatal is not None
        self.assertEqual(two.fatal.code, "many_stations")

    def test_ambiguous_dates_are_said(self) -> None:
        found = read_weather(b"date,tmin\n01/02/2024,5\n02/02/2024,6\n")
        self.assertEqual((found.order, found.problems[0].code), ("dmy", "ambiguous_dates"))

    @settings(max_examples=150, deadline=None)
    @given(st.binary(max_size=400))
    def test_never_raises(self, data: bytes) -> None:
        read_weather(data)
        read_weather(b"date,tmin,tmax\n" + data)


class Station(TestCase):
    def test_same_seed_same_weather_and_sane(self) -> None:
        one, two = (generate(Climate(8, 7), False, 5, date(2020, 1, 1), 1500) for _ in range(2))
        np.testing.assert_array_equal(one.tmin, two.tmin)
        self.assertTrue(np.all(one.tmin <= one.tmax))
        july = [i for i in range(1500) if (one.start + timedelta(days=i)).month == 7]
        january = [i for i in range(1500) if (one.start + timedelta(days=i)).month == 1]
        self.assertGreater(one.tmax[july].mean(), one.tmax[january].mean() + 8)
        south = generate(Climate(8, 7), True, 5, date(2020, 1, 1), 1500)
        self.assertLess(south.tmax[july].mean(), south.tmax[january].mean() - 8)
