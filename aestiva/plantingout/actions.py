"""What planting out writes."""

from __future__ import annotations

from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished, split
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch
from aestiva.season.places import end_stands, leave_trays, stand
from growing.plantingout.steps import Clumps


def _plant(done: Finished) -> None:
    """Plants or clumps set out, all or some.  Once all that were wanted are out the batch stands in its bed; those over stay
    where they are as a batch of their own."""
    count = done.count if done.count is not None else done.task.count
    if not count:
        raise Refused("count", "how many did you plant? Give the number")
    all_wanted = count >= (done.task.count or 0)
    if done.batch is None:  # bought plants arrive and go out
        done.batch = done.write.save(Batch(planting=done.planting, per_cell=1))
        done.event("received", count=count)
    clumps = done.task.detail
    before = accounts_of(done.batch)
    plants = count if not isinstance(clumps, Clumps) else in_clumps(count, clumps, before.indoors)
    done.event("planted", count=plants, estimated=isinstance(clumps, Clumps))
    left = None if before.indoors is None else before.indoors - plants
    if all_wanted and left:
        cells = clumps.there - count if isinstance(clumps, Clumps) else None
        split(done.write, done.batch, left, done.on, done.today, cells=cells)
    if not (all_wanted or left == 0):
        return
    if done.planting.spot is not None:
        stand(done.write, done.batch, done.planting.spot, done.on)
    else:  # in a bed that nobody named: in its tray they are no more
        leave_trays(done.write, done.batch, done.on)
        end_stands(done.write, done.batch, done.on)


def in_clumps(count: int, clumps: Clumps, indoors: int | None) -> int:
    """Plants in so many clumps: of those there are, their part; of a batch nobody has counted, as many as they are to hold."""
    if count > clumps.there:
        raise Refused("count", f"{count} clumps planted, but there are only {clumps.there}: count again")
    if indoors is None:
        return count * clumps.plants
    return indoors if count == clumps.there else round(indoors * count / clumps.there)


def _spare(done: Finished) -> None:
    """Plants over, given a home: all or some."""
    count = done.count if done.count is not None else done.task.count
    if not count:
        raise Refused("count", "how many found a home? Give the number")
    done.event("given", count=count)


def _cover(done: Finished) -> None:
    """Covered for this night: uncovered in the morning."""
    done.event("covered")


def _uncover(done: Finished) -> None:
    done.event("uncovered")


COMPLETE = {"plant": _plant, "spare": _spare, "cover": _cover, "uncover": _uncover}
