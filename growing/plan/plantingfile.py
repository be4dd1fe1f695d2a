"""What is on this list of plantings?  A CSV of crops and counts: bytes in; rows and problems out.

Crops are only read as written here; matching them to what a garden knows is the caller's, who asks before guessing.
"""

from __future__ import annotations

from datetime import date
from typing import NamedTuple

from growing.files.tablefile import Row, read_table
from growing.files.textfile import MOST_PROBLEMS, FileProblem

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
_TERMS = {"": "spring", "spring": "spring", "autumn": "autumn", "fall": "autumn", "overwinter": "overwinter"}
MOST_WANTED = 20_000


class PlantingRow(NamedTuple):
    """One planting of a file: its line there (the head is 1), crop as written, plants wanted (≥ 1), the sowing day where one is given."""

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
    lines, fatal = read_table(data, _COLUMNS, ("crop", "wanted"), MOST_ROWS)
    problems: list[FileProblem] = []
    rows = [r for line in lines if len(problems) < MOST_PROBLEMS and (r := _row(line, problems)) is not None]
    return PlantingFile(tuple(rows), fatal, tuple(problems))


def _row(line: Row, problems: list[FileProblem]) -> PlantingRow | None:
    number = line.number
    before = len(problems)
    wanted = 0
    if not line["crop"]:
        problems.append(FileProblem(number, "no_crop", ""))
    try:
        wanted = int(line["wanted"])
    except ValueError:
        problems.append(FileProblem(number, "bad_count", line["wanted"][:40]))
    else:
        if not 1 <= wanted <= MOST_WANTED:
            problems.append(FileProblem(number, "bad_count", line["wanted"][:40]))
    sow = None
    if line["sow"]:
        try:
            sow = date.fromisoformat(line["sow"])
        except ValueError:
            problems.append(FileProblem(number, "bad_date", line["sow"][:40]))
    method, term = _METHODS.get(line["method"].lower()), _TERMS.get(line["term"].lower())
    if method is None or term is None:
        problems.append(FileProblem(number, "bad_word", (line["method"] if method is None else line["term"])[:40]))
    if len(problems) > before or method is None or term is None:
        return None
    return PlantingRow(number, line["crop"][:60], line["variety"][:60], wanted, sow, method, term)
