"""Which way of working at which level, and what another would change in this garden: dates, counts, triggers."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState
from aestiva.frame.wording import COURSE
from aestiva.season.crops import how_of
from growing.batch.facts import hardens
from growing.batch.planned import seed_of
from growing.chain.course import course
from growing.chain.dates import date_planting
from growing.chain.kinds import ORDER
from growing.crops import Crop, CropError
from growing.practices import OneWay, School
from growing.seeds.sowing import NoCount, SowingCount, count_for


class Example(NamedTuple):
    """One planting under another way: what would be otherwise, in days and in what is sown."""

    name: str
    steps: tuple[tuple[str, date, date], ...]
    counts: tuple[str, str] | None


class Consequence(NamedTuple):
    """What another way would change: how many plantings, and the first of them as examples."""

    plantings: int
    examples: tuple[Example, ...]


class WayTold(NamedTuple):
    """One way of a question: is it the one now, and what it would change; None: it is the one."""

    option: OneWay
    chosen: bool
    consequence: Consequence | None


EXAMPLES = 2


def told(now: SeasonState, school: School, current: str, items: Sequence[Item]) -> list[WayTold]:
    """Every way of a question with its consequence for what is not yet sown."""
    found = []
    for option in school.options:
        chosen = option.key == current
        found.append(WayTold(option, chosen, None if chosen else consequence(now, school.field, option.key, items)))
    return found


def consequence(now: SeasonState, field: str, way: str, items: Sequence[Item]) -> Consequence:
    """What that way would change in plantings of which nothing is sown yet."""
    examples = []
    for item in items:
        if item.batch is not None or item.raised.dates.method == "direct":
            continue
        try:
            example = _example(now, item, field, way)
        except CropError:
            continue
        if example is not None:
            examples.append(example)
    return Consequence(len(examples), tuple(examples[:EXAMPLES]))


def _example(now: SeasonState, item: Item, field: str, way: str) -> Example | None:
    assert now.shared is not None
    dating, raised, planting = now.shared.dating, item.raised, item.planting
    crop = item.crop.overlaid("way", {field: (way, "")})
    dates = date_planting(crop, dating.place_of(planting), dating.choice(planting))
    ladder = now.shared.ladder(crop)
    how = how_of(planting, crop)
    after = course(crop, dates, ladder, how=how, hardening=hardens(planting.method, planting.stood))
    steps = []
    for kind in ORDER:
        old, new = raised.course.day(kind), after.day(kind)
        if old is not None and new is not None and old != new:
            steps.append((COURSE[kind], old, new))
    if raised.dates.first.start != dates.first.start:
        steps.append(("First " + crop.word("yields"), raised.dates.first.start, dates.first.start))
    counts = None
    if field in ("sown_way", "surplus_way"):
        pair = (_count(item.crop, item), _count(crop, item))
        counts = pair if pair[0] != pair[1] else None
    if not steps and counts is None:
        return None
    return Example(item.full_name, tuple(steps[:3]), counts)


def _count(crop: Crop, item: Item) -> str:
    """What would be sown, in words: “12 cells, 24 seeds”."""
    how = how_of(item.planting, crop)
    try:
        found: SowingCount = count_for(crop, item.planting.wanted, how, seed_of(item.raised))
    except NoCount:
        return "no count is enough"
    said = f"{found.places} {found.unit}"
    return said if found.unit == "seeds" else f"{said}, {found.seeds} seeds"
