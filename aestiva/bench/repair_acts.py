"""Repairs done: all that were ticked, as one entry that can be taken back."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from aestiva.accounts.models import User
from aestiva.bench.repairs import RepairOffer
from aestiva.bench.tray_actions import shifted, stands_nowhere
from aestiva.frame import say
from aestiva.gardens import journal
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import add_event
from aestiva.season.models import Batch, Goes, Planting, Spot, TaskMark, Tray
from growing.bench.cells import CellShift


def keep(garden: Garden, user: User, found: Sequence[RepairOffer], wanted: int, today: date, key: str) -> str:
    """Write every one of them; returns what was done, in words.

    wanted: how many were ticked.  Raises Refused where one cannot be done any more, or something else was written since they were
    worked out for this garden as it then was.
    """
    said = say.listed([one.words for one in found], 3)
    with journal.change(garden, user, said[:250], key) as write:
        if Garden.objects.values_list("revision", flat=True).get(pk=garden.pk) != garden.revision:
            raise Refused("take", "something else was written meanwhile: look at the list anew")
        if not found or len(found) < wanted:
            raise Refused("take", "something has changed meanwhile: look at the list anew")
        for one in found:
            _ACTS[one.repair.kind](write, garden, user, one, today)
    return said


def _planting(garden: Garden, one: RepairOffer) -> Planting:
    row = Planting.objects.filter(pk=one.detail["planting"], season__garden=garden, cancelled_on=None).first()
    if row is None:
        raise Refused("take", f"{one.words}: it is not in the plan any more")
    return row


def _put_away(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    row = Tray.objects.filter(pk=one.detail["tray"], garden=garden).first()
    if row is None:
        raise Refused("take", f"{one.words}: that tray is gone")
    stands_nowhere(write, write.touch(row), today)


def _together(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    shifted(write, garden, [CellShift(*m) for m in one.detail["moves"]], today, {})


def _later(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    row = _planting(garden, one)
    row.chosen_sow = one.detail["day"]
    write.save(row)


def _pot_later(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    task = one.detail["task"]
    mark = TaskMark.objects.filter(garden=garden, key=task).first() or TaskMark(garden=garden, key=task)
    if mark.done_on is not None or mark.skipped_on is not None:
        raise Refused("take", f"{one.words}: that is done already")
    mark.moved_to, mark.by = one.detail["day"], user
    write.save(mark)


def _smaller(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    row = _planting(garden, one)
    row.path = list(one.detail["path"])
    write.save(row)


def _fewer(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    row = _planting(garden, one)
    row.wanted = one.detail["wanted"]
    write.save(row)


def _stand(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    """From that day on it stands there; what was named for later or instead falls away."""
    row = _planting(garden, one)
    spot = Spot.objects.filter(pk=one.detail["spot"], garden=garden).first()
    if spot is None:
        raise Refused("take", f"{one.words}: that place is gone")
    day = one.detail["day"]
    gone = Goes.objects.filter(planting=row, since__gte=one.detail.get("instead", day))
    for old in gone:
        write.delete(old)
    write.save(Goes(planting=row, spot=spot, since=day))


def _give(write: ChangeSet, garden: Garden, user: User, one: RepairOffer, today: date) -> None:
    batch = Batch.objects.filter(pk=one.detail["batch"], planting__season__garden=garden).first()
    if batch is None:
        raise Refused("take", f"{one.words}: they are gone")
    add_event(write, batch, "given", today, today, count=one.detail["count"])


_ACTS = {
    "put_away": _put_away,
    "together": _together,
    "later": _later,
    "pot_later": _pot_later,
    "smaller": _smaller,
    "fewer": _fewer,
    "wait": _stand,
    "frame": _stand,
    "sill": _stand,
    "lamp": _stand,
    "give": _give,
}
