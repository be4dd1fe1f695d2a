"""Sheets as people bring them: titles above, headings in their own words, weeks, months, both orders of days; nothing guessed."""

from __future__ import annotations

import io
import zipfile
from datetime import date
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from growing.files.columns import layout, plain, unit_of
from growing.files.days import month_of, order_of, read_day
from growing.files.numbers import read_number, read_whole
from growing.files.sheet import Sheet, read_sheet
from growing.plan.plantingfile import MOST_ROWS, NAMES, PlantingFile, read_plantings
from growing.seeds.lotfile import read_lots

NEAR = date(2026, 6, 1)


def sheet(text: str | bytes) -> Sheet:
    return read_sheet(text.encode() if isinstance(text, str) else text, 2_000_000, MOST_ROWS)


def plantings(text: str | bytes, **more: object) -> PlantingFile:
    return read_plantings(sheet(text), NEAR, **more)  # type: ignore[arg-type]


def workbook(*pages: list[list[object]]) -> bytes:
    book = Workbook()
    book.remove(book.active)  # type: ignore[arg-type]
    for number, rows in enumerate(pages):
        page = book.create_sheet(f"Page {number}")
        for row in rows:
            page.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


class Days(TestCase):
    def test_as_people_write_them(self) -> None:
        tenth = date(2026, 3, 10)
        for text in (
            "2026-03-10", "10.3.2026", "10/3/2026", "10-3-26", "10.3.", "10 March", "10 Mar", "March 10", "Mar 10, 2026", "10-Mar", "10th March",
            "Tue 10 March", "Tuesday, 10 March", "10. März 2026", "10 mars", "10 de marzo de 2026", "10 maart", "20260310", "2026-03-10T00:00:00",
            "2026-03-10 08:30", "10 Mar. 26",
        ):  # fmt: skip
            self.assertEqual(read_day(text, NEAR), tenth, text)
        self.assertEqual(read_day("3/10/2026", NEAR, "mdy"), tenth)
        self.assertEqual(read_day("10.3.2026", NEAR, "mdy"), tenth)  # with points the day is first everywhere

    def test_weeks_are_those_of_the_calendar(self) -> None:
        for year in range(2020, 2031):
            for week in (1, 10, 52):
                monday = date.fromisocalendar(year, week, 1)
                for text in (f"{year}-W{week:02d}", f"wk {week} {year}", f"KW {week} {year}", f"week {week}/{year}"):
                    self.assertEqual(read_day(text, NEAR), monday, text)
        self.assertEqual(read_day("wk 11", NEAR), date(2026, 3, 9))
        self.assertEqual(read_day("11", NEAR, weeks=True), date(2026, 3, 9))
        self.assertEqual(read_day("wk 11", NEAR, begins=6), date(2026, 3, 8))  # weeks that begin on a Sunday
        self.assertIsNone(read_day("11", NEAR))

    def test_a_day_without_a_year_lies_nearest(self) -> None:
        self.assertEqual(read_day("20 December", date(2026, 2, 1)), date(2025, 12, 20))
        self.assertEqual(read_day("20 December", date(2026, 9, 1)), date(2026, 12, 20))
        self.assertEqual(read_day("29 February", date(2027, 6, 1)), date(2028, 2, 29))  # the year that has one

    def test_what_is_no_day_is_none(self) -> None:
        for text in (
            "",
            "soon",
            "March",
            "mid March",
            "31 February",
            "32.1.2026",
            "2026-13-01",
            "wk 54",
            "10/2026",
            "1/2/3/4",
            "0001-01-01",
            "12",
        ):
            self.assertIsNone(read_day(text, NEAR), text)

    def test_the_order_is_told_by_the_numbers_or_asked(self) -> None:
        self.assertEqual(order_of(["3/4/2026", "13/4/2026"]), "dmy")
        self.assertEqual(order_of(["3/4/2026", "3/14/2026"]), "mdy")
        self.assertEqual(order_of(["3/4/2026", "4/5/2026"]), "?")
        self.assertEqual(order_of(["4/4/2026", "2026-03-04", "3.4.2026", "wk 3"]), "")
        self.assertEqual(order_of(["13/4/2026", "3/14/2026"]), "both")

    def test_months_in_six_languages(self) -> None:
        names = {1: "January Januar janvier enero gennaio januari", 2: "February Februar février febrero febbraio februari",
                 3: "March März mars marzo maart", 4: "April avril abril aprile", 5: "May Mai mai mayo maggio mei",
                 6: "June Juni juin junio giugno", 7: "July Juli juillet julio luglio", 8: "August août agosto augustus",
                 9: "September septembre septiembre settembre", 10: "October Oktober octobre octubre ottobre oktober",
                 11: "November novembre noviembre", 12: "December Dezember décembre diciembre dicembre"}  # fmt: skip
        for number, words in names.items():
            for word in words.split():
                self.assertEqual(month_of(word), number, word)

    @settings(max_examples=300, deadline=None)
    @given(st.text(max_size=45))
    def test_never_raises(self, text: str) -> None:
        read_day(text, NEAR)
        read_day(text, NEAR, "mdy", weeks=True, begins=5)
        order_of([text])
        read_number(text)

    @settings(max_examples=200, deadline=None)
    @given(st.dates(date(1950, 1, 1), date(2150, 12, 31)))
    def test_every_day_comes_back(self, day: date) -> None:
        for text in (day.isoformat(), f"{day:%d.%m.%Y}", f"{day:%d %B %Y}", f"{day:%B %d, %Y}", f"{day:%d/%m/%Y}"):
            self.assertEqual(read_day(text, NEAR), day, text)
        self.assertEqual(read_day(f"{day:%m/%d/%Y}", NEAR, "mdy"), day)


class Numbers(TestCase):
    def test_as_people_write_them(self) -> None:
        for text, number in (("12", 12), ("1,5", 1.5), ("1.5", 1.5), ("1,234", 1234), ("1,234.5", 1234.5), ("1.234,5", 1234.5), ("1 234", 1234),
                             ("1'234", 1234), ("12 plants", 12), ("~30", 30), ("about 30", 30), ("−2,5", -2.5),
                             ("2.5 g", 2.5), ("1.234.567", 1234567)):  # fmt: skip
            self.assertEqual(read_number(text), number, text)
        for text in ("", "-", "a dozen", "12-15", "12/15", "1,2,3", "1o", "l2", "many", "x12"):
            self.assertIsNone(read_number(text), text)
        self.assertEqual((read_whole("12.0"), read_whole("2.5"), read_whole("12 plants")), (12, None, 12))


class Headings(TestCase):
    def test_plain_and_units(self) -> None:
        self.assertEqual(plain(" # Plants "), "no plants")
        self.assertEqual(plain("Größe (cm)"), "grosse")
        self.assertEqual(
            [unit_of(h) for h in ("Tmin (°F)", "Min °C", "Low [F]", "Weight (oz)", "Crop")], ["F", "C", "F", "oz", ""]
        )

    def test_the_heading_is_found_past_titles_and_comments(self) -> None:
        found = plantings(
            "Spring plan 2026;;;\n# made in the kitchen;;;\n;;;\nKultur;Sorte;# plants;Aussaat\nTomate;Rot;12;10.3.2026\nTotal;;12;\n"
        )
        assert found.layout is not None
        self.assertEqual((found.layout.head, found.layout.above), (4, 2))
        self.assertEqual([(r.crop, r.wanted, r.sow) for r in found.rows], [("Tomate", 12, date(2026, 3, 10))])

    def test_headings_in_six_languages(self) -> None:
        for head in ("crop;plants;sow on", "Kultur;Anzahl;Aussaat", "Culture;Nombre de plants;Semis", "Cultivo;Cantidad;Fecha de siembra",
                     "Coltura;Quantità;Semina", "Gewas;Aantal;Zaaidatum"):  # fmt: skip
            row = plantings(f"{head}\nLeek;40;1 March\n").rows[0]
            self.assertEqual((row.crop, row.wanted, row.sow), ("Leek", 40, date(2026, 3, 1)), head)

    def test_what_no_heading_says_is_asked_and_then_told(self) -> None:
        text = "What;How much of it;When\nLeek;40;1 March\n"
        self.assertEqual(set(plantings(text).missing), {"crop", "wanted"})
        found = plantings(text, told={0: "crop", 1: "wanted", 2: "sow"})
        self.assertEqual([(r.crop, r.wanted, r.sow) for r in found.rows], [("Leek", 40, date(2026, 3, 1))])
        again = plantings(text, known={"what": "crop", "how much of it": "wanted"})
        self.assertEqual((again.missing, again.rows[0].sow), ((), None))

    def test_one_column_a_meaning(self) -> None:
        found = layout(sheet("crop,name,plants\nLeek,Winter,4\n"), NAMES)
        self.assertEqual([c.meaning for c in found.columns], ["crop", "", "wanted"])


class Forms(TestCase):
    def test_text_with_any_separator_reads_alike(self) -> None:
        for sign in ",;\t|":
            rows = [["Crop", "Variety", "Plants", "Sow"], ["Leek", "Old Ferry", "40", "wk 9"], ["Basil", "", "5", ""]]
            found = plantings("\n".join(sign.join(row) for row in rows))
            self.assertEqual(
                [(r.crop, r.wanted, r.sow) for r in found.rows],
                [("Leek", 40, date(2026, 2, 23)), ("Basil", 5, None)],
                sign,
            )

    def test_year_month_and_day_in_three_columns(self) -> None:
        for year, month, day in (("2026", "3", "10"), ("2026", "March", "10"), ("", "Mar", "10")):
            row = plantings(f"crop,plants,year,month,day\nLeek,4,{year},{month},{day}\n").rows[0]
            self.assertEqual(row.sow, date(2026, 3, 10))

    def test_a_workbook_reads_like_its_text(self) -> None:
        data = workbook(
            [["read me"]],
            [
                ["Our plan"],
                [],
                ["Crop", "# plants", "Sow", "Notes"],
                ["Leek", 40.0, date(2026, 3, 1), "=1+1"],
                ["Basil", 5, None, None],
            ],
        )
        found = plantings(data)
        self.assertEqual(
            [(r.row, r.crop, r.wanted, r.sow) for r in found.rows],
            [(4, "Leek", 40, date(2026, 3, 1)), (5, "Basil", 5, None)],
        )

    def test_what_cannot_be_read_is_said(self) -> None:
        broken = workbook([["crop", "plants"], ["Leek", 4]])[:-400]
        other = io.BytesIO()
        with zipfile.ZipFile(other, "w") as packed:
            packed.writestr("letter.txt", "hello")
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("xl/workbook.xml", b"<a>" + b"0" * (65 * 1024 * 1024))
        for data, code in ((b"", "empty"), (b"\x00\x01\x02", "binary"), (broken, "broken_workbook"), (other.getvalue(), "binary"),
                           (bomb.getvalue(), "too_big"), (b"crop,plants\n" + b"Kale,1\n" * MOST_ROWS, "too_many_rows"),
                           (b"c," * 300 + b"\n", "too_wide"), (b"x" * 2_000_001, "too_big"), (b"crop,plants\n", "no_rows")):  # fmt: skip
            found = plantings(data)
            assert found.fatal is not None, code
            self.assertEqual(found.fatal.code, code)

    def test_an_order_that_cannot_be_told_is_asked_once(self) -> None:
        text = "crop,plants,sow\nLeek,4,3/4/2026\nBasil,3,5/6/2026\n"
        self.assertTrue(plantings(text).ask_order)
        for order, day in (("dmy", date(2026, 4, 3)), ("mdy", date(2026, 3, 4))):
            found = plantings(text, order=order)
            self.assertEqual((found.ask_order, found.rows[0].sow), (False, day))

    def test_each_bad_row_is_named_and_good_ones_are_read(self) -> None:
        found = plantings("crop,plants,sow,method,out\nKale,6,,,\nLeek,x,,,\n,4,,,\nBasil,3,2026-13-01,,\nCosmos,99999999,,,\nPea,2.5,,,\n"
                          "Beet,3,,sideways,\nBean,3,10 May,,1 May\n")  # fmt: skip
        self.assertEqual([r.crop for r in found.rows], ["Kale"])
        self.assertEqual(
            [(p.row, p.code) for p in found.problems],
            [
                (3, "bad_count"),
                (4, "no_crop"),
                (5, "bad_date"),
                (6, "bad_count"),
                (7, "bad_count"),
                (8, "bad_method"),
                (9, "out_first"),
            ],
        )

    def test_packets_and_ounces(self) -> None:
        found = read_lots(
            sheet("Seed box\nGemüse;Sorte;Jahrgang;Korn;Gewicht (oz);Preis\nLauch;Alt;2025;200;0,5;3,20\n"), 2026
        )
        row = found.rows[0]
        self.assertEqual((row.crop, row.packed, row.seeds, row.grams, row.price), ("Lauch", 2025, 200, 14.175, 3.2))

    @settings(max_examples=150, deadline=None)
    @given(st.binary(max_size=300))
    def test_never_raises(self, data: bytes) -> None:
        plantings(data)
        plantings(b"crop,wanted,sow,method,term\n" + data)
        plantings(b"PK\x03\x04" + data)
        read_lots(sheet(b"crop,seeds,grams\n" + data), 2026)
