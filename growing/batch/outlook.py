"""What is known of one sowing under the mix, put together: its clock, its counts, its packet, what was found, and what is still wanted."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

from growing.assumptions import real
from growing.batch.facts import BatchFacts
from growing.batch.planned import seed_of
from growing.batch.posterior import CountLook, First, Lifted, SowingSoFar, priors
from growing.batch.verdict import EmergenceCase, EmergenceVerdict, verdicts
from growing.chain.happened import Facts
from growing.crops import Crop
from growing.seeds.clock import Advance, curve
from growing.seeds.shortfall import LAST_CHANCE
from growing.seeds.sowing import NoCount, SowingCount, count_for
from growing.seeds.thermal_time import relative_share
from growing.shelves.laying import laying

MOST_WEIGHT = 60.0  # of a packet's tests, in seeds
INJURED = ("cucumber family", "bean", "runner_bean", "corn", "okra")
INJURY_C, FIRST_DAYS = 12.0, 2  # under which warm-season seed is injured, in its first days
LEAST_X = 1e-3


class SowingSeen(NamedTuple):
    """What was written of a sowing: (day, up so far) rising, what was found on lifting some and when, years of the packet, log of the
    speed that its kind had in this garden, and what was sown in its cells before."""

    counts: tuple[tuple[date, int], ...] = ()
    lifted: Lifted = Lifted()
    lifted_on: date | None = None
    years: int | None = None
    pace: float = 0.0
    first: First | None = None


def seen_of(facts: Facts, up: int | None) -> SowingSeen:
    """What a batch says of itself where nobody has its single counts at hand: the last one."""
    return SowingSeen(() if facts.last_count is None else ((facts.last_count, up or 0),))


def moved_on(facts: Facts) -> bool:
    """Have those that came left the others behind: thinned, pricked out, potted up or set out?"""
    return facts.planted_on is not None or any(facts.first(kind) is not None for kind in MOVED_ON)


MOVED_ON = ("thinned", "pricked", "potted")


def is_warm_seed(crop: Crop) -> bool:
    """Is it seed that cold injures while it swells?"""
    return crop.family in INJURED or crop.key in INJURED


def under_the_mix(one: BatchFacts) -> bool:
    """Does it still lie, or stand, where it was sown?  Sown indoors, neither moved on nor outdoors, nothing of it written off."""
    facts = one.facts
    if facts.sown_on is None or facts.outings or facts.split_on is not None or moved_on(facts):
        return False
    if one.dates.method != "raised" or "look" not in one.course.steps:
        return False
    return one.accounts is None or one.accounts.waiting != 0 or not one.accounts.never_up


def clock_of(one: BatchFacts, today: date) -> Advance:
    """Its clock by the warmth it had, or as fast as at its own warmth where nobody knows where it stands."""
    if one.course.clock is not None:
        return one.course.clock
    warm = one.facts.temperature_c
    own = one.crop.number("germinate_c") if warm is None else warm
    days = 0 if one.facts.sown_on is None else max(0, (today - one.facts.sown_on).days)
    return Advance.steady(1 / one.course.emergence_days, days, own)


def case_of(one: BatchFacts, today: date, seen: SowingSeen) -> EmergenceCase:
    """All that bears on whether it comes; `one` is `under_the_mix`."""
    crop, facts, clock = one.crop, one.facts, clock_of(one, today)
    sown = facts.sown_on
    assert sown is not None

    def x_on(day: date) -> float:
        return max(LEAST_X, clock.x_at((day - sown).days))

    seed = seed_of(one)
    seeds = (one.accounts.sown if one.accounts else None) or one.cells or one.wanted
    weight = {} if seed.beta is None else {"weight": min(MOST_WEIGHT, sum(seed.beta))}
    looks = tuple(CountLook(x_on(day), min(count, seeds)) for day, count in seen.counts)
    lifted_x = 0.0 if seen.lifted_on is None else x_on(seen.lifted_on)
    batch = SowingSoFar(
        seeds, crop.number("sigma"), *priors(seed.mean, **weight), looks, seen.lifted, lifted_x, seen.pace, seen.first
    )
    lamp = facts.first("lamp")
    lit = (
        None
        if lamp is None and crop.word("light") != "light"
        else lamp is not None and lamp <= sown + timedelta(days=1)
    )
    lay = laying(crop)
    return EmergenceCase(
        batch, clock.by_day[-1], needed(one, seeds), today, curve(crop), clock.ahead_c, clock.measured, one.dates.sow_closes, seed.mean,
        low_c=lay.low_c, high_c=crop.number("high_c"), had_c=clock.mean_c, light=crop.word("light"), lit=lit, years=seen.years,
        injured=is_warm_seed(crop) and clock.first_c is not None and clock.first_c < INJURY_C, rotted=clock.cold_days >= ROT_DAYS, rate=clock.rate,
        look=one.course.steps["look"].due, lifted=seen.lifted_on,
        more=lambda short: to_sow(one, short),
    )  # fmt: skip


ROT_DAYS = 7  # wet and under its minimum, from which it has probably rotted


def needed(one: BatchFacts, seeds: int) -> int:
    """Seedlings that must be up so that enough are left: of several in a cell the cells count.  More have died than are reckoned with:
    as many more."""
    died = 0 if one.accounts is None else one.accounts.died
    left = max(one.wanted / max(0.05, one.crop.number("survival")), one.wanted + died)
    m = max(1, one.how.per_cell or 1)
    if one.how.together or one.how.surplus == "keep" or m == 1:
        return max(1, min(seeds, math.ceil(left / max(1, one.how.clump) if m == 1 else left)))
    cells = max(1, seeds // m)
    share = min(0.98, left / cells)
    return max(1, min(seeds, math.ceil(cells * m * (1 - (1 - share) ** (1 / m)))))


def count_again(one: BatchFacts, plants: int) -> SowingCount:
    """What to sow for so many plants that are short, enough in 95 of 100 cases.  Raises NoCount."""
    return count_for(one.crop, plants, one.how, seed_of(one), LAST_CHANCE)


def plants_short(one: BatchFacts, seedlings: float) -> int:
    """Plants that so many seedlings too few come to."""
    return max(1, min(one.wanted, math.ceil(seedlings * one.crop.number("survival") - 1e-9)))


def to_sow(one: BatchFacts, seedlings: float) -> int:
    """Cells, blocks or seeds to sow for so many seedlings that are short; as many as plants where no number is enough."""
    plants = plants_short(one, seedlings)
    try:
        return count_again(one, plants).places
    except NoCount:
        return plants


def verdict_of(one: BatchFacts, today: date) -> EmergenceVerdict | None:
    """What is said of it: with its neighbours where the whole season was looked at, otherwise by itself; None: it is past that."""
    if one.verdict is None and under_the_mix(one):
        one.verdict = verdicts(
            [case_of(one, today, seen_of(one.facts, one.accounts.emerged if one.accounts else None))]
        )[0]
    return one.verdict


def share_by_warmth(crop: Crop, clock: Advance) -> float:
    """Of what comes at the best warmth, the share that comes at the one it had, weighed by how far the clock ran in it, and
    at the one ahead for what is left of the wait."""
    at = relative_share(crop, clock.ahead_c)
    rest = max(0.0, 1.0 - clock.by_day[-1])
    return (clock.share * clock.by_day[-1] + at * rest) / max(1e-9, clock.by_day[-1] + rest)


def first_of(
    parent: EmergenceCase,
    found: EmergenceVerdict,
    advance: Advance,
    sown_on: date,
    again_on: date,
    looks: Sequence[date],
) -> First:
    """What a sowing in the same cells may still give: `parent` and its verdict; again_on: the day it was sown over; looks: since."""
    x_then, *xs = (advance.x_at((day - sown_on).days) for day in (again_on, *looks))
    share = min(1.0, (found.up + found.further) / max(1, parent.batch.seeds))
    return First(parent.batch.sigma, share, x_then, tuple(xs))


def beside(cases: Sequence[EmergenceCase], kinds: Sequence[str]) -> list[EmergenceCase]:
    """Of one crop at the same stage of its clock, the counts of one speak of the other: each with its best neighbour.

    kinds: the crop of each.
    """
    same: dict[tuple[str, bool], list[int]] = {}
    for k, case in enumerate(cases):
        same.setdefault((kinds[k], case.measured), []).append(k)
    found = list(cases)
    for members in same.values():
        counted = sorted((j for j in members if cases[j].batch.looks), key=lambda j: -cases[j].batch.looks[-1].up)
        for k in members:
            best = next((j for j in counted if j != k and abs(cases[j].x - cases[k].x) < NEAR_X), None)
            if best is not None:
                up = cases[best].batch.looks[-1].up > SOME_UP * cases[best].batch.seeds
                found[k] = cases[k]._replace(sister=best, sister_up=up)
    return found


def pace_of(half_up_x: Sequence[float]) -> float:
    """Log of the speed of a garden's own sowings, from where their clocks stood when half were up: a small sample moves it a little.

    A look finds half up a little after they are: a tenth of the clock is taken off.
    """
    logs = [-math.log(max(LEAST_X, x - LATE_LOOK_X)) for x in half_up_x]
    return max(-MOST_PACE, min(MOST_PACE, sum(logs) / (len(logs) + PACE_SHRUNK)))


PACE_SHRUNK = real("batch.outlook.PACE_SHRUNK")
MOST_PACE = real("batch.outlook.MOST_PACE")
LATE_LOOK_X = real("batch.outlook.LATE_LOOK_X")
NEAR_X, SOME_UP = 0.5, 0.3  # of neighbours: how near their clocks, and from which share one is “up”
