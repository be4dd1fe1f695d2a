"""What is in this table?  A CSV with a header: columns found by name, rows as cells by column; bytes in, problems out."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from growing.textfile import FileProblem, decode

MOST_COLUMNS = 200


@dataclass(frozen=True, slots=True)
class Row:
    """One line of the file: its number (header = 1) and its cells by column; a column not there is empty."""

    number: int
    cells: Mapping[str, str]

    def __getitem__(self, name: str) -> str:
        return self.cells.get(name, "")


def read_table(
    data: bytes, columns: Mapping[str, Iterable[str]], needed: Iterable[str], most_rows: int
) -> tuple[list[Row], FileProblem | None]:
    """The rows of a table, or what stops the file.  columns: name -> how its header may be written, in lower case."""
    text, _, fatal = decode(data)
    if fatal:
        return [], fatal
    first = text.split("\n", 1)[0]
    delimiter = max(";\t,", key=first.count)
    read = enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter), 1)
    lines = [(n, r) for n, r in read if any(c.strip() for c in r)]
    if not lines:
        return [], FileProblem(0, "empty", "")
    head = [c.strip().lower() for c in lines[0][1]]
    if len(head) > MOST_COLUMNS:
        return [], FileProblem(1, "too_wide", str(len(head)))
    where = {want: head.index(n) for want, names in columns.items() for n in reversed(list(names)) if n in head}
    for want in needed:
        if want not in where:
            return [], FileProblem(1, f"no_{want}_column", ", ".join(head)[:120])
    if len(lines) - 1 > most_rows:
        return [], FileProblem(0, "too_many_rows", str(len(lines) - 1))
    return [
        Row(n, {want: cells[at].strip() for want, at in where.items() if at < len(cells)}) for n, cells in lines[1:]
    ], None
