"""What an outing writes."""

from __future__ import annotations

from aestiva.season.actions import Finished
from growing.hardening.steps import Outdoors


def _out(done: Finished) -> None:
    outing = done.task.detail
    assert isinstance(outing, Outdoors)
    done.event("outing", hours=outing.hours, wanted_hours=outing.hours)


COMPLETE = {"harden": _out}
