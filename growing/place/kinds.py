"""What kinds of place are there, indoors and out, and what is true of each?

The one table of them: whoever asks for some takes a set from below, or the flag.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple


class PlaceKind(NamedTuple):
    """A kind of place.

    outdoors: a night there is the night outdoors, more or less.  glazed: it is shut at night and opened in sun.  daylit: its
    light comes from outdoors.  lamp: one may hang there.  soil: things are planted in it.  holds: trays and pots stand there;
    surface: on itself, not on what is part of it.  carries: kinds of place that may be part of it.
    """

    key: str
    outdoors: bool = False
    glazed: bool = False
    daylit: bool = False
    lamp: bool = False
    soil: bool = False
    holds: bool = False
    surface: bool = False
    carries: tuple[str, ...] = ()


KINDS = (
    PlaceKind("room", lamp=True, holds=True, carries=("rack", "shelf", "mat")),
    PlaceKind("rack", lamp=True, holds=True, carries=("shelf", "mat")),
    PlaceKind("shelf", lamp=True, holds=True, surface=True, carries=("mat",)),
    PlaceKind("mat", lamp=True, holds=True, surface=True),
    PlaceKind("sill", daylit=True, lamp=True, holds=True, surface=True, carries=("mat",)),
    PlaceKind("porch", outdoors=True, daylit=True, lamp=True, holds=True, surface=True),
    PlaceKind("frame", outdoors=True, glazed=True, daylit=True, holds=True, surface=True),
    PlaceKind("tunnel", outdoors=True, glazed=True, daylit=True, soil=True, holds=True, surface=True),
    PlaceKind("bed", outdoors=True, soil=True),
    PlaceKind("planter", outdoors=True, soil=True),
    PlaceKind("path", outdoors=True),
)
BY_KEY = {kind.key: kind for kind in KINDS}


def _those(keep: Callable[[PlaceKind], bool]) -> tuple[str, ...]:
    return tuple(kind.key for kind in KINDS if keep(kind))


ALL = tuple(BY_KEY)
HOLDS = _those(lambda k: k.holds)  # pots and trays stand there
INDOORS = _those(lambda k: k.holds and not k.outdoors)
CARRIERS = _those(lambda k: k.holds and not k.surface)  # rooms and racks: what things stand on is in them
SURFACES = _those(lambda k: k.surface)
SHELTERED = _those(lambda k: k.outdoors and k.holds)  # a roof, and nights nearly as cold as in the open
OUTDOORS = _those(lambda k: k.outdoors)
GLAZED = _those(lambda k: k.glazed)
DAYLIT = _those(lambda k: k.daylit)
LAMPS = _those(lambda k: k.lamp)  # a lamp may hang there
SOIL = _those(lambda k: k.soil)
GROWN_IN = (*SOIL, "frame")  # what is planted may stand there
BOARDS = _those(lambda k: k.surface and bool(k.carries))  # whole flats stand on it, by a lamp or a window
HOLDERS = _those(lambda k: bool(k.carries))

LEAVES_FOR = {  # of what is shared, the kinds of place where one that must leave may stand, the best first
    "mat": ("mat", "shelf"),
    "lamp": ("shelf", "sill"),
    "tray": ("mat", "shelf", "sill", "porch"),
    "lid": ("shelf", "mat", "sill"),
}


def carried_by(kind: str) -> tuple[str, ...]:
    """Kinds of place that a place of that kind may be part of, the nearest first."""
    return tuple(k.key for k in reversed(KINDS) if kind in k.carries)
