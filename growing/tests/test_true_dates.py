"""What must hold of dates whatever the place: cautious, warmer, moved, by the sum, one alone and many at once."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from growing.chain import days as chain
from growing.chain.choice import Choice
from growing.chain.dates import PlantingDates, date_planting
from growing.chain.windows import needs_of
from growing.crops import library
from growing.place.computedwarmth import ComputedWarmth
from growing.place.frost import TypedDate, TypedFrost
from growing.place.growth import NEVER, Growth, grown_by, latest_start, standard_days
from growing.place.minima import ComputedFrost, DailySeries
from growing.place.station import Climate, generate
from growing.place.warmth import TypedWarmth, WarmDate
from growing.place.year import PlaceYear
from growing.tests.reading import shown
from growing.tests.typed import frost as typed_frost
from growing.working import Working

CROPS = sorted(library())
EVERY_DAY = frozenset(range(7))
METHODS = st.sampled_from(["raised", "direct", "bought"])
TERMS = st.sampled_from(["spring", "autumn"])


def typed(year: int, southern: bool, day: int, spread: float, soil_later: int, risk: float = 0.1) -> PlaceYear:
    """A place of typed dates; `soil_later`: days by which soil of 16 °C follows last frost."""
    last, climate = typed_frost(year, southern, day, spread)
    soil = (WarmDate(4, last - timedelta(days=40)), WarmDate(16, last + timedelta(days=soil_later)))
    latitude = -41.0 if southern else 50.0
    return PlaceYear(year, climate, risk, TypedWarmth(soil), EVERY_DAY, latitude)


PLACES = st.builds(
    typed, st.integers(2023, 2033), st.booleans(), st.integers(0, 80), st.floats(3, 15), st.integers(-20, 60)
)


class AnyPlace(TestCase):
    @settings(max_examples=150, deadline=None)
    @given(st.sampled_from(CROPS), PLACES, st.floats(0.01, 0.5), st.floats(0.01, 0.5), METHODS)
    def test_a_higher_accepted_risk_never_gives_a_later_spring_nor_an_earlier_end(
        self, key: str, place: PlaceYear, one: float, other: float, method: str
    ) -> None:
        cautious, bold = (place.accepting(r) for r in sorted((one, other)))
        careful, daring = (date_planting(library()[key], p, Choice(method)) for p in (cautious, bold))
        self.assertGreaterEqual(careful.out.start, daring.out.start)
        self.assertGreaterEqual(careful.out.end, daring.out.end)
        ends = [p.end_for(library()[key].number("kill_c")) for p in (cautious, bold)]
        assert ends[0] is not None and ends[1] is not None
        assert ends[0].day is not None and ends[1].day is not None
        self.assertLessEqual(ends[0].day, ends[1].day)

    @settings(max_examples=120, deadline=None)
    @given(st.sampled_from(CROPS), PLACES, METHODS)
    def test_a_window_is_never_shorter_than_the_crops_own(self, key: str, place: PlaceYear, method: str) -> None:
        crop = library()[key]
        found = date_planting(crop, place, Choice(method))
        own = int(crop.number("out_max") * 7 // 1) - int(crop.number("out_min") * 7 // 1)
        self.assertGreaterEqual((found.out.end - found.out.start).days, own)

    @settings(max_examples=100, deadline=None)
    @given(st.sampled_from(CROPS), st.integers(2023, 2033), st.integers(0, 70), st.integers(1, 25), METHODS)
    def test_moving_last_frost_moves_what_counts_from_it(
        self, key: str, year: int, day: int, moved: int, method: str
    ) -> None:
        spring = [date(year, 3, 1) + timedelta(days=day + k) for k in (0, moved)]
        places = [
            PlaceYear(year, TypedFrost(False, TypedDate(d.month, d.day, "average", 9)), 0.1, latitude=50.0)
            for d in spring
        ]
        before, after = (date_planting(library()[key], p, Choice(method)) for p in places)
        for name in ("sow_on", "out_on"):
            self.assertEqual((getattr(after, name) - getattr(before, name)).days, moved, name)
        for name in ("sow", "out"):
            self.assertEqual((getattr(after, name).start - getattr(before, name).start).days, moved, name)
            self.assertEqual((getattr(after, name).end - getattr(before, name).end).days, moved, name)

    @settings(max_examples=200, deadline=None)
    @given(st.sampled_from(CROPS), PLACES, METHODS, TERMS, st.integers(-70, 90))
    def test_every_working_adds_up_to_its_result(
        self, key: str, place: PlaceYear, method: str, term: str, off: int
    ) -> None:
        plain = date_planting(library()[key], place, Choice(method, term))
        moved = date_planting(library()[key], place, Choice(method, term, sow_on=plain.sow_on + timedelta(days=off)))
        for dates in (plain, moved):
            for name, working in dates.workings.items():
                self.assertEqual(
                    working.result.number,
                    _sum(name, working, dates, library()[key].maybe("every_days") is not None),
                    (key, working.rule),
                )


def _sum(name: str, working: Working, dates: PlantingDates, again: bool) -> object:
    """The result of a line from the inputs that it shows alone."""

    def day(label: str) -> date:
        found = shown(working, label)
        assert isinstance(found, date), (working.rule, label)
        return found

    def days(label: str) -> timedelta:
        return timedelta(days=int(shown(working, label) or 0))  # type: ignore[call-overload]

    rule = working.rule
    if rule == "plan.out_from":
        gates = [
            s.result.number
            for s in working.steps
            if (isinstance(s.result.number, date) and "gate" in s.rule) or "spared" in s.rule
        ]
        return max([day("by offset"), *gates])  # type: ignore[type-var]
    if rule == "plan.out_to":
        return max(day("by offset"), day("opens") + days("length"))
    if rule.startswith("plan.autumn"):
        back = day("finish") - days("harvest") - days("growing") - days("shortening light")
        return max(back, day("spring gates")) if rule.endswith("_spring") else back
    if rule in ("plan.sow_from", "plan.sow_to"):
        return day("plant out") - days("raising")
    if rule.startswith("plan.first"):
        calendar = day("plant out") + days("days from") + days("age")
        return calendar + days("warmth") + days("shortening light")
    if rule == "plan.useful":
        return day("ends") - days("picked") - days("growing") - days("shortening light")
    if name == "last":
        longest = day("middle of first") + days("yield_days")
        ends = working.steps[0].result.number if working.steps else None
        return max(ends, dates.first.start) if shown(working, "set by") == "frost" else longest  # type: ignore[type-var]
    if rule == "plan.out_on":
        closes = day("window end")
        if dates.sow_on > dates.sow.end and dates.useful_out is not None and again:
            closes = max(closes, dates.useful_out)
        held = min(max(day("sow") + days("middle raising"), day("window start")), closes)
        return max(held, day("sow") + days("shortest raising"))
    if rule == "plan.sowing_day":
        return min(max(day("ideal"), day("window start")), day("window end"))
    assert rule in ("plan.sow_pinned", "plan.useful_warmth"), rule
    return working.result.number


def record(mean_c: float, southern: bool, seed: int) -> tuple[DailySeries, DailySeries]:
    """Thirty years of a made-up climate with a real winter and a real summer."""
    start = date(1995, 1, 16) if southern else date(1995, 7, 16)
    made = generate(Climate(mean_c, 9.0, 3.0, range_c=11.0), southern, seed, start, 365 * 31)
    return DailySeries(start, made.tmin), DailySeries(start, made.tmax)


class Warmer(TestCase):
    SHIFTS = (-2.0, -1.0, -0.5, 0.0, 0.5, 1.0, 2.0)

    def test_warmer_is_never_later_and_colder_never_earlier(self) -> None:
        """Spring gates of crops that need neither heat nor freedom from chill, over two climates and both hemispheres."""
        keys = [k for k, c in library().items() if "chill_c" not in c.values and "heat_c" not in c.values]
        self.assertGreater(len(keys), 40)
        for southern in (False, True):
            for mean, seed in ((8.0, 3), (11.0, 4)):
                low, high = record(mean, southern, seed)
                starts = []
                for shift in self.SHIFTS:
                    warm = ComputedWarmth(southern, low, DailySeries(high.start, high.values + shift), shift)
                    place = PlaceYear(2026, ComputedFrost(southern, low, shift), 0.1, warm, EVERY_DAY, 50.0)
                    starts.append([_opens(place, key) for key in keys])
                for colder, warmer in pairwise(starts):
                    for key, cold, mild in zip(keys, colder, warmer, strict=True):
                        self.assertLessEqual(mild, cold, (key, southern, mean))

    def test_the_base_does_not_jump_where_frost_grows_rare(self) -> None:
        low, _ = record(16.0, False, 7)
        bases = []
        for tenth in range(0, 90, 3):
            place = PlaceYear(2026, ComputedFrost(False, low, tenth / 10), latitude=45.0)
            bases.append(place.last_frost[0])
        shares = [ComputedFrost(False, low, t / 10).last(2026).q for t in range(0, 90, 3)]
        self.assertTrue(any(q > 0.5 for q in shares) and any(q < 0.2 for q in shares), shares)
        self.assertEqual(bases, sorted(bases, reverse=True))
        self.assertLess(max((a - b).days for a, b in pairwise(bases)), 30)


def _opens(place: PlaceYear, key: str) -> date:
    """The day its window of planting out opens; never: after everything."""
    crop = library()[key]
    gates = place.gates(needs_of(crop))
    if any(g.never for g in gates):
        return date.max
    return date_planting(crop, place).out.start


class ManyAtOnce(TestCase):
    """Arrays of plantings × seasons give what one planting in one season gives."""

    def test_the_whole_chain(self) -> None:
        random = np.random.default_rng(5)
        plantings, seasons, zero = 40, 25, date(2025, 7, 16).toordinal()
        temperature = 11 + 9 * np.cos(2 * np.pi * (np.arange(530) - 375) / 365) + random.normal(0, 2, (seasons, 530))
        growth = Growth(standard_days(temperature, 8.0, 19.0))
        out_min = random.integers(-40, 25, (plantings, 1)).astype(np.int32)
        shortest = random.integers(14, 80, (plantings, 1)).astype(np.int32)
        longest = shortest + random.integers(0, 30, (plantings, 1)).astype(np.int32)
        mature = random.integers(30, 90, (plantings, 1)).astype(np.int32)
        crops = chain.CropColumns(
            out_min, out_min + 14, shortest, longest, (shortest + longest) // 2, longest + 14, mature,
            np.full_like(mature, 14), np.full_like(mature, 30), np.full_like(mature, 8),
        )  # fmt: skip
        last = random.integers(270, 320, (1, seasons)).astype(np.int32)
        gate = random.integers(250, 340, (plantings, seasons)).astype(np.int32)
        end = random.integers(430, 500, (1, seasons)).astype(np.int32)
        days = frozenset((1, 5))
        place = PlaceYear(2026, TypedFrost(False, TypedDate(5, 9)), sowing_days=days)
        ahead, back = (np.array(t, np.int32) for t in place.sowing_tables)
        year = np.arange(seasons)[None, :]
        season = chain.SeasonColumns(last, gate, end, 433, growth, year, zero)
        many = chain.spring_plan(season, crops, ahead, back)
        gives = chain.yields(season, crops, many.planted.day, many.planted.wanted)
        for p in range(0, plantings, 3):
            for s in range(0, seasons, 4):
                here = chain.SeasonColumns(int(last[0, s]), int(gate[p, s]), int(end[0, s]), 433, growth, s, zero)
                crop = chain.CropColumns(*(int(column[p, 0]) for column in crops))
                one = chain.spring_plan(here, crop, *place.sowing_tables)
                given = chain.yields(here, crop, one.planted.day, one.planted.wanted)
                for name in ("start", "end"):
                    self.assertEqual(getattr(one.out, name), getattr(many.out, name)[p, s])
                    self.assertEqual(getattr(one.sow, name), getattr(many.sow, name)[p, s])
                self.assertEqual(one.sown.day, many.sown.day[p, s])
                self.assertEqual(one.planted.day, many.planted.day[p, s])
                self.assertEqual(int(given.first), int(gives.first[p, s]))
                self.assertEqual(int(given.last), int(gives.last[p, s]))
                self.assertEqual(bool(given.useful), bool(gives.useful[p, s]))

    def test_latest_start_undoes_grown_by(self) -> None:
        random = np.random.default_rng(8)
        growth = Growth(standard_days(random.uniform(0, 30, (12, 530)), 8.0, 19.0))
        year = np.arange(12)
        for end, need in ((400, 500), (450, 900), (500, 1200)):
            latest = latest_start(growth, year, np.int32(end), need)
            for y in range(12):
                if latest[y] < 0:
                    self.assertGreater(grown_by(growth, year[y], np.int32(0), need), end)
                    continue
                self.assertLessEqual(grown_by(growth, year[y], latest[y], need), end)
                self.assertTrue(grown_by(growth, year[y], latest[y] + 1, need) > end or latest[y] >= 530)
        self.assertEqual(int(grown_by(growth, year[0], np.int32(500), 5000)), NEVER)
