"""In which order, and in how many rows?  Dearest to wait first within each place; a large garden's day folded to fit a screen.

Rows are made of lines: errands that are one walk are one row.  Where a day has more rows than are taken in at a glance,
those of one work and crop become a fold, opened on demand; where these are still too many, those of one work.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from aestiva.today.listing import TaskLine
from growing.steps import WHERE

MOST_ROWS = 24  # at first sight
TONIGHT = 2  # what harms tonight is never folded away

Rows = dict[
    str, list[tuple[TaskLine, ...]]
]  # place -> its rows, each the lines of one errand, in the order of the page


class Fold(NamedTuple):
    """Rows of one place that are opened together: of one work, and of one crop where crop is not empty."""

    where: str
    kind: str
    crop: str

    @property
    def anchor(self) -> str:
        """Its name on the page."""
        return "-".join((self.where, self.kind, self.crop)).strip("-").replace(" ", "_")


def rows_of(lines: Iterable[TaskLine]) -> Rows:
    """The rows by place, the urgent first, then what costs most to wait, then what has waited longest."""
    places: dict[str, dict[object, list[TaskLine]]] = {where: {} for where in WHERE}
    for one in lines:
        places[one.where].setdefault(one.together, []).append(one)
    found: Rows = {}
    for where, rows in places.items():
        if rows:
            found[where] = sorted((tuple(sorted(row, key=_within)) for row in rows.values()), key=_rank)
    return found


def _within(one: TaskLine) -> tuple[object, ...]:
    return one.due, one.key


def _rank(row: Sequence[TaskLine]) -> tuple[object, ...]:
    tonight = max(one.urgent for one in row) == TONIGHT
    return not tonight, -cost_of(row), row[0].due, row[0].key


def cost_of(row: Iterable[TaskLine]) -> float:
    """Plants that a day's delay of a row costs, to the hundredth: so that the order does not hang on the last digit."""
    return round(sum(one.cost for one in row), 2)


def fold(rows: Rows) -> dict[str, Fold]:
    """The fold of each row by the row's anchor; rows that stand by themselves are not in it."""
    if sum(map(len, rows.values())) <= MOST_ROWS:
        return {}
    each = {
        row[0].anchor: Fold(where, row[0].kind, row[0].crop)
        for where, here in rows.items()
        for row in here
        if all(one.urgent < TONIGHT for one in row)
    }
    by_crop = _together(each)
    if _seen(rows, by_crop) <= MOST_ROWS:
        return by_crop
    return _together({anchor: one._replace(crop="") for anchor, one in each.items()})


def _together(folds: dict[str, Fold]) -> dict[str, Fold]:
    """Those that hold two rows or more."""
    many = Counter(folds.values())
    return {anchor: one for anchor, one in folds.items() if many[one] > 1}


def _seen(rows: Rows, folds: Mapping[str, Fold]) -> int:
    """Rows at first sight: every fold is one."""
    return sum(map(len, rows.values())) - len(folds) + len(set(folds.values()))
