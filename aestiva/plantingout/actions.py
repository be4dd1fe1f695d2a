"""What planting out writes."""

from __future__ import annotations

from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished
from aestiva.season.models import Batch
from aestiva.season.places import stand


def _plant(done: Finished) -> None:
    """Plants set out, all or some; from now on the batch stands in its bed."""
    count = done.count if done.count is not None else done.task.count
    if not count:
        raise Refused("count", "how many did you plant? Give the number")
    if done.batch is None:  # bought plants arrive and go out
        done.batch = done.write.save(Batch(planting=done.planting, per_cell=1))
        done.event("received", count=count)
    done.event("planted", count=count)
    if done.planting.spot is not None:
        stand(done.write, done.batch, done.planting.spot, done.on)


def _spare(done: Finished) -> None:
    """Plants over, given a home: all or some."""
    count = done.count if done.count is not None else done.task.count
    if not count:
        raise Refused("count", "how many found a home? Give the number")
    done.event("given", count=count)


COMPLETE = {"plant": _plant, "spare": _spare}
