"""All plantings in all seasons at once give what each gives by itself, with its reasons, to the day."""

from __future__ import annotations

import os
from datetime import date, timedelta
from functools import cache
from typing import Any, NamedTuple
from unittest import TestCase

import numpy as np

from growing.chain import days as chain
from growing.chain.choice import Choice
from growing.chain.course import course
from growing.chain.dates import date_planting
from growing.chain.happened import Facts
from growing.chain.leaves import LeafStage, LeavesSeen, behind, out_later
from growing.chain.path import Vessel, prick_days, vessels_of, walk
from growing.chain.rearing import HELD, NO_DAY, SMALL, WAITS, Delays, Vessels, VesselStay, as_it_stands
from growing.chain.seasons import Climbs, Reared, Young, rear
from growing.chain.standing import standing
from growing.chain.windows import spring_out, windows
from growing.crops import Crop, library
from growing.ladders.ahead import (
    LONGEST_AHEAD,
    HardeningSite,
    LadderCase,
    LadderLimits,
    ahead,
    climbers,
    possible,
    sky_of,
)
from growing.ladders.climbing import LadderColumns, Sky
from growing.ladders.ladder import Outing, ladders, progress
from growing.place.frost import TypedDate, TypedFrost
from growing.place.growth import Growth, standard_days
from growing.place.nights import Night
from growing.place.year import PlaceYear
from growing.shelves.containers import containers

PLANTINGS, GARDENS = (int(n) for n in os.environ.get("AESTIVA_SEASONS", "30x20").split("x"))  # the soak asks for 50x100
FIRST, DAYS = date(2026, 1, 1), 240  # of the sky
ZERO = date(2025, 7, 16).toordinal()
DOOR = HardeningSite("wall")
WEEKENDS = frozenset((5, 6))


class Drawn(NamedTuple):
    """Plantings and gardens as drawn: all that both forms are given."""

    crops: list[Crop]
    places: list[PlaceYear]
    vessels: list[list[Vessel]]
    half_up: Any
    leaf_c: Any
    ladder: list[int]
    limits: list[LadderLimits]
    nights: list[tuple[Night, ...]]


@cache
def drawn() -> Drawn:
    random = np.random.default_rng(36)
    raised = [c for c in library().values() if c.method == "raised" and c.maybe("leaf_days")]
    crops = [raised[n] for n in random.permutation(len(raised))[:PLANTINGS]]
    kinds = list(containers().items())
    places = [
        PlaceYear(
            2026,
            TypedFrost(False, TypedDate(int(random.integers(3, 6)), int(random.integers(1, 29)), "average"),
                       TypedDate(10, int(random.integers(1, 30)), "average")),
            latitude=float(random.uniform(38, 58)),
            sowing_days=WEEKENDS,
        )
        for _ in range(GARDENS)
    ]  # fmt: skip
    vessels = [[Vessel(*kinds[k]) for k in random.permutation(len(kinds))[: 1 + n % 3]] for n in range(PLANTINGS)]
    nights = []
    for _ in places:
        spring = np.arange(DAYS) / 12 - 4 + random.normal(0, 3, DAYS)
        wind = random.gamma(2.0, 6.0, (2, DAYS))
        nights.append(
            tuple(
                Night(
                    FIRST + timedelta(days=d),
                    round(float(spring[d]), 1),
                    None,
                    float(wind[0, d]),
                    round(float(spring[d]) + 9, 1),
                    float(wind.sum(axis=0)[d]),
                    float(random.exponential(2)),
                    None,
                )
                for d in range(DAYS)
            )
        )
    limits = [LadderLimits(*random.uniform((6, 2, 1, 0, 0.2), (14, 9, 2, 2, 0.2)).tolist()) for _ in crops]
    half_up = random.uniform(3, 20, (PLANTINGS, GARDENS)).astype(np.float32)
    leaf_c = random.uniform(0.8, 2.2, (PLANTINGS, GARDENS)).astype(np.float32)
    return Drawn(
        crops, places, vessels, half_up, leaf_c, [n % len(ladders()) for n in range(PLANTINGS)], limits, nights
    )


def column(values: Any, kind: Any = np.int32) -> Any:
    return np.array([*values], kind)[:, None]


@cache
def together(real: Any = np.float32) -> Reared:
    """Every batch at once: a garden is a column."""
    of = drawn()
    spring = [[spring_out(crop, place, "raised")[0] for place in of.places] for crop in of.crops]
    low = column(s[0].by_offset - of.places[0].last_frost[0].toordinal() for s in spring)
    high = column(s[0].by_offset_to - of.places[0].last_frost[0].toordinal() for s in spring)
    gate = np.array([[o.start if o.start > o.by_offset else NO_DAY for o in row] for row in spring], np.int64)
    gate = np.where(gate > NO_DAY, gate - ZERO, NO_DAY).astype(np.int32)
    raising = [windows(crop, of.places[0]).raising for crop in of.crops]
    crops = chain.CropColumns(
        low, high, column(r.shortest for r in raising), column(r.longest for r in raising), column(r.middle for r in raising),
        column(r.hold for r in raising), *[column([30] * PLANTINGS)] * 4,
    )  # fmt: skip
    last = np.array([[place.last_frost[0].toordinal() - ZERO for place in of.places]], np.int32)
    growth = Growth(standard_days(np.full((GARDENS, 530), 15.0), 8.0, 19.0))
    season = chain.SeasonColumns(
        last, gate, np.int32(450), np.int32(433), growth, np.arange(GARDENS)[None, :], np.int32(ZERO)
    )
    most = max(map(len, of.vessels))
    parts = [vessels_of(crop, vessels) for crop, vessels in zip(of.crops, of.vessels, strict=True)]
    padded = [
        [column((p[k][n] if n < len(p.limit) else nothing for p in parts), kind) for n in range(most)]
        for k, (nothing, kind) in enumerate(((0, np.int32), (False, bool), (False, bool), (-1, np.int32)))
    ]
    leaf = column((c.number("leaf_days") for c in of.crops), real)
    pot = column((c.maybe("pot_leaves") or 99.0 for c in of.crops), real)
    ready = column((c.maybe("ready_leaves_min") or 0.0 for c in of.crops), real)
    half = of.half_up.astype(real)
    young = Young(
        half / 2,
        half,
        leaf,
        leaf * of.leaf_c.astype(real),
        ready,
        pot,
        column(map(prick_days, of.crops)),
        Vessels(*padded),
    )
    ways, hours = list(ladders().values()), [DOOR.at_home(FIRST)] * DAYS
    can = np.zeros((2, len(ways), DAYS, max(len(way.rungs) for way in ways)))
    for n, way in enumerate(ways):
        can[:, n, :, : len(way.rungs)] = possible(way, hours)
    cases = [case(p, 0, FIRST) for p in range(PLANTINGS)]
    skies = [sky_of(cases[0]._replace(nights=nights), DAYS) for nights in of.nights]
    sky = Sky(*(np.concatenate(part).astype(real) for part in zip(*skies, strict=True)))
    who = climbers(cases, of.ladder)
    climbs = Climbs(
        LadderColumns.of(ways),
        who,
        sky,
        DOOR.ground,
        can,
        FIRST.toordinal() - ZERO,
        column(ways[k].days for k in of.ladder),
    )
    week = [np.array(t, np.int32) for t in of.places[0].sowing_tables]
    return rear(season, crops, young, climbs, *week)


def case(p: int, g: int, begins: date) -> LadderCase:
    """The ladder of one planting in one garden, as the day's tasks ask for it."""
    of = drawn()
    ladder = list(ladders().values())[of.ladder[p]]
    return LadderCase(
        ladder, progress(ladder, [], FIRST), 0, begins, FIRST, of.limits[p], of.nights[g], FIRST, 0.0, "", DOOR
    )


class Alone(NamedTuple):
    """The days of one batch as its pages say them, as days from the start of the season."""

    sow: int
    planned: int
    up: int
    out: int
    because: str
    stays: list[tuple[int, int, int]]


def alone(p: int, g: int) -> Alone | None:
    """As its pages say it; None where its ladder is not climbed by the last day that they look at."""
    of = drawn()
    crop, place, ladder = of.crops[p], of.places[g], list(ladders().values())[of.ladder[p]]
    dates = date_planting(crop, place)
    up = course(crop, dates, ladder, speed=(float(of.half_up[p, g]), "")).steps["up"].due
    looked, each = dates.out_on - timedelta(days=ladder.days), crop.number("leaf_days") * float(of.leaf_c[p, g])
    leaves = max(0, (looked - up).days) / each
    late = behind(crop, up, looked, leaves, None)
    stage = LeafStage(LeavesSeen(0, None, up), looked, leaves, 1 / each, 0.0, 0.0, late)
    small = out_later(stage, crop, dates.out_on)
    climbs = ahead(case(p, g, max(small or dates.out_on, dates.out_on) - timedelta(days=ladder.days)))
    if climbs.ready is None:
        return None
    out = standing(
        Choice(), dates, FIRST, facts=Facts(outings=(Outing(FIRST, 1.0, 1.0),)), small=small,
        hardened=progress(ladder, [], FIRST), ready=climbs.ready,
    )  # fmt: skip
    day = out.out_on or dates.out_on
    pot = stage.on(crop.maybe("pot_leaves") or 99.0)
    stays = [
        tuple(d.toordinal() - ZERO for d in (s.since, s.until, s.carries_until))
        for s in walk(crop, of.vessels[p], dates.sow_on, up, day, (), pot)
    ]
    days = [d.toordinal() - ZERO for d in (dates.sow_on, dates.out_on, up, day)]
    return Alone(days[0], days[1], days[2], days[3], out.out_because if out.out_on else "", stays)  # type: ignore[arg-type]


class Columns(TestCase):
    """A garden is one column of what ten thousand springs are."""

    def differences(self, found: Reared) -> list[str]:
        words = ["", "small", "waits", "held", "due"]
        different = []
        sown, shape = found.plan.sown.day - ZERO, (PLANTINGS, GARDENS)
        through = [VesselStay(*(np.broadcast_to(part, shape) for part in stay)) for stay in found.stays]
        for p in range(PLANTINGS):
            for g in range(GARDENS):
                one = alone(p, g)
                here = [s for s in through if s.comes[p, g]]
                many = Alone(
                    int(sown[p, g]), int(found.plan.planted.day[p, g]), int(found.up[p, g]), int(found.out.day[p, g]),
                    words[int(found.out.because[p, g])],
                    [(int(s.since[p, g]), int(s.until[p, g]), int(s.carries[p, g])) for s in here],
                )  # fmt: skip
                if (
                    one is None
                ):  # its ladder takes longer than the fortnights that a page looks ahead: together it does, too
                    self.assertGreater(found.delays.ladder[p, g] - many.planned, LONGEST_AHEAD - 5)
                elif one != many:
                    different.append(f"{drawn().crops[p].key} in garden {g}: alone {one}, together {many}")
        return different

    def test_each_batch_to_the_day(self) -> None:
        found = together(np.float64)
        self.assertEqual(self.differences(found), [])
        because = np.unique(found.out.because, return_counts=True)
        for code in (SMALL, WAITS):
            self.assertGreater(dict(zip(*because, strict=True)).get(code, 0), PLANTINGS * GARDENS // 50, because)

    def test_in_half_the_memory_what_differs_lies_on_the_edge_of_a_day(self) -> None:
        """float32 has seven figures: a leaf that is full at midnight is the day's or the next one's."""
        exact, found = together(np.float64), together(np.float32)
        apart = np.abs(exact.out.day - found.out.day)
        self.assertLessEqual(int((apart > 0).sum()), 5)
        self.assertEqual(int(np.abs(exact.up - found.up).max()), 0)


class WhatHoldsThem(TestCase):
    def test_leaves_then_the_ladder_then_a_gate(self) -> None:
        days = np.array([0, 5, 5, 5, 5], np.int32)
        ladder, held = (
            np.array([NO_DAY, NO_DAY, 9, 9, 3], np.int32),
            np.array([NO_DAY, NO_DAY, NO_DAY, 12, NO_DAY], np.int32),
        )
        small = np.where(days > 0, days, NO_DAY)
        found = as_it_stands(
            np.full(5, 2, np.int32), Delays(small, ladder, NO_DAY, np.full(5, True), held, np.full(5, True))
        )
        self.assertEqual(found.day.tolist(), [2, 5, 9, 12, 5])
        self.assertEqual(found.because.tolist(), [0, SMALL, WAITS, HELD, SMALL])
