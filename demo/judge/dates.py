"""Sown and set out on our days, or on those of a habit: which garden has more of its season?

The same grower, bench, seeds, care and hardening for all; only the day of sowing and that of planting out differ.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from demo.judge.climates import CLIMATES, YEAR, Where, last_frost, place_year, world
from demo.judge.lines import Line
from demo.nature import habits
from demo.nature.grower import Minutes
from demo.nature.kinds import Kind, kind
from demo.nature.rooms import World
from demo.nature.season import Run, Wish
from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.crops import library

CROPS = (
    *("tomato", "pepper", "cucumber", "basil", "zinnia", "cosmos", "cabbage", "broccoli"),
    *("kale", "lettuce", "onion", "leek", "celery", "snapdragon"),
)
WANTED, SEASONS, SEED = 12, 200, 1
BEST_FROM, BEST_TO, BEST_EVERY, BEST_PLANTS = date(YEAR, 2, 10), date(YEAR, 7, 31), 9, 4
UNHARMED_UNTIL = date(YEAR, 8, 15)
Dates = tuple[list[date], list[date]]


def plan(where: Where) -> Dates:
    """Our days: each crop's sowing and planting out as the plan proposes them in open ground."""
    made = [date_planting(library()[key], place_year(where), Choice()) for key in CROPS]
    return [d.sow_on for d in made], [d.out_on for d in made]


def ways(here: World, sow: Sequence[date] | NDArray[np.int32], out: Sequence[date] | NDArray[np.int32]) -> habits.Ways:
    """The grower's usual care with these days: of each crop alike in every season, or (seasons, crops) as days of the run."""
    seasons = len(here.weather.tmin)

    def days(given: Sequence[date] | NDArray[np.int32]) -> NDArray[np.int32]:
        if isinstance(given, np.ndarray):
            return given.reshape(-1).astype(np.int32)
        return np.tile([here.weather.index(d) for d in given], seasons).astype(np.int32)

    return habits.Ways(habits.on(days(sow)), habits.on(days(out)), habits.by_heft, habits.weekly_feed, out_on=days(out))


def best(here: World, kinds: Sequence[Kind]) -> NDArray[np.float64]:
    """Harvest of a plant that nothing harms before high summer, set out on each season's best day, (seasons, kinds)."""
    outs = [BEST_FROM + timedelta(days=n) for n in range(0, (BEST_TO - BEST_FROM).days, BEST_EVERY)]
    seasons, tries = len(here.weather.tmin), [(day, k) for day in outs for k in kinds]
    wishes = [Wish(k.key, k, BEST_PLANTS) for _, k in tries]
    way = ways(here, [day - timedelta(days=habits.book_days(k)) for day, k in tries], [day for day, _ in tries])
    until = here.weather.index(UNHARMED_UNTIL)
    score = Run(here, wishes, way, SEED, Minutes(a_day=np.inf), unharmed_until=until).score()
    each = score.harvest * BEST_PLANTS / np.maximum(score.set_out, 1)
    return np.asarray(each.reshape(seasons, len(outs), len(kinds)).max(axis=1))


def policies(where: Where, here: World) -> dict[str, habits.Ways]:
    """Our dates, and those of each habit."""
    kinds, frost = [kind(key) for key in CROPS], last_frost(where)
    packet = habits.by_the_packet(kinds, frost)
    moved = habits.last_years(here.weather, date(YEAR, 7, 15)) - here.weather.index(frost)
    copied = [np.array([here.weather.index(d) for d in days])[None, :] + moved[:, None] for days in packet]
    earliest = np.tile([here.weather.index(d) for d in packet[1]], len(moved)).astype(np.int32) - 21
    looks = habits.soil_and_forecast(kinds, list(range(len(kinds))) * len(moved), earliest)
    return {
        "aestiva": ways(here, *plan(where)),
        "at-last-frost": ways(here, *habits.at_last_frost(kinds, frost)),
        "two-weeks-after": ways(here, *habits.weeks_after(kinds, frost, 2)),
        "packet-weeks": ways(here, *packet),
        "last-years-frost": ways(here, *copied),
        "soil-and-forecast": ways(here, *packet)._replace(out=looks),
    }


def compare(seasons: int = SEASONS, climates: Sequence[Where] = CLIMATES) -> Iterator[Line]:
    """One line a climate and policy."""
    wishes = [Wish(key, kind(key), WANTED) for key in CROPS]
    for where in climates:
        here = world(where, seasons)
        run = {name: Run(here, wishes, way, SEED).score() for name, way in policies(where, here).items()}
        yield from Line.all_of("dates", where.name, run, best(here, [w.kind for w in wishes]))
