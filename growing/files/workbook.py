"""What is in this workbook?  Its sheets as rows of text, once it is known to be no larger than somebody's list.

A workbook is an archive of XML, and a small one can unpack to anything.  So every part is streamed through a parser that
builds nothing and counts bytes, depth and elements; only parts that were counted are handed to the reader.
"""

from __future__ import annotations

import io
import warnings
import zipfile
import zlib
from collections.abc import Iterator, Sequence
from datetime import date, datetime, time
from typing import Any, NamedTuple
from xml.parsers.expat import ExpatError, ParserCreate

from growing.files.textfile import megabytes

MOST_PACKED = 4 * 1024 * 1024
MOST_UNPACKED = 8 * 1024 * 1024  # bytes of all parts that are XML
MOST_PARTS = 400
MOST_DEPTH = 32  # a cell of rich text has seven
MOST_ELEMENTS = 400_000  # of rows, cells, values and texts: a hundred thousand cells
MOST_OTHER = 30_000  # of parts that are neither sheet nor texts: styles, names, properties
MOST_WIDE = 2_000  # cells of one row
MOST_SHEETS = 20
MOST_EMPTY = 2_000  # rows without anything, after which no more is looked for: a sheet may claim a million
MOST_LETTERS = 400  # of one cell
MOST_TOKEN = 512 * 1024  # bytes of one tag, which the parser reads again with every piece that does not end it
AT_ONCE_ELEMENTS, AT_ONCE_OTHER = 12_000, 4_000  # what takes a fraction of a second
_CHUNK = 64 * 1024
_ROOTS = ("worksheet", "sst")
_WORKBOOK = "xl/workbook.xml"


class WorkbookRefused(ValueError):
    """More than is read, or none at all: `code` as of a FileProblem, `value` the bound."""

    def __init__(self, code: str, value: str) -> None:
        self.code, self.value = code, value
        super().__init__(f"{code} {value}")


class WorkbookParts(NamedTuple):
    """parts: the XML in the archive, by name, none of it larger than it may be; elements: how many there are of all."""

    parts: dict[str, bytes]
    elements: int


class _Counter:
    """Counts one archive's elements as they stream by; raises WorkbookRefused before there are more than may be built."""

    def __init__(self, most: int, other: int) -> None:
        self.most, self.other, self.total = most, other, 0

    def part(self, pieces: Iterator[bytes]) -> bool:
        """Is this part well-formed XML?  False where it is something else, a picture say."""
        parser = ParserCreate()
        depth = wide = here = 0
        allowed = fed = 0

        def begin(name: str, attributes: dict[str, str]) -> None:
            nonlocal depth, wide, here, allowed
            name = name.rsplit(":", 1)[-1]
            if depth == 0:
                allowed = self.most if name in _ROOTS else self.other
            depth, here, self.total = depth + 1, here + 1, self.total + 1
            wide = 0 if name == "row" else wide + (name == "c")
            if depth > MOST_DEPTH:
                raise WorkbookRefused("too_deep", str(MOST_DEPTH))
            if wide > MOST_WIDE:
                raise WorkbookRefused("too_wide", f"more than {MOST_WIDE:,}")
            if here > allowed or self.total > self.most:
                raise WorkbookRefused("too_many_cells", f"{MOST_ELEMENTS // 4:,}")

        def end(name: str) -> None:
            nonlocal depth
            depth -= 1

        def doctype(*said: Any) -> None:
            raise WorkbookRefused("broken_workbook", "")  # no program writes one, and entities unfold to anything

        parser.StartElementHandler, parser.EndElementHandler = begin, end
        parser.StartDoctypeDeclHandler = doctype
        try:
            for piece in pieces:
                parser.Parse(piece, False)
                fed += len(piece)
                if fed - max(parser.CurrentByteIndex, 0) > MOST_TOKEN:
                    raise WorkbookRefused("broken_workbook", "")
            parser.Parse(b"", True)
        except ExpatError:
            return False
        return True


def counted(data: bytes, most_elements: int = MOST_ELEMENTS, most_other: int = MOST_OTHER) -> WorkbookParts:
    """The XML of a workbook and how much it is; raises WorkbookRefused as soon as it is more than that, ValueError for no workbook."""
    if len(data) > MOST_PACKED:
        raise WorkbookRefused("too_big", megabytes(MOST_PACKED))
    parts: dict[str, bytes] = {}
    counter, room = _Counter(most_elements, most_other), MOST_UNPACKED
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            entries = packed.infolist()
            if len(entries) > MOST_PARTS:
                raise WorkbookRefused("too_many_parts", f"{MOST_PARTS}")
            for entry in entries:
                if entry.filename in parts:
                    raise ValueError("two parts of one name")
                with packed.open(entry) as part:
                    first = part.read(_CHUNK)
                    if not _like_xml(first):
                        continue
                    pieces = [first]
                    if counter.part(_unpacked(part, pieces, room)):
                        parts[entry.filename] = b"".join(pieces)
                        room -= len(parts[entry.filename])
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, RuntimeError, KeyError) as error:
        raise ValueError("no archive that can be read") from error
    if _WORKBOOK not in parts:
        raise WorkbookRefused("binary", "")
    return WorkbookParts(parts, counter.total)


def _like_xml(begin: bytes) -> bool:
    return b"<" in begin[:8]


def _unpacked(part: Any, pieces: list[bytes], room: int) -> Iterator[bytes]:
    """A part piece by piece, kept in `pieces` (which holds the first); raises WorkbookRefused where there is more than room."""
    size = len(pieces[0])
    piece = pieces[0]
    while piece:
        if size > room:
            raise WorkbookRefused("too_big", megabytes(MOST_UNPACKED))
        yield piece
        piece = part.read(_CHUNK)
        pieces.append(piece)
        size += len(piece)


def is_small(data: bytes) -> bool:
    """Can it be read while one waits?  What cannot be read at all is told at once, too."""
    try:
        counted(data, AT_ONCE_ELEMENTS, AT_ONCE_OTHER)
    except WorkbookRefused as much:
        return much.code != "too_many_cells"
    except ValueError:
        return True
    return True


def sheets_of(data: bytes, most_columns: int) -> Iterator[Iterator[tuple[int, tuple[str, ...]]]]:
    """Each sheet's rows that hold something, with their number from 1, as text; values, without formulas, links, macros.

    Raises WorkbookRefused, and ValueError or what a broken part makes the reader stumble over.
    """
    small = io.BytesIO()
    with zipfile.ZipFile(small, "w", zipfile.ZIP_STORED) as packed:
        for name, content in counted(data).parts.items():
            packed.writestr(name, content)
    # takes a while to load, and most files are text
    from openpyxl import load_workbook  # type: ignore[import-untyped]

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # it warns of what it leaves aside: styles, extensions, validations
        book = load_workbook(small, read_only=True, data_only=True, keep_links=False)
    try:
        seen: set[str] = set()
        for page in book.worksheets[:MOST_SHEETS]:
            if (where := page._worksheet_path) not in seen:  # one part under twenty names would be read twenty times
                seen.add(where)
                yield _rows(page, most_columns)
    finally:
        book.close()


def _rows(page: Any, most_columns: int) -> Iterator[tuple[int, tuple[str, ...]]]:
    held = 0  # the last row that held something
    for number, row in enumerate(page.iter_rows(values_only=True, max_col=most_columns), 1):
        cells = [_text(value) for value in row[: _filled(row)]]
        while cells and not cells[-1]:
            cells.pop()
        if cells:
            held = number
            yield number, tuple(cells)
        elif number - held > MOST_EMPTY:
            return


def _filled(row: Sequence[object]) -> int:
    """How many of its cells there are, without those at the end that are only padding."""
    end = len(row)
    while end and row[end - 1] is None:
        end -= 1
    return end


def _text(value: object) -> str:
    """A workbook's value as somebody would have typed it; days as year-month-day."""
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == time(0) else value.isoformat(" ", "minutes")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return str(int(value))
    return str(value).replace("\x00", "").strip()[:MOST_LETTERS]
