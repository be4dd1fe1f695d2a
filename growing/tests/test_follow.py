"""What could follow in ground that comes free: the days against the slot, one by one."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

from growing.beds.bedplan import Area, Rect, Slot
from growing.crops import library
from growing.place.frost import TypedDate, TypedFrost
from growing.place.year import PlaceYear
from growing.plan.follow import Follower, follower
from growing.tests.reading import shown

TODAY = date(2026, 4, 12)
CROPS = library()


def place() -> PlaceYear:
    frost = TypedFrost(False, TypedDate(5, 9, "average", 10), TypedDate(10, 4, "average", 10))
    return PlaceYear(year=2026, climate=frost, latitude=52.0)


def slot(since: date, until: date | None = None, length: float = 240, width: float = 90) -> Slot:
    rect = Rect(0, 0, length, width)
    after = Area("1", "Pea", rect, 60, 10, TODAY, since - timedelta(days=1), since)
    if until is None:
        return Slot(rect, since, date(2026, 10, 4), after)
    then = after._replace(since=until + timedelta(days=1), until=until + timedelta(days=60))
    return Slot(rect, since, until, after, then)


def could(key: str, free: Slot, today: date = TODAY) -> Follower | None:
    return follower(CROPS[key], place(), free, today)


class Follow(TestCase):
    def test_every_answer_keeps_to_the_ground_and_the_day(self) -> None:
        listed = 0
        for since in (date(2026, 6, 10), date(2026, 7, 20), date(2026, 8, 25)):
            for today in (TODAY, date(2026, 7, 1)):
                free = slot(since, date(2026, 10, 1))
                for key in CROPS:
                    found = could(key, free, today)
                    if found is None:
                        continue
                    listed += 1
                    dates = found.dates
                    self.assertGreaterEqual(dates.out_on, since, key)
                    self.assertGreaterEqual(dates.sow_on, today, key)
                    self.assertLessEqual(dates.first.start, free.until, key)
                    self.assertLessEqual(dates.out_on, dates.out.end, key)
                    self.assertGreater(found.fit.plants, 0)
                    if found.method == "raised":
                        raised = (dates.out_on - dates.sow_on).days
                        crop = CROPS[key]
                        self.assertGreaterEqual(raised, int(crop.number("raise_min") * 7), key)
                        self.assertLessEqual(dates.out_on, dates.hold_until, key)
        self.assertGreater(listed, 20)

    def test_the_ground_sets_the_day_where_it_comes_free_later(self) -> None:
        early = could("lettuce", slot(date(2026, 6, 1)))
        assert early is not None
        best = early.dates.out_on
        late = could("lettuce", slot(best + timedelta(days=2)))
        assert late is not None
        self.assertEqual(late.dates.out_on, best + timedelta(days=2))
        self.assertEqual(late.dates.out_because, "pinned")

    def test_too_late_too_small_too_slow(self) -> None:
        self.assertIsNone(could("lettuce", slot(date(2026, 9, 25))))
        self.assertIsNotNone(could("kale", slot(date(2026, 7, 10))))  # hardy: it stands on past the first frosts
        self.assertIsNone(could("kale", slot(date(2026, 7, 10), date(2026, 8, 20))))
        self.assertIsNone(could("lettuce", slot(date(2026, 7, 1), length=10, width=10)))
        self.assertIsNone(could("lettuce", slot(date(2026, 7, 1), until=date(2026, 7, 20))))
        self.assertIsNone(could("asparagus", slot(date(2026, 7, 1))))
        self.assertIsNone(could("lettuce", slot(date(2026, 6, 1)), date(2026, 9, 20)))

    def test_the_working_adds_up(self) -> None:
        for key in ("lettuce", "kale", "broccoli"):
            found = could(key, slot(date(2026, 6, 25)))
            assert found is not None
            working = found.dates.workings["first"]
            out, grown, age, light = (
                shown(working, name) for name in ("plant out", "days from", "age", "shortening light")
            )
            assert isinstance(out, date)
            self.assertEqual(light, 14)
            self.assertEqual(out + timedelta(days=int(str(grown)) + int(str(age)) + 14), found.dates.first.start)

    def test_roots_are_sown_in_place(self) -> None:
        direct = [key for key in CROPS if CROPS[key].word("transplants") == "direct"]
        found = [one for key in direct if (one := could(key, slot(date(2026, 7, 1)))) is not None]
        self.assertTrue(all(one.method == "direct" and one.dates.sow_on == one.dates.out_on for one in found))
