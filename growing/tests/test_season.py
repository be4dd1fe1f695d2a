"""Season arithmetic as properties: windows, feasibility, sowing days, over leap days, year ends and hemispheres."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from growing.calendar import Window, nearest_day, weeks
from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.chain.raising import PacketTiming, packet_raising
from growing.crops import library
from growing.place.daylight import day_length_h, ten_hour_autumn
from growing.place.warmth import TypedWarmth, WarmDate
from growing.place.year import PlaceYear
from growing.tests.reading import shown
from growing.tests.typed import frost as typed_frost

CROPS = sorted(key for key, crop in library().items() if "raise_max" in crop.values)
DAYS = st.sets(st.integers(0, 6), min_size=1).map(frozenset)


def place(year: int, southern: bool, day: int, spread: float, days: frozenset[int]) -> PlaceYear:
    _, climate = typed_frost(year, southern, day, spread)
    return PlaceYear(year, climate, 0.1, sowing_days=days, latitude=-41.0 if southern else 50.0)


PLACES = st.builds(place, st.integers(2023, 2033), st.booleans(), st.integers(0, 90), st.floats(3, 15), DAYS)


class Properties(TestCase):
    @settings(max_examples=150, deadline=None)
    @given(st.sampled_from(CROPS), PLACES)
    def test_windows_hold_together(self, key: str, where: PlaceYear) -> None:
        crop = library()[key]
        found = date_planting(crop, where)
        self.assertLessEqual(found.out.start, found.out.end)
        self.assertLessEqual(found.sow.start, found.sow.end)
        self.assertEqual(found.out.start - found.sow.start, weeks(crop.number("raise_max")))
        self.assertEqual(found.out.end - found.sow.end, weeks(crop.number("raise_min")))
        self.assertIn(found.sow_on, found.sow)
        self.assertIn(found.out_on, found.out)
        raised = found.out_on - found.sow_on
        self.assertTrue(weeks(crop.number("raise_min")) <= raised <= weeks(crop.number("hold")))
        self.assertGreater(found.first.start, found.out_on)
        free = [d for d in range((found.sow.end - found.sow.start).days + 1)
                if (found.sow.start + timedelta(days=d)).weekday() in where.sowing_days]  # fmt: skip
        self.assertEqual(bool(free), found.sow_on.weekday() in where.sowing_days)
        self.assertEqual(not free, any(p.code == "no_sowing_day" for p in found.problems))

    @settings(max_examples=100, deadline=None)
    @given(st.sampled_from(CROPS), PLACES, st.integers(-60, 60))
    def test_a_pinned_day_is_kept_and_judged(self, key: str, where: PlaceYear, off: int) -> None:
        plain = date_planting(library()[key], where)
        day = plain.sow_on + timedelta(days=off)
        found = date_planting(library()[key], where, Choice(sow_on=day))
        self.assertEqual(found.sow_on, day)
        codes = {p.code: p.days for p in found.problems}
        late = [p for p in found.problems if p.code == "too_late" or p.code.startswith("later")]
        self.assertEqual(bool(late), day > plain.sow.end)
        for problem in late:  # later, while it is still worth while; too late after that
            useful = (plain.useful_out or plain.out.end) - weeks(library()[key].number("raise_min"))
            self.assertEqual(
                problem.code == "too_late",
                problem.code not in ("later_bulbs", "later_years") and day > max(plain.sow.end, useful),
                (problem, useful),
            )
        self.assertEqual(codes.get("too_early", 0), max(0, (plain.sow.start - day).days))
        self.assertGreaterEqual((found.out_on - day), weeks(library()[key].number("raise_min")))

    @settings(max_examples=60, deadline=None)
    @given(st.sampled_from(CROPS), PLACES)
    def test_autumn_is_grown_before_the_end(self, key: str, where: PlaceYear) -> None:
        found = date_planting(library()[key], where, Choice(term="autumn"))
        finish = shown(found.workings["out_from"], "finish")
        assert isinstance(finish, date)
        grown = found.out.end + timedelta(days=int(library()[key].number("mature_min")) + 14)
        short = any(p.code == "no_autumn" for p in found.problems)  # its spring gates leave it too short an autumn
        self.assertTrue(short or grown <= finish)

    @given(st.dates(date(2023, 1, 1), date(2033, 1, 1)), st.integers(0, 40), st.integers(-10, 50), DAYS)
    def test_nearest_day_is_the_nearest_and_ties_go_later(
        self, start: date, length: int, off: int, days: frozenset[int]
    ) -> None:
        window = Window(start, start + timedelta(days=length))
        ideal = window.clamp(start + timedelta(days=off))
        free = [d for k in range(length + 1) if (d := start + timedelta(days=k)).weekday() in days]
        best = min(free, key=lambda d: (abs((d - ideal).days), -d.toordinal()), default=None)
        self.assertEqual(nearest_day(ideal, window, days), best)


class Details(TestCase):
    def test_gates_delay_both_ends_and_say_so(self) -> None:
        where = place(2026, False, 69, 8, frozenset(range(7)))
        soil = (WarmDate(12, date(2026, 5, 6)), WarmDate(20, date(2026, 7, 1)))
        late = PlaceYear(2026, where.climate, warmth=TypedWarmth(soil))
        found = date_planting(library()["pepper"], late)
        self.assertEqual(shown(found.workings["out_from"], "set by"), "soil")
        gate = late.warm_gate("soil", 16.0)
        self.assertEqual(gate.day, date(2026, 5, 6) + timedelta(days=28))  # halfway
        self.assertIsNone(late.warm_gate("soil", 5.0).day)
        self.assertEqual(late.warm_gate("soil", 25.0).working.result.name, "at least")
        self.assertEqual(late.warm_gate("nights", 10.0).working.result.name, "unknown")

    def test_packet_conversion_names_its_base(self) -> None:
        frost = packet_raising(PacketTiming(6, 8, "last_frost", 2))
        self.assertEqual((frost.shortest, frost.longest), (8, 10))
        unknown = packet_raising(PacketTiming(6, 8, "last_frost"))
        self.assertEqual(unknown.longest, 8)
        offset = next(v for v in unknown.working.inputs if v.name == "planting offset")
        self.assertEqual(offset.source, "assumed")
        hardy = packet_raising(PacketTiming(6, 8, "last_frost", -3))
        self.assertEqual(hardy.longest, 5)

    def test_without_an_autumn_frost_nobody_says_how_often_it_comes_first(self) -> None:
        known = place(2026, False, 69, 8, frozenset({5, 6}))
        unknown = PlaceYear(2026, replace(known.climate, first_date=None), latitude=52.0)
        for crop in ("pepper", "zinnia"):
            sure, unsure = (date_planting(library()[crop], where) for where in (known, unknown))
            self.assertIsNotNone(sure.frost_before_first)
            self.assertIsNone(unsure.frost_before_first)
            self.assertTrue(unsure.workings["first"].rule.endswith("_unknown"))
            self.assertEqual(shown(unsure.workings["last"], "set by"), "length alone")

    def test_what_lives_through_winter_is_not_ended_by_autumn(self) -> None:
        where = place(2026, False, 69, 8, frozenset(range(7)))
        for key in ("foxglove", "asparagus"):
            found = date_planting(library()[key], where)
            self.assertEqual([p.code for p in found.problems], [], key)
            self.assertGreater(found.first.start, date(2027, 1, 1))
            self.assertGreater(found.last, found.first.start)
            late = date_planting(library()[key], where, Choice(sow_on=found.sow.end + timedelta(days=5)))
            self.assertEqual([p.code for p in late.problems], ["later_years"])

    def test_sown_in_place_and_bought(self) -> None:
        where = place(2026, False, 69, 8, frozenset({5, 6}))
        direct = date_planting(library()["calendula"], where, Choice(method="direct"))
        raised = date_planting(library()["calendula"], where)
        self.assertEqual(direct.sow_on, direct.out_on)
        self.assertGreater(direct.sow_on, raised.sow_on)
        crop = library()["calendula"]  # a plant sown in place takes its raising time too, and is not checked
        raising = (weeks(crop.number("raise_min")).days + weeks(crop.number("raise_max")).days) // 2
        grown = raising + int(crop.number("mature_min")) - 8
        self.assertEqual((direct.first.start - direct.out_on).days, grown)
        tomato = date_planting(library()["tomato"], where, Choice(method="direct"))
        self.assertEqual((tomato.first.start - tomato.sow_on).days, 101)

    def test_harvest_ends_with_the_frost_that_kills(self) -> None:
        found = date_planting(library()["tomato"], place(2026, False, 69, 8, frozenset(range(7))))
        self.assertEqual(shown(found.workings["last"], "set by"), "frost")

    def test_day_length_and_polar_days(self) -> None:
        self.assertAlmostEqual(day_length_h(0, date(2026, 3, 20)), 12.1, delta=0.1)
        self.assertEqual(day_length_h(75, date(2026, 6, 21)), 24.0)
        self.assertEqual(day_length_h(75, date(2026, 12, 21)), 0.0)
        self.assertIsNone(ten_hour_autumn(5, 2026))
        north, south = ten_hour_autumn(50, 2026), ten_hour_autumn(-50, 2026)
        assert north is not None and south is not None
        self.assertEqual((north.month, south.month), (10, 4) if south.month == 4 else (north.month, 5))
        self.assertEqual(south.year, 2027)
