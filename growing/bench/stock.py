"""Are there enough trays, lids and mix?  What is owned against what is in use each day, and when it runs short."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

PREPARE_DAYS = 14  # before the first sowing: wash, check, order


class StockUse(NamedTuple):
    """So many of a thing in use from a day until another, which is free again on that day."""

    since: date
    until: date
    count: float  # type: ignore[assignment]


class Supply(NamedTuple):
    """A thing against its use over the season.

    owned: None where nobody counted.  most: in use at once, and on which day.  short: how many are missing at the worst, short_from:
    the first day on which some are.  clean: owned and washed; short_clean_from: the first day on which washing must have been done.
    """

    owned: float | None
    most: float
    most_on: date | None
    short: float
    short_from: date | None
    clean: float | None
    wash_by: date | None


def in_use(uses: Iterable[StockUse], start: date, days: int) -> NDArray[np.float64]:
    """How many are in use on each day from start on: (days,)."""
    change = np.zeros(days + 1)
    for use in uses:
        first, last = (min(max((d - start).days, 0), days) for d in (use.since, use.until))
        change[first] += use.count
        change[last] -= use.count
    return np.cumsum(change)[:days]


def supply(uses: Iterable[StockUse], start: date, days: int, owned: float | None, to_wash: float = 0.0) -> Supply:
    """A thing that is used and comes back, such as trays and lids, from start on over so many days."""
    used = in_use(list(uses), start, days)
    most = float(used.max()) if days else 0.0
    on = start + timedelta(days=int(used.argmax())) if most > 0 else None
    if owned is None:
        return Supply(None, most, on, 0.0, None, None, None)

    def first(limit: float) -> date | None:
        over = np.flatnonzero(used > limit + 1e-9)
        return start + timedelta(days=int(over[0])) if len(over) else None

    clean = owned - to_wash
    return Supply(owned, most, on, max(0.0, most - owned), first(owned), clean, first(clean) if to_wash else None)


def used_up(uses: Iterable[tuple[date, float]], start: date, owned: float | None) -> Supply:
    """A thing that does not come back, such as mix: what is taken on which day, against what there is."""
    whole, short_from, last = 0.0, None, None
    for on, much in sorted(uses):
        if on < start:
            continue
        whole, last = whole + much, on
        if owned is not None and whole > owned + 1e-9 and short_from is None:
            short_from = on
    short = 0.0 if owned is None else max(0.0, whole - owned)
    return Supply(owned, whole, last, short, short_from, owned, None)


def prepare_from(sowings: Iterable[date], today: date) -> date | None:
    """The day on which getting ready begins, two weeks before the first sowing that is still to come; None without one."""
    ahead = [day for day in sowings if day >= today]
    return min(ahead) - timedelta(days=PREPARE_DAYS) if ahead else None
