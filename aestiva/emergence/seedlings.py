"""Those that are up: do they grow as they should?  What was seen of each, against its age and the warmth of its place."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date
from typing import NamedTuple

from aestiva.course.light import looks_of, up_since
from aestiva.course.state import Item, SeasonState
from aestiva.frame import say
from growing.chain.leaves import LeavesSeen
from growing.emergence.stage import Growing, growing

OVER = ("potted", "planted", "outing", "out")  # from which other looks are taken
NAMES = ("seed leaves", "1st leaf", "2nd leaf", "3rd leaf", "4th leaf")
MOST_CHOICES, MOST_SHOWN = 6, 6


class Seedlings(NamedTuple):
    """One batch of them: since when half are up, what was last seen, and what it means."""

    item: Item
    up: date
    seen: LeavesSeen | None
    growing: Growing

    @property
    def batch(self) -> int:
        return self.item.batch_pk

    @property
    def name(self) -> str:
        return self.item.full_name

    @property
    def plants(self) -> int | None:
        return self.item.raised.plants

    @property
    def pressing(self) -> tuple[int, float]:
        order = ("again", "behind", "unseen", "on_time", "ahead")
        return order.index(self.growing.kind), -(self.growing.behind or 0.0)


def seedlings(now: SeasonState, under: Collection[int] = (), over: Collection[str] = OVER) -> list[Seedlings]:
    """All that are up and neither potted up nor outdoors, those that are behind first.  under: batches that still come.  over: what ends
    being looked at."""
    items = [i for i in now.items if _is_up(i, over) and i.batch_pk not in under]
    looks = looks_of(now, items)
    found = []
    for item in items:
        up = up_since(item)
        assert up is not None
        last = looks[item.batch_pk][-1] if item.batch_pk in looks else None
        found.append(Seedlings(item, up, last, growing(item.raised, now.today, up, last, _air(now, item))))
    return sorted(found, key=lambda s: (s.pressing, s.name))


def _is_up(item: Item, over: Collection[str]) -> bool:
    facts = item.raised.facts
    if item.batch is None or item.raised.dates.method != "raised" or (facts.half_up or facts.first_up) is None:
        return False
    gone = facts.outings or facts.planted_on is not None or any(facts.first(kind) is not None for kind in over)
    return not gone and item.raised.plants != 0


def _air(now: SeasonState, item: Item) -> float | None:
    """The air where it stands [°C]; None: nobody knows."""
    here = now.rows.here(item.batch_pk)
    room = None if here is None or now.shared is None else now.shared.dating.room_at(here.spot)
    return None if room is None else room.air_c(now.today)


def choices(one: Seedlings) -> list[tuple[int, str]]:
    """What can be tapped: around what it should have by now, and what it had."""
    last = max(3, round(one.growing.expected) + 1)
    first = max(0, min(last - 4, last if one.seen is None else one.seen.leaves))
    return [(n, leaves(n).removesuffix(" leaf")) for n in range(first, last + 1)][-MOST_CHOICES:]


def leaves(count: int) -> str:
    """“seed leaves”, “2nd leaf”, “6th leaf”."""
    return NAMES[count] if count < len(NAMES) else f"{count}th leaf"


def verdict(one: Seedlings, today: date) -> str:
    """“3 days behind: keep them”."""
    g, days = one.growing, abs(round(one.growing.behind or 0.0))
    drawn = "; drawn: more light, cooler" if g.drawn else ""
    late = say.plural(days, "day")
    return {
        "unseen": "look at the leaves today" if g.look <= today else f"look at the leaves about {say.day(g.look)}",
        "on_time": "on schedule",
        "ahead": f"{late} ahead",
        "behind": f"{late} behind: keep them, nothing sown now would be sooner",
        "again": f"{late} behind: what is sown by {say.day(g.by)} is sooner; keep the best of these" if g.by else "",
    }[g.kind] + drawn
