"""What is in this sheet?  A text table, pasted cells or a workbook: bytes in, rows of text cells out, whatever wrote them.

A workbook is read as values, without formulas, links or macros, and no further than the bounds; of several sheets the
first with two columns is taken.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from datetime import date, datetime, time
from itertools import islice
from typing import NamedTuple

from growing.files.textfile import BadRows, FileProblem, csv_rows, decode, megabytes

MOST_COLUMNS = 200
MOST_LETTERS = 400  # of one cell
MOST_UNPACKED = 64 * 1024 * 1024  # bytes of a workbook once it is unpacked
MOST_SHEETS = 20
SEPARATORS = "\t;,|"
SAMPLE = 25


class Line(NamedTuple):
    """A row that holds something: its number in the sheet, from 1, and its cells as text."""

    number: int
    cells: tuple[str, ...]


class Sheet(NamedTuple):
    """lines in order; form: "text" or "workbook"; fatal: what stops it."""

    lines: tuple[Line, ...] = ()
    form: str = "text"
    fatal: FileProblem | None = None
    separator: str = ""


def read_sheet(data: bytes, most_bytes: int, most_rows: int) -> Sheet:
    """The rows of a sheet, or what stops it; never raises for its contents."""
    if data.startswith(b"PK\x03\x04"):
        return _workbook(data, most_bytes, most_rows)
    text, _, fatal = decode(data, most_bytes)
    if fatal:
        return Sheet(fatal=fatal)
    separator = separator_of(text)
    found: list[Line] = []
    try:
        for number, cells in csv_rows(text, separator):
            if len(found) == most_rows:
                return Sheet(fatal=FileProblem(0, "too_many_rows", f"{most_rows:,}"))
            if len(cells) > MOST_COLUMNS:
                return Sheet(fatal=FileProblem(number, "too_wide", str(len(cells))))
            found.append(Line(number, tuple(cell.strip()[:MOST_LETTERS] for cell in cells)))
    except BadRows as error:
        return Sheet(fatal=error.problem)
    return Sheet(tuple(found), "text", None if found else FileProblem(0, "empty", ""), separator)


def separator_of(text: str) -> str:
    """The sign between the cells: the one that splits most of the first lines into the same number of cells, two or more."""
    lines = [line for line in islice(text.splitlines(), SAMPLE) if line.strip()]

    def rank(sign: str) -> tuple[int, int]:
        counts = [line.count(sign) for line in lines if sign in line]
        usual = max(set(counts), key=lambda n: (counts.count(n), n)) if counts else 0
        return counts.count(usual) if usual else 0, usual

    return max(SEPARATORS, key=rank)


def _workbook(data: bytes, most_bytes: int, most_rows: int) -> Sheet:
    """The first sheet of a workbook that is a table."""
    if len(data) > most_bytes:
        return Sheet(form="workbook", fatal=FileProblem(0, "too_big", megabytes(most_bytes)))
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(one.file_size for one in packed.infolist()) > MOST_UNPACKED:
                return Sheet(form="workbook", fatal=FileProblem(0, "too_big", megabytes(MOST_UNPACKED)))
            if "xl/workbook.xml" not in packed.namelist():
                return Sheet(form="workbook", fatal=FileProblem(0, "binary", ""))
        return _sheet_of(data, most_rows)
    except Exception:  # whatever a broken archive or its XML makes the reader stumble over: it is no workbook
        return Sheet(form="workbook", fatal=FileProblem(0, "broken_workbook", ""))


def _sheet_of(data: bytes, most_rows: int) -> Sheet:
    # takes a while to load, and most files are text
    from openpyxl import load_workbook  # type: ignore[import-untyped]

    book = load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
    try:
        best: list[Line] = []
        for page in book.worksheets[:MOST_SHEETS]:
            found: list[Line] = []
            for number, row in enumerate(page.iter_rows(values_only=True, max_col=MOST_COLUMNS), 1):
                cells = tuple(_text(value) for value in row)
                if any(cells):
                    if len(found) == most_rows:
                        return Sheet(form="workbook", fatal=FileProblem(0, "too_many_rows", f"{most_rows:,}"))
                    found.append(Line(number, _trimmed(cells)))
                if number > 20 * most_rows:  # a sheet that claims a million empty rows
                    break
            if len(found) > 1 and max(len(line.cells) for line in found) > 1:
                best = found
                break
            best = best or found
    finally:
        book.close()
    return Sheet(tuple(best), "workbook", None if best else FileProblem(0, "empty", ""))


def _trimmed(cells: tuple[str, ...]) -> tuple[str, ...]:
    last = max((k for k, cell in enumerate(cells) if cell), default=-1)
    return cells[: last + 1]


def _text(value: object) -> str:
    """A workbook's value as somebody would have typed it; days as year-month-day."""
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == time(0) else value.isoformat(" ", "minutes")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return str(int(value))
    return str(value).strip()[:MOST_LETTERS]


def texts(lines: tuple[Line, ...], column: int) -> Iterator[str]:
    """One column's cells; empty where a row is too short."""
    for line in lines:
        yield line.cells[column] if column < len(line.cells) else ""
