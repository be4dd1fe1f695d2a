"""Small files that would be large, deep, wide or endless once somebody read them; for tests and for the soak."""

from __future__ import annotations

import io
import struct
import warnings
import zipfile
from collections.abc import Iterator
from datetime import date, timedelta

from openpyxl import Workbook  # type: ignore[import-untyped]

MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
SHEET, STRINGS, STYLES = "xl/worksheets/sheet1.xml", "xl/sharedStrings.xml", "xl/styles.xml"
BEGIN = f'<?xml version="1.0"?><worksheet xmlns="{MAIN}"><sheetData>'.encode()
END = b"</sheetData></worksheet>"


def workbook(rows: list[list[object]]) -> bytes:
    """An honest one."""
    book = Workbook()
    assert book.active is not None
    for row in rows:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def list_of(
    rows: int, heading: tuple[str, ...] = ("crop", "wanted"), row: tuple[object, ...] = ("tomato", 12)
) -> bytes:
    return workbook([list(heading), *([list(row)] * rows)])


def weather(days: int) -> bytes:
    first = date(1996, 1, 1)
    rows = [[first + timedelta(days=k), k % 13 - 4.5, k % 15 + 8] for k in range(days)]
    return workbook([["date", "tmin", "tmax"], *rows])


def with_part(name: str, content: bytes, of: bytes | None = None) -> bytes:
    """A workbook in which one part is another, or one more."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(of or list_of(1))) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for entry in old.infolist():
            if entry.filename != name:
                new.writestr(entry.filename, old.read(entry))
        new.writestr(name, content)
    return out.getvalue()


def sheet(content: bytes) -> bytes:
    return with_part(SHEET, BEGIN + content + END)


def strings(content: bytes) -> bytes:
    """With shared texts, which the honest one has not."""
    book = list_of(1)
    types = zipfile.ZipFile(io.BytesIO(book)).read("[Content_Types].xml")
    of = "application/vnd.openxmlformats-officedocument.spreadsheetml.sharedStrings+xml"
    kind = f'<Override PartName="/xl/sharedStrings.xml" ContentType="{of}"/></Types>'.encode()
    book = with_part("[Content_Types].xml", types.replace(b"</Types>", kind), book)
    return with_part(STRINGS, f'<sst xmlns="{MAIN}">'.encode() + content + b"</sst>", book)


def many_sheets(same: bytes, count: int) -> bytes:
    """A workbook in which one part is a sheet under many names."""
    book = sheet(same)
    names = "".join(f'<sheet name="s{k}" sheetId="{k + 1}" r:id="rId1"/>' for k in range(count))
    place = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
    text = f'<workbook xmlns="{MAIN}" xmlns:r="{place}"><sheets>{names}</sheets></workbook>'
    return with_part("xl/workbook.xml", text.encode(), book)


def lying(data: bytes, said: int) -> bytes:
    """The archive with another size said of each part in its directory."""
    out, at = bytearray(data), data.find(b"PK\x01\x02")
    while at >= 0:
        out[at + 24 : at + 28] = struct.pack("<I", said)
        at = data.find(b"PK\x01\x02", at + 46)
    return bytes(out)


def many_parts(count: int) -> bytes:
    out = io.BytesIO(list_of(1))
    with zipfile.ZipFile(out, "a") as book:
        for k in range(count):
            book.writestr(f"xl/p{k}.xml", b"<a/>")
    return out.getvalue()


def workbooks() -> Iterator[tuple[str, bytes]]:
    """Each with a name that says what is wrong with it."""
    yield "nested three million deep", sheet(b"<a>" * 3_000_000)
    yield "nested and closed", sheet(b"<a>" * 500_000 + b"</a>" * 500_000)
    yield "nested in a cell", sheet(b"<row><c><is>" + b"<r>" * 200_000 + b"</r>" * 200_000 + b"</is></c></row>")
    yield "one row of three million cells", sheet(b"<row>" + b"<c/>" * 3_000_000 + b"</row>")
    yield "a row of three thousand cells", sheet(b"<row>" + b"<c><v>1</v></c>" * 3_000 + b"</row>")
    yield "wide rows, many", sheet((b"<row>" + b"<c/>" * 1_500 + b"</row>") * 200)
    yield "half a million rows", sheet(b"<row/>" * 500_000)
    yield "rows under the bound", sheet(b"<row/>" * 350_000)
    yield "cells under the bound", sheet((b"<row>" + b"<c><v>1</v></c>" * 150 + b"</row>") * 1_200)
    yield "three million texts", strings(b"<si/>" * 1_500_000)
    yield "texts under the bound", strings(b"<si><t>a</t></si>" * 190_000)
    yield "one text of seven megabytes", strings(b"<si><t>" + b"x" * 7_000_000 + b"</t></si>")
    yield "sixty megabytes of blanks", sheet(b" " * 60_000_000)
    yield "one endless attribute", sheet(b'<row a="' + b"x" * 7_000_000 + b'"/>')
    yield "endless attributes", sheet(b"<row " + b" ".join(b'a%d=""' % k for k in range(300_000)) + b"/>")
    yield "a comment without end", sheet(b"<!--" + b"x" * 7_000_000)
    yield (
        "entities that unfold",
        with_part(
            SHEET, b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><worksheet>&b;</worksheet>'
        ),
    )
    yield "styles without end", with_part(STYLES, f'<styleSheet xmlns="{MAIN}"><cellXfs>'.encode() + b"<xf/>" * 200_000)
    yield (
        "styles under the bound",
        with_part(
            STYLES, f'<styleSheet xmlns="{MAIN}"><cellXfs>'.encode() + b"<xf/>" * 29_000 + b"</cellXfs></styleSheet>"
        ),
    )
    yield "properties nested", with_part("docProps/core.xml", b"<a>" * 1_000_000)
    yield "twenty names of one sheet", many_sheets(b"<row/>" * 190_000, 20)
    yield "ten thousand sheets", many_sheets(b"", 10_000)
    yield (
        "a cell at the far corner",
        sheet(
            b'<row r="1"><c r="A1"><v>1</v></c><c r="B1"><v>1</v></c></row><row r="1048576"><c r="XFD1048576"><v>2</v></c></row>'
        ),
    )
    yield "sizes said too small", lying(sheet(b" " * 9_000_000), 10)
    yield "sizes said too large", lying(list_of(3), 4_000_000_000)
    yield "two thousand parts", many_parts(2_000)
    yield "a part twice", twice()
    yield "cut off", list_of(3)[:-200]
    yield "no workbook inside", with_part("xl/workbook.xml", b"<a/>", zip_of({"readme.txt": b"nothing"}))
    yield "an archive of nothing", zip_of({})


def zip_of(parts: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, content in parts.items():
            made.writestr(name, content)
    return out.getvalue() if parts else b"PK\x03\x04" + out.getvalue()


def twice() -> bytes:
    """Two parts of one name."""
    out = io.BytesIO(list_of(1))
    with zipfile.ZipFile(out, "a") as book, warnings.catch_warnings():
        warnings.simplefilter("ignore")
        book.writestr(SHEET, BEGIN + END)
    return out.getvalue()


def others() -> Iterator[tuple[str, bytes]]:
    """Text that is long, deep or wide, and things named as what they are not."""
    yield "a quotation mark never closed", b'crop,wanted\n"' + b"x" * 3_900_000
    yield "one line of four megabytes", b"a," * 1_950_000
    yield "two million empty lines", b"\n" * 3_900_000
    yield "two hundred columns", (b"tomato," * 199 + b"x\n") * 2_500
    yield "crops nobody knows", b"crop,wanted\n" + b"".join(b"crop%d,1\n" % k for k in range(1_900))
    yield "long cells", (b"tomato," + b"x" * 399 + b"\n") * 1_900
    yield (
        "days in every order",
        b"date,tmin\n" + b"".join(b"%d/%d/26,1\n" % (k % 28 + 1, k % 12 + 1) for k in range(60_000)),
    )
    yield (
        "three centuries of days",
        b"date,tmin,tmax\n"
        + b"".join((date(1726, 1, 1) + timedelta(days=k)).isoformat().encode() + b",1.5,9\n" for k in range(109_000)),
    )
    yield "tables nested in brackets", b"a = " + b"[" * 250_000
    yield "names of endless dots", b".".join([b"a"] * 120_000) + b" = 1"
    yield "names of many dots, many", b"\n".join(b".".join([b"a%d" % k] * 30) + b" = 1" for k in range(4_000))
    yield "tables without number", b"".join(b"[crop.a%d]\n" % k for k in range(30_000))
    yield "JSON nested", b'{"a":' * 90_000
    yield "JSON of many lists", b"[" + b"[]," * 80_000 + b"[]]"
    yield "NUL everywhere", b"\x00" * 500_000
    yield "a picture", b"\x89PNG\r\n\x1a\n" + bytes(range(256)) * 800
    yield "gzip of zeros", b"\x1f\x8b\x08" + b"\x00" * 300_000
