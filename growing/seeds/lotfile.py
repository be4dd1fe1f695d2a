"""What is in this seed list?  A sheet of packets: rows, questions and problems out.  Crops are read only as written."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from growing.files.columns import Layout, layout, missing
from growing.files.numbers import read_number, read_whole
from growing.files.sheet import Sheet, SheetLine
from growing.files.textfile import FileProblem
from growing.units import stored

MOST_ROWS = 5000
NEEDED = ("crop",)
NAMES: Mapping[str, tuple[str, ...]] = {
    "crop": (
        *("crop", "crops", "name", "crop name", "common name", "plant", "vegetable", "flower", "species", "kind", "item"),
        *("kultur", "pflanze", "gemuse", "art", "culture", "plante", "legume", "espece", "cultivo", "planta", "especie"),
        *("coltura", "pianta", "specie", "gewas", "soort"),
    ),
    "variety": ("variety", "kind", "cultivar", "sort", "type", "sorte", "variete", "variedad", "varieta", "ras"),
    "packed": (
        *("packed", "packed for", "packed year", "pack year", "year", "sow by year", "jahr", "annee", "ano", "anno", "jaar"),
        *("jahrgang", "year packed"),
    ),
    "seeds": (
        *("seeds", "no seeds", "number of seeds", "seed count", "count", "number", "quantity", "qty", "samen", "korn", "anzahl"),
        *("graines", "nombre", "quantite", "semillas", "cantidad", "semi", "quantita", "zaden", "aantal"),
    ),
    "grams": ("grams", "g", "weight", "gramm", "gewicht", "grammes", "poids", "gramos", "peso", "grammi", "oz", "ounces"),
    "seeds_per_g": ("seeds per gram", "seeds per g", "seeds g", "korn je gramm", "graines par gramme"),
    "origin": (
        *("from", "origin", "bought from", "source", "supplier", "lieferant", "herkunft", "fournisseur", "proveedor"),
        *("fornitore", "leverancier"),
    ),
    "price": ("price", "cost", "preis", "prix", "precio", "prezzo", "prijs"),
    "note": ("note", "notes", "remark", "remarks", "comment", "comments", "notiz", "bemerkung", "remarques", "notas"),
}  # fmt: skip
MEANINGS = {
    "crop": "crop",
    "variety": "variety",
    "packed": "year it was packed for",
    "seeds": "number of seeds",
    "grams": "weight",
    "seeds_per_g": "seeds in a gram",
    "origin": "where from",
    "price": "price",
    "note": "note",
}
_OUNCES = ("oz", "ounces")


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
    """rows that can be read; `fatal` stops the file, `problems` name a row each; `missing` columns are asked for."""

    layout: Layout | None
    rows: tuple[LotRow, ...] = ()
    fatal: FileProblem | None = None
    problems: tuple[FileProblem, ...] = ()
    missing: tuple[str, ...] = ()


def read_lots(
    sheet: Sheet, year: int, told: Mapping[int, str] | None = None, known: Mapping[str, str] | None = None
) -> LotFile:
    """Parse a seed list; never raises for its contents.  year: packets for a later one than the next are problems.

    told, known: as `layout` has them.
    """
    if sheet.fatal is not None:
        return LotFile(None, fatal=sheet.fatal)
    found = layout(sheet, NAMES, told, known, with_parts=False)
    if not found.body:
        return LotFile(found, fatal=FileProblem(found.head, "no_rows", ""))
    if lacks := tuple(missing(found, NEEDED)):
        return LotFile(found, missing=lacks)
    problems: list[FileProblem] = []
    rows = [row for line in found.body if (row := _row(found, line, year, problems)) is not None]
    return LotFile(found, tuple(rows), None, tuple(problems))


def _row(at: Layout, line: SheetLine, year: int, problems: list[FileProblem]) -> LotRow | None:
    before = len(problems)
    if not at.cell(line, "crop"):
        problems.append(FileProblem(line.number, "no_crop", ""))

    def number(name: str, low: float, high: float) -> float | None:
        text = at.cell(line, name)
        if not text or text in ("-", "–", "?"):
            return None
        value = read_number(text)
        if value is None or not low <= value <= high:
            problems.append(FileProblem(line.number, f"bad_{name}", text[:40]))
            return None
        return value

    def whole(name: str, low: float, high: float) -> int | None:
        text, value = at.cell(line, name), number(name, low, high)
        if value is not None and read_whole(text) is None:
            problems.append(FileProblem(line.number, f"bad_{name}", text[:40]))
        return None if value is None else int(value)

    grams = number("grams", 0, 100_000)
    if grams is not None and any(c.meaning == "grams" and _ounces(c.heading, c.unit) for c in at.columns):
        grams = round(stored(grams, "g", "us"), 3)
    row = LotRow(
        line.number,
        at.cell(line, "crop")[:60],
        at.cell(line, "variety")[:60],
        whole("packed", 1950, year + 1),
        whole("seeds", 0, 10_000_000),
        grams,
        number("seeds_per_g", 0.1, 100_000),
        at.cell(line, "origin")[:60],
        number("price", 0, 100_000),
        at.cell(line, "note")[:200],
    )
    return row if len(problems) == before else None


def _ounces(heading: str, unit: str) -> bool:
    return unit in _OUNCES or heading.strip().lower() in _OUNCES
