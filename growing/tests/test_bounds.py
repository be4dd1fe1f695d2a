"""What comes in is bounded: endless digits, fields, rows and nests are refused at once, and say by which limit."""

from __future__ import annotations

import json
import time
from datetime import date
from unittest import TestCase

from growing.crops import exchange
from growing.crops.schema import FIELDS
from growing.files import jsonfile, textfile
from growing.files.sheet import read_sheet
from growing.place import weatherfile
from growing.place.feed import BadPost, read_post
from growing.plan import plantingfile
from growing.seeds import lotfile
from growing.seeds.packettext import read_packet

TODAY = date(2026, 4, 12)
QUICK_S = 10.0  # for all of one test on a busy machine; each of the poisons took minutes


class Bounds(TestCase):
    def setUp(self) -> None:
        self.began = time.monotonic()
        self.addCleanup(lambda: self.assertLess(time.monotonic() - self.began, QUICK_S))

    def test_texts_of_packets(self) -> None:
        odd = (
            "9" * 2000,
            "9" * 500 + " weeks before " + "9" * 900,
            "1 " * 1000,
            "chill" * 400,
            "1/" * 900,
            "½" * 1500,
            " " * 2000,
        )
        for text in odd:
            self.assertEqual(read_packet(text).value("weeks"), None, text[:20])
        read = read_packet("sow 6-8 weeks before last frost, 12345678 days, 1,5 cm deep")
        self.assertEqual(
            (read.value("weeks"), read.value("depth_cm"), read.value("days_up")), ((6, 8), (1.5, 1.5), None)
        )
        self.assertEqual(read_packet("a" * 5000 + " 6 weeks before last frost").readings, ())

    def test_lists(self) -> None:
        rows = "crop,seeds\n" + "tomato,9\n" * (lotfile.MOST_ROWS + 1)

        def lots(data: bytes) -> lotfile.LotFile:
            return lotfile.read_lots(read_sheet(data, textfile.MOST_LIST_BYTES, lotfile.MOST_ROWS), 2026)

        wide = "crop,seeds\n" + '"' + "a" * 140_000 + '",3\n'
        for data, code in (
            (rows.encode(), "too_many_rows"),
            (wide.encode(), "broken_row"),
            (b"crop,seeds\n" + b"x" * (textfile.MOST_LIST_BYTES + 1), "too_big"),
            (b"crop,seeds\ntom\x00ato,3\n", "binary"),
            (b'crop,seeds\n"tomato,3\n', None),
        ):
            fatal = lots(data).fatal
            self.assertEqual(fatal.code if fatal else None, code)
        bad = lots(("crop,seeds\n" + "tomato,many\n" * 2000).encode())
        self.assertEqual((len(bad.problems), len(bad.rows)), (2000, 0))
        huge = "9" * 5000
        for text in (huge, "nan", "inf", "1e400", "-1", "１２"):
            odd = lots(f"crop,seeds,price\ntomato,{text},{text}\n".encode())
            self.assertTrue(odd.problems or text == "１２", text)
            plants = plantingfile.read_plantings(
                read_sheet(f"crop,wanted,sow\ntomato,{text},{text}\n".encode(), 100_000, 10), date(2026, 4, 12)
            )
            self.assertTrue(plants.problems, text)

    def test_weather(self) -> None:
        head = "date,tmin,tmax\n"
        lone = "\ud800".encode("utf-8", "surrogatepass")
        for data, code in (
            ((head + "2024-01-01,x,y\n" * 5000).encode(), "too_many_problems"),
            ((head + "2024-01-01,5,9\n2024-01-01,6,9\n" * 3000).encode(), "too_many_problems"),
            ((head + '"' + "1" * 200_000 + '",2,3\n').encode(), "broken_row"),
            ((head + "0001-01-01,2,9\n").encode(), "bad_date"),
            ((head + "9999-12-31,2,9\n").encode(), "bad_date"),
            ((head + f"2024-01-01,{'9' * 5000},3\n").encode(), "bad_number"),
            ((head + "2024-01-01,nan,inf\n").encode(), "bad_number"),
            (head.encode() + lone, "binary"),
            ((head + "2024-01-\x1d5,2,3\n" + "x,2,3\n" * 300).encode(), "too_many_problems"),
        ):
            parsed = weatherfile.read_weather(data, TODAY)
            assert parsed.fatal is not None
            self.assertEqual(parsed.fatal.code, code)
        many = head + "".join(
            f"{date.fromordinal(621_000 + k)},1,{k % 9 + 2}\n" for k in range(weatherfile.MOST_DAYS + 1)
        )
        fatal = weatherfile.read_weather(many.encode(), TODAY).fatal
        assert fatal is not None
        self.assertEqual(fatal.code, "too_many_days")

    def test_json(self) -> None:
        for text, said in (
            ("[" * 200_000, "rows and lists"),
            ("[" * 3000, "not whole JSON"),
            ('{"a": NaN}', "NaN is not a number"),
            ('{"a": -Infinity}', "not a number"),
            ('{"a": 1e999}', "no number that can be meant"),
            ('{"a": ' + "9" * 5000 + "}", "5000 digits"),
            ('{"a": ["\\ud800"]}', "half a character"),
            ('{"\\udfff": 1}', "half a character"),
            ('{"a": 1', "cut off"),
            ("[" + "1," * 3000 + "1]", "more than 2,000 values"),
        ):
            with self.assertRaises(jsonfile.BadJson) as caught:
                jsonfile.read_json(text.encode(), 10**6, 100_000, 2000)
            self.assertIn(said, str(caught.exception))
        with self.assertRaisesRegex(jsonfile.BadJson, "MB are read"):
            jsonfile.read_json(b" " * 2000, 1000, 10, 10)
        self.assertEqual(
            jsonfile.read_json('{"ü": [1, 2.5, "\\u00e4😀"]}'.encode(), 1000, 10, 10), {"ü": [1, 2.5, "ä😀"]}
        )

    def test_posts_of_devices(self) -> None:
        for row, said in (
            ({"at": "0001-01-01T08:00", "celsius": 4}, "clock right"),
            ({"at": "2026-04-12T08:00", "celsius": 10**15}, "give °C"),
            ({"at": "9" * 5000, "celsius": 4}, "write it as"),
            ({"at": ["x"], "celsius": {}}, "write it as"),
        ):
            with self.assertRaisesRegex(BadPost, said):
                read_post(json.dumps({"kind": "soil", "readings": [row]}).encode(), TODAY)
        for body in (
            b'{"kind": "soil", "readings": [{"at": "2026-04-12", "celsius": NaN}]}',
            b"[" * 900,
            b'{"kind": ' + b"1" * 6000 + b"}",
        ):
            with self.assertRaises(BadPost):
                read_post(body, TODAY)

    def test_crops(self) -> None:
        for text, said in (
            ("[crop]\n'a/b' = {name='x', relative='tomato'}", "this key cannot be"),
            ("[crop.'..']\nname='x'\nrelative='tomato'", "this key cannot be"),
            ("[crop.'ü']\nname='x'\nrelative='tomato'", "this key cannot be"),
            ("[crop.compare]\nname='x'\nrelative='tomato'", "this key cannot be"),
            ("[crop.import]\nname='x'\nrelative='tomato'", "this key cannot be"),
            ("crop = 3", "must be tables"),
            ("value = 5", "must be tables"),
            ("[[crop]]\nname='x'", "must be tables"),
            ("[crop.x]\nname='x'\nrelative=['tomato']", "are words"),
            ("[[value]]\ncrop=['tomato']\nfield='hold'\nvalue=3", "there is no crop"),
            ("[[value]]\ncrop='tomato'\nfield=['hold']\nvalue=3", "there is no field"),
            ("[[value]]\ncrop='tomato'\nfield='hold'\nvalue=[3]", "must be a number"),
            ("[[value]]\ncrop='tomato'\nfield='hold'\nvalue=nan", "must lie between"),
            ("[[value]]\ncrop='tomato'\nfield='hold'\nvalue=" + "9" * 300, "no number that can be meant"),
            ("x = " + "9" * 5000, "not TOML"),
            ("x = " + "[" * 3000, "not TOML"),
            ("# " + "x" * exchange.MOST_BYTES, "the most that is read"),
        ):
            self.assertIn(said, " ".join(exchange.read_own(text.encode()).problems), text[:60])
        many = exchange.read_own("".join(f"[crop.c{n}]\nname=''\n" for n in range(300)).encode())
        self.assertEqual(len(many.problems), exchange.MOST_PROBLEMS + 1)
        odd = exchange.OwnCrop("mine", 'a "quoted" \\ name\n\t\x7f\x01 ü', "tomato", "", "")
        self.assertEqual(exchange.read_own(exchange.write_own([odd], []).encode()).crops, (odd,))
        self.assertEqual(FIELDS["hold"].check(float("inf")), "is no number that can be meant")
