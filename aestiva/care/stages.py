"""How far are they?  Who is to be looked at today, what will most likely be seen, and which of their days a look has moved."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import NamedTuple

from aestiva.course.light import growth_of, lights
from aestiva.course.state import Item, SeasonState
from aestiva.emergence.seedlings import Seedlings, leaves, seedlings, verdict
from aestiva.frame import say
from aestiva.frame.say import Reader, shown
from aestiva.frame.wording import COURSE
from growing.chain.kinds import AFTER_SOWING
from growing.shelves.shelf import Grown

HEIGHTS = (0.5, 0.75, 1.0, 1.3, 1.7)  # times the height expected, to choose from
LEAST_CHOICES = 5


class Ask(NamedTuple):
    """One batch that is up: what is known of it, its growth by now, the leaf that is likely seen, whether today is the day to look."""

    one: Seedlings
    growth: Grown
    due: bool
    said: str

    @property
    def batch(self) -> int:
        return self.one.batch

    @property
    def item(self) -> Item:
        return self.one.item

    @property
    def likely(self) -> int:
        return int(self.growth.leaves)

    @property
    def had(self) -> str:
        return "" if self.one.seen is None else leaves(self.one.seen.leaves)

    @property
    def choices(self) -> list[tuple[int, str]]:
        """Leaves to choose from, around the likely one: “seed leaves” to “4th leaf”, or further on."""
        first = max(0, self.likely - LEAST_CHOICES + 2)
        return [(n, leaves(n)) for n in range(first, first + LEAST_CHOICES)]

    def heights(self, reader: Reader) -> list[str]:
        """Heights to choose from, in the reader's unit."""
        found = []
        for times in HEIGHTS:
            number, _ = shown(max(1.0, self.growth.height_cm) * times, "cm", reader)
            found.append(f"{number:.0f}" if number >= 5 else f"{number:.1f}".removesuffix(".0"))
        return list(dict.fromkeys(found))


def asks(now: SeasonState) -> list[Ask]:
    """Everyone that is up and not out yet; those that are to be looked at first."""
    lit = lights(now)
    found = [
        Ask(one, growth_of(one.item, now.today, lit), one.growing.look <= now.today, verdict(one, now.today))
        for one in seedlings(now, over=("planted", "outing", "out"))
    ]
    return sorted(found, key=lambda a: not a.due)


class LookMoved(NamedTuple):
    """A step of a batch that a look has moved."""

    word: str
    before: date
    after: date


def moved(before: Item, after: Item) -> list[LookMoved]:
    """Which of its days are others than before."""
    had, has = before.raised.course.steps, after.raised.course.steps
    found = []
    for kind in AFTER_SOWING:
        old, new = had.get(kind), has.get(kind)
        if new is not None and new.happened is None and old is not None and old.due != new.due:
            found.append(LookMoved(COURSE[kind], old.due, new.due))
    return found


def moved_said(found: Iterable[LookMoved], today: date) -> str:
    """“Thin today, not Tue 14; Pot up Sat 18, not Tue 21”."""
    parts = []
    for one in found:
        day = "now" if one.after <= today else say.day(one.after)
        parts.append(f"{one.word} {day}, not {say.day(one.before)}")
    return "; ".join(parts)
