"""The raising time where it is raised: worked examples, and that colder is never quicker."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.chain.path import path_of
from growing.chain.raising import Raising
from growing.chain.roomwarmth import MOST_FACTOR, Room, factor, in_room
from growing.crops import library
from growing.place.frost import TypedDate, TypedFrost
from growing.place.year import PlaceYear
from growing.seeds.sowing import How
from growing.seeds.thermal_time import emergence_days

CROPS = library()
PLACE = PlaceYear(2026, TypedFrost(False, TypedDate(5, 9, "average", 8), TypedDate(10, 4, "average", 8)), latitude=52.0)
OUT = date(2026, 6, 4)


def room(celsius: float, germinate: float | None = None) -> Room:
    return Room("Porch", (celsius,) * 12, germinate, "porch", "room")


class There(TestCase):
    def test_a_tomato_in_a_room_of_its_own_warmth_takes_what_the_book_says(self) -> None:
        crop = CROPS["tomato"]
        own = (2 * crop.number("day_c") + crop.number("grow_night_c")) / 3
        plain = Raising(42, 56, 70, None)
        found = in_room(crop, plain, room(own), OUT)
        self.assertEqual((found.shortest, found.longest, found.hold), (42, 56, 70))

    def test_written_out_in_a_cool_porch(self) -> None:
        # tomato: own warmth T = (2·day + night)/3, base 9; at the mean of 14 °C growth takes (T − 9)/5 as long
        crop = CROPS["tomato"]
        own = (2 * crop.number("day_c") + crop.number("grow_night_c")) / 3
        times = min(MOST_FACTOR, (own - crop.number("base_c")) / (14 - crop.number("base_c")))
        if (own + crop.number("base_c")) / 2 >= 14:
            times = MOST_FACTOR
        book, real = emergence_days(crop, 22.5)[0], emergence_days(crop, 16.0)[0]
        found = in_room(crop, Raising(42, 56, 70, None), room(14, 16.0), OUT)
        self.assertEqual(found.longest, round(real + (56 - book) * times))
        self.assertEqual(found.hold, round(real + (70 - book) * times))

    def test_two_days_for_one_where_it_hardly_grows(self) -> None:
        self.assertEqual(factor(CROPS["pepper"], 11.0), MOST_FACTOR)
        self.assertEqual(factor(CROPS["pepper"], 45.0), 0.6)

    @settings(max_examples=80, deadline=None)
    @given(
        st.sampled_from(sorted(k for k, c in CROPS.items() if c.method == "raised")), st.floats(2, 30), st.floats(2, 30)
    )
    def test_colder_is_never_quicker_and_order_holds(self, key: str, one: float, other: float) -> None:
        crop = CROPS[key]
        cold, warm = (room(c) for c in sorted((one, other)))
        dates = [date_planting(crop, PLACE, Choice(room=r)) for r in (cold, warm)]
        self.assertLessEqual(dates[0].sow.start, dates[1].sow.start)
        for found in dates:
            self.assertLessEqual(found.sow.start, found.sow.end)
            self.assertLessEqual(found.sow_on, found.out_on)
        self.assertEqual(dates[0].out, dates[1].out)  # when it may go out has nothing to do with the room

    def test_nobody_said_changes_nothing(self) -> None:
        for key in ("tomato", "leek", "zinnia"):
            plain = date_planting(CROPS[key], PLACE, Choice())
            self.assertNotIn("plan.raised_there", str(plain.workings["sow_from"]))


class Path(TestCase):
    def test_cells_until_the_pot_and_then_the_pot(self) -> None:
        crop = CROPS["tomato"]
        path = path_of(crop, How(), date(2026, 4, 1), date(2026, 4, 29), date(2026, 5, 30))
        self.assertEqual(
            [(s.since, s.until) for s in path],
            [(date(2026, 4, 1), date(2026, 4, 29)), (date(2026, 4, 29), date(2026, 5, 30))],
        )
        self.assertGreater(path[1].ml, path[0].ml)
        self.assertGreater(path[1].carries_until, path[0].carries_until)

    def test_too_long_in_too_small_a_cell_is_said_in_days(self) -> None:
        crop = CROPS["squash"]
        (only,) = path_of(crop, How(), date(2026, 4, 1), None, date(2026, 7, 1))
        self.assertEqual(only.short_days, (date(2026, 7, 1) - only.carries_until).days)
        self.assertGreater(only.short_days, 20)
        self.assertEqual(path_of(crop, How("place"), date(2026, 5, 1), None, date(2026, 5, 1)), [])
