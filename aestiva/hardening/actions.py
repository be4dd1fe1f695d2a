"""What going out, and coming in again, write."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from aestiva.gardens import clock
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished
from aestiva.season.models import BatchEvent
from growing.hardening.steps import Out, OutingDetail
from growing.ladders.ladder import LONGEST_DAY_HOURS, Outing

MOST_HOURS = 24
AT = "at"  # of a batch carried out: the hour on the garden's clock


def went_out_at(batches: Iterable[int]) -> dict[int, float]:
    """The hour at which each of these batches went out the last time, where anybody wrote it down as it happened."""
    rows = BatchEvent.objects.filter(batch__in=list(batches), kind="out").order_by("pk")
    found = dict(rows.values_list("batch_id", "data"))
    return {batch: float(data[AT]) for batch, data in found.items() if AT in data}


def _out(done: Finished) -> None:
    """Carried out: for the day, until somebody says that they are in again; for the night as well, at once."""
    out = done.task.detail
    assert isinstance(out, OutingDetail)
    if out.night or done.on < done.today:  # written down afterwards, it has ended
        done.event("outing", hours=out.hours, wanted_hours=out.wanted)
    else:
        at = round(clock.hour(done.planting.season.garden), 3)
        done.event("out", hours=out.hours, wanted_hours=out.wanted, data={AT: at})
    if out.half:
        done.event("sheltered")


def had_hours(out: Outing, hours: float, today: date) -> float:
    """The hours that an outing had; raises Refused where they cannot be: what came in the same day had no night."""
    if not 0 <= hours <= MOST_HOURS:
        raise Refused("hours", f"{hours:g} hours cannot be: give 0 to {MOST_HOURS}")
    if hours > LONGEST_DAY_HOURS and out.day == today:
        raise Refused(
            "hours",
            f"{hours:g} hours from today’s morning are not over yet: {LONGEST_DAY_HOURS:g} at most, and a night counts tomorrow",
        )
    return hours


def _in(done: Finished) -> None:
    """Brought in: the hours they really had, as planned where nobody says otherwise."""
    assert isinstance(done.task.detail, Out)
    out = done.task.detail.outing
    hours = had_hours(out, out.hours if done.count is None else float(done.count), done.today)
    done.on = out.day
    done.event("outing", hours=hours, wanted_hours=out.wanted_hours)


COMPLETE = {"harden": _out, "bring_in": _in}
