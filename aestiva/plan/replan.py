"""What does not go as planned, why, and which day would mend it: proposals that touch nothing done and write nothing."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState
from aestiva.season.trouble import CANNOT
from growing.batch.facts import BatchFacts
from growing.chain.choice import Problem
from growing.chain.dates import PlantingDates
from growing.place.nights import at_plant, chance_below

WHYS = {
    "failed": "It failed; so much of it can still be sown again",
    "overdue": "Its sowing day has gone by and nothing is sown",
    "outside": "The day that was chosen lies outside its window by now",
    "away": "Nobody is there on the day",
    "slow": "It will not be ready on the day that was chosen",
    "old": "It would be too old in its pot on the day that was chosen",
    "cold": "Cold nights are forecast just then",
    "late": "Too late to be sown: look at what else would do",
    "surplus": "There are more plants than are wanted",
}
PAST = ("too_late", "no_autumn", "winter_kills")  # a day from today on would not mend it
SPARE = 1.25  # times what is wanted, from which plants are over


class Proposal(NamedTuple):
    """One thing that would move: which day of a planting, from and to, with why; to None: nothing moves, it is only said.

    problem: what holds it now.  seen: the row's revision.
    """

    kind: str
    item: Item
    what: str  # "sow" or "out"
    before: date
    after: date | None
    dates: PlantingDates | None
    problem: Problem | None = None
    plants: int | None = None

    @property
    def key(self) -> str:
        return f"{self.item.planting.pk}.{self.what}"

    @property
    def why(self) -> str:
        return WHYS[self.kind]

    @property
    def name(self) -> str:
        return self.item.full_name


def proposals(now: SeasonState) -> list[Proposal]:
    """Everything that facts have overtaken, in the order of the days; each planting at most once a day of its."""
    found: dict[str, Proposal] = {}
    for item in now.items:
        try:
            one = _open(now, item) if item.batch is None else _growing(now, item)
        except CANNOT:
            continue  # the page says of it what cannot be
        if one is not None:
            found.setdefault(one.key, one)
    return sorted(found.values(), key=lambda p: (list(WHYS).index(p.kind), p.before, p.name))


def _open(now: SeasonState, item: Item) -> Proposal | None:
    """Nothing is sown of it: its day has gone by, or lies where it cannot be."""
    assert now.shared is not None
    raised, planting, dating = item.raised, item.planting, now.shared.dating
    dates = raised.dates
    if dates.method == "bought" or raised.secured:
        return None
    codes = {p.code: p for p in dates.problems}
    gone = any(dates.sow_on in w for w in now.place.away)
    past = dates.sow_on < now.today
    pinned = planting.chosen_sow is not None
    if not (past or (pinned and (gone or "too_early" in codes or "too_late" in codes))):
        return None
    kind = "failed" if raised.attempt and past else "overdue" if past else "away" if gone else "outside"
    _, best = dating.proposed(planting, now.today, anew=True)
    stop = next((p for p in best.problems if p.code in PAST), None)
    if stop is not None:
        return Proposal("late", item, "sow", dates.sow_on, None, None, stop)
    return Proposal(kind, item, "sow", dates.sow_on, best.sow_on, best) if best.sow_on != dates.sow_on else None


def _growing(now: SeasonState, item: Item) -> Proposal | None:
    """It grows: the day it is to go out no longer fits what happened, or there are more than are wanted."""
    assert now.shared is not None
    raised, planting, dating = item.raised, item.planting, now.shared.dating
    if raised.facts.planted_on is not None or item.batch is None:
        return None
    dates = raised.dates
    if planting.chosen_out is not None:
        free = dating.dates(planting, item.crop, dating.choice(planting, item.batch.sown_on)._replace(out_on=None))
        pinned = dating.dates(planting, item.crop, dating.choice(planting, item.batch.sown_on))
        codes = {p.code: p for p in pinned.problems}
        if (dates.out_because not in ("held", "due") and dates.out_on > planting.chosen_out) or "short" in codes:
            later = max(dates.out_on, free.out_on)
            return Proposal("slow", item, "out", planting.chosen_out, later, free, codes.get("short"))
        if "over_hold" in codes and free.out_on < planting.chosen_out:
            return Proposal(
                "old", item, "out", planting.chosen_out, max(now.today, free.out_on), free, codes["over_hold"]
            )
        cold = _after_cold(now, raised, planting.chosen_out)
        if cold is not None:
            return Proposal("cold", item, "out", planting.chosen_out, cold, free)
    plants = raised.plants
    if plants is not None and plants > raised.wanted * SPARE and plants - raised.wanted >= 3:
        return Proposal("surplus", item, "out", dates.out_on, None, None, None, plants - raised.wanted)
    return None


def _after_cold(now: SeasonState, one: BatchFacts, out: date) -> date | None:
    """The first day after the cold nights forecast from the day it is to go out; None where none harms it."""
    limit = one.crop.number("damage_c")
    cold = [
        night.day
        for night in now.nights
        if night.day >= out
        and (night.day - out).days <= 3
        and chance_below(at_plant(night, now.today, now.shift_c, ""), limit) > one.accepted_risk
    ]
    return max(cold) + timedelta(days=1) if cold else None
