"""Which sowings can share a day?  The fewest sowing days that fall into every window, and each as near its best day as they let it."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from growing.chain.days import Span

ROUNDS = 20


class Wish(NamedTuple):
    """A sowing that may be moved: its key, the days it may have (ordinals), and its best day."""

    key: int
    window: Span
    ideal: int


class Aligned(NamedTuple):
    """Days by sowing; those for which no sowing day lies in the window are left out, and named."""

    days: Mapping[int, int]
    without: tuple[int, ...]

    @property
    def distinct(self) -> list[int]:
        return sorted(set(self.days.values()))


def fewest_days(wishes: Sequence[Wish], free: Sequence[int]) -> Aligned:
    """The fewest days that serve all, then as near to their best days as that number lets them.

    free: sowing days in order (ordinals).  The number is the least there is: windows taken by their ends, each one not yet
    served takes its last free day.  Which days, is then improved step by step; that they are the nearest is not proven.
    """
    able = [w for w in wishes if _inside(free, w.window)]
    without = tuple(w.key for w in wishes if not _inside(free, w.window))
    chosen: list[int] = []
    for wish in sorted(able, key=lambda w: (w.window.end, w.window.start)):
        if not chosen or chosen[-1] < wish.window.start:
            chosen.append(free[bisect_right(free, wish.window.end) - 1])
    return Aligned(_nearer(able, chosen, free), without)


def on_day(wishes: Sequence[Wish], day: int) -> list[Wish]:
    """Those whose window holds that day, the farthest from their best day last."""
    here = [w for w in wishes if w.window.start <= day <= w.window.end]
    return sorted(here, key=lambda w: abs(day - w.ideal))


def _inside(free: Sequence[int], window: Span) -> Sequence[int]:
    return free[bisect_left(free, window.start) : bisect_right(free, window.end)]


def _nearer(wishes: Sequence[Wish], chosen: Sequence[int], free: Sequence[int]) -> dict[int, int]:
    """Each to the nearest of the days in its window, each day to where its sowings want it most, until nothing moves."""
    days = sorted(chosen)
    for _ in range(ROUNDS):
        own = {w.key: min(_inside(days, w.window), key=lambda d, w=w: (abs(d - w.ideal), -d)) for w in wishes}  # type: ignore[misc]
        moved = []
        for day in days:
            here = [w for w in wishes if own[w.key] == day]
            if not here:
                continue
            start, end = max(w.window.start for w in here), min(w.window.end for w in here)
            moved.append(min(_inside(free, Span(start, end)), key=lambda d: (sum(abs(d - w.ideal) for w in here), -d)))
        if sorted(set(moved)) == days:
            break
        days = sorted(set(moved))
    return {w.key: min(_inside(days, w.window), key=lambda d: (abs(d - w.ideal), -d)) for w in wishes}
