"""How long is it raised?  The crop's own weeks, or a packet's, as whole days."""

from __future__ import annotations

from typing import NamedTuple

from growing.assumptions import shown
from growing.calendar import weeks
from growing.crops import Crop
from growing.shelves.containers import LONGEST_SHARE
from growing.working import Value, Working


class PacketTiming(NamedTuple):
    """What the packet says: weeks (min, max) before a base, and its own planting offset in weeks after last frost."""

    weeks_min: float
    weeks_max: float
    base: str  # "last_frost" or "transplanting"
    out_weeks: float | None = None


class Raising(NamedTuple):
    """Raising time and sowing age limit in days, with the arithmetic behind them."""

    shortest: int
    longest: int
    hold: int
    working: Working | None

    @property
    def middle(self) -> int:
        return (self.shortest + self.longest) // 2


class PacketWeeks(NamedTuple):
    """A packet's weeks as raising time, shortest and longest [weeks], and the same as weeks before last frost."""

    shortest: float
    longest: float
    before_last_frost: float
    working: Working


def packet_raising(packet: PacketTiming) -> PacketWeeks:
    """A packet's weeks as raising time: before last frost add the packet's own planting offset (unknown: 0)."""
    offset = packet.out_weeks or 0.0
    added = offset if packet.base == "last_frost" else 0.0
    shortest, longest = packet.weeks_min + added, packet.weeks_max + added
    working = Working(
        "plan.packet_raising",
        (
            Value("weeks min", packet.weeks_min, "weeks", "packet"),
            Value("weeks max", packet.weeks_max, "weeks", "packet"),
            Value("base", packet.base, "", "packet"),
            Value("planting offset", offset, "weeks", "assumed" if packet.out_weeks is None else "packet"),
            Value("raise min", shortest, "weeks", "packet"),
            Value("raise max", longest, "weeks", "packet"),
            Value("same before last frost", longest - offset, "weeks", "packet"),
        ),
        (),
        Value("raising time", longest, "weeks", "packet"),
    )
    return PacketWeeks(shortest, longest, longest - offset, working)


def raising_of(crop: Crop, method: str, packet: PacketTiming | None) -> Raising:
    """How long it is raised indoors; nothing when it is sown in place or bought, or nobody raises it."""
    if method != "raised" or "raise_max" not in crop.values:
        return Raising(0, 0, 0, None)
    hold, said = weeks(crop.number("hold")).days, None
    low, high = weeks(crop.number("raise_min")).days, weeks(crop.number("raise_max")).days
    if packet is not None:
        weeks_said = packet_raising(packet)
        low, high, said = weeks(weeks_said.shortest).days, weeks(weeks_said.longest).days, weeks_said.working
    if crop.word("lead_way") == "bigger":
        plain = high
        low, high = round(low * LONGEST_SHARE), round(high * LONGEST_SHARE)
        inputs = (Value("book", plain, "days"), shown("times", "shelves.containers.LONGEST_SHARE"))
        said = Working("plan.raised_bigger", inputs, () if said is None else (said,), Value("raising", high, "days"))
    return Raising(low, high, max(hold, high), said)
