"""What is in the cells of a tray, from a day on: read from its open runs, and written as the runs that differ."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date

from aestiva.gardens.journal import ChangeSet
from aestiva.season.models import CellRun, Tray
from growing.bench.cells import UNSEEN, Contents, segments


def marks_in(run: CellRun) -> str:
    """A mark a cell of the run; cells that nobody looked at one by one are unseen."""
    return run.marks.ljust(run.count, UNSEEN)


def contents_of(runs: Iterable[CellRun]) -> dict[int, tuple[int, str]]:
    """Batch and mark by cell, of the open runs of one tray; cells that nobody looked at one by one are unseen."""
    found: dict[int, tuple[int, str]] = {}
    for run in runs:
        marks = marks_in(run)
        for n in range(run.count):
            found[run.first + n] = (run.batch_id, marks[n])
    return found


def open_runs(tray: Tray) -> list[CellRun]:
    """The runs of a tray as it stands."""
    return list(CellRun.objects.filter(tray=tray, until=None).select_related("batch__planting").order_by("first"))


def put(write: ChangeSet, tray: Tray, contents: Contents, on: date) -> None:
    """Have the tray hold this from that day on: runs that are as they were stay, others end, and new ones begin."""
    before = {(r.batch_id, r.first, r.count): r for r in CellRun.objects.filter(tray=tray, until=None)}
    wanted = {(s.batch, s.first, len(s.marks)): s.marks for s in segments(contents)}
    for key, run in before.items():
        if key not in wanted:
            run.until = max(on, run.since)
            write.save(run)
    for key, marks in wanted.items():
        batch, first, count = key
        said = "" if set(marks) == {UNSEEN} else marks
        found = before.get(key)
        if found is None:
            write.save(CellRun(tray=tray, batch_id=batch, first=first, count=count, since=on, marks=said))
        elif found.marks != said:
            found.marks = said
            write.save(found)


def free_cells(tray: Tray, contents: Mapping[int, tuple[int, str]]) -> list[int]:
    """Cells in which nothing is booked."""
    return [cell for cell in range(1, tray.cells + 1) if cell not in contents]
