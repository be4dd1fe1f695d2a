"""The ladder's counting and missing, and the temperature at the plant."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

from growing.ladders.ladder import Outing, ladders, progress
from growing.place.nights import Night, at_plant, chance_below

DAY = date(2026, 4, 12)
SEVEN = ladders()["seven"]


def outings(*hours: float, ending: date = DAY - timedelta(days=1)) -> list[Outing]:
    start = ending - timedelta(days=len(hours) - 1)
    return [Outing(start + timedelta(days=i), h, SEVEN.rungs[min(i, 6)].hours) for i, h in enumerate(hours)]


class Ladder(TestCase):
    def test_schools_as_data(self) -> None:
        self.assertEqual(
            {k: len(v.rungs) for k, v in ladders().items()},
            {
                "seven": 7,
                "five": 5,
                "ten": 10,
                "afterfrost": 7,
                "cool": 3,
                "sun": 4,
                "frame": 2,
                "fresh": 5,
                "nursery": 6,
            },
        )
        self.assertEqual(SEVEN.days, 10)
        for ladder in ladders().values():
            hours = [r.hours for r in ladder.rungs]
            self.assertEqual(hours, sorted(hours))
            raised_hard = ladder.key in ("cool", "sun", "frame", "fresh")  # they need no shade to begin with
            self.assertTrue(ladder.rungs[0].sun == 0 or raised_hard)

    def test_begins_at_the_bottom_and_ends_hardened(self) -> None:
        self.assertEqual(progress(SEVEN, [], DAY).climbed, 0)
        done = progress(SEVEN, outings(2, 3, 4, 6, 8, 10, 24), DAY)
        self.assertIsNone(done.rung)

    def test_three_quarters_of_the_hours_count(self) -> None:
        self.assertEqual(progress(SEVEN, outings(2, 3, 3.0), DAY).climbed, 3)
        self.assertEqual(progress(SEVEN, outings(2, 3, 2.9), DAY).climbed, 2)

    def test_missed_days(self) -> None:
        had = outings(2, 3, 4, 6)  # four climbed, the last yesterday
        for missed, climbed in ((0, 4), (1, 4), (2, 4), (3, 3), (5, 3), (7, 3), (8, 1), (30, 1)):
            self.assertEqual(progress(SEVEN, had, DAY + timedelta(days=missed)).climbed, climbed, missed)

    def test_hardened_plants_stay_hardened(self) -> None:
        self.assertIsNone(progress(SEVEN, outings(2, 3, 4, 6, 8, 10, 24), DAY + timedelta(days=20)).rung)

    def test_three_whole_days_stand_for_a_night_that_was_too_cold(self) -> None:
        days = list(outings(2, 3, 4, 6, 8, 10))
        cold = [Outing(days[-1].day + timedelta(days=n), 10, 24) for n in (1, 2, 3)]
        for had, climbed in ((0, 6), (1, 6), (2, 6), (3, 7)):
            today = days[-1].day + timedelta(days=had + 1)
            self.assertEqual(progress(SEVEN, [*days, *cold[:had]], today).climbed, climbed)
        short = [o._replace(hours=5) for o in cold]  # half days do not
        self.assertEqual(progress(SEVEN, [*days, *short], cold[-1].day).climbed, 6)


class AtThePlant(TestCase):
    def test_radiation_loss_by_cloud_and_wind(self) -> None:
        cases = ((0.1, 3, -3), (0.1, 10, -1), (0.5, 3, -1), (0.95, 3, 0), (0.1, 30, 0), (None, None, -3))
        for cloud, wind, loss in cases:
            found = at_plant(Night(DAY, 2.0, cloud, wind), DAY, -0.8)
            self.assertAlmostEqual(found.celsius, 2.0 - 0.8 + loss, msg=str((cloud, wind)))

    def test_unknown_sky_is_assumed_openly(self) -> None:
        sources = {v.name: v.source for v in at_plant(Night(DAY, 2.0), DAY).working.inputs}
        self.assertEqual(sources["cloud"], "assumed")

    def test_error_grows_with_lead_and_chance_follows(self) -> None:
        tonight, later = (at_plant(Night(DAY + timedelta(days=n), 4.0, 0.1, 3), DAY) for n in (0, 5))
        self.assertEqual((tonight.error_c, later.error_c), (1.5, 2.75))
        self.assertLess(chance_below(tonight, 0), chance_below(later, 0))
        self.assertAlmostEqual(chance_below(tonight, 1.0), 0.5)
