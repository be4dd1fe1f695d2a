"""What is in this sheet?  A text table, pasted cells or a workbook: bytes in, rows of text cells out, whatever wrote them.

A workbook is read as values, without formulas, links or macros, and no further than the bounds; of several sheets the
first with two columns is taken.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import islice
from typing import Any, NamedTuple

from growing.files import workbook
from growing.files.textfile import BadRows, FileProblem, csv_rows, decode, megabytes

MOST_COLUMNS = 200
MOST_LETTERS = workbook.MOST_LETTERS  # of one cell
AT_ONCE_BYTES = 250_000  # of text, thirty years of weather: read while one waits
ARCHIVE = b"PK\x03\x04"
SEPARATORS = "\t;,|"
SAMPLE = 25


class SheetLine(NamedTuple):
    """A row that holds something: its number in the sheet, from 1, and its cells as text."""

    number: int
    cells: tuple[str, ...]


class Sheet(NamedTuple):
    """lines in order; form: "text" or "workbook"; fatal: what stops it."""

    lines: tuple[SheetLine, ...] = ()
    form: str = "text"
    fatal: FileProblem | None = None
    separator: str = ""


def read_sheet(data: bytes, most_bytes: int, most_rows: int) -> Sheet:
    """The rows of a sheet, or what stops it; never raises for its contents."""
    if data.startswith(ARCHIVE):
        return _workbook(data, most_bytes, most_rows)
    text, _, fatal = decode(data, most_bytes)
    if fatal:
        return Sheet(fatal=fatal)
    separator = separator_of(text)
    found: list[SheetLine] = []
    try:
        for number, cells in csv_rows(text, separator):
            if len(found) == most_rows:
                return Sheet(fatal=FileProblem(0, "too_many_rows", f"{most_rows:,}"))
            if len(cells) > MOST_COLUMNS:
                return Sheet(fatal=FileProblem(number, "too_wide", str(len(cells))))
            found.append(SheetLine(number, tuple(cell.strip()[:MOST_LETTERS] for cell in cells)))
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
    best: list[SheetLine] = []
    try:
        for rows in workbook.sheets_of(data, MOST_COLUMNS):
            found: list[SheetLine] = []
            for number, cells in rows:
                if len(found) == most_rows:
                    return Sheet(form="workbook", fatal=FileProblem(0, "too_many_rows", f"{most_rows:,}"))
                found.append(SheetLine(number, cells))
            if len(found) > 1 and max(len(line.cells) for line in found) > 1:
                best = found
                break
            best = best or found
    except workbook.WorkbookRefused as much:
        return Sheet(form="workbook", fatal=FileProblem(0, much.code, much.value))
    except Exception:  # whatever a broken part makes the reader stumble over: it is no workbook
        return Sheet(form="workbook", fatal=FileProblem(0, "broken_workbook", ""))
    return Sheet(tuple(best), "workbook", None if best else FileProblem(0, "empty", ""))


def is_small(data: bytes) -> bool:
    """Can it be read while one waits?"""
    return len(data) <= AT_ONCE_BYTES and (not data.startswith(ARCHIVE) or workbook.is_small(data))


def sheet_apart(data: bytes, options: Mapping[str, Any]) -> dict[str, Any]:
    """`read_sheet` for a process of its own: options are its bounds."""
    return packed(read_sheet(data, options["most_bytes"], options["most_rows"]))


def packed(sheet: Sheet) -> dict[str, Any]:
    """The sheet as plain JSON."""
    return {
        "lines": [[line.number, list(line.cells)] for line in sheet.lines],
        "form": sheet.form,
        "fatal": None if sheet.fatal is None else list(sheet.fatal),
        "separator": sheet.separator,
    }


def unpacked(found: Mapping[str, Any]) -> Sheet:
    """The sheet that `packed` packed."""
    lines = tuple(SheetLine(number, tuple(cells)) for number, cells in found["lines"])
    fatal = None if found["fatal"] is None else FileProblem(*found["fatal"])
    return Sheet(lines, found["form"], fatal, found["separator"])


def texts(lines: tuple[SheetLine, ...], column: int) -> Iterator[str]:
    """One column's cells; empty where a row is too short."""
    for line in lines:
        yield line.cells[column] if column < len(line.cells) else ""
