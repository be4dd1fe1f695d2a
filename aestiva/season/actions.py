"""What may happen to a batch, and what it writes: events that the ledgers can hold, stands, splits, failures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from aestiva.frame.forms import EARLIEST, LATEST
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import event_kinds
from aestiva.season.ledgers import Counted, accounts_of, counted, in_order, ledger_words
from aestiva.season.models import Batch, BatchEvent, BatchLink, Planting, Spot
from aestiva.season.packets import lot_of
from aestiva.season.places import in_pots, stand, where
from growing.batch.history import COUNTED
from growing.batch.ledger import LedgerError, accounts
from growing.steps import Task

MANY = 20_000


@dataclass
class Finished:
    """A task that a grower has finished, whole or in part, and the pen to write it down with."""

    write: ChangeSet
    task: Task
    of: Planting | None
    batch: Batch | None
    on: date
    today: date
    count: int | None

    @property
    def planting(self) -> Planting:
        """The planting that it is for; Refused where it is the work of a place."""
        if self.of is None:
            raise Refused("task", "this is work of a place, and of no planting")
        return self.of

    def event(self, kind: str, **more: Any) -> BatchEvent:
        """Write an event of this batch on the day it was done."""
        if self.batch is None:
            raise Refused("task", "there is no batch yet: sow first")
        return add_event(self.write, self.batch, kind, self.on, self.today, **more)


def typed_day(text: str, field: str, default: date) -> date:
    """A day as typed, the default when nothing was; raises Refused naming the field."""
    text = text.strip()
    if not text:
        return default
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise Refused(field, f"“{text[:40]}” is not a day: give it as year-month-day") from None
    if not EARLIEST <= day <= LATEST:
        raise Refused(field, f"{text[:40]} cannot be: check the year")
    return day


def typed_count(text: str, field: str = "count") -> int:
    """A count as typed; raises Refused naming the field."""
    text = text.strip()
    try:
        return int(text)
    except ValueError:
        raise Refused(field, f"“{text[:40]}” is not a whole number: give the count in figures") from None


def check_day(batch: Batch | None, on: date, today: date) -> None:
    if on > today:
        raise Refused("on", f"{on:%-d %B} is still to come: give today or an earlier day")
    if batch is not None and batch.sown_on is not None and on < batch.sown_on:
        raise Refused("on", f"{on:%-d %B} is before it was sown ({batch.sown_on:%-d %B}): give a later day")


def add_event(
    write: ChangeSet,
    batch: Batch,
    kind: str,
    on: date,
    today: date,
    count: int | None = None,
    estimated: bool = False,
    **more: Any,
) -> BatchEvent:
    """Append one event to a batch, which is held meanwhile; raises Refused when the day or the count cannot be."""
    if not write.wrote(batch):
        write.touch(batch)
    check_day(batch, on, today)
    if wrong := event_kinds()[kind].wrong(more.get("data", {})):
        raise Refused("data", wrong)
    if count is not None and not 0 <= count <= MANY:
        raise Refused("count", f"{count} is not a count between 0 and {MANY}: correct the number")
    if kind in COUNTED and count is not None:
        _holds([] if write.made(batch) else counted(batch), Counted(kind, on, count, estimated))
    return write.save(BatchEvent(batch=batch, kind=kind, on=on, count=count, estimated=estimated, **more))


def add_events(
    write: ChangeSet, batches: Sequence[Batch], kind: str, on: date, today: date, data: dict[str, Any]
) -> None:
    """The same thing happened to many batches, none of which it makes more or fewer: as `add_event`, in a few statements."""
    assert kind not in COUNTED
    if wrong := event_kinds()[kind].wrong(data):
        raise Refused("data", wrong)
    held = write.touch_many(batches)
    for batch in held:
        check_day(batch, on, today)
    write.insert([BatchEvent(batch=batch, kind=kind, on=on, data=data) for batch in held])


def _holds(told: list[Counted], new: Counted) -> None:
    """Raise Refused where the ledgers cannot hold one more, last of its day."""
    try:
        accounts(in_order([*told, new]))
    except LedgerError as error:
        raise Refused("count", f"{ledger_words(error)}: count again, or correct an earlier entry") from error


def sow(
    write: ChangeSet,
    planting: Planting,
    on: date,
    today: date,
    places: int,
    per_cell: int,
    surplus: str,
    sown_in: str,
    spot: Spot | None = None,
    temperature_c: float | None = None,
) -> Batch:
    """A new batch of so many cells or blocks, or seeds in a box; the seeds are its first event.  surplus: what is over of them."""
    check_day(None, on, today)
    box = sown_in == "box"
    if not 1 <= places <= MANY:
        what = "seeds" if box else sown_in
        raise Refused("count", f"{places} {what} is not a number between 1 and {MANY}")
    batch = write.save(
        Batch(
            planting=planting,
            lot_id=planting.lot_id or getattr(lot_of(planting), "pk", None),
            sown_on=on,
            sown_in=sown_in,
            cells=None if box else places,
            per_cell=1 if box else per_cell,
            surplus=surplus,
            temperature_c=temperature_c,
        )
    )
    add_event(write, batch, "sown", on, today, count=places if box else places * per_cell)
    if spot is not None:
        stand(write, batch, spot, on)
    return batch


def split(
    write: ChangeSet,
    batch: Batch,
    count: int,
    on: date,
    today: date,
    spot: Spot | None = None,
    cells: int | None = None,
    placed: bool = True,
) -> Batch:
    """Move some plants to a child batch that keeps lot, sowing day and treatment; what happened to the parent up to that
    day is read through the link (`Facts.split_from`).  cells: clumps that they stay in.  placed: it stands where the parent does, in
    a tray of its own; False: the caller says in which."""
    if not 1 <= count <= MANY:
        raise Refused("count", f"{count} plants cannot be split off: give one or more")
    if not write.wrote(batch):
        write.touch(batch)
    check_day(batch, on, today)
    _holds(counted(batch), Counted("moved", on, count))
    child = write.save(
        Batch(
            planting=batch.planting,
            lot=batch.lot,
            sown_on=batch.sown_on,
            cells=cells or count,
            per_cell=1,
            surplus=batch.surplus if cells else "thin",
            temperature_c=batch.temperature_c,
            ladder=batch.ladder,
        )
    )
    write.save(BatchLink(parent=batch, child=child, count=count, on=on))
    place = spot or where(batch)
    if placed and place is not None:
        stand(write, child, place, on, in_pots(batch))
    return child


def fail(write: ChangeSet, batch: Batch, on: date, today: date, note: str = "") -> None:
    """The whole batch is lost: what was waiting never came up, what stood indoors died; it may be sown again."""
    check_day(batch, on, today)
    if batch.failed_on is not None:
        raise Refused("", f"this batch was given up on {batch.failed_on:%-d %B} already")
    now = accounts_of(batch)
    if now.waiting:
        add_event(write, batch, "never_up", on, today, count=now.waiting)
    if now.indoors:
        add_event(write, batch, "died", on, today, count=now.indoors, note=note)
    if now.outdoors:
        add_event(write, batch, "lost_outside", on, today, count=now.outdoors, note=note)
    batch.failed_on = on
    write.save(batch)
