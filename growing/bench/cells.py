"""Which cell is which, and what is in it?  A tray from its marked corner: names, rows and blocks, what was seen cell by cell."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

from growing.assumptions import real, whole
from growing.batch.ledger import Accounts

LYING, UP, STRONG, SMALL, NEVER, DIED, MOVED = ".", "u", "s", "w", "x", "d", ">"
UNSEEN = "?"
STATES = {
    UNSEEN: "nobody looked",
    LYING: "seed lying",
    UP: "up",
    STRONG: "strong",
    SMALL: "small",
    NEVER: "failed, never up",
    DIED: "failed, died",
    MOVED: "moved on",
}
GROWS = frozenset((UP, STRONG, SMALL))  # a plant stands in it
CAME_UP = GROWS | {DIED, MOVED}
NOT_UP = frozenset((LYING, UNSEEN))
SPENT = frozenset((NEVER, DIED, MOVED))  # nothing is in it any more
FLAT_LENGTH_CM, FLAT_WIDTH_CM = 54.0, 28.0
_LONG = {"row_flat": 20}  # furrows beside each other


class Grid(NamedTuple):
    """Cells in rows from the marked corner: A1 is in it, the first row is A."""

    cells: int
    columns: int

    @property
    def rows(self) -> int:
        return math.ceil(self.cells / self.columns)

    def name(self, cell: int) -> str:
        """“B7” of a cell counted from 1."""
        return f"{letter((cell - 1) // self.columns)}{(cell - 1) % self.columns + 1}"

    def at(self, cell: int, turns: int = 0) -> tuple[int, int]:
        """Column and row, from 0, where a cell is drawn when the tray has been turned by so many quarters clockwise."""
        row, column = divmod(cell - 1, self.columns)
        last_row, last_column = self.rows - 1, self.columns - 1
        return (
            (column, row),
            (last_row - row, column),
            (last_column - column, last_row - row),
            (row, last_column - column),
        )[turns % 4]

    def size(self, turns: int = 0) -> tuple[int, int]:
        """Columns and rows as drawn."""
        return (self.columns, self.rows) if turns % 2 == 0 else (self.rows, self.columns)


def letter(row: int) -> str:
    """A … Z, AA, AB … of a row counted from 0."""
    return (letter(row // 26 - 1) if row >= 26 else "") + chr(65 + row % 26)


@lru_cache(maxsize=512)
def grid_of(cells: int, length_cm: float = FLAT_LENGTH_CM, width_cm: float = FLAT_WIDTH_CM, kind: str = "") -> Grid:
    """Rows and columns of so many cells in that footprint: full rows where it can be, shaped as the footprint is."""
    if kind in _LONG and cells == _LONG[kind]:
        return Grid(cells, cells)
    aim = max(length_cm, width_cm) / min(length_cm, width_cm)
    full = [c for c in range(1, cells + 1) if cells % c == 0 and c * c >= cells]
    best = min(full, key=lambda c: abs(math.log(c * c / cells / aim)))
    if abs(math.log(best * best / cells / aim)) > math.log(1.9) and cells > 6:
        best = max(1, round(math.sqrt(cells * aim)))
    return Grid(cells, best)


_ONE = re.compile(r"([A-Za-z]{1,2})(\d{1,3})?$")


def cells_named(text: str, grid: Grid) -> list[int]:
    """Cells by their names: “A7”, a row “B”, rows “A–C”, a block “A1–B5”, several with commas.

    Raises ValueError naming what cannot be read or is beyond the tray.
    """
    found: set[int] = set()
    for part in filter(None, (p.strip() for p in re.split(r"[,;]", text))):
        ends = [e.strip() for e in re.split(r"[-–:]", part.removeprefix("row ").removeprefix("rows "))]
        if len(ends) > 2:
            raise ValueError(f"“{part[:30]}” is no cell, row or block: write A7, B, or A1–B5")
        corners = [_corner(end, grid, part) for end in ends]
        (r0, c0), (r1, c1) = corners[0], corners[-1]
        rows = range(min(r0, r1), max(r0, r1) + 1)
        if (c0 is None) != (c1 is None):
            raise ValueError(f"“{part[:30]}” mixes a row and a cell: write A1–B5 or A–B")
        columns = range(grid.columns) if c0 is None or c1 is None else range(min(c0, c1), max(c0, c1) + 1)
        found |= {r * grid.columns + c + 1 for r in rows for c in columns if r * grid.columns + c < grid.cells}
    if not found:
        raise ValueError("name at least one cell, such as A7, a row B, or a block A1–B5")
    return sorted(found)


def _corner(text: str, grid: Grid, part: str) -> tuple[int, int | None]:
    read = _ONE.match(text)
    if read is None:
        raise ValueError(f"“{part[:30]}” is no cell, row or block: write A7, B, or A1–B5")
    row = 0
    for sign in read[1].upper():
        row = row * 26 + ord(sign) - 64
    row, column = row - 1, None if read[2] is None else int(read[2]) - 1
    if row >= grid.rows or (column is not None and not 0 <= column < grid.columns):
        last = f"{letter(grid.rows - 1)}{grid.columns}"
        raise ValueError(f"“{part[:30]}” is beyond the tray: its cells are A1 to {last}")
    return row, column


def listed(cells: Iterable[int], grid: Grid) -> str:
    """Cells in words, neighbours in a row together: “A7–A10, B7”."""
    found: list[list[int]] = []
    for cell in sorted(cells):
        follows = found and cell == found[-1][-1] + 1 and (cell - 1) % grid.columns
        if follows:
            found[-1].append(cell)
        else:
            found.append([cell])
    return ", ".join(grid.name(r[0]) + (f"–{grid.name(r[-1])}" if len(r) > 1 else "") for r in found)


class Segment(NamedTuple):
    """Neighbouring cells of one batch, with what was seen in each."""

    batch: int
    first: int
    marks: str

    @property
    def cells(self) -> range:
        return range(self.first, self.first + len(self.marks))


Contents = Mapping[int, tuple[int, str]]  # cell -> batch, mark; a cell that is not there is empty


def segments(contents: Contents) -> list[Segment]:
    """The contents of a tray as runs of neighbours, in order."""
    found: list[Segment] = []
    for cell in sorted(contents):
        batch, mark = contents[cell]
        last = found[-1] if found else None
        if last is not None and last.batch == batch and cell == last.first + len(last.marks):
            found[-1] = last._replace(marks=last.marks + mark)
        else:
            found.append(Segment(batch, cell, mark))
    return found


class CellsSeen(NamedTuple):
    """What a look at cells adds to the accounts: the whole number up by now (None: no news), seeds that will not come,
    plants that died; estimated where a cell holds more than one."""

    up: int | None
    never_up: int
    died: int
    estimated: bool

    @property
    def anything(self) -> bool:
        return self.up is not None or bool(self.never_up or self.died)


def seen(
    before: Mapping[int, str], after: Mapping[int, str], all_of_it: Iterable[str], a: Accounts, per_cell: int
) -> CellsSeen:
    """What marks of one batch say that its accounts do not know yet.

    before, after: the cells looked at.  all_of_it: the marks of every cell of the batch as they are after the look.  per_cell:
    seeds in a cell.  A plant marked in a cell is one at least; what the accounts know already is not said twice.
    """
    standing = sum(mark in CAME_UP for mark in all_of_it)
    known = (a.emerged or 0) + a.received
    up = (a.emerged or 0) + standing - known if standing > known else None
    back = sum(before[c] in GROWS and after[c] == LYING for c in after)
    if back and a.emerged and standing + back == known:
        up = a.emerged - back
    failed = sum(before[c] in NOT_UP and after[c] == NEVER for c in after)
    waiting = a.waiting if up is None or a.waiting is None else a.waiting - (up - (a.emerged or 0))
    never = 0 if waiting is None else max(0, min(failed * per_cell, waiting))
    died = sum(before[c] in GROWS and after[c] == DIED for c in after)
    there = a.indoors if up is None or a.indoors is None else a.indoors + up - (a.emerged or 0)
    died = died if there is None and up is not None else max(0, min(died, there or 0))
    return CellsSeen(up, never, died, per_cell > 1)


class Disagreement(NamedTuple):
    """Where a map and the accounts of a batch differ: plants marked, plants that the events say are here."""

    batch: int
    marked: int
    counted: int


def disagreement(batch: int, marks: Sequence[str], a: Accounts, single: bool) -> Disagreement | None:
    """None where they agree, or where nobody looked cell by cell, or counted, or where a cell is no plant (single False)."""
    if not single or UNSEEN in marks or not any(mark != LYING for mark in marks):
        return None
    marked = sum(mark in GROWS for mark in marks)
    counted = a.indoors if a.indoors is not None else 0
    return None if marked == counted else Disagreement(batch, marked, counted)


class CellShift(NamedTuple):
    """A plant from a cell of one tray to a cell of another."""

    tray: int
    cell: int
    to_tray: int
    to_cell: int


def together(trays: Mapping[int, tuple[int, Contents]]) -> list[CellShift]:
    """Half-empty trays set together: the fewest trays that hold what stands, the fullest kept, and which cells move.

    trays: by key, cells of each and its contents.  Cells that are spent count as free.  Empty where it frees no tray.
    """
    living = {key: {c: v for c, v in held.items() if v[1] not in SPENT} for key, (_, held) in trays.items()}
    order = sorted(living, key=lambda key: (-len(living[key]), key))
    whole, room, kept = sum(map(len, living.values())), 0, []
    for key in order:
        if room >= whole:
            break
        kept.append(key)
        room += trays[key][0]
    if len(kept) == len([key for key in order if living[key]]):
        return []
    free = [(key, cell) for key in kept for cell in range(1, trays[key][0] + 1) if cell not in living[key]]
    moved = [(key, cell) for key in order if key not in kept for cell in sorted(living[key])]
    return [CellShift(*one, *other) for one, other in zip(moved, free, strict=False)]


UNEVEN_SHARE = real("bench.cells.UNEVEN_SHARE")
UNEVEN_LEAST = whole("bench.cells.UNEVEN_LEAST")


class Uneven(NamedTuple):
    """A tray of tall and short plants: the cells of each."""

    tall: tuple[int, ...]
    short: tuple[int, ...]


def uneven(contents: Contents) -> Uneven | None:
    """Tall and short cells where both are so many that they harm each other; None otherwise."""
    short = tuple(sorted(c for c, (_, mark) in contents.items() if mark == SMALL))
    tall = tuple(sorted(c for c, (_, mark) in contents.items() if mark in (UP, STRONG)))
    least = max(UNEVEN_LEAST, math.ceil(UNEVEN_SHARE * (len(short) + len(tall))))
    return Uneven(tall, short) if min(len(short), len(tall)) >= least else None


CLUSTER = real("bench.cells.CLUSTER")
LEAST_LOST = whole("bench.cells.LEAST_LOST")


def lopsided(shape: Grid, contents: Contents) -> tuple[bool, bool] | None:
    """The corner in which most losses sit, (towards the first row, towards the first column); None where they are few or everywhere."""
    lost = [cell for cell, (_, mark) in contents.items() if mark in (DIED, NEVER)]
    if len(lost) < LEAST_LOST or shape.rows < 2 or shape.columns < 2:
        return None
    at = [divmod(cell - 1, shape.columns) for cell in lost]
    corner, count = Counter((row < shape.rows / 2, column < shape.columns / 2) for row, column in at).most_common(1)[0]
    return corner if count >= CLUSTER * len(lost) else None


def tally(marks: Iterable[str]) -> Counter[str]:
    """How many cells are in which state."""
    return Counter(marks)
