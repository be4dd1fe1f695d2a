"""Where plants stand: in a tray that stands somewhere, or, potted or planted, in a place of their own."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from aestiva.gardens.journal import ChangeSet
from aestiva.season.models import Batch, BatchStand, CellRun, Spot, Tray, TrayStand
from growing.place.kinds import SOIL


def stand(write: ChangeSet, batch: Batch, spot: Spot, since: date, potted: bool = False) -> None:
    """Move the batch to a spot from that day on: with its tray, which it is given where it has none; into the ground without.

    Plants in the ground, and those in pots of their own, are in no tray.  potted: known to be, though not by its own events.
    """
    if not write.wrote(batch):
        write.touch(batch)
    runs = list(CellRun.objects.filter(batch=batch, until=None).select_related("tray"))
    if spot.kind in SOIL or not _cells(batch) or potted or (not runs and in_pots(batch)):
        leave_trays(write, batch, since)
        _stand_alone(write, batch, spot, since)
        return
    if not runs:
        end_stands(write, batch, since)
    for tray in [run.tray for run in runs] or [_own_tray(write, batch, since)]:
        place_tray(write, tray, spot, since)


def where(batch: Batch) -> Spot | None:
    """Where the batch stands now; None where nobody said."""
    tray = Spot.objects.filter(
        tray_stands__until=None, tray_stands__tray__runs__in=batch.runs.filter(until=None)
    ).first()
    return tray or Spot.objects.filter(stands__batch=batch, stands__until=None).first()


def place_tray(write: ChangeSet, tray: Tray, spot: Spot, since: date, at: tuple[float, float] | None = None) -> None:
    """The tray stands at a spot from that day on; at: from its left and its front [cm], None: nobody said where on it."""
    x, y = at or (None, None)
    if _leaves(write, tray.stands.filter(until=None), spot, since):
        write.save(TrayStand(tray=tray, spot=spot, since=since, x_cm=x, y_cm=y))
    elif at is not None:
        stand = tray.stands.get(until=None)
        stand.x_cm, stand.y_cm = x, y
        write.save(stand)


def move_on(write: ChangeSet, batch: Batch, on: date) -> None:
    """Out of what it stood in, into cells or pots of its own as the batch now is, at the same spot."""
    spot = where(batch)
    leave_trays(write, batch, on)
    if spot is not None and in_pots(batch):
        _stand_alone(write, batch, spot, on)
    elif spot is not None:
        stand(write, batch, spot, on)


def leave_trays(write: ChangeSet, batch: Batch, on: date) -> None:
    """The batch is in no tray from that day on; a tray that holds nothing more stands nowhere, and is to be washed."""
    for run in CellRun.objects.filter(batch=batch, until=None).select_related("tray__container"):
        _end(write, run, on)
        if not run.tray.runs.filter(until=None).exists():
            for old in run.tray.stands.filter(until=None):
                _end(write, old, on)
            _to_wash(write, run.tray)


def _to_wash(write: ChangeSet, tray: Tray) -> None:
    """One more of its kind to be washed, of kinds that somebody counted; pots by their number."""
    if tray.container is None or tray.container.owned is None:
        return
    kind = write.fresh(tray.container)
    pieces = tray.cells if kind.cells == 1 else 1
    washed = min(kind.owned or 0, kind.to_wash + pieces)
    if washed != kind.to_wash:
        kind.to_wash = washed
        write.save(kind)


def end_stands(write: ChangeSet, batch: Batch, on: date) -> None:
    for old in batch.stands.filter(until=None):
        _end(write, old, on)


def _stand_alone(write: ChangeSet, batch: Batch, spot: Spot, since: date) -> None:
    if _leaves(write, batch.stands.filter(until=None), spot, since):
        write.save(BatchStand(batch=batch, spot=spot, since=since))


def _leaves(write: ChangeSet, stands: Iterable[TrayStand | BatchStand], spot: Spot, on: date) -> bool:
    """End the open stands for a move to the spot; False, with nothing to move, where it stands there already."""
    for old in stands:
        if old.spot_id == spot.pk:
            return False
        _end(write, old, on)
    return True


def _end(write: ChangeSet, open_row: TrayStand | BatchStand | CellRun, on: date) -> None:
    """Over on that day, or on the day it began where that is later."""
    open_row.until = max(on, open_row.since)
    write.save(open_row)


def in_pots(batch: Batch) -> bool:
    return batch.events.filter(kind="potted").exists()


def _cells(batch: Batch) -> int:
    """Cells that the batch fills; a box is one."""
    return 1 if batch.sown_in == "box" and batch.cells is None else batch.cells or 0


def _own_tray(write: ChangeSet, batch: Batch, since: date) -> Tray:
    """A tray of as many cells as it fills, kind not said, full of this batch."""
    garden, cells = batch.planting.season.garden, _cells(batch)
    tray = write.save(Tray(garden=garden, code=next_code(garden.pk), cells=cells))
    write.save(CellRun(tray=tray, batch=batch, first=1, count=cells, since=since))
    return tray


def next_code(garden_id: int) -> str:
    """“T12”, one more than the highest so far."""
    codes = Tray.objects.filter(garden_id=garden_id, code__startswith="T").values_list("code", flat=True)
    return f"T{max((int(c[1:]) for c in codes if c[1:].isdecimal()), default=0) + 1}"
