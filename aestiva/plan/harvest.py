"""What is there to eat, sell or put in a vase, week by week, for the whole garden, against what is wanted of it?"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.beds.models import Use
from aestiva.course.state import Item, SeasonState
from aestiva.plan.succession import free_days, joined_weeks, mondays
from growing.calendar import Window
from growing.chain.choice import Choice
from growing.crops import Crop
from growing.plan import supply
from growing.plan.succession import LEAST_DAYS, Candidate, by_need, candidates

MOST_WEEKS = 70


class Fill(NamedTuple):
    """A sowing that would serve weeks with too little: plants, its days."""

    plants: int
    sow: date
    out: date
    first: date
    last: date


class Gap(NamedTuple):
    """Weeks with too little of what is wanted, and what would fill them; empty: nothing sown from today on does."""

    weeks: Window
    fills: list[Fill]


@dataclass
class CropYield(supply.ByWeek):
    """One crop: its plantings, what is wanted of it, its weeks."""

    crop: Crop
    items: list[Item]
    use: Use | None
    weeks: list[supply.SupplyWeek] = field(default_factory=list)

    @property
    def plants(self) -> int:
        return sum(i.planting.wanted for i in self.items)

    @property
    def once(self) -> bool:
        return self.crop.word("picked") == "once"

    @property
    def each(self) -> float | None:
        """What a plant gives; one where it is gathered once and nobody said otherwise; None: nobody knows."""
        if self.use is not None and self.use.per_plant is not None:
            return self.use.per_plant
        return 1.0 if self.once else None

    @property
    def unit(self) -> str:
        return (self.use.unit if self.use else "") or ("plants" if self.once else "")

    @property
    def short(self) -> list[Window]:
        """Weeks with too little."""
        return joined_weeks(tuple(w.start for w in self.weeks if w.short))

    @property
    def from_to(self) -> Window:
        return Window(min(i.raised.dates.first.start for i in self.items), max(i.raised.dates.last for i in self.items))

    @property
    def last_known(self) -> bool:
        return all(i.raised.dates.last_known for i in self.items)


class HarvestKind(NamedTuple):
    """Harvest or bloom: how many crops give it in each week, and weeks in which none does."""

    name: str
    counts: list[int]
    none: list[Window]


class HarvestYear(NamedTuple):
    """The whole garden: its weeks, its crops, and how many give something in each."""

    weeks: list[int]
    yields: list[CropYield]
    kinds: list[HarvestKind]


def harvest_of(now: SeasonState) -> HarvestYear:
    """Every crop of the season week by week; those of which something is wanted first."""
    uses = {use.crop_key: use for use in Use.objects.filter(garden=now.garden)}
    items: dict[str, dict[int, Item]] = defaultdict(dict)
    for item in now.items:
        items[item.crop.key].setdefault(item.planting.pk, item)
    if not items:
        return HarvestYear([], [], [])
    found = [CropYield(now.crops[key], list(here.values()), uses.get(key)) for key, here in items.items()]
    start = min(one.from_to.start for one in found)
    end = min(max(one.from_to.end for one in found), start + timedelta(days=7 * MOST_WEEKS))
    stored = [u.until for u in uses.values() if u.until is not None and u.crop_key in items]
    end = max([end, *(d for d in stored if d <= start + timedelta(days=7 * MOST_WEEKS))])
    weeks = mondays(start, end)
    for one in found:
        one.weeks = weeks_for(one, weeks)
    found.sort(key=lambda one: (one.use is None, one.from_to.start, one.crop.name))
    return HarvestYear(weeks, found, [_kind(name, found, weeks) for name in ("harvest", "bloom")])


def weeks_for(one: CropYield, weeks: Sequence[int]) -> list[supply.SupplyWeek]:
    each = one.each
    gives = [
        supply.Giving(
            i.planting.pk,
            i.raised.dates.first.middle.toordinal(),
            i.raised.dates.last.toordinal(),
            None if each is None or not i.raised.dates.last_known else i.planting.wanted * each,
            one.once,
        )
        for i in one.items
    ]
    use = one.use
    here = [i.raised.dates for i in one.items]
    start = use.since if use and use.since else min(d.first.middle for d in here)
    end = use.until if use and use.until else max(d.last for d in here) - timedelta(days=LEAST_DAYS - 1)
    wanted = supply.SupplyWanted(use.per_week if use else 0.0, start.toordinal(), end.toordinal())
    return supply.week_by_week(gives, wanted, use.keeps_days if use else None, weeks)


def _kind(name: str, found: Sequence[CropYield], weeks: Sequence[int]) -> HarvestKind:
    """How many crops give it, and the weeks between first and last in which none does."""
    here = [one for one in found if one.crop.word("yields") == name]
    counts = [sum(w.giving > 0 for w in of) for of in zip(*(one.weeks for one in here), strict=True)] if here else []
    some = [k for k, n in enumerate(counts) if n]
    none = [weeks[k] for k in range(some[0], some[-1]) if not counts[k]] if some else []
    return HarvestKind(name, counts, joined_weeks(tuple(none)))


def gaps(one: CropYield, now: SeasonState) -> list[Gap]:
    """Weeks with too little, each stretch with the sowings that would serve it."""
    each, use = one.each, one.use
    if use is None or not use.per_week or each is None or now.shared is None:
        return [Gap(window, []) for window in one.short]
    place = now.shared.dating.place_of(one.items[0].planting)
    days = candidates(
        one.crop, place, Choice(one.crop.method), free_days(place, now.today, now.today + timedelta(days=365))
    )
    found = []
    for window in one.short:
        lacking = [
            w.start for w in one.weeks if w.short and window.start.toordinal() <= w.start <= window.end.toordinal()
        ]
        plan = by_need(days, lacking, use.per_week, each, one.once)
        found.append(Gap(window, [_fill(s.plants, s.at) for s in plan.sowings]))
    return found


def _fill(plants: int, at: Candidate) -> Fill:
    sow, out, first, last = (date.fromordinal(day) for day in (at.sow, at.out, at.first, at.last))
    return Fill(plants, sow, out, first, last)


def headline(found: HarvestYear) -> str:
    """What the weeks ask for, in a sentence."""
    asked = [one for one in found.yields if one.use is not None and one.use.per_week]
    short = [one for one in asked if one.short]
    if not found.yields:
        return "Nothing is planned that could be gathered"
    if not asked:
        return "Say what you use of it, and the weeks that lack show"
    if not short:
        return "Every week has what is wanted"
    weeks = sum(one.met[1] - one.met[0] for one in short)
    names = ", ".join(one.crop.name for one in short[:3])
    return f"{names}{' and more' if len(short) > 3 else ''}: {weeks} week{'s' if weeks != 1 else ''} with too little"


TABLE = ("crop", "for", "unit", "week from", "ready", "wanted", "used", "kept", "spoilt")


def table(found: HarvestYear) -> list[list[object]]:
    """The weeks as rows of plain values under `TABLE`; what nobody knows is empty."""

    def number(value: float | None) -> object:
        return "" if value is None else round(value, 2)

    rows: list[list[object]] = []
    for one in found.yields:
        for week in one.weeks:
            if week.giving or week.wanted or week.kept:
                amounts = [number(v) for v in (week.ready, week.wanted, week.used, week.kept, week.spoilt)]
                whom = one.use.for_whom if one.use else ""
                rows.append([one.crop.name, whom, one.unit, date.fromordinal(week.start).isoformat(), *amounts])
    return rows
