"""What is on this list of plantings?  A sheet of crops and counts: rows, questions and problems out.

Crops are only read as written here; matching them to what a garden knows is the caller's, who asks before guessing.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from typing import NamedTuple

from growing.files.columns import Layout, layout, missing, plain
from growing.files.days import order_of, read_day
from growing.files.numbers import read_whole
from growing.files.sheet import Sheet, SheetLine, texts
from growing.files.textfile import FileProblem

MOST_ROWS = 5000
MOST_WANTED = 20_000
NEEDED = ("crop", "wanted")
NAMES: Mapping[str, tuple[str, ...]] = {
    "crop": (
        *("crop", "crops", "name", "crop name", "common name", "plant", "plant name", "vegetable", "flower", "species", "kind", "item"),
        *("kultur", "pflanze", "gemuse", "art", "culture", "plante", "legume", "espece", "cultivo", "planta", "hortaliza", "especie"),
        *("coltura", "pianta", "ortaggio", "specie", "gewas", "gewasnaam", "soort"),
    ),
    "variety": ("variety", "kind", "varieties", "cultivar", "sort", "type", "sorte", "variete", "variedad", "varieta", "ras"),
    "wanted": (
        *("wanted", "plants", "no plants", "no of plants", "number of plants", "plants wanted", "plants needed", "plant count"),
        *("count", "number", "quantity", "qty", "how many", "transplants", "anzahl", "menge", "stuck", "pflanzen", "anzahl pflanzen"),
        *("nombre", "nombre de plants", "quantite", "cantidad", "numero", "plantas", "quantita", "piante", "aantal", "planten"),
    ),
    "sow": (
        *("sow", "sow on", "sow date", "sowing", "sowing date", "date sown", "date to sow", "start", "start date", "start indoors"),
        *("seed", "seed date", "seeding date", "date", "aussaat", "saat", "aussaat am", "aussaatdatum", "semis", "date de semis"),
        *("siembra", "fecha de siembra", "fecha", "semina", "data di semina", "data", "zaaien", "zaaidatum", "datum"),
    ),
    "sow_week": (
        *("week", "wk", "sow week", "sowing week", "week sown", "start week", "kw", "woche", "aussaatwoche", "semaine", "semana"),
        *("settimana", "zaaiweek"),
    ),
    "out": (
        *("plant out", "out", "planting out", "plant out on", "transplant", "transplant date", "transplanting", "set out"),
        *("field date", "auspflanzen", "pflanzung", "repiquage", "plantation", "trasplante", "trapianto", "uitplanten"),
    ),
    "method": ("method", "raised", "how", "methode", "metodo", "starting method"),
    "term": ("term", "season", "saison", "temporada", "stagione", "seizoen"),
    "note": ("note", "notes", "remark", "remarks", "comment", "comments", "notiz", "bemerkung", "remarques", "notas", "opmerking"),
}  # fmt: skip
MEANINGS = {
    "crop": "crop",
    "variety": "variety",
    "wanted": "how many plants",
    "sow": "sow on",
    "sow_week": "sow in week",
    "out": "plant out on",
    "method": "method: raised, direct, bought",
    "term": "term: spring, autumn, overwinter",
    "note": "note",
    "year": "year of sowing",
    "month": "month of sowing",
    "day": "day of sowing",
}
_METHODS = {
    "": "raised", "raised": "raised", "indoors": "raised", "indoor": "raised", "inside": "raised", "transplant": "raised",
    "tray": "raised", "trays": "raised", "greenhouse": "raised", "direct": "direct", "direct sow": "direct", "in place": "direct",
    "outdoors": "direct", "bought": "bought", "buy": "bought", "purchased": "bought", "plugs": "bought",
}  # fmt: skip
_TERMS = {
    "": "spring", "spring": "spring", "summer": "spring", "spring and summer": "spring", "autumn": "autumn", "fall": "autumn",
    "overwinter": "overwinter", "winter": "overwinter",
}  # fmt: skip


Bad = Callable[[str, str], None]  # notes a problem of the row: its code, the value as written


class PlantingRow(NamedTuple):
    """One planting of a file: its line there, crop as written, plants wanted (≥ 1), the days where they are given."""

    row: int
    crop: str
    variety: str
    wanted: int
    sow: date | None
    out: date | None
    method: str
    term: str
    note: str = ""


class PlantingFile(NamedTuple):
    """rows that can be read; `fatal` stops the file, `problems` name a row each; `missing` columns and `ask_order` are asked.

    order: of days written in numbers, as found or told.
    """

    layout: Layout | None
    rows: tuple[PlantingRow, ...] = ()
    fatal: FileProblem | None = None
    problems: tuple[FileProblem, ...] = ()
    missing: tuple[str, ...] = ()
    order: str = ""
    ask_order: bool = False


def read_plantings(
    sheet: Sheet,
    near: date,
    told: Mapping[int, str] | None = None,
    known: Mapping[str, str] | None = None,
    order: str = "",
    begins: int = 0,
) -> PlantingFile:
    """Parse a list of plantings; never raises for its contents.

    near, begins: as `read_day` has them.  told, known: as `layout` has them.  order: of days, where somebody said it.
    """
    if sheet.fatal is not None:
        return PlantingFile(None, fatal=sheet.fatal)
    found = layout(sheet, NAMES, told, known)
    lacks = tuple(missing(found, NEEDED))
    if not found.body:
        return PlantingFile(found, fatal=FileProblem(found.head, "no_rows", ""))
    if lacks:
        return PlantingFile(found, missing=lacks)
    shown = [t for name in ("sow", "out") if (at := found.at(name)) is not None for t in texts(found.body, at)]
    seen = order_of(shown)
    used = order or ("dmy" if seen in ("", "?", "both") else seen)
    problems: list[FileProblem] = []
    rows = [row for line in found.body if (row := _row(found, line, problems, near, used, begins)) is not None]
    return PlantingFile(found, tuple(rows), None, tuple(problems), (), used, seen == "?" and not order)


def _row(
    at: Layout, line: SheetLine, problems: list[FileProblem], near: date, order: str, begins: int
) -> PlantingRow | None:
    number, before = line.number, len(problems)

    def bad(code: str, value: str) -> None:
        problems.append(FileProblem(number, code, value[:40]))

    crop, typed = at.cell(line, "crop"), at.cell(line, "wanted")
    if not crop:
        bad("no_crop", "")
    wanted = read_whole(typed)
    if wanted is None or not 1 <= wanted <= MOST_WANTED:
        bad("bad_count", typed)
    sow = _sow(at, line, near, order, begins, bad)
    out = None
    if text := at.cell(line, "out"):
        out = read_day(text, near, order, begins=begins)
        if out is None:
            bad("bad_date", text)
    if sow is not None and out is not None and out < sow:
        bad("out_first", f"{out:%-d %B %Y}")
    method, term = _METHODS.get(plain(at.cell(line, "method"))), _TERMS.get(plain(at.cell(line, "term")))
    if method is None:
        bad("bad_method", at.cell(line, "method"))
    if term is None:
        bad("bad_term", at.cell(line, "term"))
    if len(problems) > before or method is None or term is None or wanted is None:
        return None
    note = at.cell(line, "note")[:200]
    return PlantingRow(number, crop[:60], at.cell(line, "variety")[:60], wanted, sow, out, method, term, note)


def _sow(at: Layout, line: SheetLine, near: date, order: str, begins: int, bad: Bad) -> date | None:
    """The sowing day from its column, its week, or from year, month and day in three."""
    text, week = at.cell(line, "sow"), at.cell(line, "sow_week")
    if not text and not week and at.has("month") and at.has("day"):
        parts = [at.cell(line, part) for part in ("day", "month", "year")]
        if not parts[0] and not parts[1]:
            return None
        text = " ".join(parts) if not parts[1].isdecimal() else ".".join(part for part in parts if part)
    day = read_day(text, near, order, begins=begins) if text else None
    if text and day is None:
        bad("bad_date", text)
    if not text and week:
        day = read_day(week, near, order, weeks=True, begins=begins)
        if day is None:
            bad("bad_week", week)
    return day
