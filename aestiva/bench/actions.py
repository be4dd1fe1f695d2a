"""What finishing a sowing writes."""

from __future__ import annotations

from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished, sow
from aestiva.season.models import Batch, Spot
from aestiva.season.packets import lot_of
from aestiva.season.places import stand
from growing.batch.facts import GoesTo
from growing.bench.steps import SowingDetail


def _sow(done: Finished) -> None:
    """A batch of the cells or seeds sown."""
    places = done.count if done.count is not None else done.task.count
    if not places:
        raise Refused("count", f"no {done.task.unit} to sow: give the number you sowed")
    sowing = done.task.detail
    assert isinstance(sowing, SowingDetail)
    done.batch = sow(
        done.write, done.planting, done.on, done.today, places, sowing.per_cell, sowing.surplus, sowing.sown_in
    )


def _sow_direct(done: Finished) -> None:
    done.batch = done.write.save(Batch(planting=done.planting, lot=lot_of(done.planting), sown_on=done.on, per_cell=1))
    done.event("sown", count=done.count if done.count != done.task.count else None)


def _buy(done: Finished) -> None:
    """Plants fetched: a batch that is received, and hardened unless it stood outdoors."""
    count = done.count if done.count is not None else done.task.count
    if not count:
        raise Refused("count", "how many plants did you fetch? Give the number")
    done.batch = done.write.save(Batch(planting=done.planting, per_cell=1))
    done.event("received", count=count)


def _boxed(done: Finished) -> None:
    done.event("boxed")


def _aired(done: Finished) -> None:
    done.event("aired")


def _stand(done: Finished) -> None:
    """Its trays stand where they were to go; of one that they share the others go along."""
    to = done.task.detail
    if not isinstance(to, GoesTo) or done.batch is None:
        raise Refused("task", "nobody said where it goes: name the place first")
    spot = Spot.objects.filter(pk=to.spot, garden=done.planting.season.garden_id).first()
    if spot is None:
        raise Refused("task", "that place is not there any more: name another")
    stand(done.write, done.batch, spot, done.on)


COMPLETE = {
    "stand": _stand,
    "buy": _buy,
    "sow": _sow,
    "sow_direct": _sow_direct,
    "sow_winter": _sow,
    "again": _sow,
    "box": _boxed,
    "box_air": _aired,
}
