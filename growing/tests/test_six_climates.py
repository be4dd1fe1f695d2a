"""Every crop of the library, dated in six made-up climates by every method and term: no error, and windows that hold together."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

from growing.chain.choice import Choice
from growing.chain.course import course
from growing.chain.dates import date_planting
from growing.chain.windows import windows
from growing.crops import library
from growing.ladders.ladder import ladders
from growing.place.computedwarmth import ComputedWarmth
from growing.place.minima import ComputedFrost, DailySeries
from growing.place.station import Climate, generate
from growing.place.year import PlaceYear

YEARS = 16
CLIMATES: dict[str, tuple[Climate, bool, float]] = {
    "upland, cool summers": (Climate(7.3, 7.2, 3.4, range_c=8.0), False, 52.4),
    "high plateau, hot days and cold nights": (Climate(8.5, 10.0, 3.0, range_c=16.0), False, 44.0),
    "short continental summer": (Climate(3.0, 16.0, 4.5, range_c=11.0), False, 54.0),
    "mild coast, hardly a frost": (Climate(13.5, 5.0, 2.0, range_c=7.0), False, 38.0),
    "subtropics": (Climate(20.0, 7.0, 2.5, range_c=10.0), True, -28.0),
    "southern cool": (Climate(9.5, 6.0, 2.4), True, -41.3),
}


def place(climate: Climate, southern: bool, latitude: float) -> PlaceYear:
    start = date(2025 - YEARS, 1, 16) if southern else date(2025 - YEARS, 7, 16)
    made = generate(climate, southern, 7, start, (date(2026, 3, 1) - start).days)
    low, high = DailySeries(start, made.tmin), DailySeries(start, made.tmax)
    warm = ComputedWarmth(southern, low, high)
    return PlaceYear(2026, ComputedFrost(southern, low), 0.1, warm, frozenset(range(7)), latitude)


class EveryCrop(TestCase):
    def test_is_dated_in_six_climates(self) -> None:
        ladder = ladders()["seven"]
        for name, (climate, southern, latitude) in CLIMATES.items():
            where = place(climate, southern, latitude)
            for key, crop in library().items():
                terms = ["spring", *(["autumn"] if crop.word("autumn_ok") == "yes" else [])]
                terms += ["overwinter"] if crop.word("overwinters") == "yes" else []
                for term in terms:
                    for method in dict.fromkeys((crop.method, "direct", "bought")):
                        with self.subTest(climate=name, crop=key, term=term, method=method):
                            choice = Choice(method, term)
                            found = date_planting(crop, where, choice)
                            at = windows(crop, where, choice)
                            self.assertLessEqual(at.out.start, at.out.end)
                            self.assertLessEqual(at.sow.start, at.sow.end)
                            self.assertLessEqual(found.sow_on, found.out_on)
                            self.assertLess(found.out_on, found.first.start)
                            if method == "direct":
                                self.assertEqual(found.sow_on, found.out_on)
                            self.assertTrue(course(crop, found, ladder).steps)
