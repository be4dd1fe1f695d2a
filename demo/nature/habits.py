"""How do growers decide without us?  Scripts of the same grower, in the same form as the rules they are compared with.

A script sees `Seen` and says which groups (of all seasons at once) get something today.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature.grower import DRY
from demo.nature.kinds import Kind
from demo.nature.weather import Forecast, Weather

Groups = NDArray[np.bool_]
Numbers = NDArray[np.float32]


class Seen(NamedTuple):
    """What a grower knows on a day: nothing of nature but this reaches a rule.

    t: day of the run.  For each group: days since it was sown (−1: not yet), the last count of what is up (NaN: not looked
    yet), leaves of the middle plant as a look says, heft (DRY, FAIR, WET; −1: not lifted today), share that hangs limp
    (which is seen in passing), share that looks harmed.
    Outdoors: lowest_c of the last night on the garden's own thermometer, soil_c at eight in the morning.  forecast: asked for.
    """

    t: int
    sown_days: NDArray[np.int32]
    up: Numbers
    leaves: Numbers
    heft: NDArray[np.int8]
    limp: Numbers
    harmed: Numbers
    lowest_c: Numbers
    soil_c: Numbers
    forecast: Callable[[], Forecast]


Script = Callable[[Seen], Groups]


class Ways(NamedTuple):
    """One way of growing: which groups are sown, watered, fed and set out today; seeds for each plant wanted, or of each wish,
    and how many of them in a cell (thinned to one at the first true leaf).

    hardens: days of outings before planting out, where the day is known ahead (out_on, day of the run by group).  noon: what
    stands outdoors in its tray is watered a second time.  fills: of what a cell can hold, what a watering leaves in it.  feed_n_mg_l:
    nitrogen of the feed, for all or by group.
    """

    sow: Script
    out: Script
    water: Script
    feed: Script
    seeds: float | tuple[int, ...] = 2.0
    per_cell: int | tuple[int, ...] = 1
    hardens: int = 7
    noon: bool = True
    out_on: NDArray[np.int32] | None = None
    fills: float = 1.0
    feed_n_mg_l: float | NDArray[np.float64] = 150.0


def on(days: NDArray[np.int32]) -> Script:
    """On given days of the run, by group, or as soon after as can be."""
    return lambda seen: seen.t >= days


def doubled(wanted: list[int]) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Two in a cell, and twice the cells: seeds, and seeds a cell, of each wish."""
    return tuple(4 * n for n in wanted), tuple(2 for _ in wanted)


def by_heft(seen: Seen) -> Groups:
    """Water what feels light or hangs limp."""
    return np.asarray((seen.heft == DRY) | (seen.limp > 0))


def every_third_day(seen: Seen) -> Groups:
    """Water on every third day, whatever it feels like."""
    return np.full(len(seen.heft), seen.t % 3 == 0)


def weekly_feed(seen: Seen) -> Groups:
    """Feed once a week from the first true leaf on, or four weeks after sowing."""
    return np.asarray(((seen.leaves >= 1) | (seen.sown_days >= 28)) & (seen.t % 7 == 0))


def book_days(kind: Kind) -> int:
    """Days from sowing to planting out as books have it (whole weeks)."""
    return 7 * BOOK[kind.key][0]


# What books and packets say, in whole weeks (usual figures, estimates): raised for so many; sown so many before last frost; set out so
# many after it (− before).  Packets round to both, so the two need not agree with the first.
BOOK = {
    "tomato": (7, 7, 1),
    "pepper": (9, 9, 2),
    "cucumber": (4, 3, 2),
    "melon": (4, 3, 2),
    "basil": (6, 6, 2),
    "zinnia": (5, 5, 1),
    "cosmos": (6, 6, 1),
    "cabbage": (6, 9, -3),
    "broccoli": (6, 9, -3),
    "kale": (6, 9, -4),
    "cauliflower": (6, 8, -2),
    "lettuce": (4, 7, -3),
    "onion": (10, 12, -4),
    "leek": (10, 12, -3),
    "celery": (11, 10, 1),
    "parsley": (9, 10, -2),
    "snapdragon": (9, 10, -2),
    "strawflower": (7, 7, 0),
}


def out_weeks(kind: Kind) -> int:
    """Weeks after last frost at which packets plant it out."""
    return BOOK[kind.key][2]


def at_last_frost(kinds: list[Kind], last_frost: date) -> tuple[list[date], list[date]]:
    """Calendar at last frost: everything goes out on that day, sown the book's weeks before."""
    return [last_frost - timedelta(days=book_days(k)) for k in kinds], [last_frost for _ in kinds]


def weeks_after(kinds: list[Kind], last_frost: date, weeks: int = 2) -> tuple[list[date], list[date]]:
    """Everything so many weeks after last frost, to be safe."""
    return at_last_frost(kinds, last_frost + timedelta(weeks=weeks))


def by_the_packet(kinds: list[Kind], last_frost: date) -> tuple[list[date], list[date]]:
    """Sown the packet's weeks before last frost, set out the packet's weeks after or before it."""
    sow = [last_frost - timedelta(weeks=BOOK[k.key][1]) for k in kinds]
    return sow, [last_frost + timedelta(weeks=out_weeks(k)) for k in kinds]


def soil_and_forecast(kinds: list[Kind], groups: list[int], earliest: NDArray[np.int32]) -> Script:
    """Set out once they have their leaves, the soil is warm enough by the hand and five nights' forecast has no harm in it.

    groups: the number of each group's kind.  earliest: not before these days of the run; eight weeks later she waits no longer.
    """
    ready = np.array([kinds[n].ready for n in groups], np.float32)
    soil = np.array([kinds[n].grow_base_c + 3 for n in groups], np.float32)
    harm = np.array([max(kinds[n].hard_c + 1.5, kinds[n].chill_c - 2) for n in groups], np.float32)

    def out(seen: Seen) -> Groups:
        given_up = seen.t >= earliest + 56
        if not ((seen.leaves >= ready) & ~given_up).any():
            return given_up
        nights = seen.forecast().tmin[:, :5].min(axis=1)
        good = (seen.leaves >= ready) & (seen.soil_c >= soil) & (nights > harm) & (seen.t >= earliest)
        return np.asarray(good | given_up)

    return out


def last_years(weather: Weather, until: date) -> NDArray[np.int32]:
    """Copying last year: the last frost of the season before this one, as a day of the run, (seasons,)."""
    upto = weather.index(until)
    frost = weather.tmin[:, :upto] <= 0
    last = np.where(frost.any(axis=1), upto - 1 - np.argmax(frost[:, ::-1], axis=1), 60)
    return np.roll(last, 1).astype(np.int32)
