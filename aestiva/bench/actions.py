"""What finishing a sowing writes."""

from __future__ import annotations

from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished, sow
from aestiva.season.models import Batch


def _sow(done: Finished) -> None:
    """A batch of the cells or seeds sown."""
    places = done.count if done.count is not None else done.task.count
    if not places:
        raise Refused("count", f"no {done.task.unit} to sow: give the number you sowed")
    per_cell = int(str(done.task.why.input("seeds per cell")))
    done.batch = sow(done.write, done.planting, done.on, done.today, places, per_cell, done.spot)


def _sow_direct(done: Finished) -> None:
    done.batch = done.write.save(Batch(planting=done.planting, lot=done.planting.lot, sown_on=done.on, per_cell=1))
    done.event("sown", count=done.count if done.count != done.task.count else None)


COMPLETE = {"sow": _sow, "sow_direct": _sow_direct}
