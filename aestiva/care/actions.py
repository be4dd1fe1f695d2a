"""What thinning, pricking out, potting up, pinching and trimming write."""

from __future__ import annotations

from aestiva.season.actions import Finished
from aestiva.season.ledgers import accounts_of
from aestiva.season.places import move_on
from growing.care.steps import TRIM_TO_CM


def _thin(done: Finished) -> None:
    """Thinned to one plant a cell: what stands indoors beyond the cells is taken as thinned, as an estimate."""
    assert done.batch is not None
    now = accounts_of(done.batch)
    surplus = None
    if now.indoors is not None and done.batch.cells is not None:
        surplus = max(0, now.indoors - done.batch.cells)
    done.event("thinned", count=surplus, estimated=bool(surplus))


def _prick(done: Finished) -> None:
    """So many into cells of their own; those left in the box are taken as thinned, as an estimate."""
    assert done.batch is not None
    done.batch.cells = done.task.count if done.count is None else done.count
    done.write.save(done.batch)
    done.event("pricked", count=done.batch.cells)
    move_on(done.write, done.batch, done.on)
    _thin(done)


def _pot(done: Finished) -> None:
    assert done.batch is not None
    done.event("potted", count=done.count)
    move_on(done.write, done.batch, done.on)


def _trim(done: Finished) -> None:
    done.event("trimmed", data={"to_cm": TRIM_TO_CM})


def _fill(done: Finished) -> None:
    done.event("filled")


def _pinch(done: Finished) -> None:
    done.event("pinched")


COMPLETE = {"fill": _fill, "pinch": _pinch, "thin": _thin, "prick": _prick, "pot": _pot, "trim": _trim}
