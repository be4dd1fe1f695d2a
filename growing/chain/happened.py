"""What has happened to one batch so far?"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from types import MappingProxyType
from typing import NamedTuple

from growing.ladders.ladder import Outing


class Facts(NamedTuple):
    """What has happened to one batch; None: not yet.  temperature_c: warmth of the mix, None: the crop's own.

    out: the last outing that began and of which nobody said that it ended.  split_on: when its plants left another batch.
    days: the days on which anything else was done to it, by kind of event, in order.
    """

    sown_on: date | None = None
    temperature_c: float | None = None
    first_up: date | None = None
    half_up: date | None = None
    planted_on: date | None = None
    last_count: date | None = None
    counts: int = 0
    outings: tuple[Outing, ...] = ()
    out: Outing | None = None
    split_on: date | None = None
    days: Mapping[str, tuple[date, ...]] = MappingProxyType({})

    def first(self, kind: str) -> date | None:
        """The day something was first done; None: never."""
        return self.days[kind][0] if kind in self.days else None

    def split_from(self, parent: Facts, on: date) -> Facts:
        """What is true of plants that were split off `parent` on a day: they are up, and what was done to it was done to them."""

        def first(own: date | None, inherited: date | None) -> date | None:
            return own or (inherited if inherited is not None and inherited <= on else None)

        had = {o.day for o in self.outings}
        before = [o for o in parent.outings if o.day <= on and o.day not in had]
        days = dict(self.days)
        for kind, done in parent.days.items():
            days[kind] = tuple(sorted({*(day for day in done if day <= on), *self.days.get(kind, ())}))
        return self._replace(
            first_up=first(self.first_up, parent.first_up) or on,
            half_up=first(self.half_up, parent.half_up) or on,
            last_count=first(self.last_count, parent.last_count),
            counts=self.counts or parent.counts,
            outings=tuple(sorted([*before, *self.outings])),
            out=self.out or (parent.out if parent.out is not None and parent.out.day <= on else None),
            split_on=max(filter(None, (self.split_on, on))),
            days={kind: done for kind, done in days.items() if done},
        )
