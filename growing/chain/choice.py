"""What has the grower settled, and what can the dates not have?"""

from __future__ import annotations

from datetime import date
from typing import NamedTuple

from growing.chain.raising import PacketTiming
from growing.chain.roomwarmth import Room


class Held(NamedTuple):
    """What holds plants back from the garden today beside their ladder, in words, and the day by which it likely does so no more.

    by: empty: nothing does.  until: None: nobody knows.  ready: when their ladder is climbed; None: they climb none, or nobody knows.
    """

    by: tuple[str, ...] = ()
    until: date | None = None
    ready: date | None = None


class Choice(NamedTuple):
    """What the grower has settled for a planting; None where the rules choose.

    not_before: the day on which it was planned: what had to be done before that is for then.
    bed_free: the day from which its ground is free of what stands there before it.  room: where it is raised
    (`growing.chain.roomwarmth.Room`), None: nobody said, and the book's warmth is taken.
    """

    method: str = "raised"
    term: str = "spring"
    sow_on: date | None = None
    out_on: date | None = None
    packet: PacketTiming | None = None
    not_before: date | None = None
    bed_free: date | None = None
    room: Room | None = None
    sown: bool = False  # sow_on is what happened, not what was chosen
    carries_days: int | None = None  # sowing age to which the last container of a chosen path carries it
    sow_because: str = "chosen"  # why sow_on stands: "chosen", or "again" where the sowing of a day given was lost
    out_because: str = "pinned"  # why out_on stands: "pinned", "waits" for hardening, "small", "held" by gates, "due" since, or "happened"
    held_by: tuple[str, ...] = ()  # by what, in words


class Problem(NamedTuple):
    """Something the dates cannot have: a code, how many days it lacks, the day and the share of years it is about."""

    code: str
    days: int
    day: date | None
    share: float | None = None
