"""What going out, and coming in again, write."""

from __future__ import annotations

from datetime import date

from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished
from growing.hardening.ladder import LONGEST_DAY_HOURS, Outing
from growing.hardening.steps import Out, Outdoors

MOST_HOURS = 24


def _out(done: Finished) -> None:
    """Carried out: for the day, until somebody says that they are in again; for the night as well, at once."""
    out = done.task.detail
    assert isinstance(out, Outdoors)
    kind = "outing" if out.night or done.on < done.today else "out"  # written down afterwards, it has ended
    done.event(kind, hours=out.hours, wanted_hours=out.wanted)
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
