"""What a look, a count, the lamp and the lid write."""

from __future__ import annotations

from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished


def _count(done: Finished) -> None:
    """The number up so far; a look without a number is refused, for 0 is a number too."""
    if done.count is None:
        raise Refused("count", "how many are up? Give the number, 0 if none yet")
    done.event("up", count=done.count)


def _lifted(done: Finished) -> None:
    done.event("lifted")


def _lid(done: Finished) -> None:
    """The lid, and what goes with it in one."""
    for kind in done.task.detail or ("lid",):  # type: ignore[attr-defined]
        done.event(kind)


def _plainly(done: Finished) -> None:
    """An event of the task's own kind."""
    done.event(done.task.kind)


COMPLETE = {
    "look": _count,
    "count": _count,
    "lift": _lifted,
    "lid": _lid,
    **dict.fromkeys(("lamp", "paper", "vents", "ajar", "mat"), _plainly),
}
