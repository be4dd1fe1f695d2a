"""What stands at a window, or out under glass: the light of a usual day there, for whom it is enough, what to do where it is not."""

from __future__ import annotations

from typing import NamedTuple

from aestiva.bench.things import Bench
from aestiva.course.light import daylight, range_c
from aestiva.course.state import SeasonState
from aestiva.frame import say
from aestiva.season.models import Spot
from growing.light.targets import LITTLE, band
from growing.light.window import POOR, sill
from growing.place.kinds import DAYLIT
from growing.working import Working

MOST_NAMED = 3


class DaylightPlace(NamedTuple):
    """One place by daylight: DLI of a usual day (None: nobody said where it looks, nor its hours of sun), who stands there in want of
    more, who has enough; what to do; the working of a sill."""

    spot: Spot
    dli: float | None
    lacking: tuple[str, ...]
    fine: tuple[str, ...]
    advice: str
    working: Working | None

    @property
    def who(self) -> str:
        return say.listed([*self.lacking, *self.fine], MOST_NAMED)


def windows(now: SeasonState, bench: Bench) -> list[DaylightPlace]:
    """Every such place on which something grows."""
    found = []
    for pk in bench.order:
        one = bench.places[pk]
        if one.spot.lit == "lamp" or (one.spot.kind not in DAYLIT and one.spot.lit != "window"):
            continue
        grown = [p for t in one.things for p in t.parts if p.item is not None and p.growth.height_cm > 0]
        if not grown:
            continue
        dli = daylight(now, one.spot, now.today)
        lacking: list[str] = []
        fine: list[str] = []
        for part in grown:
            assert part.item is not None
            short = dli is not None and band(part.item.crop, part.growth.leaves).verdict(dli) == LITTLE
            (lacking if short else fine).append(part.name)
        names = tuple(dict.fromkeys(lacking)), tuple(dict.fromkeys(fine))
        found.append(
            DaylightPlace(one.spot, dli, *names, _advice(one.spot, dli, bool(lacking)), _working(now, one.spot))
        )
    return found


def _advice(spot: Spot, dli: float | None, lacks: bool) -> str:
    """What to do there."""
    if dli is None:
        return "say under Places where it looks to, or its hours of direct sun"
    if not lacks:
        return "enough on a usual day; turn them every day" if spot.kind == "sill" else "enough on a usual day"
    card = "" if spot.card else ", a white card behind"
    if dli < POOR:
        return f"too dark for seedlings by itself: a lamp, or sow later; until then cooler by a few degrees, turned every day{card}"
    return f"short of light: cooler by a few degrees, turned every day{card}, or a lamp in the evening"


def _working(now: SeasonState, spot: Spot) -> Working | None:
    if spot.kind != "sill" or (not spot.facing and spot.sun_h is None):
        return None
    return sill(now.garden.latitude, now.today, spot.facing, spot.sun_h, range_c(now, now.today), spot.card).working
