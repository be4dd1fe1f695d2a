"""What holds a chain that cannot be, by how much, and what the other ways cost: worked cases."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from growing.calendar import Window, joined
from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.crops import library
from growing.place.frost import TypedDate, TypedFrost
from growing.place.year import PlaceYear
from growing.plan.options import TRAY_WATTS, Prices, binding, kwh_each, options
from growing.seeds.sowing import Seed

PLACE = PlaceYear(2026, TypedFrost(False, TypedDate(5, 9, "average", 8), TypedDate(10, 4, "average", 8)), latitude=52.0)
CROPS = library()


def held(key: str, choice: Choice, place: PlaceYear = PLACE) -> tuple[str, int]:
    found = binding(date_planting(CROPS[key], place, choice).problems)
    assert found is not None
    return found.code, found.days


class Holds(TestCase):
    def test_twelve_chains_that_cannot_be_and_what_holds_each(self) -> None:
        tomato = date_planting(CROPS["tomato"], PLACE, Choice())
        lettuce = date_planting(CROPS["lettuce"], PLACE, Choice())
        leek = date_planting(CROPS["leek"], PLACE, Choice())
        sundays = tuple(
            Window(day, day) for day in (tomato.sow.start + timedelta(days=k) for k in range(40)) if day.weekday() == 6
        )
        only_sundays = replace(PLACE, sowing_days=frozenset({6}), away=sundays)
        gone = replace(PLACE, away=(tomato.sow,))
        home_late = replace(PLACE, away=(Window(tomato.out.start, tomato.out.end),))
        hold = tomato.hold_until - tomato.sow_on
        early = tomato.out.start - hold - timedelta(days=5)
        day = timedelta(days=1)
        cases = (
            ("tomato", Choice(sow_on=date(2026, 8, 15)), PLACE, "too_late"),
            ("tomato", Choice(sow_on=early), PLACE, "over_hold"),
            ("tomato", Choice(sow_on=tomato.sow_on, out_on=tomato.sow_on + 30 * day), PLACE, "short"),
            ("tomato", Choice(bed_free=tomato.out.end + 9 * day), PLACE, "bed_late"),
            ("tomato", Choice(), gone, "away"),
            ("tomato", Choice(), home_late, "away_out"),
            ("tomato", Choice(), only_sundays, "no_sowing_day"),
            ("tomato", Choice(sow_on=tomato.sow.start, out_on=tomato.out.start - 4 * day), PLACE, "before_window"),
            ("tomato", Choice(sow_on=tomato.sow.end, out_on=tomato.out.end + 3 * day), PLACE, "after_window"),
            ("tomato", Choice(term="autumn"), PLACE, "no_autumn"),
            ("leek", Choice(sow_on=leek.sow.start - day), PLACE, "too_early"),
            ("lettuce", Choice(sow_on=date(2026, 5, 20)), PLACE, "later_fast"),
        )
        for key, choice, place, code in cases:
            self.assertEqual(held(key, choice, place)[0], code, (key, choice))
        self.assertEqual(held("tomato", cases[3][1])[1], 9)  # the ground is free nine days after the window
        self.assertEqual(
            held("tomato", cases[1][1])[1], 5
        )  # five days over its age limit on the first day it may go out
        self.assertEqual(held("tomato", cases[7][1])[1], 4)
        self.assertIsNone(binding(lettuce.problems))

    def test_late_leeks_are_bought_and_what_works_stands_first(self) -> None:
        found = options(CROPS["leek"], PLACE, Choice(), date(2026, 5, 20), 60, Seed(0.8))
        self.assertEqual(found[0].method, "bought")
        self.assertTrue(found[0].works)
        self.assertFalse({o.method: o for o in found}["raised"].works)

    def test_what_a_plant_costs_written_out(self) -> None:
        crop = CROPS["lettuce"]
        prices = Prices(mix=0.4, kwh=0.3, plant=0.5, seed=0.01)
        ways = {o.method: o for o in options(crop, PLACE, Choice(), date(2026, 4, 12), 20, Seed(0.9), prices)}
        raised, cost = ways["raised"], ways["raised"].cost
        assert cost is not None and cost.money is not None and raised.seeds is not None
        number = {v.name: v.number for v in cost.working.inputs}
        self.assertAlmostEqual(
            cost.money,
            raised.seeds / 20 * 0.01 + number["mix a plant"] * 0.4 + number["current a plant"] * 0.3,  # type: ignore[operator]
        )
        assert ways["bought"].cost is not None
        self.assertEqual(ways["bought"].cost.money, 0.5)

    def test_a_price_that_is_missing_leaves_the_cost_unknown(self) -> None:
        found = options(CROPS["lettuce"], PLACE, Choice(), date(2026, 4, 12), 20, Seed(0.9), Prices(mix=0.4))
        self.assertEqual([o.cost.money for o in found if o.cost is not None], [None] * 3)

    def test_current_of_a_lettuce_in_a_full_tray(self) -> None:
        crop, dates = CROPS["lettuce"], date_planting(CROPS["lettuce"], PLACE, Choice())
        cells = int(crop.number("cells_per_tray"))
        days = (dates.out_on - dates.sow_on).days
        lamp = days * crop.number("hours") * TRAY_WATTS / 1000 / cells
        self.assertAlmostEqual(kwh_each(crop, dates, cells, cells), lamp, delta=lamp * 0.25)


@st.composite
def absences(draw: st.DrawFn) -> tuple[Window, ...]:
    base = date(2026, 2, 1)
    found = []
    for _ in range(draw(st.integers(0, 4))):
        start = base + timedelta(days=draw(st.integers(0, 200)))
        found.append(Window(start, start + timedelta(days=draw(st.integers(0, 40)))))
    return joined(found)


class Intersections(TestCase):
    @settings(max_examples=200, deadline=None)
    @given(
        st.sampled_from(("tomato", "lettuce", "leek", "cosmos", "broccoli", "squash")),
        absences(),
        st.frozensets(st.integers(0, 6), min_size=1),
        st.none() | st.integers(-40, 40),
    )
    def test_a_proposed_day_is_outside_no_constraint_it_can_keep(
        self, key: str, away: tuple[Window, ...], days: frozenset[int], free: int | None
    ) -> None:
        place = replace(PLACE, away=away, sowing_days=days)
        alone = date_planting(CROPS[key], PLACE, Choice())
        bed = None if free is None else alone.out.start + timedelta(days=free)
        found = date_planting(CROPS[key], place, Choice(bed_free=bed))
        codes = {p.code for p in found.problems}
        self.assertTrue(found.sow.start <= found.sow_on <= found.sow.end)
        gone = any(found.sow_on in w for w in away)
        self.assertEqual(not gone and found.sow_on.weekday() in days, not codes & {"away", "no_sowing_day"})
        if "away_out" not in codes:
            self.assertFalse(any(found.out_on in w for w in away))
        self.assertTrue(found.out.start <= found.out_on <= found.out.end or codes)
        if bed is not None and "bed_late" not in codes:
            self.assertGreaterEqual(found.out_on, min(bed, found.out_on) if bed < found.out.start else bed)
        self.assertTrue(alone.out.start <= found.out.start and found.out.end <= alone.out.end)  # only ever narrower
        again = date_planting(CROPS[key], place, Choice(bed_free=bed))
        self.assertEqual(
            (again.sow, again.out, again.sow_on, again.out_on), (found.sow, found.out, found.sow_on, found.out_on)
        )
        pinned = date_planting(CROPS[key], place, Choice(bed_free=bed, sow_on=found.sow_on))
        self.assertEqual(
            (pinned.out_on, pinned.first), (found.out_on, found.first)
        )  # keeping what is proposed changes nothing
