"""A sheet on its way in, whatever it lists: its columns, its crops, its problems, and what somebody said about each.

The pages of the stages read a sheet with their own reader and show it through this; nothing is written before the
preview is kept, and then all of it in one entry.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from django.http import HttpResponse

from aestiva.frame import say
from aestiva.frame.files import csv_response
from aestiva.frame.forms import whole_number
from aestiva.gardens import reading
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import ColumnMeaning, Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.crops import Crops, own_crop, too_many_unknown
from aestiva.season.models import GardenCrop
from growing.crops import Crop
from growing.files.columns import PARTS, Column, Layout, plain
from growing.files.columns import Names as Ways
from growing.files.sheet import Sheet, unpacked
from growing.files.textfile import FileProblem

MOST_SHOWN = 30  # problems listed; the rest is counted, and leaves as a file
MOST_ROWS_SHOWN = 200
MOST_BYTES = 4 * 1024 * 1024
SAID = {
    "too_big": "The file is larger than {value}, the most that is read: cut it into several.",
    "too_many_rows": "The list has more than {value} rows: cut it into several.",
    "too_wide": "A row has {value} columns: is this the right file?",
    "empty": "There is nothing in it: choose another file, or paste the cells.",
    "binary": "This is neither text nor a workbook: save the table as CSV or .xlsx and choose that.",
    "too_deep": "This workbook is nested {value} deep, as no list is: save the table once more as .xlsx, or as CSV.",
    "too_many_cells": "The workbook has more than {value} cells: cut it into several, or save the table as CSV.",
    "too_many_parts": "The workbook has more than {value} parts: copy the one table into a new one, or save it as CSV.",
    "broken_workbook": "This workbook cannot be read: save it once more as .xlsx, or as CSV.",
    "encoding": "The text cannot be read as {value}: save the file as UTF-8.",
    "broken_row": "the row cannot be read: is a quotation mark missing?",
    "no_rows": "There is a heading, but nothing under it.",
    "no_crop": "no crop is named.",
    "bad_date": "“{value}” is not a day: write it as 10 March, or as year-month-day.",
    "bad_week": "“{value}” is not a week from 1 to 53.",
}


def register_list(kind: str, page: str) -> None:
    """Lists of that kind, which the page of that name brings in."""
    reading.register_reading(kind, "growing.files.sheet:sheet_apart", page)


def received(request: Any, kind: str, most_rows: int) -> tuple[Sheet, str, bool]:
    """The rows of a list, the key under which they wait, and whether they come back from the preview.

    Raises Refused where there is none, and Waits while a large one is read.
    """
    key = request.POST.get("kept") or request.GET.get("job")
    if key and request.FILES.get("file") is None:
        job = reading.read_before(request, kind, key)
        return unpacked(job.result or {}), str(job.key), request.method == "POST"
    data = reading.chosen(request)
    if data is None:
        raise Refused("file", "Choose a file, or paste the cells, first")
    job = reading.begin(request, kind, data, {"most_bytes": MOST_BYTES, "most_rows": most_rows})
    return unpacked(job.result or {}), str(job.key), False


def sentence(refused: Refused) -> str:
    """A refusal as it stands on a page of its own."""
    text = str(refused)
    return f"{text[:1].upper()}{text[1:].rstrip('.')}."


@dataclass
class SheetTold:
    """What somebody said on the preview: columns and crops, rows left out, the order of days.

    columns: meaning by column.  names: by crop name as written, "" while it is open; a key, "like:<key>" for a crop of
    one’s own, or "skip".  leave: rows left out.  bad: whether every row with a problem is left out.
    """

    columns: dict[int, str] = field(default_factory=dict)
    names: dict[str, str] = field(default_factory=dict)
    leave: frozenset[int] = frozenset()
    bad: bool = False
    order: str = ""


def told(request: Any) -> SheetTold:
    post = request.POST
    columns = {
        at: value
        for key, value in post.items()
        if key.startswith("col-") and (at := whole_number(key.removeprefix("col-"))) is not None
    }
    names = {key.removeprefix("means-"): value for key, value in post.items() if key.startswith("means-")}
    leave = frozenset(row for text in post.getlist("leave") if (row := whole_number(text)) is not None)
    order = post.get("order", "")
    if post.get("unleave") == "yes":
        leave = frozenset()
    return SheetTold(columns, names, leave, post.get("leave_bad") == "yes", order if order in ("dmy", "mdy") else "")


def known_columns(garden: Garden, sheet: str) -> dict[str, str]:
    """What this garden’s own headings mean, as somebody said before."""
    return dict(ColumnMeaning.objects.filter(garden=garden, sheet=sheet).values_list("heading", "meaning"))


def remember_columns(write: ChangeSet, garden: Garden, sheet: str, found: Layout, said: SheetTold, names: Ways) -> None:
    """Keep what was said of headings otherwise than their names tell, in the same entry."""
    lookup = {name: meaning for meaning, ways in (*PARTS.items(), *names.items()) for name in ways}
    old = {m.heading: m for m in ColumnMeaning.objects.filter(garden=garden, sheet=sheet)}
    for column in found.columns:
        heading = plain(column.heading)[:80]
        if (
            column.at not in said.columns
            or not heading
            or (heading not in old and lookup.get(heading, "") == column.meaning)
        ):
            continue
        row = old.get(heading) or ColumnMeaning(garden=garden, sheet=sheet, heading=heading)
        if row.pk is None or row.meaning != column.meaning:
            row.meaning = column.meaning
            old[heading] = write.save(row)


def keep_said(
    write: ChangeSet, garden: Garden, sheet: str, found: Layout | None, names: Names, said: SheetTold, known: Ways
) -> None:
    """Keep what a list brings besides its rows, in the same entry: crops of one’s own, and what headings mean."""
    for own in names.made:
        write.save(own)
    if found is not None:
        remember_columns(write, garden, sheet, found, said, known)


class Shown(NamedTuple):
    """A column on the preview: its first values, and what it may mean."""

    column: Column
    examples: str
    asked: bool


def columns_shown(found: Layout, lacks: Sequence[str]) -> list[Shown]:
    """Every column with its first values; those without a meaning are asked where something is still missing."""
    shown = []
    for column in found.columns:
        cells = [line.cells[column.at] for line in found.body if column.at < len(line.cells) and line.cells[column.at]]
        shown.append(Shown(column, ", ".join(cells[:3])[:80], bool(lacks) and not column.meaning))
    return shown


class Names(NamedTuple):
    """crops by name as written, in small letters; open: names nobody knows, with those they might be; skipped: names left out;
    made: crops of one’s own that would be added."""

    crops: dict[str, Crop]
    open: dict[str, list[Crop]]
    skipped: frozenset[str]
    made: list[GardenCrop]


def names_of(garden: Garden, crops: Crops, written: Iterable[str], said: Mapping[str, str]) -> Names:
    """Which crop each name means: as it is called, or as somebody chose; near misses are only suggested."""
    found: dict[str, Crop] = {}
    open_: dict[str, list[Crop]] = {}
    skipped: set[str] = set()
    made: list[GardenCrop] = []
    for name in dict.fromkeys(text.lower() for text in written):
        choice = said.get(name, "")
        if choice == "skip":
            skipped.add(name)
        elif choice.startswith("like:") and choice.removeprefix("like:") in crops:
            original = next(text for text in written if text.lower() == name)
            made.append(own_crop(garden, original, crops, choice.removeprefix("like:")))
            found[name] = crops[made[-1].key]
        elif choice and choice in crops:
            found[name] = crops[choice]
        else:
            meant = crops.named(name)
            if meant.crop is not None:
                found[name] = meant.crop
            else:
                open_[name] = list(meant.like)
    return Names(found, open_, frozenset(skipped), made)


class SheetProblem(NamedTuple):
    """A problem in words, and its row; 0 for the whole sheet."""

    row: int
    text: str


def in_words(problems: Iterable[FileProblem], said: Mapping[str, str]) -> list[SheetProblem]:
    return [SheetProblem(p.row, ({**SAID, **said})[p.code].format(value=p.value)) for p in problems]


def stops(fatal: FileProblem | None, said: Mapping[str, str]) -> list[SheetProblem]:
    """What stops the whole sheet, naming the row where it is one; none where nothing does."""
    found = in_words([fatal] if fatal is not None else [], said)
    return [SheetProblem(0, f"Row {p.row}: {p.text}" if p.row else p.text) for p in found]


def problems_file(problems: Iterable[SheetProblem]) -> HttpResponse:
    """Every problem with its row, for the one who mends the sheet."""
    return csv_response("problems.csv", ("row", "problem"), [(p.row or "", p.text) for p in problems])


def context_of(
    sheet: str,
    found: Layout | None,
    lacks: Sequence[str],
    names: Names,
    problems: list[SheetProblem],
    meanings: Mapping[str, str],
    crops: Crops,
    said: SheetTold,
) -> dict[str, Any]:
    """What every preview shows, and what was said on it so far."""
    rows = [p for p in problems if p.row]
    whole = [p for p in problems if not p.row] + [SheetProblem(0, text) for text in too_many_unknown(names.open)]
    return {
        "sheet": sheet,
        "columns": [] if found is None else columns_shown(found, lacks),
        "above": 0 if found is None else found.above,
        "lacks": [meanings[meaning] for meaning in lacks],
        "meanings": meanings,
        "open": names.open,
        "made": names.made,
        "all_crops": list(crops) if names.open else [],
        "row_problems": rows[:MOST_SHOWN],
        "bad_rows": len({p.row for p in rows}),
        "more_problems": max(0, len(rows) - MOST_SHOWN),
        "problems": [p.text for p in whole],
        "order": said.order,
        "said_names": {name: choice for name, choice in said.names.items() if choice and name not in names.open},
        "leave_bad": said.bad,
        "leave": sorted(said.leave),
    }


def left_out(problems: Iterable[SheetProblem], said: SheetTold) -> str:
    """“ 3 rows left out.”, of rows with a problem and those that somebody left out; empty where it is none."""
    out = len({p.row for p in problems}) + len(said.leave)
    return f" {say.plural(out, 'row')} left out." if out else ""
