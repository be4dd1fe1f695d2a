"""The door that plants are carried through: what shelters it, who is at home when, and the garden's own ladders."""

from __future__ import annotations

from collections.abc import Mapping

from aestiva.gardens.models import Garden, Member
from aestiva.season.models import OwnLadder
from growing.calendar import Window
from growing.ladders.ahead import HardeningSite
from growing.ladders.ladder import Ladder, ladders
from growing.place.kinds import SHELTERED


def door_of(garden: Garden, spots: Mapping[int, tuple[str, str]], away: tuple[Window, ...]) -> HardeningSite:
    """The garden's door: a porch, a frame or a tunnel among its places is a roof."""
    said = Member.objects.filter(garden=garden).exclude(role="reader").order_by("pk").values_list("at_home", flat=True)
    weeks = tuple(None if week is None else tuple(None if d is None else tuple(d) for d in week) for week in said)
    return HardeningSite(garden.shelter, any(kind in SHELTERED for _, kind in spots.values()), weeks, away)


def known_ladders(garden: Garden) -> dict[str, Ladder]:
    """Every ladder that may be climbed there, its own last."""
    return {**ladders(), **own_ladders(garden)}


def own_ladders(garden: Garden) -> dict[str, Ladder]:
    """The garden's own ladders by their keys."""
    return {row.key: row.ladder for row in OwnLadder.objects.filter(garden=garden)}
