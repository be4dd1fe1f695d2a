"""Which row is the heading, and what does each column mean?  Headings as people write them, in several languages.

A meaning is found only where a heading is one of its known names; all else stays open and is asked for.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from typing import NamedTuple

from growing.files.days import bare
from growing.files.sheet import Sheet, SheetLine

LOOKED_THROUGH = 40  # rows among which the heading is looked for
Names = Mapping[str, tuple[str, ...]]

# The year, month and day of a date in columns of their own.
PARTS: Names = {
    "year": ("year", "jahr", "annee", "an", "ano", "anno", "jaar", "yyyy"),
    "month": ("month", "monat", "mois", "mes", "mese", "maand", "mm"),
    "day": ("day", "tag", "jour", "dia", "giorno", "dag", "dd"),
}
_UNIT = re.compile(r"[\[(](.*?)[\])]|(°\s*[cf])\b|\b(fahrenheit|celsius|inches|inch|cm|mm|oz|grams?)\b", re.I)


class Column(NamedTuple):
    """A column: its place, its heading as written, what it means ("" where nobody knows), and the unit it names."""

    at: int
    heading: str
    meaning: str
    unit: str


class Layout(NamedTuple):
    """columns in order; body: the rows under the heading; above: rows of title and comment before it; head: its number.
    where: the place of each meaning that a column has."""

    columns: tuple[Column, ...]
    body: tuple[SheetLine, ...]
    above: int
    head: int
    where: Mapping[str, int]

    def at(self, meaning: str) -> int | None:
        """Where that is; None where no column says it."""
        return self.where.get(meaning)

    def cell(self, line: SheetLine, meaning: str) -> str:
        """The row's cell of that meaning; empty where there is none."""
        at = self.where.get(meaning)
        return "" if at is None or at >= len(line.cells) else line.cells[at]

    def has(self, meaning: str) -> bool:
        return meaning in self.where


def plain(heading: str) -> str:
    """A heading as it is compared: small letters without accents, units and signs; “# plants” is “no plants”."""
    text = bare(heading).replace("#", "no ").replace("ß", "ss")
    text = re.sub(r"[\[(].*?[\])]|°\s*[cf]\b", " ", text)
    return re.sub(r"[^a-z0-9]+", " ", text).strip()


def unit_of(heading: str) -> str:
    """The unit that a heading names: "F", "C", or as written; empty where none."""
    found = _UNIT.search(heading)
    text = "" if found is None else next(part for part in found.groups() if part is not None).strip().lower()
    text = text.replace("°", "").replace("deg", "").strip()
    return {"f": "F", "fahrenheit": "F", "c": "C", "celsius": "C"}.get(text, text)


def layout(
    sheet: Sheet,
    names: Names,
    told: Mapping[int, str] | None = None,
    known: Mapping[str, str] | None = None,
    with_parts: bool = True,
) -> Layout:
    """The heading row and the meaning of every column.

    names: the known names of each meaning, plain; a name of two is the first that no other column has.  told: meanings by
    column, as somebody said.  known: by plain heading, as somebody said before.  with_parts: whether year, month and day may
    stand in columns of their own.
    """
    all_names = {**names, **(PARTS if with_parts else {})}
    lookup: dict[str, tuple[str, ...]] = {}
    for meaning, ways in all_names.items():
        for name in ways:
            lookup[name] = (*lookup.get(name, ()), meaning)
    lookup |= {name: (meaning,) for name, meaning in (known or {}).items()}
    at = _heading(sheet.lines[:LOOKED_THROUGH], lookup)
    head = sheet.lines[at]
    taken: set[str] = set()
    columns = []
    for place, heading in enumerate(head.cells):
        if told is not None and place in told:
            meaning = told[place]
        else:
            meaning = next((m for m in lookup.get(plain(heading), ()) if m not in taken), "")
        if not meaning and not heading and place not in (told or {}):
            continue
        meaning = "" if meaning in taken else meaning
        taken |= {meaning} - {""}
        columns.append(Column(place, heading, meaning, unit_of(heading)))
    body = tuple(line for line in sheet.lines[at + 1 :] if not _is_comment(line))
    where = {column.meaning: column.at for column in columns if column.meaning}
    return Layout(tuple(columns), body, at, head.number, where)


def _heading(lines: tuple[SheetLine, ...], lookup: Mapping[str, tuple[str, ...]]) -> int:
    """The first row with most known headings; where none has any, the first with two words in it."""
    scores = [len({lookup[name] for cell in line.cells if (name := plain(cell)) in lookup}) for line in lines]
    if max(scores, default=0) > 0:
        return scores.index(max(scores))
    wordy = (k for k, line in enumerate(lines) if sum(any(map(str.isalpha, cell)) for cell in line.cells) >= 2)
    return next(wordy, 0)


def _is_comment(line: SheetLine) -> bool:
    """A row that is only a remark, or a sum at the end."""
    filled = [cell for cell in line.cells if cell]
    return filled[0].startswith("#") or (len(line.cells) > 1 and filled[0].lower().rstrip(":") in SUMS)


SUMS = ("total", "sum", "summe", "gesamt", "totaal", "totale", "totals")


def missing(found: Layout, needed: Collection[str]) -> list[str]:
    """The meanings that no column has."""
    return [meaning for meaning in needed if not found.has(meaning)]
