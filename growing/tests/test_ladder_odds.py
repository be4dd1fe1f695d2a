"""By when a ladder is climbed, in how many springs: against each spring lived alone, and what warmth may never do."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from growing.ladders.ahead import HardeningSite, LadderCase, LadderLimits, ahead
from growing.ladders.ladder import ladders, progress
from growing.ladders.odds import SURE, InSprings, in_springs
from growing.place.growth import SPAN_DAYS, Daily
from growing.place.nights import Night

DAY, BEGIN, YEARS = date(2026, 4, 12), 100, 12
HARDY, TENDER = LadderLimits(5, 2, -4, 2, 0.1), LadderLimits(12, 10, 10, 0, 0.1)
KEYS = tuple(ladders())


def case(key: str = "seven", limits: LadderLimits = HARDY, wait: int = 0, nights: tuple[Night, ...] = ()) -> LadderCase:
    ladder = ladders()[key]
    return LadderCase(
        ladder, progress(ladder, (), DAY), 0, None if not wait else DAY + timedelta(days=wait), DAY, limits, nights, DAY, 0.0, "",
        HardeningSite("hedge"),
    )  # fmt: skip


def record(seed: int, warm: float) -> Daily:
    chance = np.random.default_rng(seed)
    high = chance.normal(warm, 5, (YEARS, SPAN_DAYS))
    return Daily(high - 8, high, high - 4)


def lived(one: LadderCase, daily: Daily, year: int) -> date | None:
    """One spring alone, its record told as a forecast that is sure of itself; None where it is later than that looks."""
    nights = []
    for n in range(60):
        low, high = (float(a[year, BEGIN + n]) for a in (daily.minima, daily.maxima))
        nights.append(Night(DAY + timedelta(days=n), low, 0.5, 10.0, high))
    assert one.progress.rung is not None
    return ahead(one._replace(nights=tuple(nights))).ready


class SpringsTests(TestCase):
    def test_each_spring_is_as_if_lived_alone(self) -> None:
        """A wind between calm and windy loses what the record loses; the risk is left out, as a forecast's error grows."""
        daily = record(1, 13)
        for key in KEYS:
            one = case(key, TENDER._replace(risk=0.5))
            found = in_springs([one], daily, BEGIN)[0]
            for year, day in enumerate(found.days):
                alone = lived(one, daily, year)
                if alone is not None:
                    self.assertEqual(day, alone, (key, year))

    def test_the_first_day_by_which_eight_of_ten_are_ready(self) -> None:
        days = [DAY + timedelta(days=n) for n in range(8)]
        self.assertEqual(InSprings((*days, None, None), DAY).sure, (SURE, days[7]))
        self.assertEqual(
            InSprings((*days[:7], None, None, None), DAY + timedelta(days=60)).sure, (0.7, DAY + timedelta(days=60))
        )
        self.assertEqual(InSprings((days[0],) * 10, DAY).sure, (1.0, days[0]))

    def test_a_warm_record_is_the_ladder_itself(self) -> None:
        daily = Daily(*(np.full((YEARS, SPAN_DAYS), 25.0) for _ in range(3)))
        for wait in (0, 4):
            one = case(wait=wait)
            self.assertEqual(set(in_springs([one], daily, BEGIN)[0].days), {ahead(one).ready})

    def test_cold_years_are_counted(self) -> None:
        high = np.full((10, SPAN_DAYS), 20.0)
        high[:3, BEGIN : BEGIN + 60] = 3.0  # three springs in which no day is warm enough
        found = in_springs([case()], Daily(high - 6, high, high), BEGIN)[0]
        self.assertEqual(found.days.count(None), 3)
        self.assertEqual(found.sure, (0.7, found.until))

    def test_the_forecast_comes_first(self) -> None:
        high = np.full((YEARS, SPAN_DAYS), 20.0)
        nights = tuple(Night(DAY + timedelta(days=n), -9.0, 0.5, 10.0, 2.0) for n in range(5))
        plain, cold = (in_springs([c], Daily(high - 6, high, high), BEGIN)[0] for c in (case(), case(nights=nights)))
        self.assertEqual(plain.days[0], DAY + timedelta(days=7))
        self.assertEqual(cold.days[0], DAY + timedelta(days=12))

    def test_at_the_end_of_the_growing_year_nothing_is_claimed(self) -> None:
        daily = record(2, 15)
        late = case()._replace(since=DAY + timedelta(days=SPAN_DAYS - BEGIN))
        self.assertEqual(in_springs([late], daily, BEGIN)[0].sure[0], 0.0)

    @settings(max_examples=30)
    @given(st.integers(0, 10_000), st.sampled_from(KEYS), st.floats(4, 20), st.floats(0, 6))
    def test_warmer_springs_are_never_later_and_company_changes_nothing(
        self, seed: int, key: str, warm: float, by: float
    ) -> None:
        daily, one = record(seed, warm), case(key, TENDER)
        milder = Daily(daily.minima + by, daily.maxima + by, daily.soil + by)
        alone, warmer = (in_springs([one], d, BEGIN)[0] for d in (daily, milder))
        together = in_springs([case("seven"), one, case("seven", wait=3)], daily, BEGIN)[1]
        self.assertEqual(alone, together)
        for a, b in zip(warmer.days, alone.days, strict=True):
            self.assertLessEqual(a or date.max, b or date.max)
