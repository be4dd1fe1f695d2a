"""What is in which cells?  Runs of cells over days, and whether two would be in the same place at once."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple


class Run(NamedTuple):
    """Cells `first` to `first + count − 1` of a tray, counted from 1, from a day until another (None: still)."""

    first: int
    count: int  # type: ignore[assignment]
    since: date
    until: date | None

    def meets(self, other: Run) -> bool:
        """Do both hold a cell on the same day?  On the day one leaves another may come."""
        cells = self.first < other.first + other.count and other.first < self.first + self.count
        return cells and _before(self.since, other.until) and _before(other.since, self.until)


def _before(since: date, until: date | None) -> bool:
    return until is None or since < until


def clash(runs: Sequence[Run], cells: int) -> bool:
    """Does a run go over the tray's end, end before it begins, or meet another?"""
    wrong = any(
        r.first < 1 or r.first + r.count - 1 > cells or (r.until is not None and r.until < r.since) for r in runs
    )
    return wrong or any(one.meets(other) for n, one in enumerate(runs) for other in runs[:n])
