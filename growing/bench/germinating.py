"""Where does it come up best?  The places there are, with days and share up, what the warmth costs, and what nobody has measured."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date
from typing import NamedTuple

from growing.assumptions import by_kind
from growing.chain.roomwarmth import Room
from growing.crops import Crop
from growing.seeds.thermal_time import emergence_days, first_look_x, relative_share, speed_source
from growing.shelves.laying import laying
from growing.shelves.room import MAT_WATTS
from growing.working import Value, Working

DUTY = by_kind("bench.germinating.DUTY")
LONGEST_DAYS = 60  # later nobody waits for it
WELL = 0.9  # of what could come
NEARLY_DAYS = 3.0
VERDICTS = ("well", "slow", "short", "cold", "hot", "unknown")


class GerminatingSite(NamedTuple):
    """A place in which it could come up.

    room: what it is taken to be like, None: nobody said.  flats: that it holds.  free: of them on the days it would stand there.
    watts: that it draws, None: not typed.
    """

    key: int
    name: str
    room: Room | None
    flats: float
    free: float
    watts: float | None = None


class Comes(NamedTuple):
    """What to expect in one of them.

    mix_c: warmth of the mix [°C], None: not known.  days: until half are up; infinite where it does not come.  first: until the
    first may be.  share: of what could come at its best.  kwh: until half are up, for the room it takes; None: not known.
    ask: should somebody take a reading before trusting it?
    """

    site: GerminatingSite
    mix_c: float | None
    days: float
    first: float
    share: float
    kwh: float | None
    verdict: str
    ask: bool
    working: Working

    @property
    def fits(self) -> bool:
        return self.site.free > 0

    @property
    def comes(self) -> bool:
        return not math.isinf(self.days) and self.days <= LONGEST_DAYS


def comes_up(crop: Crop, site: GerminatingSite, sow: date, flats: float) -> Comes:
    """Days and share in one place for what is sown on that day and takes so much room [flats]."""
    lay, room = laying(crop), site.room
    if room is None:
        why = Working("bench.comes_unknown", (Value("place", site.name),), (), Value("half up", None))
        return Comes(site, None, math.inf, math.inf, 0.0, None, "unknown", True, why)
    given = room.germinates_c(sow)
    mix = crop.number("germinate_c") if given is None else given
    days, _ = emergence_days(crop, mix)
    share = 0.0 if math.isinf(days) else relative_share(crop, mix)
    verdict = _verdict(crop, mix, days, share, lay.low_c)
    said = room.source if given is not None else "garden"
    ask = said == "assumed" and mix < lay.low_c
    watts = site.watts if site.watts is not None else MAT_WATTS * max(1.0, site.flats)
    duty = DUTY.get(room.heated, 0.0)
    kwh = None
    if not math.isinf(days):
        part = min(1.0, flats / site.flats) if site.flats else 1.0
        kwh = watts * duty * 24 * min(days, LONGEST_DAYS) * part / 1000
    inputs = (
        Value("place", site.name),
        Value("mix", round(mix, 1), "°C", said),
        Value("low", lay.low_c, "°C"),
        Value("high", lay.high_c, "°C"),
        Value("share", round(share, 2), "share", speed_source(crop)),
        Value("current", None if kwh is None else round(kwh, 1), "kWh", "estimate" if site.watts is None else "garden"),
    )
    result = Value("half up", None if math.isinf(days) else round(days, 1), "days", speed_source(crop))
    why = Working("bench.comes_never" if math.isinf(days) else "bench.comes", inputs, (), result)
    first = math.inf if math.isinf(days) else max(1.0, first_look_x(crop.number("sigma")) * days)
    return Comes(site, mix, days, first, share, kwh, verdict, ask, why)


def _verdict(crop: Crop, mix_c: float, days: float, share: float, low_c: float) -> str:
    if mix_c > crop.number("max_c"):
        return "hot"
    if math.isinf(days) or mix_c < crop.number("min_c"):
        return "cold"
    if share < WELL:
        return "hot" if mix_c > crop.number("high_c") else "short"
    return "slow" if mix_c < low_c else "well"


def best_first(found: Iterable[Comes]) -> list[Comes]:
    """Those with room first, then by what comes of it, by days, by current; days that are nearly the same count as the same."""
    return sorted(
        found,
        key=lambda c: (
            not c.fits,
            VERDICTS.index(c.verdict) > VERDICTS.index("slow"),
            c.ask,
            -round(c.share, 1),
            math.inf if not c.comes else round(c.days / NEARLY_DAYS),
            c.kwh or 0.0,
            c.days,
            -c.site.free,
            c.site.name,
        ),
    )


def alike(found: Iterable[Comes]) -> list[tuple[Comes, list[Comes]]]:
    """Places of the same kind and warmth as one: the first of them, and the others."""
    groups: dict[tuple[object, ...], tuple[Comes, list[Comes]]] = {}
    for one in found:
        room = one.site.room
        key = (
            one.mix_c,
            one.fits,
            None if room is None else (room.kind, room.heated, room.source, room.set_c),
            one.site.watts,
        )
        if key in groups:
            groups[key][1].append(one)
        else:
            groups[key] = (one, [])
    return list(groups.values())


RULES = {
    "bench.comes": ("place", "mix", "low", "high", "share", "current"),
    "bench.comes_never": ("place", "mix", "low", "high", "share", "current"),
    "bench.comes_unknown": ("place",),
}
