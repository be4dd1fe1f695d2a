"""Is this a text file at all, and what is wrong with it?  Shared by everything that comes in as a table."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from typing import NamedTuple

MOST_BYTES = 32 * 1024 * 1024
MOST_LIST_BYTES = 2 * 1024 * 1024  # of a list typed by people
MOST_PROBLEMS = 200  # more bad rows than this, and it is hardly the right file


class FileProblem(NamedTuple):
    """row: line number in the file (header = 1), 0 for the whole file.  code: what is wrong.  value: as written."""

    row: int
    code: str
    value: str


class BadRows(ValueError):
    """A table that cannot be read on; carries the problem."""

    def __init__(self, problem: FileProblem) -> None:
        self.problem = problem
        super().__init__(problem.code)


def megabytes(size: int) -> str:
    """A size [bytes] in words, to three figures."""
    return f"{size / 1024 / 1024:.3g} MB"


def decode(data: bytes, most: int = MOST_BYTES) -> tuple[str, str, FileProblem | None]:
    """The text, its encoding, and what stops the file where it is none."""
    if len(data) > most:
        return "", "", FileProblem(0, "too_big", megabytes(most))
    if not data.strip():
        return "", "", FileProblem(0, "empty", "")
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                text = data.decode(encoding)
                return ("", "", FileProblem(0, "binary", "")) if "\x00" in text else (text, encoding, None)
            except UnicodeDecodeError:
                return "", "", FileProblem(0, "encoding", encoding)
    if b"\x00" in data:
        return "", "", FileProblem(0, "binary", "")
    try:
        return data.decode("utf-8"), "utf-8", None
    except UnicodeDecodeError:
        pass
    text = data.decode("latin-1")
    odd = sum(1 for c in text[:65536] if (ord(c) < 32 and c not in "\r\n\t") or 127 <= ord(c) < 160)
    if odd > len(text[:65536]) // 100:
        return "", "", FileProblem(0, "binary", "")
    return text, "latin-1", None


def lines(text: str) -> Iterator[str]:
    """Line by line with its end, one at a time; the old single carriage returns count as ends, too."""
    if "\n" not in text and "\r" in text:
        text = text.replace("\r", "\n")
    start = 0
    while start < len(text):
        end = text.find("\n", start) + 1 or len(text)
        yield text[start:end]
        start = end


def csv_rows(text: str, delimiter: str) -> Iterator[tuple[int, list[str]]]:
    """Rows that hold something, each with its line number; raises BadRows where a row cannot be read."""
    reader = csv.reader(lines(text), delimiter=delimiter)
    while True:
        try:
            row = next(reader, None)
        except csv.Error as error:
            raise BadRows(FileProblem(reader.line_num, "broken_row", "")) from error
        if row is None:
            return
        if any(cell.strip() for cell in row):
            yield reader.line_num, row
