"""What is on this list of plantings?  A CSV of crops and counts: bytes in; rows and problems out.

Crops are only read as written here; matching them to what a garden knows is the caller's, who asks before guessing.
"""

from __future__ import annotations

import csv
import io
from datetime import date
from typing import NamedTuple

from growing.textfile import FileProblem, decode

MOST_ROWS = 2000
_COLUMNS = {
    "crop": ("crop", "name", "species", "kind"),
    "variety": ("variety", "cultivar", "sort"),
    "wanted": ("wanted", "plants", "count", "number", "quantity"),
    "sow": ("sow", "sow on", "sow_on", "sowing", "sowing date"),
    "method": ("method",),
    "term": ("term", "season"),
}
_METHODS = {"": "raised", "raised": "raised", "indoors": "raised", "direct": "direct", "bought": "bought"}
_TERMS = {"": "spring", "spring": "spring", "autumn": "autumn", "fall": "autumn"}
MOST_WANTED = 20_000


class PlantingRow(NamedTuple):
    row: int
    crop: str
    variety: str
    wanted: int
    sow: date | None
    method: str
    term: str


class PlantingFile(NamedTuple):
    """rows that can be read; `fatal` stops the file, `problems` name a row each."""

    rows: tuple[PlantingRow, ...]
    fatal: FileProblem | None
    problems: tuple[FileProblem, ...]


def read_plantings(data: bytes) -> PlantingFile:
    """Parse a list of plantings; never raises for its contents."""
    text, _, fatal = decode(data)
    if fatal:
        return PlantingFile((), fatal, ())
    first = text.split("\n", 1)[0]
    delimiter = max(";\t,", key=first.count)
    lines = [
        (n, r)
        for n, r in enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter), 1)
        if any(c.strip() for c in r)
    ]
    if not lines:
        return PlantingFile((), FileProblem(0, "empty", ""), ())
    head = [c.strip().lower() for c in lines[0][1]]
    if len(head) > 200:
        return PlantingFile((), FileProblem(1, "too_wide", str(len(head))), ())
    where = {want: head.index(n) for want, names in _COLUMNS.items() for n in reversed(names) if n in head}
    for want in ("crop", "wanted"):
        if want not in where:
            return PlantingFile((), FileProblem(1, f"no_{want}_column", ", ".join(head)[:120]), ())
    if len(lines) - 1 > MOST_ROWS:
        return PlantingFile((), FileProblem(0, "too_many_rows", str(len(lines) - 1)), ())
    problems: list[FileProblem] = []
    rows = [r for n, cells in lines[1:] if (r := _row(n, cells, where, problems)) is not None]
    return PlantingFile(tuple(rows), None, tuple(problems))


def _row(number: int, cells: list[str], where: dict[str, int], problems: list[FileProblem]) -> PlantingRow | None:
    def cell(name: str) -> str:
        at = where.get(name)
        return cells[at].strip() if at is not None and at < len(cells) else ""

    before = len(problems)
    wanted = 0
    if not cell("crop"):
        problems.append(FileProblem(number, "no_crop", ""))
    try:
        wanted = int(cell("wanted"))
    except ValueError:
        problems.append(FileProblem(number, "bad_count", cell("wanted")[:40]))
    else:
        if not 1 <= wanted <= MOST_WANTED:
            problems.append(FileProblem(number, "bad_count", cell("wanted")[:40]))
    sow = None
    if cell("sow"):
        try:
            sow = date.fromisoformat(cell("sow"))
        except ValueError:
            problems.append(FileProblem(number, "bad_date", cell("sow")[:40]))
    method, term = _METHODS.get(cell("method").lower()), _TERMS.get(cell("term").lower())
    if method is None or term is None:
        problems.append(FileProblem(number, "bad_word", (cell("method") if method is None else cell("term"))[:40]))
    if len(problems) > before or method is None or term is None:
        return None
    return PlantingRow(number, cell("crop")[:60], cell("variety")[:60], wanted, sow, method, term)
