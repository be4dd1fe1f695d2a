"""What is in this table?  A CSV with a header: columns found by name, rows as cells by column; bytes in, problems out."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from growing.files.textfile import MOST_LIST_BYTES, BadRows, FileProblem, csv_rows, decode

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
    """The rows of a table, or what stops the file; read as a stream, no further than `most_rows`.

    columns: name -> how its header may be written, in lower case.
    """
    text, _, fatal = decode(data, MOST_LIST_BYTES)
    if fatal:
        return [], fatal
    first = text.split("\n", 1)[0]
    rows = csv_rows(text, max(";\t,", key=first.count))
    try:
        _, head = next(rows, (0, []))
        head = [c.strip().lower() for c in head]
        if not head:
            return [], FileProblem(0, "empty", "")
        if len(head) > MOST_COLUMNS:
            return [], FileProblem(1, "too_wide", str(len(head)))
        where = {want: head.index(n) for want, names in columns.items() for n in reversed(list(names)) if n in head}
        for want in needed:
            if want not in where:
                return [], FileProblem(1, f"no_{want}_column", ", ".join(head)[:120])
        found: list[Row] = []
        for number, cells in rows:
            if len(found) == most_rows:
                return [], FileProblem(0, "too_many_rows", str(most_rows))
            found.append(Row(number, {w: cells[at].strip() for w, at in where.items() if at < len(cells)}))
        return found, None
    except BadRows as error:
        return [], error.problem
