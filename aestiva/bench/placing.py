"""Putting a tray down: where it was let go where that is free, else where there is room nearest to it."""

from __future__ import annotations

from datetime import date

from aestiva.accounts.models import User
from aestiva.bench.things import PlaceStanding, Thing, load_bench, size_on
from aestiva.course.state import load
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Spot, Tray
from aestiva.season.places import place_tray
from growing.beds.bedplan import Rect
from growing.shelves import shelf


def spot_for(thing: Thing, one: PlaceStanding, x: float | None) -> tuple[float, float] | None:
    """From the left and from the front [cm]; x: wanted, None: wherever there is room.

    None: nobody gave the place a size.  Raises Refused where it has no room.
    """
    if not one.size_said:
        return None
    wide, deep = size_on(thing, one.deep_cm)
    taken = one.taken(without=thing)
    if wrong := shelf.wrong_place(Rect(0, 0, wide, deep), one.wide_cm, one.deep_cm, []):
        raise Refused("spot", wrong)
    if x is not None:
        held = min(max(0.0, x), one.wide_cm - wide)
        for at in (0.0, one.deep_cm - deep):
            if not shelf.wrong_place(Rect(held, at, wide, deep), one.wide_cm, one.deep_cm, taken):
                return round(held, 1), round(at, 1)
    free = shelf.free_place(wide, deep, one.wide_cm, one.deep_cm, [r for _, r in taken], near=x)
    if free is None:
        names = ", ".join(name for name, _ in taken[:4])
        raise Refused("spot", f"{one.spot.code} has no room for it: {names} stand there. Move one of them first")
    return round(free[0], 1), round(free[1], 1)


def put_down(
    garden: Garden, user: User, tray: Tray, spot: Spot, x: float | None, today: date, key: str, revision: str | None
) -> None:
    """Have a tray stand there from today on, in one entry; where it stands is decided by what stands there then."""
    with journal.change(garden, user, f"Put {tray.code} on {spot.code}", key) as write:
        tray = write.touch(tray, revision)
        bench = load_bench(load(garden, today))
        thing, one = bench.thing(tray), bench.places[spot.pk]
        if thing.depth_cm >= one.clear_cm and one.spot.clear_cm:
            raise Refused("spot", f"{thing.name} is higher than there is room on {one.spot.code}")
        place_tray(write, tray, spot, today, spot_for(thing, one, x))
