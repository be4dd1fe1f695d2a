"""What an outing writes."""

from __future__ import annotations

from aestiva.season.actions import Finished


def _out(done: Finished) -> None:
    hours = float(str(done.task.why.input("hours")))
    done.event("outing", hours=hours, wanted_hours=hours)


COMPLETE = {"harden": _out}
