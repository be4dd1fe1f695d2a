"""What is in this seed list?  A CSV of packets: bytes in; rows and problems out.  Crops are read only as written."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from growing.files.tablefile import Row, read_table
from growing.files.textfile import MOST_PROBLEMS, FileProblem

MOST_ROWS = 2000
COLUMNS = {
    "crop": ("crop", "name", "species", "kind"),
    "variety": ("variety", "sort"),
    "packed": ("packed", "packed year", "packed_year", "year"),
    "seeds": ("seeds", "count", "number", "quantity"),
    "grams": ("grams", "g", "weight"),
    "seeds_per_g": ("seeds per gram", "seeds_per_g", "seeds/g"),
    "origin": ("from", "origin", "bought from", "source"),
    "price": ("price", "cost"),
    "note": ("note", "notes", "remark"),
}


class LotRow(NamedTuple):
    """One packet as listed; None where the list says nothing."""

    row: int
    crop: str
    variety: str
    packed: int | None
    seeds: int | None
    grams: float | None
    seeds_per_g: float | None
    origin: str
    price: float | None
    note: str


class LotFile(NamedTuple):
    """rows that can be read; `fatal` stops the file, `problems` name a row each."""

    rows: tuple[LotRow, ...]
    fatal: FileProblem | None
    problems: tuple[FileProblem, ...]


def read_lots(data: bytes, year: int) -> LotFile:
    """Parse a seed list; never raises for its contents.  year: packets for a later one than the next are problems."""
    lines, fatal = read_table(data, COLUMNS, ("crop",), MOST_ROWS)
    problems: list[FileProblem] = []
    rows = [r for line in lines if len(problems) < MOST_PROBLEMS and (r := _row(line, year, problems)) is not None]
    return LotFile(tuple(rows), fatal, tuple(problems))


def _row(line: Row, year: int, problems: list[FileProblem]) -> LotRow | None:
    before = len(problems)
    if not line["crop"]:
        problems.append(FileProblem(line.number, "no_crop", ""))

    def number(name: str, kind: Callable[[str], Any], low: float, high: float) -> Any:
        text = line[name]
        if not text:
            return None
        try:
            value = kind(text.replace(",", "."))
        except ValueError:
            value = None
        if value is None or not low <= value <= high:
            problems.append(FileProblem(line.number, f"bad_{name}", text[:40]))
            return None
        return value

    row = LotRow(
        line.number,
        line["crop"][:60],
        line["variety"][:60],
        number("packed", int, 1950, year + 1),
        number("seeds", int, 0, 10_000_000),
        number("grams", float, 0, 100_000),
        number("seeds_per_g", float, 0.1, 100_000),
        line["origin"][:60],
        number("price", float, 0, 100_000),
        line["note"][:200],
    )
    return row if len(problems) == before else None
