"""Every shelf under a lamp as it stands today: who stands there, what each gets, what to change first."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property

from aestiva.bench.things import Bench, PartOf, PlaceStanding, Thing, load_bench
from aestiva.course.item import Lit
from aestiva.course.light import lights
from aestiva.course.state import SeasonState
from aestiva.season.lamps import Rig, rigs_of, tariff_of
from aestiva.season.models import Spot
from growing.beds.bedplan import Rect
from growing.light.advice import Advice, advise
from growing.light.hours import ROUND_DAYS, CurrentPrice, Wants, may_round, wanted
from growing.light.shelf import Board, LampAsSet, Stand
from growing.light.targets import band
from growing.shelves.company import hours_wanted

MOST_STANDS = 60  # that are reckoned with one by one


@dataclass
class Shelf:
    """One place under lamps with what stands there; things: with their ground on the place, those on its mats too."""

    rig: Rig
    standing: PlaceStanding
    things: list[tuple[Thing, Rect]]
    board: Board
    setting: LampAsSet
    tariff: CurrentPrice
    today: date
    since: date  # from when all that stands there does

    @cached_property
    def advice(self) -> Advice:
        return advise(self.board, self.setting, self.tariff, self.today)

    @property
    def spot(self) -> Spot:
        return self.rig.spot

    @property
    def code(self) -> str:
        return str(self.rig.spot.code)

    @property
    def under_mix(self) -> list[str]:
        """What lies there and is not up yet."""
        return list(
            dict.fromkeys(p.name for t, _ in self.things for p in t.parts if p.item is not None and not _grows(p))
        )

    @property
    def turned_on(self) -> date | None:
        """When its trays were last turned, all of them."""
        days = [t.tray.turned_on for t, _ in self.things if t.tray is not None]
        return min((d for d in days if d is not None), default=None) if days and all(days) else None


def shelves(now: SeasonState, bench: Bench | None = None, only: Iterable[int] | None = None) -> list[Shelf]:
    """All of them in the order of places; of none nothing more is read."""
    rigs = rigs_of(now.garden)
    if not rigs:
        return []
    bench = load_bench(now) if bench is None else bench
    tariff, lit = tariff_of(now.garden), lights(now)
    keys = rigs if only is None else [pk for pk in rigs if pk in set(only)]
    return [_shelf(now, rigs[pk], bench.places[pk], tariff, lit) for pk in keys if pk in bench.places]


def _shelf(now: SeasonState, rig: Rig, standing: PlaceStanding, tariff: CurrentPrice, lit: Mapping[int, Lit]) -> Shelf:
    things = _things(standing)
    stands = [s for thing, rect in things for s in _stands(now, thing, rect, lit)]
    board = rig.board(now.today, stands[:MOST_STANDS])
    return Shelf(rig, standing, things, board, rig.setting(now.today), tariff, now.today, _since(now, things))


def _since(now: SeasonState, things: Iterable[tuple[Thing, Rect]]) -> date:
    """From when all of them stand where they do; today where nobody said."""
    found = [here.since for t, _ in things for p in t.parts if (here := now.rows.here(p.batch)) is not None]
    return max(found, default=now.today)


def _things(standing: PlaceStanding) -> list[tuple[Thing, Rect]]:
    """What stands there, and on its mats, with its ground on the place."""
    found = [(t, t.rect) for t in standing.things if t.rect is not None]
    for mat in standing.mats:
        left = mat.spot.x_cm or 0.0
        found += [(t, t.rect._replace(x=t.rect.x + left)) for t in mat.things if t.rect is not None]
    return found


def _grows(part: PartOf) -> bool:
    return part.growth.height_cm > 0


def _stands(now: SeasonState, thing: Thing, rect: Rect, lit: Mapping[int, Lit]) -> list[Stand]:
    """Each batch in it that is up, on its share of the ground."""
    grown = [p for p in thing.parts if p.item is not None and _grows(p)]
    if not grown:
        return []
    whole, left, found = sum(max(1, p.standing) for p in grown), rect.x, []
    for part in grown:
        share = max(1, part.standing) / whole * rect.length
        item = part.item
        assert item is not None
        crop, up = item.crop, _up_since(part, now.today)
        least, most = hours_wanted(crop)
        first = item.raised.facts.first_up
        until = None
        if crop.word("first_light_way") == "round" and first is not None and may_round(crop):
            until = first + timedelta(days=ROUND_DAYS - 1)
        wants = Wants(crop.name, least, most, wanted(crop, up), until, max(1, part.standing), crop.key)
        name = f"{crop.name} ‘{item.variety}’" if item.variety else crop.name
        growth = part.growth
        found.append(
            Stand(
                str(part.batch), name, Rect(left, rect.y, share, rect.width), thing.rim_cm, growth.height_cm, growth.cm_a_day,
                band(crop, growth.leaves), wants, max(1, part.standing), None if thing.tray is None else thing.tray.pk,
            )
        )  # fmt: skip
        left += share
    return found


def _up_since(part: PartOf, today: date) -> int:
    assert part.item is not None
    facts = part.item.raised.facts
    up = facts.first_up or facts.half_up or facts.first("received")
    return 0 if up is None else (today - up).days
