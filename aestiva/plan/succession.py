"""Sown again and again: the sowings that a form asks for, each with its days, packet and plants; nothing is written."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any, NamedTuple

from aestiva.gardens.models import Garden
from aestiva.place.dating import Dating
from aestiva.season.crops import how_of
from aestiva.season.models import Lot, Planting
from aestiva.seeds.queries import lot_known, seed_of, stake_of
from growing.calendar import Window
from growing.chain.choice import Choice, Problem
from growing.chain.dates import PlantingDates
from growing.crops import Crop
from growing.place.year import PlaceYear
from growing.plan import supply
from growing.plan.succession import (
    Candidate,
    Succession,
    SuccessionSowing,
    by_need,
    candidates,
    every,
    givings,
    stepped,
)
from growing.seeds.sowing import NoCount, SowingCount, count_for

LONGEST_DAYS = 400
FORTNIGHT = 14


class PartSown(NamedTuple):
    """One planting that would be made: the row, its crop, dates and seed count, None: there is none, and why."""

    planting: Planting
    crop: Crop
    dates: PlantingDates
    to_sow: SowingCount | None
    lot: Lot | None
    no_count: str = ""

    @property
    def told(self) -> list[Problem]:
        """What it cannot have; that it is sown after the spring window is what a succession is."""
        return [p for p in self.dates.problems if not p.code.startswith("later_")]


@dataclass
class AskedSuccession(supply.ByWeek):
    """All that a form asks for: sowings with their parts, weeks against what is wanted, what it cannot have."""

    crop: Crop
    parts: list[PartSown] = field(default_factory=list)
    weeks: list[supply.SupplyWeek] = field(default_factory=list)
    unserved: list[Window] = field(default_factory=list)
    beyond: list[Candidate] = field(default_factory=list)
    problems: list[str] = field(default_factory=list)
    compared: list[tuple[str, int, int]] = field(default_factory=list)
    each: float | None = None

    @property
    def days(self) -> int:
        return len(
            {part.dates.sow_on for part in self.parts if part.planting.method == "raised"}
            or {p.dates.sow_on for p in self.parts}
        )

    @property
    def plants(self) -> int:
        return sum(part.planting.wanted for part in self.parts)


def free_days(place: PlaceYear, start: date, end: date) -> list[int]:
    """Sowing days on which somebody is there (ordinals)."""
    ahead = place.sowing_tables[0]
    return [o for o in range(start.toordinal(), end.toordinal() + 1) if not ahead[o % len(ahead)]]


def propose(garden: Garden, dating: Dating, today: date, crop: Crop, asked: Mapping[str, Any]) -> AskedSuccession:
    """The sowings for what is asked: every so many days, or by what is wanted a week."""
    method = "direct" if asked["method"] == "direct" else "raised"
    model = Planting(crop_key=crop.key, variety=asked["variety"], method=method, spot=asked["spot"], wanted=1)
    place, choice = dating.place_of(model), Choice(method, "spring", packet=dating.packet(model))
    once = crop.word("picked") == "once"
    each = asked["per_plant"] or (1.0 if once else None)
    found = AskedSuccession(crop, each=each)
    last = today + timedelta(days=LONGEST_DAYS)
    if asked["by"] == "need":
        plan = _by_need(found, crop, place, choice, today, asked, each, once)
    else:
        start = max(today, asked["first"] or today)
        free = free_days(place, start, min(asked["last"] or last, last))
        days = stepped(start.toordinal(), (asked["last"] or last).toordinal(), asked["every_days"], free)
        plan = every(candidates(crop, place, choice, days), asked["plants"])
        found.beyond = list(plan.beyond)
    for sowing in plan.sowings:
        _parts(found, garden, dating, today, model, sowing, asked)
    _weeks(found, plan, asked, each, once)
    _seed_enough(found)
    return found


def _by_need(
    found: AskedSuccession,
    crop: Crop,
    place: PlaceYear,
    choice: Choice,
    today: date,
    asked: Mapping[str, Any],
    each: float | None,
    once: bool,
) -> Succession:
    """The fewest sowings for the weeks, compared with habits of as many plants."""
    assert each is not None
    weeks = mondays(asked["since"], asked["until"])
    days = candidates(crop, place, choice, free_days(place, today, asked["until"]))
    plan = by_need(days, weeks, asked["per_week"], each, once)
    found.unserved = joined_weeks(plan.unserved)
    able = [c for c in days if c.gives]
    if plan.sowings and able:
        total = sum(s.plants for s in plan.sowings)
        wanted = supply.SupplyWanted(asked["per_week"], weeks[0], weeks[-1] + 6)
        first, end = plan.sowings[0].at.sow, plan.sowings[-1].at.sow
        fortnights = [c for c in able if c.sow in stepped(first, end, FORTNIGHT, [c.sow for c in able])]
        habits = {"all sown at once": [plan.sowings[0].at], "every two weeks": fortnights}
        for name, when in habits.items():
            shared = [SuccessionSowing(c, max(1, total // len(when))) for c in when]
            met = supply.met(supply.week_by_week(givings(shared, each, once), wanted, asked["keeps_days"], weeks))
            found.compared.append((name, *met))
    return plan


def mondays(start: date, end: date) -> list[int]:
    """First days of the weeks from one day to another (ordinals)."""
    first = start.toordinal() - start.weekday()
    return list(range(first, end.toordinal() + 1, supply.WEEK))


def joined_weeks(weeks: tuple[int, ...]) -> list[Window]:
    """Weeks that touch as one stretch."""
    found: list[Window] = []
    for week in weeks:
        day = date.fromordinal(week)
        if found and found[-1].end + timedelta(days=1) == day:
            found[-1] = Window(found[-1].start, day + timedelta(days=6))
        else:
            found.append(Window(day, day + timedelta(days=6)))
    return found


def _parts(
    found: AskedSuccession,
    garden: Garden,
    dating: Dating,
    today: date,
    model: Planting,
    sowing: SuccessionSowing,
    asked: Mapping[str, Any],
) -> None:
    """The plantings of one sowing: by packet, and in place beside them where that is wanted."""
    lots: list[Lot | None] = [asked["lot"], asked["lot2"]] if asked["lot2"] else [asked["lot"]]
    share = round(sowing.plants * (asked["share"] or 20) / 100) if asked["lot2"] else 0
    shares = [sowing.plants - max(1, share), max(1, share)] if asked["lot2"] else [sowing.plants]
    if min(shares) < 1:
        found.problems.append(
            f"{sowing.plants} plants cannot be split over two packets: give more plants, or one packet"
        )
        return
    sow = date.fromordinal(sowing.at.sow)
    term = sowing.at.term
    for lot, plants in zip(lots, shares, strict=True):
        found.parts.append(_part(garden, dating, today, model, lot, plants, sow, model.method, term))
    if asked["method"] == "both":
        out = found.parts[-1].dates.out_on
        found.parts.append(_part(garden, dating, today, model, asked["lot"], sowing.plants, out, "direct", term))


def _part(
    garden: Garden,
    dating: Dating,
    today: date,
    model: Planting,
    lot: Lot | None,
    plants: int,
    sow: date,
    method: str,
    term: str,
) -> PartSown:
    planting = Planting(
        crop_key=model.crop_key,
        variety=lot.variety if lot is not None else model.variety,
        method=method,
        term=term,
        spot=model.spot,
        lot=lot,
        wanted=plants,
        chosen_sow=sow,
    )
    crop = dating.crop(planting)
    dates = dating.dates(planting, crop)
    count, words = None, ""
    try:
        seed = seed_of(crop, lot_known(planting, dating, crop, today, garden.year))
        count = count_for(crop, plants, how_of(planting, crop), seed, stake_of(planting, crop, dating).confidence)
    except NoCount as error:
        words = str(error)
    return PartSown(planting, crop, dates, count, dating.lot(planting), words)


def _weeks(found: AskedSuccession, plan: Succession, asked: Mapping[str, Any], each: float | None, once: bool) -> None:
    """What the parts give week by week: each by its own packet's days."""
    gives = [
        supply.Giving(
            k,
            p.dates.first.middle.toordinal(),
            p.dates.last.toordinal(),
            None if each is None else p.planting.wanted * each,
            once,
        )
        for k, p in enumerate(found.parts)
    ]
    if not gives:
        return
    if asked["by"] == "need":
        start, end = asked["since"], asked["until"]
        wanted = supply.SupplyWanted(asked["per_week"], start.toordinal(), end.toordinal())
    else:
        start, end = date.fromordinal(min(g.first for g in gives)), date.fromordinal(max(g.last for g in gives))
        wanted = supply.SupplyWanted(asked["per_week"] or 0.0, start.toordinal(), end.toordinal())
    found.weeks = supply.week_by_week(gives, wanted, asked["keeps_days"], mondays(start, end))


def _seed_enough(found: AskedSuccession) -> None:
    """Each packet against what all its sowings take."""
    need: dict[int, int] = {}
    lots: dict[int, Lot] = {}
    for part in found.parts:
        if part.lot is not None and part.to_sow is not None and part.lot.seeds is not None:
            lots[part.lot.pk] = part.lot
            need[part.lot.pk] = need.get(part.lot.pk, 0) + part.to_sow.seeds
    for pk, seeds in need.items():
        if seeds > (lots[pk].seeds or 0):
            found.problems.append(f"{lots[pk]} has {lots[pk].seeds} seeds; these sowings take {seeds}")
