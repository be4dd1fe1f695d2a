"""Daily weather in sheets that are not plain tables, and in both orders of days."""

from __future__ import annotations

import io
from datetime import date, timedelta
from unittest import TestCase

from openpyxl import Workbook

from growing.place.weatherfile import WeatherFile, read_weather
from growing.place.weathersheet import as_daily, daily_of, is_plain, weather_apart

TODAY = date(2026, 4, 12)


def read(data: bytes) -> WeatherFile:
    """As the garden's own nights are read."""
    return daily_of(weather_apart(data, {"near": TODAY.isoformat(), "today": TODAY.isoformat()}))


class WeatherSheets(TestCase):
    def test_titles_languages_parts_and_fahrenheit(self) -> None:
        for text, first in (
            ("Hill farm\nread at eight\nDatum;Tiefst;Höchst\n1.3.2026;-2,5;8,0\n2.3.2026;1,0;9,5\n", -2.5),
            ("My station,,\nYear,Month,Day,Low (°F),High (°F)\n2026,3,1,27.5,46\n2026,3,2,34,49\n", -2.5),
            ("notes,,,\nYear,Month,Day,Low,High\n2026,March,1,-2.5,8\n2026,March,2,1,9.5\n", -2.5),
            ("t,,\nDate,Min,Max\nSun 1 March 2026,-2.5,8\nMon 2 March 2026,1,9.5\n", -2.5),
        ):
            found = read(text.encode())
            self.assertIsNone(found.fatal, text)
            self.assertEqual(found.days, (date(2026, 3, 1), date(2026, 3, 2)), text)
            self.assertAlmostEqual(float(found.tmin[0]), first, places=2, msg=text)

    def test_a_workbook(self) -> None:
        book = Workbook()
        page = book.active
        assert page is not None
        page.append(["Weir", None, None])
        page.append(["Date", "Min", "Max"])
        for k in range(20):
            page.append([date(2026, 3, 1) + timedelta(days=k), k - 5.5, k + 4])
        out = io.BytesIO()
        book.save(out)
        found = read(out.getvalue())
        self.assertEqual((len(found.days), float(found.tmin[0])), (20, -5.5))

    def test_a_problem_is_named_by_its_row_in_the_sheet(self) -> None:
        found = read(b"title,,\n\nDatum,Tiefst\n1 March 2026,2\nnever,3\n3 March 2026,x\n")
        self.assertEqual([(p.row, p.code) for p in found.problems], [(5, "bad_date"), (6, "bad_number")])

    def test_columns_that_nobody_knows_are_asked(self) -> None:
        daily = as_daily(b"when,cold\n2026-03-01,2\n", TODAY)
        self.assertEqual(daily.missing, ("date", "tmin"))
        told = as_daily(b"when,cold\n2026-03-01,2\n", TODAY, {0: "date", 1: "tmin"})
        self.assertEqual(told.data, b"date,tmin\n2026-03-01,2")
        fatal = read(b"when,cold\n2026-03-01,2\n").fatal
        assert fatal is not None
        self.assertEqual(fatal.code, "no_date_column")

    def test_day_or_month_first_is_asked_and_told(self) -> None:
        text = b"date,tmin\n03/04/2025,1\n04/04/2025,2\n"
        self.assertTrue(is_plain(text))
        self.assertEqual([p.code for p in read_weather(text).problems], ["ambiguous_dates"])
        for order, first in (("dmy", date(2025, 4, 3)), ("mdy", date(2025, 3, 4))):
            found = read_weather(text, order=order)
            self.assertEqual((found.problems, found.days[0]), ((), first))
