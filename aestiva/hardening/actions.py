"""What going out, and coming in again, write."""

from __future__ import annotations

from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished
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


def _in(done: Finished) -> None:
    """Brought in: the hours they really had, as planned where nobody says otherwise."""
    assert isinstance(done.task.detail, Out)
    out = done.task.detail.outing
    hours = out.hours if done.count is None else float(done.count)
    if not 0 <= hours <= MOST_HOURS:
        raise Refused("count", f"{hours:g} hours cannot be: give 0 to {MOST_HOURS}")
    done.on = out.day
    done.event("outing", hours=hours, wanted_hours=out.wanted_hours)


COMPLETE = {"harden": _out, "bring_in": _in}
