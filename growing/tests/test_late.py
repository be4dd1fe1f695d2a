"""Begun late: what is offered really gives something, what is not is really over, and no task of it lies in the past."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

from growing.batch.facts import BatchFacts
from growing.bench import steps as bench
from growing.chain.choice import Choice
from growing.chain.course import course
from growing.chain.dates import HALF_OF_YEARS, date_planting
from growing.chain.happened import Facts
from growing.chain.late import KINDS, SOON, STOPS, Late, late, latest
from growing.crops import library
from growing.drawer import steps as seeds
from growing.ladders.ladder import ladders
from growing.place.year import PlaceYear
from growing.steps import derive
from growing.tests.test_six_climates import CLIMATES, place

DAYS = (date(2026, 3, 10), date(2026, 5, 20), date(2026, 6, 20), date(2026, 7, 25), date(2026, 9, 1))


class LateStarters(TestCase):
    where: PlaceYear
    found: dict[date, list[Late]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.where = place(*CLIMATES["upland, cool summers"])
        cls.found = {day: latest(library().values(), cls.where, day) for day in DAYS}

    def test_every_crop_stands_once_and_those_that_give_most_first(self) -> None:
        for day, found in self.found.items():
            self.assertEqual(sorted(one.crop.key for one in found), sorted(library()), day)
            for kind in KINDS:
                worth = [one.worth or 0.0 for one in found if one.kind == kind]
                self.assertEqual(worth, sorted(worth, reverse=True), (day, kind))
                self.assertTrue(all(0 <= w <= 1 for w in worth))

    def test_what_is_offered_begins_now_and_gives_something(self) -> None:
        for day, found in self.found.items():
            for one in found:
                said = (day, one.crop.key, one.kind)
                if one.kind in ("raise", "place"):
                    self.assertGreaterEqual(one.dates.sow_on, day, said)
                    self.assertTrue(one.dates.sow_on - day <= SOON or one.dates.sow.start <= day, said)
                if one.kind == "buy":
                    self.assertGreaterEqual(one.dates.out_on, day, said)
                if one.kind not in ("not now",):
                    self.assertFalse({p.code for p in one.dates.problems} & STOPS, said)
                    self.assertTrue(one.dates.chance is None or one.dates.chance >= HALF_OF_YEARS, said)

    def test_what_is_not_is_over_by_every_way(self) -> None:
        for day, found in self.found.items():
            for one in found:
                if one.kind != "not now":
                    continue
                for method in ("raised", "direct", "bought"):
                    if method == "raised" and "raise_max" not in one.crop.values:
                        continue
                    dates = date_planting(one.crop, self.where, Choice(method, "spring", not_before=day))
                    if method == "bought" and dates.out_on < day:
                        dates = date_planting(one.crop, self.where, Choice(method, "spring", out_on=day))
                    over = {p.code for p in dates.problems} & STOPS or (dates.chance or 1.0) < HALF_OF_YEARS
                    self.assertTrue(over or dates.sow_on < day, (day, one.crop.key, method))

    def test_a_year_goes_by_as_a_gardener_knows_it(self) -> None:
        kinds = {day: {one.crop.key: one.kind for one in found} for day, found in self.found.items()}
        march, june, september = kinds[DAYS[0]], kinds[DAYS[2]], kinds[DAYS[4]]
        self.assertEqual((march["leek"], june["lettuce"], june["radish"]), ("raise", "raise", "place"))
        self.assertEqual((june["melon"], september["tomato"]), ("not now", "not now"))
        count = [sum(kind in ("raise", "place", "buy") for kind in kinds[day].values()) for day in DAYS[1:]]
        self.assertEqual(count, sorted(count, reverse=True))  # from May on there is less every time

    def test_what_begins_today_has_no_task_in_the_past(self) -> None:
        ladder, specs = ladders()["seven"], (*seeds.STEPS, *bench.STEPS)
        for day in DAYS:
            for one in self.found[day]:
                if one.kind in ("not now", "not yet"):
                    continue
                crop, dates = one.crop, one.dates
                begun = BatchFacts(
                    f"p{crop.key}", crop, 6, dates, course(crop, dates, ladder), Facts(), ladder, planned_on=day
                )
                for task in derive(specs, begun, day, day + timedelta(days=400)):
                    self.assertGreaterEqual(task.due, day, (crop.key, task.kind))

    def test_without_an_autumn_nobody_knows_how_much(self) -> None:
        from growing.place.frost import TypedDate, TypedFrost

        where = PlaceYear(2026, TypedFrost(False, TypedDate(5, 9, "average", 8), None), latitude=52.0)
        self.assertIsNone(late(library()["tomato"], where, date(2026, 4, 12)).worth)
